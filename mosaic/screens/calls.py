"""What elements come down to: calls of `mosaic.drawing`, the same for the page's pixels, for C and for Python."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.drawing import shapes
from mosaic.drawing.surface import Surface, Values
from mosaic.lettering.glyph import Lettering
from mosaic.values.value import Value

Colors = tuple[int | None, ...]


@dataclass(frozen=True, eq=False)
class Image:
    """Pixels as places among colours; `key` names them in code, so that what is the same is held once."""

    key: str
    pixels: npt.NDArray[np.uint8]
    colors: Colors

    @property
    def width(self) -> int:
        return self.pixels.shape[1]

    @property
    def height(self) -> int:
        return self.pixels.shape[0]


@dataclass(frozen=True, eq=False)
class Font:
    """A lettering under the name it has in code."""

    key: str
    lettering: Lettering


@dataclass(frozen=True, eq=False)
class Past:
    """The last `count` readings of a value, the newest last, None where one is missing; or None while values are not known."""

    value: Value
    count: int
    readings: tuple[int | None, ...] | None


@dataclass(frozen=True, eq=False)
class Call:
    """One call: the name of a shape, and what it is given, as `docs/drawing.md` has it. `element` is whose it is."""

    name: str
    given: tuple[Any, ...]
    element: str = ""


def _only(surface: Surface, before: Values, x: int, y: int, w: int, h: int) -> None:
    """Take back what was drawn outside of a box."""
    top = surface.top
    rows, columns = slice(max(0, y - top), max(0, y + h - top)), slice(max(0, x), max(0, x + w))
    before[rows, columns] = surface.values[rows, columns]
    surface.values[...] = before


def draw(surface: Surface, calls: Iterable[Call]) -> None:
    """Carry calls out on a surface; numbers that lie too far off are told as `BadValueError`."""
    outside: Values | None = None
    box = (0, 0, 0, 0)
    for call in calls:
        given = call.given
        if call.name == "within":
            outside, box = surface.values.copy(), given
        elif call.name == "beyond" and outside is not None:
            _only(surface, outside, *box)
        elif call.name == "plot":
            x, y, w, h, thickness, low, high, past, color = given
            shapes.plot(surface, x, y, w, h, thickness, low, high, past.readings or (), past.count, color)
        elif call.name in ("ellipse_outline", "rounded_outline"):
            getattr(shapes, call.name.removesuffix("_outline"))(surface, *given, outlined=True)
        elif call.name in ("picture", "turned"):
            *first, image = given
            getattr(shapes, call.name)(surface, *first, image.pixels, image.colors)
        elif call.name == "text":
            x, base, words, font, colors = given
            shapes.text(surface, x, base, words, font.lettering, colors)
        else:
            getattr(shapes, call.name)(surface, *given)
