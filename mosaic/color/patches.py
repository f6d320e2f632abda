"""Colours of a panel out of a photo of its patch card, with a white reference beside it.

The card's four corners give the perspective (eight unknowns of a homography, four points). The light over the photo
is taken as a plane, fitted to a white sheet at three points or more, so that light that falls off to one side does
not colour what lies there. A patch is the median of its inner pixels; each colour stands on the card twice, and how
far the two are apart is how sure its value is.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.color.lab import linear_to_lab
from mosaic.color.srgb import bytes_to_linear, linear_to_bytes
from mosaic.errors import BadValueError

INNER_SHARE = 0.5
"""Of a patch the middle half is looked at: its edges are blurred into its neighbours'."""
LEAST_WHITES = 3
"""Points on white paper that a plane of light needs."""
PAPER_REFLECTANCE = 0.88
"""Office paper against a perfect white, typical."""
CLIPPED = 252
LEAST_LIGHT = 0.02
LEAST_SPREAD = 0.05
"""Of the photo's longer side: points closer to a line than this say nothing of the light across it."""

Point = tuple[float, float]
FloatArray = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Patch:
    """Where a colour stands on the card: its palette index, and its corners as shares of the card's sides."""

    index: int
    left: float
    top: float
    right: float
    bottom: float


@dataclass(frozen=True)
class Measured:
    """A colour: "#rrggbb" under even white light, and how far its two patches are apart in CIELAB."""

    index: int
    hex: str
    apart: float
    clipped: bool


