"""Reading JSON that people bring: what breaks is said with its line and column, in words of JSON."""

import json
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
        return json.loads(text)
    except json.JSONDecodeError as error:
        words = _WORDS.get(error.msg, _OTHERS)
        raise BadDescriptionError(f"{what}: line {error.lineno}, column {error.colno}: {words}; this is to be JSON") from None
    except (RecursionError, ValueError):  # too deep, or a number of more digits than are read
        raise BadDescriptionError(f"{what}: brackets go too deep, or a number is too long; a few levels are accepted") from None
