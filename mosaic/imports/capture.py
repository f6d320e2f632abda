"""Reading what a logic analyser or a program wrote of the wire, line by line.

One row for each thing sent: a kind, bytes, and perhaps a time. Columns are told by a header, or are taken as
``kind, bytes, time in microseconds``::

    kind,bytes,us            dc;data;time [s]          # without a header
    reset,,0                 0;0x2A;0.120000           C,2A
    C,2A,120000              1;0x00;0.120002           D,00 00 00 EF
    D,00 00 00 EF,120001     1;0x00;0.120004           wait,120

What analysers print of an I2C bus is told by its starts and addresses; see `mosaic.imports.i2c_capture`.

`kind` is C, cmd, command or 0 for a command, D, data or 1 for data, reset, wait (with milliseconds) or busy. Rows of
data that follow each other are one run. Fields are separated by commas, semicolons or tabs; # begins a remark.
"""

import re
from bisect import bisect_left
from dataclasses import dataclass
from fractions import Fraction

from mosaic.errors import BadLinesError, LineProblem
from mosaic.imports.i2c_capture import UNITS, is_i2c, read_i2c
from mosaic.numbers import decimal
from mosaic.panels.sequence import LONGEST_DELAY_MS, Kind, Transaction

KINDS: dict[str, Kind] = {
    "c": "command", "cmd": "command", "command": "command", "0": "command", "low": "command",
    "d": "data", "dat": "data", "data": "data", "1": "data", "high": "data",
    "reset": "reset", "rst": "reset", "wait": "delay", "delay": "delay", "busy": "busy",
}  # fmt: skip
NAMES: dict[str, tuple[str, ...]] = {
    "kind": ("kind", "dc", "d/c", "flag", "type", "cmd/data"),
    "bytes": ("bytes", "byte", "data", "value", "hex", "mosi", "sda"),
}
MOST_LINES = 2_000_000
MOST_PROBLEMS = 20
_TIME = re.compile(r"-?(?:[0-9]{1,18}(?:\.[0-9]{0,18})?|\.[0-9]{1,18})(?:[eE][-+]?[0-9]{1,2})?")
_BYTE = re.compile(r"(?:0[xX])?([0-9A-Fa-f]{1,2})h?")


@dataclass(frozen=True)
class Captured:
    """A transaction of a capture: the lines it came from with the byte each begins at, and its time in seconds."""

    transaction: Transaction
    lines: tuple[tuple[int, int], ...]
    at_s: Fraction | None

    def line_of(self, byte: int) -> int:
        """The line on which a byte (from 1) stands; the first for 0."""
        return self.lines[max(0, bisect_left(self.lines, (max(byte, 1), 0)) - 1)][1]


@dataclass(frozen=True)
class Capture:
    """What was sent, in order, the times at its ends where it has any, and what else its lines say."""

    sent: tuple[Captured, ...]
    remarks: tuple[LineProblem, ...] = ()

    @property
    def duration_s(self) -> Fraction | None:
        """From the first time to the last; None with fewer than two."""
        times = [c.at_s for c in self.sent if c.at_s is not None]
        return times[-1] - times[0] if len(times) > 1 else None


@dataclass(frozen=True)
class _Columns:
    kind: int = 0
    bytes: int = 1
    time: int | None = 2
    unit: int = 1_000_000


def read_capture(text: str) -> Capture:
    """What was captured.

    Raises
    ------
    BadLinesError
        Lines that cannot be read, each with its number and what is accepted; up to MOST_PROBLEMS of them.
    """
    reader, remarks = _Reader(), list[LineProblem]()
    lines = text.lstrip("\ufeff").splitlines()
    if len(lines) > MOST_LINES:
        reader.refuse(MOST_LINES + 1, f"more than {MOST_LINES:,} lines; cut the capture to what matters")
    elif is_i2c(lines):
        remarks = read_i2c(lines, reader.add, reader.refuse)
    else:
        for number, line in enumerate(lines, 1):
            reader.take(number, line)
            if len(reader.problems) >= MOST_PROBLEMS:
                break
    reader.close_run()
    if not reader.problems and not reader.sent:
        reader.refuse(1, "nothing was sent in this capture; rows look like: C,2A or D,00 00 00 EF")
    if reader.problems:
        raise BadLinesError(tuple(reader.problems))
    return Capture(tuple(reader.sent), tuple(remarks))


