"""Changes of a behaviour, and the next moment at which something comes about by itself, each by hand."""

from dataclasses import replace

import pytest

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Button, Encoder, Event, Output, Rule, TouchFeel, Trigger
from mosaic.behaviour.due import next_due
from mosaic.behaviour.editing import dimming, free_id, leading, put, turning_pages, users_of, with_event, without
from mosaic.behaviour.machine import box_of
from mosaic.behaviour.truth import truth_table
from mosaic.behaviour.words import Speaker
from mosaic.errors import BadValueError
from mosaic.panels.windows import Rect
from mosaic.screens.screen import Design
from mosaic.values.bands import Band, Bands
from mosaic.values.value import Origin, Value
from tests.mosaic.behaviour.test_step import machine, rule, run, tell

LAMP, PUMP = Output("o1", "lamp", pin="A0"), Output("o2", "pump", pin="A1")
TWO = Behaviour(outputs=(LAMP, PUMP), events=(Event("x1", 4, "gate moved"),))


def sentences(behaviour):
    return [(one.screen, one.trigger.when, one.trigger.on, [(a.do, a.to, a.by) for a in one.actions]) for one in behaviour.rules]


def test_what_is_put_in_takes_the_place_of_its_id_or_the_last():
    renamed = put(TWO, "outputs", replace(LAMP, name="light"))
    assert [one.name for one in renamed.outputs] == ["light", "pump"]
    assert [one.name for one in put(TWO, "outputs", Output("o3", "horn")).outputs] == ["lamp", "pump", "horn"]
    assert (free_id(TWO, "outputs"), free_id(TWO, "buttons"), free_id(TWO, "events")) == ("o3", "b1", "x2")


def test_codes_of_events_are_given_once():
    known, event = with_event(TWO, "GATE moved")
    assert (known, event.code) == (TWO, 4)
    more, event = with_event(TWO, "tide " * 20)
    assert (event.id, event.code, event.name, more.next_code) == ("x2", 5, ("tide " * 8), 6)
    assert with_event(without(more, "x2"), "ebb")[1].code == 6


def test_what_goes_takes_its_rules_along_if_it_is_told_to():
    rules = (
        Rule("r1", Trigger("button pressed", "b1"), (Action("output", "o1"), Action("light", by=40))), Rule("r2", Trigger("quiet", ms=900), (Action("output", "o1"),)),
        Rule("r3", Trigger("press"), (Action("output", "o2"),)), Rule("r4", Trigger("press"), ()),
    )  # fmt: skip
    behaviour = replace(TWO, rules=rules, buttons=(Button("b1", "go"),))
    assert [one.id for one in users_of(behaviour, "o1")] == ["r1", "r2"]
    assert [one.id for one in users_of(behaviour, "b1")] == ["r1"]
    assert without(behaviour, "o1").rules == rules
    left = without(behaviour, "o1", rules_too=True)
    assert [(one.id, [a.do for a in one.actions]) for one in left.rules] == [("r1", ["light"]), ("r3", ["output"]), ("r4", [])]
    assert [one.id for one in without(behaviour, "b1", rules_too=True).rules] == ["r2", "r3", "r4"]
    with pytest.raises(BadValueError, match="not there any more"):
        without(behaviour, "b2")


def test_an_area_that_leads_to_a_screen_tells_the_program():
    area = Area("a1", "to tides", "screen-1", width=20, height=9)
    behaviour, made = leading(TWO, area, "press", "screen-2", "Tides")
    assert (behaviour.areas, behaviour.rules, made.screen) == ((area,), (made,), "screen-1")
    assert sentences(behaviour) == [
        ("screen-1", "press", "a1", [("screen", "screen-2", made.actions[0].by), ("event", "x2", made.actions[1].by)])
    ]
    assert behaviour.events[1].name == "Tides shown"
    assert len(leading(TWO, area, "press", "screen-2", "Tides", tells=False)[1].actions) == 1


def test_pages_are_turned_round_and_round():
    assert [(screen, when, actions[0][1]) for screen, when, _, actions in sentences(turning_pages(Behaviour(), ("a", "b", "c")))] == [
        ("a", "swipe left", "b"), ("a", "swipe right", "c"), ("b", "swipe left", "c"), ("b", "swipe right", "a"),
        ("c", "swipe left", "a"), ("c", "swipe right", "b"),
    ]  # fmt: skip


def test_the_light_goes_down_in_the_quiet_and_up_by_anything():
    before = Behaviour(
        buttons=(Button("b1", "go"),), encoders=(Encoder("k1", "knob"),),
        rules=(Rule("r1", Trigger("quiet", ms=500), (Action("light", by=9),)), Rule("r2", Trigger("quiet", ms=500), (Action("sleep"),)), Rule("r3", Trigger("press"), ())),
    )  # fmt: skip
    found = dimming(before, 60_000, 20, by_touch=True)
    assert [(one.trigger.when, one.trigger.on, [a.by for a in one.actions if a.do == "light"]) for one in found.rules] == [
        ("quiet", "", []), ("press", "", []), ("quiet", "", [20]), ("press", "", [100]), ("button pressed", "b1", [100]), ("turned up", "k1", [100]),
        ("turned down", "k1", [100]),
    ]  # fmt: skip
    assert found.rules[2].trigger.ms == 60_000
    assert dimming(Behaviour(), 60_000, 20, by_touch=False) is None


