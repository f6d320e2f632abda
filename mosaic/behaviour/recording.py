"""Runs of a device that are kept: what reached it, and what it did then. Played again they show what has changed."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.behaviour.behaviour import CHANGES, SIDES, Change, Side
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import DeviceState, Effect, Happening
from mosaic.behaviour.step import begin, step
from mosaic.errors import BadValueError
from mosaic.source_text import comment, identifier

MOST_HAPPENINGS, MOST_TOLD = 5000, 5000
Ms = Annotated[int, Meta(ge=0, le=2_000_000_000)]
Number = Annotated[int, Meta(ge=-(2**31), le=2**31 - 1)]
WHATS = ("time", "touch", "pin", "lines", "reading", "wake")
DONE = ("screen", "event", "output", "light", "refresh", "sleep")


@dataclass(frozen=True)
class Reached:
    """Something reached the device. `of` is the id of the button, encoder or value."""

    at_ms: Ms
    what: Literal["time", "touch", "pin", "lines", "reading", "wake"] = "time"
    of: Annotated[str, Meta(max_length=12)] = ""
    a: Number = 0
    b: Number = 0


@dataclass(frozen=True)
class Told:
    """Something the device did. `of` is a screen's reference, the code of an event, or the id of an output."""

    at_ms: Ms
    what: Literal["screen", "event", "output", "light", "refresh", "sleep"]
    of: Annotated[str, Meta(max_length=40)] = ""
    level: Number = 0
    change: Change = "cut"
    side: Side = "left"
    steps: Annotated[int, Meta(ge=0, le=32)] = 0


@dataclass(frozen=True)
class Recording:
    """A run from the device's start on: what reached it in order, and what it did."""

    reached: Annotated[tuple[Reached, ...], Meta(max_length=MOST_HAPPENINGS)] = ()
    told: Annotated[tuple[Told, ...], Meta(max_length=MOST_TOLD)] = ()
    form: Literal[1] = 1


def _subjects(machine: Machine, what: str) -> list[str]:
    groups = {"pin": machine.behaviour.buttons, "lines": machine.behaviour.encoders, "reading": machine.values}
    return [one.id for one in groups.get(what, ())]  # type: ignore[attr-defined]


def told_of(now: int, effect: Effect, machine: Machine) -> Told:
    """An effect by the ids of what it names."""
    of = {"screen": lambda: machine.screens[effect.of], "event": lambda: str(effect.of),
          "output": lambda: machine.behaviour.outputs[effect.of].id}.get(effect.what, str)()  # fmt: skip
    return Told(now, effect.what, of, effect.level, effect.change, effect.side, effect.steps)


def recorded(machine: Machine, happened: tuple[tuple[int, Happening], ...], told: tuple[tuple[int, Effect], ...]) -> Recording:
    """A run as it is kept.

    Raises
    ------
    BadValueError
        It is too long.
    """
    if len(happened) > MOST_HAPPENINGS or len(told) > MOST_TOLD:
        raise BadValueError(
            f"the run has {len(happened):,} happenings; up to {MOST_HAPPENINGS:,} are kept. Begin anew and play a shorter one"
        )
    reached = []
    for now, one in happened:
        subjects = _subjects(machine, one.what)
        reached.append(Reached(now, one.what, subjects[one.of] if subjects else "", one.a, one.b))
    return Recording(tuple(reached), tuple(told_of(now, effect, machine) for now, effect in told))


@dataclass(frozen=True)
class Again:
    """A run played again: what it did now, what first was otherwise, and what it names that is gone."""

    told: tuple[Told, ...]
    differs_at_ms: int | None
    before: tuple[Told, ...]
    now: tuple[Told, ...]
    gone: tuple[str, ...]
    state: DeviceState

    @property
    def is_same(self) -> bool:
        return self.differs_at_ms is None and not self.gone


