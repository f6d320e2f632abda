"""What a device does, step by step, against the rules worked by hand."""

import pytest

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Button, Encoder, Event, Output, Rule, TouchFeel, Trigger
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Happening
from mosaic.behaviour.step import begin, step
from mosaic.errors import BadDescriptionError
from mosaic.panels.windows import Rect
from mosaic.values.bands import Band, Bands
from mosaic.values.value import Origin, Value

EVENTS = tuple(Event(f"x{n}", n, f"event {n}") for n in range(1, 10))


def tell(code):
    return Action("event", f"x{code}")


def rule(number, trigger, *actions, screen=""):
    return Rule(f"r{number}", trigger, actions, screen)


def machine(*rules, values=(), boxes=None, **more):
    areas = tuple(Area(ident, ident, more.pop(f"{ident}_on", "")) for ident in boxes or {})
    behaviour = Behaviour(areas=areas, rules=rules, events=EVENTS, touch=TouchFeel(samples=1), **more)
    return Machine(behaviour, tuple(values), ("screen-1", "screen-2", "screen-3"), 0, boxes or {})


def run(made, *happenings):
    """(ms, event codes) that were told, and the state at the end."""
    state, effects = begin(made)
    told = [(0, effect.of) for effect in effects if effect.what == "event"]
    for now, *what in happenings:
        state, effects = step(made, state, Happening(*what) if what else Happening("time"), now)
        told += [(now, effect.of) for effect in effects if effect.what == "event"]
    return told, state


def test_a_button_counts_once_its_level_has_stayed():
    made = machine(rule(1, Trigger("button pressed", "b1"), tell(1)), rule(2, Trigger("button released", "b1"), tell(2)),
                   buttons=(Button("b1", "go", bounce_ms=20),))  # fmt: skip
    bouncing = [(10, "pin", 0, 0), (12, "pin", 0, 1), (14, "pin", 0, 0), (33,), (34,), (50, "pin", 0, 1), (69,), (70,)]
    assert run(made, *bouncing)[0] == [(34, 1), (70, 2)]


def test_a_level_that_passed_unwatched_still_counts():
    """From 10 to 60 ms it was down, and the next step comes at 60 with the release: it was pressed."""
    made = machine(rule(1, Trigger("button pressed", "b1"), tell(1)), buttons=(Button("b1", "go", bounce_ms=20),))
    assert run(made, (10, "pin", 0, 0), (60, "pin", 0, 1))[0] == [(60, 1)]


def test_a_button_that_was_held_is_not_released_as_well():
    made = machine(rule(1, Trigger("button held", "b1", ms=500), tell(1)), rule(2, Trigger("button released", "b1"), tell(2)),
                   buttons=(Button("b1", "go", bounce_ms=0),))  # fmt: skip
    assert run(made, (0, "pin", 0, 0), (499,), (500,), (900,), (901, "pin", 0, 1))[0] == [(500, 1)]
    assert run(made, (0, "pin", 0, 0), (499, "pin", 0, 1), (2000,))[0] == [(499, 2)]


@pytest.mark.parametrize(("steps", "turns"), [(4, 1), (2, 2), (1, 4)])
def test_a_knob_turns_by_its_catches(steps, turns):
    made = machine(rule(1, Trigger("turned up", "k1"), tell(1)), rule(2, Trigger("turned down", "k1"), tell(2)),
                   encoders=(Encoder("k1", "knob", steps=steps),))  # fmt: skip
    up = [(1, 1), (1, 0), (0, 0), (0, 1), (1, 1)]
    one_way = [(n, "lines", 0, a, b) for n, (a, b) in enumerate(up)]
    other = [(n, "lines", 0, a, b) for n, (a, b) in enumerate(reversed(up), 10)]
    told = [code for _, code in run(made, *one_way, *other)[0]]
    assert sorted(set(told)) == [1, 2]
    assert [told.count(1), told.count(2)] == [turns, turns]
    assert told[0] != told[-1]


def test_one_wobbling_line_turns_nothing():
    made = machine(rule(1, Trigger("turned up", "k1"), tell(1)), rule(2, Trigger("turned down", "k1"), tell(2)),
                   encoders=(Encoder("k1", "knob", steps=4),))  # fmt: skip
    assert run(made, *((n, "lines", 0, 1, n % 2) for n in range(40)))[0] == []


