"""CIELAB under D65 (CIE 15:2018, section 8.2.1) from linear sRGB light."""

import numpy as np
import numpy.typing as npt
from numba import njit

# Linear sRGB to XYZ, D65 (IEC 61966-2-1), each row divided by the white point so that white is 1,1,1.
_RGB_TO_XYZ = np.array([[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041]])
_WHITE = _RGB_TO_XYZ.sum(axis=1, keepdims=True)
XYZ_OF_WHITE_1 = (_RGB_TO_XYZ / _WHITE).astype(np.float32)

# Above _EPSILON the cube root holds, below it the straight line that meets it (CIE 15, eq. 8.6).
_EPSILON = np.float32((6 / 29) ** 3)
_SLOPE = np.float32((29 / 6) ** 2 / 3)
_SHIFT = np.float32(4 / 29)


# The law as a table over the square root of light, where it is nearly straight: with 4,096 steps
# and a straight line between two the error is below 1e-4 in L*, at a tenth of a cube root's time.
_STEPS = 4096


def _law(t):
    return np.where(t > _EPSILON, np.cbrt(t), _SLOPE * t + _SHIFT)


# One step past white, so that light at (or by rounding a little above) 1 has a neighbour.
_TABLE = _law((np.arange(_STEPS + 66) / _STEPS) ** 2).astype(np.float32)


@njit(cache=True, inline="always")
def _f(t, table):
    place = np.sqrt(max(t, np.float32(0))) * np.float32(_STEPS)
    k = min(int(place), _STEPS + 64)
    return table[k] + (table[k + 1] - table[k]) * (place - np.float32(k))


@njit(cache=True, fastmath=True, nogil=True)
def _rows_to_lab(linear, matrix, table, out):
    for i in range(linear.shape[0]):
        r, g, b = linear[i, 0], linear[i, 1], linear[i, 2]
        fx = _f(matrix[0, 0] * r + matrix[0, 1] * g + matrix[0, 2] * b, table)
        fy = _f(matrix[1, 0] * r + matrix[1, 1] * g + matrix[1, 2] * b, table)
        fz = _f(matrix[2, 0] * r + matrix[2, 1] * g + matrix[2, 2] * b, table)
        out[i, 0] = np.float32(116) * fy - np.float32(16)
        out[i, 1] = np.float32(500) * (fx - fy)
        out[i, 2] = np.float32(200) * (fy - fz)


def linear_to_lab(linear_rgb: npt.NDArray[np.floating]) -> npt.NDArray[np.float32]:
    """CIELAB (..., 3), L* 0..100, of linear sRGB light (..., 3) 0..1."""
    flat = np.ascontiguousarray(linear_rgb, np.float32).reshape(-1, 3)
    out = np.empty_like(flat)
    _rows_to_lab(flat, XYZ_OF_WHITE_1, _TABLE, out)
    return out.reshape(linear_rgb.shape)


@njit(cache=True, fastmath=True, nogil=True)
def _lightness(flat, table, out):
    for i in range(flat.shape[0]):
        out[i] = np.float32(116) * _f(flat[i], table) - np.float32(16)


def lightness(relative_luminance: npt.NDArray[np.floating]) -> npt.NDArray[np.float32]:
    """L* 0..100 (same shape) of relative luminance 0..1 (CIE 15, eq. 8.3)."""
    flat = np.ascontiguousarray(relative_luminance, np.float32).reshape(-1)
    out = np.empty_like(flat)
    _lightness(flat, _TABLE, out)
    return out.reshape(relative_luminance.shape)


@njit(cache=True, inline="always")
def _steepness(t):
    return np.float32(1 / 3) / np.cbrt(t) ** 2 if t > _EPSILON else _SLOPE


@njit(cache=True, fastmath=True, nogil=True)
def _lightness_slopes(flat, out):
    for i in range(flat.shape[0]):
        out[i] = np.float32(116) * _steepness(flat[i])


def lightness_slope(relative_luminance: npt.NDArray[np.floating]) -> npt.NDArray[np.float32]:
    """L* gained for luminance added, (same shape): the derivative of `lightness`."""
    flat = np.ascontiguousarray(relative_luminance, np.float32).reshape(-1)
    out = np.empty_like(flat)
    _lightness_slopes(flat, out)
    return out.reshape(relative_luminance.shape)


@njit(cache=True, fastmath=True, nogil=True)
def _lab_slopes(flat, matrix, out):
    xyz = np.empty(3, np.float32)
    for i in range(flat.shape[0]):
        for row in range(3):
            t = matrix[row, 0] * flat[i, 0] + matrix[row, 1] * flat[i, 1] + matrix[row, 2] * flat[i, 2]
            xyz[row] = _steepness(t)
        for c in range(3):
            x, y, z = matrix[0, c] * xyz[0], matrix[1, c] * xyz[1], matrix[2, c] * xyz[2]
            out[i, 0, c] = np.float32(116) * y
            out[i, 1, c] = np.float32(500) * (x - y)
            out[i, 2, c] = np.float32(200) * (y - z)


def lab_slope(linear_rgb: npt.NDArray[np.floating]) -> npt.NDArray[np.float32]:
    """(..., 3, 3) CIELAB gained (rows L*, a*, b*) for light added (columns), of light (..., 3)."""
    flat = np.ascontiguousarray(linear_rgb, np.float32).reshape(-1, 3)
    out = np.empty((len(flat), 3, 3), np.float32)
    _lab_slopes(flat, XYZ_OF_WHITE_1, out)
    return out.reshape(*linear_rgb.shape, 3)


def chroma(lab: npt.NDArray[np.floating]) -> npt.NDArray[np.float32]:
    """C*ab (...,) of CIELAB (..., 3)."""
    return np.hypot(lab[..., 1], lab[..., 2]).astype(np.float32)