def happenings(recording: Recording, machine: Machine) -> tuple[list[tuple[int, Happening]], list[str]]:
    """(ms, what happens) of a run on a machine, and ids of inputs that it has no longer."""
    found, gone = [], []
    for one in recording.reached:
        subjects = _subjects(machine, one.what)
        if one.of and one.of not in subjects:
            gone.append(one.of)
            continue
        found.append((one.at_ms, Happening(one.what, subjects.index(one.of) if one.of else 0, one.a, one.b)))
    return found, list(dict.fromkeys(gone))


def played_again(recording: Recording, machine: Machine) -> Again:
    """Play a run on a machine as it is now."""
    state, effects = begin(machine)
    told = [told_of(0, effect, machine) for effect in effects]
    given, gone = happenings(recording, machine)
    for now, happening in given:
        state, effects = step(machine, state, happening, now)
        told += [told_of(now, effect, machine) for effect in effects]
    at = next((n for n, (a, b) in enumerate(zip(recording.told, told, strict=False)) if a != b), None)
    if at is None and len(told) != len(recording.told):
        at = min(len(told), len(recording.told))
    if at is None:
        return Again(tuple(told), None, (), (), tuple(gone), state)
    before, now_done = recording.told[at : at + 3], tuple(told[at : at + 3])
    return Again(tuple(told), min(one.at_ms for one in (*before[:1], *now_done[:1])), before, now_done, tuple(gone), state)


def c_test(recording: Recording, machine: Machine, name: str, title: str) -> str:
    """A program in C that plays a run and ends with 0 if the device does what it did when the run was kept."""
    given, _ = happenings(recording, machine)
    again = played_again(recording, machine)
    rows = (
        ",\n".join(f"    {{{now}u, {WHATS.index(one.what)}, {one.of}, {one.a}, {one.b}}}" for now, one in given)
        or "    {0, 0, 0, 0, 0}"
    )
    meant = []
    for one in again.told:
        of = {"screen": lambda one=one: machine.screen_numbers[one.of], "event": lambda one=one: int(one.of),
              "output": lambda one=one: next(n for n, o in enumerate(machine.behaviour.outputs) if o.id == one.of)}  # fmt: skip
        number = of.get(one.what, lambda: 0)()
        meant.append(
            f"    {{{one.at_ms}u, {DONE.index(one.what)}, {number}, {one.level}, {CHANGES.index(one.change)}, "
            f"{SIDES.index(one.side)}, {one.steps}}}"
        )
    listed = ",\n".join(meant) or "    {0, 0, 0, 0, 0, 0, 0}"
    return f"""/* {comment(title)}: the recorded run “{comment(name)}”.
   Compile with behave.c and behaviour.c; it ends with 0 if all is as it was. */
#include <stdio.h>

#include "behaviour.h"

static const struct {{ uint32_t now; int32_t what, of, a, b; }} run[] = {{
{rows}
}};
static const struct {{ uint32_t now; int32_t what, of, level, change, side, steps; }} meant[] = {{
{listed}
}};

int main(void) {{
    behave_state *s = behaviour_begin(0);
    const int32_t happenings = {len(given)}, effects = {len(again.told)};
    int32_t seen = 0;
    for (int32_t i = -1; i < happenings; i++) {{
        const uint32_t now = i < 0 ? 0 : run[i].now;
        if (i >= 0) behave_step(s, now, run[i].what, run[i].of, run[i].a, run[i].b);
        for (int32_t j = 0; j < s->effect_count; j++, seen++) {{
            const behave_effect *e = s->effects + j;
            if (seen < effects && meant[seen].now == now && meant[seen].what == e->what && meant[seen].of == e->of &&
                meant[seen].level == e->level && meant[seen].change == e->change && meant[seen].side == e->side &&
                meant[seen].steps == e->steps) continue;
            printf("after %u ms the device does something else (%d of %d)\\n", (unsigned)now, e->what, (int)e->of);
            return 1;
        }}
    }}
    if (seen != effects) printf("%d of %d effects were seen\\n", (int)seen, (int)effects);
    return seen != effects;
}}
"""


def file_name(name: str) -> str:
    """The name of a run's test."""
    return f"run_{identifier(name, 'run')}"
