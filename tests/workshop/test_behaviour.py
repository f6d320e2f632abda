"""Behaviour through its pages: what is kept, what is refused in words, what comes of it."""

import html
import json
import re

import pytest
from django.urls import reverse

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Event, Rule, Trigger
from mosaic.behaviour.recording import Recording
from mosaic.screens.screen import Anchor, Design, Element, Screen, Size
from mosaic.values.value import Value
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.screens.behaviour_services import base_of_behaviour
from workshop.screens.documents import (
    BehaviourDocument,
    DesignDocument,
    RecordingDocument,
    ScreenDocument,
    behaviour_of,
    design_of,
)  # fmt: skip
from workshop.screens.value_services import base_of_design
from workshop.stations import stations
from workshop.stations.exchange import copy_all

KEY = Element("e1", "button", "Next", Anchor(plus=10), Anchor(plus=10), Size("pixels", 80), Size("pixels", 60), text="Next")


@pytest.fixture
def build(maker):
    made = start_build(owner=maker, name="Slip", panel="tft-320x240-touch", board="wireless", link_kind="spi")
    for name in ("Racks", "Boat", "Help"):
        documents.add(ScreenDocument, build=made, name=name, record=Screen((KEY,)))
    documents.save_single(DesignDocument, build=made, base=0, record=Design(values=(Value("v1", "wind", unit="kn", high=40),)))
    return made


@pytest.fixture
def refs(build):
    return {row.name: row.ref for row in shelf.of_kind(build, ScreenDocument)}


def said(answer) -> str:
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode())))


@pytest.fixture
def act(signed_in, build):
    def post(**fields):
        base = fields.pop("base", base_of_behaviour(build))
        answer = signed_in.post(reverse("act-behaviour", args=[build.pk]), {"base": base, **fields})
        shelf.forget(build)
        return answer

    return post


@pytest.fixture
def wire(signed_in, build):
    def post(**fields):
        answer = signed_in.post(reverse("act-inputs", args=[build.pk]), {"base": base_of_behaviour(build), **fields})
        shelf.forget(build)
        return answer

    return post


def test_an_area_is_drawn_led_to_a_screen_moved_and_taken_away(act, build, refs, signed_in):
    assert act(act="area", screen=refs["Racks"], x=10, y=10, width=80, height=60).status_code == 302
    assert act(act="lead", screen=refs["Racks"], of="a1", to=refs["Boat"], on="release", tells="1").status_code == 302
    record = behaviour_of(build)
    assert (record.areas[0].name, record.areas[0].screen, record.areas[0].width) == ("Area 1", refs["Racks"], 80)
    assert [(a.do, a.to) for a in record.rules[0].actions] == [("screen", refs["Boat"]), ("event", "x1")]
    assert (record.events[0].code, record.events[0].name) == (1, "Boat shown")
    act(act="move-area", screen=refs["Racks"], of="a1", x=20, y=30, width=90, height=60)
    assert (behaviour_of(build).areas[0].x, behaviour_of(build).areas[0].y) == (20, 30)
    page = said(signed_in.get(reverse("behaviour", args=[build.pk]) + f"?s={refs['Racks']}&c=a1"))
    assert "When “Area 1” is released: show Boat; tell the program 1 Boat shown." in page
    act(act="remove", screen=refs["Racks"], of="a1", with_rules="1")
    assert (behaviour_of(build).areas, behaviour_of(build).rules) == ((), ())
    assert behaviour_of(build).free_code == 2


def test_an_area_on_an_element_has_its_name_and_goes_along_with_it(act, build, refs):
    act(act="area", screen=refs["Boat"], element="e1", margin=4)
    area = behaviour_of(build).areas[0]
    assert (area.name, area.element, area.margin) == ("Next", "e1", 4)


