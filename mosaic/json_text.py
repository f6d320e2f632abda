"""Reading JSON that people bring: what breaks is said with its line and column, in words of JSON."""

import json
import math
from typing import Any

from mosaic.errors import BadDescriptionError

# What the reader of the standard library says, and what a maker can do about it.
_WORDS = {
    "Expecting value": "a value is missing: text in quotes, a number, true, false, null, [ or {",
    "Expecting property name enclosed in double quotes": "a name in double quotes is missing, or a comma is one too many",
    "Expecting ':' delimiter": "a colon is missing behind the name",
    "Expecting ',' delimiter": "a comma or a closing bracket is missing",
    "Illegal trailing comma before end of object": "a comma stands behind the last entry",
    "Illegal trailing comma before end of array": "a comma stands behind the last entry",
    "Extra data": "something stands behind the end",
    "Unterminated string starting at": "the text that begins here has no closing quote",
}  # fmt: skip
DEEPEST = 64
MOST_DIGITS = 18
_TOO_DEEP = f"brackets go too deep; up to {DEEPEST} levels are accepted"
_OTHERS = "this sign cannot stand here; line breaks and backslashes inside text are written \\n and \\\\"


def read_json(data: str | bytes, what: str) -> Any:
    """The value that a JSON text holds; `what` names it in messages.

    Raises
    ------
    BadDescriptionError
        It is no text in UTF-8, or no JSON; the words say where it breaks.
    """
    try:
        text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
    except UnicodeDecodeError as error:
        raise BadDescriptionError(
            f"{what}: this is no text from byte {error.start + 1:,} on; a text file with JSON, saved as UTF-8, is accepted"
        ) from None
    try:
        value = json.loads(text, parse_int=_whole, parse_float=_decimal, parse_constant=_no_number)
        _check(value)
        return value
    except json.JSONDecodeError as error:
        words = _WORDS.get(error.msg, _OTHERS)
        raise BadDescriptionError(f"{what}: line {error.lineno}, column {error.colno}: {words}; this is to be JSON") from None
    except RecursionError:
        raise BadDescriptionError(f"{what}: {_TOO_DEEP}") from None
    except ValueError as error:
        raise BadDescriptionError(f"{what}: {error}") from None


def _whole(text: str) -> int:
    if len(text) > MOST_DIGITS:
        raise ValueError(f"{text[:12]}... is too long for a number; up to {MOST_DIGITS} digits are accepted")
    return int(text)


def _decimal(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise ValueError(f"{text[:24]} is too large for a number; up to 1e300 is accepted")
    return value


def _no_number(text: str) -> float:
    raise ValueError(f"{text} is no number; digits with a decimal point are accepted")


def _check(value: Any) -> None:
    """Refuse what lies deeper than descriptions do, and halves of signs that no text can hold."""
    level = [value]
    for _ in range(DEEPEST):
        for each in level:
            _check_text(each)
            if isinstance(each, dict):
                for name in each:
                    _check_text(name)
        level = [i for v in level if isinstance(v, dict | list) for i in (v.values() if isinstance(v, dict) else v)]
        if not level:
            return
    raise ValueError(_TOO_DEEP)


def _check_text(value: Any) -> None:
    if isinstance(value, str) and any("\ud800" <= sign <= "\udfff" for sign in value):
        raise ValueError("a text holds half of a sign (\\ud800 to \\udfff alone), which no file can hold; write the sign itself")
