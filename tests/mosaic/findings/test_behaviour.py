"""Findings on behaviour: each broken on purpose, found, and mended by its fix."""

from dataclasses import replace

import pytest

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Button, Encoder, Event, Output, Rule, Trigger
from mosaic.behaviour.machine import machine_of
from mosaic.behaviour.mending import MENDING, mended
from mosaic.behaviour.words import Speaker
from mosaic.errors import BadValueError
from mosaic.findings.behaviour import RULES, BehaviourSubject, behaviour_findings
from mosaic.screens.plan import planned
from mosaic.screens.screen import Anchor, Design, Element, Screen, Size
from mosaic.values.bands import Band, Bands
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Origin, Source, Value
from tests.mosaic.screens.made_up import device, kit_of

TOUCH, PLAIN, ROUND = "tft-320x240-touch", "mono-oled-128x64", "tft-240x240-round"
NAMES = {"screen-1": "Racks", "screen-2": "Boat", "screen-3": "Help"}
EVENTS = (Event("x1", 1, "racks shown"), Event("x2", 2, "boat shown"), Event("x3", 3, "started"))
BIG = Area("a1", "Out", "screen-1", x=10, y=10, width=80, height=60)
GAUGE = Element("e1", "gauge", "Tide", Anchor(plus=100), Anchor(plus=100), Size("pixels", 80), Size("pixels", 80))
SOUND = Behaviour(
    (BIG,),
    (
        Rule("r1", Trigger("release", "a1"), (Action("screen", "screen-2"), Action("event", "x2")), "screen-1"),
        Rule("r2", Trigger("swipe right"), (Action("screen", "screen-1"), Action("event", "x1")), "screen-2"),
        Rule("r3", Trigger("start"), (Action("event", "x3"),)),
    ),
    events=EVENTS, next_code=4,
)  # fmt: skip
SENSOR = Source("level sensor", "m", every_ms=1000)
TIDE = Value("v1", "tide", high=100, source=SENSOR, bands=Bands((Band(None, 50, "low"), Band(50, None, "high"))))
LAMP = Value("v2", "lamp", "yes/no", origin=Origin("rules", first=0))
DESIGN = Design(values=(TIDE, LAMP), start="screen-1")


def found(behaviour, design=DESIGN, slug=TOUCH, screens=2, taken=frozenset()):
    dev = device(slug)
    plans = {f"screen-{n}": planned(Screen((GAUGE,) if n == 1 else ()), dev, kit_of(dev, design)) for n in range(1, screens + 1)}
    machine = machine_of(behaviour, design, plans, dev.size)
    return behaviour_findings(BehaviourSubject(dev, machine, Speaker(behaviour, design, NAMES), plans, taken))


def ids(*args, **more):
    return [finding.id.partition(".")[2] for finding in found(*args, **more)]


def with_rules(*rules, **more):
    return replace(SOUND, rules=(*SOUND.rules, *rules), **more)


def with_area(area, *rules):
    return replace(SOUND, areas=(*SOUND.areas, area), rules=(*SOUND.rules, *rules))


def rule(number, trigger, *actions, screen="screen-1"):
    return Rule(f"r{number}", trigger, actions, screen)


TELL = Action("event", "x1")
OUT = Output("o1", "lamp", "relay", "D5", reset_pull="low", shows="v2")


def valued(*values):
    return replace(DESIGN, values=values)


def test_a_sound_behaviour_has_none():
    assert found(SOUND) == []
    assert found(Behaviour(), screens=3) == []


