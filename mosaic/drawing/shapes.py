"""Everything that can be drawn, by name. Boxes are x, y, width, height; everything may lie outside, and is clipped."""

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from mosaic.drawing import kernels
from mosaic.drawing.surface import Surface
from mosaic.errors import BadValueError
from mosaic.lettering.glyph import Lettering, placed

FURTHEST = 8191
"""Coordinates lie within this on both sides of the corner, so that 32 bits hold every step of a computation."""
LARGEST = 4096
MOST_SIDES = 32
UNIT = 16384
"""Length of a direction."""
Point = tuple[int, int]


def _check(*coordinates: int, sizes: Sequence[int] = ()) -> None:
    wrong = next((v for v in coordinates if abs(v) > FURTHEST), None)
    if wrong is not None:
        raise BadValueError(f"{wrong} lies too far off; coordinates from -{FURTHEST:,} to {FURTHEST:,} are accepted")
    wrong = next((v for v in sizes if not 0 <= v <= LARGEST), None)
    if wrong is not None:
        raise BadValueError(f"{wrong} is no size in pixels; 0 to {LARGEST:,} are accepted")


def fill(s: Surface, x: int, y: int, w: int, h: int, color: int) -> None:
    """A filled rectangle."""
    _check(x, y, sizes=(w, h))
    kernels.fill(s.values, s.top, x, y, w, h, color)


def frame(s: Surface, x: int, y: int, w: int, h: int, thickness: int, color: int) -> None:
    """A rectangle's border, inside its box."""
    _check(x, y, sizes=(w, h, thickness))
    if 2 * thickness >= w or 2 * thickness >= h:
        kernels.fill(s.values, s.top, x, y, w, h, color)
        return
    for box in (
        (x, y, w, thickness), (x, y + h - thickness, w, thickness), (x, y + thickness, thickness, h - 2 * thickness),
        (x + w - thickness, y + thickness, thickness, h - 2 * thickness),
    ):  # fmt: skip
        kernels.fill(s.values, s.top, *box, color)


def ellipse(s: Surface, x: int, y: int, w: int, h: int, color: int, *, outlined: bool = False) -> None:
    """The ellipse in a box."""
    _check(x, y, sizes=(w, h))
    kernels.inset_box(s.values, s.top, x, y, w, kernels.insets(w, h, -1), outlined, color)


