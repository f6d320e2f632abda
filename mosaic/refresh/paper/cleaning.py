"""When an e-paper is cleaned: before each update, after so many partial ones, at set times, or where much changes.

A full refresh drives every pixel to both ends and so leaves hardly anything of former pictures; a partial one drives only
what has changed. Every rule by itself asks for a full refresh; several together ask for one as soon as any of them does.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError
from mosaic.panels.supply import RefreshMode

MINUTE_NS = 60_000_000_000
DAY_NS = 1440 * MINUTE_NS
MOST_TIMES = 24
Holder = Literal["panel", "board", "nobody"]
Between = Literal["asleep", "awake", "powered"]


@dataclass(frozen=True)
class Cleaning:
    """The rules.

    Attributes
    ----------
    mode : number of the panel's way to refresh that cleans.
    each : one before every update, which then is refreshed in the ordinary way.
    after : a full one in place of the update that follows so many partial ones; 0 for never.
    at_min : minutes of the day at which the picture is refreshed in full by itself.
    from_share : an update in which at least this share of the glass is sent is full; 0 for never.
    previous : who keeps the picture before, which partial updates are compared with.
    between : what the panel is left in after an update: deep sleep, awake, or with its high voltages on.
    """

    mode: Annotated[int, Meta(ge=0, le=31)] = 0
    each: bool = False
    after: Annotated[int, Meta(ge=0, le=100_000)] = 0
    at_min: Annotated[tuple[Annotated[int, Meta(ge=0, le=1439)], ...], Meta(max_length=MOST_TIMES)] = ()
    from_share: Annotated[float, Meta(ge=0, le=1)] = 0.0
    previous: Holder = "panel"
    between: Between = "asleep"

    def __post_init__(self) -> None:
        if list(self.at_min) != sorted(set(self.at_min)):
            raise BadDescriptionError("times to clean at stand in order, each once", path="$.at_min")


@dataclass(frozen=True)
class Refreshed:
    """One update: when its refresh began, in ns; the modes in turn; the share of the glass that was sent."""

    begin: int
    modes: tuple[int, ...]
    share: float
    is_scheduled: bool = False


@dataclass
class Cleaner:
    """Decides for each update how it is refreshed, and counts. The first is always full: nobody knows what stands there.

    `usual` is the mode of ordinary updates. `counts` are refreshes by mode, `row` partial ones since the last full one, `longest`
    the most of them there were, `uncleaned` the longest time in ns without a full one, as far as it has come.
    """

    cleaning: Cleaning
    modes: Sequence[RefreshMode]
    usual: int
    counts: dict[int, int] = field(default_factory=dict)
    row: int = 0
    longest: int = 0
    cleaned_at: int = 0
    uncleaned: int = 0

    def __post_init__(self) -> None:
        last = len(self.modes) - 1
        self.full, self.usual = min(self.cleaning.mode, last), min(self.usual, last)

    def next_at(self, now: int) -> int | None:
        """The next set time after a moment, in ns since midnight of the first day; None for none.

        >>> Cleaner(Cleaning(at_min=(180,)), (), 0).next_at(180 * MINUTE_NS) == (1440 + 180) * MINUTE_NS
        True
        """
        day = now // DAY_NS * DAY_NS
        times = [day + minute * MINUTE_NS for minute in self.cleaning.at_min]
        return next((at for at in times if at > now), times[0] + DAY_NS if times else None)

    def update(self, now: int, share: float, *, is_scheduled: bool = False) -> tuple[int, ...]:
        """The modes of an update, in turn."""
        rules = self.cleaning
        is_partial = not self.modes[self.usual].flashes
        many = is_partial and 0 < rules.after <= self.row
        much = is_partial and 0 < rules.from_share <= share
        if is_scheduled or many or much or (is_partial and not self.counts):
            taken: tuple[int, ...] = (self.full,)
        else:
            taken = (self.full, self.usual) if rules.each else (self.usual,)
        for mode in taken:
            self.counts[mode] = self.counts.get(mode, 0) + 1
            if self.modes[mode].flashes:
                self.uncleaned = max(self.uncleaned, now - self.cleaned_at)
                self.cleaned_at, self.row = now, 0
            else:
                self.row += 1
                self.longest = max(self.longest, self.row)
        return taken

    def time_ns(self, taken: Sequence[int]) -> int:
        """ns that modes take together."""
        return sum(round(self.modes[mode].time_ms * 1_000_000) for mode in taken)