A2 = Area("a2", "Back", "screen-1", x=10, y=90, width=80, height=60)
PRESSED = rule(9, Trigger("release", "a2"), TELL)
BROKEN = {
    "no-way-in": (SOUND, DESIGN, {"screens": 3}),
    "dead-end": (replace(SOUND, rules=(SOUND.rules[0], SOUND.rules[2])), DESIGN, {}),
    "no-way-back": (with_rules(rule(8, Trigger("swipe up"), Action("screen", "screen-3"), TELL, screen="screen-2"),
                               rule(9, Trigger("swipe up"), Action("screen", "screen-4"), TELL, screen="screen-3"),
                               rule(10, Trigger("swipe up"), Action("screen", "screen-3"), TELL, screen="screen-4")),
                    DESIGN, {"screens": 4}),
    "gone": (with_rules(rule(8, Trigger("swipe up"), Action("screen", "screen-9"), TELL)), DESIGN, {}),
    "area-idle": (with_area(A2), DESIGN, {}),
    "area-untold": (with_area(A2, rule(9, Trigger("release", "a2"), Action("toggle", "v2"))), DESIGN, {}),
    "area-small": (with_area(replace(A2, height=45), PRESSED), DESIGN, {}),
    "areas-overlap": (with_area(replace(A2, y=60), PRESSED), DESIGN, {}),
    "area-off": (with_area(replace(A2, x=250), PRESSED), DESIGN, {}),
    "showing-touched": (with_area(Area("a2", "Tide", "screen-1", "e1"), PRESSED), DESIGN, {}),
    "twice": (with_rules(rule(9, Trigger("release", "a1"), TELL)), DESIGN, {}),
    "untold": (with_rules(rule(9, Trigger("swipe up"), Action("screen", "screen-2"))), DESIGN, {}),
    "no-agreement": (replace(SOUND, rules=SOUND.rules[:2]), DESIGN, {}),
    "code-twice": (with_area(A2, rule(9, Trigger("release", "a2"), *SOUND.rules[0].actions)), DESIGN, {}),
    "areas-close": (with_area(replace(A2, y=83, x=11), PRESSED), DESIGN, {}),
    "area-under-edge": (replace(SOUND, areas=(replace(BIG, x=0, y=0, width=90, height=90),)), DESIGN, {"slug": ROUND}),
    "knob-fast": (replace(SOUND, encoders=(Encoder("k1", "knob", "A0", "A1"),)), valued(replace(TIDE, source=replace(SENSOR, blocks_ms=90)), LAMP), {}),
    "no-pin": (replace(SOUND, buttons=(Button("b1", "next"),)), DESIGN, {}),
    "pin-taken": (replace(SOUND, buttons=(Button("b1", "next", "A0"),)), DESIGN, {"taken": frozenset({"A0"})}),
    "pin-twice": (replace(SOUND, buttons=(Button("b1", "next", "A0"), Button("b2", "set", "A0"))), DESIGN, {}),
    "pin-gone": (replace(SOUND, buttons=(Button("b1", "next", "77"),)), DESIGN, {}),
    "pin-unfit": (replace(SOUND, outputs=(replace(OUT, pin="BOOT"),)), DESIGN, {}),
    "press-and-hold": (with_area(A2, rule(8, Trigger("press", "a2"), TELL), rule(9, Trigger("hold", "a2", ms=800), TELL)), DESIGN, {}),
    "band-gap": (SOUND, valued(replace(TIDE, bands=Bands((Band(None, 50), Band(52, None)))), LAMP), {}),
    "band-overlap": (SOUND, valued(replace(TIDE, bands=Bands((Band(None, 52), Band(50, None)))), LAMP), {}),
    "band-never": (SOUND, valued(replace(TIDE, bands=Bands((*TIDE.bands.bands, Band(101, 120, "flood")))), LAMP), {}),
    "band-flips": (SOUND, valued(replace(TIDE, stand_in=StandIn("list", listed=(49, 50), every_ms=1000)), LAMP), {}),
    "on-at-power-up": (replace(SOUND, outputs=(replace(OUT, active_low=True),)), DESIGN, {}),
    "open-at-reset": (replace(SOUND, outputs=(replace(OUT, reset_pull="open"),)), DESIGN, {}),
    "shown-wrong": (with_rules(rule(9, Trigger("swipe up"), Action("set", "v2", 1), TELL), outputs=(OUT,)), DESIGN, {}),
    "blinks-fast": (SOUND, valued(TIDE, LAMP, Value("v3", "colon", "yes/no", origin=Origin("blink", on_ms=150, off_ms=183))), {}),
    "no-touch": (SOUND, DESIGN, {"slug": PLAIN}),
    "change-slow": (with_rules(rule(9, Trigger("after", ms=900), Action("screen", "screen-2", change="wipe"), TELL)), DESIGN,
                    {"slug": "epaper-296x128-four-colour"}),
}  # fmt: skip
SAID = {
    # 36.72 mm are 240 px of 0.153 mm: 80 x 45 px are 12.24 x 6.885 mm, 7 mm are 45.8 px, 13 px 1.99 mm, 2 mm 13.1 px.
    "area-small": ("“Back” is 12.2 × 6.9 mm", "Make it 80 × 46 px"),
    "areas-overlap": ("“Out” and “Back” overlap by 80 × 10 px", "Cut “Out” back to 80 × 50 px"),
    "areas-close": ("“Out” and “Back” are 2.0 mm apart", "Draw “Out” back to 80 × 59 px"),
    "area-off": ("“Back” lies nowhere: outside of the glass", "Take “Back” away"),
    # Of 90 x 90 px in the corner of a circle of 120 px those further than 120 px from its middle.
    "area-under-edge": ("37 % of “Out” lies under the edge", "Move it to where the glass is seen"),
    "code-twice": ("“Out” and “Back” both tell the program 2", "Give “Back” a code of its own"),
    # Twenty catches a second of four changes; 153,611 bytes at 8 MHz.
    "knob-fast": ("the lines of knob change every 12.5 ms when it is turned quickly; the program comes round in 154 ms",
                  "Read its lines by an interrupt"),
    "pin-twice": ("set is at A0, as next is", "Put it at A1"),
    "press-and-hold": ("when “Back” is held for 800 ms, it has already been pressed", "Act on release instead"),
    "band-gap": ("50 to 51 is in no band of tide", "Let the band below reach up to it"),
    "band-overlap": ("50 to 51 is in two bands of tide", "Begin the later band behind it"),
    "band-never": ("tide never enters flood: it lies in 0 to 100", "Take it away"),
    "band-flips": ("tide changes its band 60 times a minute", "Leave bands 5 later"),
    "blinks-fast": ("colon blinks 3.0 times a second", "Blink once a second"),
    "no-touch": ("2 rules wait for a touch, and this panel has none", "Add two buttons"),
    "change-slow": ("when it has been shown for 900 ms, a screen is moved in step by step", "Show it at once"),
}  # fmt: skip
UNMENDED = {"no-touch"}
"""What takes more than one fix: buttons are there, and rules still wait for a touch."""


