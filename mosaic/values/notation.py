"""Values in texts: `{tide}`, `{tide:+06.1u}`, `{now:hh:mm}`. Texts are kept with ids, `{v3:.1}`, and shown with names.

What stands behind the colon says how the value is shown. Of numbers: `+` or a blank before what is not negative; `0` and a
width for leading zeros, a width alone for blanks; `.` and decimals; `u` for the unit. Of times, dates and durations one of
the forms of `printing`. Words and texts take none. `{{` is a brace. Bounds, `{0..99}`, and words, `{ebb|flood}`, stand where no
value exists yet.
"""

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import get_args

from mosaic.errors import BadValueError
from mosaic.values.printing import (
    ClockFormat,
    DateFormat,
    DurationFormat,
    NumberFormat,
    clock_text,
    date_text,
    duration_text,
    number_text,
)
from mosaic.values.value import Reading, Value

FORMS: dict[str, tuple[str, ...]] = {
    "time": get_args(ClockFormat), "date": get_args(DateFormat), "duration": get_args(DurationFormat),
}  # fmt: skip
_NUMBER = re.compile(r"([+ ]?)(0?)(\d{0,2})(?:\.(\d))?(u?)")
_FIELD = re.compile(r"\{\{|\{([^{}]*)\}|\{")


@dataclass(frozen=True)
class Field:
    """A value in a text: which, how it was written behind the colon, and what follows from that."""

    value: Value
    written: str
    number: NumberFormat = field(default=NumberFormat())
    form: str = ""
    unit: bool = False

    def text_of(self, raw: Reading, *, stale: bool = False) -> str:
        """A reading as it is shown."""
        value = self.value
        if raw is None:
            return value.absent
        if stale and value.stale:
            return value.stale
        if isinstance(raw, str):
            return raw
        if value.named:
            return value.named[min(max(raw, 0), len(value.named) - 1)]
        if value.kind == "time":
            return clock_text(raw, self.form)  # type: ignore[arg-type]
        if value.kind == "date":
            return date_text(raw, self.form)  # type: ignore[arg-type]
        if value.kind == "duration":
            return duration_text(raw, self.form)  # type: ignore[arg-type]
        return number_text(raw, value.decimals, self.number) + (f" {value.unit}" if self.unit and value.unit else "")


Piece = str | Field
"""Of a text: what stands as it is (bounds and words of the older notation too, in their braces), and values."""


def field_of(value: Value, written: str) -> Field:
    """A field from what stands behind its colon.

    Raises
    ------
    BadValueError
        It is no form of this kind of value.
    """
    if value.kind in FORMS:
        forms = FORMS[value.kind]
        if written and written not in forms:
            raise BadValueError(f"{{{value.name}:{written}}}: a {value.kind} is shown as {', '.join(forms)}")
        usual = {"time": "hh:mm", "date": "yyyy-mm-dd", "duration": "h:mm"}[value.kind]
        return Field(value, written, form=written or usual)
    match = _NUMBER.fullmatch(written)
    if value.kind != "number":
        if written:
            raise BadValueError(f"{{{value.name}:{written}}}: a {value.kind} is shown as it is, {{{value.name}}}")
        return Field(value, "")
    if match is None or int(match[3] or 0) > 24:
        raise BadValueError(
            f"{{{value.name}:{written}}}: a number is shown as {{{value.name}:+06.1u}}: a sign, 0 for zeros, a width up to 24,"
            " a point with decimals, u for the unit; all of them may be left out"
        )
    width = int(match[3] or 0)
    fill = ("0" if match[2] else " ") if width else ""
    decimals = value.decimals if match[4] is None else int(match[4])
    return Field(value, written, NumberFormat(decimals, match[1], fill, width), unit=bool(match[5]))  # type: ignore[arg-type]


def _is_older(inside: str) -> bool:
    """Whether it is bounds or words, which need no value."""
    return ".." in inside or "|" in inside


def pieces(text: str, values: Mapping[str, Value]) -> tuple[Piece, ...]:
    """What a text is made of; `values` by what they are written by. What is unknown or cannot be read stands as it is.

    Older notation stays in its braces, a lone or doubled brace becomes one.
    """
    found: list[Piece] = []

    def plain(words: str) -> None:
        if found and isinstance(found[-1], str):
            found[-1] += words
        elif words:
            found.append(words)

    at = 0
    for match in _FIELD.finditer(text):
        plain(text[at : match.start()])
        at = match.end()
        if match[1] is None:
            plain("{{")
            continue
        name, _, form = match[1].partition(":")
        value = values.get(name.strip())
        if value is None:
            plain(match[0] if _is_older(match[1]) else match[0].replace("{", "{{"))
            continue
        try:
            found.append(field_of(value, form))
        except BadValueError:
            plain(match[0].replace("{", "{{"))
    plain(text[at:])
    return tuple(found)


def literal(piece: str) -> str:
    """A piece that stands as it is, with its braces single."""
    return piece.replace("{{", "{")


def fields_in(text: str) -> Iterator[tuple[str, str]]:
    """(name or id, form) of the values that a text names; bounds and words are none."""
    for match in _FIELD.finditer(text):
        if match[1] is not None and not _is_older(match[1]):
            name, _, form = match[1].partition(":")
            yield name.strip(), form


def renamed(text: str, names: Mapping[str, str]) -> str:
    """A text whose values go by other names: from names to ids, or back. Unknown ones stay as they are."""

    def other(match: re.Match[str]) -> str:
        if match[1] is None or _is_older(match[1]):
            return match[0]
        name, colon, form = match[1].partition(":")
        known = names.get(name.strip())
        return f"{{{known}{colon}{form}}}" if known else match[0]

    return _FIELD.sub(other, text)


def check(text: str, values: Mapping[str, Value]) -> None:
    """Refuse a text with a value that is not there, or a form that it cannot have.

    Raises
    ------
    BadValueError
        With what is wrong, and what would be accepted.
    """
    for name, form in fields_in(text):
        if name not in values:
            known = ", ".join(f"{{{one}}}" for one in values) or "none yet; values are made on the page Values"
            raise BadValueError(f"{{{name[:40]}}} is no value; known are {known}. A brace by itself is written {{{{")
        field_of(values[name], form)
