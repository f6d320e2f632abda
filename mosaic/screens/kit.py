"""What a screen is made with: the panel, letterings, cells and pictures that its elements name, and what screens share."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.color.srgb import bytes_to_linear, linear_to_bytes, parse_hex
from mosaic.drawing.surface import Surface
from mosaic.errors import BadValueError
from mosaic.lettering.shades import shades
from mosaic.panels.passport import Passport
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.calls import Colors, Font, Image, Past
from mosaic.screens.colors import color_value, shown_hex, snapped
from mosaic.screens.placing import Box
from mosaic.screens.screen import Design, Element, Follow, Style
from mosaic.screens.symbols import Symbol, Whole, bounds, least, most, settled
from mosaic.screens.words import Words, widest, words_of
from mosaic.source_text import identifier
from mosaic.strips.cells import Cell
from mosaic.values.courses import typical
from mosaic.values.maps import BLENDS, Map, mapped, ramp_points
from mosaic.values.notation import Field, Piece, pieces, renamed
from mosaic.values.states import State, past_of
from mosaic.values.value import Reading, Value

MOST_TICK = 863_999
"""Tenths of a second of a day, after which they begin anew."""
MOST_COLORS = 256
"""Of a picture whose pixels are places among colours."""
PLAIN = Style("plain")


def text_of(element: Element) -> str:
    """The text that an element shows; of one that shows a value, that value in its shape."""
    if element.kind != "value":
        return element.text
    return f"{{{element.of}{':' if element.shape else ''}{element.shape}}}" if element.of else ""


@dataclass(frozen=True, eq=False)
class Kit:
    """What elements refer to.

    Attributes
    ----------
    letterings, cells, pictures : by reference; pictures are the whole glass, (H, W) palette indices or (H, W, 3) RGB.
    names : of documents by reference, for words and code.
    state : what all values are; None where they are not known yet, and what follows from them is to become code.
    """

    passport: Passport
    letterings: Mapping[str, Font] = field(default_factory=dict)
    cells: Mapping[str, tuple[Cell, ...]] = field(default_factory=dict)
    pictures: Mapping[str, npt.NDArray[np.uint8]] = field(default_factory=dict)
    names: Mapping[str, str] = field(default_factory=dict)
    design: Design = field(default=Design())
    state: State | None = field(default=State())

    @cached_property
    def values(self) -> dict[str, Value]:
        """Values by id."""
        return {value.id: value for value in self.design.values}

    def reading(self, value: Value) -> Reading:
        """What a value is in the state at hand; one that is not named there is typical."""
        if self.state is None:
            raise BadValueError("values are not known here")
        if value.id in self.state.readings:
            return self.state.readings[value.id]
        if not value.is_given:
            return self._band(value)
        return typical(value)

    def _band(self, value: Value) -> Reading:
        """The number of the band that another value is in; None where that has no reading, an old one, or one in a gap."""
        of = self.values.get(value.origin.of)
        if of is None or self.state is None or of.id in self.state.stale:
            return None
        raw = self.reading(of)
        return of.bands.band_of(raw) if isinstance(raw, int) else None

    def words(self, text: str) -> str | Words:
        """What a text shows."""
        if "{" not in text:
            return text
        if self.state is not None:
            return words_of(text, self.values, self.settled_state)
        found = pieces(text, self.values)
        if any(isinstance(piece, Field) for piece in found):
            return Words(text, found)
        return words_of(text, self.values, State())

    def told(self, text: str) -> str:
        """A text as its maker writes it, with the names of values."""
        return renamed(text, {value.id: value.name for value in self.values.values()})

    def called(self, element: Element) -> str:
        """An element in words: by its name, its text, or its kind."""
        text = self.told(text_of(element))
        words = element.name or (text.splitlines()[0] if text else "")
        return f"“{words[:30]}”" if words else f"the {element.kind} {element.id}"

    def pieces(self, text: str) -> tuple[Piece, ...]:
        """What a text is made of."""
        return pieces(text, self.values)

    def fields(self, text: str) -> list[Field]:
        """The values that a text shows."""
        return [piece for piece in self.pieces(text) if isinstance(piece, Field)]

    def tick(self) -> Whole:
        """Tenths of a second since the start, of the last day."""
        return Symbol("tick", (), 0, MOST_TICK) if self.state is None else self.state.tick % (MOST_TICK + 1)

    def past(self, value: Value, count: int) -> Past:
        """The last readings of a value."""
        if self.state is None:
            return Past(value, count, None)
        known = self.state.past.get(value.id)
        if known is None:
            known = past_of(value, count, self.reading(value))
        return Past(value, count, tuple(raw if isinstance(raw, int) else None for raw in known[-count:]))

    @cached_property
    def settled_state(self) -> State:
        """The state with every value in it."""
        state = self.state or State()
        return State(
            state.key, state.name, {value.id: self.reading(value) for value in self.values.values()}, state.stale, state.past,
            state.tick,
        )  # fmt: skip

    def widest(self, font: Font, text: str) -> int:
        """Pixels of the widest that a text can be."""
        return widest(text, self.values, font.lettering)[1]

    def width(self, font: Font, words: str | Words) -> Whole:
        """Pixels of what a text shows."""
        if isinstance(words, str):
            return font.lettering.width_of(words)
        return Symbol("width", (words, font), 0, max(0, self.widest(font, words.source)))

    def raw(self, value: Value) -> Whole | None:
        """The raw number of a value, held within its bounds; None where it has none."""
        low, high = value.bounds
        if self.state is None:
            return least(most(Symbol("raw", (value,), -(2**31), 2**31 - 1), low), high)
        reading = self.reading(value)
        return min(max(reading, low), high) if isinstance(reading, int) else None

    def followed(self, follow: Follow, own: Whole) -> Whole:
        """The number that a field of an element has, which without a reading is its `own`."""
        value = self.values.get(follow.value)
        raw = self.raw(value) if value is not None and value.is_number else None
        if value is None or raw is None:
            return own
        map_ = self.map_of(follow)
        if not isinstance(raw, Symbol):
            return mapped(map_, raw)
        number = _mapped(map_, raw)
        known = Symbol("known", (value,), 0, 1)
        (a, b), (c, d) = bounds(number), bounds(own)
        return Symbol("if", (known, number, own), min(a, c), max(b, d))

    def map_of(self, follow: Follow) -> Map:
        """The map of a field; of colours one by steps to the panel's own values."""
        map_ = follow.map
        if map_.by == "bands":
            return self._of_bands(follow)
        if not map_.colors:
            return map_
        colors = [color_value(name, self.passport) for name in map_.colors]
        if map_.by == "steps":
            return Map("steps", tuple((at, color) for (at, _), color in zip(map_.points, colors, strict=True)))
        shades = blended(map_.colors, self.passport)
        return Map("steps", tuple((at, shades[number]) for at, number in ramp_points(map_.points)))

    def _of_bands(self, follow: Follow) -> Map:
        """The map that the bands of a value give: their colours, or the numbers of their pictures."""
        value = self.values.get(follow.value)
        of = self.values.get(value.origin.of) if value is not None else None
        if of is None or not of.bands.bands:
            return Map("steps", ((0, 0),))
        if follow.what in ("color", "second"):
            outs = [color_value(band.color or "ink", self.passport) for band in of.bands.bands]
        else:
            outs = [band.picture for band in of.bands.bands]
        return Map("steps", tuple(enumerate(outs)))

    def style(self, element: Element) -> Style:
        return self.design.style(element.style) or PLAIN

    def font(self, element: Element) -> Font | None:
        """The lettering of an element: its own, its style's, or the first of the build; None where there is none."""
        wanted = element.lettering or self.style(element).lettering
        return self.letterings.get(wanted) if wanted else next(iter(self.letterings.values()), None)

    def color(self, element: Element) -> Any:
        own = color_value(element.color or self.style(element).color, self.passport)
        follow = following(element, "color")
        return self.followed(follow, own) if follow else own

    def second(self, element: Element) -> Any:
        """The colour beneath or beside an element's own; None for none."""
        name = element.second or self.style(element).second
        follow = following(element, "second")
        if follow:
            return self.followed(follow, color_value(name or "ground", self.passport))
        return color_value(name, self.passport) if name else None

    def cell(self, element: Element) -> Cell | None:
        """The cell that an element shows: by its name, or by number; None where it is gone."""
        cells = self.cells.get(element.source, ())
        if element.kind == "picture":
            named = [cell for cell in cells if cell.name == element.cell]
            return named[0] if named else None
        return cells[element.number] if element.number < len(cells) else None

    def levels(self, font: Font, ink: Whole, ground: Whole | None) -> Colors:
        """The colour of each level of a lettering; over a ground that is not one colour, half a pixel of ink decides."""
        ink, ground = settled(ink), None if ground is None else settled(ground)
        bits = font.lettering.bits
        if bits == 1:  # nothing lies between
            return None, ink
        if ground is None:
            half = (1 << bits) / 2
            return tuple(ink if level >= half else None for level in range(1 << bits))
        table = shades(self.passport, ink, ground, bits)
        fmt = self.passport.format
        if isinstance(fmt, DirectFormat):
            mixed = [snapped(int(r) << 16 | int(g) << 8 | int(b), fmt) for r, g, b in table]
        else:
            mixed = [int(value) for value in table]
        return None, *mixed[1:-1], ink


