"""Glyphs and letterings as plain values, and the rasteriser of a line of text."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError

LevelArray = npt.NDArray[np.uint8]
BITS = (1, 2, 4)
MOST_REACH_PX = 2048
"""How far a glyph may reach from its pen: eight times the largest size."""


@dataclass(frozen=True, eq=False)
class Glyph:
    """One character.

    Attributes
    ----------
    code : Unicode code point.
    levels : (H, W) 0 for ground to 2**bits - 1 for full ink, cropped to its ink; (0, 0) for blanks.
    left, top : pixels from the pen to its left edge, and from the baseline up to its upper edge.
    advance : pixels by which the pen moves on.
    """

    code: int
    levels: LevelArray
    left: int
    top: int
    advance: int

    @property
    def width(self) -> int:
        return self.levels.shape[1]

    @property
    def height(self) -> int:
        return self.levels.shape[0]

    @property
    def right(self) -> int:
        """Pixels from the pen to the column behind its ink; 0 for blanks."""
        return self.left + self.width

    @property
    def bottom(self) -> int:
        """Pixels from the baseline up to its lower edge, negative below it."""
        return self.top - self.height

    def same_as(self, other: "Glyph") -> bool:
        """Whether two glyphs have the same pixels and metrics."""
        mine = (self.code, self.left, self.top, self.advance)
        return mine == (other.code, other.left, other.top, other.advance) and np.array_equal(self.levels, other.levels)


def blank(code: int, advance: int) -> "Glyph":
    """A glyph without ink."""
    return Glyph(code, np.zeros((0, 0), np.uint8), 0, 0, advance)


def check_reach(glyphs: list["Glyph"], name: str, scale: int = 1) -> None:
    """Refuse glyphs whose metrics lead far off: cells and sheets of them would fill the memory.

    Raises
    ------
    BadValueError
        One of them, enlarged, reaches too far from its pen.
    """
    furthest = scale * max((max(map(abs, (g.left, g.right, g.top, g.bottom, g.advance))) for g in glyphs), default=0)
    if furthest > MOST_REACH_PX:
        raise BadValueError(f"{name} reaches {furthest:,} px from its pen; up to {MOST_REACH_PX:,} px are drawn")


def cropped(code: int, levels: LevelArray, left: int, top: int, advance: int) -> Glyph:
    """A glyph without empty rows and columns about its ink."""
    rows, columns = np.flatnonzero(levels.any(axis=1)), np.flatnonzero(levels.any(axis=0))
    if not len(rows):
        return blank(code, advance)
    part = levels[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1]
    return Glyph(code, np.ascontiguousarray(part), left + int(columns[0]), top - int(rows[0]), advance)


@dataclass(frozen=True, eq=False)
class Lettering:
    """Glyphs of one face at one size, by ascending code point.

    Attributes
    ----------
    ascent, descent : pixels above and below the baseline that a line takes.
    bits : of a level.
    kerning : pixels by which the second of two code points moves, where that is not 0.
    capital, x_height : height of H and of x in pixels; 0 where it has neither.
    """

    name: str
    glyphs: tuple[Glyph, ...]
    ascent: int
    descent: int
    bits: int = 1
    kerning: Mapping[tuple[int, int], int] = field(default_factory=dict)
    capital: int = 0
    x_height: int = 0

    def __post_init__(self) -> None:
        codes = [glyph.code for glyph in self.glyphs]
        if codes != sorted(set(codes)):
            raise BadValueError("the glyphs of a lettering stand once each, by ascending code point")
        if self.bits not in BITS:
            raise BadValueError(f"a lettering has {self.bits} bits a pixel; 1, 2 and 4 are accepted")

    @cached_property
    def by_code(self) -> dict[int, Glyph]:
        return {glyph.code: glyph for glyph in self.glyphs}

    @property
    def line_height(self) -> int:
        return self.ascent + self.descent

    @property
    def full(self) -> int:
        """The level of full ink."""
        return (1 << self.bits) - 1

    def kern(self, first: int, second: int) -> int:
        """Pixels by which `second` moves behind `first`."""
        return self.kerning.get((first, second), 0)

    def width_of(self, text: str) -> int:
        """Pixels from the first pen place to the last; characters that are missing take none."""
        known = [ord(c) for c in text if ord(c) in self.by_code]
        return sum(self.by_code[code].advance for code in known) + sum(self.kern(a, b) for a, b in pairwise(known))


def placed(lettering: Lettering, text: str, x: int = 0) -> list[tuple[int, Glyph]]:
    """(pen, glyph) of every character of a line that the lettering has, from the pen at `x`."""
    pen, last, found = x, None, []
    for character in text:
        glyph = lettering.by_code.get(ord(character))
        if glyph is None:
            continue
        pen += lettering.kern(last, glyph.code) if last is not None else 0
        found.append((pen, glyph))
        pen, last = pen + glyph.advance, glyph.code
    return found


def draw_text(canvas: LevelArray, lettering: Lettering, x: int, baseline: int, text: str) -> int:
    """Draw a line see-through onto (H, W) levels; what leaves the canvas is cut off. The pen's last place is given.

    Where two glyphs meet, the stronger level stays.
    """
    height, width = canvas.shape
    pen = x
    for at, glyph in placed(lettering, text, x):
        left, top = at + glyph.left, baseline - glyph.top
        x0, y0, x1, y1 = max(0, left), max(0, top), min(width, left + glyph.width), min(height, top + glyph.height)
        if x0 < x1 and y0 < y1:
            part = canvas[y0:y1, x0:x1]
            np.maximum(part, glyph.levels[y0 - top : y1 - top, x0 - left : x1 - left], out=part)
        pen = at + glyph.advance
    return pen
