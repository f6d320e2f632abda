"""Which column of a trace is what, in which unit, how columns are parted and how decimals are written."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from mosaic.errors import BadValueError

Quantity = Literal["time", "current", "voltage"]
UNITS: dict[str, tuple[Quantity, float]] = {
    "ns": ("time", 1e-9), "us": ("time", 1e-6), "µs": ("time", 1e-6), "μs": ("time", 1e-6), "ms": ("time", 1e-3),
    "s": ("time", 1.0), "sec": ("time", 1.0), "seconds": ("time", 1.0), "min": ("time", 60.0), "h": ("time", 3600.0),
    "na": ("current", 1e-6), "ua": ("current", 1e-3), "µa": ("current", 1e-3), "μa": ("current", 1e-3), "ma": ("current", 1.0),
    "a": ("current", 1000.0), "amps": ("current", 1000.0),
    "uv": ("voltage", 1e-6), "mv": ("voltage", 1e-3), "v": ("voltage", 1.0), "volts": ("voltage", 1.0),
}  # fmt: skip
"""Units by name, in small letters: what they measure, and how many s, mA or V one is."""
WORDS: dict[str, Quantity] = {
    "time": "time", "timestamp": "time", "t": "time", "zeit": "time", "elapsed": "time", "sample": "time",
    "current": "current", "i": "current", "amp": "current", "strom": "current", "voltage": "voltage", "u": "voltage",
    "volt": "voltage", "spannung": "voltage",
}  # fmt: skip
USUAL: dict[Quantity, float] = {"time": 1.0, "current": 1.0, "voltage": 1.0}
MOST_COLUMNS = 16
SEPARATORS = ("\t", ";", ",", " ")
_NAMED = re.compile(r"[A-Za-zµμ]+")
_NUMBER = re.compile(r"[-+]?(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?$")


@dataclass(frozen=True)
class Columns:
    """How a trace is written.

    Attributes
    ----------
    separator : between columns. comma : decimals are written with a comma. time, current, voltage : numbers of columns, -1 for
        none.
    time_s, current_ma, voltage_v : what one of a column's numbers is. step_s : from row to row where there is no time.
    header : lines before the first numbers. named : whether units were told by the file.
    """

    separator: str
    comma: bool
    time: int
    current: int
    voltage: int = -1
    time_s: float = 1.0
    current_ma: float = 1.0
    voltage_v: float = 1.0
    step_s: float = 0.0
    header: int = 0
    named: bool = False


def _cells(line: str, separator: str) -> list[str]:
    parts = line.split() if separator == " " else line.split(separator)
    return [part.strip().strip('"').strip() for part in parts]


def _numbers(cells: Sequence[str]) -> int:
    return sum(bool(_NUMBER.match(cell)) for cell in cells)


def columns_of(lines: Sequence[str], *, step_s: float = 0.0) -> Columns:
    """How a trace is written, by its first lines.

    Raises
    ------
    BadValueError
        No line holds a current; the text says what would be read.
    """
    separator = _separator(lines)
    rows = [(number, _cells(line, separator)) for number, line in enumerate(lines)]
    first = next((n for n, cells in rows if _numbers(cells) == len([c for c in cells if c]) and _numbers(cells) >= 1), None)
    if first is None:
        raise BadValueError(
            "no line of this file is made of numbers; a CSV with a column of times and one of currents is accepted"
        )
    body = [cells for _, cells in rows[first:]]
    count = max(len(cells) for cells in body)
    comma = separator != "," and any("," in cell for cells in body for cell in cells)
    header = next((cells for n, cells in reversed(rows[:first]) if len(cells) == count and not _numbers(cells)), [])
    kinds: dict[Quantity, tuple[int, float, bool]] = {}
    for number, cell in enumerate(header[:MOST_COLUMNS]):
        told = _told(cell)
        if told is not None and told[0] not in kinds:
            kinds[told[0]] = number, told[1], told[2]
    if "current" not in kinds:
        free = [number for number in range(count) if number not in {place for place, _, _ in kinds.values()}]
        if count >= 2 and "time" not in kinds:
            kinds["time"] = free.pop(0), 1.0, False
        if not free:
            raise BadValueError("no column is a current; name it in the header, such as “Current (mA)”")
        kinds["current"] = free[0], 1.0, False
    time, current, voltage = (kinds.get(one, (-1, 1.0, False)) for one in ("time", "current", "voltage"))
    if time[0] < 0 and step_s <= 0:
        raise BadValueError("there is no column of times; say how long it is from row to row, in ms")
    return Columns(
        separator, comma, time[0], current[0], voltage[0], time[1], current[1], voltage[1], step_s, first,
        current[2] and (time[2] or time[0] < 0),
    )  # fmt: skip


def _separator(lines: Sequence[str]) -> str:
    """What parts the columns: what the lines with most numbers in them are cut by."""

    def fits(separator: str) -> tuple[int, int]:
        rows = [_cells(line, separator) for line in lines]
        counts = [_numbers(cells) for cells in rows]
        first = next((n for n, count in enumerate(counts) if count >= 2), 0)
        heads = [cells for cells in rows[:first] if any(cells)]
        if heads and heads[-1][0] and len(heads[-1]) != len(rows[first]) and len(heads[-1]) == 1:
            return 0, 0  # a heading of one column over what would be two: the sign is that of decimals
        return sum(count >= 2 for count in counts), sum(counts)

    found = max(SEPARATORS, key=lambda one: (fits(one), -SEPARATORS.index(one)))
    return found if fits(found)[0] else ";"  # one column: a comma is then its decimal sign


def _told(cell: str) -> tuple[Quantity, float, bool] | None:
    """What a column's heading says: the quantity, what one is, whether it names the unit."""
    names = [name.lower() for name in _NAMED.findall(cell)]
    unit = next((UNITS[name] for name in reversed(names) if name in UNITS and name not in ("u", "i", "t")), None)
    word = next((WORDS[name] for name in names if name in WORDS), None)
    if unit is not None and (word is None or word == unit[0]):
        return unit[0], unit[1], True
    return (word, USUAL[word], False) if word is not None else None
