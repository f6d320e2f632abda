"""What a calculator is: fields with usual values, figures with their formula, and something to draw."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from mosaic.color.srgb import parse_hex
from mosaic.errors import BadValueError, MosaicError
from mosaic.numbers import decimal

Values = Mapping[str, float | str]
FieldKind = Literal["number", "whole", "choice", "color"]
Basis = Literal["computed", "typical"]


@dataclass(frozen=True)
class Field:
    """Something that is asked for. `usual` is what stands in it at first; numbers lie from `least` to `most`, in `unit`."""

    name: str
    label: str
    usual: str
    unit: str = ""
    kind: FieldKind = "number"
    least: float = 0.0
    most: float = 1e9
    choices: tuple[tuple[str, str], ...] = ()

    def read(self, written: str) -> float | str:
        """The value of what was typed.

        Raises
        ------
        BadValueError
            It is none that is accepted.
        """
        plain = written.strip()
        if self.kind == "choice":
            if plain not in dict(self.choices):
                raise BadValueError(f"{self.label}: {plain[:24]!r} is none of {', '.join(name for _, name in self.choices)}")
            return plain
        if self.kind == "color":
            parse_hex(plain)
            return plain.lower()
        number = decimal(plain, self.least, self.most)
        if number is None or (self.kind == "whole" and number != int(number)):
            what = "a whole number" if self.kind == "whole" else "a number"
            unit = f" {self.unit}" if self.unit else ""
            raise BadValueError(
                f"{self.label}: {plain[:24]!r} is none; {what} from {self.least:,.10g} to {self.most:,.10g}{unit} is accepted"
            )
        return number


@dataclass(frozen=True)
class Figure:
    """One result, in words with its unit."""

    name: str
    words: str
    basis: Basis = "computed"


@dataclass(frozen=True)
class Bars:
    """Amounts beside each other: (name, amount, in words); `limit` is where they are too large."""

    rows: tuple[tuple[str, float, str], ...]
    limit: float | None = None


@dataclass(frozen=True)
class Scale:
    """A value on a line: good from `low` to `high`."""

    low: float
    high: float
    at: float
    unit: str


@dataclass(frozen=True)
class Grid:
    """A glass of so many pixels with cells on it."""

    width: int
    height: int
    cell_width: int
    cell_height: int
    columns: int
    rows: int


@dataclass(frozen=True)
class Disc:
    """A round glass with a band across it that begins at `top`; `chord` pixels of each of its rows are on the glass."""

    side: int
    top: int
    height: int
    chord: float
    ring: int = 0


@dataclass(frozen=True)
class Swatches:
    """Colours beside each other: (name, "#rrggbb")."""

    colors: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Curve:
    """Points, their axes in words, and the one that is meant."""

    points: tuple[tuple[float, float], ...]
    across: str
    upwards: str
    at: tuple[float, float]


@dataclass(frozen=True, eq=False)
class Pixels:
    """Pictures beside each other: (name, (H, W, 3) uint8 sRGB)."""

    pictures: tuple[tuple[str, npt.NDArray[np.uint8]], ...]


Drawing = Bars | Scale | Grid | Disc | Swatches | Curve | Pixels


@dataclass(frozen=True)
class Answer:
    """What comes of it: a sentence, figures, the formula with its source, and what to draw."""

    sentence: str
    figures: tuple[Figure, ...]
    formula: str
    drawing: Drawing


@dataclass(frozen=True)
class Calculator:
    """A quick question. `page` names the address of a build's page that works it out from the build's own parts."""

    slug: str
    name: str
    question: str
    fields: tuple[Field, ...]
    reckon: Callable[[Values], Answer]
    page: str
    page_name: str

    def answer(self, written: Mapping[str, str]) -> tuple[Answer | None, dict[str, str], dict[str, str]]:
        """The answer to what was typed, None where something cannot be read; what is wrong by field, "" for the whole.

        Fields that were not typed are as usual. Also gives what stands in each field.
        """
        stands = {field.name: written.get(field.name, field.usual)[:40] for field in self.fields}
        values: dict[str, float | str] = {}
        problems: dict[str, str] = {}
        for field in self.fields:
            try:
                values[field.name] = field.read(stands[field.name])
            except BadValueError as error:
                problems[field.name] = str(error)
        if problems:
            return None, problems, stands
        try:
            return self.reckon(values), {}, stands
        except MosaicError as error:
            return None, {"": str(error)}, stands


def number(values: Values, name: str) -> float:
    """A field that is a number."""
    return float(values[name])


def whole(values: Values, name: str) -> int:
    """A field that is a whole number."""
    return int(float(values[name]))


def bytes_words(count: float) -> str:
    """Bytes, and KiB or MiB where there are many.

    >>> bytes_words(1023), bytes_words(9472)
    ('1,023 B', '9,472 B (9.25 KiB)')
    """
    if count < 1024:
        return f"{count:,.0f} B"
    size, unit = (count / 1024, "KiB") if count < 1 << 20 else (count / (1 << 20), "MiB")
    return f"{count:,.0f} B ({size:,.4g} {unit})"


def time_words(seconds: float) -> str:
    """A time in the unit in which it has digits before its point.

    >>> time_words(0.0379), time_words(0.0000012), time_words(3)
    ('37.9 ms', '1.2 µs', '3 s')
    """
    if seconds >= 1:
        return f"{seconds:,.4g} s"
    return f"{seconds * 1e3:.4g} ms" if seconds >= 1e-3 else f"{seconds * 1e6:.4g} µs"
