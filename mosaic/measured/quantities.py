"""Quantities that are measured, and the units in which they are written. A new one is a line here."""

import re
from dataclasses import dataclass
from typing import Literal

from mosaic.errors import BadValueError, UnknownNameError
from mosaic.numbers import decimal
from mosaic.registry import Registry

Dimension = Literal[
    "time", "current", "voltage", "energy", "charge", "bytes", "temperature", "resistance", "length", "light", "share", "days"
]

UNITS: dict[Dimension, dict[str, float]] = {
    "time": {"ms": 1.0, "s": 1000.0, "µs": 0.001, "us": 0.001, "min": 60_000.0},
    "current": {"mA": 1.0, "A": 1000.0, "µA": 0.001, "uA": 0.001},
    "voltage": {"V": 1.0, "mV": 0.001},
    "energy": {"mWh": 1.0, "Wh": 1000.0, "J": 1 / 3.6, "mJ": 1 / 3600},
    "charge": {"mAh": 1.0, "Ah": 1000.0, "mC": 1 / 3600, "C": 1 / 3.6},
    "bytes": {"B": 1.0, "KiB": 1024.0, "MiB": 1_048_576.0, "kB": 1000.0, "MB": 1_000_000.0},
    "temperature": {"°C": 1.0, "C": 1.0},
    "resistance": {"Ω": 1.0, "ohm": 1.0, "kΩ": 1000.0, "kohm": 1000.0, "MΩ": 1e6},
    "length": {"mm": 1.0, "cm": 10.0, "m": 1000.0},
    "light": {"lx": 1.0, "lux": 1.0},
    "share": {"%": 1.0},
    "days": {"d": 1.0, "days": 1.0, "h": 1 / 24, "weeks": 7.0},
}
"""Units of a dimension; the first is the one in which it is kept, the others so many times as large."""

STEPS: dict[Dimension, tuple[str, ...]] = {
    "time": ("ms", "s"), "current": ("µA", "mA", "A"), "voltage": ("V",), "energy": ("mWh", "Wh"), "charge": ("mAh",),
    "bytes": ("B", "KiB", "MiB"), "temperature": ("°C",), "resistance": ("Ω", "kΩ", "MΩ"), "length": ("mm",), "light": ("lx",),
    "share": ("%",), "days": ("d",),
}  # fmt: skip
"""In which of them values are shown."""


@dataclass(frozen=True)
class Quantity:
    """Something that can be measured. `budget` : the budget of a build that its prediction is, "" where it has none."""

    slug: str
    name: str
    dimension: Dimension
    budget: str = ""

    @property
    def unit(self) -> str:
        return next(iter(UNITS[self.dimension]))


QUANTITIES: Registry[Quantity] = Registry(
    "quantity",
    (
        Quantity("frame-time", "frame time", "time", "frame"),
        Quantity("energy-a-day", "energy of a day", "energy", "energy"),
        Quantity("flash", "flash", "bytes", "flash"),
        Quantity("ram", "RAM", "bytes", "ram"),
        Quantity("current", "current", "current"),
        Quantity("idle-current", "current asleep", "current"),
        Quantity("voltage", "voltage", "voltage"),
        Quantity("charge", "charge of an update", "charge"),
        Quantity("runtime", "runtime", "days"),
        Quantity("refresh-time", "time of a refresh", "time"),
        Quantity("temperature", "temperature", "temperature"),
        Quantity("resistance", "resistance", "resistance"),
        Quantity("length", "length", "length"),
        Quantity("light", "light", "light"),
        Quantity("charge-left", "charge left", "share"),
    ),
    lambda quantity: quantity.slug,
)
_WRITTEN = re.compile(r"\s*([+-]?[\d.,'’ ]*\d(?:[eE][+-]?\d{1,3})?)\s*([^\d\s].*)?\s*")
LARGEST = 1e12


def read_reading(written: str, quantity: Quantity) -> float:
    """A reading in the unit in which its quantity is kept.

    >>> read_reading("12,5 mA", QUANTITIES["current"]), read_reading("0.4 A", QUANTITIES["current"])
    (12.5, 400.0)

    Raises
    ------
    BadValueError
        It is no number, or its unit is none of the quantity's.
    """
    known = UNITS[quantity.dimension]
    accepted = ", ".join(known)
    match = _WRITTEN.fullmatch(written[:80])
    number = decimal(match[1], -LARGEST * 10, LARGEST * 10) if match else None
    if match is None or number is None:
        raise BadValueError(f"{written[:24]!r} is no {quantity.name}; a number with one of {accepted} is accepted")
    unit = (match[2] or "").strip() or quantity.unit
    if unit not in known:
        raise BadValueError(f"{unit[:12]!r} is no unit of {quantity.name}; {accepted} are accepted")
    found = float(number) * known[unit]
    if not -LARGEST <= found <= LARGEST:
        raise BadValueError(f"{written[:24]!r} is larger than anything that can be measured here")
    return found


def quantity_named(slug: str) -> Quantity:
    """A quantity; raises `BadValueError` where there is none of this name."""
    try:
        return QUANTITIES[slug]
    except UnknownNameError as error:
        raise BadValueError(str(error.args[0])) from None
