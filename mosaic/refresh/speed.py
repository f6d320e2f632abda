"""How fast a screen, an element, a change from state to state is, in four ways: directly, in pages, from one buffer, from two.

Panels that draw by themselves have one more: their own commands.

* directly: each run of a colour is a window of its own; nothing is kept.
* in pages: a band of rows is kept; the drawing code runs once for each band, and the bands follow each other on the wire.
* full: one frame is kept; what has changed is drawn into it, and sent.
* double: two frames; the next is drawn while the one before is sent, where the board sends by itself.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
import numpy.typing as npt

from mosaic.device.bands import band_bytes, band_counts
from mosaic.device.device import Device
from mosaic.panels.windows import Rect, addressable, host_size, rect_from_host, rect_to_host
from mosaic.refresh.costs import Cost, Wire
from mosaic.refresh.direct import direct_boxes
from mosaic.refresh.own import own_cost
from mosaic.refresh.pace import runs_ms, work_ms
from mosaic.screens.calls import Call
from mosaic.screens.plan import reached_by
from mosaic.screens.rendering import Rendered
from mosaic.screens.updates import changes, link_of
from mosaic.screens.work import Work, work_of

Slug = Literal["direct", "own", "pages", "full", "double"]
PAGE_ROWS = 8


@dataclass(frozen=True)
class Way:
    """One of the four ways: RAM for it, how often the drawing code runs, what it costs, and what a frame takes.

    `why_not` says why it cannot be done; then the rest is nothing.
    """

    slug: Slug
    ram_bytes: int = 0
    passes: int = 1
    cost: Cost = field(default=Cost())
    total_ms: float = 0.0
    why_not: str = ""


def why_not_direct(device: Device) -> str:
    """Why single runs cannot be sent to a panel; "" where they can."""
    grid = device.passport.grid
    if device.passport.scan is not None:
        return "the panel has no memory of its own: the board holds the frame"
    if grid.whole_frames:
        return "the panel takes whole frames only"
    if grid.x_px > 1 or grid.y_px > 1:
        return f"a window begins and ends on {grid.x_px} × {grid.y_px} px, and what stands beside would be lost"
    return ""


def page_bands(device: Device, pages: int) -> int | None:
    """In how many bands a frame is drawn that are at least so many pages high; None where it cannot be cut so."""
    form, glass = device.passport.format, device.passport.glass
    wanted = (glass.width_px if form.follow == "columns" else glass.height_px) / (pages * PAGE_ROWS)
    return next((count for count in reversed(band_counts(device.passport)) if count <= wanted), None)


def frame_ways(rendered: Rendered, wire: Wire) -> dict[Slug, Way]:
    """A whole frame of a screen, in the four ways."""
    device = rendered.device
    calls = list(rendered.calls)
    work = work_of(calls, device.size)
    drawn, sent = work_ms(work, device, wire.pace), wire.frame()
    found: dict[Slug, Way] = {}
    why = why_not_direct(device)
    if why:
        found["direct"] = Way("direct", why_not=why)
    else:
        boxes = direct_boxes(calls, device.size)
        cost = replace(wire.boxes(boxes), draw_ms=runs_ms(sum(boxes.values()), device, wire.pace))
        found["direct"] = Way("direct", 0, 1, cost, cost.draw_ms + cost.wire_ms)
    own = own_cost(rendered, wire)
    if own is not None:
        found["own"] = Way("own", 0, 1, own, own.draw_ms + own.wire_ms)
    bands = page_bands(device, 1)
    if device.passport.scan is not None or bands is None or bands < 2:
        found["pages"] = Way("pages", why_not=why if device.passport.scan is not None else "a frame cannot be cut into bands")
    else:
        again = runs_ms(work.runs, device, wire.pace) * (bands - 1)
        cost = replace(sent, draw_ms=drawn + again)
        found["pages"] = Way("pages", band_bytes(device.passport, bands), bands, cost, cost.draw_ms + cost.wire_ms)
    whole = replace(sent, draw_ms=drawn)
    size = device.passport.frame_bytes
    found["full"] = Way("full", size, 1, whole, drawn + sent.wire_ms)
    found["double"] = Way("double", 2 * size, 1, whole, max(drawn, sent.wire_ms))
    return found


@dataclass(frozen=True)
class Change:
    """What a change from one state to another of a screen takes: its windows, drawn anew in them and sent."""

    windows: tuple[Rect, ...]
    cost: Cost


@dataclass(frozen=True, eq=False)
class Layers:
    """How often each pixel of a glass is laid by some calls, summed up from the upper left; and how many runs they come to."""

    sums: npt.NDArray[np.int64]
    runs: int

    @staticmethod
    def of(calls: Sequence[Call], size: tuple[int, int]) -> "Layers":
        width, height = size
        laid = np.zeros((height + 1, width + 1), np.int64)
        for one in split_calls(calls):
            laid[1:, 1:] += reached_by(one, size)
        return Layers(laid.cumsum(axis=0).cumsum(axis=1), work_of(calls, size).runs)

    def work(self, window: Rect) -> Work:
        """What drawing all of it costs where only a window can be drawn on: every run is found, pixels inside are laid."""
        sums, (x, y, right, bottom) = self.sums, (window.x, window.y, window.right, window.bottom)
        return Work(int(sums[bottom, right] - sums[y, right] - sums[bottom, x] + sums[y, x]), self.runs)


def split_calls(calls: Sequence[Call]) -> list[list[Call]]:
    """Each call that draws by itself, inside of the box that counts for it."""
    found, around = [], list[Call]()
    for call in calls:
        if call.name in ("within", "beyond"):
            around = [call] if call.name == "within" else []
        else:
            found.append([*around, call])
    return found


def bands_of(window: Rect, device: Device) -> int:
    """In how many bands of the device's buffer a window is drawn."""
    if device.buffer_bands <= 1:
        return 1
    form, (width, height) = device.passport.format, host_size(device.passport, device.turn)
    first, end, length = (window.x, window.right, width) if form.follow == "columns" else (window.y, window.bottom, height)
    rows = -(-length // device.buffer_bands)
    return (end - 1) // rows - first // rows + 1


def change_cost(before: Rendered, now: Rendered, wire: Wire) -> Change:
    """A change as the runtime does it: windows found, everything drawn anew in each of them, and sent."""
    device = now.device
    windows = changes(before, now, link_of(device))
    if not windows:
        return Change((), Cost())
    layers, total = Layers.of(list(now.calls), device.size), Cost()
    for window in windows:
        work = layers.work(rect_from_host(window, device.passport, device.turn))
        passes = bands_of(window, device)
        total += replace(wire.window(window), draw_ms=work_ms(Work(work.pixels, work.runs * passes), device, wire.pace))
    return Change(tuple(windows), total)


@dataclass(frozen=True)
class ElementCost:
    """An element by itself: drawn into a buffer, sent as the window round it, or drawn directly (None where it cannot be)."""

    ident: str
    name: str
    buffered: Cost
    direct: Cost | None


def element_costs(rendered: Rendered, wire: Wire) -> list[ElementCost]:
    """What each element that is shown costs by itself, in drawing order."""
    device = rendered.device
    direct = not why_not_direct(device)
    found = []
    for one in rendered.drawn:
        calls = list(one.calls)
        work = work_of(calls, device.size)
        boxes = direct_boxes(calls, device.size) if direct else None
        cost = replace(wire.boxes(boxes), draw_ms=runs_ms(sum(boxes.values()), device, wire.pace)) if boxes is not None else None
        mine = rendered.traces.get(one.element.id)
        buffered = Cost(draw_ms=work_ms(work, device, wire.pace))
        if mine is not None and mine.any():
            buffered = replace(wire.window(_around(mine, device)), draw_ms=work_ms(work, device, wire.pace))
        found.append(ElementCost(one.element.id, rendered.kit.called(one.element), buffered, cost))
    return found


def _around(mine: npt.NDArray[np.bool_], device: Device) -> Rect:
    """The window round some pixels, as the board addresses it."""
    rows, columns = np.flatnonzero(mine.any(axis=1)), np.flatnonzero(mine.any(axis=0))
    box = Rect(int(columns[0]), int(rows[0]), int(columns[-1] - columns[0] + 1), int(rows[-1] - rows[0] + 1))
    if device.passport.grid.whole_frames:
        return Rect(0, 0, *host_size(device.passport, device.turn))
    return addressable(rect_to_host(box, device.passport, device.turn), device.passport, device.turn)


@dataclass(frozen=True)
class KindSpeed:
    """All elements of a kind together, in ms: directly by a clock that the program makes, directly by the link, from a buffer."""

    kind: str
    count: int
    by_program_ms: float
    direct_ms: float
    buffered_ms: float

    @property
    def hardware_brings(self) -> float:
        """How many times as long it takes without the link's own clock."""
        return self.by_program_ms / self.direct_ms if self.direct_ms else 1.0

    @property
    def buffer_brings(self) -> float:
        """How many times as long it takes directly as from a buffer; under 1 the buffer is the slower one."""
        return self.direct_ms / self.buffered_ms if self.buffered_ms else 1.0


def by_kind(rendered: Rendered, wire: Wire, by_program: Wire) -> list[KindSpeed]:
    """Kinds of elements, those that a buffer or the link brings most first, and all of them together as the last.

    The ratio of the whole is that of the sums: a mean of ratios would count a dot as much as a picture. Empty where nothing can
    be drawn directly.
    """
    if why_not_direct(rendered.device):
        return []
    sums: dict[str, list[float]] = {}
    for one in element_costs(rendered, wire):
        element = next(e for e in rendered.screen.elements if e.id == one.ident)
        calls = next(list(drawn.calls) for drawn in rendered.drawn if drawn.element.id == one.ident)
        slow = by_program.boxes(direct_boxes(calls, rendered.device.size))
        direct = one.direct or Cost()
        found = sums.setdefault(element.kind, [0, 0.0, 0.0, 0.0])
        found[0] += 1
        found[1] += direct.draw_ms + slow.wire_ms
        found[2] += direct.draw_ms + direct.wire_ms
        found[3] += one.buffered.draw_ms + one.buffered.wire_ms
    kinds = [KindSpeed(kind, int(count), *rest) for kind, (count, *rest) in sums.items()]
    kinds.sort(key=lambda one: max(one.direct_ms - one.buffered_ms, one.by_program_ms - one.direct_ms), reverse=True)
    if not kinds:
        return []
    total = KindSpeed(
        "all together", sum(one.count for one in kinds), sum(one.by_program_ms for one in kinds),
        sum(one.direct_ms for one in kinds), sum(one.buffered_ms for one in kinds),
    )  # fmt: skip
    return [*kinds, total]


def scan_bytes_s(device: Device) -> float:
    """Bytes a second that a panel without a memory of its own takes for being scanned, besides all drawing; 0 for others.

    The pixel clock times the bytes of a pixel.
    """
    if device.passport.scan is None:
        return 0.0
    return device.clock_hz * device.passport.format.bits / 8
