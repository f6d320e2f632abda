"""A drawing or a page whose frames a host computes: its text with values in braces, and how it is reduced."""

import html
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.reduce.recipe import Recipe
from mosaic.values.notation import field_of
from mosaic.values.states import State
from mosaic.values.value import Value

MOST_TEXT = 200_000
_FIELD = re.compile(r"\{([^{}\n]{1,80})\}")


@dataclass(frozen=True)
class HostPage:
    """A drawing (SVG) or a page (HTML with CSS).

    Attributes
    ----------
    text : of it; values stand in braces, {tide:.1}. What stands in braces and is no value, as in CSS, stays as it is.
    recipe : how it is toned and reduced, as a picture is.
    """

    kind: Literal["drawing", "page"] = "drawing"
    text: Annotated[str, Meta(max_length=MOST_TEXT)] = ""
    recipe: Recipe = field(default=Recipe())
    form: Literal[1] = 1


def filled(text: str, values: Mapping[str, Value], state: State) -> str:
    """A text with values put in as letters; `values` by name. They are escaped: a reading never becomes markup.

    Raises
    ------
    BadValueError
        A value is asked for in a form that it cannot have.
    """

    def one(match: re.Match[str]) -> str:
        name, _, shape = match[1].partition(":")
        value = values.get(name.strip())
        if value is None:
            return match[0]
        shown = field_of(value, shape).text_of(state.readings.get(value.id), stale=value.id in state.stale)
        return html.escape(shown)

    return _FIELD.sub(one, text)


def values_named(text: str, values: Mapping[str, Value]) -> list[Value]:
    """The values that a text shows, in the order of their first."""
    names = (match[1].partition(":")[0].strip() for match in _FIELD.finditer(text))
    return list({name: values[name] for name in names if name in values}.values())
