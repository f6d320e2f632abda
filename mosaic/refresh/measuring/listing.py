"""What is timed: single primitives, each element, each screen, and windows of several sizes, with what is expected of each."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from hashlib import sha256
from itertools import pairwise
from math import ceil

from mosaic.device.device import Device
from mosaic.panels.windows import Rect, addressable, host_size, rect_from_host
from mosaic.refresh.costs import Wire
from mosaic.refresh.pace import work_ms
from mosaic.refresh.speed import Layers
from mosaic.screens.calls import Call
from mosaic.screens.plan import Spot
from mosaic.screens.rendering import Rendered
from mosaic.screens.symbols import Way
from mosaic.screens.work import Work

LONG_ENOUGH_US = 20_000
MOST_TIMES = 2000
"""How long a row is timed for, about, and how often it is repeated at most: clocks of boards count microseconds."""
MOST_ROWS = 400


@dataclass(frozen=True)
class Row:
    """One row: its name in the list and in words, how often it is done, and what of.

    Either `call` is a primitive, `block` the name of a function that draws, or `window` what is sent. `us` is how long one takes,
    as far as is known without measuring; `nominal_us` is the part of it that the link's clock makes.
    """

    name: str
    words: str
    times: int
    us: float
    work: Work = field(default=Work())
    nominal_us: float = 0.0
    call: tuple[str, tuple[int, ...]] | None = None
    block: str = ""
    window: Rect | None = None

    @property
    def is_sent(self) -> bool:
        return self.window is not None


@dataclass(frozen=True, eq=False)
class Listing:
    """The list of a build: screens with everything in them known, rows, and how many rows of pixels are drawn into."""

    screens: tuple[tuple[str, Rendered], ...]
    rows: tuple[Row, ...]
    band_rows: int
    device: Device

    @property
    def key(self) -> str:
        """By which pasted answers are known to be of this list."""
        told = [(row.name, row.times, row.work.pixels, row.work.runs, round(row.nominal_us, 3)) for row in self.rows]
        return sha256(repr((told, self.band_rows)).encode()).hexdigest()[:8]


def frozen(rendered: Rendered) -> Rendered:
    """The screen with everything in it known: each element's calls as they are drawn now; a plot as lines."""
    calls: dict[str, list[Call]] = {one.element.id: list(one.calls) for one in rendered.drawn}
    spots, seen = [], set()
    for spot in rendered.plan.spots:
        if spot.owner.id not in calls or spot.owner.id in seen:
            continue
        seen.add(spot.owner.id)
        mine = [made for call in calls[spot.owner.id] for made in _known(call)]
        spots.append(_with(spot, mine))
    plan = replace(rendered.plan, spots=tuple(spots))
    drawn = tuple(
        replace(one, calls=tuple(made for call in one.calls for made in _known(call))) for one in rendered.drawn
    )  # fmt: skip
    return replace(rendered, plan=plan, drawn=drawn)


def _with(spot: Spot, calls: list[Call]) -> Spot:
    return replace(spot, ways=(Way((), calls),))


def _known(call: Call) -> list[Call]:
    if call.name != "plot":
        return [call]
    x, y, w, h, thickness, low, high, past, color = call.given
    count, span = max(2, past.count), max(1, high - low)
    points = [
        (x + (count - len(past.readings) + n) * (w - 1) // (count - 1), y + h - 1 - (raw - low) * (h - 1) // span)
        for n, raw in enumerate(past.readings or ()) if raw is not None
    ]  # fmt: skip
    return [Call("line", (*a, *b, thickness, color), call.element) for a, b in pairwise(points)]


def band_rows_of(device: Device) -> int:
    """How many rows the buffer of the list holds: as many as the build's own, eight at least."""
    width, height = host_size(device.passport, device.turn)
    fmt = device.passport.format
    most = max(device.buffer_bytes, fmt.frame_bytes(width, min(8, height)))
    rows = height
    while rows > 8 and fmt.frame_bytes(width, rows) > most:
        rows = (rows - 1) // 8 * 8
    return rows


def _times(us: float) -> int:
    return min(MOST_TIMES, max(1, ceil(LONG_ENOUGH_US / max(us, 0.01))))


def _primitives(device: Device, band: Rect) -> list[tuple[str, str, tuple[str, tuple[int, ...]]]]:
    """(name, words, call): shapes of much and of little ink, in the upper left of what is drawn into, as the reader sees it."""
    x, y, w, h = band.x, band.y, band.width, band.height
    wide, high = min(w, 64), min(h, 64)
    color = 1 if device.passport.palette is not None else 0xFFFFFF
    return [
        ("dot", "a single pixel", ("fill", (x, y, 1, 1, color))),
        ("run", f"a run of {wide} pixels", ("fill", (x, y, wide, 1, color))),
        ("column", f"a column of {high} pixels", ("fill", (x, y, 1, high, color))),
        ("fill", "a filled box", ("fill", (x, y, wide, high, color))),
        ("line", "a slanted line", ("line", (x, y, x + wide - 1, y + high - 1, 1, color))),
        ("disc", "a disc", ("disc", (x + wide // 2, y + high // 2, min(wide, high) // 2, color))),
    ]


def listing(screens: Sequence[tuple[str, Rendered]], device: Device) -> Listing:
    """The list of a build, from its screens by name in their typical states."""
    wire = Wire(device, device.link)
    width, height = host_size(device.passport, device.turn)
    band = band_rows_of(device)
    seen = rect_from_host(Rect(0, 0, width, band), device.passport, device.turn)
    rows: list[Row] = []

    def draws(name: str, words: str, calls: list[Call], **more: object) -> None:
        work = Layers.of(calls, device.size).work(seen)
        us = work_ms(work, device) * 1000
        if not work.runs:  # off the glass
            return
        rows.append(Row(name, words, _times(us), us, work, **more))  # type: ignore[arg-type]

    for name, words, call in _primitives(device, seen):
        draws(name, words, [Call(*call)], call=call)
    known = tuple((title, frozen(rendered)) for title, rendered in screens)
    for number, (title, rendered) in enumerate(known, 1):
        for one in rendered.drawn:
            if one.calls and len(rows) < MOST_ROWS:
                words = f"{rendered.kit.called(one.element)} on {title}"
                draws(f"m{number}_{one.element.id}", words, list(one.calls), block=f"m{number}_{one.element.id}")
        draws(f"m{number}", f"{title} as a whole", list(rendered.calls), block=f"m{number}")
    if device.passport.scan is None:
        for name, wanted in (("w1", Rect(0, 0, 1, 1)), ("w2", Rect(0, 0, width, 1)), ("w3", Rect(0, 0, 16, 16)),
                             ("w4", Rect(0, 0, width, height))):  # fmt: skip
            asked = Rect(0, 0, min(wanted.width, width), min(wanted.height, band))
            window = addressable(asked, device.passport, device.turn)
            if window.height > band and name != "w1":
                continue
            cost = wire.window(window)
            us = cost.wire_ms * 1000
            nominal = 1_000_000 * cost.clocks / device.link.clock_hz
            what = f"a window of {window.width} × {window.height} px, sent"
            rows.append(Row(name, what, _times(us), us, nominal_us=nominal, window=window))
    return Listing(known, tuple(rows), band, device)
