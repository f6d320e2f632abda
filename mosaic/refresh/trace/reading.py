"""Rows of a trace from its bytes, block by block, so that millions of rows take little memory.

A general reader of tables stops at, or guesses about, what is no number; here every row that is none is counted and told.
"""

import itertools
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

import numba
import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.quantities import how_many
from mosaic.refresh.trace.columns import Columns, columns_of

MOST_ROWS = 5_000_000
LEAST_ROWS = 3
BLOCK = 1 << 20
HEAD_BYTES = 64 << 10
HEAD_LINES = 200
NEWLINE, QUOTE, SPACE, TAB, RETURN = 10, 34, 32, 9, 13


@dataclass(frozen=True)
class Trace:
    """What was read.

    Attributes
    ----------
    time_s : (N,) from the first row on, ascending. current_ma : (N,). volts : the mean voltage, 0 where none was told.
    columns : how it was written. rows : lines with numbers that were taken; left_out : lines in words.
    """

    time_s: npt.NDArray[np.float64]
    current_ma: npt.NDArray[np.float32]
    volts: float
    columns: Columns
    left_out: tuple[str, ...] = ()

    @property
    def rows(self) -> int:
        return len(self.time_s)

    @property
    def length_s(self) -> float:
        return float(self.time_s[-1] - self.time_s[0])


@numba.njit(cache=True, nogil=True)
def _parse(data, size, separator, comma, wanted, out, room):
    """Rows of whole lines: out (room, 3) gets the wanted columns. Gives (rows, lines that are none, bytes used)."""
    rows = bad = used = 0
    at = 0
    while at < size and rows < room:
        end = at
        while end < size and data[end] != NEWLINE:
            end += 1
        if end == size:
            break
        column, place = 0, at
        found = 0
        empty = True
        broken = False
        while place <= end and not broken:
            stop = place
            if separator == SPACE:
                while place < end and (data[place] == SPACE or data[place] == TAB):
                    place += 1
                stop = place
                while stop < end and data[stop] != SPACE and data[stop] != TAB and data[stop] != RETURN:
                    stop += 1
            else:
                while stop < end and data[stop] != separator:
                    stop += 1
            for slot in range(3):
                if wanted[slot] == column:
                    left, right = place, stop
                    while left < right and (data[left] == SPACE or data[left] == QUOTE or data[left] == TAB):
                        left += 1
                    while right > left and (
                        data[right - 1] == SPACE
                        or data[right - 1] == QUOTE
                        or data[right - 1] == RETURN
                        or data[right - 1] == TAB
                    ):
                        right -= 1
                    sign, value, scale, power, digits = 1.0, 0.0, 0, 0, 0
                    place2 = left
                    if place2 < right and (data[place2] == 45 or data[place2] == 43):
                        if data[place2] == 45:
                            sign = -1.0
                        place2 += 1
                    after = False
                    while place2 < right:
                        c = data[place2]
                        if 48 <= c <= 57:
                            value = value * 10 + (c - 48)
                            digits += 1
                            if after:
                                scale += 1
                        elif (c == 46 or (comma and c == 44)) and not after:
                            after = True
                        elif (c == 101 or c == 69) and digits:
                            place2 += 1
                            less = False
                            if place2 < right and (data[place2] == 45 or data[place2] == 43):
                                less = data[place2] == 45
                                place2 += 1
                            count = 0
                            while place2 < right and 48 <= data[place2] <= 57:
                                power = power * 10 + (data[place2] - 48)
                                count += 1
                                place2 += 1
                            if less:
                                power = -power
                            if count == 0 or count > 3:
                                digits = 0
                            break
                        else:
                            digits = 0
                            break
                        place2 += 1
                    if digits == 0 or place2 < right:
                        broken = True
                    else:
                        exponent = power - scale
                        out[rows, slot] = sign * (value * 10.0**exponent if exponent >= 0 else value / 10.0**-exponent)
                        found += 1
            if stop > place:
                empty = False
            column += 1
            place = stop + 1
            if separator == SPACE and stop >= end:
                break
        needed = 0
        for slot in range(3):
            if wanted[slot] >= 0:
                needed += 1
        if found == needed and not broken:
            rows += 1
        elif not empty:
            bad += 1
        at = end + 1
        used = at
    return rows, bad, used


