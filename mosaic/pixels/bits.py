"""Small compiled loops that move values into bytes; they trust their callers."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def fold_pairs(pairs, low_first, out):
    """Two 4-bit values, read as one little-endian 16-bit word, into one byte each: (n,) to (n,)."""
    for i in range(pairs.shape[0]):
        word = pairs[i]
        if low_first:
            out[i] = np.uint8((word & 0x0F) | ((word >> 4) & 0xF0))
        else:
            out[i] = np.uint8(((word & 0x0F) << 4) | (word >> 8))


@njit(cache=True, nogil=True)
def fold_fours(fours, low_first, out):
    """Four 2-bit values, read as one little-endian 32-bit word, into one byte each.

    One multiplication lays the four values side by side in the top byte: value k stands at bit
    8k and is moved up by the factor's k-th power of two; all other products fall below bit 24,
    where they do not touch each other, or out of the word.
    """
    factor = np.uint32(1 << 24 | 1 << 18 | 1 << 12 | 1 << 6) if low_first else np.uint32(1 << 30 | 1 << 20 | 1 << 10 | 1)
    for i in range(fours.shape[0]):
        out[i] = np.uint8(np.uint32(fours[i] * factor) >> np.uint32(24))


@njit(cache=True, nogil=True)
def fold_columns(values, bits, low_first, out):
    """(H, W) values into zeroed out (B, W): several rows of a column share a byte."""
    per = 8 // bits
    for y in range(values.shape[0]):
        k = y % per
        shift = np.uint8(k * bits if low_first else 8 - bits - k * bits)
        page = y // per
        for x in range(values.shape[1]):
            out[page, x] |= values[y, x] << shift


@njit(cache=True, nogil=True)
def look_up(data, table):
    """Replace each byte (n,) by its entry of a table (256,), in place."""
    for i in range(data.shape[0]):
        data[i] = table[data[i]]


@njit(cache=True, nogil=True)
def pack_444(pixels, first, last, out):
    """Pack (N, 3) RGB into 12 bits a pixel: two pixels in three bytes, an odd last one padded.

    `first` and `last` are the channel numbers that come first and last (0 and 2 for RGB).
    """
    count = pixels.shape[0]
    for i in range(count // 2):
        a, b = pixels[2 * i], pixels[2 * i + 1]
        out[3 * i] = (a[first] & 0xF0) | (a[1] >> 4)
        out[3 * i + 1] = (a[last] & 0xF0) | (b[first] >> 4)
        out[3 * i + 2] = (b[1] & 0xF0) | (b[last] >> 4)
    if count % 2:
        a = pixels[count - 1]
        out[3 * (count // 2)] = (a[first] & 0xF0) | (a[1] >> 4)
        out[3 * (count // 2) + 1] = a[last] & 0xF0


@njit(cache=True, nogil=True)
def pack_565(pixels, first, last, little, out):
    """Pack (N, 3) RGB into (2N,) bytes of 16-bit words."""
    high, low = (1, 0) if little else (0, 1)
    for i in range(pixels.shape[0]):
        g = pixels[i, 1]
        out[2 * i + high] = (pixels[i, first] & 0xF8) | (g >> 5)
        out[2 * i + low] = ((g & 0x1C) << 3) | (pixels[i, last] >> 3)


@njit(cache=True, nogil=True)
def pack_bytes(pixels, order, masks, out):
    """Pack (N, 3) RGB into (3N,) bytes, each channel masked to its bits."""
    for i in range(pixels.shape[0]):
        for c in range(3):
            out[3 * i + c] = pixels[i, order[c]] & masks[c]


@njit(cache=True, nogil=True)
def pack_332(pixels, first, last, out):
    """Pack (N, 3) RGB into (N,) bytes RRRGGGBB."""
    for i in range(pixels.shape[0]):
        out[i] = (pixels[i, first] & 0xE0) | ((pixels[i, 1] & 0xE0) >> 3) | (pixels[i, last] >> 6)
