"""Forms over descriptions: blanks set into sentences, each bound to a path such as `glass.width_px`.

What was typed is kept as text until the whole description has been read; what is wrong with a
path is shown at its blank, everything else above the form.
"""

import json
from dataclasses import dataclass, field
from typing import Any

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.numbers import MOST_DECIMAL, decimal, hexadecimal, whole
from mosaic.quantities import EXAMPLES, in_words, quantity

MOST_BLANK = int(MOST_DECIMAL)


@dataclass(frozen=True)
class Blank:
    """One value to fill in: its path, what it is called, and how it is typed.

    `kind` is "text", "long" (several lines), "whole", "number", "price" (a number or nothing), "bytes" or "Hz" (with a unit,
    such as 1.5 MiB or 10 MHz), "choice", "flag" (yes or no), "hex" (a byte), "words" (a list with commas) or "colors" (a
    list of #rrggbb).
    """

    path: str
    label: str
    kind: str
    choices: tuple[tuple[str, str], ...] = ()


@dataclass
class BlankValue:
    """A blank with what stands in it, and what is wrong with it."""

    blank: Blank
    text: str
    problem: str = ""

    @property
    def name(self) -> str:
        return self.blank.path

    @property
    def id(self) -> str:
        return "at-" + self.blank.path.replace(".", "-").replace("[", "-").replace("]", "")

    @property
    def width(self) -> int:
        """Characters that the blank should have room for."""
        return max(4, min(44, len(self.text) + 1))

    @property
    def lines(self) -> int:
        return max(2, min(18, self.text.count("\n") + 1))


@dataclass
class DescriptionForm:
    """Blanks over a plain description, with problems by path."""

    blanks: tuple[Blank, ...]
    plain: dict[str, Any]
    typed: dict[str, str] = field(default_factory=dict)
    problems: list[tuple[str, str]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._values = {
            b.path: BlankValue(b, self.typed.get(b.path, _as_text(_at(self.plain, b.path), b.kind))) for b in self.blanks
        }

    def __getitem__(self, path: str) -> BlankValue:
        return self._values[path]

    @property
    def values(self) -> dict[str, BlankValue]:
        return self._values

    def filled(self) -> dict[str, Any]:
        """The description with what was typed; blanks that were not sent keep their value."""
        plain = json.loads(json.dumps(self.plain))
        for blank in self.blanks:
            if blank.path in self.typed:
                is_number = blank.kind == "choice" and isinstance(_at(plain, blank.path), int)
                _put(plain, blank.path, _from_text(self.typed[blank.path], "whole" if is_number else blank.kind))
        return plain

    def refuse(self, error: Exception) -> None:
        """Lay what is wrong at the blanks it belongs to."""
        told = getattr(error, "problems", ()) or (error,)
        for problem in told:
            path = getattr(problem, "path", "").removeprefix("$.")
            text = problem.reason if isinstance(problem, BadDescriptionError) else str(problem)
            value = next((v for p, v in self._values.items() if path and (path == p or path.startswith(f"{p}["))), None)
            if value is not None and not value.problem:
                value.problem = text
            if value is not None and value.blank.kind in EXAMPLES:
                value.problem = text = f"{value.text[:40]!r} is given; write {EXAMPLES[value.blank.kind]}"
            label = value.blank.label if value is not None else path
            self.problems.append((label[:1].upper() + label[1:], text))


def _steps(path: str) -> list[str | int]:
    return [step if (place := whole(step)) is None else place for step in path.replace("[", ".").replace("]", "").split(".")]


def _at(plain: Any, path: str) -> Any:
    for step in _steps(path):
        try:
            plain = plain[step]
        except (KeyError, IndexError, TypeError):
            return None
    return plain


def _put(plain: Any, path: str, value: Any) -> None:
    *way, last = _steps(path)
    for step in way:
        plain = plain[step]
    plain[last] = value


def _as_text(value: Any, kind: str) -> str:
    if value is None:
        return ""
    if kind in EXAMPLES and isinstance(value, int):
        return in_words(value, kind)
    if kind == "colors":
        return " ".join(value)
    if kind == "words":
        return ", ".join(value)
    if kind == "flag":
        return "yes" if value else "no"
    if kind == "hex" and isinstance(value, int):
        return f"{value:02X}"
    return f"{value:g}" if isinstance(value, float) and abs(value) < 1e6 else str(value)


def _from_text(text: str, kind: str) -> Any:
    """The typed text as a value; what is no number stays text, and is refused with its path."""
    text = text.strip("\r\n") if kind == "long" else text.strip()
    if kind == "long":
        return text.replace("\r\n", "\n") + ("\n" if "\n" in text else "")
    if kind == "colors":
        return text.lower().split()
    if kind == "words":
        return [word.strip() for word in text.split(",") if word.strip()]
    if kind == "flag":
        return {"yes": True, "no": False}.get(text, text)
    if kind == "hex":
        return _hex_number(text)
    if kind == "price" and not text:
        return None
    if kind in ("bytes", "Hz"):
        return _quantity(text, kind)
    if kind in ("whole", "number", "price"):
        number = whole(text, -MOST_BLANK, MOST_BLANK) if kind == "whole" else decimal(text)
        return text if number is None else number
    return text


def _hex_number(text: str) -> Any:
    number = hexadecimal(text or "0", most=0xFFFF)
    return text if number is None else number


def _quantity(text: str, unit: str) -> Any:
    try:
        return quantity(text or "0", unit)
    except BadValueError:
        return text


def revision_from(text: str) -> int:
    """The revision a page began from.

    Raises
    ------
    BadValueError
        The page does not say.
    """
    revision = whole(text)
    if revision is None:
        raise BadValueError("this page does not say which revision it began from; load it again")
    return revision
