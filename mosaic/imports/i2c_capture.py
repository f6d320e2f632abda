"""Reading what an analyser prints of an I2C bus: start, address with acknowledge, control byte, bytes, stop.

Rows of one event each, or one line for a whole transaction; fields are separated by commas, semicolons, tabs or spaces::

    time [s],event,byte,ack        0.1200 S 3C W A 00 A AE A P
    0.1200,start,,                 0.1204 S 3C W A 40 A 00 A FF A P
    0.1200,address write,3C,ACK
    0.1201,data,00,ACK
    0.1202,data,AE,ACK
    0.1203,stop,,

The first byte behind a start is the address, the next one the control byte: its high bit says that one byte follows and
then another control byte, bit 6 that data follow and no commands. A time is a number with a point or with its unit.
"""

import re
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import islice

from mosaic.errors import LineProblem
from mosaic.panels.sequence import Kind

UNITS: dict[str, int] = {"us": 1_000_000, "µs": 1_000_000, "ms": 1000, "s": 1, "ns": 1_000_000_000}
"""Units of time, in parts of a second."""
ONE_FOLLOWS, DATA_FOLLOW = 0x80, 0x40
_EVENTS = {
    "start": "start", "s": "start", "sr": "start", "restart": "start", "repeated": "start",
    "stop": "stop", "p": "stop", "ack": "ack", "a": "ack", "acknowledge": "ack", "true": "ack",
    "nack": "nak", "nak": "nak", "n": "nak", "false": "nak",
    "r": "read", "rd": "read", "read": "read",
}  # fmt: skip
_SILENT = {"w", "wr", "write", "address", "addr", "data", "byte", "control", "to"}
_STARTS = re.compile(r"\b(start|restart|address|addr)\b|(^|[\s,;\t\]])(S|Sr)[\s,;\t]", re.IGNORECASE)
_FIELDS = re.compile(r"[,;\t]")
_WORD = re.compile(r"[^\s,;\[\]()\"+]+")
_LONG_WORD = re.compile(r"[A-Za-z]{3,}")
_NUMBER = re.compile(r"[0-9]{1,12}(\.[0-9]{1,12})?", re.ASCII)
_BYTE = re.compile(r"(?:0[xX])?([0-9A-Fa-f]{2})h?:?")
_TIME = re.compile(r"(?:([0-9]{1,12}\.[0-9]{1,12})|([0-9]{1,12})(?=[nuµms]))(ns|us|µs|ms|s)?")
LOOKED_AT = 50
"""Lines in which a start or an address is looked for."""
Add = Callable[[Kind, bytes, int, Fraction | None], None]


def is_i2c(lines: list[str]) -> bool:
    """Whether these lines tell of starts and addresses.

    >>> is_i2c(["0.1 S 3C W A 00 A AE A P"]), is_i2c(["C,2A", "D,00 10"])
    (True, False)
    """
    return any(_STARTS.search(line.partition("#")[0]) for line in islice(lines, LOOKED_AT))


@dataclass
class _Transaction:
    line: int
    at_s: Fraction | None
    address: int | None = None
    refused: bool = False
    is_read: bool = False
    payload: list[tuple[int, int]] = field(default_factory=list)


def read_i2c(lines: list[str], add: Add, refuse: Callable[[int, str], None]) -> list[LineProblem]:
    """Hand each command and run of data to `add(kind, bytes, line, seconds)`; what cannot be read goes to `refuse`.

    Gives what is worth a word: bytes that nothing acknowledged, and what went to other devices of the bus.
    """
    transactions = _split(lines, refuse)
    written = [t for t in transactions if t.address is not None and not t.is_read]
    if not written:
        return []
    panel = Counter(t.address for t in written).most_common(1)[0][0]
    remarks: list[LineProblem] = []
    others = [t for t in transactions if t.address not in (None, panel)]
    if others:
        named = ", ".join(sorted({f"{t.address:02X}" for t in others}))
        remarks.append(LineProblem(others[0].line, f"left out: {len(others):,} transactions to other addresses ({named})"))
    for transaction in written:
        if transaction.address != panel:
            continue
        if transaction.refused:
            text = f"address {panel:02X} or a byte behind it is not acknowledged: no device, or no supply or pull-ups"
            remarks.append(LineProblem(transaction.line, text))
        _hand_on(transaction, add, refuse)
    return remarks


