"""The way between encoded sRGB values and linear light (IEC 61966-2-1)."""

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.errors import BadValueError

FloatArray = npt.NDArray[np.float32]

# Luminance of the sRGB primaries, D65 (IEC 61966-2-1, second row of the RGB to XYZ matrix).
LUMINANCE_WEIGHTS = np.array([0.2126, 0.7152, 0.0722], np.float32)


def srgb_to_linear(encoded: npt.ArrayLike) -> npt.NDArray[np.float64]:
    """Linear light 0..1 of encoded values 0..1, any shape.

    >>> round(float(srgb_to_linear(0.5)), 5)
    0.21404
    """
    v = np.asarray(encoded, np.float64)
    return np.where(v <= 0.04045, v / 12.92, ((np.maximum(v, 0) + 0.055) / 1.055) ** 2.4)


def linear_to_srgb(linear: npt.ArrayLike) -> npt.NDArray[np.float64]:
    """Encoded values 0..1 of linear light 0..1, any shape; outside values are clipped."""
    v = np.clip(np.asarray(linear, np.float64), 0, 1)
    return np.where(v <= 0.0031308, v * 12.92, 1.055 * v ** (1 / 2.4) - 0.055)


# One entry for each 8-bit value: the table is exact, so look-up and formula never disagree.
LINEAR_OF_BYTE = srgb_to_linear(np.arange(256) / 255).astype(np.float32)
LINEAR_OF_BYTE.setflags(write=False)


def bytes_to_linear(pixels: npt.NDArray[np.uint8]) -> FloatArray:
    """Linear light (float32, same shape) of 8-bit sRGB values."""
    return LINEAR_OF_BYTE[pixels]


def linear_to_bytes(linear: npt.ArrayLike) -> npt.NDArray[np.uint8]:
    """8-bit sRGB values (same shape) nearest to linear light 0..1."""
    return np.rint(linear_to_srgb(linear) * 255).astype(np.uint8)


@njit(cache=True, nogil=True)
def _luminance(flat, out):
    for i in range(flat.shape[0]):
        out[i] = flat[i, 0] * LUMINANCE_WEIGHTS[0] + flat[i, 1] * LUMINANCE_WEIGHTS[1] + flat[i, 2] * LUMINANCE_WEIGHTS[2]


def luminance(linear_rgb: npt.NDArray[np.floating]) -> FloatArray:
    """Relative luminance (..., ) of linear light (..., 3): equal light gives an equal figure, wherever it stands.

    A product of matrices would add in another order at another place, and a threshold would see it.
    """
    flat = np.ascontiguousarray(linear_rgb, np.float32).reshape(-1, 3)
    out = np.empty(len(flat), np.float32)
    _luminance(flat, out)
    return out.reshape(linear_rgb.shape[:-1])


def parse_hex(text: str) -> tuple[int, int, int]:
    """The three 8-bit values of "#rrggbb".

    >>> parse_hex("#b0261e")
    (176, 38, 30)
    """
    digits = text[1:] if text.startswith("#") else ""
    if len(digits) != 6 or not all(c in "0123456789abcdefABCDEF" for c in digits):
        raise BadValueError(f"colour {text[:24]!r} is not of the form #rrggbb, for example #b0261e")
    return int(digits[0:2], 16), int(digits[2:4], 16), int(digits[4:], 16)
