"""Error diffusion with any kernel, threshold noise and a limit to the error.

`mosaic.reduce.diffusion` has quicker loops for one kernel; here is the general one, which all of
them can be checked against.
"""

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.gamut import opponent
from mosaic.reduce.kernels import Kernel
from mosaic.reduce.method import IndexArray, sorted_levels
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels

REACH = 2
"""Rows below, and columns to each side, that the widest kernel touches."""
UNLIMITED = np.float32(1e9)


@njit(cache=True, inline="always")
def _grain(x, y):
    """Noise -0.5 .. 0.5 of a place, the same at every run: bits of a whole number stirred (an xorshift-multiply hash)."""
    low = np.uint64(0xFFFFFFFF)
    h = (np.uint64(x) * np.uint64(0x9E3779B1) ^ np.uint64(y) * np.uint64(0x85EBCA77)) & low
    h = ((h ^ (h >> np.uint64(15))) * np.uint64(0x2C1B3C6D)) & low
    h = ((h ^ (h >> np.uint64(12))) * np.uint64(0x297A2D39)) & low
    h ^= h >> np.uint64(15)
    return np.float32(h) * np.float32(2.0**-32) - np.float32(0.5)


@njit(cache=True, nogil=True)
def _levels(values, levels, order, places, shares, serpentine, noise, limit, out):
    height, width = values.shape
    carried = np.zeros((REACH + 1, width + 2 * REACH), np.float32)
    last = levels.shape[0] - 1
    for y in range(height):
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        x = width - 1 if back else 0
        here = carried[y % (REACH + 1)]
        k = 0
        for _ in range(width):
            given = min(max(here[x + REACH], -limit), limit)
            v = values[y, x] + given
            looked = v
            if noise > 0:
                looked += noise * _grain(x, y) / np.float32(last)
            while k < last and looked - levels[k] >= levels[k + 1] - looked:
                k += 1
            while k > 0 and looked - levels[k - 1] < levels[k] - looked:
                k -= 1
            out[y, x] = order[k]
            error = v - levels[k]
            for t in range(shares.shape[0]):
                carried[(y + places[t, 0]) % (REACH + 1), x + REACH + step * places[t, 1]] += error * shares[t]
            x += step
        here[:] = 0


@njit(cache=True, nogil=True)
def _colors(seen, colors, places, shares, serpentine, noise, limit, out):
    height, width = seen.shape[:2]
    carried = np.zeros((REACH + 1, width + 2 * REACH, 3), np.float32)
    v = np.zeros(3, np.float32)
    for y in range(height):
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        x = width - 1 if back else 0
        here = carried[y % (REACH + 1)]
        for _ in range(width):
            for c in range(3):
                v[c] = seen[y, x, c] + min(max(here[x + REACH, c], -limit), limit)
            # Noise in luminance only: in the differences of colour it would show as specks.
            looked = v[0] + noise * _grain(x, y) if noise > 0 else v[0]
            best, k = np.float32(1e30), 0
            for i in range(colors.shape[0]):
                away = (looked - colors[i, 0]) ** 2 + (v[1] - colors[i, 1]) ** 2 + (v[2] - colors[i, 2]) ** 2
                if away < best:
                    best, k = away, i
            out[y, x] = k
            for t in range(shares.shape[0]):
                row, column = (y + places[t, 0]) % (REACH + 1), x + REACH + step * places[t, 1]
                for c in range(3):
                    carried[row, column, c] += (v[c] - colors[k, c]) * shares[t]
            x += step
        here[:] = 0


def _settings(
    kernel: Kernel, recipe: Recipe
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.float32], bool, np.float32, np.float32]:
    places, shares = kernel.taps()
    limit = UNLIMITED if recipe.error_limit >= 1 else np.float32(recipe.error_limit)
    return places, shares * np.float32(recipe.strength), recipe.scan == "serpentine", np.float32(recipe.noise), limit


def diffuse_tone_by_kernel(task: ToneTask, recipe: Recipe, kernel: Kernel) -> IndexArray:
    """Diffuse tones by this kernel."""
    levels, order = sorted_levels(task.levels)
    out = np.empty(task.values.shape, np.uint8)
    _levels(np.ascontiguousarray(task.values, np.float32), levels, order, *_settings(kernel, recipe), out)
    return out


def diffuse_palette_by_kernel(task: PaletteTask, recipe: Recipe, kernel: Kernel) -> IndexArray:
    """Diffuse colours by this kernel, in opponent coordinates."""
    out = np.empty(task.linear.shape[:2], np.uint8)
    _colors(opponent(task.linear), opponent(task.colors), *_settings(kernel, recipe), out)
    return out


def diffuse_depth_by_kernel(task: DepthTask, recipe: Recipe, kernel: Kernel) -> IndexArray:
    """Diffuse each channel to its steps by this kernel."""
    out = np.empty(task.linear.shape, np.uint8)
    for c, bits in enumerate(task.bits):
        values, levels = channel_levels(bits)
        plane = np.empty(task.linear.shape[:2], np.uint8)
        _levels(np.ascontiguousarray(task.linear[..., c]), levels, values, *_settings(kernel, recipe), plane)
        out[..., c] = plane
    return out