def test_sentences(act, build, refs):
    act(act="stands", screen=refs["Racks"], seconds="2", to=refs["Boat"])
    act(act="returns", screen=refs["Boat"], seconds="20", to=refs["Racks"])
    act(act="pages", screen=refs["Racks"])
    rules = behaviour_of(build).rules
    assert [(r.trigger.when, r.trigger.ms, r.screen, r.actions[0].to) for r in rules[:2]] == [
        ("after", 2000, refs["Racks"], refs["Boat"]), ("quiet", 20_000, refs["Boat"], refs["Racks"]),
    ]  # fmt: skip
    assert [(r.trigger.when, r.screen, r.actions[0].to) for r in rules[2:4]] == [
        ("swipe left", refs["Racks"], refs["Boat"]), ("swipe right", refs["Racks"], refs["Help"]),
    ]  # fmt: skip
    act(act="blink", screen=refs["Boat"], element="e1", seconds="1")
    value = design_of(build).values[-1]
    element = next(row for row in shelf.of_kind(build, ScreenDocument) if row.name == "Boat").record.element("e1")
    assert (value.origin.by, value.origin.on_ms, value.origin.off_ms) == ("blink", 500, 500)
    assert [(f.what, f.value) for f in element.follows] == [("shown", value.id)]


def test_a_rule_with_every_kind_of_action(act, wire, build, refs):
    wire(act="add-button", name="next")
    wire(act="add-output", name="lamp")
    act(act="event", screen="", name="pressed")
    fields = {"do_0": "screen", "to_screen_0": refs["Boat"], "change_0": "slide", "side_0": "up", "steps_0": "6", "do_1": "event",
              "to_event_1": "x1", "do_2": "set", "to_value_2": "v1", "by_2": "12", "do_3": "add", "to_value_3": "v1", "by_3": "-2",
              "wrap_3": "1", "do_4": "output", "to_output_4": "o1", "way_4": "2", "do_5": "light", "light_5": "40", "do_6": "refresh",
              "do_7": "sleep"}  # fmt: skip
    answer = act(act="rule", screen=refs["Racks"], rule_screen="", when="button held", on_button="b1", seconds="1.5", **fields)
    assert answer.status_code == 302
    rule = behaviour_of(build).rules[0]
    assert rule.trigger == Trigger("button held", "b1", ms=1500)
    assert [(a.do, a.by) for a in rule.actions] == [
        ("screen", 0), ("event", 0), ("set", 12), ("add", -2), ("output", 2), ("light", 40), ("refresh", 0), ("sleep", 0),
    ]  # fmt: skip
    assert (rule.actions[0].change, rule.actions[0].side, rule.actions[0].steps, rule.actions[0].remember) == (
        "slide",
        "up",
        6,
        False,
    )
    assert rule.actions[3].wrap


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({"act": "stands", "seconds": "0"}, "the time it stands is 0 s; 0.05 to 86,400 s are accepted"),
        ({"act": "stands", "seconds": "soon"}, "the time it stands is soon s"),
        ({"act": "lead", "of": "a99"}, "not there any more"),
        ({"act": "area", "x": "320", "y": "0", "width": "9", "height": "9"}, "the x of the area"),
        ({"act": "event", "name": ""}, "0 characters; 1 to 40"),
        ({"act": "paint"}, "nothing that can be done here"),
        ({"act": "rule", "when": "button pressed"}, "does not say of what"),
        ({"act": "rule", "when": "start", "do_0": "light", "light_0": "140"}, "the light, in percent,"),
        ({"act": "rule", "when": "start", "do_0": "set", "to_value_0": "v1", "by_0": "much"}, "wind is 'much'"),
        ({"act": "rule", "when": "start", "do_0": "screen"}, "does not say of what"),
    ],
)
def test_refused_in_words_and_nothing_lost(act, build, refs, fields, told):
    act(act="event", screen="", name="kept")
    answer = act(screen=refs["Racks"], to=refs["Boat"], **fields)
    assert answer.status_code in (400, 422)
    assert told.lower() in said(answer).lower()
    assert [event.name for event in behaviour_of(build).events] == ["kept"]


def test_areas_without_end_are_refused(act, build, refs):
    many = tuple(Area(f"a{n}", f"area {n}", refs["Racks"], x=n, y=n, width=9, height=9) for n in range(1, 201))
    documents.save_single(BehaviourDocument, build=build, base=0, record=Behaviour(many))
    shelf.forget(build)
    answer = act(act="area", screen=refs["Racks"], x=1, y=1, width=9, height=9)
    assert "here are 200 areas; no more are accepted" in said(answer)
    assert len(behaviour_of(build).areas) == 200


