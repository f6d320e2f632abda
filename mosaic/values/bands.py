"""Bands of a value: which stretch of the number line a reading lies in, and what that means.

A band is half-open: it holds its lower limit and ends before its upper one. Which band counts is settled by `Bands` and the
course of readings (`Course`); `mosaic/firmware/behave.c` and `behave.py` do the same in whole numbers.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from msgspec import Meta

from mosaic.errors import BadDescriptionError, BadValueError

MOST_BANDS, MOST_MEAN = 12, 16
Limit = Annotated[int, Meta(ge=-1_000_000_000, le=1_000_000_000)]


@dataclass(frozen=True)
class Band:
    """One stretch: readings from `start` on and below `end`; None for no limit on that side.

    `word`, `color` and `picture` are what screens show of it, where they follow the value's band. `blink_ms` is how long
    something that blinks with it takes to come on again, 0 where it stays on. `outputs` are switched on entry, by id.
    """

    start: Limit | None = None
    end: Limit | None = None
    word: Annotated[str, Meta(max_length=24)] = ""
    color: Annotated[str, Meta(max_length=40)] = ""
    picture: Annotated[int, Meta(ge=0, le=9999)] = 0
    blink_ms: Annotated[int, Meta(ge=0, le=60_000)] = 0
    outputs: Annotated[tuple[tuple[str, bool], ...], Meta(max_length=16)] = ()

    def __post_init__(self) -> None:
        if self.start is not None and self.end is not None and self.start >= self.end:
            raise BadDescriptionError(
                f"a band from {self.start} to {self.end} holds no reading; its upper limit lies above its lower one", path="$.end"
            )
        if 0 < self.blink_ms < 100:
            raise BadDescriptionError(
                f"{self.blink_ms} ms is too short for a blink; 0, or 100 ms and more are accepted", path="$.blink_ms"
            )

    def holds(self, raw: int) -> bool:
        return (self.start is None or raw >= self.start) and (self.end is None or raw < self.end)


@dataclass(frozen=True)
class Bands:
    """The bands of a value, and how readily one gives way to another.

    Attributes
    ----------
    bands : the first that holds a reading counts. hysteresis : raw; a band is left downwards only that far below its limit.
    hold_ms : how long a band stays at least. mean_of : how many of the last readings are averaged.
    """

    bands: Annotated[tuple[Band, ...], Meta(max_length=MOST_BANDS)] = ()
    hysteresis: Annotated[int, Meta(ge=0, le=1_000_000_000)] = 0
    hold_ms: Annotated[int, Meta(ge=0, le=86_400_000)] = 0
    mean_of: Annotated[int, Meta(ge=1, le=MOST_MEAN)] = 1

    def band_of(self, raw: int) -> int | None:
        """The number of the first band that holds a reading, from 0; None in a gap.

        >>> Bands((Band(None, 10), Band(10, 20))).band_of(10), Bands((Band(None, 10), Band(12, None))).band_of(11)
        (1, None)
        """
        return next((number for number, band in enumerate(self.bands) if band.holds(raw)), None)

    def next_band(self, now: int | None, raw: int) -> int | None:
        """The band after a reading, coming from one: it is kept down to its limit less the hysteresis."""
        if now is not None:
            band = self.bands[now]
            if (band.start is None or raw >= band.start - self.hysteresis) and (band.end is None or raw < band.end):
                return now
        return self.band_of(raw)


def mean(readings: Sequence[int]) -> int:
    """The mean of readings, to the nearest, halves away from zero.

    >>> mean([1, 2]), mean([-1, -2]), mean([3])
    (2, -2, 3)
    """
    total, count = sum(readings), len(readings)
    if count == 1:
        return total
    return (2 * abs(total) + count) // (2 * count) * (1 if total >= 0 else -1)


@dataclass(frozen=True)
class Course:
    """Where a value's bands stand: the readings averaged so far, the band, and since when."""

    readings: tuple[int, ...] = ()
    band: int | None = None
    since_ms: int = 0

    def after(self, bands: Bands, raw: int, now_ms: int) -> "Course":
        """The course after a reading."""
        readings = (raw,) if bands.mean_of == 1 else (*self.readings, raw)[-bands.mean_of :]
        return Course(readings, self.band, self.since_ms).at(bands, now_ms)

    def at(self, bands: Bands, now_ms: int) -> "Course":
        """The course after time has passed: a band that was held long enough gives way."""
        if not self.readings:
            return self
        wanted = bands.next_band(self.band, mean(self.readings))
        if wanted == self.band or (self.band is not None and now_ms - self.since_ms < bands.hold_ms):
            return self
        return Course(self.readings, wanted, now_ms)


@dataclass(frozen=True)
class Stretch:
    """A piece of a number line: from `start` to `end`, the last reading of it, and the bands that hold it."""

    start: int
    end: int
    bands: tuple[int, ...]

    @property
    def is_gap(self) -> bool:
        return not self.bands

    @property
    def is_overlap(self) -> bool:
        return len(self.bands) > 1


def stretches(bands: Bands, low: int, high: int) -> list[Stretch]:
    """The number line from `low` to `high`, both in it, cut at every limit.

    >>> [(s.start, s.end, s.bands) for s in stretches(Bands((Band(None, 2), Band(3, 6), Band(5, None))), 0, 9)]
    [(0, 1, (0,)), (2, 2, ()), (3, 4, (1,)), (5, 5, (1, 2)), (6, 9, (2,))]
    """
    cuts = sorted({low, *(at for band in bands.bands for at in (band.start, band.end) if at is not None and low < at <= high)})
    found: list[Stretch] = []
    for start, end in zip(cuts, [*(at - 1 for at in cuts[1:]), high], strict=True):
        inside = tuple(number for number, band in enumerate(bands.bands) if band.holds(start))
        if found and found[-1].bands == inside:
            found[-1] = replace(found[-1], end=end)
        else:
            found.append(Stretch(start, end, inside))
    return found


def shares(bands: Bands, low: int, high: int) -> list[float]:
    """Of the readings from `low` to `high`, the share that each band decides; an overlap counts for the first."""
    counts = [0] * len(bands.bands)
    for stretch in stretches(bands, low, high):
        if stretch.bands:
            counts[stretch.bands[0]] += stretch.end - stretch.start + 1
    return [count / (high - low + 1) for count in counts]


def dragged(bands: Bands, number: int, at: int) -> Bands:
    """The upper limit of a band moved, and the lower one of the band that follows it; one that is shut by it goes.

    >>> [(b.start, b.end) for b in dragged(Bands((Band(None, 10), Band(10, 20))), 0, 15).bands]
    [(None, 15), (15, 20)]

    Raises
    ------
    BadValueError
        There is no such band.
    """
    if number >= len(bands.bands):
        raise BadValueError("that limit is not there any more; load the page again")
    listed = list(bands.bands)
    mine, after = listed[number], listed[number + 1] if number + 1 < len(listed) else None
    after = after if after is not None and after.start == mine.end else None
    if mine.start is not None and at <= mine.start:
        if after is not None:
            listed[number + 1] = replace(after, start=mine.start)
        del listed[number]
    elif after is not None and after.end is not None and at >= after.end:
        listed[number] = replace(mine, end=after.end)
        del listed[number + 1]
    else:
        listed[number] = replace(mine, end=at)
        if after is not None:
            listed[number + 1] = replace(after, start=at)
    return replace(bands, bands=tuple(listed))