@pytest.mark.parametrize(("x", "y", "is_off"), [(160, 260, False), (161, 260, True), (160, 261, True)])
def test_what_ends_with_the_glass_is_not_beyond_it(x, y, is_off):
    whats = [one.what for one in found(with_area(replace(A2, x=x, y=y), PRESSED)) if one.id == "behaviour.area-off"]
    assert ("“Back” reaches beyond the glass" in whats) is is_off, whats


def test_what_must_be_fixed_comes_first():
    small = with_area(replace(A2, height=45), PRESSED)
    assert ids(replace(small, buttons=(Button("b1", "next", "77"),))) == ["pin-gone", "area-small"]


def test_names_of_events_keep_to_forty_letters():
    long = replace(A2, name="Backwards to the tables of the tides in June")
    for ident, rules in (("area-untold", (rule(9, Trigger("release", "a2"), Action("toggle", "v2")),)),
                         ("code-twice", (rule(9, Trigger("release", "a2"), *SOUND.rules[0].actions),))):  # fmt: skip
        fix = next(one.fix for one in found(with_area(long, *rules)) if one.id == f"behaviour.{ident}")
        assert fix.changes["name"] == "Backwards to the tables of the tides in "


@pytest.mark.parametrize(
    ("kind", "name", "is_found"), [("yes/no", "Lamp", True), ("yes/no", "light", False), ("number", "lamp", False)]
)
def test_a_value_of_an_outputs_name_that_does_not_follow_it(kind, name, is_found):
    outputs = replace(SOUND, outputs=(replace(OUT, shows=""),))
    assert ("shown-wrong" in ids(outputs, valued(TIDE, Value("v2", name, kind, origin=Origin("rules", first=0))))) is is_found