def test_two_tabs_do_not_overwrite_each_other(act, build, refs):
    before = base_of_behaviour(build)
    act(act="event", screen="", name="first")
    answer = act(act="event", screen="", name="second", base=before)
    assert answer.status_code == 409
    assert [event.name for event in behaviour_of(build).events] == ["first"]


def test_codes_stay_and_what_changed_is_told_by_meaning(act, build, refs, signed_in):
    for name in ("one", "two"):
        act(act="event", screen="", name=name)
    act(act="hand-over", screen="")
    act(act="rename-event", screen="", of="x2", name="boat taken")
    act(act="remove", screen="", of="x1")
    act(act="event", screen="", name="three")
    act(act="rule", screen=refs["Racks"], when="wake", do_0="event", to_event_0="x2")
    assert [(event.code, event.name) for event in behaviour_of(build).events] == [(2, "boat taken"), (3, "three")]
    page = said(signed_in.get(reverse("behaviour", args=[build.pk])))
    for line in ("2 is called boat taken now, two before; the code is the same", "1 one is gone; its code stays free",
                 "3 three is new: nothing raises it yet",
                 "2 boat taken is raised when the device wakes, on Racks; before, when nothing happens"):  # fmt: skip
        assert line in page


def test_inputs_and_outputs(wire, build, signed_in):
    for what, name in (("button", "next"), ("encoder", "knob"), ("output", "pump")):
        wire(act=f"add-{what}", name=name)
    wire(act="button", of="b1", name="next page", pin="22", active="high", bounce="35")
    wire(act="encoder", of="k1", name="knob", pin_a="21", pin_b="19", steps="2")
    wire(act="output", of="o1", name="pump", load="relay", pin="4", active="low", reset_pull="low", reads="v1", reads_from="8", within="500",
         mains="1")  # fmt: skip
    wire(act="touch", samples="2", lift_ms="60", swipe_px="50", swipe_ms="700", slack_px="20", rest_ms="4000")
    record = behaviour_of(build)
    assert (record.buttons[0].name, record.buttons[0].pin, record.buttons[0].active_low, record.buttons[0].bounce_ms) == (
        "next page",
        "22",
        False,
        35,
    )
    assert (record.encoders[0].pin_a, record.encoders[0].steps) == ("21", 2)
    assert (record.outputs[0].active_low, record.outputs[0].reads, record.outputs[0].reads_from, record.outputs[0].within_ms) == (
        True,
        "v1",
        8,
        500,
    )
    assert record.touch.swipe_px == 50
    page = said(signed_in.get(reverse("inputs", args=[build.pk])))
    assert "licensed electrician" in page
    assert re.search(r"during reset low on", page)
    assert "pump is on from power-up until the program has begun" in page
    assert "3 changes from catch to catch" in said(wire(act="encoder", of="k1", name="knob", steps="3"))


@pytest.fixture
def band(signed_in, build):
    def post(**fields):
        answer = signed_in.post(reverse("change-bands", args=[build.pk, "v1"]), {"base": base_of_design(build), **fields})
        shelf.forget(build)
        return answer

    return post


def rows(*bands):
    return {
        f"{name}_{n}": text for n, band in enumerate(bands) for name, text in zip(("start", "end", "word"), band, strict=True)
    }


