"""The first bytes of a picture as tiles: which pixel sits in which bit."""

from dataclasses import dataclass

import numpy as np

from mosaic.conversion.pipeline import pack
from mosaic.conversion.telling_apart import framed_f
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import Orientation, to_host
from mosaic.panels.passport import Passport
from mosaic.pixels.tiles import BitCell, cells_of_byte

BYTES_SHOWN = 6
LARGEST_BED = 16


@dataclass(frozen=True)
class Tile:
    """One bit of a byte: its value, its pixel and that pixel's colour."""

    bit: int
    value: int
    cell: BitCell
    color: str
    ink: str

    @property
    def place(self) -> str:
        return "pad" if self.cell.is_padding else f"{self.cell.x},{self.cell.y}"


@dataclass(frozen=True)
class ByteTiles:
    """A packed byte and its eight tiles, bit 7 first."""

    number: int
    value: int
    tiles: tuple[Tile, ...]

    @property
    def hex(self) -> str:
        return f"{self.value:02X}"


@dataclass(frozen=True)
class BedPixel:
    """A pixel of the corner that the bytes fill: its place, its colour, and the first byte that holds it."""

    x: int
    y: int
    color: str
    byte: int | None


@dataclass(frozen=True)
class FirstBytes:
    """Bytes and the corner of the picture they fill, in the order in which it is packed."""

    rows: tuple[ByteTiles, ...]
    bed: tuple[BedPixel, ...]
    bed_width: int
    bed_height: int


def first_bytes(passport: Passport, turn: Orientation) -> FirstBytes:
    """The first bytes of a framed F, so that edges are seen in them."""
    picture = framed_f(passport, turn)
    packed = pack(picture, passport, turn)
    host = to_host(picture, passport, turn)
    colors = to_host(colors_of(picture, passport, turn), passport, turn)
    height, width = host.shape[:2]
    count = min(BYTES_SHOWN, len(packed))
    cells = [cells_of_byte(passport.format, width, height, i) for i in range(count)]
    rows = tuple(
        ByteTiles(
            i, packed[i], tuple(_tile(bit, packed[i], cell, colors) for bit, cell in zip(range(7, -1, -1), eight, strict=True))
        )
        for i, eight in enumerate(cells)
    )
    holder: dict[tuple[int, int], int] = {}
    for number, eight in enumerate(cells):
        for cell in eight:
            if cell.x is not None and cell.y is not None:
                holder.setdefault((cell.x, cell.y), number)
    wide, high = min(LARGEST_BED, width), min(8, height)
    bed = tuple(BedPixel(x, y, _hex(colors[y, x]), holder.get((x, y))) for y in range(high) for x in range(wide))
    return FirstBytes(rows, bed, wide, high)


def _hex(color: np.ndarray) -> str:
    return "#" + "".join(f"{int(v):02x}" for v in color)


def _tile(bit: int, value: int, cell: BitCell, colors: np.ndarray) -> Tile:
    if cell.x is None or cell.y is None:
        return Tile(bit, value >> bit & 1, cell, "none", "")
    color = colors[cell.y, cell.x]
    dark = int(color.astype(int) @ np.array([2, 7, 1])) < 1100
    return Tile(bit, value >> bit & 1, cell, _hex(color), "#fafaf6" if dark else "#1f2729")
