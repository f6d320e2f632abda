"""How one screen follows another: at once, wiped in or slid in, and what that costs on the wire."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.behaviour.behaviour import Change, Side
from mosaic.device.device import Device
from mosaic.links import total_s, wire_steps
from mosaic.panels.windows import Rect, addressable, host_size, rect_to_host
from mosaic.panels.wire import window_parts

Pixels = npt.NDArray[np.int32]


@dataclass(frozen=True)
class ChangeCost:
    """What a change of screens takes: windows, bytes, ms on the link and of the panel's refresh, and the bytes in frames."""

    windows: int
    sent_bytes: int
    link_ms: float
    refresh_ms: float
    frames: float


def allowed(device: Device, change: Change) -> bool:
    """Whether a panel can take a change: one that takes a refresh for each step only takes cuts."""
    return change == "cut" or not (device.passport.refresh or device.passport.grid.whole_frames)


def strip(change: Change, side: Side, step: int, steps: int, size: tuple[int, int]) -> Rect:
    """What is sent in step 1..steps, as the reader sees it: of a wipe the next strip, of a slide all that has come in so far.

    >>> strip("wipe", "left", 1, 4, (128, 64)), strip("slide", "up", 2, 4, (128, 64))
    (Rect(x=96, y=0, width=32, height=64), Rect(x=0, y=32, width=128, height=32))
    """
    width, height = size
    length = width if side in ("left", "right") else height
    before, now = (length * (step - 1) // steps if change == "wipe" else 0), length * step // steps
    low, high = (length - now, length - before) if side in ("left", "up") else (before, now)
    return Rect(low, 0, high - low, height) if side in ("left", "right") else Rect(0, low, width, high - low)


def frames(before: Pixels, now: Pixels, change: Change, side: Side, steps: int) -> list[Pixels]:
    """(H, W) the glass after each step, from one screen to another, the last of them the new one. What slides covers the old."""
    height, width = before.shape
    found = []
    for step in range(1, (steps if change != "cut" else 1) + 1):
        shown = before.copy()
        box = Rect(0, 0, width, height) if change == "cut" else strip("slide", side, step, steps, (width, height))
        if change == "slide":
            shown[box.y : box.bottom, box.x : box.right] = slid(now, side, box)
        else:
            shown[box.y : box.bottom, box.x : box.right] = now[box.y : box.bottom, box.x : box.right]
        found.append(shown)
    return found


def slid(now: Pixels, side: Side, box: Rect) -> Pixels:
    """The part of a screen that has come in: its leading edge goes first."""
    height, width = now.shape
    if side == "left":
        return now[:, : box.width]
    if side == "right":
        return now[:, width - box.width :]
    return now[: box.height] if side == "up" else now[height - box.height :]


def window_cost(device: Device, window: Rect) -> tuple[int, float]:
    """Bytes of pixels of a window, as the board addresses it, and the ms that it takes on the link with all that goes before."""
    count = device.passport.format.frame_bytes(window.width, window.height)
    parts = window_parts(device.passport, device.turn, window, bytes(count))
    return count, float(total_s(wire_steps(parts, device.link))) * 1000


def cost_of(device: Device, change: Change, side: Side, steps: int) -> ChangeCost:
    """What a change costs, with the panel's own windows."""
    passport = device.passport
    if change == "cut" or not allowed(device, change):
        windows = [Rect(0, 0, *host_size(passport, device.turn))]
    else:
        strips = [strip(change, side, step, steps, device.size) for step in range(1, steps + 1)]
        windows = [addressable(rect_to_host(one, passport, device.turn), passport, device.turn) for one in strips if one.pixels]
    whole = passport.format.frame_bytes(*host_size(passport, device.turn))
    costs = [window_cost(device, window) for window in windows]
    size, ms = sum(one[0] for one in costs), sum(one[1] for one in costs)
    return ChangeCost(len(windows), size, ms, passport.refresh[0].time_ms if passport.refresh else 0.0, size / whole)
