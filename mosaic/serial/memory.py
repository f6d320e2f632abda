"""The map of a serial panel's memory: which value stands where, in which form.

Addresses count words of 16 bits or bytes, as the panel does. A number of 32 bits takes two words, a text as many as its bytes
need; bits share a word. Decimals are shown, not sent: 23.4 with one decimal is sent as 234.
"""

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.serial.checks import Order
from mosaic.values.value import Value, ValueId

Kind = Literal["u16", "s16", "u32", "s32", "text", "bit"]
KINDS: tuple[Kind, ...] = ("u16", "s16", "u32", "s32", "text", "bit")
RANGES = {"u16": (0, 65_535), "s16": (-32_768, 32_767), "u32": (0, 2**32 - 1), "s32": (-(2**31), 2**31 - 1), "bit": (0, 1)}
Direction = Literal["to the panel", "from the panel", "both"]
DIRECTIONS: tuple[Direction, ...] = ("to the panel", "from the panel", "both")
Unit = Literal["words", "bytes"]
MOST_ENTRIES, MOST_TEXT = 500, 128
PADDING = 0
COLUMNS = ("value", "address", "kind", "decimals", "scale", "bytes", "bit", "direction", "every_ms")


@dataclass(frozen=True)
class Entry:
    """A value at its place.

    Attributes
    ----------
    start : address, in the map's unit. kind : of the number; a text of `bytes`; the bit with number `bit` of a word.
    decimals : that the panel is told of; the number that is sent has as many. scale : by which it is multiplied besides.
    every_ms : how often it is sent; 0 for as often as it is read.
    """

    value: ValueId
    start: Annotated[int, Meta(ge=0, le=65_535)]
    kind: Kind = "s16"
    decimals: Annotated[int, Meta(ge=0, le=6)] = 0
    scale: Annotated[int, Meta(ge=1, le=10_000)] = 1
    bytes: Annotated[int, Meta(ge=1, le=MOST_TEXT)] = 16
    bit: Annotated[int, Meta(ge=0, le=15)] = 0
    direction: Direction = "to the panel"
    every_ms: Annotated[int, Meta(ge=0, le=86_400_000)] = 0

    @property
    def size(self) -> int:
        """Bytes that it takes in frames and in the panel's memory."""
        return self.bytes + self.bytes % 2 if self.kind == "text" else 4 if self.kind in ("u32", "s32") else 2

    def units(self, unit: Unit) -> int:
        """Addresses that it takes."""
        return self.size // 2 if unit == "words" else self.size


@dataclass(frozen=True)
class MemoryMap:
    """All entries.

    `unit`: what addresses count. `words`: which word of 32 bits stands first. `first`, `spacing`: for automatic places; each
    entry begins at a multiple of `spacing` units.
    """

    entries: Annotated[tuple[Entry, ...], Meta(max_length=MOST_ENTRIES)] = ()
    unit: Unit = "words"
    words: Order = "high first"
    first: Annotated[int, Meta(ge=0, le=65_535)] = 0x1000
    spacing: Annotated[int, Meta(ge=1, le=256)] = 1
    form: Literal[1] = 1

    def __post_init__(self) -> None:
        keys = [entry.value for entry in self.entries]
        twice = next((one for one in keys if keys.count(one) > 1), None)
        if twice is not None:
            raise BadDescriptionError(f"{twice} stands at two places; a value has one address", path="$.entries")

    def entry(self, value: str) -> Entry | None:
        return next((one for one in self.entries if one.value == value), None)

    def at(self, address: int) -> list[Entry]:
        """The entries that begin at an address; several for bits of one word."""
        return [one for one in self.entries if one.start == address]


def usual_kind(value: Value) -> Kind:
    """The smallest form that holds all of a value."""
    if value.kind == "text":
        return "text"
    if value.kind == "yes/no":
        return "bit"
    low, high = value.bounds
    numbers: tuple[Kind, ...] = ("u16", "s16", "u32", "s32")
    return next(kind for kind in numbers if RANGES[kind][0] <= low and high <= RANGES[kind][1])


