"""Where a picture lands: turning, mirroring and RAM offsets.

A panel lies before its reader turned clockwise by some quarter turns, and may then be mirrored
left to right (transparent glass seen from behind, or a picture thrown by a mirror). The
reader's array "seen" is the native one turned and then mirrored. Mirroring top to bottom is
mirroring left to right after another half turn, so that these eight cases are all there are.
"""

from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

from mosaic.panels.passport import Passport, Rotation

T = TypeVar("T", int, float)


@dataclass(frozen=True)
class Orientation:
    """How the native glass lies before its reader: turned clockwise, then mirrored left to right."""

    rotation: Rotation = 0
    mirrored: bool = False

    def turned(self, degrees: int) -> "Orientation":
        """Turned on by `degrees` clockwise, as the reader sees it."""
        # A turn made after mirroring runs the other way round when it is put before it.
        step = -degrees if self.mirrored else degrees
        return Orientation((self.rotation + step) % 360, self.mirrored)  # type: ignore[arg-type]

    def mirrored_across(self) -> "Orientation":
        """Left and right exchanged, as the reader sees them."""
        return Orientation(self.rotation, not self.mirrored)

    def mirrored_down(self) -> "Orientation":
        """Top and bottom exchanged, as the reader sees them."""
        return self.turned(180).mirrored_across()

    @property
    def index(self) -> int:
        """Number of quarter turns."""
        return self.rotation // 90

    def in_words(self) -> str:
        """For a reader: "as it scans", "turned 90° clockwise, mirrored"."""
        turned = f"turned {self.rotation}° clockwise" if self.rotation else ""
        return ", ".join(filter(None, (turned, "mirrored" if self.mirrored else ""))) or "as it scans"


Turn = Rotation | Orientation
"""Degrees alone mean not mirrored."""


def orientation_of(turn: Turn) -> Orientation:
    """The orientation of a turn given either way."""
    return turn if isinstance(turn, Orientation) else Orientation(turn)


@dataclass(frozen=True)
class HostView:
    """The panel as the board addresses it at one orientation: size and first RAM column and row."""

    width_px: int
    height_px: int
    offset_x: int
    offset_y: int


def _sides(width: T, height: T, turn: Turn) -> tuple[T, T]:
    return (height, width) if orientation_of(turn).rotation % 180 else (width, height)


def seen_size(passport: Passport, turn: Turn) -> tuple[int, int]:
    """(width, height) in pixels before the reader."""
    return _sides(passport.glass.width_px, passport.glass.height_px, turn)


def seen_size_mm(passport: Passport, turn: Turn) -> tuple[float, float]:
    """(width, height) of the active area in mm before the reader."""
    return _sides(passport.glass.width_mm, passport.glass.height_mm, turn)


def seen_outline_mm(passport: Passport, turn: Turn) -> tuple[float, float]:
    """(width, height) of the module in mm before the reader."""
    return _sides(passport.glass.outline_width_mm, passport.glass.outline_height_mm, turn)


def host_view(passport: Passport, turn: Turn) -> HostView:
    """Size and offsets that the board's addresses need.

    Where the controller turns, swapped axes swap the offsets, and a mirrored axis counts from
    the other end of the RAM: RAM size - size - offset.
    """
    glass, ram, lies = passport.glass, passport.ram, orientation_of(turn)
    if passport.controller.turned_by == "picture":
        return HostView(glass.width_px, glass.height_px, ram.offset_x, ram.offset_y)
    near = (ram.offset_x, ram.offset_y)
    far = (ram.width_px - glass.width_px - ram.offset_x, ram.height_px - glass.height_px - ram.offset_y)
    # For each quarter turn: the native axis (0 x, 1 y) that the reader's x runs along, and
    # whether x, and y, run against their native axes.
    axis, x_against, y_against = ((0, False, False), (1, True, False), (0, True, True), (1, False, True))[lies.index]
    x_against ^= lies.mirrored
    width, height = seen_size(passport, lies)
    return HostView(width, height, (far if x_against else near)[axis], (far if y_against else near)[1 - axis])


def turn_code(passport: Passport, turn: Turn) -> int:
    """Value of the controller's memory access setting for this orientation."""
    lies = orientation_of(turn)
    codes = passport.controller.mirror_codes if lies.mirrored else passport.controller.turn_codes
    return codes[lies.index]


