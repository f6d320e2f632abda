"""Plain threshold: each pixel becomes the nearest value, nothing is dithered.

For line art and digits. On one tone the border is a chosen encoded grey, or is found by
Otsu's method (N. Otsu, A Threshold Selection Method from Gray-Level Histograms, 1979).
"""

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.lab import linear_to_lab
from mosaic.color.srgb import LINEAR_OF_BYTE, linear_to_bytes, linear_to_srgb
from mosaic.reduce.method import IndexArray, Method, sorted_levels
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels


def otsu_threshold(grey: npt.NDArray[np.uint8]) -> int:
    """The grey t for which "below t" and "t and above" differ most (largest variance between).

    A flat picture has no border; 128 is given.
    """
    histogram = np.bincount(grey.ravel(), minlength=256).astype(np.float64)
    total = histogram.sum()
    weight = np.cumsum(histogram)[:-1]
    moment = np.cumsum(histogram * np.arange(256))
    rest = total - weight
    with np.errstate(divide="ignore", invalid="ignore"):
        between = (moment[-1] * weight - moment[:-1] * total) ** 2 / (weight * rest)
    if not np.isfinite(between).any():
        return 128
    # All greys between the two groups do equally well; the middle one is the least surprising.
    best = np.flatnonzero(between >= np.nanmax(between) * (1 - 1e-12))
    return int(best[len(best) // 2]) + 1


def border_of(task: ToneTask, recipe: Recipe) -> float:
    """The light from which on a pixel of a two-colour panel is light."""
    grey = recipe.threshold
    if recipe.auto_threshold:
        grey = otsu_threshold(linear_to_bytes(task.values))
    return float(LINEAR_OF_BYTE[grey])


def _tone(task: ToneTask, recipe: Recipe) -> IndexArray:
    levels, order = sorted_levels(task.levels)
    if len(levels) == 2:
        return order[(task.values >= border_of(task, recipe)).astype(np.uint8)]
    # With several levels the nearest is meant, where the eye's steps are even.
    steps = linear_to_srgb(levels)
    return order[np.searchsorted((steps[1:] + steps[:-1]) / 2, linear_to_srgb(task.values))]


@njit(cache=True, fastmath=True, nogil=True)
def _nearest(seen, colors, out):
    for i in range(seen.shape[0]):
        best = np.float32(1e30)
        for k in range(colors.shape[0]):
            away = (seen[i, 0] - colors[k, 0]) ** 2 + (seen[i, 1] - colors[k, 1]) ** 2 + (seen[i, 2] - colors[k, 2]) ** 2
            if away < best:
                best = away
                out[i] = k


def _palette(task: PaletteTask, recipe: Recipe) -> IndexArray:
    out = np.empty(task.linear.shape[:2], np.uint8)
    _nearest(linear_to_lab(task.linear).reshape(-1, 3), linear_to_lab(task.colors), out.reshape(-1))
    return out


def _depth(task: DepthTask, recipe: Recipe) -> IndexArray:
    exact = linear_to_bytes(task.linear)
    out = np.empty_like(exact)
    for c, bits in enumerate(task.bits):
        values, _ = channel_levels(bits)
        borders = (values[1:].astype(np.float32) + values[:-1]) / 2
        out[..., c] = values[np.searchsorted(borders, np.arange(256))][exact[..., c]]
    return out


THRESHOLD = Method(
    "threshold", "Plain threshold", "line art, digits and lettering: edges stay hard",
    ("threshold", "auto_threshold"), _tone, _palette, _depth,
)  # fmt: skip
