"""Recorded runs give the same screens, values, events and outputs in core, C and Python, after every step."""

from dataclasses import replace

import pytest

from mosaic.behaviour.behaviour import Action, Behaviour, Button, Event, Output, Rule, Trigger
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Happening
from mosaic.behaviour.step import begin, step
from mosaic.values.bands import Band, Bands
from mosaic.values.value import Origin, Value
from tests.mosaic.behaviour.compiling import InC, InPython, of_core
from tests.mosaic.behaviour.made_up import machine_by_lot, run_by_lot

RUNS = 16


@pytest.mark.parametrize("seed", range(RUNS))
def test_a_run_is_the_same_in_all_three(seed, tmp_path):
    machine = machine_by_lot(seed)
    in_c, in_python = InC(machine, tmp_path), InPython(machine)
    for lot in range(3):
        state, effects = begin(machine)
        meant = of_core(state, effects)
        assert in_c.begin(0) == meant
        assert in_python.begin(0) == meant
        for number, (now, happening) in enumerate(run_by_lot(seed * 10 + lot, 300)):
            state, effects = step(machine, state, happening, now)
            meant = of_core(state, effects)
            assert in_c.step(happening, now) == meant, (number, now, happening)
            assert in_python.step(happening, now) == meant, (number, now, happening)


def test_runs_by_lot_reach_everything():
    """What is compared is worth comparing: every effect and every state of a value occurs."""
    effects, known, back, asleep = set(), set(), 0, 0
    for seed in range(RUNS):
        machine = machine_by_lot(seed)
        state, first = begin(machine)
        effects |= {one.what for one in first}
        for now, happening in run_by_lot(seed * 10, 300):
            state, done = step(machine, state, happening, now)
            effects |= {one.what for one in done}
            known |= {one.is_ for one in state.values}
            back, asleep = max(back, len(state.back)), asleep + state.asleep
    assert effects == {"screen", "event", "output", "light", "refresh", "sleep"}
    assert known == {"known", "absent", "stale"}
    assert back > 1
    assert asleep


def _plain(**more) -> Machine:
    behaviour = Behaviour(**{"buttons": (Button("b1", "left", bounce_ms=0),), "events": (Event("x1", 7, "one"),), **more})
    return Machine(behaviour, VALUES, ("screen-1", "screen-2"), 0, {})


VALUES = (
    Value("v1", "lamp", kind="yes/no", origin=Origin("rules"), bands=Bands((Band(0, 1, outputs=(("o1", True),)), Band(1, 2, outputs=(("o1", False),))))),
)  # fmt: skip
LAMP = (Output("o1", "lamp", shows="v1"),)
MANY = Rule("r2", Trigger("button pressed", "b1"), (Action("event", "x1"),) * 8)


@pytest.mark.parametrize(
    ("machine", "lost"),
    [
        (_plain(outputs=LAMP), 1),  # the lamp switches itself for ever: a hundred things are handled, one is given up
        (_plain(rules=tuple(replace(MANY, id=f"r{n}") for n in range(4))), 0),
    ],
)
def test_what_goes_round_in_a_circle_comes_to_an_end(machine, lost, tmp_path):
    in_c, in_python = InC(machine, tmp_path), InPython(machine)
    state, effects = begin(machine)
    assert state.lost >= lost
    assert in_c.begin(0) == in_python.begin(0) == of_core(state, effects)
    for now, level in ((10, 0), (20, 1), (30, 0)):
        state, effects = step(machine, state, Happening("pin", 0, level), now)
        assert in_c.step(Happening("pin", 0, level), now) == of_core(state, effects)
        assert in_python.step(Happening("pin", 0, level), now) == of_core(state, effects)
    assert state.lost > lost  # of 32 events at once, 24 are told


def test_the_clock_of_a_board_may_come_round(tmp_path):
    """After 49 days the milliseconds begin at 0 again; nothing is noticed of it but the phase of a blink."""
    machine = machine_by_lot(3)
    machine = replace(machine, values=tuple(v for v in machine.values if v.origin.by != "blink"))
    in_c, in_python, late = InC(machine, tmp_path), InPython(machine), 2**32 - 1500
    state, effects = begin(machine)
    assert in_c.begin(late) == of_core(state, effects)
    in_python.begin(late)
    for now, happening in [*run_by_lot(5, 200), (9000, Happening("time")), (9001, Happening("reading", 0, 50))]:
        state, effects = step(machine, state, happening, now)
        assert in_c.step(happening, (now + late) % 2**32) == of_core(state, effects), now
        assert in_python.step(happening, (now + late) % 2**32) == of_core(state, effects), now
