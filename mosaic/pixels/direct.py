"""Packing and unpacking of direct formats: red, green and blue in each pixel."""

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.pixels import bits as loops
from mosaic.pixels.formats import CHANNEL_BITS, DirectFormat, check_size

RgbArray = npt.NDArray[np.uint8]


def expand_channel(values: npt.NDArray[np.integer], bits: int) -> npt.NDArray[np.uint8]:
    """8-bit values of reduced ones by repeating their high bits.

    >>> [int(v) for v in expand_channel(np.array([0, 1, 31]), 5)]
    [0, 8, 255]
    """
    v = values.astype(np.uint32)
    wide, have = v, bits
    while have < 8:
        wide = ((wide << bits) | v).astype(np.uint32)
        have += bits
    return (wide >> (have - 8)).astype(np.uint8)


def pack_direct(pixels: RgbArray, fmt: DirectFormat) -> bytes:
    """Packed bytes of 8-bit RGB (H, W, 3): each channel keeps its high bits; padding is 0."""
    if pixels.ndim != 3 or pixels.shape[2] != 3 or pixels.dtype != np.uint8:
        raise BadValueError(f"pixels are {pixels.dtype} of shape {pixels.shape}; they are uint8 of shape (H, W, 3)")
    check_size(pixels.shape[1], pixels.shape[0])
    lines = pixels if fmt.follow == "rows" else pixels.transpose(1, 0, 2)
    if not fmt.align_bits:
        return _pack_run(np.ascontiguousarray(lines).reshape(-1, 3), fmt).tobytes()
    size = fmt.line_bytes(lines.shape[1])
    packed = (_pack_run(np.ascontiguousarray(line), fmt).tobytes() for line in lines)
    return b"".join(line.ljust(size, b"\0") for line in packed)


def _pack_run(run: RgbArray, fmt: DirectFormat) -> npt.NDArray[np.uint8]:
    first, last = (0, 2) if fmt.channel_order == "rgb" else (2, 0)
    out = np.empty(-(-len(run) * fmt.wire_bits // 8), np.uint8)
    if fmt.bits == 12:
        loops.pack_444(run, first, last, out)
    elif fmt.bits == 16:
        loops.pack_565(run, first, last, fmt.byte_order == "little", out)
    elif fmt.bits == 8:
        loops.pack_332(run, first, last, out)
    else:
        masks = np.array([(0xFF00 >> b) & 0xFF for b in CHANNEL_BITS[fmt.bits]], np.uint8)
        loops.pack_bytes(run, np.array([first, 1, last]), masks, out)
    return out


def unpack_direct(data: bytes, width: int, height: int, fmt: DirectFormat) -> RgbArray:
    """8-bit RGB (H, W, 3) of packed bytes, reduced channels expanded by repeating high bits.

    Raises
    ------
    BadValueError
        The length is wrong.
    """
    if len(data) != fmt.frame_bytes(width, height):
        raise BadValueError(
            f"{len(data):,} bytes given; {width} x {height} in this format takes {fmt.frame_bytes(width, height):,}"
        )
    lines, pixels = (height, width) if fmt.follow == "rows" else (width, height)
    raw = np.frombuffer(data, np.uint8)
    if fmt.align_bits:
        runs = [_unpack_run(line, pixels, fmt) for line in raw.reshape(lines, -1)]
        picture = np.stack(runs)
    else:
        picture = _unpack_run(raw, lines * pixels, fmt).reshape(lines, pixels, 3)
    return picture if fmt.follow == "rows" else np.ascontiguousarray(picture.transpose(1, 0, 2))


def _unpack_run(raw: npt.NDArray[np.uint8], count: int, fmt: DirectFormat) -> RgbArray:
    channels = _channels(raw, count, fmt)
    out = np.stack([expand_channel(v, b) for v, b in zip(channels, CHANNEL_BITS[fmt.bits], strict=True)], axis=-1)
    return np.ascontiguousarray(out if fmt.channel_order == "rgb" else out[:, ::-1])


def _channels(raw: npt.NDArray[np.uint8], count: int, fmt: DirectFormat) -> tuple[npt.NDArray[np.integer], ...]:
    """Three arrays (count,) of channel values in the order in which they stand in the bytes."""
    if fmt.bits == 12:
        nibbles = np.stack([raw >> 4, raw & 15], axis=-1).reshape(-1)[: 3 * count].reshape(-1, 3)
        return nibbles[:, 0], nibbles[:, 1], nibbles[:, 2]
    if fmt.bits == 16:
        words = raw[: 2 * count].view(">u2" if fmt.byte_order == "big" else "<u2").astype(np.uint16)
        return words >> 11, (words >> 5) & 63, words & 31
    if fmt.bits == 8:
        return raw[:count] >> 5, (raw[:count] >> 2) & 7, raw[:count] & 3
    triples = raw[: 3 * count].reshape(-1, 3)
    drop = [8 - b for b in CHANNEL_BITS[fmt.bits]]
    return triples[:, 0] >> drop[0], triples[:, 1] >> drop[1], triples[:, 2] >> drop[2]