def automatic(values: Sequence[Value], known: MemoryMap, *, anew: bool = False) -> MemoryMap:
    """A place for every value: those that have one keep it, unless all are placed `anew`; bits share words."""
    kept = [] if anew else [entry for entry in known.entries if entry.value in {value.id for value in values}]
    placed = {entry.value for entry in kept}
    free = max([entry.start + entry.units(known.unit) for entry in kept], default=known.first)
    word: tuple[int, int] | None = None
    found = list(kept)
    for value in values:
        if value.id in placed or not value.is_given:
            continue
        kind = usual_kind(value)
        if kind == "bit" and word is not None and word[1] < 16:
            found.append(Entry(value.id, word[0], "bit", bit=word[1]))
            word = word[0], word[1] + 1
            continue
        start = -(-free // known.spacing) * known.spacing
        entry = Entry(value.id, start, kind, value.scale, bytes=value.most_bytes + value.most_bytes % 2)
        found.append(entry)
        free = start + entry.units(known.unit)
        if kind == "bit":
            word = start, 1
    return replace(known, entries=tuple(found))


# Numbers and bytes


def sent_number(entry: Entry, value: Value, raw: int) -> int:
    """The number that is sent for a raw reading: at the entry's decimals, half away from zero, times the scale."""
    shift = entry.decimals - value.scale
    number = raw * entry.scale
    if shift >= 0:
        return number * 10**shift
    cut: int = 10**-shift
    return (abs(number) + cut // 2) // cut * (1 if number >= 0 else -1)


def raw_of(entry: Entry, value: Value, number: int) -> int:
    """The raw reading of a number that was sent; what was cut off comes back as 0."""
    shift = entry.decimals - value.scale
    if shift < 0:
        number *= 10**-shift
    cut = entry.scale * 10 ** max(0, shift)
    return (abs(number) + cut // 2) // cut * (1 if number >= 0 else -1)


def packed(entry: Entry, value: Value, reading: int | str, known: MemoryMap, order: Order) -> bytes:
    """The bytes of a reading, as a frame carries them. Of a bit the whole word, with no other bit set.

    Raises
    ------
    BadValueError
        The number does not fit the form.
    """
    if entry.kind == "text":
        data = str(reading).encode()
        while len(data) > entry.bytes:
            data = data[:-1].decode("utf-8", "ignore").encode()
        return data.ljust(entry.size, bytes([PADDING]))
    if entry.kind == "bit":
        return (int(bool(reading)) << entry.bit).to_bytes(2, _order(order))
    number = sent_number(entry, value, int(reading))
    low, high = RANGES[entry.kind]
    if not low <= number <= high:
        raise BadValueError(f"{value.name} is sent as {number}, which does not fit {entry.kind}: {low} to {high}")
    size = entry.size
    data = (number % (1 << 8 * size)).to_bytes(size, "big")
    words = [data[at : at + 2] for at in range(0, size, 2)]
    if known.words == "low first":
        words.reverse()
    return b"".join(word if order == "high first" else word[::-1] for word in words)


def unpacked(entry: Entry, value: Value, data: bytes, known: MemoryMap, order: Order) -> int | str:
    """The raw reading of some bytes.

    Raises
    ------
    BadValueError
        They are too few or too many.
    """
    if len(data) != entry.size:
        raise BadValueError(f"{value.name} has {entry.size} bytes; {len(data)} came")
    if entry.kind == "text":
        return data.rstrip(bytes([PADDING])).decode("utf-8", "replace")
    words = [data[at : at + 2] for at in range(0, len(data), 2)]
    words = [word if order == "high first" else word[::-1] for word in words]
    if entry.kind == "bit":
        return int.from_bytes(words[0], "big") >> entry.bit & 1
    if known.words == "low first":
        words.reverse()
    number = int.from_bytes(b"".join(words), "big", signed=entry.kind in ("s16", "s32"))
    return raw_of(entry, value, number)


def word_of_bits(address: int, known: MemoryMap, readings: dict[str, int]) -> int:
    """A word whose bits are values, by their readings."""
    return sum((readings.get(one.value, 0) & 1) << one.bit for one in known.at(address) if one.kind == "bit")


def _order(order: Order) -> Literal["big", "little"]:
    return "big" if order == "high first" else "little"


# The ribbon


@dataclass(frozen=True)
class Stretch:
    """A piece of the memory: from which address, how many, the entries there; overlapping where two claim it."""

    start: int
    count: int
    entries: tuple[Entry, ...]
    overlaps: bool = False


def ribbon(known: MemoryMap) -> list[Stretch]:
    """The memory in order, with what is free between the first and the last entry."""
    edges = sorted({edge for one in known.entries for edge in (one.start, one.start + one.units(known.unit))})
    ordered = sorted(known.entries, key=lambda one: one.start)
    found: list[Stretch] = []
    active: list[Entry] = []
    coming = 0
    for begin, end in pairwise(edges):
        active = [one for one in active if one.start + one.units(known.unit) > begin]
        while coming < len(ordered) and ordered[coming].start <= begin:
            if ordered[coming].start + ordered[coming].units(known.unit) > begin:
                active.append(ordered[coming])
            coming += 1
        bits = all(one.kind == "bit" for one in active) and len({one.bit for one in active}) == len(active)
        found.append(Stretch(begin, end - begin, tuple(active), len(active) > 1 and not bits))
    merged: list[Stretch] = []
    for one in found:
        last = merged[-1] if merged else None
        if last is not None and last.entries == one.entries:
            merged[-1] = replace(last, count=last.count + one.count)
        else:
            merged.append(one)
    return merged


# CSV


def to_csv(known: MemoryMap, values: Iterable[Value]) -> str:
    """All entries as a table; addresses in hexadecimal."""
    names = {value.id: value.name for value in values}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for one in sorted(known.entries, key=lambda entry: (entry.start, entry.bit)):
        writer.writerow([
            names.get(one.value, one.value), f"0x{one.start:04X}", one.kind, one.decimals, one.scale,
            one.bytes if one.kind == "text" else "", one.bit if one.kind == "bit" else "", one.direction, one.every_ms,
        ])  # fmt: skip
    return out.getvalue()


def from_csv(text: str, values: Iterable[Value], known: MemoryMap) -> MemoryMap:
    """Entries of a table, in place of all that there are. The columns may stand in any order; value and address have to be there.

    Raises
    ------
    BadValueError
        A line cannot be read; the text says which, and what is accepted.
    """
    by_name = {value.name.lower(): value for value in values} | {value.id: value for value in values}
    sample = text[:4096]
    separator = max(",;\t", key=sample.count)
    rows = csv.DictReader(io.StringIO(text), delimiter=separator)
    heads = [str(name).strip().lower() for name in rows.fieldnames or ()]
    if "value" not in heads or "address" not in heads:
        raise BadValueError("the first line names the columns; value and address are needed, then kind, decimals and so on")
    rows.fieldnames = heads
    found = []
    for number, row in enumerate(rows, 2):
        told = {name: (cell or "").strip() for name, cell in row.items() if name and isinstance(cell, str | None)}
        if not any(told.values()):
            continue
        found.append(_entry(told, by_name, number))
        if len(found) > MOST_ENTRIES:
            raise BadValueError(f"more than {MOST_ENTRIES} lines; up to {MOST_ENTRIES} are accepted")
    return replace(known, entries=tuple(found))


def _entry(told: dict[str, str], by_name: dict[str, Value], line: int) -> Entry:
    value = by_name.get(told["value"].lower())
    if value is None:
        raise BadValueError(f"line {line}: no value is called {told['value'][:40]!r}")
    kind = told.get("kind") or usual_kind(value)
    if kind not in KINDS:
        raise BadValueError(f"line {line}: {kind[:20]!r} is no kind; {', '.join(KINDS)} are accepted")
    direction = told.get("direction") or "to the panel"
    if direction not in DIRECTIONS:
        raise BadValueError(f"line {line}: {direction[:20]!r} is no direction; {', '.join(DIRECTIONS)} are accepted")

    def whole(name: str, usual: int, least: int, most: int) -> int:
        said = told.get(name) or str(usual)
        try:
            number = int(said, 0)
        except ValueError:
            number = least - 1
        if not least <= number <= most:
            raise BadValueError(f"line {line}: {name} is {said[:20]!r}; {least} to {most} are accepted, also as 0x1000")
        return number

    return Entry(
        value.id, whole("address", -1, 0, 65_535), kind, whole("decimals", value.scale, 0, 6),
        whole("scale", 1, 1, 10_000), whole("bytes", value.most_bytes + value.most_bytes % 2, 1, MOST_TEXT),
        whole("bit", 0, 0, 15), direction, whole("every_ms", 0, 0, 86_400_000),
    )  # fmt: skip
