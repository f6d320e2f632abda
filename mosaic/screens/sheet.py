"""What code of a screen holds besides its calls: pictures, fonts, tables of colours, each once and under a name."""

from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

import numpy as np

from mosaic.drawing.surface import value_of
from mosaic.lettering.glyph import Glyph, placed
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.calls import Call, Font, Image
from mosaic.screens.kinds import KINDS
from mosaic.screens.kit import Kit
from mosaic.screens.plan import GROUND, Spot, is_constant
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Element
from mosaic.screens.symbols import Way
from mosaic.screens.words import Words, characters_of
from mosaic.source_text import comment, distinct, identifier
from mosaic.values.maps import Points

CALL_BYTES = 44
"""Flash of a call in compiled code: numbers in registers and the jump. Typical of a small 32-bit processor."""
LONG = 8
"""From so many boxes on, those of a ground are a table and a loop."""


@dataclass(frozen=True)
class Letter:
    """A glyph in code: where its bytes begin, and its measures."""

    code: int
    at: int
    width: int
    height: int
    left: int
    top: int
    advance: int


@dataclass(frozen=True)
class FontTable:
    name: str
    bits: int
    letters: tuple[Letter, ...]
    pixels: bytes
    kerns: tuple[tuple[int, int, int], ...]


@dataclass(frozen=True, eq=False)
class ImageTable:
    """A picture in code: a byte a pixel, its place; or its own value, high byte first, with a mask of what is drawn."""

    name: str
    width: int
    height: int
    data: bytes
    value_bytes: int = 0
    mask: bytes = b""


@dataclass(frozen=True)
class Block:
    """What one element draws, under one name, with words on what it is: for each that it holds, the ways it can be drawn."""

    name: str
    words: str
    spots: tuple[tuple[Way, ...], ...]

    @property
    def is_dynamic(self) -> bool:
        """Whether anything of it depends on values."""
        return any(len(ways) > 1 or not all(map(is_constant, ways[0].result or ())) for ways in self.spots)

    @property
    def calls(self) -> list[Call]:
        """All of its calls, of all ways."""
        return [call for ways in self.spots for way in ways for call in way.result or ()]


def packed_levels(glyph: Glyph, bits: int) -> bytes:
    """Rows of whole bytes, the leftmost level in the high bits."""
    if not glyph.width:
        return b""
    single = np.unpackbits(glyph.levels[..., None], axis=2)[..., -bits:].reshape(glyph.height, -1)
    return np.packbits(single, axis=1).tobytes()


@dataclass
class Sheet:
    """All of it, gathered from a rendered screen."""

    rendered: Rendered
    name: str
    title: str
    blocks: list[Block] = field(default_factory=list)
    fonts: dict[int, FontTable] = field(default_factory=dict)
    images: dict[int, ImageTable] = field(default_factory=dict)
    colors: dict[tuple[int, ...], str] = field(default_factory=dict)
    tiles: dict[tuple[bytes, int], str] = field(default_factory=dict)
    maps: dict[Points, str] = field(default_factory=dict)
    words: dict[tuple[str, ...], str] = field(default_factory=dict)

    def value(self, color: int | None) -> int:
        """A colour as the runtimes take it; -1 for none."""
        return -1 if color is None else value_of(color, self.rendered.device.passport.format)

    def table(self, colors: tuple[int | None, ...]) -> str:
        """The name of a list of colours."""
        values = tuple(self.value(color) for color in colors)
        return self.colors.setdefault(values, f"{self.name}_colors_{len(self.colors) + 1}")

    def tile(self, tile: Any) -> tuple[str, int, int]:
        """(name, width, height) of a tile."""
        rows = np.packbits(tile, axis=1)[:, 0].tobytes()
        key = rows, int(tile.shape[1])
        return self.tiles.setdefault(key, f"{self.name}_tile_{len(self.tiles) + 1}"), key[1], len(rows)

    def map(self, points: Points) -> str:
        """The name of a map's points."""
        return self.maps.setdefault(points, f"{self.name}_map_{len(self.maps) + 1}")

    def words_of(self, words: tuple[str, ...]) -> str:
        """The name of the words that a value can be."""
        return self.words.setdefault(words, f"{self.name}_words_{len(self.words) + 1}")

    @property
    def is_dynamic(self) -> bool:
        """Whether anything of the screen depends on values."""
        return any(block.is_dynamic for block in self.blocks)

    def font(self, font: Font) -> FontTable:
        return self.fonts[id(font)]

    def image(self, image: Any) -> ImageTable:
        return self.images[id(image)]


