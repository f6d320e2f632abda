"""Drawings of the energy page: runtime over the interval, the cell over a month."""

from dataclasses import dataclass
from math import floor, log10

from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import Balance, Rhythm, curve
from mosaic.refresh.energy.topping import Month

INTERVALS_S = (60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400, 28_800, 86_400)
LEFT, RIGHT, TOP, BOTTOM = 60, 940, 14, 206


@dataclass(frozen=True)
class Curve:
    """Runtime over the interval, drawn: the path, the marks of both axes, where idling takes as much as updating."""

    path: str
    across: list[tuple[float, str]]
    up: list[tuple[float, str]]
    crossing: tuple[float, str, bool] | None
    here: tuple[float, float, str] | None


def nice(least: float) -> float:
    """1, 2, 2.5 or 5 times a power of ten, no less than a number.

    >>> nice(210), nice(250), nice(0.3)
    (250.0, 250.0, 0.5)
    """
    power = 10.0 ** floor(log10(max(least, 1e-6)))
    return next(power * part for part in (1, 2, 2.5, 5, 10) if power * part >= least * (1 - 1e-9))


def _words(seconds: float) -> str:
    if seconds < 3600:
        return f"{seconds / 60:.3g} min"
    return f"{seconds / 3600:.3g} h" if seconds < 86_400 else f"{seconds / 86_400:.3g} d"


def curve_of(found: Balance, rhythm: Rhythm, day: DayFigures) -> Curve:
    """The runtime on the cell over the interval from update to update."""
    usable, leak = found.usable_mah, found.self_discharge_ma
    points = curve(rhythm, usable, leak, INTERVALS_S)
    here_s = day.length_ms / 1000 / max(1, day.steps)
    step = nice(max(days for _, days in points) / 4)
    most = 4 * step
    places = {every: LEFT + (RIGHT - LEFT) * n / (len(points) - 1) for n, (every, _) in enumerate(points)}

    def across(seconds: float) -> float:
        """Between the marks, on a scale of ratios."""
        for (low, a), (high, b) in zip(places.items(), list(places.items())[1:], strict=False):
            if seconds <= high:
                return round(a + (b - a) * max(0.0, (seconds - low) / (high - low)), 1)
        return RIGHT

    def up(days: float) -> float:
        return round(BOTTOM - (BOTTOM - TOP) * days / most, 1)

    ((_, here_days),) = curve(rhythm, usable, leak, [here_s])
    is_inside = INTERVALS_S[0] <= rhythm.crossing_s <= INTERVALS_S[-1]
    at = across(rhythm.crossing_s)
    return Curve(
        " ".join(f"{'M' if not n else 'L'}{places[every]:.1f} {up(days)}" for n, (every, days) in enumerate(points)),
        [(round(x, 1), _words(every)) for every, x in places.items()],
        [(up(step * n), f"{step * n:,g}") for n in range(5)],
        (at, _words(rhythm.crossing_s), at > (LEFT + RIGHT) / 2) if is_inside else None,
        (across(here_s), up(here_days), f"{here_days:,.0f} days") if INTERVALS_S[0] <= here_s <= INTERVALS_S[-1] else None,
    )


def month_bars(month: Month) -> list[tuple[int, float, float, bool]]:
    """The level at the beginning and at the end of each day as a bar: (day, x, height in parts of 100, whether it is empty)."""
    full = month.levels[0] or 1.0
    return [
        (day, round((day - 1) * 960 / (len(month.levels) - 1), 1), round(100 * level / full, 1), level <= 0)
        for day, level in enumerate(month.levels) if day
    ]  # fmt: skip
