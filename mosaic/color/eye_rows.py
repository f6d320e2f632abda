"""The eye's figure for a palette in one pass by rows: blur, CIELAB and difference, without arrays in between.

The same as `mosaic.color.eye.seen_lab` and `rms_difference` of the pictures' light, to a few millionths. A row of seven
colours needs no light of its own: each colour's share of X, Y and Z stands in a table.
"""

import math

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.eye import gaussian_weights
from mosaic.color.lab import XYZ_OF_WHITE_1

FloatArray = npt.NDArray[np.float32]

# The law of CIELAB: a cube root above epsilon, a straight line below it. CIE 15:2004.
_EPSILON, _SLOPE, _SHIFT = np.float32((6 / 29) ** 3), np.float32((29 / 6) ** 2 / 3), np.float32(4 / 29)
_THIRD = np.float32(1 / 3)
_ROOT_GUESS = np.int32(709921077)
"""Two thirds of the exponent's bias, less what makes the first guess of a cube root's bits best on average."""


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _law(t, g, bits):
    """g = the law of CIELAB of t; `bits` are those of g. A third of a number's bits is near its cube root's; three steps of
    Newton follow."""
    for x in range(t.shape[0]):
        g[x] = t[x]
    for x in range(t.shape[0]):
        bits[x] = np.int32(np.float32(bits[x]) * _THIRD) + _ROOT_GUESS
    for x in range(t.shape[0]):
        v, a = t[x], g[x]
        a = (a + a + v / (a * a)) * _THIRD
        a = (a + a + v / (a * a)) * _THIRD
        a = (a + a + v / (a * a)) * _THIRD
        g[x] = a if v > _EPSILON else _SLOPE * v + _SHIFT


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _row_of_colors(pixels, table, radius, out):
    for x in range(pixels.shape[0]):
        out[radius + x] = table[pixels[x]]


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _row_of_light(line, turn, radius, out):
    """One of X, Y, Z of a row of light (3 W,), laid between black and white: `turn` (4,) are three factors and a sum."""
    a, b, c, d = turn[0], turn[1], turn[2], turn[3]
    for x in range(line.shape[0] // 3):
        out[radius + x] = a * line[3 * x] + b * line[3 * x + 1] + c * line[3 * x + 2] + d


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _blurred_along(padded, radius, weights, out):
    """A row blurred; the edge pixel is repeated outwards."""
    w = out.shape[0]
    for k in range(radius):
        padded[k] = padded[radius]
        padded[radius + w + k] = padded[radius + w - 1]
    for x in range(w):
        out[x] = weights[0] * padded[x]
    for k in range(1, weights.shape[0]):
        g = weights[k]
        for x in range(w):
            out[x] += g * padded[x + k]


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _add(line, g, out):
    for x in range(out.shape[0]):
        out[x] += g * line[x]


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _blurred_down(ring, y, height, weights, t):
    """Row y of the picture blurred down its columns, out of a ring that holds the rows about it."""
    taps, radius = weights.shape[0], weights.shape[0] // 2
    t[:] = np.float32(0)
    for k in range(-radius, radius + 1):
        _add(ring[min(max(y + k, 0), height - 1) % taps], weights[k + radius], t)


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _lab(g, out):
    """f(X), f(Y), f(Z) side by side to L*, a*, b* side by side."""
    w = g.shape[0] // 3
    for x in range(w):
        fx, fy, fz = g[x], g[w + x], g[2 * w + x]
        out[x] = np.float32(116) * fy - np.float32(16)
        out[w + x] = np.float32(500) * (fx - fy)
        out[2 * w + x] = np.float32(200) * (fy - fz)


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _squares(f, target):
    s = np.float32(0)
    for x in range(f.shape[0]):
        d = f[x] - target[x]
        s += d * d
    return s


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _seen_light(lines, turn, weights, out):
    height, w = lines.shape[0], lines.shape[1] // 3
    taps, radius = weights.shape[0], weights.shape[0] // 2
    ring, padded = np.empty((taps, 3 * w), np.float32), np.empty(w + 2 * radius, np.float32)
    t, g = np.empty(3 * w, np.float32), np.empty(3 * w, np.float32)
    bits = g.view(np.int32)
    done = 0
    for y in range(height):
        while done <= min(y + radius, height - 1):
            for c in range(3):
                _row_of_light(lines[done], turn[c], radius, padded)
                _blurred_along(padded, radius, weights, ring[done % taps, c * w : (c + 1) * w])
            done += 1
        _blurred_down(ring, y, height, weights, t)
        _law(t, g, bits)
        _lab(g, out[y])


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _squares_of_colors(pixels, table, weights, target):
    height, w = pixels.shape
    taps, radius = weights.shape[0], weights.shape[0] // 2
    ring, padded = np.empty((taps, 3 * w), np.float32), np.empty(w + 2 * radius, np.float32)
    t, g, lab = np.empty(3 * w, np.float32), np.empty(3 * w, np.float32), np.empty(3 * w, np.float32)
    bits = g.view(np.int32)
    total, done = 0.0, 0
    for y in range(height):
        while done <= min(y + radius, height - 1):
            for c in range(3):
                _row_of_colors(pixels[done], table[c], radius, padded)
                _blurred_along(padded, radius, weights, ring[done % taps, c * w : (c + 1) * w])
            done += 1
        _blurred_down(ring, y, height, weights, t)
        _law(t, g, bits)
        _lab(g, lab)
        total += _squares(lab, target[y])
    return total


def seen_between(light: FloatArray, black: FloatArray, white: FloatArray, sigma_px: float) -> FloatArray:
    """(H, 3 W) of light (H, W, 3) laid between black and white (3,): each row its L*, then its a*, then its b*, as the eye
    sees them."""
    lines = np.ascontiguousarray(light, np.float32).reshape(light.shape[0], -1)
    turn = np.empty((3, 4), np.float32)
    turn[:, :3] = XYZ_OF_WHITE_1 * (white - black)
    turn[:, 3] = XYZ_OF_WHITE_1 @ black
    out = np.empty_like(lines)
    _seen_light(lines, turn, gaussian_weights(float(sigma_px)), out)
    return out


def difference_of_colors(seen: FloatArray, pixels: npt.NDArray[np.uint8], colors: FloatArray, sigma_px: float) -> float:
    """Root mean square distance in CIELAB units between what `seen_between` gave and palette indices (H, W) in the light of
    these colours (K, 3)."""
    table = np.ascontiguousarray((colors @ XYZ_OF_WHITE_1.T).T.astype(np.float32))
    weights = gaussian_weights(float(sigma_px))
    return math.sqrt(_squares_of_colors(np.ascontiguousarray(pixels), table, weights, seen) / pixels.size)
