"""The description of a packed picture.

A format knows only the way to and from one canonical array: palette indices (H, W) for
indexed formats, 8-bit RGB (H, W, 3) for direct ones. Everything is in the controller's own
axes; a picture lying down on a panel that scans upright is turned before packing.
"""

from dataclasses import dataclass
from typing import Literal

from msgspec import Struct

from mosaic.errors import BadDescriptionError, BadValueError

Along = Literal["row", "column"]
First = Literal["msb", "lsb"]
Follow = Literal["rows", "pages", "columns"]
ChannelOrder = Literal["rgb", "bgr"]
ByteOrder = Literal["big", "little"]

INDEXED_BITS = (1, 2, 4, 8)
CHANNEL_BITS = {8: (3, 3, 2), 12: (4, 4, 4), 16: (5, 6, 5), 18: (6, 6, 6), 24: (8, 8, 8)}
ALIGNMENTS = (0, 8, 16, 32)


@dataclass(frozen=True)
class Plane:
    """One plane of an indexed format: the number sent for each palette colour.

    `codes[i]` stands in the bytes wherever the picture has palette index i. Polarity is this
    table too: (0, 1) for black, white means 1 = white; (1, 0) means 1 = ink.
    """

    name: str
    codes: tuple[int, ...]


class IndexedFormat(Struct, frozen=True, tag_field="kind", tag="indexed"):
    """Palette indices in 1, 2, 4 or 8 bits a pixel, in one or more planes.

    ::

        along="row", first="msb", bits=1        along="column", first="lsb", bits=1
        byte: 7 6 5 4 3 2 1 0                   bit 0 is the topmost of 8 pixels,
        x:    0 1 2 3 4 5 6 7                   bit 7 the lowest: a page column

    Attributes
    ----------
    bits : 1, 2, 4 or 8
        Bits a pixel, in each plane.
    along : a byte holds pixels along a row or a column.
    first : the leftmost or topmost pixel sits at the high ("msb") or low ("lsb") end of a byte.
    follow : bytes follow row by row ("rows", of row bytes), page by page ("pages", of column
        bytes: left to right inside a page) or column by column ("columns": top to bottom).
    align_bits : each row (or column, the way bytes run) is padded to this many bits.
    planes : one after the other in the packed bytes.
    """

    bits: int
    along: Along
    first: First
    follow: Follow
    planes: tuple[Plane, ...]
    align_bits: int = 8

    def __post_init__(self) -> None:
        if self.bits not in INDEXED_BITS:
            raise BadDescriptionError(f"bits is {self.bits}; an indexed format has 1, 2, 4 or 8")
        allowed = {"row": ("rows", "columns"), "column": ("pages", "columns")}[self.along]
        if self.follow not in allowed:
            raise BadDescriptionError(f"follow is {self.follow!r}; bytes along a {self.along} follow {' or '.join(allowed)}")
        if self.align_bits not in (8, 16, 32):
            raise BadDescriptionError(f"align_bits is {self.align_bits}; it is 8, 16 or 32")
        if not self.planes:
            raise BadDescriptionError("planes is empty; a format has at least one plane")
        for plane in self.planes:
            self._check_codes(plane)

    def _check_codes(self, plane: Plane) -> None:
        if len(plane.codes) != len(self.planes[0].codes):
            raise BadDescriptionError(f"plane {plane.name!r} has {len(plane.codes)} codes, the first plane has others")
        if not all(0 <= code < 1 << self.bits for code in plane.codes):
            raise BadDescriptionError(
                f"plane {plane.name!r} has codes {plane.codes}; in {self.bits} bits they are 0 to {(1 << self.bits) - 1}"
            )

    @property
    def colors(self) -> int:
        """How many palette colours the codes are given for."""
        return len(self.planes[0].codes)

    @property
    def pixels_per_byte(self) -> int:
        return 8 // self.bits

    def grid(self, width: int, height: int) -> tuple[int, int]:
        """(rows, columns) of the grid of bytes that one plane makes."""
        check_size(width, height)
        step = self.align_bits // self.bits
        unit = self.align_bits // 8
        if self.along == "row":
            return height, -(-width // step) * unit
        return -(-height // step) * unit, width

    def plane_bytes(self, width: int, height: int) -> int:
        rows, columns = self.grid(width, height)
        return rows * columns

    def frame_bytes(self, width: int, height: int) -> int:
        """Bytes of a packed picture of `width` x `height` pixels, all planes."""
        return len(self.planes) * self.plane_bytes(width, height)

    def describe(self) -> str:
        """One line in words."""
        end = "high" if self.first == "msb" else "low"
        planes = "" if len(self.planes) == 1 else f", {len(self.planes)} planes"
        lead = "left" if self.along == "row" else "top"
        way = {"rows": "row by row", "pages": "page by page", "columns": "column by column"}[self.follow]
        unit = "bit" if self.bits == 1 else "bits"
        return f"{self.bits} {unit} a pixel{planes}, bytes along a {self.along}, {lead} pixel at the {end} end, {way}"


class DirectFormat(Struct, frozen=True, tag_field="kind", tag="direct"):
    """Red, green and blue in each pixel: 3-3-2, 4-4-4, 5-6-5, 6-6-6 or 8-8-8.

    ::

        12 bits: two pixels in three bytes       16 bits: one 16-bit word
        R1G1 B1R2 G2B2                           RRRRRGGG GGGBBBBB (big-endian)
        18 bits: three bytes, left-aligned       RRRRRR00 GGGGGG00 BBBBBB00

    `channel_order` "bgr" exchanges red and blue, with their widths. `align_bits` pads each row
    (or column) to that many bits; 0 lets an odd pixel share its byte with the next row, so
    that only the end of the picture is padded.
    """

    bits: int
    channel_order: ChannelOrder = "rgb"
    byte_order: ByteOrder = "big"
    follow: Literal["rows", "columns"] = "rows"
    align_bits: int = 0

    def __post_init__(self) -> None:
        if self.bits not in CHANNEL_BITS:
            raise BadDescriptionError(f"bits is {self.bits}; a direct format has 8, 12, 16, 18 or 24")
        if self.align_bits not in ALIGNMENTS:
            raise BadDescriptionError(f"align_bits is {self.align_bits}; it is 0, 8, 16 or 32")

    @property
    def channel_bits(self) -> tuple[int, int, int]:
        """Bits of red, green and blue, in this order whatever the channel order."""
        red, green, blue = CHANNEL_BITS[self.bits]
        return (red, green, blue) if self.channel_order == "rgb" else (blue, green, red)

    @property
    def depth_name(self) -> str:
        """Short name of the depth, for example "rgb565"."""
        return "rgb" + "".join(str(b) for b in CHANNEL_BITS[self.bits])

    @property
    def wire_bits(self) -> int:
        """Bits a pixel takes in the bytes: 18-bit pixels take 24."""
        return 24 if self.bits == 18 else self.bits

    def line_bytes(self, pixels: int) -> int:
        """Bytes of one aligned row (or column) of `pixels` pixels; only where rows are aligned."""
        bits = pixels * self.wire_bits
        return -(-bits // self.align_bits) * self.align_bits // 8

    def frame_bytes(self, width: int, height: int) -> int:
        """Bytes of a packed picture of `width` x `height` pixels."""
        check_size(width, height)
        lines, pixels = (height, width) if self.follow == "rows" else (width, height)
        if self.align_bits:
            return lines * self.line_bytes(pixels)
        return -(-lines * pixels * self.wire_bits // 8)

    def describe(self) -> str:
        """One line in words."""
        split = "-".join(str(b) for b in CHANNEL_BITS[self.bits])
        order = f", {self.byte_order}-endian" if self.bits == 16 else ""
        return f"{self.bits} bits a pixel ({split}), {self.channel_order.upper()}{order}, row by row"


PixelFormat = IndexedFormat | DirectFormat


def check_size(width: int, height: int) -> None:
    """Refuse sizes that no picture has.

    Raises
    ------
    BadValueError
        Either is below 1 or above 65,535.
    """
    if not (1 <= width <= 65535 and 1 <= height <= 65535):
        raise BadValueError(f"size {width} x {height} is not between 1 x 1 and 65,535 x 65,535 pixels")
