"""How the maker's program goes about its day: how often it reads, whether it stands still for that, and what sends by itself."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.device.device import Device
from mosaic.refresh.paper.cleaning import Cleaning
from mosaic.values.value import ValueId

MOST_OWN = 200
DAY_MIN = 1440
Minute = Annotated[int, Meta(ge=0, le=DAY_MIN - 1)]


@dataclass(frozen=True)
class Program:
    """One way to run a build.

    Attributes
    ----------
    every : (id of a value, ms): how often it is read, where that is not as its source says.
    splits : readings are begun and fetched later; otherwise the program stands still for them.
    sends_itself : the link sends while the program goes on (DMA); otherwise the program waits for the last byte.
    two_buffers : the next frame is drawn into another buffer while one is sent, where the link sends by itself.
    least_ms : from one drawing to the next at least; what has changed meanwhile is drawn together.
    refresh : which of an e-paper's ways to refresh is taken, by number. cleaning : when it is refreshed in full instead.
    night_from_min, night_to_min, night_slower : from when to when, in minutes since the start, counted as midnight, everything is
        read and drawn so many times as rarely; 1 for no difference.
    """

    every: Annotated[tuple[tuple[ValueId, Annotated[int, Meta(ge=1, le=86_400_000)]], ...], Meta(max_length=MOST_OWN)] = ()
    splits: bool = False
    sends_itself: bool = False
    two_buffers: bool = False
    least_ms: Annotated[int, Meta(ge=0, le=86_400_000)] = 0
    refresh: Annotated[int, Meta(ge=0, le=31)] = 0
    night_from_min: Minute = 1320
    night_to_min: Minute = 360
    night_slower: Annotated[int, Meta(ge=1, le=1000)] = 1
    cleaning: Cleaning = field(default=Cleaning())
    form: Literal[1] = 1

    def is_night(self, ms: int) -> bool:
        """Whether a moment, in ms since midnight, is of the night; one that begins and ends at the same minute has none.

        >>> Program().is_night(21 * 3_600_000), Program().is_night(22 * 3_600_000), Program().is_night(6 * 3_600_000)
        (False, True, False)
        """
        minute = ms // 60_000 % DAY_MIN
        if self.night_from_min <= self.night_to_min:
            return self.night_from_min <= minute < self.night_to_min
        return minute >= self.night_from_min or minute < self.night_to_min

    def slower(self, ms: int) -> int:
        """How many times as rarely everything is done at a moment."""
        return self.night_slower if self.night_slower > 1 and self.is_night(ms) else 1


def usual_program(device: Device) -> Program:
    """Where nobody has said otherwise: an e-paper is drawn as often as the build's sheet says."""
    is_slow = device.passport.technology == "epaper"
    return Program(least_ms=min(86_400_000, int(device.update_interval_s * 1000)) if is_slow else 0)
