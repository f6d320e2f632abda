"""Numbers as people type them, read in one place: plain digits, no more of them than a value can need, and never an
infinity. What is no such number is None, or a message of whoever asked."""

import math
import re

from mosaic.errors import BadValueError

MOST_WHOLE = 2**31 - 1
MOST_ID = 2**63 - 1
"""The largest number of a row."""
MOST_DECIMAL = 1e12
_WHOLE = re.compile(r"[-+]?[0-9]{1,18}")
_DECIMAL = re.compile(r"[-+]?(?:[0-9]{1,18}(?:[.,][0-9]{0,18})?|[.,][0-9]{1,18})(?:[eE][-+]?[0-9]{1,2})?")
_HEX = re.compile(r"(?:0[xX])?([0-9A-Fa-f]{1,8})")


def whole(text: str | None, least: int = 0, most: int = MOST_WHOLE) -> int | None:
    """The whole number of a text, or None where it is none, or outside of its bounds.

    >>> whole("25"), whole(" -3 ", -5), whole("²"), whole("٢"), whole("9" * 5000), whole("26", most=25), whole("")
    (25, -3, None, None, None, None, None)
    """
    plain = (text or "").strip()
    if len(plain) > 19 or not _WHOLE.fullmatch(plain):
        return None
    number = int(plain)
    return number if least <= number <= most else None


def row_id(text: str | None) -> int | None:
    """The number of a row that a page sent, or None."""
    return whole(text, most=MOST_ID)


def hexadecimal(text: str | None, most: int = 255) -> int | None:
    """The number of hexadecimal digits, with 0x before them or without, or None.

    >>> hexadecimal("0x3c"), hexadecimal("A8"), hexadecimal("100"), hexadecimal("0x")
    (60, 168, None, None)
    """
    match = _HEX.fullmatch((text or "").strip())
    number = int(match[1], 16) if match else None
    return number if number is not None and number <= most else None


def decimal(text: str | None, least: float = -MOST_DECIMAL, most: float = MOST_DECIMAL) -> float | None:
    """The number of a text with a decimal point or comma, or None where it is none, or outside of its bounds.

    >>> decimal("2,5"), decimal("-1e3"), decimal("1e400"), decimal("inf"), decimal("1.2.3"), decimal("7", 0, 6.5)
    (2.5, -1000.0, None, None, None, None)
    """
    plain = (text or "").strip()
    if len(plain) > 48 or not _DECIMAL.fullmatch(plain):
        return None
    number = float(plain.replace(",", "."))
    return number if math.isfinite(number) and least <= number <= most else None


def whole_of(text: str | None, what: str, least: int = 0, most: int = MOST_WHOLE) -> int:
    """As `whole`, with words for what is not accepted.

    Raises
    ------
    BadValueError
        It is no whole number between the bounds.
    """
    number = whole(text, least, most)
    if number is None:
        raise BadValueError(f"{what} is {(text or '')[:24]!r}; a whole number from {least:,} to {most:,} is accepted")
    return number


def decimal_of(text: str | None, what: str, least: float, most: float, unit: str = "") -> float:
    """As `decimal`, with words for what is not accepted.

    Raises
    ------
    BadValueError
        It is no number between the bounds.
    """
    number = decimal(text, least, most)
    if number is None:
        behind = f" {unit}" if unit else ""
        raise BadValueError(f"{what} is {(text or '')[:24]!r}; a number from {least:,.10g} to {most:,.10g}{behind} is accepted")
    return number
