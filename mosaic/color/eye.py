"""The eye: how far a reduced picture looks from its original at a given distance.

Both pictures, in linear light, are blurred by a Gaussian that stands for the eye, turned into
CIELAB, and the root mean square of the difference is taken. Sums of light are what the eye
averages, so the blur is in linear light.
"""

import math
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.lab import lightness, linear_to_lab
from mosaic.errors import BadValueError

SIGMA_UNKNOWN = 1.5
"""Blur in pixels where neither pitch nor distance is known."""
SIGMA_ONE_TONE = 1.5
"""Blur in pixels for figures that are compared across panels, one tone."""
SIGMA_PALETTE = 2.0
"""Blur in pixels for figures that are compared across panels, palettes."""
_SIGMA_LEAST = 0.8


def eye_sigma_px(pitch_mm: float, distance_mm: float) -> float:
    """Standard deviation of the eye's blur in pixels: one arc-minute, at least 0.8.

    Pixels per degree = distance * tan(1 degree) / pitch; sigma = that / 60.

    >>> round(eye_sigma_px(0.15, 1000), 3)
    1.939
    """
    if not (pitch_mm > 0 and distance_mm > 0):
        raise BadValueError(f"pitch {pitch_mm} mm and distance {distance_mm} mm must both be above 0")
    return max(_SIGMA_LEAST, distance_mm * math.tan(math.radians(1)) / pitch_mm / 60)


@lru_cache(maxsize=32)
def gaussian_weights(sigma_px: float) -> npt.NDArray[np.float32]:
    """(2r+1,) weights of a Gaussian cut at four sigma, summing to 1."""
    radius = max(1, math.ceil(4 * sigma_px))
    x = np.arange(-radius, radius + 1, dtype=np.float64)
    w = np.exp(-0.5 * (x / sigma_px) ** 2)
    weights = (w / w.sum()).astype(np.float32)
    weights.setflags(write=False)
    return weights


@njit(cache=True, fastmath=True, nogil=True)
def _blur_lines(source, weights, out):
    """Blur (H, W) along the first axis into `out`; the edge pixel is repeated outwards.

    Working down the first axis keeps the inner loop over contiguous pixels, which vectorises.
    """
    height, width = source.shape
    radius = weights.shape[0] // 2
    for y in range(height):
        for x in range(width):
            out[y, x] = np.float32(0)
        for k in range(-radius, radius + 1):
            yy = min(max(y + k, 0), height - 1)
            w = weights[k + radius]
            for x in range(width):
                out[y, x] += w * source[yy, x]


@njit(cache=True, fastmath=True, nogil=True)
def _blur_across(source, weights, channels, out):
    """Blur (H, W*C) along its pixels, channels interleaved, the edge pixel repeated outwards."""
    height, width = source.shape
    radius = weights.shape[0] // 2
    padded = np.empty(width + 2 * radius * channels, np.float32)
    for y in range(height):
        for k in range(radius):
            for c in range(channels):
                padded[k * channels + c] = source[y, c]
                padded[width + (radius + k) * channels + c] = source[y, width - channels + c]
        for x in range(width):
            padded[radius * channels + x] = source[y, x]
            out[y, x] = np.float32(0)
        for k in range(2 * radius + 1):
            w = weights[k]
            shift = k * channels
            for x in range(width):
                out[y, x] += w * padded[x + shift]


def blur(linear: npt.NDArray[np.floating], sigma_px: float) -> npt.NDArray[np.float32]:
    """Blur (H, W) or (H, W, C) float light with a Gaussian of `sigma_px` pixels; edges repeat."""
    source = np.ascontiguousarray(linear, np.float32)
    height, width = source.shape[:2]
    channels = 1 if source.ndim == 2 else source.shape[2]
    flat = source.reshape(height, width * channels)
    weights = gaussian_weights(float(sigma_px))
    across, down = np.empty_like(flat), np.empty_like(flat)
    _blur_across(flat, weights, channels, across)
    _blur_lines(across, weights, down)
    return down.reshape(source.shape)


@njit(cache=True, fastmath=True, nogil=True)
def _area_sums(pixels, colors, side, out):
    for y in range(out.shape[0] * side):
        for x in range(out.shape[1] * side):
            for c in range(3):
                out[y // side, x // side, c] += colors[pixels[y, x], c]


def area_means(pixels: npt.NDArray[np.uint8], colors: npt.NDArray[np.float32], side_px: int) -> npt.NDArray[np.float32]:
    """Mean light (h, w, 3) of whole square areas of a picture of palette indices (H, W); rests are left out."""
    height, width = pixels.shape
    if min(height, width) < side_px:
        side_px = min(height, width)
    out = np.zeros((height // side_px, width // side_px, 3), np.float32)
    _area_sums(pixels, np.ascontiguousarray(colors, np.float32), side_px, out)
    return (out / np.float32(side_px * side_px)).astype(np.float32)


def seen_lightness(relative_luminance: npt.NDArray[np.floating], sigma_px: float) -> npt.NDArray[np.float32]:
    """(H, W) L* as the eye sees it, of (H, W) luminance."""
    return lightness(blur(relative_luminance, sigma_px))


def seen_lab(linear_rgb: npt.NDArray[np.floating], sigma_px: float) -> npt.NDArray[np.float32]:
    """(H, W, 3) CIELAB as the eye sees it, of (H, W, 3) linear light."""
    return linear_to_lab(blur(linear_rgb, sigma_px))


def rms_difference(seen_a: npt.NDArray[np.floating], seen_b: npt.NDArray[np.floating]) -> float:
    """Root mean square distance of two pictures in L* (H, W) or CIELAB (H, W, 3)."""
    difference = np.subtract(seen_a, seen_b, dtype=np.float32).ravel()
    pixels = seen_a.shape[0] * seen_a.shape[1]
    return math.sqrt(float(difference @ difference) / pixels)


def perceived_error(target: npt.NDArray[np.floating], result: npt.NDArray[np.floating], sigma_px: float = SIGMA_UNKNOWN) -> float:
    """Perceived error in CIELAB units between two pictures in linear light.

    Parameters
    ----------
    target, result : (H, W) luminance, or (H, W, 3) linear light, of one shape
        Give luminance for panels of two colours or grey levels.
    sigma_px : float
        Blur of the eye in pixels.
    """
    if target.shape != result.shape:
        raise BadValueError(f"target is {target.shape}, result {result.shape}; they must be of one shape")
    see = seen_lightness if target.ndim == 2 else seen_lab
    return rms_difference(see(target, sigma_px), see(result, sigma_px))
