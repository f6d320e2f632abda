"""Readings with their times from a table: a CSV file of one's own, or of a spreadsheet."""

import csv
import io
from dataclasses import dataclass
from datetime import datetime

from mosaic.errors import BadValueError
from mosaic.numbers import decimal
from mosaic.values.stand_in import MOST_REPLAYED
from mosaic.values.value import Value

MOST_ROWS = 200_000
TIMES = ("%Y-%m-%d %H:%M:%S", "%Y-%m-%dT%H:%M:%S", "%Y-%m-%d %H:%M", "%Y-%m-%dT%H:%M", "%d.%m.%Y %H:%M:%S", "%d.%m.%Y %H:%M")


@dataclass(frozen=True)
class Table:
    """Columns by name, the first of them times; rows with the number of their line in the file."""

    names: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]


def columns_of(data: bytes) -> Table:
    """A table from a CSV file; its first line may name the columns. Separated by commas, semicolons, tabs.

    Raises
    ------
    BadValueError
        It is no text, has no two columns, or too many rows.
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        try:
            text = data.decode("cp1252")
        except UnicodeDecodeError:
            raise BadValueError("the file is no text; CSV of times and readings is accepted") from None
    if "\0" in text:
        raise BadValueError("the file is no text; CSV of times and readings is accepted")
    sample = text[:4096]
    mark = max((";", "\t", ","), key=lambda one: sample.count(one) if one != "," else sample.count(one) / 2)
    try:
        read = [
            (number, tuple(cell.strip() for cell in row))
            for number, row in enumerate(csv.reader(io.StringIO(text, newline=""), delimiter=mark), 1) if any(map(str.strip, row))
        ]  # fmt: skip
    except csv.Error as error:
        raise BadValueError(f"the file cannot be read as a table: {error}; rows of time, reading are accepted") from None
    if not read:
        raise BadValueError("the file is empty; rows of time, reading are accepted")
    if len(read) > MOST_ROWS:
        raise BadValueError(f"the file has {len(read):,} rows; up to {MOST_ROWS:,} are accepted")
    first = read[0][1]
    if len(first) < 2:
        raise BadValueError("the file has one column; a time and a reading in each row are accepted")
    if _seconds(first[0]) is None:
        return Table(first, tuple(read[1:]))
    return Table(("time", *(f"column {n}" for n in range(1, len(first)))), tuple(read))


def _seconds(written: str) -> float | None:
    """Seconds of a time: a number, a clock time, or a date with one."""
    number = decimal(written)
    if number is not None:
        return number
    for form in TIMES:
        try:
            return datetime.strptime(written, form).timestamp()
        except ValueError:
            continue
    parts = written.split(":")
    if len(parts) in (2, 3) and all(part.isascii() and part.replace(".", "", 1).isdigit() for part in parts):
        hours, minutes, seconds = (float(part) for part in (*parts, "0")[:3])
        return hours * 3600 + minutes * 60 + seconds
    return None


def replayed_of(table: Table, value: Value, column: str = "") -> tuple[tuple[int, int | None], ...]:
    """(ms since the first, raw) of a column, by its name, or the first; an empty cell is an absent reading.

    Thinned out evenly where it is longer than `MOST_REPLAYED`.

    Raises
    ------
    BadValueError
        There is no such column, a cell cannot be read, or times run backwards: each with its line.
    """
    names = [name.strip().lower() for name in table.names]
    wanted = column.strip().lower() or (value.name.strip().lower() if value.name.strip().lower() in names else names[1])
    if wanted not in names[1:]:
        raise BadValueError(f"there is no column {column.strip()[:40]!r}; {', '.join(table.names[1:])} are there")
    at, found, start, before = names.index(wanted), [], None, None
    for line, cells in table.rows:
        if len(cells) <= at:
            raise BadValueError(
                f"line {line} has {len(cells)} cells and no {table.names[at]}; every row has a time and a reading"
            )
        seconds = _seconds(cells[0])
        if seconds is None:
            raise BadValueError(f"line {line}: {cells[0][:24]!r} is no time; seconds, 18:42:05 or 2026-11-28 18:42 are accepted")
        if before is not None and seconds < before:
            raise BadValueError(f"line {line}: {cells[0][:24]!r} lies before the line above; times run forwards")
        before = seconds
        start = seconds if start is None else start
        try:
            raw = value.raw_of(cells[at])
        except BadValueError as error:
            raise BadValueError(f"line {line}: {error}") from None
        if isinstance(raw, str):
            raise BadValueError(f"{value.name} is a text; numbers, times and words are replayed, texts are listed")
        found.append((round((seconds - start) * 1000), raw))
    if not found:
        raise BadValueError("the file has no row of readings; rows of time, reading are accepted")
    if len(found) > MOST_REPLAYED:
        found = [found[number * len(found) // MOST_REPLAYED] for number in range(MOST_REPLAYED)]
    if found[-1][0] > 2_147_483_647:
        raise BadValueError("the readings last more than 24 days; a shorter piece of them is accepted")
    return tuple(found)
