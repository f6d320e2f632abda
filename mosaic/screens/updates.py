"""What is drawn and sent anew from one state to the next, by the rules of docs/updates.md, as `mosaic/firmware/update.c`."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.device.device import Device
from mosaic.drawing.surface import Surface
from mosaic.errors import BadValueError
from mosaic.links import total_s, wire_steps
from mosaic.panels.geometry import host_view
from mosaic.panels.windows import Rect, addressable, host_size, rect_to_host
from mosaic.panels.wire import window_parts
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.calls import Call, Image, Past, draw
from mosaic.screens.rendering import Rendered

ROOM = 16
"""Windows that are kept at most."""


@dataclass(frozen=True)
class UpdateLink:
    """How a panel takes windows.

    Attributes
    ----------
    grid_x, grid_y, offset_x, offset_y : where windows begin and end in the panel's memory, and where the glass begins there.
    whole : only whole frames. setup : bytes of pixels that could be sent while a window is set. bits : of a pixel, all planes.
    """

    grid_x: int
    grid_y: int
    offset_x: int
    offset_y: int
    whole: bool
    setup: int
    bits: int

    def cost(self, window: Rect) -> int:
        """What a window costs, in bytes of pixels."""
        return self.setup + window.pixels * self.bits // 8


def link_of(device: Device) -> UpdateLink:
    """The link of a device, in whole numbers: from windows of two sizes follows what setting one costs."""
    passport, turn = device.passport, device.turn
    fmt, grid, view = passport.format, passport.grid, host_view(passport, turn)
    bits = fmt.bits * len(fmt.planes) if isinstance(fmt, IndexedFormat) else fmt.bits
    width, height = host_size(passport, turn)
    small = addressable(Rect(0, 0, 1, 1), passport, turn)
    large = Rect(0, 0, width, height)
    if grid.whole_frames or small == large:
        return UpdateLink(grid.x_px, grid.y_px, view.offset_x, view.offset_y, True, 0, bits)
    times = []
    for window in (small, large):
        size = fmt.frame_bytes(window.width, window.height)
        try:
            parts = window_parts(passport, turn, window, bytes(size))
        except BadValueError:
            return UpdateLink(grid.x_px, grid.y_px, view.offset_x, view.offset_y, True, 0, bits)
        times.append((float(total_s(wire_steps(parts, device.link))), size))
    (first, few), (second, many) = times
    each = (second - first) / (many - few)
    setup = max(0, round((first - few * each) / each)) if each > 0 else 0
    return UpdateLink(grid.x_px, grid.y_px, view.offset_x, view.offset_y, False, min(setup, 1_000_000), bits)


def both(a: Rect, b: Rect) -> Rect:
    """The least window that holds two."""
    x, y = min(a.x, b.x), min(a.y, b.y)
    return Rect(x, y, max(a.right, b.right) - x, max(a.bottom, b.bottom) - y)


def merge(windows: list[Rect], link: UpdateLink, *, must: bool = False) -> bool:
    """Merge the two windows that save most, in place; where nothing is saved, only if it has to be. Whether it did."""
    best: tuple[int, int, int] | None = None
    for i, a in enumerate(windows):
        for j in range(i + 1, len(windows)):
            saved = link.cost(a) + link.cost(windows[j]) - link.cost(both(a, windows[j]))
            if best is None or saved > best[0]:
                best = saved, i, j
    if best is None or (best[0] < 0 and not must):
        return False
    _, i, j = best
    windows[i] = both(windows[i], windows[j])
    del windows[j]
    return True


def reached(calls: Sequence[Call], width: int, height: int) -> tuple[Rect | None, npt.NDArray[np.int32]]:
    """The box round what calls draw, as the reader sees it, and (H, W) of it; -1 where nothing is drawn."""
    scratch = Surface(np.full((height, width), -1, np.int32))
    draw(scratch, calls)
    inked = scratch.values >= 0
    rows, columns = np.flatnonzero(inked.any(axis=1)), np.flatnonzero(inked.any(axis=0))
    if not len(rows):
        return None, scratch.values
    box = Rect(int(columns[0]), int(rows[0]), int(columns[-1] - columns[0] + 1), int(rows[-1] - rows[0] + 1))
    return box, scratch.values


def _equal(a: Any, b: Any) -> bool:
    if a is b:
        return True
    if isinstance(a, Call):
        return isinstance(b, Call) and a.name == b.name and _equal(a.given, b.given)
    if isinstance(a, tuple):
        return isinstance(b, tuple) and len(a) == len(b) and all(map(_equal, a, b))
    if isinstance(a, Image):
        return isinstance(b, Image) and a.colors == b.colors and np.array_equal(a.pixels, b.pixels)
    if isinstance(a, Past):
        return isinstance(b, Past) and a.readings == b.readings
    if isinstance(a, np.ndarray):
        return isinstance(b, np.ndarray) and np.array_equal(a, b)
    return isinstance(a, (int, str)) and type(a) is type(b) and bool(a == b)


def drawn_alike(before: Sequence[Call], now: Sequence[Call], width: int, height: int) -> bool:
    """Whether an element's calls draw the same pixels, one call after the other."""
    if len(before) != len(now):
        return False
    around: tuple[list[Call], list[Call]] = ([], [])
    for old, new in zip(before, now, strict=True):
        if old.name in ("within", "beyond"):
            around = ([old], [new]) if old.name == "within" else ([], [])
        elif not _equal(old, new) or not _equal(tuple(around[0]), tuple(around[1])):
            end = [Call("beyond", ())] if around[0] else []
            first, second = (
                reached([*about, one, *end], width, height)[1] for about, one in zip(around, (old, new), strict=True)
            )
            if not np.array_equal(first, second):
                return False
    return True


