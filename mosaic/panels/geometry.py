"""Where a picture lands: rotation, mirroring and RAM offsets.

`rotation` is how far the native glass is turned clockwise for its reader. The reader's array
"seen" is then the native one turned by as much.
"""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.panels.passport import Passport, Rotation


@dataclass(frozen=True)
class HostView:
    """The panel as the board addresses it at one rotation: size and first RAM column and row."""

    width_px: int
    height_px: int
    offset_x: int
    offset_y: int


def seen_size(passport: Passport, rotation: Rotation) -> tuple[int, int]:
    """(width, height) in pixels before the reader."""
    glass = passport.glass
    return (glass.height_px, glass.width_px) if rotation % 180 else (glass.width_px, glass.height_px)


def seen_size_mm(passport: Passport, rotation: Rotation) -> tuple[float, float]:
    """(width, height) of the active area in mm before the reader."""
    glass = passport.glass
    return (glass.height_mm, glass.width_mm) if rotation % 180 else (glass.width_mm, glass.height_mm)


def seen_outline_mm(passport: Passport, rotation: Rotation) -> tuple[float, float]:
    """(width, height) of the module in mm before the reader."""
    glass = passport.glass
    size = (glass.outline_width_mm, glass.outline_height_mm)
    return size[::-1] if rotation % 180 else size


def host_view(passport: Passport, rotation: Rotation) -> HostView:
    """Size and offsets that the board's addresses need.

    Where the controller turns, swapped axes swap the offsets, and a mirrored axis counts from
    the other end of the RAM: RAM size - size - offset.
    """
    glass, ram = passport.glass, passport.ram
    if passport.controller.turned_by == "picture":
        return HostView(glass.width_px, glass.height_px, ram.offset_x, ram.offset_y)
    far_x = ram.width_px - glass.width_px - ram.offset_x
    far_y = ram.height_px - glass.height_px - ram.offset_y
    offset_x, offset_y = {
        0: (ram.offset_x, ram.offset_y),
        90: (far_y, ram.offset_x),
        180: (far_x, far_y),
        270: (ram.offset_y, far_x),
    }[rotation]
    width, height = seen_size(passport, rotation)
    return HostView(width, height, offset_x, offset_y)


def to_native(seen: npt.NDArray[np.uint8], rotation: Rotation) -> npt.NDArray[np.uint8]:
    """The array (H, W, ...) in native axes of one in the reader's."""
    return np.ascontiguousarray(np.rot90(seen, rotation // 90))


def to_seen(native: npt.NDArray[np.uint8], rotation: Rotation) -> npt.NDArray[np.uint8]:
    """The array (H, W, ...) in the reader's axes of a native one; the inverse of `to_native`."""
    return np.ascontiguousarray(np.rot90(native, -(rotation // 90)))


def to_host(seen: npt.NDArray[np.uint8], passport: Passport, rotation: Rotation) -> npt.NDArray[np.uint8]:
    """The array in the order in which it is packed: turned only where the controller does not turn."""
    return seen if passport.controller.turned_by == "controller" else to_native(seen, rotation)


def from_host(host: npt.NDArray[np.uint8], passport: Passport, rotation: Rotation) -> npt.NDArray[np.uint8]:
    """The inverse of `to_host`."""
    return host if passport.controller.turned_by == "controller" else to_seen(host, rotation)


def glass_mask(passport: Passport) -> npt.NDArray[np.bool_]:
    """(H, W) native: which pixels lie under the visible glass (a disc where it is round)."""
    width, height = passport.glass.width_px, passport.glass.height_px
    if passport.glass.shape == "rect":
        return np.ones((height, width), bool)
    y, x = np.mgrid[0:height, 0:width]
    return ((x + 0.5) / width - 0.5) ** 2 + ((y + 0.5) / height - 0.5) ** 2 <= 0.25
