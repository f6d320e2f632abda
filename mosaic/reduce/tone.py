"""Exposure, contrast and saturation, in linear light, before a picture is reduced."""

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.srgb import linear_to_srgb, srgb_to_linear
from mosaic.reduce.recipe import Recipe

FloatArray = npt.NDArray[np.float32]
STEPS = 4096


def tone_curve(recipe: Recipe) -> FloatArray:
    """(STEPS + 1,) light out for light in, evenly spaced in the square root of light.

    Exposure multiplies light; contrast turns about the middle of the encoded scale, where the
    eye's steps are even.
    """
    light = (np.arange(STEPS + 1) / STEPS) ** 2 * 2.0**recipe.exposure
    encoded = (linear_to_srgb(light) - 0.5) * recipe.contrast + 0.5
    if recipe.invert:
        encoded = 1 - encoded
    return srgb_to_linear(np.clip(encoded, 0, 1)).astype(np.float32)


@njit(cache=True, fastmath=True, nogil=True)
def _apply(flat, curve, saturation, out):
    top = curve.shape[0] - 1
    for i in range(flat.shape[0]):
        for c in range(3):
            place = np.sqrt(flat[i, c]) * np.float32(top)
            k = min(int(place), top - 1)
            out[i, c] = curve[k] + (curve[k + 1] - curve[k]) * (place - np.float32(k))
        if saturation != np.float32(1):
            y = np.float32(0.2126) * out[i, 0] + np.float32(0.7152) * out[i, 1] + np.float32(0.0722) * out[i, 2]
            for c in range(3):
                out[i, c] = min(max(y + (out[i, c] - y) * saturation, np.float32(0)), np.float32(1))


def apply_tone(linear_rgb: FloatArray, recipe: Recipe) -> FloatArray:
    """(H, W, 3) light after the recipe's tone; the input is not changed."""
    if (recipe.exposure, recipe.contrast, recipe.saturation, recipe.invert) == (0.0, 1.0, 1.0, False):
        return linear_rgb
    flat = np.ascontiguousarray(linear_rgb, np.float32).reshape(-1, 3)
    out = np.empty_like(flat)
    _apply(flat, tone_curve(recipe), np.float32(recipe.saturation), out)
    return out.reshape(linear_rgb.shape)