def dynamic_calls(rendered: Rendered) -> dict[str, tuple[Call, ...]]:
    """The calls of each element that follows values, by id, in drawing order; none of one that is not shown."""
    calls = {one.element.id: one.calls for one in rendered.drawn}
    found: dict[str, tuple[Call, ...]] = {}
    for spot in rendered.plan.spots:
        if spot.is_dynamic:
            found.setdefault(spot.owner.id, calls.get(spot.owner.id, ()))
    return found


def changes(before: Rendered, now: Rendered, link: UpdateLink, room: int = ROOM) -> list[Rect]:
    """The windows, as the board addresses them, that differ between two states of one screen."""
    old, new = dynamic_calls(before), dynamic_calls(now)
    return gathered([windows_of(old[ident], calls, now.device, link) for ident, calls in new.items()], link, room)


def windows_of(old: Sequence[Call], new: Sequence[Call], device: Device, link: UpdateLink) -> list[Rect]:
    """The windows of one element: round what it drew and round what it draws; none where that is the same."""
    width, height = device.size
    (before, was), (now, drawn) = (reached(calls, width, height) for calls in (old, new))
    # What looks another way as a whole does so call by call; what looks the same may have been drawn otherwise.
    if np.array_equal(was, drawn) and drawn_alike(old, new, width, height):
        return []
    return boxes_to_send((before, now), device, link)


def boxes_to_send(boxes: Iterable[Rect | None], device: Device, link: UpdateLink) -> list[Rect]:
    """The windows round boxes, as the reader sees them."""
    found = []
    for box in boxes:
        if box is None:
            continue
        host = rect_to_host(box, device.passport, device.turn)
        whole = Rect(0, 0, *host_size(device.passport, device.turn))
        found.append(whole if link.whole else addressable(host, device.passport, device.turn))
    return found


def gathered(by_element: Iterable[Sequence[Rect]], link: UpdateLink, room: int = ROOM) -> list[Rect]:
    """The windows of several elements, put together where that is cheaper, or where more than `room` would have to be kept."""
    windows: list[Rect] = []
    for mine in by_element:
        for one in mine:
            if len(windows) == room:
                merge(windows, link, must=True)
            windows.append(one)
    while merge(windows, link):
        pass
    return windows
