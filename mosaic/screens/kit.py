"""What a screen is made with: the panel, letterings, cells and pictures that its elements name, and what screens share."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from mosaic.drawing.surface import Surface
from mosaic.lettering.shades import shades
from mosaic.panels.passport import Passport
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.calls import Colors, Font, Image
from mosaic.screens.colors import color_value, snapped
from mosaic.screens.placing import Box
from mosaic.screens.screen import Design, Element, Style
from mosaic.source_text import identifier
from mosaic.strips.cells import Cell

MOST_COLORS = 256
"""Of a picture whose pixels are places among colours."""
PLAIN = Style("plain")


@dataclass(frozen=True, eq=False)
class Kit:
    """What elements refer to.

    Attributes
    ----------
    letterings, cells, pictures : by reference; pictures are the whole glass, (H, W) palette indices or (H, W, 3) RGB.
    names : of documents by reference, for words and code.
    """

    passport: Passport
    letterings: Mapping[str, Font] = field(default_factory=dict)
    cells: Mapping[str, tuple[Cell, ...]] = field(default_factory=dict)
    pictures: Mapping[str, npt.NDArray[np.uint8]] = field(default_factory=dict)
    names: Mapping[str, str] = field(default_factory=dict)
    design: Design = field(default=Design())

    def style(self, element: Element) -> Style:
        return self.design.style(element.style) or PLAIN

    def font(self, element: Element) -> Font | None:
        """The lettering of an element: its own, its style's, or the first of the build; None where there is none."""
        wanted = element.lettering or self.style(element).lettering
        return self.letterings.get(wanted) if wanted else next(iter(self.letterings.values()), None)

    def color(self, element: Element) -> int:
        return color_value(element.color or self.style(element).color, self.passport)

    def second(self, element: Element) -> int | None:
        """The colour beneath or beside an element's own; None for none."""
        name = element.second or self.style(element).second
        return color_value(name, self.passport) if name else None

    def cell(self, element: Element) -> Cell | None:
        """The cell that an element shows: by its name, or by number; None where it is gone."""
        cells = self.cells.get(element.source, ())
        if element.kind == "picture":
            named = [cell for cell in cells if cell.name == element.cell]
            return named[0] if named else None
        return cells[element.number] if element.number < len(cells) else None

    def levels(self, font: Font, ink: int, ground: int | None) -> Colors:
        """The colour of each level of a lettering; over a ground that is not one colour, half a pixel of ink decides."""
        bits = font.lettering.bits
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