def test_bands_are_calmed_by_a_twentieth_of_the_range():
    tide = replace(TIDE, low=-300, high=100, stand_in=StandIn("list", listed=(49, 50), every_ms=1000))
    (finding,) = [one for one in found(SOUND, valued(tide, LAMP)) if one.id == "behaviour.band-flips"]
    assert finding.fix.changes["hysteresis"] == 20


@pytest.mark.parametrize("ident", BROKEN)
def test_broken_found_and_mended(ident):
    behaviour, design, more = BROKEN[ident]
    finding = next(one for one in found(behaviour, design, **more) if one.id == f"behaviour.{ident}")
    assert finding.fix is not None
    assert (finding.what, finding.fix.label) == SAID.get(ident, (finding.what, finding.fix.label))
    after, design_after = mended(behaviour, design, Speaker(behaviour, design, NAMES), finding.fix.changes)
    assert (after, design_after) != (behaviour, design)
    again = [one for one in found(after, design_after, **more) if (one.id, one.where) == (finding.id, finding.where)]
    assert (ident in UNMENDED) == bool(again)


def test_every_fix_is_used_by_a_rule():
    used = set()
    for behaviour, design, more in BROKEN.values():
        used |= {finding.fix.changes["do"] for finding in found(behaviour, design, **more) if finding.fix}
    used |= {one.fix.changes["do"] for one in found(with_area(replace(A2, x=20, y=20, width=40, height=46), PRESSED)) if one.fix}
    used |= {one.fix.changes["do"] for one in found(with_rules(Rule("r9", Trigger("release", "a9"), (TELL,)))) if one.fix}
    assert used == set(MENDING)


@pytest.mark.parametrize(
    ("height", "small"), [(45, True), (46, False)]
)  # 49.0 mm over 320 px are 0.1531 mm a pixel: 46 px are 7.04 mm, 45 px 6.89
def test_seven_millimetres(height, small):
    assert ("area-small" in ids(with_area(replace(A2, height=height), PRESSED))) == small


@pytest.mark.parametrize(("box", "meant"), [
    ((230, 310, 10, 10), [194, 274, 46, 46]), ((0, 0, 10, 10), [0, 0, 46, 46]), ((100, 120, 20, 50), [87, 120, 46, 50]),
])  # fmt: skip
def test_a_small_area_grows_about_its_middle_and_stays_on_the_glass(box, meant):
    x, y, width, height = box
    small = replace(A2, x=x, y=y, width=width, height=height)
    fixes = [one.fix.changes for one in found(with_area(small, PRESSED)) if one.id.endswith("area-small")]
    assert [changes["box"] for changes in fixes] == [meant]


@pytest.mark.parametrize(("y", "close"), [(82, True), (83, True), (84, False)])
def test_two_millimetres_between_areas(y, close):
    """14 px are 2.14 mm, 13 px 1.99: from 70 on. Areas of one size in one line are a list, and may touch."""
    assert ("areas-close" in ids(with_area(replace(A2, y=y, x=11), PRESSED))) == close
    assert "areas-close" not in ids(with_area(replace(A2, y=70), PRESSED))


def test_areas_of_different_screens_do_not_meet():
    assert "areas-overlap" not in ids(with_area(replace(A2, y=60, screen="screen-2"), replace(PRESSED, screen="screen-2")))
    assert "areas-overlap" in ids(with_area(replace(A2, y=60, screen=""), PRESSED))


def test_areas_under_the_round_edge():
    area = replace(BIG, x=0, y=0, width=90, height=90)
    assert "area-under-edge" in ids(replace(SOUND, areas=(area,)), slug=ROUND)
    assert "area-under-edge" not in ids(replace(SOUND, areas=(replace(area, x=75, y=75),)), slug=ROUND)


@pytest.mark.parametrize(("period", "fast"), [((166, 167), True), ((167, 167), False)])
def test_three_blinks_a_second(period, fast):
    on, off = period
    blinking = valued(TIDE, LAMP, Value("v3", "colon", "yes/no", origin=Origin("blink", on_ms=on, off_ms=off)))
    assert ("blinks-fast" in ids(SOUND, blinking)) == fast
    banded = valued(replace(TIDE, bands=Bands((Band(None, 50), Band(50, None, blink_ms=on + off)))), LAMP)
    assert ("blinks-fast" in ids(SOUND, banded)) == fast