@dataclass(frozen=True)
class _TimeColumn:
    place: int
    unit: int


def _time_column(line: str) -> _TimeColumn | None:
    """Where a heading puts the time, and in what unit."""
    for place, name in enumerate(_FIELDS.split(line.lower())):
        unit = re.search(r"time.*\b(ns|us|µs|ms|s)\b", name)
        if unit:
            return _TimeColumn(place, UNITS[unit[1]])
    return None


def _timed(line: str, column: _TimeColumn | None) -> tuple[Fraction | None, list[str]]:
    """The time of a line in seconds, where it has one, and its other words."""
    if column is not None:
        fields = _FIELDS.split(line)
        told = _NUMBER.fullmatch(fields[column.place].strip(' "')) if column.place < len(fields) else None
        if told:
            del fields[column.place]
            return Fraction(told[0]) / column.unit, _WORD.findall(" ".join(fields))
        return None, _WORD.findall(line)
    words = _WORD.findall(line)
    told = _TIME.fullmatch(words[0]) if words else None
    if told is None:
        return None, words
    return Fraction(told[1] or told[2]) / UNITS[told[3] or "s"], words[1:]


def _split(lines: list[str], refuse: Callable[[int, str], None]) -> list[_Transaction]:
    found: list[_Transaction] = []
    column: _TimeColumn | None = None
    is_open, is_first = False, True
    for number, line in enumerate(lines, 1):
        plain = line.partition("#")[0]
        if not plain.strip():
            continue
        if is_first and not _BYTE.search(_LONG_WORD.sub("", plain)) and len(_FIELDS.split(plain)) > 1:
            column, is_first = _time_column(plain), False
            if column is not None or not _STARTS.search(plain):
                continue
        is_first = False
        at, words = _timed(plain, column)
        for word in words:
            name = word.lower().rstrip(":")
            event, byte = _EVENTS.get(name), _BYTE.fullmatch(name)
            if event == "start":
                if not (is_open and found[-1].address is None):  # "repeated start" is one start
                    found.append(_Transaction(number, at))
                is_open = True
            elif event == "stop":
                is_open = False
            elif name in _SILENT or event == "ack":
                continue
            elif event is None and byte is None:
                refuse(number, f"{word!r} is neither a byte nor start, address, ACK, NAK or stop")
                return found
            elif not is_open:
                refuse(number, f"{word!r} stands before any start; a transaction is start, address, control byte, bytes, stop")
                return found
            elif byte:
                _take(found[-1], int(byte[1], 16), number)
            elif event == "nak":
                found[-1].refused |= not found[-1].is_read  # the last byte of a read is never acknowledged
            else:
                found[-1].is_read = True
    return found


def _take(transaction: _Transaction, byte: int, line: int) -> None:
    if transaction.address is None:
        # Addresses of displays are printed as seven bits, or with the read bit behind them.
        transaction.address = byte >> 1 if byte > 0x77 or byte in (0x78, 0x7A) else byte
        transaction.is_read |= byte > 0x77 and bool(byte & 1)
    else:
        transaction.payload.append((byte, line))


def _hand_on(transaction: _Transaction, add: Add, refuse: Callable[[int, str], None]) -> None:
    rest, at = transaction.payload, transaction.at_s
    place = 0
    while place < len(rest):
        control, line = rest[place]
        if control & 0x3F:
            refuse(line, f"{control:02X} is no control byte; it is 00, 40, 80 or C0")
            return
        kind: Kind = "data" if control & DATA_FOLLOW else "command"
        end = place + 2 if control & ONE_FOLLOWS else len(rest)
        behind = rest[place + 1 : end]
        if behind:
            add(kind, bytes(byte for byte, _ in behind), behind[0][1], at)
            at = None
        place = end
