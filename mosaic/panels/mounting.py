"""Mounting: where glass, holes and a bezel's opening lie, in millimetres before the reader."""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
import numpy.typing as npt
from msgspec import Meta

from mosaic.panels.geometry import Turn, glass_mask, orientation_of, rect_to_seen, seen_outline_mm, to_seen
from mosaic.panels.glass import NotNegative, Positive, area_corner_mm
from mosaic.panels.passport import Passport
from mosaic.quantities import how_many

MARGIN_MM = 0.5
"""Room between the active area and a bezel that hides nothing of it."""
# Edges are cut to no better than this; less than this over a pixel hides nothing.
TOLERANCE_MM = 0.01
SIDES = ("top", "right", "bottom", "left")


@dataclass(frozen=True)
class Rect:
    """A rectangle in mm, from the module's upper left corner as the reader sees it."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        return self.x + self.width

    @property
    def bottom(self) -> float:
        return self.y + self.height

    @property
    def middle(self) -> tuple[float, float]:
        return self.x + self.width / 2, self.y + self.height / 2


@dataclass(frozen=True)
class Opening:
    """The window of a bezel, in mm from the module's upper left corner as the reader sees it.

    `corner_mm` rounds its corners; a radius of half its smaller side makes it round.
    """

    x_mm: Annotated[float, Meta(ge=-500, le=500)]
    y_mm: Annotated[float, Meta(ge=-500, le=500)]
    width_mm: Positive
    height_mm: Positive
    corner_mm: NotNegative = 0.0


@dataclass(frozen=True)
class MountingPlan:
    """A module as the reader sees it: outline, active area, holes, the connector's side."""

    outline: Rect
    area: Rect
    holes: tuple[tuple[float, float, float], ...]
    connector: str
    stack_mm: float


def mounting_plan(passport: Passport, turn: Turn) -> MountingPlan:
    """Everything of a module in mm before the reader; holes are (x, y, diameter)."""
    glass, module = passport.glass, passport.module
    size = (glass.outline_width_mm, glass.outline_height_mm)
    area = rect_to_seen((*area_corner_mm(glass, module), glass.width_mm, glass.height_mm), size, turn)
    holes = []
    for hole in module.holes:
        x, y, _, _ = rect_to_seen((hole.x_mm, hole.y_mm, 0.0, 0.0), size, turn)
        holes.append((round(x, 4), round(y, 4), hole.diameter_mm))
    return MountingPlan(
        Rect(0.0, 0.0, *seen_outline_mm(passport, turn)), Rect(*area), tuple(holes), seen_side(module.connector, turn),
        module.stack_mm,
    )  # fmt: skip


def seen_side(side: str, turn: Turn) -> str:
    """The side on which a native side lies before the reader.

    >>> seen_side("bottom", 90), seen_side("top", 180)
    ('left', 'bottom')
    """
    lies = orientation_of(turn)
    shown = SIDES[(SIDES.index(side) + lies.index) % 4]
    return {"left": "right", "right": "left"}.get(shown, shown) if lies.mirrored else shown


def fitting_opening(passport: Passport, turn: Turn, margin_mm: float = MARGIN_MM) -> Opening:
    """The smallest opening that hides nothing, with a margin all around."""
    area, glass = mounting_plan(passport, turn).area, passport.glass
    corner = {"rect": 0.0, "rounded": glass.corner_mm + margin_mm, "round": min(area.width, area.height) / 2 + margin_mm}
    return Opening(
        round(area.x - margin_mm, 3), round(area.y - margin_mm, 3), round(area.width + 2 * margin_mm, 3),
        round(area.height + 2 * margin_mm, 3), round(corner[glass.shape], 3),
    )  # fmt: skip


@dataclass(frozen=True)
class Hidden:
    """What a bezel hides: pixels, and how many whole or partly covered columns and rows at each edge."""

    pixels: int
    left: int
    top: int
    right: int
    bottom: int

    def in_words(self) -> str:
        """For a finding: "3 columns at the left, 2 rows at the top"."""
        sides = [
            (self.left, "column", "left"), (self.right, "column", "right"),
            (self.top, "row", "top"), (self.bottom, "row", "bottom"),
        ]  # fmt: skip
        words = [f"{how_many(count, what)} at the {side}" for count, what, side in sides if count]
        return ", ".join(words) or "corners only"


def seen_pixels(passport: Passport, turn: Turn, opening: Opening | None = None) -> npt.NDArray[np.bool_]:
    """(H, W) before the reader: which pixels lie under the glass, and wholly inside the bezel's opening if there is one."""
    mask = to_seen(glass_mask(passport).astype(np.uint8), turn).astype(bool)
    return mask if opening is None else mask & _open_pixels(mask.shape, mounting_plan(passport, turn).area, opening)


def hidden_pixels(passport: Passport, turn: Turn, opening: Opening) -> Hidden:
    """Pixels of the visible glass of which some part lies behind the bezel."""
    mask = seen_pixels(passport, turn)
    open_ = _open_pixels(mask.shape, mounting_plan(passport, turn).area, opening)
    hidden = mask & ~open_
    # An edge's column counts when it is hidden along the whole middle of the glass, not only at a corner.
    row, column = open_[mask.shape[0] // 2], open_[:, mask.shape[1] // 2]
    return Hidden(int(hidden.sum()), *(_leading(line) for line in (row, column, row[::-1], column[::-1])))


def _leading(is_open: np.ndarray) -> int:
    """How many pixels from the start are hidden; all of them if none is open."""
    return int(np.argmax(is_open)) if is_open.any() else len(is_open)


def _open_pixels(shape: tuple[int, int], area: Rect, opening: Opening) -> np.ndarray:
    """(H, W) of bool: whether all four corners of a pixel lie inside the opening."""
    height, width = shape
    x = area.x + np.arange(width + 1) * area.width / width - opening.x_mm
    y = area.y + np.arange(height + 1) * area.height / height - opening.y_mm
    radius = min(opening.corner_mm, opening.width_mm / 2, opening.height_mm / 2)
    beyond_x = _beyond(x, opening.width_mm, radius)
    beyond_y = _beyond(y, opening.height_mm, radius)
    straight = (beyond_x[None, :] <= 0) | (beyond_y[:, None] <= 0)
    within = (beyond_x <= radius + TOLERANCE_MM)[None, :] & (beyond_y <= radius + TOLERANCE_MM)[:, None]
    arc = np.maximum(0, beyond_x)[None, :] ** 2 + np.maximum(0, beyond_y)[:, None] ** 2 <= (radius + TOLERANCE_MM) ** 2
    corner = within & (straight | arc)
    return corner[:-1, :-1] & corner[1:, :-1] & corner[:-1, 1:] & corner[1:, 1:]


def _beyond(at: np.ndarray, size: float, radius: float) -> np.ndarray:
    """How far a line lies beyond the centres of the corner circles at either end; at most radius inside."""
    return np.maximum(radius - at, at - (size - radius))
