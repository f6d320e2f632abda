"""A device at work in virtual time, and runs of it that are kept."""

import subprocess
from dataclasses import replace
from pathlib import Path

import pytest

from mosaic import firmware
from mosaic.behaviour.behaviour import Action, Behaviour, Button, Event, Output, Rule, Trigger
from mosaic.behaviour.code import c_header, c_source
from mosaic.behaviour.due import next_due
from mosaic.behaviour.living import Input, born, lived
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.recording import c_test, played_again, recorded
from mosaic.behaviour.state import Happening
from mosaic.behaviour.step import begin, step
from mosaic.errors import BadValueError
from mosaic.values.bands import Band, Bands
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from tests.mosaic.behaviour.made_up import machine_by_lot, run_by_lot

RUNTIME = Path(firmware.__file__).parent


def small() -> Machine:
    rules = (
        Rule("r1", Trigger("button pressed", "b1"), (Action("screen", "screen-2"), Action("event", "x1"))),
        Rule("r2", Trigger("quiet", ms=5000), (Action("screen", "screen-1"),), "screen-2"),
        Rule("r3", Trigger("band", "v1", 1), (Action("event", "x2"),)),
    )
    tide = Value("v1", "tide", high=100, source=Source(every_ms=1000), stand_in=StandIn("list", listed=(10, 20, 60, 70), every_ms=1000),
                 bands=Bands((Band(None, 50), Band(50, None))))  # fmt: skip
    clock = Value("v2", "clock", "time", low=0, high=86_399, source=Source(every_ms=1000), stand_in=StandIn("clock", at=3600))
    behaviour = Behaviour(rules=rules, buttons=(Button("b1", "go"),), events=(Event("x1", 1, "shown"), Event("x2", 2, "high")),
                          outputs=(Output("o1", "lamp"),))  # fmt: skip
    return Machine(behaviour, (tide, clock), ("screen-1", "screen-2"), 0, {})


def told(life):
    return [(now, effect.what, effect.of) for now, effect in life.told if effect.what in ("screen", "event")]


def test_sources_are_read_and_rules_come_about_in_time():
    life = lived(born(small()), [Input(2500, "pin", 0, 0), Input(2600, "pin", 0, 1)], 9000)
    # Pressed at 2,500 ms, counted 20 ms later; let go at 2,600, counted at 2,620; five quiet seconds after that it returns.
    assert told(life) == [
        (0, "screen", 0), (2000, "event", 2), (2520, "screen", 1), (2520, "event", 1), (6000, "event", 2), (7620, "screen", 0),
    ]  # fmt: skip
    assert life.state.now == 9000


def test_a_life_goes_on_from_where_it_was():
    inputs = [Input(2500, "pin", 0, 0), Input(2600, "pin", 0, 1), Input(4000, "hand", 0, 5), Input(5000, "clock", 0, 7200)]
    whole = lived(born(small()), inputs, 9000)
    pieces = born(small())
    for until in (1000, 2510, 4500, 9000):
        pieces = lived(pieces, [one for one in inputs if pieces.state.now < one.at_ms <= until], until)
    assert told(pieces) == told(whole)
    assert pieces.shown().readings == whole.shown().readings


def test_by_hand_and_the_clock():
    life = lived(born(small()), [Input(500, "hand", 0, 80)], 3000)
    assert [one for one in told(life) if one[1] == "event"] == [(500, "event", 2)]
    assert life.shown().readings["v1"] == 80
    assert lived(born(small()), [], 2500).shown().readings["v2"] == 3602
    assert lived(born(small()), [Input(1500, "clock", 0, 86_399)], 3000).shown().readings["v2"] == 0


