"""The moments that matter: what all values are at once, and which moments follow from what the values can be."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Annotated, Any, Literal

from msgspec import Meta

from mosaic.values.bands import stretches
from mosaic.values.courses import reading_at, typical
from mosaic.values.printing import DAY_S
from mosaic.values.value import Reading, Value, ValueId

MOST_STATES = 24
Extreme = Literal["lowest", "highest", "absent", "stale"]


@dataclass(frozen=True, eq=False)
class State:
    """What all values are at a moment.

    Attributes
    ----------
    readings : by id; None where absent. stale : ids of those whose reading is old.
    past : of values that are plotted, the readings before and up to this one, the newest last.
    tick : tenths of a second since the start.
    """

    key: str = "typical"
    name: str = "typical"
    readings: Mapping[str, Reading] = field(default_factory=dict)
    stale: frozenset[str] = frozenset()
    past: Mapping[str, tuple[Reading, ...]] = field(default_factory=dict)
    tick: int = 0


@dataclass(frozen=True)
class Moment:
    """A state of the maker's own: values that are not named are typical."""

    id: ValueId
    name: Annotated[str, Meta(max_length=40)] = ""
    readings: dict[str, int | str | None] = field(default_factory=dict)
    stale: tuple[ValueId, ...] = ()


@dataclass(frozen=True)
class Never:
    """Two things that cannot occur together: one value at an extreme, and another at one."""

    first: ValueId
    first_is: Extreme
    second: ValueId
    second_is: Extreme


def past_of(value: Value, room: int, ending: Reading) -> tuple[Reading, ...]:
    """Readings of a value's stand-in up to one, the newest last."""
    every = value.stand_in.every_ms
    return (*(reading_at(value, number * every) for number in range(1, room)), ending)


def _extreme(value: Value, kind: str) -> Reading:
    """The reading at an extreme; a text's extremes are found where its lettering is known."""
    if kind == "absent":
        return None
    if kind == "stale" or value.kind == "text":
        return typical(value)
    low, high = value.bounds
    return low if kind == "lowest" else high if value.named else low + (high - low) // value.step * value.step


def _special(value: Value) -> list[tuple[str, Reading]]:
    """Readings at which a value changes its look: its sign, the count of its digits, midnight, each word."""
    if value.named:
        return [(word, number) for number, word in enumerate(value.named)]
    if value.kind == "time":
        low, high = value.bounds
        return [(value.plain(at), at) for at in (0, DAY_S - 60, 12 * 3600) if low <= at <= high]
    if value.kind != "number":
        return []
    low, high = value.bounds
    found: list[tuple[str, Reading]] = []
    if low < 0 <= high:
        below = value.held(-value.step)
        found.append(("just below zero", below if below < 0 else low))
    digits = 10 ** (value.decimals + 1)
    while digits <= high:
        if digits > low:
            found.append((f"turning to {value.plain(digits)}", value.held(digits)))
        digits *= 10
    return found


def _in_bands(value: Value) -> list[tuple[str, Reading]]:
    """A reading of each band, from its middle; of one that decides nothing, none."""
    low, high = value.bounds
    found: list[tuple[str, Reading]] = []
    for number, band in enumerate(value.bands.bands):
        mine = [stretch for stretch in stretches(value.bands, low, high) if stretch.bands[:1] == (number,)]
        if mine:
            raw = value.held((mine[0].start + mine[0].end) // 2)
            raw = raw if mine[0].start <= raw <= mine[0].end else mine[0].start
            found.append((f"in band {band.word or number + 1}", raw))
    return found


def _kept(state: State, never: Sequence[Never], values: Mapping[str, Value]) -> list[State]:
    """A state without pairs that cannot be: the second of a pair becomes typical, and in one state more the first."""
    for pair in never:
        if _breaks(state, pair, values):
            without = [_with(state, values[ident], f"{state.key}-{n}") for n, ident in enumerate((pair.second, pair.first))]
            rest = [one for one in never if one is not pair]
            # Where what is typical is the extreme itself, nothing is left of the state.
            return [kept for one in without if not _breaks(one, pair, values) for kept in _kept(one, rest, values)]
    return [state]


def _breaks(state: State, pair: Never, values: Mapping[str, Value]) -> bool:
    sides = ((pair.first, pair.first_is), (pair.second, pair.second_is))
    return all(ident in values and _is_at(state, values[ident], kind) for ident, kind in sides)


def _is_at(state: State, value: Value, kind: str) -> bool:
    if kind == "stale":
        return value.id in state.stale
    if value.id in state.stale or (kind != "absent" and value.kind == "text"):
        return False
    return state.readings.get(value.id) == _extreme(value, kind)


def _with(state: State, value: Value, key: str) -> State:
    """The state with one value typical."""
    return replace(
        state, key=key, name=f"{state.name}, {value.name} typical", readings={**state.readings, value.id: typical(value)},
        stale=state.stale - {value.id},
    )  # fmt: skip


def derived(
    values: Sequence[Value],
    *,
    moments: Sequence[Moment] = (),
    never: Sequence[Never] = (),
    widest: Mapping[str, Reading] | None = None,
) -> list[State]:
    """The states that matter of some values, the typical one first, at most `MOST_STATES`.

    `widest` holds the readings that take the most room; a state of them follows the highest.
    """  # fmt: skip
    values = [value for value in values if value.is_given]
    usual: dict[str, Reading] = {value.id: typical(value) for value in values}
    by_id = {value.id: value for value in values}
    found = [State(readings=usual)]

    def add(key: str, name: str, readings: Mapping[str, Any], stale: frozenset[str] = frozenset()) -> None:
        made = State(key, name, {**usual, **readings}, stale)
        for one in _kept(made, never, by_id):
            at = next((n for n, other in enumerate(found) if (one.readings, one.stale) == (other.readings, other.stale)), None)
            if at is None:
                found.append(one)
            elif at and key == "widest":
                found[at] = replace(found[at], name=f"{found[at].name}, widest")

    for moment in moments:
        known = {ident: raw for ident, raw in moment.readings.items() if ident in by_id}
        add(moment.id, moment.name or moment.id, known, frozenset(moment.stale) & set(by_id))
    if values:
        add("lowest", "lowest", {v.id: _extreme(v, "lowest") for v in values})
        add("highest", "highest", {v.id: _extreme(v, "highest") for v in values})
        add("widest", "widest", widest or {})
        add("absent", "no readings", dict.fromkeys(by_id))
        aging = frozenset(v.id for v in values if v.max_age_s)
        if aging:
            add("stale", "old readings", {}, aging)
    for value in values:
        for number, (name, raw) in enumerate(_in_bands(value)):
            add(f"{value.id}-band-{number}", f"{value.name} {name}", {value.id: raw})
        for number, (name, raw) in enumerate(_special(value)):
            add(f"{value.id}-{number}", f"{value.name} {name}", {value.id: raw})
    if len(values) > 1:
        for value in values:
            add(f"{value.id}-absent", f"{value.name} absent", {value.id: None})
    return found[:MOST_STATES]
