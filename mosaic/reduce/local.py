"""Threshold by the mean about each pixel: for scans and photos of paper under uneven light."""

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.srgb import linear_to_srgb, srgb_to_linear
from mosaic.reduce.method import IndexArray, Method
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask
from mosaic.reduce.threshold import THRESHOLD

OFFSET = 0.03
"""A pixel is dark when it is this much of the encoded scale below the mean, so that plain paper stays light."""
FLAT = 0.02
"""Standard deviation of the encoded scale below which a window holds nothing to tell apart: the plain threshold holds there."""

FloatArray = npt.NDArray[np.floating]


@njit(cache=True, nogil=True)
def _window_means(values, radius, out):
    """Means over windows of (2 radius + 1) squared, cut off at the edges; sums of rows and columns are carried along."""
    height, width = values.shape
    columns = np.zeros(width, np.float64)
    rows = 0
    for y in range(min(radius, height)):
        rows += 1
        for x in range(width):
            columns[x] += values[y, x]
    for y in range(height):
        if y + radius < height:
            rows += 1
            for x in range(width):
                columns[x] += values[y + radius, x]
        if y - radius - 1 >= 0:
            rows -= 1
            for x in range(width):
                columns[x] -= values[y - radius - 1, x]
        total, count = 0.0, 0
        for x in range(min(radius, width)):
            total += columns[x]
            count += 1
        for x in range(width):
            if x + radius < width:
                total += columns[x + radius]
                count += 1
            if x - radius - 1 >= 0:
                total -= columns[x - radius - 1]
                count -= 1
            out[y, x] = total / (count * rows)


def window_means(values: FloatArray, window_px: int) -> FloatArray:
    """(H, W) means of (H, W) values over a square window about each; an even side counts as the next odd one."""
    out = np.empty(values.shape, np.float32)
    _window_means(np.ascontiguousarray(values, np.float32), window_px // 2, out)
    return out


def _means_and_flatness(encoded: FloatArray, window_px: int) -> tuple[FloatArray, npt.NDArray[np.bool_]]:
    """(H, W) means of the windows, and whether each is flat."""
    means = window_means(encoded, window_px)
    # Taken about one half, where squares lose least to rounding.
    spread = window_means((encoded - 0.5) ** 2, window_px) - (means - 0.5) ** 2
    return means, spread < FLAT**2


def _levelled(light: FloatArray, window_px: int) -> FloatArray:
    """Light with the mean about each pixel moved to the middle of the encoded scale, where there is anything to see."""
    encoded = linear_to_srgb(np.clip(light, 0, 1))
    means, flat = _means_and_flatness(encoded, window_px)
    return srgb_to_linear(np.where(flat, encoded, np.clip(encoded - means + 0.5, 0, 1))).astype(np.float32)


def _tone(task: ToneTask, recipe: Recipe) -> IndexArray:
    if len(task.levels) > 2:
        return THRESHOLD.reduce(ToneTask(_levelled(task.values, recipe.window), task.levels), recipe)
    encoded = linear_to_srgb(np.clip(task.values, 0, 1))
    means, flat = _means_and_flatness(encoded, recipe.window)
    dark, light = np.argsort(task.levels, kind="stable")
    return np.where(encoded < np.where(flat, 0.5, means - OFFSET), dark, light).astype(np.uint8)


def _channels(light: FloatArray, window_px: int) -> FloatArray:
    return np.stack([_levelled(light[..., c], window_px) for c in range(3)], axis=-1)


def _palette(task: PaletteTask, recipe: Recipe) -> IndexArray:
    return THRESHOLD.reduce(PaletteTask(_channels(task.linear, recipe.window), task.colors), recipe)


def _depth(task: DepthTask, recipe: Recipe) -> IndexArray:
    return THRESHOLD.reduce(DepthTask(_channels(task.linear, recipe.window), task.bits), recipe)


LOCAL = Method(
    "local-threshold", "Local mean threshold", "scans and photos of paper in uneven light: print and ink stay hard",
    ("window",), _tone, _palette, _depth,
)  # fmt: skip
