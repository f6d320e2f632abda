"""How often a value changes its band, as its stand-in has it."""

from mosaic.values.bands import Course
from mosaic.values.courses import reading_at
from mosaic.values.value import Value

MOST_READINGS = 2000


def flips_a_minute(value: Value, readings: int = MOST_READINGS) -> float:
    """Changes of band a minute over so many readings of the stand-in, as often as the source is read.

    Entering the first band is no change.
    """
    every = max(10, value.source.every_ms)
    course, flips, now = Course(), 0, 0
    for number in range(readings):
        now = number * every
        raw = reading_at(value, now)
        if not isinstance(raw, int):
            continue
        after = course.after(value.bands, raw, now)
        flips += after.band != course.band and course.band is not None
        course = after
    return flips * 60_000 / max(1, (readings - 1) * every)