def rounded(s: Surface, x: int, y: int, w: int, h: int, radius: int, color: int, *, outlined: bool = False) -> None:
    """A box with rounded corners."""
    _check(x, y, sizes=(w, h, radius))
    kernels.inset_box(s.values, s.top, x, y, w, kernels.insets(w, h, min(radius, w // 2, h // 2)), outlined, color)


def line(s: Surface, x0: int, y0: int, x1: int, y1: int, thickness: int, color: int) -> None:
    """A line with both ends; a thick one has round ends."""
    _check(x0, y0, x1, y1, sizes=(thickness,))
    if thickness:
        kernels.line(s.values, s.top, x0, y0, x1, y1, thickness, color)


def polyline(s: Surface, points: Sequence[Point], thickness: int, color: int) -> None:
    """Lines from each point to the next."""
    for (x0, y0), (x1, y1) in pairwise(points):
        line(s, x0, y0, x1, y1, thickness, color)


def ring(s: Surface, cx: int, cy: int, radius: int, thickness: int, color: int) -> None:
    """A circle's border, inside it; a thickness above the radius fills it."""
    _check(cx, cy, sizes=(radius, thickness))
    kernels.ring(s.values, s.top, cx, cy, radius, thickness, color)


def disc(s: Surface, cx: int, cy: int, radius: int, color: int) -> None:
    """A filled circle around a pixel."""
    _check(cx, cy, sizes=(radius,))
    kernels.ring(s.values, s.top, cx, cy, radius, radius + 1, color)


def direction(degrees: int) -> tuple[int, int]:
    """(x, y) of a direction clockwise from straight up, in parts of 16,384, rounded to the nearest."""
    turn = math.radians(degrees % 360)
    return round(UNIT * math.sin(turn)), -round(UNIT * math.cos(turn))


def sector(s: Surface, cx: int, cy: int, radius: int, thickness: int, start: int, span: int, color: int) -> None:
    """A ring from a direction on, clockwise, in degrees; 0 is straight up. Sectors that meet leave no gap and no overlap."""
    _check(cx, cy, sizes=(radius, thickness))
    if span >= 360:
        kernels.ring(s.values, s.top, cx, cy, radius, thickness, color)
    elif span > 0:
        ends = direction(start), direction(start + span)
        kernels.sector(s.values, s.top, cx, cy, radius, thickness, *ends, span <= 180, color)


def polygon(s: Surface, points: Sequence[Point], color: int) -> None:
    """A filled polygon, even-odd; its points are corners of pixels.

    Raises
    ------
    BadValueError
        It has fewer than three points, or too many.
    """
    if not 3 <= len(points) <= MOST_SIDES:
        raise BadValueError(f"a polygon of {len(points)} points; 3 to {MOST_SIDES} are accepted")
    _check(*(v for point in points for v in point))
    kernels.polygon(s.values, s.top, np.array(points, np.int64), color)


def pattern(
    s: Surface, x: int, y: int, w: int, h: int, tile: npt.NDArray[np.bool_], color: int | None, ground: int | None
) -> None:
    """A box of a tile of 1 to 8 pixels a side, laid from the glass's own corner; None for no colour."""
    _check(x, y, sizes=(w, h))
    if not (tile.ndim == 2 and 1 <= tile.shape[0] <= 8 and 1 <= tile.shape[1] <= 8):
        raise BadValueError(f"a tile of {' x '.join(map(str, tile.shape))}; 1 to 8 pixels a side are accepted")
    bits = np.packbits(tile, axis=1)[:, 0]
    kernels.pattern(s.values, s.top, x, y, w, h, bits, tile.shape[1], _or_none(color), _or_none(ground))


def picture(s: Surface, x: int, y: int, pixels: npt.NDArray[np.uint8], colors: Sequence[int | None]) -> None:
    """(H, W) places among colours, of which None leaves what is there."""
    _check(x, y)
    if pixels.size and int(pixels.max()) >= len(colors):
        raise BadValueError(f"a pixel has colour {int(pixels.max())}; there are {len(colors)}")
    kernels.picture(s.values, s.top, x, y, pixels, np.array([_or_none(color) for color in colors], np.int64))


def values(s: Surface, x: int, y: int, pixels: npt.NDArray[np.int32]) -> None:
    """(H, W) values of their own, of which -1 leaves what is there: pictures of more than 256 colours."""
    _check(x, y)
    kernels.lay(s.values, s.top, x, y, pixels)


def turned(
    s: Surface, x: int, y: int, degrees: int, px: int, py: int, pixels: npt.NDArray[np.uint8], colors: Sequence[int | None]
) -> None:
    """(H, W) places among colours, turned clockwise about the pixel px, py, which comes to lie at x, y."""
    _check(x, y, px, py)
    table = np.array([_or_none(color) for color in colors], np.int64)
    kernels.turned(s.values, s.top, x, y, *direction(degrees), px, py, pixels, table)


def text(s: Surface, x: int, base: int, words: str, lettering: Lettering, colors: Sequence[int | None]) -> None:
    """A line of a lettering from the pen at x on a base line, with a colour for each level; None leaves what is there."""
    _check(x, base)
    table = np.array([_or_none(color) for color in colors], np.int64)
    for pen, letter in placed(lettering, words, x):
        if letter.width:
            kernels.picture(s.values, s.top, pen + letter.left, base - letter.top, letter.levels, table)


def plot(
    s: Surface,
    x: int,
    y: int,
    w: int,
    h: int,
    thickness: int,
    low: int,
    high: int,
    past: Sequence[int | None],
    room: int,
    color: int,
) -> None:
    """The last readings in a box, `room` of them at equal steps, the newest at the right: a line from each to the next.

    A reading stands between `low`, the lowest row, and `high`, the uppermost, held within; None breaks the line, and one
    that stands alone is a point.
    """  # fmt: skip
    _check(x, y, sizes=(w, h, thickness))
    if room < 2 or w < 1 or h < 1 or low == high:
        return
    before: Point | None = None
    for number, reading in enumerate(past[-room:], room - min(room, len(past))):
        here = None
        if reading is not None:
            part, span = (reading - low, high - low) if high > low else (low - reading, low - high)
            part = min(max(part, 0), span)
            here = (x + (w - 1) * number // (room - 1), y + h - 1 - (2 * part * (h - 1) + span) // (2 * span))
            line(s, *(before or here), *here, thickness, color)
        before = here


def glyph(s: Surface, x: int, y: int, levels: npt.NDArray[np.uint8], bits: int, colors: Sequence[int | None]) -> None:
    """(H, W) levels of 1, 2 or 4 bits, with a colour for each level; None leaves what is there."""
    if bits not in (1, 2, 4) or len(colors) != 1 << bits:
        raise BadValueError(f"{len(colors)} colours for {bits} bits a pixel; 2, 4 or 16 are accepted for 1, 2 or 4 bits")
    picture(s, x, y, levels, colors)


def stencil(s: Surface, x: int, y: int, ink: npt.NDArray[np.bool_], color: int) -> None:
    """(H, W) ink in one colour; what is no ink leaves what is there."""
    picture(s, x, y, ink.astype(np.uint8), (None, color))


def _or_none(color: int | None) -> int:
    return -1 if color is None else color