def test_bands_are_typed_dragged_shut_and_followed(band, build, signed_in):
    band(
        **rows(("", "12", "calm"), ("12", "28", "fresh"), ("28", "", "storm")),
        says="1",
        blinks="1",
        hysteresis="2",
        hold="500",
        mean_of="3",
    )
    value = design_of(build).values[0]
    assert [(b.start, b.end, b.word) for b in value.bands.bands] == [(None, 12, "calm"), (12, 28, "fresh"), (28, None, "storm")]
    assert (value.bands.hysteresis, value.bands.hold_ms, value.bands.mean_of) == (2, 500, 3)
    said_by, lit = design_of(build).values[1:]
    assert (said_by.name, said_by.words, said_by.origin.of) == ("wind band", ("calm", "fresh", "storm"), "v1")
    assert (lit.origin.by, lit.origin.of) == ("blink", "v1")
    band(act="drag", number="0", raw="20")
    assert [(b.start, b.end) for b in design_of(build).values[0].bands.bands] == [(None, 20), (20, 28), (28, None)]
    band(act="drag", number="1", raw="20")
    assert [(b.start, b.end, b.word) for b in design_of(build).values[0].bands.bands] == [(None, 20, "calm"), (20, None, "storm")]
    assert design_of(build).values[1].words == ("calm", "storm")


def test_pasted_comparisons_show_their_holes(band, build, signed_in):
    answer = band(act="paste", pasted='if (w < 2) x("low"); else if (w > 2 && w < 6) x("mid"); else x("high");')
    page = said(signed_in.get(answer.url))
    assert [(b.start, b.end) for b in design_of(build).values[0].bands.bands] == [(None, 2), (3, 6), (6, None)]
    assert "2 kn is in no band" in page
    assert "else: it also holds 2, which lies between the others" in page


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({"act": "paste", "pasted": "hello"}, "no comparison was found"),
        (rows(("9", "4", "odd")), "odd runs from 9 to 4 and holds no reading"),
        (rows(("x", "", "")), "wind is 'x'"),
        ({"act": "drag", "number": "5", "raw": "1"}, "not there any more"),
        ({**rows(("", "4", "a")), "blink_0": "50"}, "50 ms is too short for a blink"),
        ({**rows(("", "4", "a")), "hysteresis": "-1"}, "hysteresis"),
    ],
)
def test_bands_refused_in_words(band, build, fields, told):
    answer = band(**fields)
    assert answer.status_code in (400, 422)
    assert told.lower() in said(answer).lower()
    assert design_of(build).values[0].bands.bands == ()


@pytest.fixture
def moving(build, refs):
    """Racks leads to Boat by an area, and the program is told."""
    rule = Rule("r1", Trigger("release", "a1"), (Action("screen", refs["Boat"]), Action("event", "x1")), refs["Racks"])
    area = Area("a1", "Next", refs["Racks"], "e1")
    record = Behaviour((area,), (rule,), events=(Event("x1", 1, "boat shown"),), next_code=2)
    documents.save_single(BehaviourDocument, build=build, base=0, record=record)
    shelf.forget(build)
    return build


def touches(x, y, begin=100):
    return [[begin + 10 * n, "touch", 0, x, y] for n in range(4)]


def played(signed_in, build, inputs, until, **more):
    life = {"inputs": inputs, "until": until, **more}
    return signed_in.post(reverse("device-run", args=[build.pk]), {"life": json.dumps(life)})


def test_the_device_is_touched_and_tells(moving, signed_in):
    told = played(signed_in, moving, touches(20, 20), 500).json()
    assert told["screen"] == "Boat"
    assert [words for _, _, words, _ in told["told"]] == ["shows Racks", "shows Boat", "tells the program 1 boat shown"]
    assert told["told"][2][3] == "BEHAVE_EVENT, 1"
    assert told["png"].startswith("data:image/png")
    first = played(signed_in, moving, touches(20, 20), 120).json()
    more = played(signed_in, moving, touches(20, 20), 500, seen=first["seen"], count=4, now=first["now"]).json()
    assert [words for _, _, words, _ in more["told"]] == ["shows Boat", "tells the program 1 boat shown"]
    assert more["sent"]["bytes"] == 320 * 240 * 2
    assert played(signed_in, moving, touches(200, 200), 500).json()["screen"] == "Racks"


@pytest.mark.parametrize(
    "life",
    ["", "[]", '{"inputs": [[1, "paint", 0, 0, 0]], "until": 9}', '{"inputs": [[1, "pin", 3, 0, 0]], "until": 9}',
     '{"inputs": [], "until": -1}', '{"inputs": [], "until": 999999999999}', '{"inputs": [[1, "touch"]], "until": 9}'],
)  # fmt: skip
def test_a_run_that_cannot_be_read_is_refused_in_words(moving, signed_in, life):
    answer = signed_in.post(reverse("device-run", args=[moving.pk]), {"life": life})
    assert answer.status_code in (400, 422)