def _drawn_codes(font: Font, words: str | Words, kit: Kit) -> tuple[list[int], list[tuple[int, int]]]:
    """Code points that a text can draw, and pairs that can stand beside each other."""
    if isinstance(words, str):
        drawn = [glyph.code for _, glyph in placed(font.lettering, words)]
        return drawn, list(pairwise(drawn))
    known = font.lettering.by_code
    if any(piece.value.kind == "text" for piece in words.pieces if not isinstance(piece, str)):
        drawn = sorted(known)  # a text from outside may have any letter that there is
    else:
        drawn = sorted(ord(c) for c in characters_of(words.source, kit.values) if ord(c) in known)
    return drawn, [(a, b) for a, b in font.lettering.kerning if a in drawn and b in drawn]


UsedFonts = dict[int, tuple[Font, set[int], set[tuple[int, int]]]]
"""Of each lettering the code points and the kerned pairs that are drawn."""


def _used(calls: list[Call], kit: Kit) -> tuple[UsedFonts, dict[int, tuple[str, Any]]]:
    fonts: UsedFonts = {}
    images: dict[int, tuple[str, Any]] = {}
    for call in calls:
        for given in call.given:
            if isinstance(given, Font):
                _, codes, pairs = fonts.setdefault(id(given), (given, set(), set()))
                drawn, beside = _drawn_codes(given, call.given[2], kit)
                codes.update(drawn)
                pairs.update(pair for pair in beside if given.lettering.kern(*pair))
            elif isinstance(given, Image):
                images.setdefault(id(given), (given.key, given))
        if call.name == "values":
            images.setdefault(id(call.given[-1]), ("picture", call.given[-1]))
    return fonts, images


def _font_table(name: str, font: Font, codes: set[int], pairs: set[tuple[int, int]]) -> FontTable:
    letters, pixels = [], b""
    for code in sorted(codes):
        glyph = font.lettering.by_code[code]
        letters.append(Letter(code, len(pixels), glyph.width, glyph.height, glyph.left, glyph.top, glyph.advance))
        pixels += packed_levels(glyph, font.lettering.bits)
    kerns = tuple((a, b, font.lettering.kern(a, b)) for a, b in sorted(pairs))
    return FontTable(name, font.lettering.bits, tuple(letters), pixels, kerns)


def _image_table(name: str, image: Any, sheet: Sheet) -> ImageTable:
    if isinstance(image, Image):
        return ImageTable(name, image.width, image.height, image.pixels.tobytes())
    fmt = sheet.rendered.device.passport.format
    size = -(-fmt.bits // 8) if isinstance(fmt, DirectFormat) else 1
    known, places = np.unique(image, return_inverse=True)
    values = [max(0, sheet.value(int(v))) if v >= 0 else 0 for v in known]
    data = b"".join(values[place].to_bytes(size, "big") for place in places.ravel())
    drawn = image >= 0
    mask = b"" if drawn.all() else np.packbits(drawn, axis=1).tobytes()
    return ImageTable(name, image.shape[1], image.shape[0], data, size, mask)


def told(element: Element) -> str:
    """What an element is, in a few words for a comment."""
    words = element.text.splitlines()[0] if element.text else ""
    name = element.name or words or element.source or element.id
    return comment(f"{KINDS[element.kind].begin}: {name}")


def sheet_of(rendered: Rendered, title: str) -> Sheet:
    """Everything that code of a screen needs, gathered."""
    sheet = Sheet(rendered, identifier(title, "screen"), title)
    blocks = [Block(f"{sheet.name}_{GROUND}", "the ground", ((Way((), list(rendered.ground)),),))]
    spots: dict[str, list[Spot]] = {}
    for spot in rendered.plan.spots:
        spots.setdefault(spot.owner.id, []).append(spot)
    for ident, here in spots.items():
        block = Block(f"{sheet.name}_{ident}", told(here[0].owner), tuple(spot.ways for spot in here))
        if block.calls:
            blocks.append(block)
    sheet.blocks += blocks
    fonts, images = _used([call for block in blocks for call in block.calls], rendered.kit)
    taken = [sheet.name]
    names = distinct([f"{sheet.name}_{font.key}" for font, _, _ in fonts.values()], taken)
    for name, (key, (font, codes, pairs)) in zip(names, fonts.items(), strict=True):
        sheet.fonts[key] = _font_table(name, font, codes, pairs)
    image_names = distinct([f"{sheet.name}_{key}" for key, _ in images.values()], [*taken, *names])
    for name, (key, (_, image)) in zip(image_names, images.items(), strict=True):
        sheet.images[key] = _image_table(name, image, sheet)
    return sheet


def is_table(block: Block) -> bool:
    """Whether a block is a table of boxes and a loop over it."""
    return len(block.calls) > LONG and not block.is_dynamic and all(call.name in ("fill", "pattern") for call in block.calls)
