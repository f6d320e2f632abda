"""Ordered dithering with Bayer's matrix.

A pixel is compared with a fixed threshold for its place, so equal parts of two pictures stay
equal: right for animation and for anything that changes in part. (B. E. Bayer, An Optimum
Method for Two-Level Rendition of Continuous-Tone Pictures, 1973.)
"""

from functools import lru_cache

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.gamut import GRID, grid_colors, opponent
from mosaic.color.srgb import luminance
from mosaic.errors import BadValueError
from mosaic.reduce.method import IndexArray, Method, sorted_levels
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels

FloatArray = npt.NDArray[np.float32]


def bayer_ranks(size: int) -> npt.NDArray[np.int64]:
    """(size, size) ranks 0 .. size*size - 1 of Bayer's matrix; size is a power of two.

    >>> bayer_ranks(2).tolist()
    [[0, 2], [3, 1]]
    """
    if size < 1 or size & (size - 1):
        raise BadValueError(f"a Bayer matrix of side {size} does not exist; 2, 4, 8 and 16 do")
    ranks = np.zeros((1, 1), np.int64)
    while len(ranks) < size:
        ranks = np.block([[4 * ranks, 4 * ranks + 2], [4 * ranks + 3, 4 * ranks + 1]])
    return ranks


def thresholds(ranks: npt.NDArray[np.int64], strength: float) -> FloatArray:
    """Thresholds 0..1 of ranks, drawn together about one half as strength falls to 0."""
    even = (ranks + 0.5) / ranks.size
    return (0.5 + (even - 0.5) * strength).astype(np.float32)


@njit(cache=True, nogil=True)
def mask_levels(values, levels, order, mask, out):
    """Choose between the two levels around each value by its place in the mask."""
    rows, columns = mask.shape
    last = levels.shape[0] - 1
    for y in range(values.shape[0]):
        for x in range(values.shape[1]):
            v = values[y, x]
            k = 0
            while k < last - 1 and v >= levels[k + 1]:
                k += 1
            share = (v - levels[k]) / (levels[k + 1] - levels[k])
            out[y, x] = order[k + 1] if share > mask[y % rows, x % columns] else order[k]


@njit(cache=True, nogil=True)
def _mix_cells(cells, colors, brightness, steps, out):
    """For each colour the palette colours whose mean is nearest to it, `steps` of them, dark first."""
    for i in range(cells.shape[0]):
        short = np.zeros(3, np.float32)
        counts = np.zeros(colors.shape[0], np.int64)
        for _ in range(steps):
            best, chosen = np.float32(1e30), 0
            for k in range(colors.shape[0]):
                away = np.float32(0)
                for c in range(3):
                    away += (cells[i, c] + short[c] - colors[k, c]) ** 2
                if away < best:
                    best, chosen = away, k
            counts[chosen] += 1
            for c in range(3):
                short[c] += cells[i, c] - colors[chosen, c]
        place = 0
        for k in brightness:
            for _ in range(counts[k]):
                out[i, place] = k
                place += 1


@lru_cache(maxsize=32)
def _mixtures(color_bytes: bytes, count: int, steps: int) -> npt.NDArray[np.uint8]:
    """(GRID, GRID, GRID, steps) palette indices that mix to each grid colour, dark first."""
    colors = np.frombuffer(color_bytes, np.float32).reshape(count, 3)
    brightness = np.argsort(luminance(colors), kind="stable")
    cells = opponent(grid_colors())
    out = np.empty((len(cells), steps), np.uint8)
    _mix_cells(cells, opponent(colors), brightness, steps, out)
    table = out.reshape(GRID, GRID, GRID, steps)
    # A cell stands for all colours near it; where a palette colour lies in it, that one is meant,
    # so that flat areas in the panel's own colours stay flat.
    places = np.rint(np.sqrt(np.clip(colors, 0, 1)) * (GRID - 1)).astype(np.int64)
    table[places[:, 0], places[:, 1], places[:, 2]] = np.arange(count, dtype=np.uint8)[:, None]
    return table


@njit(cache=True, fastmath=True, nogil=True)
def _pick(linear, mixtures, ranks, out):
    rows, columns = ranks.shape
    side = np.float32(mixtures.shape[0] - 1)
    for y in range(linear.shape[0]):
        for x in range(linear.shape[1]):
            r = int(np.sqrt(max(linear[y, x, 0], np.float32(0))) * side + np.float32(0.5))
            g = int(np.sqrt(max(linear[y, x, 1], np.float32(0))) * side + np.float32(0.5))
            b = int(np.sqrt(max(linear[y, x, 2], np.float32(0))) * side + np.float32(0.5))
            out[y, x] = mixtures[r, g, b, ranks[y % rows, x % columns]]


def mask_palette(task: PaletteTask, ranks: npt.NDArray[np.int64], strength: float) -> IndexArray:
    """Dither to a palette by the mixture nearest to each colour and a mask of ranks.

    Strength draws the ranks together about their middle, so that at 0 one colour is left.
    """
    mixtures = _mixtures(task.colors.tobytes(), len(task.colors), ranks.size)
    middle = (ranks.size - 1) / 2
    drawn = np.rint(middle + (ranks - middle) * strength).astype(np.int64)
    out = np.empty(task.linear.shape[:2], np.uint8)
    _pick(np.minimum(task.linear, 1), mixtures, drawn, out)
    return out


def mask_tone(task: ToneTask, ranks: npt.NDArray[np.int64], strength: float) -> IndexArray:
    """Dither to tones by a mask of ranks."""
    levels, order = sorted_levels(task.levels)
    out = np.empty(task.values.shape, np.uint8)
    mask_levels(np.ascontiguousarray(task.values), levels, order, thresholds(ranks, strength), out)
    return out


def mask_depth(task: DepthTask, ranks: npt.NDArray[np.int64], strength: float) -> IndexArray:
    """Dither each channel to its steps by a mask of ranks."""
    mask = thresholds(ranks, strength)
    out = np.empty(task.linear.shape, np.uint8)
    for c, bits in enumerate(task.bits):
        values, levels = channel_levels(bits)
        plane = np.empty(task.linear.shape[:2], np.uint8)
        mask_levels(np.ascontiguousarray(task.linear[..., c]), levels, values, mask, plane)
        out[..., c] = plane
    return out


BAYER_8 = bayer_ranks(8)


def _tone(task: ToneTask, recipe: Recipe) -> IndexArray:
    return mask_tone(task, BAYER_8, recipe.strength)


def _palette(task: PaletteTask, recipe: Recipe) -> IndexArray:
    return mask_palette(task, BAYER_8, recipe.strength)


def _depth(task: DepthTask, recipe: Recipe) -> IndexArray:
    return mask_depth(task, BAYER_8, recipe.strength)


ORDERED = Method(
    "bayer-8", "Ordered, Bayer 8 × 8", "animation and partial updates: equal parts stay equal; a fine grid shows",
    ("strength",), _tone, _palette, _depth,
)  # fmt: skip