def following(element: Element, name: str) -> Follow | None:
    """How a field of an element follows a value; None where it does not."""
    return next((follow for follow in element.follows if follow.what == name), None)


def _mapped(map_: Map, raw: Symbol) -> Whole:
    if map_.by == "itself":
        return raw
    outs = [out for _, out in map_.points]
    if map_.by == "line":
        outs = [mapped(map_, raw.low), mapped(map_, raw.high)]
    return Symbol("map", (map_, raw), min(outs), max(outs))


def blended(names: tuple[str, ...], passport: Passport) -> list[int]:
    """The colours of a ramp as the panel has them: from each to the next `BLENDS` blends, mixed in light, and the last one."""
    seen = bytes_to_linear(
        np.array([parse_hex(shown_hex(color_value(name, passport), passport)) for name in names], np.uint8).reshape(-1, 3)
    )
    found = []
    for number in range(len(names) - 1):
        for blend in range(BLENDS):
            mixed = seen[number] + (seen[number + 1] - seen[number]) * blend / BLENDS
            found.append(
                color_value(names[number] if not blend else "#{:02x}{:02x}{:02x}".format(*linear_to_bytes(mixed)), passport)
            )
    return [*found, color_value(names[-1], passport)]


def beneath(surface: Surface, box: Box) -> int | None:
    """The one colour that lies in a box; None where there are several, or nothing of it is on the surface."""
    part = surface.values[max(0, box.y) : max(0, box.bottom), max(0, box.x) : max(0, box.right)]
    return int(part[0, 0]) if part.size and (part == part[0, 0]).all() else None


def image_of(
    key: str, pixels: npt.NDArray[np.uint8], inked: npt.NDArray[np.bool_] | None, passport: Passport
) -> Image | npt.NDArray[np.int32]:
    """Pixels as places among at most 256 colours; of more, (H, W) values of their own. What is not inked is none."""
    if pixels.ndim == 3:
        wide = pixels.astype(np.int32)
        values = wide[..., 0] << 16 | wide[..., 1] << 8 | wide[..., 2]
        fmt = passport.format
        if isinstance(fmt, DirectFormat):
            known, places = np.unique(values, return_inverse=True)
            values = np.array([snapped(int(v), fmt) for v in known], np.int32)[places].reshape(values.shape)
    else:
        values = pixels.astype(np.int32)
    if inked is not None:
        values = np.where(inked, values, -1)
    known, places = np.unique(values, return_inverse=True)
    if len(known) > MOST_COLORS:
        return values
    colors = tuple(None if v < 0 else int(v) for v in known)
    return Image(key, places.reshape(values.shape).astype(np.uint8), colors)


def key_of(kit: Kit, ref: str, more: str = "") -> str:
    """A name for code, of a document and a part of it."""
    return identifier(" ".join(filter(None, (kit.names.get(ref, ref), more))))
