"""Packing and unpacking of indexed formats: 1 to 8 bits a pixel, in planes."""

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.pixels import bits as loops
from mosaic.pixels.formats import IndexedFormat, Plane, check_size

IndexArray = npt.NDArray[np.uint8]


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
    if fmt.bits == 1 and plane.codes in ((0, 1), (1, 0)) and fmt.align_bits == 8:
        grid = _pack_two_codes(pixels, plane.codes == (1, 0), fmt)
    else:
        height, width = pixels.shape
        grid = np.zeros(fmt.grid(width, height), np.uint8)
        codes = np.array(plane.codes, np.uint8)
        loop = loops.pack_along_rows if fmt.along == "row" else loops.pack_along_columns
        loop(pixels, codes, fmt.bits, fmt.first == "lsb", grid)
    return (grid.T if fmt.follow == "columns" else grid).tobytes()


def _pack_two_codes(pixels: IndexArray, inverted: bool, fmt: IndexedFormat) -> IndexArray:
    """The commonest case by numpy's own packing; inverting first keeps padding bits at 0."""
    values = pixels ^ 1 if inverted else pixels
    order = "big" if fmt.first == "msb" else "little"
    return np.packbits(values, axis=1 if fmt.along == "row" else 0, bitorder=order)


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
        key = (key << fmt.bits) | _unpack_plane(part, width, height, fmt)
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
        keys = (keys << fmt.bits) | np.array(plane.codes, np.uint32)
    order = np.argsort(keys, kind="stable")
    place = np.minimum(np.searchsorted(keys[order], key), len(keys) - 1)
    indices = order[place].astype(np.uint8)
    wrong = keys[indices] != key
    if wrong.any():
        row, column = np.argwhere(wrong)[0]
        raise BadValueError(f"code {key[row, column]} at row {row}, column {column} stands for no colour of this palette")
    return indices
