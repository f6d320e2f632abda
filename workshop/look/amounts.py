"""Amounts in words: a number and its unit, rounded to what a maker can measure."""

from typing import NamedTuple

KIB = 1024


class Amount(NamedTuple):
    """A number as text, and its unit."""

    number: str
    unit: str

    def __str__(self) -> str:
        return f"{self.number} {self.unit}"


def rounded(value: float) -> str:
    """Three figures or so, with thousands separated.

    >>> rounded(24.976), rounded(0.2349), rounded(1234.5), rounded(0)
    ('25.0', '0.23', '1,234', '0')
    """
    if value == 0:
        return "0"
    if abs(value) < 10:
        return f"{value:.2f}"
    return f"{value:,.1f}" if abs(value) < 1000 else f"{value:,.0f}"


def scale_of(largest: float, unit: str) -> tuple[float, str]:
    """What to divide by, and the unit, so that `largest` reads well."""
    if unit == "B":
        return (KIB, "KiB") if largest < 4096 * KIB else (KIB * KIB, "MiB")
    if unit == "ms":
        return (1000, "s") if largest >= 1000 else (1, "ms")
    if unit == "mWh":
        return (1000, "Wh") if largest >= 1000 else (1, "mWh")
    return 1, unit


def amount(value: float, unit: str, largest: float | None = None) -> Amount:
    """A value in a readable unit; `largest` makes several values share one.

    >>> str(amount(115200, "B")), str(amount(17002, "ms")), str(amount(24.7, "ms"))
    ('112.5 KiB', '17.0 s', '24.7 ms')
    """
    divisor, name = scale_of(max(value, largest or 0), unit)
    return Amount(rounded(value / divisor), name)
