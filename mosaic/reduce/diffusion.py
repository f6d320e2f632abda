"""Error diffusion: what a pixel could not show is handed on to its neighbours.

All kernels of `mosaic.reduce.kernels`, in linear light, since the eye adds light and not encoded
values. Floyd and Steinberg's, the one most used, has loops of its own: in whole numbers where all of the error is handed
on (`mosaic.reduce.whole_numbers`), in floating point otherwise::

            *   7
        3   5   1      sixteenths
"""

import numpy as np
from numba import njit

from mosaic.color.gamut import opponent
from mosaic.reduce.any_kernel import diffuse_depth_by_kernel, diffuse_palette_by_kernel, diffuse_tone_by_kernel
from mosaic.reduce.kernels import KERNELS, Kernel
from mosaic.reduce.method import IndexArray, Method, sorted_levels
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels
from mosaic.reduce.whole_numbers import diffuse_palette, diffuse_tone

RIGHT, BELOW_BACK, BELOW, BELOW_ON = (np.float32(w / 16) for w in (7, 3, 5, 1))


@njit(cache=True, fastmath=True, nogil=True)
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
        for _ in range(width):
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


@njit(cache=True, fastmath=True, nogil=True)
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


@njit(cache=True, fastmath=True, inline="always")
def _nearest(v0, v1, v2, colors, half_square):
    """Number of the colour nearest to v: |v - c|^2 / 2 less |v|^2 / 2 is |c|^2 / 2 - v.c."""
    best, k = half_square[0] - (v0 * colors[0, 0] + v1 * colors[0, 1] + v2 * colors[0, 2]), 0
    for i in range(1, half_square.shape[0]):
        score = half_square[i] - (v0 * colors[i, 0] + v1 * colors[i, 1] + v2 * colors[i, 2])
        if score < best:
            best, k = score, i
    # Unsigned, so that looking the colour up needs no test for a negative index.
    return np.uintp(k)


@njit(cache=True, fastmath=True, nogil=True)
def _half_squares(colors):
    out = np.empty(colors.shape[0], np.float32)
    for k in range(colors.shape[0]):
        out[k] = np.float32(0.5) * (colors[k, 0] ** 2 + colors[k, 1] ** 2 + colors[k, 2] ** 2)
    return out


@njit(cache=True, fastmath=True, nogil=True)
def _turned(row, turn, out):
    """One row of light (W, 3) in opponent coordinates; without a chain, so it vectorises."""
    for x in range(row.shape[0]):
        for c in range(3):
            out[x, c] = turn[c, 0] * row[x, 0] + turn[c, 1] * row[x, 1] + turn[c, 2] * row[x, 2]


@njit(cache=True, fastmath=True, nogil=True)
def _colors(linear, turn, colors, strength, serpentine, out):
    """A palette, in opponent coordinates: diffusion is linear, so it may be done in any linear
    coordinates, and in these the nearest colour is the one the eye would take."""
    height, width = linear.shape[:2]
    half_square = _half_squares(colors)
    below = np.zeros((width + 2, 3), np.float32)
    row = np.empty((width, 3), np.float32)
    zero = np.float32(0)
    for y in range(height):
        _turned(linear[y], turn, row)
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        x = width - 1 if back else 0
        a0, a1, a2 = zero, zero, zero
        b0, b1, b2 = zero, zero, zero
        n0, n1, n2 = zero, zero, zero
        for _ in range(width):
            v0 = row[x, 0] + below[x + 1, 0] + a0
            v1 = row[x, 1] + below[x + 1, 1] + a1
            v2 = row[x, 2] + below[x + 1, 2] + a2
            k = _nearest(v0, v1, v2, colors, half_square)
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


def _is_plain(recipe: Recipe) -> bool:
    """Whether the quick loops, which know neither noise nor limit, give what is asked."""
    return recipe.noise == 0 and recipe.error_limit >= 1


def _quick_tone(task: ToneTask, recipe: Recipe) -> IndexArray:
    levels, order = sorted_levels(task.levels)
    values = np.ascontiguousarray(task.values, np.float32)
    out = np.empty(values.shape, np.uint8)
    strength, serpentine = np.float32(recipe.strength), recipe.scan == "serpentine"
    if len(levels) == 2 and strength == 1:
        return diffuse_tone(values, order[0], order[1], serpentine=serpentine)
    if len(levels) == 2:
        _two_levels(values, strength, serpentine, order[0], order[1], out)
    else:
        _levels(values, levels, order, strength, serpentine, out)
    return out


def _quick_palette(task: PaletteTask, recipe: Recipe) -> IndexArray:
    linear = np.ascontiguousarray(task.linear, np.float32)
    out = np.empty(linear.shape[:2], np.uint8)
    turn = opponent(np.eye(3)).T.copy()
    colors, strength = opponent(task.colors), np.float32(recipe.strength)
    serpentine = recipe.scan == "serpentine"
    if strength == 1:
        made = diffuse_palette(linear, turn, colors, serpentine=serpentine)
        if made is not None:
            return made
    _colors(linear, turn, colors, strength, serpentine, out)
    return out


def _quick_depth(task: DepthTask, recipe: Recipe) -> IndexArray:
    out = np.empty(task.linear.shape, np.uint8)
    for c, bits in enumerate(task.bits):
        values, levels = channel_levels(bits)
        plane = np.empty(task.linear.shape[:2], np.uint8)
        channel = np.ascontiguousarray(task.linear[..., c])
        _levels(channel, levels, values, np.float32(recipe.strength), recipe.scan == "serpentine", plane)
        out[..., c] = plane
    return out


def _method(kernel: Kernel) -> Method:
    quick = kernel.name == "floyd-steinberg"

    def tone(task: ToneTask, recipe: Recipe) -> IndexArray:
        return _quick_tone(task, recipe) if quick and _is_plain(recipe) else diffuse_tone_by_kernel(task, recipe, kernel)

    def palette(task: PaletteTask, recipe: Recipe) -> IndexArray:
        return _quick_palette(task, recipe) if quick and _is_plain(recipe) else diffuse_palette_by_kernel(task, recipe, kernel)

    def depth(task: DepthTask, recipe: Recipe) -> IndexArray:
        return _quick_depth(task, recipe) if quick and _is_plain(recipe) else diffuse_depth_by_kernel(task, recipe, kernel)

    parameters = ("strength", "scan", "noise", "error_limit")
    return Method(
        kernel.name, f"Error diffusion, {kernel.title}", kernel.use, parameters, tone, palette, depth, "error diffusion"
    )


DIFFUSION = tuple(_method(kernel) for kernel in KERNELS)