def to_native(seen: npt.NDArray[np.uint8], turn: Turn) -> npt.NDArray[np.uint8]:
    """The array (H, W, ...) in native axes of one in the reader's."""
    lies = orientation_of(turn)
    return np.ascontiguousarray(np.rot90(seen[:, ::-1] if lies.mirrored else seen, lies.index))


def to_seen(native: npt.NDArray[np.uint8], turn: Turn) -> npt.NDArray[np.uint8]:
    """The array (H, W, ...) in the reader's axes of a native one; the inverse of `to_native`."""
    lies = orientation_of(turn)
    turned = np.rot90(native, -lies.index)
    return np.ascontiguousarray(turned[:, ::-1] if lies.mirrored else turned)


def to_host(seen: npt.NDArray[np.uint8], passport: Passport, turn: Turn) -> npt.NDArray[np.uint8]:
    """The array in the order in which it is packed: turned only where the controller does not turn."""
    return seen if passport.controller.turned_by == "controller" else to_native(seen, turn)


def from_host(host: npt.NDArray[Any], passport: Passport, turn: Turn) -> npt.NDArray[Any]:
    """The inverse of `to_host`."""
    return host if passport.controller.turned_by == "controller" else to_seen(host, turn)


def rect_to_seen(
    rect: tuple[float, float, float, float], size: tuple[float, float], turn: Turn
) -> tuple[float, float, float, float]:
    """(x, y, width, height) before the reader of a native rectangle inside a native `size`.

    >>> rect_to_seen((1, 2, 3, 4), (10, 20), 90)
    (14, 1, 4, 3)
    """
    lies = orientation_of(turn)
    (x, y, width, height), (full_width, full_height) = rect, size
    for _ in range(lies.index):
        x, y, width, height = full_height - y - height, x, height, width
        full_width, full_height = full_height, full_width
    return (full_width - x - width if lies.mirrored else x, y, width, height)


def zone_bands(passport: Passport) -> list[tuple[str, int, int]]:
    """(name, first row, row behind the last) of every zone and of the rows between them, native, from the top."""
    bands: list[tuple[str, int, int]] = []
    at = 0
    for zone in sorted(passport.zones, key=lambda z: z.first_row):
        if zone.first_row > at:
            bands.append(("rest", at, zone.first_row))
        at = zone.first_row + zone.rows
        bands.append((zone.name, zone.first_row, at))
    if at < passport.glass.height_px:
        bands.append(("rest", at, passport.glass.height_px))
    return bands


def seen_zones(passport: Passport, turn: Turn) -> list[tuple[int, int, int, int]]:
    """(x, y, width, height) before the reader of every band of `zone_bands`, from the top left on."""
    size = (passport.glass.width_px, passport.glass.height_px)
    boxes = [rect_to_seen((0, first, size[0], end - first), size, turn) for _, first, end in zone_bands(passport)]
    whole = [(int(x), int(y), int(width), int(height)) for x, y, width, height in boxes]
    return sorted(whole, key=lambda box: (box[1], box[0]))


def glass_mask(passport: Passport) -> npt.NDArray[np.bool_]:
    """(H, W) native: which pixels lie under the visible glass.

    Round glass is an ellipse that fills the area; rounded glass lacks what lies outside the
    quarter circles of its corners. A pixel counts by its centre.
    """
    glass = passport.glass
    width, height = glass.width_px, glass.height_px
    y, x = np.ogrid[0:height, 0:width]
    if glass.shape == "round":
        return ((x + 0.5) / width - 0.5) ** 2 + ((y + 0.5) / height - 0.5) ** 2 <= 0.25
    if glass.shape == "rounded":
        radius = glass.corner_mm
        # How far a pixel's centre lies beyond the centres of the corner circles, in mm.
        beyond_x = np.maximum(0, radius - (np.minimum(x, width - 1 - x) + 0.5) * glass.width_mm / width)
        beyond_y = np.maximum(0, radius - (np.minimum(y, height - 1 - y) + 0.5) * glass.height_mm / height)
        return beyond_x**2 + beyond_y**2 <= radius**2
    return np.ones((height, width), bool)