def layout(count: int) -> tuple[Patch, ...]:
    """Two rows of patches: all colours from the left, and below them all from the right, beginning with the middle one."""
    first = list(range(count))
    second = [(i + (count + 1) // 2) % count for i in reversed(first)]
    return tuple(
        Patch(index, place / count, row / 2, (place + 1) / count, (row + 1) / 2)
        for row, order in enumerate((first, second))
        for place, index in enumerate(order)
    )


def homography(corners: tuple[Point, Point, Point, Point]) -> FloatArray:
    """(3, 3) from shares of the card (0, 0) (1, 0) (1, 1) (0, 1) to points of the photo, clockwise from its upper left.

    Raises
    ------
    BadValueError
        The corners are no four-sided figure: three lie on a line, or they are not in turn.
    """
    crosses = []
    for i in range(4):
        (x0, y0), (x1, y1), (x2, y2) = corners[i], corners[(i + 1) % 4], corners[(i + 2) % 4]
        crosses.append((x1 - x0) * (y2 - y1) - (y1 - y0) * (x2 - x1))
    size = max(abs(x) + abs(y) for x, y in corners) + 1
    if not (all(c > size for c in crosses) or all(c < -size for c in crosses)):
        raise BadValueError("the four corners are no four-sided figure; click them in turn, clockwise from the card's upper left")
    rows, values = [], []
    for (u, v), (x, y) in zip(((0, 0), (1, 0), (1, 1), (0, 1)), corners, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -u * x, -v * x], [0, 0, 0, u, v, 1, -u * y, -v * y]]
        values += [x, y]
    h = np.linalg.solve(np.array(rows, float), np.array(values, float))
    return np.append(h, 1).reshape(3, 3)


def _on_photo(matrix: FloatArray, u: FloatArray, v: FloatArray) -> tuple[FloatArray, FloatArray]:
    """(x, y) in the photo of shares of the card."""
    x, y, w = np.tensordot(matrix, np.stack([u, v, np.ones_like(u)]), axes=1)
    return x / w, y / w


def _sample(photo: npt.NDArray[np.uint8], x: FloatArray, y: FloatArray) -> npt.NDArray[np.uint8]:
    """(N, 3) nearest pixels; what lies outside of the photo is refused."""
    height, width = photo.shape[:2]
    columns, rows = np.rint(x).astype(int), np.rint(y).astype(int)
    if columns.min() < 0 or rows.min() < 0 or columns.max() >= width or rows.max() >= height:
        raise BadValueError(f"the card reaches out of the photo of {width} × {height} pixels; take one that shows all of it")
    return photo[rows, columns]


def light_over(photo: npt.NDArray[np.uint8], whites: tuple[Point, ...], reflectance: float = PAPER_REFLECTANCE) -> FloatArray:
    """(3, 3) plane of light for each channel: light = a + b x + c y, of a perfect white.

    Raises
    ------
    BadValueError
        Fewer than three points, points in a line, or a reference that is too dark or burnt out.
    """
    if len(whites) < LEAST_WHITES:
        raise BadValueError(f"{len(whites)} points on the white sheet; click three or more, on different sides of the card")
    height, width = photo.shape[:2]
    reach = max(2, min(width, height) // 100)
    values = []
    for x, y in whites:
        if not (reach <= x < width - reach and reach <= y < height - reach):
            raise BadValueError(
                f"the point {x:.0f}, {y:.0f} is not on the photo of {width} × {height} pixels, or at its very edge"
            )
        part = photo[int(y) - reach : int(y) + reach + 1, int(x) - reach : int(x) + reach + 1].reshape(-1, 3)
        value = np.median(part, axis=0)
        if value.max() > CLIPPED:
            raise BadValueError(f"the white sheet is burnt out at {x:.0f}, {y:.0f}; take the photo a little darker")
        values.append(bytes_to_linear(value.astype(np.uint8)[None, None])[0, 0])
    terms = np.array([[1.0, x, y] for x, y in whites])
    spread = np.linalg.svd(terms[:, 1:] - terms[:, 1:].mean(axis=0), compute_uv=False)
    if spread[1] < LEAST_SPREAD * max(width, height):
        raise BadValueError("the points on the white sheet lie in a line; click on different sides of the card")
    plane = np.linalg.lstsq(terms, np.array(values, float), rcond=None)[0].T / reflectance
    if (terms @ plane.T * reflectance).min() < LEAST_LIGHT:
        raise BadValueError("the white sheet is too dark to compare with; use more light, or click on the sheet itself")
    return plane


def measure(
    photo: npt.NDArray[np.uint8],
    count: int,
    corners: tuple[Point, Point, Point, Point],
    whites: tuple[Point, ...],
    reflectance: float = PAPER_REFLECTANCE,
) -> tuple[Measured, ...]:
    """Every colour of a card of `count` colours.

    Parameters
    ----------
    photo : (H, W, 3) uint8, sRGB
    corners : of the card's patches in the photo, clockwise from the upper left
    whites : points on the white sheet
    reflectance : of the sheet, against a perfect white

    Raises
    ------
    BadValueError
        See `homography` and `light_over`.
    """
    matrix, plane = homography(corners), light_over(photo, whites, reflectance)
    readings: dict[int, list[FloatArray]] = {}
    clipped: set[int] = set()
    for patch in layout(count):
        u0, u1, v0, v1 = patch.left, patch.right, patch.top, patch.bottom
        edge_u, edge_v = (u1 - u0) * (1 - INNER_SHARE) / 2, (v1 - v0) * (1 - INNER_SHARE) / 2
        grid = np.meshgrid(np.linspace(u0 + edge_u, u1 - edge_u, 15), np.linspace(v0 + edge_v, v1 - edge_v, 15))
        x, y = _on_photo(matrix, grid[0].ravel(), grid[1].ravel())
        pixels = _sample(photo, x, y)
        if (pixels > CLIPPED).mean() > 0.2:
            clipped.add(patch.index)
        light = np.stack([np.ones_like(x), x, y], axis=-1) @ plane.T
        linear = bytes_to_linear(pixels[None])[0] / light
        readings.setdefault(patch.index, []).append(np.median(linear, axis=0))
    out = []
    for index in range(count):
        mean = np.clip(np.mean(readings[index], axis=0), 0, 1)
        labs = [linear_to_lab(np.clip(value, 0, 1)[None, None].astype(np.float32))[0, 0] for value in readings[index]]
        apart = float(np.linalg.norm(labs[0] - labs[1]))
        red, green, blue = linear_to_bytes(mean[None, None])[0, 0]
        out.append(Measured(index, f"#{red:02x}{green:02x}{blue:02x}", apart, index in clipped))
    return tuple(out)