def test_timers():
    made = machine(rule(1, Trigger("after", ms=300), tell(1)), rule(2, Trigger("every", ms=200), tell(2)))
    told, _ = run(made, (199,), (200,), (299,), (300,), (399,), (400,), (1100,), (1101,), (1299,), (1300,))
    # At 1,100 ms three rounds were missed: one is told, and the next comes 200 ms later.
    assert told == [(200, 2), (300, 1), (400, 2), (1100, 2), (1300, 2)]


def test_a_timer_of_a_screen_begins_when_it_is_shown():
    made = machine(rule(1, Trigger("button pressed", "b1"), Action("screen", "screen-2")),
                   rule(2, Trigger("after", ms=100), Action("screen", "screen-1"), tell(1), screen="screen-2"),
                   buttons=(Button("b1", "go", bounce_ms=0),))  # fmt: skip
    told, state = run(made, (500, "pin", 0, 0), (599,), (600,), (700, "pin", 0, 1), (800, "pin", 0, 0), (899,), (900,))
    assert told == [(600, 1), (900, 1)]
    assert state.screen == 0


def test_quiet_begins_anew_with_each_touch():
    made = machine(rule(1, Trigger("quiet", ms=1000), tell(1)), boxes={"a1": Rect(0, 0, 10, 10)})
    told, _ = run(
        made, (400, "touch", 0, 5, 5), (441,), (1399,), (1440,), (1441,), (3000,), (3100, "touch", 0, 5, 5), (3200,), (4200,)
    )
    # Lifted at 441 ms (40 ms without a touch); then once, until something is touched again.
    assert told == [(1441, 1), (4200, 1)]


def test_of_areas_that_overlap_the_last_counts_and_edges_are_half_open():
    made = machine(rule(1, Trigger("press", "a1"), tell(1)), rule(2, Trigger("press", "a2"), tell(2)), rule(3, Trigger("press"), tell(3)),
                   boxes={"a1": Rect(0, 0, 20, 20), "a2": Rect(10, 0, 20, 20)})  # fmt: skip
    pressed = [run(made, (0, "touch", 0, x, 5), (50,))[0] for x in (0, 9, 10, 29, 30)]
    assert pressed == [[(0, 1)], [(0, 1)], [(0, 2)], [(0, 2)], [(0, 3)]]


def test_a_release_counts_where_the_touch_began():
    made = machine(rule(1, Trigger("release", "a1"), tell(1)), boxes={"a1": Rect(0, 0, 20, 20)})
    assert run(made, (0, "touch", 0, 5, 5), (10, "touch", 0, 5, 5), (50,), (51,))[0] == [(51, 1)]
    assert run(made, (0, "touch", 0, 5, 5), (10, "touch", 0, 25, 5), (20, "touch", 0, 25, 5), (70,))[0] == []