@pytest.mark.parametrize("seed", range(6))
def test_nothing_comes_about_before_it_is_due(seed):
    """Stepping every 10 ms, and stepping only when something is due, tell the same: what is due is never told too late."""
    machine = machine_by_lot(seed)
    machine = replace(machine, values=tuple(v for v in machine.values if v.origin.by != "blink"))
    plain, _ = begin(machine)
    due, _ = begin(machine)
    seen, jumped = [], []
    for at, happening in run_by_lot(seed, 40):
        while (nxt := next_due(machine, due)) is not None and nxt < at:
            due, effects = step(machine, due, Happening("time"), nxt)
            jumped += [(nxt, effect) for effect in effects]
        due, effects = step(machine, due, happening, at)
        jumped += [(at, effect) for effect in effects]
        for now in range(plain.now + 1, at):
            plain, effects = step(machine, plain, Happening("time"), now)
            seen += [(now, effect) for effect in effects]
        plain, effects = step(machine, plain, happening, at)
        seen += [(at, effect) for effect in effects]
    assert jumped == seen


def test_a_kept_run_does_the_same_again_and_says_what_changed():
    machine = small()
    life = lived(born(machine), [Input(2500, "pin", 0, 0), Input(2600, "pin", 0, 1)], 9000)
    kept = recorded(machine, life.happened, life.told)
    assert played_again(kept, machine).is_same
    slower = replace(machine, behaviour=replace(machine.behaviour, rules=(
        machine.behaviour.rules[0], replace(machine.behaviour.rules[1], trigger=Trigger("quiet", ms=6000)), machine.behaviour.rules[2])))  # fmt: skip
    again = played_again(kept, slower)
    assert (again.is_same, again.differs_at_ms) == (False, 7620)
    assert (again.before[0].what, again.before[0].of) == ("screen", "screen-1")
    assert [(one.at_ms, one.of) for one in again.now] == [(9000, "screen-1")]
    without = replace(machine, behaviour=replace(machine.behaviour, buttons=()))
    assert played_again(kept, without).gone == ("b1",)
    assert played_again(kept, without).differs_at_ms == 2520


def test_a_run_that_is_too_long_is_not_kept():
    machine = small()
    with pytest.raises(BadValueError, match="5,001 happenings; up to 5,000 are kept"):
        recorded(machine, tuple((n, Happening("time")) for n in range(5001)), ())
    assert len(recorded(machine, tuple((n, Happening("time")) for n in range(5000)), ()).reached) == 5000


@pytest.mark.parametrize("changed", [False, True])
def test_a_kept_run_is_a_test_in_c(changed, tmp_path):
    """Compiled as its first lines say, it ends with 0, and with 1 where the device does something else."""
    machine = small()
    life = lived(born(machine), [Input(2500, "pin", 0, 0), Input(2600, "pin", 0, 1)], 9000)
    source = c_test(recorded(machine, life.happened, life.told), machine, "a press", "Slip")
    if changed:
        rules = (
            replace(machine.behaviour.rules[0], actions=machine.behaviour.rules[0].actions[:1]),
            *machine.behaviour.rules[1:],
        )
        machine = replace(machine, behaviour=replace(machine.behaviour, rules=rules))
    names = {"screen-1": "One", "screen-2": "Two"}
    (tmp_path / "behaviour.h").write_text(c_header(machine, names, "Slip"))
    (tmp_path / "behaviour.c").write_text(c_source(machine, "Slip"))
    (tmp_path / "run.c").write_text(source)
    words = ["gcc", "-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror", f"-I{RUNTIME}", f"-I{tmp_path}"]
    subprocess.run(
        [*words, str(RUNTIME / "behave.c"), str(tmp_path / "behaviour.c"), str(tmp_path / "run.c"), "-o", str(tmp_path / "run")],
        check=True,
    )
    assert subprocess.run([str(tmp_path / "run")], capture_output=True).returncode == int(changed)


def test_names_in_code():
    header = c_header(small(), {"screen-1": "Racks", "screen-2": "On the water"}, "Slip")
    assert "enum { SCREEN_RACKS = 0, SCREEN_ON_THE_WATER = 1 };" in header
    assert "enum { EVENT_SHOWN = 1, EVENT_HIGH = 2 };" in header
