"""Errors of the core, few and named by what the caller can do about them."""

from typing import NamedTuple


class MosaicError(Exception):
    """Base of every error that a wrong input can cause; its text is fit to show a maker."""


class BadValueError(MosaicError, ValueError):
    """A value lies outside what is accepted; the text names it, gives it and says what is allowed."""


class BadPictureError(MosaicError, ValueError):
    """A file is not a picture that can be read; the text says what it is and what is accepted."""


class BadDescriptionError(MosaicError, ValueError):
    """A saved description (recipe, passport) is malformed; the text holds the path of the value.

    `path` is the place, `reason` what is wrong there. Where several places are wrong,
    `problems` has an error for each.
    """

    def __init__(self, reason: str, *, path: str = "", problems: tuple["BadDescriptionError", ...] = ()) -> None:
        super().__init__(f"{path.removeprefix('$.')}: {reason}" if path else reason)
        self.reason = reason
        self.path = path
        self.problems = problems


class UnknownNameError(MosaicError, LookupError):
    """A name is not in a registry or catalogue; the text lists the known ones."""


class DoubleNameError(MosaicError, ValueError):
    """A registry was given two members of one name."""


class LineProblem(NamedTuple):
    """What is wrong on a line of a text."""

    line: int
    words: str

    def __str__(self) -> str:
        return f"line {self.line}: {self.words}"


class BadLinesError(MosaicError, ValueError):
    """A text (capture, array, sequence) cannot be read; `problems` has every line that is wrong, the text the first."""

    def __init__(self, problems: tuple[LineProblem, ...]) -> None:
        more = f" (and {len(problems) - 1} more)" if len(problems) > 1 else ""
        super().__init__(f"{problems[0]}{more}")
        self.problems = problems
