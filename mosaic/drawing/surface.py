"""What is drawn on: rows of a panel in its own values, and how the board's bytes lie for them."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.pixels.direct import pack_direct
from mosaic.pixels.formats import DirectFormat, IndexedFormat
from mosaic.pixels.indexed import pack_indexed

Values = npt.NDArray[np.int32]


@dataclass(frozen=True, eq=False)
class Surface:
    """Rows `top` to `top` + H - 1 of a glass.

    Attributes
    ----------
    values : (H, W) palette indices, or 0xRRGGBB where the format is direct; drawn into in place.
    top : the first row that is held, counted on the glass.
    """

    values: Values
    top: int = 0

    @property
    def width(self) -> int:
        return int(self.values.shape[1])

    @property
    def rows(self) -> int:
        return int(self.values.shape[0])


def new_surface(width: int, rows: int, *, top: int = 0, color: int = 0) -> Surface:
    """A surface of one colour.

    Raises
    ------
    BadValueError
        It has no pixel, or more than 16-bit coordinates reach.
    """
    if not (1 <= width <= 4096 and 1 <= rows <= 4096 and 0 <= top <= 4096):
        raise BadValueError(f"a surface of {width} x {rows} from row {top} on; 1 to 4,096 a side are accepted")
    return Surface(np.full((rows, width), color, np.int32), top)


def packed(surface: Surface, fmt: IndexedFormat | DirectFormat) -> bytes:
    """The bytes of a surface, all planes, as a board holds them; rows of a band are packed by themselves."""
    if isinstance(fmt, IndexedFormat):
        return pack_indexed(surface.values.astype(np.uint8), fmt)
    channels = np.stack([surface.values >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(np.uint8)
    return pack_direct(channels, fmt)


@dataclass(frozen=True)
class ByteLayout:
    """How pixels lie in the bytes of a surface: what the runtimes are told. Names are those of `mosaic/firmware/draw.h`."""

    bits: int
    sx: int
    sy: int
    ax: int
    ay: int
    msb: bool
    codes: tuple[tuple[int, ...], ...]
    plane_bytes: int


def byte_layout(fmt: IndexedFormat | DirectFormat, width: int, rows: int) -> ByteLayout:
    """The layout of so many rows of a glass."""
    if isinstance(fmt, DirectFormat):
        stride = width * -(-fmt.bits // 8)
        return ByteLayout(fmt.bits, 0, 0, 1, stride, True, (), stride * rows)
    step = fmt.pixels_per_byte.bit_length() - 1
    down, across = fmt.grid(width, rows)
    by_columns = fmt.follow == "columns"
    return ByteLayout(
        fmt.bits, step if fmt.along == "row" else 0, step if fmt.along == "column" else 0,
        down if by_columns else 1, 1 if by_columns else across, fmt.first == "msb",
        tuple(plane.codes for plane in fmt.planes), fmt.plane_bytes(width, rows),
    )  # fmt: skip


def value_of(color: int, fmt: IndexedFormat | DirectFormat) -> int:
    """What a runtime is given for a colour: the palette's number, or the pixel's own bytes, high byte first."""
    if isinstance(fmt, IndexedFormat):
        return color
    one = pack_direct(np.array([[[color >> 16 & 255, color >> 8 & 255, color & 255]]], np.uint8), fmt)
    return int.from_bytes(one, "big") >> (4 if fmt.bits == 12 else 0)
