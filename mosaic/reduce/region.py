"""Parts of a picture that are reduced by a method of their own, and pixels set by hand.

Places are pixels of the finished picture. A pixel belongs to a region when its centre lies inside
the outline (even-odd rule), so that two regions that share an edge share no pixel.
"""

from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
import numpy.typing as npt
from msgspec import Meta

from mosaic.errors import BadValueError

Place = Annotated[int, Meta(ge=0, le=65535)]
Corner = tuple[Place, Place]
MAX_REGIONS = 24
MAX_CORNERS = 400


@dataclass(frozen=True)
class Region:
    """One part with a method of its own.

    Attributes
    ----------
    shape, corners : a "rect" has two (x, y), its upper left corner and the one beyond its lower
        right pixel; a "lasso" has three or more along its outline.
    method : name of a reduction method; the other fields are those of a recipe.
    """

    shape: Literal["rect", "lasso"]
    corners: tuple[Corner, ...]
    method: str = "threshold"
    threshold: Annotated[int, Meta(ge=0, le=255)] = 128
    auto_threshold: bool = False
    strength: Annotated[float, Meta(ge=0, le=1)] = 1.0
    window: Annotated[int, Meta(ge=3, le=99)] = 15
    pattern: Annotated[str, Meta(max_length=20)] = "hatch"

    def __post_init__(self) -> None:
        count = len(self.corners)
        if self.shape == "rect" and count != 2:
            raise BadValueError(f"a rectangle has {count} corners; it needs 2, upper left and lower right")
        if self.shape == "lasso" and not 3 <= count <= MAX_CORNERS:
            raise BadValueError(f"a lassoed region has {count} corners; 3 to {MAX_CORNERS} are accepted")

    @property
    def settings(self) -> dict[str, Any]:
        """The recipe fields it replaces."""
        return {name: getattr(self, name) for name in REGION_FIELDS}

    @property
    def box(self) -> tuple[int, int, int, int]:
        """(x, y, width, height) about it."""
        xs, ys = [c[0] for c in self.corners], [c[1] for c in self.corners]
        return min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)


REGION_FIELDS = ("method", "threshold", "auto_threshold", "strength", "window", "pattern")


def _outline(region: Region) -> npt.NDArray[np.float64]:
    if region.shape == "lasso":
        return np.array(region.corners, np.float64)
    (x0, y0), (x1, y1) = region.corners
    return np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], np.float64)


def region_mask(region: Region, size: tuple[int, int]) -> npt.NDArray[np.bool_]:
    """(H, W) whether each pixel of a picture of `size` (width, height) belongs to the region."""
    width, height = size
    inside = np.zeros((height, width), np.bool_)
    outline = _outline(region)
    following = np.roll(outline, -1, axis=0)
    for y in range(max(0, int(outline[:, 1].min())), min(height, int(np.ceil(outline[:, 1].max())))):
        level = y + 0.5
        crossing = (outline[:, 1] <= level) != (following[:, 1] <= level)
        (x0, y0), (x1, y1) = outline[crossing].T, following[crossing].T
        for left, right in np.sort(x0 + (level - y0) * (x1 - x0) / (y1 - y0)).reshape(-1, 2):
            # Half-open: a centre exactly on the left edge belongs, one on the right edge does not.
            inside[y, max(0, int(np.ceil(left - 0.5))) : max(0, int(np.ceil(right - 0.5)))] = True
    return inside


Run = tuple[Place, Place, Annotated[int, Meta(ge=1, le=65535)], Annotated[int, Meta(ge=0, le=0xFFFFFF)]]
"""Pixels set by hand, side by side: x, y, how many, and their palette index, or 0xRRGGBB on panels without a palette."""
MAX_RUNS = 6000


def painted(pixels: npt.NDArray[np.uint8], runs: tuple[Run, ...]) -> npt.NDArray[np.uint8]:
    """A copy of (H, W) indices or (H, W, 3) RGB with the runs laid over it; what lies outside is passed over."""
    out = pixels.copy()
    for x, y, count, color in runs:
        if y < out.shape[0]:
            out[y, x : x + count] = color if out.ndim == 2 else (color >> 16, color >> 8 & 255, color & 255)
    return out


def runs_of(cells: dict[tuple[int, int], int]) -> tuple[Run, ...]:
    """Runs, in reading order, of colours by (x, y).

    >>> runs_of({(4, 1): 0, (3, 1): 0, (5, 1): 1, (9, 0): 1})
    ((9, 0, 1, 1), (3, 1, 2, 0), (5, 1, 1, 1))
    """
    runs: list[Run] = []
    for y, x in sorted((y, x) for x, y in cells):
        color = cells[x, y]
        if runs and runs[-1][1] == y and runs[-1][0] + runs[-1][2] == x and runs[-1][3] == color:
            runs[-1] = (runs[-1][0], y, runs[-1][2] + 1, color)
        else:
            runs.append((x, y, 1, color))
    return tuple(runs)


def pixels_of_runs(runs: tuple[Run, ...]) -> dict[tuple[int, int], int]:
    """Colours by (x, y); the inverse of `runs_of`."""
    return {(x + i, y): color for x, y, count, color in runs for i in range(count)}


def with_stroke(runs: tuple[Run, ...], stroke: tuple[tuple[int, int], ...], color: int | None) -> tuple[Run, ...]:
    """The layer with the pixels (x, y) of a stroke set to a colour, or taken off where it is None.

    Raises
    ------
    BadValueError
        The layer would hold more runs than are accepted.
    """
    cells = pixels_of_runs(runs)
    for place in stroke:
        if color is None:
            cells.pop(place, None)
        else:
            cells[place] = color
    made = runs_of(cells)
    if len(made) > MAX_RUNS:
        raise BadValueError(f"the touch-up would hold {len(made):,} rows of pixels; {MAX_RUNS:,} are accepted")
    return made