def test_a_run_is_kept_played_again_and_told_when_it_changes(moving, signed_in, act, refs):
    life = {"inputs": touches(20, 20), "until": 500}
    signed_in.post(reverse("keep-run", args=[moving.pk]), {"life": json.dumps(life), "name": "next is touched"})
    shelf.forget(moving)
    row = shelf.of_kind(moving, RecordingDocument)[0]
    assert "does the same" in said(signed_in.get(reverse("device", args=[moving.pk])))
    source = signed_in.get(reverse("take-run", args=[moving.pk, row.pk])).content.decode()
    assert "next is touched" in source
    assert "behaviour_begin" in source
    act(act="change-rule", screen=refs["Racks"], of="r1", when="release", on_area="a1", rule_screen=refs["Racks"], do_0="screen",
        to_screen_0=refs["Help"])  # fmt: skip
    page = said(signed_in.get(row.url))
    assert "the device does something else" in page
    assert "shows Boat" in page
    assert "shows Help" in page


def test_a_recording_of_another_version_is_told(moving, signed_in):
    """Its description cannot be read any more: its page says so, and the others go on."""
    documents.add(RecordingDocument, build=moving, name="old", record=Recording())
    row = shelf.of_kind(moving, RecordingDocument)[0]
    row.head.description = {"form": 7, "steps": []}
    row.head.save()
    shelf.forget(moving)
    assert signed_in.get(row.url).status_code < 500
    assert signed_in.get(reverse("device", args=[moving.pk])).status_code < 500


@pytest.mark.parametrize("name", ["behaviour.h", "behaviour.c", "behaviour.py", "behave.h", "behave.c", "behave.py", "change.c"])
def test_sources_are_taken(moving, signed_in, name):
    answer = signed_in.get(reverse("take-behaviour", args=[moving.pk, name]))
    assert answer.status_code == 200
    assert name in answer["Content-Disposition"]


def test_all_files_hold_the_behaviour(moving):
    station = next(one for one in stations() if one.slug == "screens")
    made = [file for make in station.files(moving, moving.to_device()) for file in make()]
    assert [(file.title, file.ending) for file in made[:4]] == [
        ("behaviour", "h"),
        ("behaviour", "c"),
        ("behaviour", "py"),
        ("device", "h"),
    ]
    assert b"SCREEN_BOAT = 1" in made[0].data


def test_the_map_has_a_card_for_each_screen(moving, signed_in):
    page = signed_in.get(reverse("map", args=[moving.pk])).content.decode()
    assert page.count('class="sheet"') == 3
    assert page.count('class="way"') == 1
    assert "nothing leads to Help" in said(signed_in.get(reverse("map", args=[moving.pk])))


def test_a_finding_is_fixed(moving, signed_in):
    page = signed_in.get(reverse("behaviour", args=[moving.pk])).content.decode()
    changes = next(
        html.unescape(c) for c in re.findall(r'name="changes" value="([^"]+)"', page) if '"return"' in html.unescape(c)
    )
    answer = signed_in.post(reverse("fix-behaviour", args=[moving.pk]), {"base": base_of_behaviour(moving), "changes": changes})
    assert answer.status_code == 302
    shelf.forget(moving)
    assert behaviour_of(moving).rules[-1].trigger == Trigger("quiet", ms=30_000)


def test_a_copied_build_leads_to_its_own_screens(moving, maker):
    copied = start_build(owner=maker, name="Second", panel="tft-320x240-touch", board="wireless", link_kind="spi")
    copy_all(moving, copied)
    shelf.forget(copied)
    refs = {row.ref for row in shelf.of_kind(copied, ScreenDocument)}
    rule = behaviour_of(copied).rules[0]
    assert rule.screen in refs
    assert rule.actions[0].to in refs
    assert rule.screen != behaviour_of(moving).rules[0].screen
