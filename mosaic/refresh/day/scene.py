"""Screens as a day needs them: which elements follow which values, and what it takes to come from one look to another.

What has been found once is kept: a hand that comes round, a digit that comes again. The windows are those that the runtime finds
(`mosaic/screens/updates.py`); drawing is counted on the screen in its typical state, whose pixels lie about as close.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from hashlib import blake2b
from math import gcd
from typing import Any

from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Effect
from mosaic.behaviour.transitions import allowed, strip
from mosaic.device.device import Device
from mosaic.drawing.surface import Surface
from mosaic.drawing.surface import Values as Pixels
from mosaic.panels.windows import Rect, addressable, host_size, rect_from_host, rect_to_host
from mosaic.refresh.costs import Cost, Wire
from mosaic.refresh.day.engine import Look, Step, Values
from mosaic.refresh.energy.light import channel_levels
from mosaic.refresh.pace import work_ms
from mosaic.refresh.speed import Layers, bands_of
from mosaic.screens.calls import Call, draw
from mosaic.screens.kit import text_of
from mosaic.screens.moments import typical_state
from mosaic.screens.plan import Place, Plan, Spot
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.screens.updates import boxes_to_send, drawn_alike, gathered, link_of, reached
from mosaic.screens.words import piece_text, unit_of
from mosaic.screens.work import Work
from mosaic.values.notation import Piece, fields_in
from mosaic.values.states import State
from mosaic.values.value import Reading

MOST_KEPT = 60_000
VALUE_FRAME_BYTES, BYTE_BITS = 10, 10
"""Of a frame that writes a number: header, length, code, address, payload, check (typical); bits with start and stop."""


@dataclass(frozen=True, eq=False)
class Owner:
    """An element of a screen that follows values.

    `raws` are numbers of values whose readings it depends on as they are, `texts` texts that it shows with the numbers of the
    values in them, `plots` (number, count) of readings that it plots.
    """

    ident: str
    name: str
    spots: tuple[Spot, ...]
    raws: tuple[int, ...]
    texts: tuple[tuple[str, tuple[int, ...]], ...]
    plots: tuple[tuple[int, int], ...]
    ticks: bool

    @cached_property
    def of(self) -> tuple[int, ...]:
        """All values whose readings it depends on."""
        return tuple(dict.fromkeys([*self.raws, *(number for _, of in self.texts for number in of)]))


def owners_of(plan: Plan, numbers: Mapping[str, int]) -> list[Owner]:
    """The elements of a screen that follow values, in drawing order; `numbers` are those of values by id."""
    spots: dict[str, list[Spot]] = {spot.owner.id: [] for spot in plan.spots if spot.is_dynamic}
    for spot in plan.spots:
        if spot.owner.id in spots:  # what stands still inside of it is drawn along
            spots[spot.owner.id].append(spot)
    everything = [numbers[ident] for ident in plan.values]
    found = []
    for ident, mine in spots.items():
        raws: list[int] = []
        texts, plots = [], []
        for spot in mine:
            element = spot.element
            shown = [name for name, _ in fields_in(text_of(element))]
            followed = [follow.value for one in (element, spot.owner) for follow in one.follows]
            followed += [element.of] if element.of and element.kind != "value" else []
            raws += [numbers[name] for name in followed if name in numbers]
            texts.append((text_of(element), tuple(numbers[name] for name in shown if name in numbers)))
            if element.kind in ("sparkline", "plot") and element.of in numbers:
                plots.append((numbers[element.of], element.count))
        ticks = any(spot.element.overflow == "scroll" for spot in mine)
        name = plan.kit.called(mine[0].owner)
        if plan.is_moving:  # what stands beside something that moves, moves along
            raws += everything
        found.append(Owner(ident, name, tuple(mine), tuple(dict.fromkeys(raws)), tuple(texts), tuple(plots), ticks))
    return found


@dataclass(eq=False)
class _Known:
    """What has been found out about an element: looks by the readings that they follow from, calls by look, windows by two looks.

    Looks, and sets of windows, are told by number; `keys` are what the looks are made of.
    """

    looks: dict[Any, int] = field(default_factory=dict)
    keys: list[Any] = field(default_factory=list)
    numbers: dict[Any, int] = field(default_factory=dict)
    calls: dict[int, tuple[Call, ...]] = field(default_factory=dict)
    reached: dict[int, tuple[Rect | None, bytes]] = field(default_factory=dict)
    moves: dict[tuple[int, int], int] = field(default_factory=dict)
    windows: list[tuple[Rect, ...]] = field(default_factory=lambda: [()])
    sets: dict[tuple[Rect, ...], int] = field(default_factory=lambda: {(): 0})


@dataclass(eq=False)
class ScreenLooks:
    """One screen: its elements that follow values, and what has been found out about them."""

    name: str
    plan: Plan
    wire: Wire
    machine: Machine
    refresh: int
    readings: dict[tuple[str, str], tuple[tuple[Reading, bool], ...]] = field(default_factory=dict)
    costs: dict[tuple[Rect, ...], Cost] = field(default_factory=dict)
    steps: dict[Any, Step | None] = field(default_factory=dict)

    @cached_property
    def owners(self) -> list[Owner]:
        return owners_of(self.plan, self.machine.value_numbers)

    @cached_property
    def follows(self) -> frozenset[int]:
        return frozenset(self.machine.value_numbers[ident] for ident in self.plan.values)

    @cached_property
    def ticks(self) -> bool:
        return any(owner.ticks for owner in self.owners)

    @cached_property
    def typical(self) -> Rendered:
        return drawn_in(self.plan, typical_state(self.plan))

    @cached_property
    def light(self) -> tuple[float, ...]:
        """Mean light of each channel as it usually is."""
        return channel_levels(self.typical.pixels, self.plan.device.passport)

    @cached_property
    def layers(self) -> "Layers":
        return Layers.of(list(self.typical.calls), self.plan.device.size)

    @cached_property
    def known(self) -> list[_Known]:
        return [_Known() for _ in self.owners]

    @cached_property
    def given(self) -> list[tuple[tuple[int, int], ...]]:
        """Of each element the numbers of the values that it depends on, and by how much their readings have to change at least
        until it is drawn otherwise: a time of which minutes are shown need not be looked at every second."""
        found = []
        for owner in self.owners:
            units: dict[int, list[int]] = {}
            for text, _ in owner.texts:
                for field_ in self.plan.kit.fields(text):
                    units.setdefault(self.machine.value_numbers[field_.value.id], []).append(unit_of(field_))
            found.append(tuple((number, 1 if number in owner.raws else self._unit(number, units[number])) for number in owner.of))
        return found

    def _unit(self, number: int, units: list[int]) -> int:
        value = self.machine.values[number]
        return gcd(*units) if value.kind in ("time", "duration") and value.bounds[0] >= 0 else 1

    # Looks

    def look(self, values: Values, tick: int) -> tuple[int, ...]:
        """The number of the look of each element."""
        found = []
        for owner, known, of in zip(self.owners, self.known, self.given, strict=True):
            given: Any = tuple([values.of(number) if unit == 1 else _coarse(values.of(number), unit) for number, unit in of])
            if owner.plots or owner.ticks:
                past = tuple([values.past(plot)[-count:] for plot, count in owner.plots])
                given = given, past, tick if owner.ticks else 0
            number = known.looks.get(given)
            if number is None:
                number = self._kept(known.looks, given, self._numbered(owner, known, given))
            found.append(number)
        return tuple(found)

    def _numbered(self, owner: Owner, known: _Known, given: Any) -> int:
        """The number of a look: readings that give the same words look the same."""
        readings, past, tick = given if owner.plots or owner.ticks else (given, (), 0)
        at = dict(zip(owner.of, readings, strict=True))
        said = []
        for text, of in owner.texts:
            mine = tuple(at[number] for number in of)
            state = self._state(of, mine)
            words = "".join(piece_text(piece, state) for piece in self._pieces(text)) if of else ""
            self.readings.setdefault((text, words), mine)
            said.append(words)
        key = (tuple(at[raw] for raw in owner.raws), tuple(said), past, tick)
        if key not in known.numbers:
            known.numbers[key] = len(known.keys)
            known.keys.append(key)
        return known.numbers[key]

    def _pieces(self, text: str) -> tuple[Piece, ...]:
        if text not in self._parsed:
            self._parsed[text] = self.plan.kit.pieces(text)
        return self._parsed[text]

    @cached_property
    def _parsed(self) -> dict[str, tuple[Piece, ...]]:
        return {}

    def _state(self, of: Sequence[int], readings: Sequence[tuple[Reading, bool]]) -> State:
        ids = [self.machine.values[number].id for number in of]
        return State(
            "day", "day", {ident: reading for ident, (reading, _) in zip(ids, readings, strict=True)},
            frozenset(ident for ident, (_, is_old) in zip(ids, readings, strict=True) if is_old),
        )  # fmt: skip

    @staticmethod
    def _kept(kept: dict[Any, Any], key: Any, found: Any) -> Any:
        if len(kept) >= MOST_KEPT:
            kept.clear()
        kept[key] = found
        return found

    # What is drawn

    def glass(self, look: tuple[int, ...]) -> Pixels:
        """(H, W): the values on the glass with each element in its look."""
        surface = Surface(self.plan.base.copy())
        if self.plan.is_moving or not self.owners:
            return self.typical.surface.values if not self.owners else self._drawn_anew(look)
        mine = {owner.ident: number for number, owner in enumerate(self.owners)}
        for number, spot in enumerate(self.plan.spots):
            ident = spot.owner.id
            if ident in mine:
                if mine[ident] >= 0:
                    draw(surface, self._calls(mine[ident], look[mine[ident]]))
                    mine[ident] = -1  # all that belongs to an element is drawn with the first of it
            elif number >= self.plan.leading:
                calls = spot.calls_in(self.typical.kit, self.plan.places[spot.place])
                draw(surface, calls or [])
        return surface.values

    def _drawn_anew(self, look: tuple[int, ...]) -> Pixels:
        """The same where places follow values: everything is placed and drawn from the readings of the look."""
        readings: dict[str, Reading] = {}
        stale: set[str] = set()
        for owner, known, number in zip(self.owners, self.known, look, strict=True):
            for of, (reading, is_old) in zip(owner.raws, known.keys[number][0], strict=True):
                ident = self.machine.values[of].id
                readings[ident] = reading
                stale |= {ident} if is_old else set()
        return drawn_in(self.plan, State("day", "day", readings, frozenset(stale))).surface.values

    def _calls(self, number: int, look: int) -> tuple[Call, ...]:
        owner, known = self.owners[number], self.known[number]
        found = known.calls.get(look)
        if found is not None:
            return found
        raws, said, past, tick = known.keys[look]
        made: list[Call] = []
        for spot, (text, of), words in zip(owner.spots, owner.texts, said, strict=True):
            shown = self._state(of, self.readings[text, words] if of else ())
            exact = self._state(owner.raws, raws)
            plotted = {self.machine.values[plot].id: mine for (plot, _), mine in zip(owner.plots, past, strict=True)}
            state = State("day", "day", {**shown.readings, **exact.readings}, shown.stale | exact.stale, plotted, tick)
            kit = replace(self.plan.kit, state=state)
            place: Place = spot.place
            made += spot.calls_in(kit, self.plan.places_in(kit)[place]) or []
        kept: tuple[Call, ...] = self._kept(known.calls, look, tuple(made))
        return kept

    def _moved(self, number: int, before: int, now: int) -> int:
        """Which set of windows an element takes from one look to another."""
        known = self.known[number]
        found = known.moves.get((before, now))
        if found is None:
            windows = self._between(number, before, now)
            if windows not in known.sets:
                known.sets[windows] = len(known.windows)
                known.windows.append(windows)
            found = self._kept(known.moves, (before, now), known.sets[windows])
        return int(found)

    def _between(self, number: int, before: int, now: int) -> tuple[Rect, ...]:
        """The windows from one look to another, as `windows_of` finds them."""
        device = self.plan.device
        (box, was), (new_box, drawn) = self._reached(number, before), self._reached(number, now)
        if was == drawn and box == new_box and drawn_alike(self._calls(number, before), self._calls(number, now), *device.size):
            return ()
        return tuple(boxes_to_send((box, new_box), device, self.link))

    def _reached(self, number: int, look: int) -> tuple[Rect | None, bytes]:
        """The box that an element reaches, and a digest of what it draws there."""
        known = self.known[number]
        found = known.reached.get(look)
        if found is None:
            box, values = reached(self._calls(number, look), *self.plan.device.size)
            drawn = values[box.y : box.bottom, box.x : box.right].tobytes() if box is not None else b""
            found = self._kept(known.reached, look, (box, blake2b(drawn, digest_size=16).digest()))
        return found

    @cached_property
    def link(self) -> Any:
        return link_of(self.plan.device)

    # What it costs

    def change(self, before: Any, now: Any) -> Step | None:
        """From one look to another; None where nothing that is drawn has changed."""
        moved = tuple([
            (number, found) for number, (a, b) in enumerate(zip(before, now, strict=True))
            if a != b and (found := self._moved(number, a, b))
        ])  # fmt: skip
        if moved not in self.steps:
            self._kept(self.steps, moved, self._changed(moved))
        return self.steps[moved]

    def _changed(self, moved: tuple[tuple[int, int], ...]) -> Step | None:
        if not moved:
            return None
        by_element = [(number, self.known[number].windows[found]) for number, found in moved]
        windows = tuple(gathered([one for _, one in by_element], self.link))
        names = [self.owners[number].name for number, _ in by_element]
        name = f"{', '.join(names[:2])}{f' and {len(names) - 2} more' if len(names) > 2 else ''} on {self.name}"
        by = tuple(self._alone(*one) for one in by_element)
        width, height = host_size(self.plan.device.passport, self.plan.device.turn)
        share = min(1.0, sum(one.pixels for one in windows) / (width * height))
        return replace(self._step(name, self._cost(windows), len(windows), by), share=share)

    def _alone(self, number: int, windows: tuple[Rect, ...]) -> tuple[str, str, int, int]:
        cost, owner = self._cost(tuple(gathered([windows], self.link))), self.owners[number]
        return f"{self.name} {owner.ident}", f"{owner.name} on {self.name}", cost.sent_bytes, _ns(cost.wire_ms)

    def whole(self, effect: Effect | None) -> Step:
        """The whole screen, at once or in the steps of a change."""
        device = self.plan.device
        passport, turn = device.passport, device.turn
        windows: tuple[Rect, ...] = (Rect(0, 0, *host_size(passport, turn)),)
        if effect is not None and effect.steps and allowed(device, effect.change):
            strips = [strip(effect.change, effect.side, n, effect.steps, device.size) for n in range(1, effect.steps + 1)]
            windows = tuple(addressable(rect_to_host(one, passport, turn), passport, turn) for one in strips if one.pixels)
        return self._step(f"{self.name} as a whole", self._cost(windows), len(windows))

    def _cost(self, windows: tuple[Rect, ...]) -> Cost:
        found = self.costs.get(windows)
        if found is None:
            device, total = self.plan.device, Cost()
            for window in windows:
                work = self.layers.work(rect_from_host(window, device.passport, device.turn))
                passes = bands_of(window, device)
                once = work_ms(Work(work.pixels, work.runs * passes), device, self.wire.pace)
                total += replace(self.wire.window(window), draw_ms=once)
            found = self._kept(self.costs, windows, total)
        return found

    def _step(self, name: str, cost: Cost, windows: int, by: tuple[tuple[str, str, int, int], ...] = ()) -> Step:
        passport = self.plan.device.passport
        if passport.slots is not None:
            return self._told(name, by)
        modes = passport.refresh
        refresh_ms = modes[min(self.refresh, len(modes) - 1)].time_ms if modes else 0.0
        if passport.scan is not None:  # what is drawn is there; the scan fetches it by itself
            return Step(name, _ns(cost.draw_ms), 0, 0, 0, 0, 0)
        return Step(
            name, _ns(cost.draw_ms), _ns(cost.wire_ms), _ns(refresh_ms), cost.sent_bytes, cost.clocks, windows, by=by
        )  # fmt: skip

    def _told(self, name: str, by: tuple[tuple[str, str, int, int], ...]) -> Step:
        """A step of a panel that keeps pages and draws by itself: a frame for the page, or for each element that changed."""
        count = max(1, len(by))
        size = VALUE_FRAME_BYTES * count
        ns = round(size * BYTE_BITS / self.plan.device.clock_hz * 1e9)
        mine = tuple((ident, words, VALUE_FRAME_BYTES, ns // count) for ident, words, _, _ in by)
        return Step(name, 0, ns, 0, size, size * BYTE_BITS, count, by=mine)


def _coarse(reading: tuple[Reading, bool], unit: int) -> tuple[Reading, bool]:
    raw, is_old = reading
    return (raw - raw % unit if isinstance(raw, int) else raw), is_old


def _ns(ms: float) -> int:
    return round(ms * 1_000_000)


class DeviceScene:
    """All screens of a machine."""

    def __init__(
        self, machine: Machine, plans: Mapping[str, Plan], names: Mapping[str, str], wire: Wire, refresh: int = 0
    ) -> None:
        self.machine = machine
        self.screens = {
            number: ScreenLooks(names.get(ref, ref), plans[ref], wire, machine, refresh)
            for number, ref in enumerate(machine.screens) if ref in plans
        }  # fmt: skip

    def lights(self) -> dict[int, tuple[float, ...]]:
        """Mean light of each channel, by screen."""
        return {number: screen.light for number, screen in self.screens.items()}

    def can_draw(self, screen: int) -> bool:
        return screen in self.screens

    def device(self, screen: int) -> Device:
        return self.screens[screen].plan.device

    def glass(self, screen: int, look: Any) -> Pixels:
        """(H, W): the values on the glass in a look of a screen."""
        return self.screens[screen].glass(look)

    def follows(self, screen: int) -> frozenset[int]:
        return self.screens[screen].follows if screen in self.screens else frozenset()

    @cached_property
    def _plotted(self) -> dict[int, int]:
        found: dict[int, int] = {}
        for screen in self.screens.values():
            for owner in screen.owners:
                for number, count in owner.plots:
                    found[number] = max(found.get(number, 0), count)
        return found

    def plots(self, number: int) -> int:
        return self._plotted.get(number, 0)

    def ticks(self, screen: int) -> bool:
        return screen in self.screens and self.screens[screen].ticks

    def look(self, screen: int, values: Values, tick: int) -> Look:
        return self.screens[screen].look(values, tick) if screen in self.screens else ()

    def change(self, screen: int, before: Look, now: Look) -> Step | None:
        return self.screens[screen].change(before, now) if screen in self.screens else None

    def whole(self, screen: int, effect: Effect | None) -> Step:
        """Nothing for a screen that cannot be drawn: a finding says so where it stands."""
        return self.screens[screen].whole(effect) if screen in self.screens else Step("a screen that cannot be drawn", 0, 0)
