"""Dithering with a mask: a pixel is compared with a fixed threshold for its place.

Equal parts of two pictures stay equal, so every mask is right for animation and for anything that
changes in part. A mask is an array of ranks: the order in which its places light up as a tone
rises. Places may share a rank; they then light up together.
"""

from collections.abc import Callable
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.gamut import GRID, grid_colors, opponent
from mosaic.color.srgb import luminance
from mosaic.reduce.method import IndexArray, Method, sorted_levels
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels

FloatArray = npt.NDArray[np.float32]
RankArray = npt.NDArray[np.int64]

MIXTURE_STEPS = 64
"""Most colours in a palette mixture: finer masks would need tables of hundreds of megabytes and show no gain."""


def rank_count(ranks: RankArray) -> int:
    """How many different steps a mask has."""
    return int(ranks.max()) + 1


def shares(ranks: RankArray) -> npt.NDArray[np.float64]:
    """For each place of a mask the share of light at which it and its equals are best lit: the middle of what they add.

    Ranks that many places share add much light at once; places, not ranks, are counted.
    """
    counts = np.bincount(ranks.ravel(), minlength=rank_count(ranks))
    return ((np.cumsum(counts) - counts / 2) / ranks.size)[ranks]


def thresholds(ranks: RankArray, strength: float) -> FloatArray:
    """Thresholds 0..1 of ranks, drawn together about one half as strength falls to 0."""
    return (0.5 + (shares(ranks) - 0.5) * strength).astype(np.float32)


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


def mask_palette(task: PaletteTask, ranks: RankArray, strength: float) -> IndexArray:
    """Dither to a palette by the mixture nearest to each colour and a mask of ranks.

    Strength draws the ranks together about their middle, so that at 0 one colour is left.
    """
    count = rank_count(ranks)
    steps = min(count, MIXTURE_STEPS)
    mixtures = _mixtures(task.colors.tobytes(), len(task.colors), steps)
    coarse, middle = np.floor(shares(ranks) * steps), (steps - 1) / 2
    drawn = np.rint(middle + (coarse - middle) * strength).astype(np.int64)
    out = np.empty(task.linear.shape[:2], np.uint8)
    _pick(np.minimum(task.linear, 1), mixtures, drawn, out)
    return out


def mask_tone(task: ToneTask, ranks: RankArray, strength: float) -> IndexArray:
    """Dither to tones by a mask of ranks."""
    levels, order = sorted_levels(task.levels)
    out = np.empty(task.values.shape, np.uint8)
    mask_levels(np.ascontiguousarray(task.values), levels, order, thresholds(ranks, strength), out)
    return out


def mask_depth(task: DepthTask, ranks: RankArray, strength: float) -> IndexArray:
    """Dither each channel to its steps by a mask of ranks."""
    mask = thresholds(ranks, strength)
    out = np.empty(task.linear.shape, np.uint8)
    for c, bits in enumerate(task.bits):
        values, levels = channel_levels(bits)
        plane = np.empty(task.linear.shape[:2], np.uint8)
        mask_levels(np.ascontiguousarray(task.linear[..., c]), levels, values, mask, plane)
        out[..., c] = plane
    return out


def mask_method(name: str, title: str, use: str, ranks_of: Callable[[Recipe], RankArray], *parameters: str) -> Method:
    """A method whose mask is `ranks_of(recipe)`; `parameters` are fields it uses besides the strength."""
    return Method(
        name, title, use, ("strength", *parameters),
        lambda task, recipe: mask_tone(task, ranks_of(recipe), recipe.strength),
        lambda task, recipe: mask_palette(task, ranks_of(recipe), recipe.strength),
        lambda task, recipe: mask_depth(task, ranks_of(recipe), recipe.strength),
        "fixed masks",
    )  # fmt: skip
