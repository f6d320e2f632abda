"""Packing and unpacking of indexed formats: 1 to 8 bits a pixel, in planes."""

from functools import lru_cache

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.pixels import bits as loops
from mosaic.pixels.formats import IndexedFormat, Plane, check_size

IndexArray = npt.NDArray[np.uint8]

MOST_COMPARED = 4
"""Up to this many colours, comparing with each is quicker than looking a pixel's code up."""


def pack_indexed(pixels: IndexArray, fmt: IndexedFormat) -> bytes:
    """Packed bytes, plane after plane, of palette indices (H, W); padding bits are 0.

    Raises
    ------
    BadValueError
        An index has no code in this format; the text gives its row and column.
    """
    pixels = _checked(pixels, fmt)
    return b"".join(_pack_plane(pixels, plane, fmt) for plane in fmt.planes)


def _checked(pixels: IndexArray, fmt: IndexedFormat) -> IndexArray:
    if pixels.ndim != 2 or pixels.dtype != np.uint8:
        raise BadValueError(f"indices are {pixels.dtype} of shape {pixels.shape}; they are uint8 of shape (H, W)")
    check_size(pixels.shape[1], pixels.shape[0])
    if pixels.max() >= fmt.colors:
        row, column = np.argwhere(pixels >= fmt.colors)[0]
        raise BadValueError(
            f"index {pixels[row, column]} at row {row}, column {column} has no code; this format has 0 to {fmt.colors - 1}"
        )
    return np.ascontiguousarray(pixels)


def _pack_plane(pixels: IndexArray, plane: Plane, fmt: IndexedFormat) -> bytes:
    height, width = pixels.shape
    rows, columns = fmt.grid(width, height)
    # Where indices need no more bits than codes and nothing is padded, packed bytes are turned
    # into codes, several pixels at once; otherwise each pixel is, before it is packed.
    later = fmt.bits < 8 and len(plane.codes) <= 1 << fmt.bits and rows * columns * fmt.pixels_per_byte == pixels.size
    values = pixels if later else _coded(pixels, plane.codes, fmt.bits)
    if fmt.along == "column":
        grid = np.zeros((rows, columns), np.uint8)
        loops.fold_columns(values, fmt.bits, fmt.first == "lsb", grid)
    else:
        grid = _fold_rows(values, fmt, columns)
    if later and plane.codes != tuple(range(len(plane.codes))):
        loops.look_up(grid.reshape(-1), _byte_codes(plane.codes, fmt.bits))
    return (grid.T if fmt.follow == "columns" else grid).tobytes()


@lru_cache(maxsize=128)
def _byte_codes(codes: tuple[int, ...], bits: int) -> IndexArray:
    """(256,) the byte of codes for each byte of packed indices; the same from either end."""
    table = np.array([*codes, *[0] * ((1 << bits) - len(codes))], np.uint16)
    every, mask = np.arange(256, dtype=np.uint16), (1 << bits) - 1
    out = np.zeros(256, np.uint16)
    for shift in range(0, 8, bits):
        out |= table[(every >> shift) & mask] << shift
    return out.astype(np.uint8)


def _coded(pixels: IndexArray, codes: tuple[int, ...], bits: int) -> IndexArray:
    """The number sent for each pixel (H, W)."""
    if codes == tuple(range(len(codes))):
        return pixels
    if len(codes) > MOST_COMPARED:
        return np.array(codes, np.uint8)[pixels]
    if bits == 1 and codes.count(0) == 1:
        return (pixels != codes.index(0)).view(np.uint8)
    out = np.zeros(pixels.shape, np.uint8)
    for index, code in enumerate(codes):
        if code:
            out |= (pixels == index).view(np.uint8) * np.uint8(code)
    return out


def _fold_rows(values: IndexArray, fmt: IndexedFormat, columns: int) -> IndexArray:
    """Row bytes (H, columns) of values (H, W); the padding is 0."""
    height, width = values.shape
    low_first = fmt.first == "lsb"
    full = columns * fmt.pixels_per_byte
    if full != width:
        values = np.pad(values, ((0, 0), (0, full - width)))
    if fmt.bits == 8:
        return values
    if fmt.bits == 1:
        return np.packbits(values, axis=1, bitorder="little" if low_first else "big")
    out = np.empty(height * columns, np.uint8)
    flat = np.ascontiguousarray(values).reshape(-1)
    if fmt.bits == 2:
        loops.fold_fours(flat.view(np.dtype("<u4")), low_first, out)
    else:
        loops.fold_pairs(flat.view(np.dtype("<u2")), low_first, out)
    return out.reshape(height, columns)


def unpack_indexed(data: bytes, width: int, height: int, fmt: IndexedFormat) -> IndexArray:
    """Palette indices (H, W) of packed bytes.

    Raises
    ------
    BadValueError
        The length is wrong, or the planes hold a combination that no palette colour has.
    """
    size = fmt.plane_bytes(width, height)
    if len(data) != size * len(fmt.planes):
        raise BadValueError(f"{len(data):,} bytes given; {width} x {height} in this format takes {size * len(fmt.planes):,}")
    key = np.zeros((height, width), np.uint32)
    for number in range(len(fmt.planes)):
        part = np.frombuffer(data, np.uint8, size, number * size)
        key <<= np.uint32(fmt.bits)
        key |= _unpack_plane(part, width, height, fmt)
    return _indices_of(key, fmt)


def _unpack_plane(part: IndexArray, width: int, height: int, fmt: IndexedFormat) -> IndexArray:
    """Codes (H, W) of one plane's bytes."""
    rows, columns = fmt.grid(width, height)
    grid = part.reshape(columns, rows).T if fmt.follow == "columns" else part.reshape(rows, columns)
    shifts = np.arange(fmt.pixels_per_byte, dtype=np.uint8) * fmt.bits
    if fmt.first == "msb":
        shifts = shifts[::-1]
    mask = np.uint8((1 << fmt.bits) - 1)
    if fmt.along == "row":
        return ((grid[:, :, None] >> shifts) & mask).reshape(rows, -1)[:, :width]
    return ((grid[:, None, :] >> shifts[:, None]) & mask).reshape(-1, columns)[:height]


def _indices_of(key: npt.NDArray[np.uint32], fmt: IndexedFormat) -> IndexArray:
    keys = np.zeros(fmt.colors, np.uint32)
    for plane in fmt.planes:
        keys <<= np.uint32(fmt.bits)
        keys |= np.array(plane.codes, np.uint32)
    order = np.argsort(keys, kind="stable")
    place = np.minimum(np.searchsorted(keys[order], key), len(keys) - 1)
    indices = order[place].astype(np.uint8)
    wrong = keys[indices] != key
    if wrong.any():
        row, column = np.argwhere(wrong)[0]
        raise BadValueError(f"code {key[row, column]} at row {row}, column {column} stands for no colour of this palette")
    return indices
