"""Error diffusion: what a pixel could not show is handed on to its neighbours.

Floyd and Steinberg's weights (An Adaptive Algorithm for Spatial Greyscale, 1976), in linear
light, since the eye adds light and not encoded values::

            *   7
        3   5   1      sixteenths
"""

import numpy as np
from numba import njit

from mosaic.color.gamut import opponent
from mosaic.reduce.method import IndexArray, Method, sorted_levels
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels

RIGHT, BELOW_BACK, BELOW, BELOW_ON = (np.float32(w / 16) for w in (7, 3, 5, 1))


@njit(cache=True, fastmath=True)
def _two_levels(values, strength, serpentine, dark, light, out):
    """One tone. The row below is filled as we go; sums pending for it wait in registers.

    The chain from pixel to pixel sets the speed, so both outcomes of a pixel are carried to the
    next one before it is known which of them holds.
    """
    height, width = values.shape
    below = np.zeros(width + 2, np.float32)
    half, zero, one = np.float32(0.5), np.float32(0), np.float32(1)
    right = RIGHT * strength
    for y in range(height):
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        x = width - 1 if back else 0
        next_back, next_here = zero, zero
        v = values[y, x] + below[x + 1]
        for i in range(width):
            coming = min(max(x + step, 0), width - 1)
            given = values[y, coming] + below[coming + 1]
            if_dark = given + right * v
            if_light = (given - right) + right * v
            lit = v >= half
            error = (v - one if lit else v) * strength
            out[y, x] = light if lit else dark
            v = if_light if lit else if_dark
            below[x + 1 - step] = next_back + error * BELOW_BACK
            next_back = next_here + error * BELOW
            next_here = error * BELOW_ON
            x += step
        below[x + 1 - step] = next_back
        below[0] = below[width + 1] = zero


@njit(cache=True, fastmath=True)
def _levels(values, levels, order, strength, serpentine, out):
    """Several tones: as `_two_levels`, with the nearest of the sorted levels."""
    height, width = values.shape
    below = np.zeros(width + 2, np.float32)
    zero = np.float32(0)
    last = levels.shape[0] - 1
    for y in range(height):
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        x = width - 1 if back else 0
        ahead, next_back, next_here = zero, zero, zero
        k = 0
        for _ in range(width):
            v = values[y, x] + below[x + 1] + ahead
            while k < last and v - levels[k] > levels[k + 1] - v:
                k += 1
            while k > 0 and v - levels[k - 1] < levels[k] - v:
                k -= 1
            error = (v - levels[k]) * strength
            out[y, x] = order[k]
            ahead = error * RIGHT
            below[x + 1 - step] = next_back + error * BELOW_BACK
            next_back = next_here + error * BELOW
            next_here = error * BELOW_ON
            x += step
        below[x + 1 - step] = next_back
        below[0] = below[width + 1] = zero


@njit(cache=True, fastmath=True)
def _colors(linear, turn, colors, strength, serpentine, out):
    """A palette, in opponent coordinates: diffusion is linear, so it may be done in any linear
    coordinates, and in these the nearest colour is the one the eye would take."""
    height, width = linear.shape[:2]
    count = colors.shape[0]
    below = np.zeros((width + 2, 3), np.float32)
    zero = np.float32(0)
    # |v - c|^2 = |v|^2 - 2 v.c + |c|^2: for the nearest, half of the last less v.c is enough.
    half_square = np.empty(count, np.float32)
    for k in range(count):
        half_square[k] = np.float32(0.5) * (colors[k, 0] ** 2 + colors[k, 1] ** 2 + colors[k, 2] ** 2)
    for y in range(height):
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        x = width - 1 if back else 0
        a0, a1, a2 = zero, zero, zero
        b0, b1, b2 = zero, zero, zero
        n0, n1, n2 = zero, zero, zero
        for _ in range(width):
            r, g, b = linear[y, x, 0], linear[y, x, 1], linear[y, x, 2]
            v0 = turn[0, 0] * r + turn[0, 1] * g + turn[0, 2] * b + below[x + 1, 0] + a0
            v1 = turn[1, 0] * r + turn[1, 1] * g + turn[1, 2] * b + below[x + 1, 1] + a1
            v2 = turn[2, 0] * r + turn[2, 1] * g + turn[2, 2] * b + below[x + 1, 2] + a2
            best, k = np.float32(1e30), 0
            for i in range(count):
                score = half_square[i] - (v0 * colors[i, 0] + v1 * colors[i, 1] + v2 * colors[i, 2])
                if score < best:
                    best, k = score, i
            out[y, x] = k
            e0 = (v0 - colors[k, 0]) * strength
            e1 = (v1 - colors[k, 1]) * strength
            e2 = (v2 - colors[k, 2]) * strength
            a0, a1, a2 = e0 * RIGHT, e1 * RIGHT, e2 * RIGHT
            at = x + 1 - step
            below[at, 0] = b0 + e0 * BELOW_BACK
            below[at, 1] = b1 + e1 * BELOW_BACK
            below[at, 2] = b2 + e2 * BELOW_BACK
            b0, b1, b2 = n0 + e0 * BELOW, n1 + e1 * BELOW, n2 + e2 * BELOW
            n0, n1, n2 = e0 * BELOW_ON, e1 * BELOW_ON, e2 * BELOW_ON
            x += step
        at = x + 1 - step
        below[at, 0], below[at, 1], below[at, 2] = b0, b1, b2
        below[0] = zero
        below[width + 1] = zero