BLINK, BANDED = Origin("blink", on_ms=200, off_ms=300), Bands((Band(0, 50), Band(50, 100)), hold_ms=700)
A1 = {"a1": Rect(0, 0, 50, 50)}
BUTTON = (Button("b1", "go", bounce_ms=20),)


@pytest.mark.parametrize(("made", "happenings", "due"), [
    (machine(rule(1, Trigger("hold", "a1", ms=800), tell(1)), boxes=A1), [(100, "touch", 0, 5, 5)], 141),  # the finger may have gone
    (machine(rule(1, Trigger("quiet", ms=5000), tell(1)), boxes=A1), [], 5000),
    (machine(rule(1, Trigger("quiet", ms=5000), tell(1)), buttons=BUTTON), [(100, "pin", 0, 0)], 120),
    (machine(rule(1, Trigger("quiet", ms=5000), tell(1)), buttons=BUTTON), [(100, "pin", 0, 0), (120,)], 5120),
    (machine(rule(1, Trigger("button held", "b1", ms=500), tell(1)), buttons=BUTTON), [(10, "pin", 0, 0), (30,)], 530),
    (machine(values=(Value("v1", "tide", high=99, max_age_s=1),)), [(10, "reading", 0, 7)], 1011),
    (machine(values=(Value("v1", "tide", high=99),)), [(10, "reading", 0, 7)], None),
    (machine(values=(Value("v1", "tide", high=99, bands=BANDED),)), [(10, "reading", 0, 7)], 710),
    (machine(values=(Value("v1", "colon", "yes/no", origin=BLINK),)), [], 200),
    (machine(values=(Value("v1", "colon", "yes/no", origin=BLINK),)), [(200,)], 500),
    (machine(values=(Value("v1", "colon", "yes/no", origin=BLINK),)), [(750,)], 1000),
])  # fmt: skip
def test_when_something_comes_about_by_itself(made, happenings, due):
    assert next_due(made, run(made, *happenings)[1]) == due


def test_a_finger_is_gone_a_while_after_its_last_touch():
    made = machine(rule(1, Trigger("tap", "a1"), tell(1)), boxes=A1)
    made = replace(made, behaviour=replace(made.behaviour, touch=TouchFeel(samples=1, lift_ms=90)))
    assert next_due(made, run(made, (100, "touch", 0, 5, 5))[1]) == 191


@pytest.mark.parametrize(("area", "box"), [
    (Area("a1", "own", x=10, y=10, width=20, height=9), Rect(10, 10, 20, 9)), (Area("a1", "own", x=10, y=10, width=20, height=9, margin=5), Rect(5, 5, 30, 19)),
    (Area("a1", "own", x=2, y=3, width=20, height=9, margin=5), Rect(0, 0, 27, 17)), (Area("a1", "own", x=110, y=60, width=20, height=9, margin=5), Rect(105, 55, 23, 9)),
    (Area("a1", "own", x=127, y=63), Rect(127, 63, 1, 1)), (Area("a1", "own", x=128, y=0), None), (Area("a1", "own", x=0, y=64), None),
    (Area("a1", "own", "screen-9"), None), (Area("a1", "element", "", "e1"), None),
])  # fmt: skip
def test_where_a_touch_counts(area, box):
    assert box_of(area, {}, (128, 64)) == box


@pytest.mark.parametrize(("pull", "active_low", "is_on"), [
    ("open", False, None), ("open", True, None), ("high", False, True), ("low", False, False), ("high", True, False), ("low", True, True),
])  # fmt: skip
def test_what_is_on_before_the_program_says_so(pull, active_low, is_on):
    lamp = replace(LAMP, reset_pull=pull, active_low=active_low, at_start=True)
    bands = Bands((Band(None, 50, outputs=(("o1", False), ("o2", True))), Band(50, None, "flood", outputs=(("o1", True),))))
    rows = truth_table(lamp, TWO, [Value("v1", "tide", high=99, bands=bands)])
    on, off = ("low", "high") if active_low else ("high", "low")
    assert [(one.situation, one.level, one.is_on) for one in rows] == [
        ("during reset", pull, is_on), ("from the start of the program", on, True), ("on", on, True), ("off", off, False),
        ("tide enters band 1", off, False), ("tide enters flood", on, True),
    ]  # fmt: skip


@pytest.mark.parametrize(("trigger", "words"), [
    (Trigger("wrong", "o1"), "lamp is not as it was switched"), (Trigger("button pressed", "b1"), "go is pressed"), (Trigger("button held", "b1", ms=1500), "go is held for 1.5 s"),
    (Trigger("turned up", "k1"), "knob is turned up"), (Trigger("start"), "the device starts"), (Trigger("stale", "v1"), "tide has an old reading"),
    (Trigger("back", "v1"), "tide is read again"), (Trigger("band", "v1", band=0), "tide enters band 1"), (Trigger("band", "v1", band=1), "tide enters flood"),
])  # fmt: skip
def test_triggers_in_words(trigger, words):
    tide = Value("v1", "tide", high=99, bands=Bands((Band(None, 50), Band(50, None, "flood"))))
    behaviour = replace(TWO, buttons=(Button("b1", "go"),), encoders=(Encoder("k1", "knob"),))
    assert Speaker(behaviour, Design(values=(tide,)), {}).trigger(trigger) == words
