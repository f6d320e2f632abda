"""Names that makers give: one rule for all of them."""

from mosaic.errors import BadValueError

LONGEST = 80


def checked_name(text: str, what: str = "the name") -> str:
    """A name with its blanks tidied.

    >>> checked_name("  Tide   board ")
    'Tide board'

    Raises
    ------
    BadValueError
        It is empty or too long; `what` says whose name it is.
    """
    name = " ".join(text.split())
    if not 1 <= len(name) <= LONGEST:
        raise BadValueError(f"{what} has {len(name)} characters; 1 to {LONGEST} are accepted")
    return name
