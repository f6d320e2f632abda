"""What charges the cell: the sun or a plug; and how full it is day by day over a month."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from msgspec import Meta

DAYS = 30
MAKES = 0.75
"""What of a small solar panel's rated power is there in an hour of full sun: dirt, warmth and angle counted. Typical."""


@dataclass(frozen=True)
class Topping:
    """What charges the cell.

    Attributes
    ----------
    by : "nothing", the "sun" or a plug of "USB". peak_mw : of the solar panel in full sun. sun_h : hours of full sun a day.
    dark_days : in a row, with a tenth of that, in the middle of the month. charge_ma, plugged_h, every_days : of the plug.
    efficiency : of what comes in, how much the cell keeps.
    """

    by: Literal["nothing", "sun", "USB"] = "nothing"
    peak_mw: Annotated[float, Meta(ge=0, le=100_000)] = 500.0
    sun_h: Annotated[float, Meta(ge=0, le=24)] = 2.0
    dark_days: Annotated[int, Meta(ge=0, le=DAYS)] = 5
    charge_ma: Annotated[float, Meta(ge=0, le=10_000)] = 400.0
    plugged_h: Annotated[float, Meta(ge=0, le=24)] = 2.0
    every_days: Annotated[int, Meta(ge=1, le=DAYS)] = 7
    efficiency: Annotated[float, Meta(gt=0, le=1)] = 0.8

    def income_mah(self, day: int, volts: float) -> float:
        """mAh that reach the cell on a day of the month, counted from 0, at its voltage.

        >>> Topping("sun", 500, 2, 0).income_mah(0, 3.7) == MAKES * 500 * 2 * 0.8 / 3.7
        True
        """
        if self.by == "nothing":
            return 0.0
        if self.by == "USB":
            return self.charge_ma * self.plugged_h * self.efficiency if (day + 1) % self.every_days == 0 else 0.0
        begin = (DAYS - self.dark_days) // 2
        hours = self.sun_h * (0.1 if begin <= day < begin + self.dark_days else 1.0)
        return MAKES * self.peak_mw * hours * self.efficiency / volts


@dataclass(frozen=True)
class Month:
    """A month: mAh in the cell at the end of each day; mAh that came in and went out; the day on which it runs empty."""

    levels: tuple[float, ...]
    income_mah: float
    spent_mah: float
    empty_on: int | None

    @property
    def lasts(self) -> bool:
        """Whether it goes on for ever: it never runs empty, and ends as full as it began, or gains more than it spends."""
        return self.empty_on is None and self.income_mah >= self.spent_mah


def month_of(topping: Topping, usable_mah: float, day_mah: float, volts: float) -> Month:
    """The level of a cell over a month, full at its beginning; what comes in beyond its capacity is lost."""
    level, levels, came, went, empty = usable_mah, [], 0.0, 0.0, None
    for day in range(DAYS):
        kept = topping.income_mah(day, volts)
        came += kept
        went += day_mah
        if level + kept < day_mah and empty is None:
            empty = day + 1
        level = min(usable_mah, max(0.0, level + kept - day_mah))
        levels.append(level)
    return Month(tuple(levels), came, went, empty)


def least_peak_mw(topping: Topping, usable_mah: float, day_mah: float, volts: float, sizes: Sequence[float]) -> float | None:
    """The smallest of some solar panels, in mW, with which a month is got through; None where none is enough."""
    return next((size for size in sizes if month_of(replace(topping, peak_mw=size), usable_mah, day_mah, volts).lasts), None)
