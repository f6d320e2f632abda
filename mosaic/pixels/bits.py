"""Small compiled loops that move pixels into bytes and back; they trust their callers."""

import numpy as np
from numba import njit


@njit(cache=True)
def pack_along_rows(pixels, codes, bits, lsb, out):
    """Pack (H, W) indices into out (H, B), several pixels of a row in a byte."""
    height, width = pixels.shape
    per = 8 // bits
    whole = width // per
    for y in range(height):
        for b in range(whole):
            byte = np.uint8(0)
            x = b * per
            for k in range(per):
                shift = k * bits if lsb else 8 - bits - k * bits
                byte |= np.uint8(codes[pixels[y, x + k]] << shift)
            out[y, b] = byte
        if whole * per < width:
            byte = np.uint8(0)
            for k in range(width - whole * per):
                shift = k * bits if lsb else 8 - bits - k * bits
                byte |= np.uint8(codes[pixels[y, whole * per + k]] << shift)
            out[y, whole] = byte


@njit(cache=True)
def pack_along_columns(pixels, codes, bits, lsb, out):
    """Pack (H, W) indices into zeroed out (B, W), several pixels of a column in a byte."""
    height, width = pixels.shape
    per = 8 // bits
    for y in range(height):
        k = y % per
        shift = k * bits if lsb else 8 - bits - k * bits
        page = y // per
        for x in range(width):
            out[page, x] |= np.uint8(codes[pixels[y, x]] << shift)


@njit(cache=True)
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


@njit(cache=True)
def pack_565(pixels, first, last, little, out):
    """Pack (N, 3) RGB into (2N,) bytes of 16-bit words."""
    high, low = (1, 0) if little else (0, 1)
    for i in range(pixels.shape[0]):
        g = pixels[i, 1]
        out[2 * i + high] = (pixels[i, first] & 0xF8) | (g >> 5)
        out[2 * i + low] = ((g & 0x1C) << 3) | (pixels[i, last] >> 3)


@njit(cache=True)
def pack_bytes(pixels, order, masks, out):
    """Pack (N, 3) RGB into (3N,) bytes, each channel masked to its bits."""
    for i in range(pixels.shape[0]):
        for c in range(3):
            out[3 * i + c] = pixels[i, order[c]] & masks[c]


@njit(cache=True)
def pack_332(pixels, first, last, out):
    """Pack (N, 3) RGB into (N,) bytes RRRGGGBB."""
    for i in range(pixels.shape[0]):
        out[i] = (pixels[i, first] & 0xE0) | ((pixels[i, 1] & 0xE0) >> 3) | (pixels[i, last] >> 6)
