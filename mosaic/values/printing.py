"""Whole numbers with a scale, times and dates as text, by the rules of docs/values.md, as `mosaic/firmware/show.c` and `show.py`.

A raw value is a whole number: 75 with one decimal of scale is 7.5. Nothing here uses floating point, so that a small board
prints the very same letters.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadValueError

LARGEST = 2**31 - 1
"""Of a raw value's magnitude."""
MOST_DECIMALS, MOST_WIDTH = 9, 24
DAY_S, HOUR_S = 86_400, 3_600


@dataclass(frozen=True)
class NumberFormat:
    """How a number is printed.

    Attributes
    ----------
    decimals : places behind the point; fewer than the value's scale are rounded half away from zero, more are zeros.
    plus : what stands before a number that is not negative; zero is not negative, however it came about.
    fill : what fills up to `width` characters: nothing, blanks before the sign, zeros behind it.
    """

    decimals: Annotated[int, Meta(ge=0, le=MOST_DECIMALS)] = 0
    plus: Literal["", "+", " "] = ""
    fill: Literal["", " ", "0"] = ""
    width: Annotated[int, Meta(ge=0, le=MOST_WIDTH)] = 0


def _check(raw: int, scale: int = 0) -> None:
    if abs(raw) > LARGEST:
        raise BadValueError(f"{raw} is too large for the device; -{LARGEST:,} to {LARGEST:,} are accepted")
    if not 0 <= scale <= MOST_DECIMALS:
        raise BadValueError(f"a scale of {scale} decimals; 0 to {MOST_DECIMALS} are accepted")


def number_text(raw: int, scale: int, form: NumberFormat) -> str:
    """A value of so many decimals as text.

    >>> number_text(-125, 2, NumberFormat(1)), number_text(-4, 2, NumberFormat(1)), number_text(7, 0, NumberFormat(2))
    ('-1.3', '0.0', '7.00')
    >>> number_text(-7, 0, NumberFormat(fill="0", width=4)), number_text(-7, 0, NumberFormat(fill=" ", width=4))
    ('-007', '  -7')

    Raises
    ------
    BadValueError
        The value does not fit 32 bits, or the scale is none.
    """
    _check(raw, scale)
    cut = 10 ** max(0, scale - form.decimals)
    magnitude = (abs(raw) + cut // 2) // cut
    kept = min(scale, form.decimals)
    digits = str(magnitude).rjust(kept + 1, "0")
    body = digits
    if form.decimals:
        body = f"{digits[: len(digits) - kept]}.{digits[len(digits) - kept :]}{'0' * (form.decimals - kept)}"
    sign = "-" if raw < 0 and magnitude else form.plus
    room = max(0, form.width - len(sign) - len(body))
    if form.fill == "0":
        return f"{sign}{'0' * room}{body}"
    return f"{' ' * room if form.fill else ''}{sign}{body}"


ClockFormat = Literal["h:mm", "hh:mm", "h:mm:ss", "hh:mm:ss", "h:mm am", "h am"]
DurationFormat = Literal["m:ss", "h:mm", "h:mm:ss", "d h"]
DateFormat = Literal["yyyy-mm-dd", "dd.mm.", "dd.mm.yyyy", "mm/dd", "d mon", "weekday"]
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def clock_text(seconds: int, form: ClockFormat) -> str:
    """A time of day, in seconds since midnight; what is beyond a day counts from the next, what is before from the last.

    >>> clock_text(0, "h:mm am"), clock_text(46_800, "h am"), clock_text(-60, "hh:mm"), clock_text(86_400, "h:mm:ss")
    ('12:00 am', '1 pm', '23:59', '0:00:00')
    """
    _check(seconds)
    seconds %= DAY_S
    hour, minute, second = seconds // HOUR_S, seconds // 60 % 60, seconds % 60
    if form.endswith("am"):
        half = "am" if hour < 12 else "pm"
        twelve = hour % 12 or 12
        return f"{twelve} {half}" if form == "h am" else f"{twelve}:{minute:02} {half}"
    shown = f"{hour:02}" if form.startswith("hh") else str(hour)
    return f"{shown}:{minute:02}:{second:02}" if form.endswith("ss") else f"{shown}:{minute:02}"


def duration_text(seconds: int, form: DurationFormat) -> str:
    """A length of time in seconds; what is not shown is left out, towards zero.

    >>> duration_text(125, "m:ss"), duration_text(-59, "h:mm"), duration_text(-3600, "h:mm"), duration_text(100_000, "d h")
    ('2:05', '0:00', '-1:00', '1 d 3 h')
    """
    _check(seconds)
    total = abs(seconds)
    if form == "m:ss":
        first, rest, shown = total // 60, f":{total % 60:02}", total
    elif form == "h:mm":
        first, rest, shown = total // HOUR_S, f":{total // 60 % 60:02}", total // 60
    elif form == "h:mm:ss":
        first, rest, shown = total // HOUR_S, f":{total // 60 % 60:02}:{total % 60:02}", total
    else:
        first, rest, shown = total // DAY_S, f" d {total // HOUR_S % 24} h", total // HOUR_S
    return f"{'-' if seconds < 0 and shown else ''}{first}{rest}"


def civil(days: int) -> tuple[int, int, int]:
    """(year, month, day) of days since 1970-01-01, in whole numbers: years are counted from March, in cycles of 400.

    >>> civil(0), civil(-1), civil(59), civil(11_016)
    ((1970, 1, 1), (1969, 12, 31), (1970, 3, 1), (2000, 2, 29))
    """
    shifted = days + 719_468
    cycle, day = divmod(shifted, 146_097)
    year = (day - day // 1460 + day // 36_524 - day // 146_096) // 365
    day -= 365 * year + year // 4 - year // 100
    month = (5 * day + 2) // 153
    return cycle * 400 + year + (month >= 10), month + 3 if month < 10 else month - 9, day - (153 * month + 2) // 5 + 1


def date_text(days: int, form: DateFormat) -> str:
    """A date, in days since 1970-01-01, from 0001 to 9999.

    >>> date_text(20_785, "yyyy-mm-dd"), date_text(20_785, "weekday"), date_text(20_785, "d mon")
    ('2026-11-28', 'Sat', '28 Nov')
    """
    if not -719_162 <= days <= 2_932_896:
        raise BadValueError(f"day {days:,} lies outside the years 1 to 9999")
    year, month, day = civil(days)
    return {
        "yyyy-mm-dd": f"{year:04}-{month:02}-{day:02}", "dd.mm.": f"{day:02}.{month:02}.",
        "dd.mm.yyyy": f"{day:02}.{month:02}.{year:04}",
        "mm/dd": f"{month:02}/{day:02}", "d mon": f"{day} {MONTHS[month - 1]}", "weekday": WEEKDAYS[(days + 3) % 7],
    }[form]  # fmt: skip
