"""A device at work in virtual time: its sources are read as their stand-ins have it, and somebody touches, presses and turns."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from mosaic.behaviour.due import next_due
from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import DeviceState, Effect, Happening
from mosaic.behaviour.step import begin, step
from mosaic.screens.screen import MOST_PAST
from mosaic.values.courses import reading_at
from mosaic.values.printing import DAY_S
from mosaic.values.states import State
from mosaic.values.value import Reading, Value

MOST_STEPS = 50_000
"""Of one stretch of a life."""
What = Literal["touch", "lift", "pin", "lines", "hand", "clock", "wake"]


@dataclass(frozen=True)
class Input:
    """What somebody does. `what`: "touch" and "pin" and "lines" and "wake" as happenings; "lift" is a finger that is gone;
    "hand" sets value number `of` to `a` from then on; "clock" sets the time of day to `a` s."""  # fmt: skip

    at_ms: int
    what: What
    of: int = 0
    a: int = 0
    b: int = 0


@dataclass(frozen=True, eq=False)
class Life:
    """A device's life so far.

    Attributes
    ----------
    happened : (ms, what reached it). told : (ms, what it did). due : when each source is read next, in ms.
    held : readings set by hand. texts : of values that are texts. past : the last readings of each number.
    shift_s : by how much clocks were set forward. is_cut : more happened than is worked out.
    """

    machine: Machine
    state: DeviceState
    happened: tuple[tuple[int, Happening], ...] = ()
    told: tuple[tuple[int, Effect], ...] = ()
    due: Mapping[int, int] = field(default_factory=dict)
    held: Mapping[int, int] = field(default_factory=dict)
    texts: Mapping[int, str] = field(default_factory=dict)
    past: Mapping[int, tuple[Reading, ...]] = field(default_factory=dict)
    shift_s: int = 0
    is_cut: bool = False

    def shown(self) -> State:
        """What the screens show of it."""
        readings: dict[str, Reading] = {}
        for number, (value, known) in enumerate(zip(self.machine.values, self.state.values, strict=True)):
            absent = known.is_ == "absent"
            readings[value.id] = None if absent else self.texts.get(number) if value.kind == "text" else known.raw
        stale = frozenset(
            value.id for value, known in zip(self.machine.values, self.state.values, strict=True) if known.is_ == "stale"
        )
        past = {self.machine.values[number].id: readings for number, readings in self.past.items()}
        return State("play", "play", readings, stale, past, self.state.now // 100)


def born(machine: Machine, held: Mapping[int, int] | None = None) -> Life:
    """A device that is switched on."""
    state, effects = begin(machine)
    due = {number: 0 for number, value in enumerate(machine.values) if value.origin.by == "source"}
    return Life(machine, state, (), tuple((0, effect) for effect in effects), due, held or {})


def _reading(life: Life, number: int, value: Value, now: int) -> Reading:
    if number in life.held:
        return life.held[number]
    reading = reading_at(value, now)
    if isinstance(reading, int) and value.stand_in.by == "clock" and value.kind == "time":
        return (reading + life.shift_s) % DAY_S
    return reading


class _Living:
    """A life that goes on."""

    def __init__(self, life: Life) -> None:
        self.life, self.machine, self.state = life, life.machine, life.state
        self.happened, self.told = list(life.happened), list(life.told)
        self.due, self.held, self.texts, self.past = dict(life.due), dict(life.held), dict(life.texts), dict(life.past)
        self.shift_s, self.steps = life.shift_s, 0

    def now_is(self) -> Life:
        return replace(
            self.life, state=self.state, happened=tuple(self.happened), told=tuple(self.told), due=self.due, held=self.held,
            texts=self.texts, past=self.past, shift_s=self.shift_s, is_cut=self.life.is_cut or self.steps >= MOST_STEPS,
        )  # fmt: skip

    def step(self, happening: Happening, now: int) -> None:
        self.steps += 1
        self.state, effects = step(self.machine, self.state, happening, now)
        self.happened.append((now, happening))
        self.told += [(now, effect) for effect in effects]

    def read(self, number: int, now: int) -> None:
        value = self.machine.values[number]
        self.life = replace(self.life, held=self.held, shift_s=self.shift_s)
        reading = _reading(self.life, number, value, now)
        self.due[number] = now + max(10, value.source.every_ms)
        if reading is None:
            return
        if isinstance(reading, str):
            self.texts[number] = reading
        self.past[number] = (*self.past.get(number, ()), reading)[-MOST_PAST:]
        self.step(Happening("reading", number, reading if isinstance(reading, int) else 0), now)

    def take(self, given: Input) -> None:
        if given.what == "hand":
            self.held[given.of] = given.a
            self.read(given.of, given.at_ms)
        elif given.what == "clock":
            clocks = [n for n, value in enumerate(self.machine.values) if value.stand_in.by == "clock" and value.kind == "time"]
            for number in clocks:
                usual = reading_at(self.machine.values[number], given.at_ms)
                self.shift_s = (given.a - usual) % DAY_S if isinstance(usual, int) else 0
                self.read(number, given.at_ms)
        elif given.what == "lift":
            self.step(Happening("time"), given.at_ms)
        else:
            self.step(Happening(given.what, given.of, given.a, given.b), given.at_ms)


def lived(life: Life, inputs: Iterable[Input], until_ms: int) -> Life:
    """A life with what happens from now on until a moment, in ms; inputs in the order of their times."""
    living, waiting = _Living(life), sorted(inputs, key=lambda one: one.at_ms)
    waiting = [replace(one, at_ms=max(one.at_ms, life.state.now)) for one in waiting]
    while living.steps < MOST_STEPS:
        own = next_due(living.machine, living.state)
        source = min(living.due, key=lambda number: (living.due[number], number), default=None)
        times = [
            waiting[0].at_ms if waiting else None, own, max(living.due[source], living.state.now) if source is not None else None,
        ]  # fmt: skip
        now = min((at for at in times if at is not None), default=None)
        if now is None or now > until_ms:
            break
        if waiting and waiting[0].at_ms == now:
            living.take(waiting.pop(0))
        elif source is not None and living.due[source] <= now:
            living.read(source, now)
        else:
            living.step(Happening("time"), now)
    if living.state.now < until_ms:
        living.step(Happening("time"), until_ms)
    return living.now_is()
