"""From a value that may be missing, or of one of several kinds, to the one that is needed here."""

from typing import TypeVar

from mosaic.errors import BadValueError

T = TypeVar("T")


def needed(value: T | None, what: str) -> T:
    """The value; `what` names it for whoever gave a thing without it. Raises BadValueError."""
    if value is None:
        raise BadValueError(f"{what} is needed here, and there is none")
    return value


def needed_kind(value: object, kind: type[T], what: str) -> T:
    """The value as `kind`; `what` names that kind. Raises BadValueError."""
    if not isinstance(value, kind):
        raise BadValueError(f"{what} is needed here, not {type(value).__name__}")
    return value