class _Reader:
    """Blocks become rows; what is half a line waits for the next block. Memory that no row fills is never touched."""

    def __init__(self, columns: Columns) -> None:
        self.columns = columns
        self.times = np.empty(MOST_ROWS if columns.time >= 0 else 0, np.float64)
        self.currents = np.empty(MOST_ROWS, np.float32)
        self.rows = self.bad = 0
        self.volts, self.rest, self.is_cut = 0.0, b"", False

    def take(self, data: bytes) -> None:
        data = self.rest + data
        columns, begin = self.columns, self.rows
        wanted = np.array([columns.time, columns.current, columns.voltage], np.int64)
        out = np.empty((len(data) // 2 + 1, 3))
        raw = np.frombuffer(data, np.uint8)
        rows, bad, used = _parse(raw, len(data), ord(columns.separator), columns.comma, wanted, out, MOST_ROWS - begin)
        self.rest = data[used:]
        self.bad += bad
        self.rows += rows
        self.is_cut = self.rows >= MOST_ROWS and bool(self.rest)
        if columns.time >= 0:
            self.times[begin : self.rows] = out[:rows, 0] * columns.time_s
        self.currents[begin : self.rows] = out[:rows, 1] * columns.current_ma
        if columns.voltage >= 0:
            self.volts += float(out[:rows, 2].sum()) * columns.voltage_v


def read_trace(blocks: Iterable[bytes], *, step_s: float = 0.0, progress: Callable[[int], None] | None = None) -> Trace:
    """A trace from the bytes of its file, in blocks of any size.

    Parameters
    ----------
    step_s : from row to row, where the file has no times.
    progress : is told how many rows there are so far.

    Raises
    ------
    BadValueError
        It is no table with a current, or has fewer than three rows.
    """
    source = iter(blocks)
    head = b""
    for block in source:
        head += block
        if len(head) >= HEAD_BYTES:
            break
    text = head[:HEAD_BYTES].decode("utf-8-sig" if head.startswith(b"\xef\xbb\xbf") else "latin-1", "replace")
    if "\x00" in text:
        raise BadValueError("this file is not text; a CSV of times and currents is accepted")
    lines = text.replace("\r\n", "\n").split("\n")[:HEAD_LINES]
    columns = columns_of(_utf8(lines), step_s=step_s)
    reader = _Reader(columns)
    for data in _parts(head, source):
        reader.take(data)
        if progress is not None:
            progress(reader.rows)
        if reader.is_cut:
            break
    if reader.rest and not reader.is_cut:
        reader.take(b"\n")
    return _trace(reader)


def _utf8(lines: list[str]) -> list[str]:
    """Headings that were UTF-8: a micro sign is two bytes there."""
    found = []
    for line in lines:
        try:
            found.append(line.encode("latin-1").decode("utf-8"))
        except (UnicodeDecodeError, UnicodeEncodeError):
            found.append(line)
    return found


def _parts(head: bytes, rest: Iterator[bytes]) -> Iterator[bytes]:
    for block in itertools.chain((head,), rest):
        for at in range(0, len(block), BLOCK):
            yield block[at : at + BLOCK]


@numba.njit(cache=True, nogil=True)
def _ascending(time, current):
    """Rows whose time goes on are moved to the front, in their order; how many there are."""
    kept = 1
    for row in range(1, len(time)):
        if time[row] > time[kept - 1]:
            time[kept], current[kept] = time[row], current[row]
            kept += 1
    return kept


def _trace(reader: _Reader) -> Trace:
    columns, rows = reader.columns, reader.rows
    if rows < LEAST_ROWS:
        raise BadValueError(f"{how_many(rows, 'row')} of numbers can be read; {LEAST_ROWS} and more are needed")
    current = reader.currents[:rows]
    time = reader.times[:rows] if columns.time >= 0 else np.arange(rows) * columns.step_s
    said = []
    bad = max(0, reader.bad - columns.header)
    if bad:
        said.append(f"{how_many(bad, 'line')} that {'are' if bad != 1 else 'is'} no row of numbers")
    kept = _ascending(time, current)
    if kept < rows:
        said.append(f"{how_many(rows - kept, 'row')} whose time does not go on")
        time, current = time[:kept], current[:kept]
    if len(time) < LEAST_ROWS:
        raise BadValueError("the times do not go on from row to row; a column of ascending times is needed")
    if reader.is_cut:
        said.append(f"everything after {MOST_ROWS:,} rows")
    time -= time[0]
    return Trace(time, current, reader.volts / rows if columns.voltage >= 0 else 0.0, columns, tuple(said))