@pytest.mark.parametrize(("blocks", "steps", "fast"), [(13, 4, True), (12, 4, False), (26, 2, True), (25, 2, False)])
def test_a_knob_that_is_turned_faster_than_the_program_comes_round(blocks, steps, fast):
    """Twenty catches a second of four changes are 12.5 ms from one to the next; a frame of this panel takes 1 ms."""
    behaviour = replace(SOUND, encoders=(Encoder("k1", "knob", "A0", "A1", steps),))
    design = valued(replace(TIDE, source=replace(SENSOR, blocks_ms=blocks)), LAMP)
    assert ("knob-fast" in ids(behaviour, design, slug=PLAIN)) == fast


def test_pins():
    behaviour = replace(
        SOUND, buttons=(Button("b1", "next", "A2"), Button("b2", "set", "A2"), Button("b3", "off"), Button("b4", "on", "A3"))
    )
    assert sorted(one for one in ids(behaviour, taken=frozenset({"A3"})) if "pin" in one) == ["no-pin", "pin-taken", "pin-twice"]


def test_a_way_back_counts_as_one():
    back = replace(
        SOUND, rules=(SOUND.rules[0], rule(9, Trigger("swipe up"), Action("go back"), TELL, screen="screen-2"), SOUND.rules[2])
    )
    assert found(back) == []


def test_six_changes_of_band_a_minute_are_few():
    def flips(listed):
        return "band-flips" in ids(SOUND, valued(replace(TIDE, stand_in=StandIn("list", listed=listed, every_ms=1000)), LAMP))

    assert flips((*[0] * 9, *[99] * 9))  # every 9 s: 6.7 a minute
    assert not flips((*[0] * 11, *[99] * 11))  # every 11 s: 5.5


def test_an_output_by_the_name_of_a_value_that_does_not_follow_it():
    behaviour = replace(SOUND, outputs=(replace(OUT, shows=""),))
    finding = next(one for one in found(behaviour) if one.id == "behaviour.shown-wrong")
    after, _ = mended(behaviour, DESIGN, Speaker(behaviour, DESIGN, NAMES), finding.fix.changes)
    assert after.outputs[0].shows == "v2"


@pytest.mark.parametrize("changes", [{}, {"do": "paint"}, "lead", {"do": "tell", "rule": "r99", "name": "x"}, {"do": "box", "area": "a1"},
                                     {"do": "blink", "value": "v99"}, {"do": "output", "output": "o7", "fields": {}}])  # fmt: skip
def test_fixes_that_are_none_are_refused_in_words(changes):
    with pytest.raises(BadValueError, match="load the page again"):
        mended(SOUND, DESIGN, Speaker(SOUND, DESIGN, NAMES), changes)


def test_every_rule_finds_something_in_these_tests():
    seen = set()
    for behaviour, design, more in BROKEN.values():
        dev = device(more.get("slug", TOUCH))
        count = more.get("screens", 2)
        plans = {
            f"screen-{n}": planned(Screen((GAUGE,) if n == 1 else ()), dev, kit_of(dev, design)) for n in range(1, count + 1)
        }
        machine = machine_of(behaviour, design, plans, dev.size)
        subject = BehaviourSubject(dev, machine, Speaker(behaviour, design, NAMES), plans, more.get("taken", frozenset()))
        seen |= {one.__name__ for one in RULES if one(subject)}
    assert seen == {one.__name__ for one in RULES}


def test_what_says_the_band_follows_a_mended_one():
    """A band that is taken away by a fix takes its word along, everywhere."""
    design = valued(
        replace(TIDE, bands=Bands((*TIDE.bands.bands, Band(101, 120, "flood")))), LAMP,
        Value("v3", "tide band", "word", words=("low", "high", "flood"), origin=Origin("band", "v1")),
    )  # fmt: skip
    fix = next(one.fix for one in found(SOUND, design) if one.id == "behaviour.band-never")
    _, after = mended(SOUND, design, Speaker(SOUND, design, NAMES), fix.changes)
    assert after.value("v3").words == ("low", "high")
