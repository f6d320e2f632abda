"""A day in figures that can be kept and shown: ms and shares instead of nanoseconds."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from mosaic.refresh.day.engine import MS, Day, Step
from mosaic.refresh.day.program import Program

MOST_SHOWN = 1200
"""Events that are kept."""


@dataclass(frozen=True)
class Stretch:
    """A part of the day: ms that the program reads, draws and waits for the link; that the link sends, the panel refreshes."""

    begin_ms: float
    length_ms: float
    read_ms: float
    draw_ms: float
    wait_ms: float
    link_ms: float
    refresh_ms: float
    is_night: bool = False

    @property
    def busy_ms(self) -> float:
        return self.read_ms + self.draw_ms + self.wait_ms


@dataclass(frozen=True)
class SourceFigures:
    """A source: how often it is read, what was missed, and how long the program stood still for it."""

    ident: str
    name: str
    every_ms: int
    blocks_ms: int
    reads: int
    missed: int
    blocked_ms: float
    latest_ms: float
    changes: int
    unseen: int


@dataclass(frozen=True)
class StepFigures:
    """One drawing, in ms."""

    name: str
    draw_ms: float
    link_ms: float
    refresh_ms: float
    sent_bytes: int
    windows: int

    @property
    def total_ms(self) -> float:
        return self.draw_ms + self.link_ms + self.refresh_ms


@dataclass(frozen=True)
class ElementFigures:
    """What an element took: drawings in which it has changed, bytes, ms on the link."""

    name: str
    changes: int
    sent_bytes: int
    link_ms: float


@dataclass(frozen=True)
class Shown:
    """An event: "read", "draw", "send", "refresh", "input"."""

    what: Literal["read", "draw", "send", "refresh", "input"]
    begin_ms: float
    end_ms: float
    name: str


@dataclass(frozen=True)
class Stood:
    """A screen, by reference: for how many ms it stood, and the mean light of its channels, 0..1, as it usually is."""

    ref: str
    ms: float
    light: tuple[float, ...] = ()


@dataclass(frozen=True)
class DayFigures:
    """A day.

    Attributes
    ----------
    stretches : one after the other. worst : the step that took longest, the first one left out. first : how it began.
    merged : changes that came to one that was waiting. away_ms : for how long at most nobody looked at touch and buttons.
    lags_ms : from each touch to its answer on the glass. overlooked : touches and levels that came and went unseen.
    lost : what came about and was not done, for there was too much.
    refreshed : how often an e-paper was refreshed in each of its ways, by number. longest_row : the most partial updates in
        a row. uncleaned_ms : the longest time without a full one. shortest_ms : the shortest from one
        refresh to the next, 0 where there are not two. screens : for how long each stood. light : (percent, ms) for which
        rules had the light at each level.
    """

    length_ms: int
    stretches: tuple[Stretch, ...]
    sources: tuple[SourceFigures, ...]
    elements: tuple[ElementFigures, ...]
    events: tuple[Shown, ...]
    steps: int
    sent_bytes: int
    clocks: int
    windows: int
    merged: int
    away_ms: float
    away: str
    lags_ms: tuple[float, ...]
    overlooked: int
    lost: int
    first: StepFigures | None = None
    worst: StepFigures | None = None
    refreshed: tuple[tuple[int, int], ...] = ()
    longest_row: int = 0
    uncleaned_ms: int = 0
    shortest_ms: int = 0
    screens: tuple[Stood, ...] = ()
    light: tuple[tuple[int, float], ...] = ()

    @property
    def mean_light(self) -> float:
        """The mean level of the light that rules set, 0..1."""
        total = sum(ms for _, ms in self.light)
        return sum(level * ms for level, ms in self.light) / total / 100 if total else 1.0

    def worn_light(self, power: float) -> float:
        """The mean of the level to a power."""
        total = sum(ms for _, ms in self.light)
        return sum(float((level / 100) ** power) * ms for level, ms in self.light) / total if total else 1.0

    @property
    def updates(self) -> int:
        """Refreshes of an e-paper."""
        return sum(count for _, count in self.refreshed)

    def share(self, name: str, night: bool | None = None) -> float:
        """Share of the time for which something goes on, by its name in `Stretch`; of the day, or of the night, only."""
        mine = [one for one in self.stretches if night is None or one.is_night == night]
        total = sum(one.length_ms for one in mine)
        return sum(getattr(one, name) for one in mine) / total if total else 0.0

    @property
    def has_night(self) -> bool:
        return len({one.is_night for one in self.stretches}) == 2

    @property
    def missed(self) -> int:
        return sum(one.missed for one in self.sources)

    @property
    def unseen(self) -> int:
        return sum(one.unseen for one in self.sources)

    @property
    def longest_lag_ms(self) -> float:
        return max(self.lags_ms, default=0.0)


def _step(one: Step | None) -> StepFigures | None:
    if one is None:
        return None
    return StepFigures(one.name, one.draw_ns / MS, one.link_ns / MS, one.refresh_ns / MS, one.sent_bytes, one.windows)


def figures_of(
    day: Day, program: Program, screens: Sequence[str] = (), lights: Mapping[int, tuple[float, ...]] | None = None
) -> DayFigures:
    """The figures of a day that has been run; `screens` are the references of a machine's screens, `lights` theirs by number."""
    stretches = []
    for number, one in enumerate(day.bins):
        begin = number * day.bin_ns
        size = min(day.bin_ns, day.length_ns - begin)
        middle = (begin + size // 2) // MS
        read, draw, wait, link, refresh = (share / MS for share in one)
        stretches.append(Stretch(begin / MS, size / MS, read, draw, wait, link, refresh, program.slower(middle) > 1))
    sources = tuple(
        SourceFigures(
            one.value.id, one.value.name, one.every_ns // MS, one.value.source.blocks_ms, one.reads, one.missed,
            one.blocked_ns / MS, one.latest_ns / MS, one.changes, one.unseen,
        )
        for one in day.sources
    )  # fmt: skip
    elements = sorted(
        (ElementFigures(name, count, size, ns / MS) for name, count, size, ns in day.by_element.values()),
        key=lambda one: one.link_ms, reverse=True,
    )  # fmt: skip
    events = tuple(Shown(one.what, one.begin / MS, one.end / MS, one.name) for one in day.log[:MOST_SHOWN])  # type: ignore[arg-type]
    return DayFigures(
        day.length_ns // MS, tuple(stretches), sources, tuple(elements), events, day.steps, day.sent_bytes, day.clocks,
        day.windows, day.merged, day.away_ns / MS, day.away, tuple((end - begin) / MS for begin, end in day.lags), day.overlooked,
        day.lost,
        _step(day.first), _step(day.worst), tuple(sorted(day.counts.items())), day.longest_row, day.uncleaned_ns // MS,
        min((b.begin - a.begin for a, b in pairwise(day.refreshes)), default=0) // MS,
        tuple(
            Stood(screens[n], ns / MS, (lights or {}).get(n, ())) for n, ns in sorted(day.shown_ns.items()) if n < len(screens)
        ),
        tuple((level, ns / MS) for level, ns in sorted(day.light_ns.items())),
    )  # fmt: skip
