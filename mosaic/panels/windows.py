"""Rectangles on the glass, and which of them a partial write can address."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.panels.geometry import Turn, host_view, orientation_of, rect_to_seen, seen_size
from mosaic.panels.passport import Passport


@dataclass(frozen=True)
class Rect:
    """A rectangle in whole pixels: its upper left corner and its size."""

    x: int
    y: int
    width: int
    height: int

    @property
    def right(self) -> int:
        """The column right of it."""
        return self.x + self.width

    @property
    def bottom(self) -> int:
        """The row below it."""
        return self.y + self.height

    @property
    def pixels(self) -> int:
        return self.width * self.height

    def of(self, picture: npt.NDArray[np.uint8]) -> npt.NDArray[np.uint8]:
        """The part of a picture (H, W, ...) that it covers."""
        return picture[self.y : self.bottom, self.x : self.right]


def host_size(passport: Passport, turn: Turn) -> tuple[int, int]:
    """(width, height) of the picture as it is addressed and packed."""
    view = host_view(passport, turn)
    return view.width_px, view.height_px


def rect_to_host(rect: Rect, passport: Passport, turn: Turn) -> Rect:
    """The rectangle as the board addresses it of one before the reader."""
    if passport.controller.turned_by == "controller":
        return rect
    width, height = seen_size(passport, turn)
    x, y, w, h = rect.x, rect.y, rect.width, rect.height
    lies = orientation_of(turn)
    if lies.mirrored:
        x = width - x - w
    back = (-lies.rotation) % 360
    return Rect(*(int(v) for v in rect_to_seen((x, y, w, h), (width, height), back)))  # type: ignore[arg-type]


def rect_from_host(rect: Rect, passport: Passport, turn: Turn) -> Rect:
    """The inverse of `rect_to_host`."""
    if passport.controller.turned_by == "controller":
        return rect
    native = (passport.glass.width_px, passport.glass.height_px)
    return Rect(*(int(v) for v in rect_to_seen((rect.x, rect.y, rect.width, rect.height), native, turn)))


def addressable(rect: Rect, passport: Passport, turn: Turn) -> Rect:
    """The least window (host axes) that holds `rect` (host axes) and that the panel can address."""
    view, grid = host_view(passport, turn), passport.grid
    if grid.whole_frames:
        return Rect(0, 0, view.width_px, view.height_px)
    x, right = _stretched(rect.x, rect.right, view.offset_x, grid.x_px, view.width_px)
    y, bottom = _stretched(rect.y, rect.bottom, view.offset_y, grid.y_px, view.height_px)
    return Rect(x, y, right - x, bottom - y)


def _stretched(first: int, end: int, offset: int, step: int, size: int) -> tuple[int, int]:
    """Start and end on the grid of RAM addresses, no further than the glass."""
    start = (first + offset) // step * step - offset
    stop = -(-(end + offset) // step) * step - offset
    return max(0, start), min(size, stop)


def check_window(rect: Rect, passport: Passport, turn: Turn) -> None:
    """Refuse a window (host axes) that the panel cannot address.

    Raises
    ------
    BadValueError
        It is empty, leaves the glass, or does not begin and end on the panel's grid.
    """
    width, height = host_size(passport, turn)
    if rect.width < 1 or rect.height < 1 or rect.x < 0 or rect.y < 0 or rect.right > width or rect.bottom > height:
        raise BadValueError(f"a window of {rect.width} × {rect.height} at {rect.x}, {rect.y} is not on {width} × {height} pixels")
    if addressable(rect, passport, turn) != rect:
        raise BadValueError(f"this panel cannot address the window at {rect.x}, {rect.y}: it takes {passport.grid.in_words()}")


def changed_rect(before: npt.NDArray[np.uint8], after: npt.NDArray[np.uint8]) -> Rect | None:
    """The least rectangle that holds every pixel in which two pictures (H, W, ...) differ; None where none does."""
    differs = before != after
    if differs.ndim == 3:
        differs = differs.any(axis=2)
    rows, columns = np.flatnonzero(differs.any(axis=1)), np.flatnonzero(differs.any(axis=0))
    if not len(rows):
        return None
    return Rect(int(columns[0]), int(rows[0]), int(columns[-1] - columns[0] + 1), int(rows[-1] - rows[0] + 1))
