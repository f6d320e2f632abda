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

ROUNDING = 1e-5
"""Light that scaling a flat grey may lose: a grey that is exactly at the border counts as light everywhere."""


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
    """The light from which on a pixel of a two-colour panel is light: the border's grey itself is."""
    grey = recipe.threshold
    if recipe.auto_threshold:
        grey = otsu_threshold(linear_to_bytes(task.values))
    return float(LINEAR_OF_BYTE[grey]) - ROUNDING


def _tone(task: ToneTask, recipe: Recipe) -> IndexArray:
    levels, order = sorted_levels(task.levels)
    if len(levels) == 2:
        return order[(task.values >= border_of(task, recipe)).astype(np.uint8)]
    # With several levels the nearest is meant, where the eye's steps are even.
    steps = linear_to_srgb(levels)
    return order[np.searchsorted((steps[1:] + steps[:-1]) / 2, linear_to_srgb(task.values))]


# A name of a colour is kept before its lightness: a strong green that the panel has only dark becomes that green, and not its
# yellow; a grey becomes black or white, and not a dull green. Weights of steps in CIELAB, weak colours and strong ones.
LIGHTNESS, ALONG_HUE, ACROSS_HUE = (1.0, 0.8), (1.6, 0.6), (1.6, 1.6)
STRONG_CHROMA = 40.0
"""Chroma from which a colour counts as strong; between it and grey the weights go over."""


@njit(cache=True, nogil=True)
def _nearest(seen, colors, out):
    for i in range(seen.shape[0]):
        lightness, a, b = seen[i, 0], seen[i, 1], seen[i, 2]
        chroma = np.sqrt(a * a + b * b)
        u, v = (a / chroma, b / chroma) if chroma > 0 else (np.float32(1), np.float32(0))
        strong = min(np.float32(1), chroma / np.float32(STRONG_CHROMA))
        w0 = np.float32(LIGHTNESS[0] + (LIGHTNESS[1] - LIGHTNESS[0]) * strong)
        w1 = np.float32(ALONG_HUE[0] + (ALONG_HUE[1] - ALONG_HUE[0]) * strong)
        w2 = np.float32(ACROSS_HUE[0] + (ACROSS_HUE[1] - ACROSS_HUE[0]) * strong)
        best = np.float32(1e30)
        for k in range(colors.shape[0]):
            da, db = colors[k, 1] - a, colors[k, 2] - b
            away = (w0 * (colors[k, 0] - lightness)) ** 2 + (w1 * (da * u + db * v)) ** 2 + (w2 * (db * u - da * v)) ** 2
            if away < best:
                best = away
                out[i] = k


def _palette(task: PaletteTask, recipe: Recipe) -> IndexArray:
    out = np.empty(task.linear.shape[:2], np.uint8)
    _nearest(linear_to_lab(task.meant).reshape(-1, 3), linear_to_lab(task.colors), out.reshape(-1))
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
