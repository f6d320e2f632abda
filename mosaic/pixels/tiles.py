"""Which pixel sits in which bit: the first bytes of a picture, cell by cell, for explaining a format."""

from dataclasses import dataclass

from mosaic.errors import BadValueError
from mosaic.pixels.formats import CHANNEL_BITS, DirectFormat, IndexedFormat, PixelFormat


@dataclass(frozen=True)
class BitCell:
    """One bit of a packed byte.

    `x` and `y` are the pixel's place in the controller's axes, None where the bit is padding.
    `part` says which bit of the pixel it is: "" where a pixel has one bit, "2" for bit 2 of a
    number, "R4" for bit 4 of red.
    """

    x: int | None
    y: int | None
    part: str = ""

    @property
    def is_padding(self) -> bool:
        return self.x is None


PADDING = BitCell(None, None)


def cells_of_byte(fmt: PixelFormat, width: int, height: int, index: int) -> tuple[BitCell, ...]:
    """The eight cells of byte `index` of a picture's (first) plane, bit 7 first.

    >>> from mosaic.pixels.formats import DirectFormat
    >>> [c.part for c in cells_of_byte(DirectFormat(bits=16), 2, 2, 0)]
    ['R4', 'R3', 'R2', 'R1', 'R0', 'G5', 'G4', 'G3']

    Raises
    ------
    BadValueError
        The picture has no such byte.
    """
    size = fmt.plane_bytes(width, height) if isinstance(fmt, IndexedFormat) else fmt.frame_bytes(width, height)
    if not 0 <= index < size:
        raise BadValueError(f"byte {index} is not in a picture of {size:,} bytes")
    if isinstance(fmt, IndexedFormat):
        return _indexed_cells(fmt, width, height, index)
    return _direct_cells(fmt, width, height, index)


def _indexed_cells(fmt: IndexedFormat, width: int, height: int, index: int) -> tuple[BitCell, ...]:
    rows, columns = fmt.grid(width, height)
    row, column = (index % rows, index // rows) if fmt.follow == "columns" else divmod(index, columns)
    cells = []
    for bit in range(7, -1, -1):
        slot = (7 - bit if fmt.first == "msb" else bit) // fmt.bits
        x = column * fmt.pixels_per_byte + slot if fmt.along == "row" else column
        y = row * fmt.pixels_per_byte + slot if fmt.along == "column" else row
        part = str(bit % fmt.bits) if fmt.bits > 1 else ""
        cells.append(BitCell(x, y, part) if x < width and y < height else PADDING)
    return tuple(cells)


def _bits_of_pixel(fmt: DirectFormat) -> list[str]:
    """Parts of one pixel in the order in which they go over the wire."""
    names = ("R", "G", "B") if fmt.channel_order == "rgb" else ("B", "G", "R")
    parts: list[str] = []
    for name, count in zip(names, CHANNEL_BITS[fmt.bits], strict=True):
        parts += [f"{name}{bit}" for bit in range(count - 1, -1, -1)]
        if fmt.bits == 18:
            parts += ["", ""]  # six bits, left-aligned in their byte
    return parts[8:] + parts[:8] if fmt.bits == 16 and fmt.byte_order == "little" else parts


def _direct_cells(fmt: DirectFormat, width: int, height: int, index: int) -> tuple[BitCell, ...]:
    parts = _bits_of_pixel(fmt)
    line_pixels, lines = (width, height) if fmt.follow == "rows" else (height, width)
    line, byte = divmod(index, fmt.line_bytes(line_pixels)) if fmt.align_bits else (0, index)
    cells = []
    for bit in range(byte * 8, byte * 8 + 8):
        pixel, part = bit // fmt.wire_bits, parts[bit % fmt.wire_bits]
        at, along = (line, pixel) if fmt.align_bits else divmod(pixel, line_pixels)
        if along >= line_pixels or at >= lines or not part:
            cells.append(PADDING)
        else:
            cells.append(BitCell(along, at, part) if fmt.follow == "rows" else BitCell(at, along, part))
    return tuple(cells)