@njit(cache=True, fastmath=True)
def _two_levels_raster(values, strength, dark, light, out):
    """`_two_levels` in raster order, two rows at a time, the lower one two pixels behind.

    Each row is a chain in which every pixel waits for the one before; two chains side by side
    keep the processor busy. Behind by two, the lower row finds all it needs from the upper.
    """
    height, width = values.shape
    below = np.zeros(width + 3, np.float32)
    middle = np.zeros(width + 3, np.float32)
    half, zero, one = np.float32(0.5), np.float32(0), np.float32(1)
    for y in range(0, height, 2):
        has_lower = y + 1 < height
        a_ahead, a_back, a_here = zero, zero, zero
        b_ahead, b_back, b_here = zero, zero, zero
        for t in range(width + 2):
            if t < width:
                v = values[y, t] + below[t + 1] + a_ahead
                lit = np.float32(v >= half)
                error = (v - lit) * strength
                out[y, t] = light if v >= half else dark
                a_ahead = error * RIGHT
                middle[t] = a_back + error * BELOW_BACK
                a_back = a_here + error * BELOW
                a_here = error * BELOW_ON
                if t == width - 1:
                    middle[width] = a_back
            if has_lower and t >= 2:
                x = t - 2
                w = values[y + 1, x] + middle[x + 1] + b_ahead
                lit = np.float32(w >= half)
                error = (w - lit) * strength
                out[y + 1, x] = light if w >= half else dark
                b_ahead = error * RIGHT
                below[x] = b_back + error * BELOW_BACK
                b_back = b_here + error * BELOW
                b_here = error * BELOW_ON
        below[width] = b_back


def _tone(task: ToneTask, recipe: Recipe) -> IndexArray:
    levels, order = sorted_levels(task.levels)
    values = np.ascontiguousarray(task.values, np.float32)
    out = np.empty(values.shape, np.uint8)
    strength, serpentine = np.float32(recipe.strength), recipe.scan == "serpentine"
    if len(levels) == 2 and not serpentine:
        _two_levels_raster(values, strength, order[0], order[1], out)
    elif len(levels) == 2:
        _two_levels(values, strength, serpentine, order[0], order[1], out)
    else:
        _levels(values, levels, order, strength, serpentine, out)
    return out


def _palette(task: PaletteTask, recipe: Recipe) -> IndexArray:
    linear = np.ascontiguousarray(task.linear, np.float32)
    out = np.empty(linear.shape[:2], np.uint8)
    turn = opponent(np.eye(3)).T.copy()
    _colors(linear, turn, opponent(task.colors), np.float32(recipe.strength), recipe.scan == "serpentine", out)
    return out


def _depth(task: DepthTask, recipe: Recipe) -> IndexArray:
    out = np.empty(task.linear.shape, np.uint8)
    for c, bits in enumerate(task.bits):
        values, levels = channel_levels(bits)
        plane = np.empty(task.linear.shape[:2], np.uint8)
        channel = np.ascontiguousarray(task.linear[..., c])
        _levels(channel, levels, values, np.float32(recipe.strength), recipe.scan == "serpentine", plane)
        out[..., c] = plane
    return out


FLOYD_STEINBERG = Method(
    "floyd-steinberg", "Spread error, Floyd-Steinberg", "photos and gradients that stand still: the truest mean tones",
    ("strength", "scan"), _tone, _palette, _depth,
)  # fmt: skip
