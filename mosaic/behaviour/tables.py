"""A machine in numbers: what `mosaic/firmware/behave.c` and `behave.py` run by."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from mosaic.behaviour.behaviour import CHANGES, DOS, SIDES, TOUCHES, WHENS, Action, Rule
from mosaic.behaviour.machine import Machine, age_ms
from mosaic.values.value import Value

NONE, GONE = -1, -2
ORIGINS = ("source", "band", "blink", "rules")
LOWEST, HIGHEST = -(2**31), 2**31 - 1
"""Limits of bands that have none."""
Row = tuple[int, ...]


@dataclass(frozen=True, eq=False)
class Tables:
    """Rows of numbers, in the order of the fields of `behave.h`.

    A subject that is gone is `GONE`: nothing that happens means it.
    """

    machine: Machine

    def _value(self, ident: str) -> int:
        return self.machine.value_numbers.get(ident, GONE if ident else NONE)

    def _screen(self, ref: str) -> int:
        return self.machine.screen_numbers.get(ref, GONE) if ref else NONE

    @cached_property
    def areas(self) -> list[Row]:
        """screen, x, y, width, height; a width of 0 where nothing can be touched."""
        found: list[Row] = []
        for area in self.machine.behaviour.areas:
            box = self.machine.boxes.get(area.id)
            place = (box.x, box.y, box.width, box.height) if box is not None else (0, 0, 0, 0)
            found.append((self._screen(area.screen), *place))
        return found

    @cached_property
    def bands(self) -> list[Row]:
        """start, end, blink in ms, outputs that are switched on and off, a bit each; those of all values in their order."""
        numbers = {output.id: number for number, output in enumerate(self.machine.behaviour.outputs)}
        found: list[Row] = []
        for value in self.machine.values:
            for band in value.bands.bands:
                on, off = (
                    sum(1 << numbers[ident] for ident, to in band.outputs if to is way and ident in numbers)
                    for way in (True, False)
                )
                start, end = LOWEST if band.start is None else band.start, HIGHEST if band.end is None else band.end
                found.append((start, end, band.blink_ms, on, off))
        return found

    def first_of(self, value: Value) -> int | None:
        """What a value is from the start; None where it has no reading yet."""
        if value.origin.by != "rules" or not value.is_number:
            return None
        low, high = value.bounds
        return min(max(value.origin.first if value.origin.first is not None else low, low), high)

    @cached_property
    def values(self) -> list[Row]:
        """low, high, first, hysteresis, a blink, age, hold, other value, ring, first band, origin, begins, mean, bands."""
        found: list[Row] = []
        ring = bands = 0
        for value in self.machine.values:
            low, high = value.bounds
            first, origin, count = self.first_of(value), value.origin, len(value.bands.bands)
            of = self._value(origin.of) if origin.by in ("band", "blink") else NONE
            found.append(
                (low, high, first or 0, value.bands.hysteresis, origin.on_ms, origin.off_ms, age_ms(value), value.bands.hold_ms,
                 of, ring, bands, ORIGINS.index(origin.by), int(first is not None), value.bands.mean_of, count)
            )  # fmt: skip
            ring += value.bands.mean_of if count else 0
            bands += count
        return found

    @cached_property
    def ring(self) -> int:
        """Readings that are kept for means."""
        return sum(value.bands.mean_of for value in self.machine.values if value.bands.bands)

    @cached_property
    def buttons(self) -> list[Row]:
        """low is pressed, bounce."""
        return [(int(one.active_low), one.bounce_ms) for one in self.machine.behaviour.buttons]

    @cached_property
    def encoders(self) -> list[int]:
        """Changes of the lines from catch to catch."""
        return [one.steps for one in self.machine.behaviour.encoders]

    @cached_property
    def outputs(self) -> list[Row]:
        """low is on, on at the start, the value that shows it, the one measured behind it, from when that is on, within ms."""
        return [
            (int(one.active_low), int(one.at_start), self._value(one.shows), self._value(one.reads), one.reads_from,
             one.within_ms)
            for one in self.machine.behaviour.outputs
        ]  # fmt: skip

    @cached_property
    def rules(self) -> list[Row]:
        """when, on, band, screen, ms, first action, actions."""
        found: list[Row] = []
        first = 0
        for rule in self.machine.behaviour.rules:
            trigger = rule.trigger
            row = (WHENS.index(trigger.when), self._subject(rule), trigger.band, self._screen(rule.screen), trigger.ms)
            found.append((*row, first, len(rule.actions)))
            first += len(rule.actions)
        return found

    def _subject(self, rule: Rule) -> int:
        behaviour, trigger = self.machine.behaviour, rule.trigger
        when = trigger.when
        if when in TOUCHES:
            return self.machine.area_numbers.get(trigger.on, GONE) if trigger.on else NONE
        group: Sequence[Any]
        if when in ("button pressed", "button released", "button held"):
            group = behaviour.buttons
        elif when in ("turned up", "turned down"):
            group = behaviour.encoders
        elif when in ("band", "stale", "back"):
            group = self.machine.values
        elif when == "wrong":
            group = behaviour.outputs
        else:
            return NONE
        ids = [one.id for one in group]
        return ids.index(trigger.on) if trigger.on in ids else GONE

    @cached_property
    def actions(self) -> list[Row]:
        """what, wrap, change, side, steps, remember, to, by; those of all rules in their order."""
        return [self._action(action) for rule in self.machine.behaviour.rules for action in rule.actions]

    def _action(self, action: Action) -> Row:
        behaviour = self.machine.behaviour
        to = NONE
        if action.do == "screen":
            to = self._screen(action.to)
        elif action.do in ("set", "add", "toggle"):
            to = self._value(action.to)
        elif action.do == "event":
            event = behaviour.event(action.to)
            to = event.code if event is not None else GONE
        elif action.do == "output":
            to = next((number for number, one in enumerate(behaviour.outputs) if one.id == action.to), GONE)
        return (
            DOS.index(action.do), int(action.wrap), CHANGES.index(action.change), SIDES.index(action.side), action.steps,
            int(action.remember), to, action.by,
        )  # fmt: skip

    @property
    def touch(self) -> Row:
        feel = self.machine.behaviour.touch
        return feel.samples, feel.lift_ms, feel.swipe_px, feel.swipe_ms, feel.slack_px, feel.rest_ms


def tables_bytes(machine: Machine) -> int:
    """Flash of a machine's tables in B, by the sizes of the structs in `behave.h` on a 32-bit processor."""
    tables = Tables(machine)
    sizes = (
        (tables.areas, 10), (tables.values, 44), (tables.bands, 16), (tables.buttons, 4), (tables.outputs, 16),
        (tables.rules, 16),        (tables.actions, 16),
    )  # fmt: skip
    return sum(len(rows) * size for rows, size in sizes) + len(tables.encoders)


def as_python(tables: Tables) -> dict[str, object]:
    """The device as `behave.py` takes it."""
    values = []
    for value, row in zip(tables.machine.values, tables.values, strict=True):
        low, high, _, lag, on, off, age, hold, of, _, bands, by, _, mean, count = row
        values.append((low, high, by, of, on, off, age, tables.first_of(value), lag, hold, mean, bands, count))
    limits = [(None if start == LOWEST else start, None if end == HIGHEST else end, *rest) for start, end, *rest in tables.bands]
    rules = [(when, on, band, ms, screen, first, count) for when, on, band, screen, ms, first, count in tables.rules]
    actions = [
        (what, to, by, wrap, change, side, steps, remember)
        for what, wrap, change, side, steps, remember, to, by in tables.actions
    ]
    return {
        "areas": tables.areas, "values": values, "bands": limits, "buttons": tables.buttons, "encoders": tables.encoders,
        "outputs": tables.outputs, "rules": rules, "actions": actions, "touch": tables.touch,
        "screens": len(tables.machine.screens), "start": tables.machine.start,
    }  # fmt: skip