@pytest.mark.parametrize(
    ("to", "ms", "code"),
    [((40, 0), 100, 2), ((39, 0), 100, None), ((-40, 0), 100, 1), ((0, 40), 100, 4), ((0, -40), 100, 3), ((40, 20), 100, 2),
     ((40, 21), 100, None), ((40, 0), 800, 2), ((40, 0), 801, None)],
)  # fmt: skip
def test_swipes_by_their_way_and_time(to, ms, code):
    """40 px within 800 ms, at least twice as far along as across."""
    made = machine(*(rule(n, Trigger(f"swipe {way}"), tell(n)) for n, way in enumerate(("left", "right", "up", "down"), 1)))
    touches = [
        (0, "touch", 0, 60, 60),
        *((ms, "touch", 0, 60 + to[0], 60 + to[1]) for ms in ((ms - 1, ms) if ms > 500 else (ms,))),
    ]
    steady = Machine(
        Behaviour(rules=made.behaviour.rules, events=EVENTS, touch=TouchFeel(samples=1, lift_ms=500)), (), made.screens, 0, {}
    )
    half = [(ms // 2, "touch", 0, 60, 60)] if ms > 500 else []
    told, _ = run(steady, touches[0], *half, *touches[1:], (ms + 501,))
    assert [n for _, n in told] == ([code] if code else [])


def test_a_finger_that_rests_means_nothing_when_it_is_lifted():
    made = machine(rule(1, Trigger("release", "a1"), tell(1)), boxes={"a1": Rect(0, 0, 20, 20)})
    touches = [(at, "touch", 0, 5, 5) for at in range(0, 5001, 20)]
    assert [code for _, code in run(made, *touches, (5100,))[0]] == [1]
    assert run(made, *touches, (5020, "touch", 0, 5, 5), (5100,))[0] == []


def test_a_hold_fires_once_and_takes_the_release_away():
    made = machine(rule(1, Trigger("hold", "a1", ms=300), tell(1)), rule(2, Trigger("release", "a1"), tell(2)),
                   boxes={"a1": Rect(0, 0, 20, 20)})  # fmt: skip
    touches = [(at, "touch", 0, 5, 5) for at in range(0, 601, 20)]
    assert run(made, *touches, (700,))[0] == [(300, 1)]
    assert run(made, *touches[:15], (400,))[0] == [(400, 2)]


def test_a_finger_that_wanders_holds_nothing():
    made = machine(rule(1, Trigger("hold", ms=300), tell(1)))

    def there(px):
        return [(0, "touch", 0, 5, 5), (20, "touch", 0, 5 + px, 5), *((at, "touch", 0, 5 + px, 5) for at in range(40, 400, 20))]

    assert [code for _, code in run(made, *there(16))[0]] == [1]
    assert run(made, *there(17))[0] == []


def test_going_back_and_screens_that_are_gone():
    made = machine(
        rule(
            1,
            Trigger("button pressed", "b1"),
            Action("screen", "screen-2"),
            Action("screen", "screen-3"),
            Action("screen", "screen-9"),
        ),
        rule(2, Trigger("button pressed", "b2"), Action("go back")),
        buttons=(Button("b1", "go", bounce_ms=0), Button("b2", "back", bounce_ms=0)),
    )
    press = [(n, "pin", 1, n % 2) for n in range(100, 106)]
    states = [run(made, (0, "pin", 0, 0), *press[:n])[1].screen for n in range(7)]
    assert states == [2, 1, 1, 0, 0, 0, 0]


def test_adding_stops_or_comes_round():
    value = Value("v1", "page", low=1, high=3, origin=Origin("rules", first=2))

    def after(action, times):
        made = machine(
            rule(1, Trigger("button pressed", "b1"), action), values=[value], buttons=(Button("b1", "go", bounce_ms=0),)
        )
        return run(made, *((n, "pin", 0, n % 2) for n in range(2 * times)))[1].values[0].raw

    assert [after(Action("add", "v1", 1), n) for n in range(4)] == [2, 3, 3, 3]
    assert [after(Action("add", "v1", 1, wrap=True), n) for n in range(5)] == [2, 3, 1, 2, 3]
    assert [after(Action("add", "v1", -1, wrap=True), n) for n in range(4)] == [2, 1, 3, 2]
    assert [after(Action("set", "v1", 9), n) for n in range(2)] == [2, 3]
    assert [after(Action("toggle", "v1"), n) for n in range(4)] == [2, 1, 3, 1]


def test_old_readings_and_those_that_come_back():
    value = Value("v1", "tide", high=100, max_age_s=2, bands=Bands((Band(None, 50), Band(50, None))))
    made = machine(rule(1, Trigger("stale", "v1"), tell(1)), rule(2, Trigger("back", "v1"), tell(2)), rule(3, Trigger("band", "v1", 0), tell(3)),
                   values=[value, Value("v2", "word", "word", words=("low", "high"), origin=Origin("band", "v1"))])  # fmt: skip
    told, state = run(made, (0, "reading", 0, 7), (2000,), (2001,), (5000,))
    assert told == [(0, 3), (2001, 1)]
    assert (state.values[0].is_, state.values[1].is_) == ("stale", "absent")
    told, state = run(made, (0, "reading", 0, 7), (2001,), (2500, "reading", 0, 8))
    assert told == [(0, 3), (2001, 1), (2500, 2), (2500, 3)]
    assert (state.values[1].raw, state.values[1].is_) == (0, "known")


def test_outputs_their_polarity_and_what_shows_them():
    lamp = Value("v1", "lamp", "yes/no", origin=Origin("rules"))
    made = machine(rule(1, Trigger("button pressed", "b1"), Action("output", "o1", 2)), values=[lamp], buttons=(Button("b1", "go", bounce_ms=0),),
                   outputs=(Output("o1", "lamp", active_low=True, shows="v1"),))  # fmt: skip
    state, effects = begin(made)
    assert [(effect.what, effect.of, effect.level) for effect in effects] == [("output", 0, 1), ("screen", 0, 0)]
    state, effects = step(made, state, Happening("pin", 0, 0), 10)
    assert [(effect.what, effect.level) for effect in effects] == [("output", 0)]
    assert (state.outputs[0].on, state.values[0].raw) == (True, 1)


def test_an_output_that_is_not_as_it_was_switched():
    current = Value("v1", "current", high=20)
    made = machine(
        rule(1, Trigger("wrong", "o1"), tell(1)),
        values=[current],
        outputs=(Output("o1", "pump", at_start=True, reads="v1", reads_from=8, within_ms=500),),
    )
    assert run(made, (100, "reading", 0, 7), (499,), (500,), (600,), (700, "reading", 0, 8), (800, "reading", 0, 7))[0] == [
        (500, 1),
        (800, 1),
    ]
    assert run(made, (100, "reading", 0, 8), (600,))[0] == []


def test_asleep_only_what_wakes_it_counts():
    made = machine(rule(1, Trigger("button pressed", "b1"), tell(1)), rule(2, Trigger("wake"), tell(2)),
                   rule(3, Trigger("after", ms=100), Action("sleep")), rule(4, Trigger("every", ms=1000), tell(4)),
                   buttons=(Button("b1", "go", bounce_ms=0),))  # fmt: skip
    told, state = run(made, (100,), (2000,), (2100, "pin", 0, 0), (2150, "pin", 0, 1), (2200, "pin", 0, 0))
    assert told == [(2100, 2), (2200, 1)]
    assert not state.asleep
    assert run(made, (100,), (5000, "wake"))[0] == [(5000, 2)]


def test_a_finger_that_sends_it_to_sleep_does_not_wake_it():
    made = machine(rule(1, Trigger("hold", ms=100), Action("sleep")), rule(2, Trigger("wake"), tell(2)))
    touches = [(at, "touch", 0, 5, 5) for at in range(0, 200, 20)]
    told, _ = run(made, *touches, (300,), (301, "touch", 0, 5, 5))
    assert told == [(301, 2)]
    assert run(made, *touches, (300,))[1].asleep


def test_blinks():
    own = Value("v1", "colon", "yes/no", origin=Origin("blink", on_ms=200, off_ms=300))
    wind = Value("v2", "wind", high=50, bands=Bands((Band(None, 20), Band(20, None, blink_ms=1000))))
    banded = Value("v3", "warning", "yes/no", origin=Origin("blink", "v2"))
    made = machine(values=[own, wind, banded])
    lit = [tuple(run(made, (0, "reading", 1, raw), (at,))[1].values[n].raw for n in (0, 2)) for raw, at in
           ((5, 199), (5, 200), (5, 499), (5, 500), (30, 499), (30, 500), (30, 999), (30, 1000))]  # fmt: skip
    assert lit == [(1, 1), (0, 1), (0, 1), (1, 1), (0, 1), (1, 0), (0, 0), (1, 1)]


def test_bands_switch_outputs_even_asleep():
    wind = Value(
        "v1", "wind", high=50, bands=Bands((Band(None, 20, outputs=(("o1", False),)), Band(20, None, outputs=(("o1", True),))))
    )
    made = machine(rule(1, Trigger("after", ms=50), Action("sleep")), values=[wind], outputs=(Output("o1", "sounder"),))
    assert [run(made, (60,), (70, "reading", 0, raw))[1].outputs[0].on for raw in (19, 20)] == [False, True]


@pytest.mark.parametrize(("when", "ms", "told"), [("after", 0, "0 s"), ("quiet", 0, "0 s"), ("hold", 49, "49 ms is too short")])
def test_times_that_are_none(when, ms, told):
    with pytest.raises(BadDescriptionError, match=told):
        Trigger(when, ms=ms)
    assert Trigger(when, ms=50).ms == 50


def test_two_events_with_one_code_are_refused_by_name():
    with pytest.raises(BadDescriptionError, match="racks and boat both have the code 3"):
        Behaviour(events=(Event("x1", 3, "racks"), Event("x2", 3, "boat")))
    with pytest.raises(BadDescriptionError, match="two of them are called a1"):
        Behaviour(areas=(Area("a1", "one"), Area("a1", "two")))
