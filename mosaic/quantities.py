"""Sizes and clocks as makers write them: 1.5 MB, 64 KiB, 400 kHz."""

import re
from decimal import Decimal

from mosaic.errors import BadValueError

UNITS: dict[str, dict[str, int]] = {
    "bytes": {
        "": 1, "b": 1, "byte": 1, "bytes": 1, "kb": 10**3, "mb": 10**6, "gb": 10**9, "kib": 2**10, "mib": 2**20, "gib": 2**30,
    },
    "Hz": {"": 1, "hz": 1, "khz": 10**3, "mhz": 10**6, "ghz": 10**9},
}  # fmt: skip
"""Units by what is measured, in small letters. A thousand is decimal, as on every data sheet; KiB and MiB are binary."""
EXAMPLES = {"bytes": "1572864, 1.5 MB (1,500,000 bytes) or 1.5 MiB (1,572,864 bytes)", "Hz": "400000, 400 kHz or 10 MHz"}
_SHOWN = {"bytes": (("MiB", 2**20), ("KiB", 2**10), ("bytes", 1)), "Hz": (("MHz", 10**6), ("kHz", 10**3), ("Hz", 1))}
LONGEST = 40
_TEXT = re.compile(r"([0-9][0-9 ,_']*(?:\.[0-9]+)?|\.[0-9]+)\s*([a-z]*)", re.IGNORECASE)


def how_many(count: int, one: str, several: str = "") -> str:
    """So many of something, in words for a page.

    >>> how_many(1, "cell"), how_many(1200, "cell"), how_many(0, "entry", "entries")
    ('1 cell', '1,200 cells', '0 entries')
    """
    return f"{count:,} {one if count == 1 else several or one + 's'}"


def quantity(text: str, unit: str) -> int:
    """A whole number of `unit` ("bytes" or "Hz"). A comma or space parts thousands; one comma before other than three
    digits is a decimal comma.

    >>> quantity("1.5 MiB", "bytes"), quantity("1,5 MB", "bytes"), quantity("400 kHz", "Hz"), quantity("16,384", "bytes")
    (1572864, 1500000, 400000, 16384)

    Raises
    ------
    BadValueError
        It is no number with such a unit, or less than a whole one.
    """
    match = _TEXT.fullmatch(text.strip()) if len(text) <= LONGEST else None
    factor = UNITS[unit].get(match[2].lower()) if match else None
    if match is None or factor is None:
        raise BadValueError(f"{text.strip()[:40]!r} is no number of {unit}; write {EXAMPLES[unit]}")
    value = Decimal(_decimal(match[1])) * factor
    if value != int(value):
        raise BadValueError(f"{text.strip()[:40]!r} is {value.normalize():f} {unit}, not a whole number; write {EXAMPLES[unit]}")
    return int(value)


def _decimal(number: str) -> str:
    plain = re.sub(r"[ _']", "", number)
    if plain.count(",") == 1 and "." not in plain and len(plain.partition(",")[2]) != 3:
        return plain.replace(",", ".")
    return plain.replace(",", "")


def in_words(value: int, unit: str) -> str:
    """The number in the largest unit in which it is whole: `quantity` reads the same number from it.

    >>> in_words(65536, "bytes"), in_words(65537, "bytes"), in_words(400_000, "Hz"), in_words(0, "Hz")
    ('64 KiB', '65537 bytes', '400 kHz', '0 Hz')
    """
    name, factor = next((name, factor) for name, factor in _SHOWN[unit] if value % factor == 0 and (value or factor == 1))
    return f"{value // factor} {name}"


def as_hz(value: float) -> str:
    """A clock in kHz or MHz.

    >>> as_hz(400_000), as_hz(1_000_000), as_hz(999_999)
    ('400 kHz', '1 MHz', '999.999 kHz')
    """
    return f"{value / 1e6:g} MHz" if value >= 1e6 else f"{value / 1e3:g} kHz"


def as_rate(value: float, clock_name: str) -> str:
    """A link's clock in the unit that its kind counts in: bits a second for serial ports.

    >>> as_rate(921_600, "bits a second"), as_rate(8_000_000, "clock")
    ('921,600 bit/s', '8 MHz')
    """
    return f"{value:,} bit/s" if clock_name == "bits a second" else as_hz(value)