class _Reader:
    """Takes lines one by one; keeps what it understood and what it did not."""

    def __init__(self) -> None:
        self.columns: _Columns | None = None
        self.is_header = False
        self.sent: list[Captured] = []
        self.problems: list[LineProblem] = []
        self.last_s: Fraction | None = None
        # Rows of data are gathered: a frame may come byte by byte.
        self._run = bytearray()
        self._lines: list[tuple[int, int]] = []
        self._run_at: Fraction | None = None

    def refuse(self, number: int, words: str) -> None:
        self.problems.append(LineProblem(number, words))

    def take(self, number: int, line: str) -> None:
        plain = line.partition("#")[0].strip()
        if not plain:
            return
        fields = [field.strip().strip('"') for field in re.split(r"[;\t]" if re.search(r"[;\t]", plain) else ",", plain)]
        if self.columns is None:
            self.columns = self._header(fields)
            if self.is_header:
                return
        try:
            self._row(number, fields, self.columns)
        except ValueError as error:
            self.refuse(number, str(error))

    def _header(self, fields: list[str]) -> _Columns:
        """The columns that a header names, or those of a capture without one."""
        plain = [re.sub(r"\s*[\[(].*", "", field.lower()).strip() for field in fields]
        kind, data = (next((i for i, name in enumerate(plain) if name in names), None) for names in NAMES.values())
        if kind is not None and data is not None and kind != data:
            self.is_header = True
            for place, field in enumerate(fields):
                unit = re.search(r"\b(ns|us|µs|ms|s)\b", field.lower())
                if unit and place not in (kind, data):
                    return _Columns(kind, data, place, UNITS[unit[1]])
            return _Columns(kind, data, None)
        return _Columns(time=2 if len(fields) > 2 else None)

    def _row(self, number: int, fields: list[str], columns: _Columns) -> None:
        word = fields[columns.kind].lower() if columns.kind < len(fields) else ""
        if word in KINDS and KINDS[word] not in ("reset", "busy") and columns.bytes >= len(fields):
            raise ValueError(f"nothing stands behind {word!r}; a row has a kind and bytes, such as D,00 FF")
        if word not in KINDS:
            raise ValueError(f"{word[:24]!r} is no kind; it is C, D, reset, wait or busy")
        kind, at = KINDS[word], self._time(fields, columns)
        if kind in ("reset", "busy"):
            self._add(Transaction(kind), number, at)
        elif kind == "delay":
            self._add(Transaction("delay", wait_ms=self._wait(fields[columns.bytes])), number, at)
        else:
            self._add(Transaction(kind, self._bytes(fields[columns.bytes])), number, at)

    def _time(self, fields: list[str], columns: _Columns) -> Fraction | None:
        if columns.time is None or columns.time >= len(fields) or not fields[columns.time]:
            return None
        text = fields[columns.time].replace(",", ".")
        if not _TIME.fullmatch(text):
            raise ValueError(f"{fields[columns.time][:24]!r} is no time; it is a number, or left out")
        at = Fraction(text) / columns.unit
        if self.last_s is not None and at < self.last_s:
            raise ValueError(f"time {text} lies before the time of the row above")
        self.last_s = at
        return at

    def _wait(self, text: str) -> float:
        wait = decimal(text.lower().removesuffix("ms"), 0, LONGEST_DELAY_MS)
        if wait is None:
            raise ValueError(f"{text[:24]!r} is no number of milliseconds; a wait is between 0 and an hour")
        return wait

    def _bytes(self, text: str) -> bytes:
        if re.fullmatch(r"(?:[0-9A-Fa-f]{2}){2,}", text):
            return bytes.fromhex(text)
        out = bytearray()
        for word in text.split():
            match = _BYTE.fullmatch(word)
            if match is None:
                raise ValueError(f"{word[:24]!r} is no byte; bytes are two hexadecimal digits each, such as 2A or 0x2A")
            out.append(int(match[1], 16))
        if not out:
            raise ValueError("no byte is given; a command or data row has one or more")
        return bytes(out)

    def add(self, kind: Kind, data: bytes, number: int, at: Fraction | None) -> None:
        """Take bytes that another notation tells of."""
        self._add(Transaction(kind, data), number, at)

    def _add(self, transaction: Transaction, number: int, at: Fraction | None) -> None:
        if transaction.kind != "data":
            self.close_run()
            self.sent.append(Captured(transaction, ((0, number),), at))
            return
        if not self._lines:
            self._run_at = at
        self._lines.append((len(self._run), number))
        self._run += transaction.data

    def close_run(self) -> None:
        """The run of data so far is complete."""
        if self._lines:
            self.sent.append(Captured(Transaction("data", bytes(self._run)), tuple(self._lines), self._run_at))
            self._run, self._lines = bytearray(), []
