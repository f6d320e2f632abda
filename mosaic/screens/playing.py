"""A screen at work, in virtual time: sources are read and stand in the way, values change, what changes is drawn and sent.

The program that is played is the plain one: it reads every source that is due, one after the other, standing still for as long
as each takes; if anything has changed it draws and sends; then it goes on with what is due. Times are exact, the panel's clock is
that of the link.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from mosaic.links import total_s, wire_steps
from mosaic.panels.windows import Rect, host_size
from mosaic.panels.wire import window_parts
from mosaic.screens.plan import Plan
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.screens.updates import changes, link_of
from mosaic.values.courses import reading_at
from mosaic.values.states import State
from mosaic.values.value import Reading, Value

MOST_FRAMES = 400
Ms = Fraction

#: When a device begins its life.
BEGINNING = Ms(0)


@dataclass(frozen=True)
class ReadAt:
    """A source was read: from when to when the program stood still, what it gave, and how many readings were missed before."""

    value: str
    begin: Ms
    end: Ms
    reading: Reading
    missed: int


@dataclass(frozen=True, eq=False)
class Frame:
    """What was drawn and sent: windows as the board addresses them, bytes and ms on the link, ms that the panel was busy then."""

    begin: Ms
    end: Ms
    windows: tuple[Rect, ...]
    sent_bytes: int
    link_ms: Ms
    refresh_ms: float
    rendered: Rendered


@dataclass
class Run:
    """A piece of a device's life."""

    readings: list[ReadAt] = field(default_factory=list)
    frames: list[Frame] = field(default_factory=list)
    until: Ms = BEGINNING

    @property
    def missed(self) -> dict[str, int]:
        """Readings that were due and not taken, by value."""
        found: dict[str, int] = {}
        for one in self.readings:
            found[one.value] = found.get(one.value, 0) + one.missed
        return found


@dataclass
class _Source:
    value: Value
    due: Ms = BEGINNING


def _reading(value: Value, at: Ms, held: Mapping[str, Reading], unplugged: frozenset[str]) -> Reading:
    if value.id in unplugged:
        return None
    return held[value.id] if value.id in held else reading_at(value, int(at))


def _room(plan: Plan) -> dict[str, int]:
    """How many past readings are plotted of which values."""
    return {
        spot.element.of: spot.element.count
        for spot in plan.spots
        if spot.element.kind in ("sparkline", "plot") and spot.element.of
    }


def played(
    plan: Plan,
    length_ms: int,
    *,
    held: Mapping[str, Reading] | None = None,
    unplugged: frozenset[str] = frozenset(),
    most_frames: int = MOST_FRAMES,
) -> Run:
    """The first `length_ms` of a device's life, from its start on, at most so many frames.

    `held` are readings set by hand, `unplugged` ids of values whose source gives nothing: their readings stay what they were, and
    grow old, or are absent from the start.
    """  # fmt: skip
    held = held or {}
    run = Run()
    values = [plan.kit.values[ident] for ident in plan.values]
    sources, room = [_Source(value) for value in values], _room(plan)
    known: dict[str, Reading] = dict.fromkeys((value.id for value in values), None)
    read_at: dict[str, Ms] = {}
    past: dict[str, tuple[Reading, ...]] = dict.fromkeys(room, ())
    link, device = link_of(plan.device), plan.device
    before: Rendered | None = None
    now = ready = BEGINNING
    ticks, shown = plan_ticks(plan), None
    while now < length_ms and len(run.frames) < most_frames:
        due = sorted((source for source in sources if source.due <= now), key=lambda source: source.due)
        for source in due:
            value = source.value
            every = value.source.every_ms
            missed = int((now - source.due) // every)
            source.due += (missed + 1) * every
            begin, now = now, now + value.source.blocks_ms
            reading = _reading(value, begin, held, unplugged)
            run.readings.append(ReadAt(value.id, begin, now, reading, missed))
            if reading is not None:
                known[value.id], read_at[value.id] = reading, begin
            if value.id in past:
                past[value.id] = (*past[value.id], reading)[-room[value.id] :]
        stale = frozenset(
            value.id for value in values
            if value.max_age_s and value.id in read_at and now - read_at[value.id] > value.max_age_s * 1000
        )  # fmt: skip
        looks = (tuple(known.values()), stale, tuple(past.values()), int(now // 100) if ticks else 0)
        rendered, windows = before, list[Rect]()
        if looks != shown:  # what is the same need not be drawn to be compared
            rendered = drawn_in(plan, State("play", "play", dict(known), stale, dict(past), int(now // 100)))
            windows = changes(before, rendered, link) if before else [Rect(0, 0, *host_size(device.passport, device.turn))]
            shown = looks if now >= ready or not windows else shown
        if rendered is not None and windows and now >= ready:
            sent, link_ms = _sent(windows, plan)
            refresh = device.passport.refresh[0].time_ms if device.passport.refresh else 0.0
            run.frames.append(Frame(now, now + link_ms, tuple(windows), sent, link_ms, refresh, rendered))
            before = rendered
            now += link_ms
            ready = now + Ms(refresh)
        upcoming = [source.due for source in sources] + ([ready] if windows and ready > now else [])
        if ticks:
            upcoming.append(Ms((now // 100 + 1) * 100))
        if not upcoming:
            break
        now = max(now, min(upcoming))
    run.until = now
    return run


def plan_ticks(plan: Plan) -> bool:
    """Whether anything of a screen moves by itself: a text that runs."""
    return any(spot.element.overflow == "scroll" for spot in plan.spots)


def _sent(windows: list[Rect], plan: Plan) -> tuple[int, Ms]:
    device = plan.device
    total, size = Ms(0), 0
    for window in windows:
        count = device.passport.format.frame_bytes(window.width, window.height)
        parts = window_parts(device.passport, device.turn, window, bytes(count))
        total += Ms(total_s(wire_steps(parts, device.link))) * 1000
        size += count
    return size, total
