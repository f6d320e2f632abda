"""Finding and changing single commands in the text of a sequence, without touching its words."""

import re
from collections.abc import Callable


def value_after(text: str, command: str) -> int | None:
    """The byte behind a command ("A8", "3A d"), in any sequence of the notation; None where there is none."""
    match = _pattern(command).search(text)
    return int(match["value"], 16) if match else None


def with_value(text: str, command: str, change: Callable[[int], int]) -> str:
    """The text with the byte behind a command changed.

    >>> with_value("c A8 3F  # rows", "A8", lambda rows: rows // 2)
    'c A8 1F  # rows'
    """
    return _pattern(command).sub(lambda m: f"{m['head']}{change(int(m['value'], 16)):02X}", text, count=1)


def exchanged(text: str, one: str, other: str) -> str | None:
    """The text with a command that stands alone exchanged for its opposite, whichever stands there; None if neither.

    >>> exchanged("c A6  # plain", "A6", "A7")
    'c A7  # plain'
    """
    for old, new in ((one, other), (other, one)):
        changed, count = re.subn(rf"^([ \t]*c ){re.escape(old)}(?=\s|$)", rf"\g<1>{new}", text, count=1, flags=re.M)
        if count:
            return changed
    return None


def _pattern(command: str) -> re.Pattern[str]:
    return re.compile(rf"^(?P<head>[ \t]*c {re.escape(command)} )(?P<value>[0-9A-F]{{2}})\b", re.M)
