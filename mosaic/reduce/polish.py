"""Search for a better arrangement of the pixels: direct binary search, for tones and for palettes.

M. Analoui, J. P. Allebach, Model-based halftoning using direct binary search, 1992. From a reduced
picture on, pixels are toggled, or exchanged with a neighbour, while the squared error that the eye
is left with falls. The eye is a Gaussian, so the error it is left with is a sum over pairs of
pixels weighted by the Gaussian's autocorrelation; one pixel changes it only nearby.

Differences of light are weighted by how steep CIELAB is at what the eye sees there; that makes the
search's figure nearly the one that is shown.
"""

import math
from collections.abc import Callable
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.eye import blur, gaussian_weights
from mosaic.color.lab import lab_slope, lightness_slope, linear_to_lab
from mosaic.reduce.method import IndexArray

FloatArray = npt.NDArray[np.float32]
BoolArray = npt.NDArray[np.bool_]
Step = Callable[[int, int], None]

PASSES = 8
LEAST_SHARE = 0.002
"""The search ends when fewer pixels than this share of all have changed in a pass."""
LOOK = 3
"""How far from a change pixels are looked at again."""
WIDEST_SIGMA = 2.5
"""Broader eyes would only see longer over the same choice, at many times the cost."""


@lru_cache(maxsize=16)
def _line_correlation(count: int, sigma_px: float) -> FloatArray:
    """(count, 2r+1) how much each pixel of a line of `count` and its r neighbours to each side share in the eye.

    The eye's blur B along a line repeats the pixel at each end, as `mosaic.color.eye` does; what is
    given is the band of B'B. Far from the ends it is a Gaussian of sigma times the root of two; near
    them a pixel weighs more.
    """
    sigma = min(sigma_px, WIDEST_SIGMA)
    weights = gaussian_weights(sigma).astype(np.float64)
    reach = len(weights) // 2
    radius = max(2, math.ceil(2.6 * sigma * math.sqrt(2)))
    # All lines longer than this are alike but for the number of equal pixels in their middle.
    short = min(count, 6 * reach + 1)
    eye = np.zeros((short, short))
    for k, weight in enumerate(weights):
        np.add.at(eye, (np.arange(short), np.clip(np.arange(short) + k - reach, 0, short - 1)), weight)
    shared = np.pad(eye.T @ eye, radius)
    band = np.array([shared[i + radius, i : i + 2 * radius + 1] for i in range(short)])
    half = short // 2
    middle = np.repeat(band[half : half + 1], count - short, axis=0)
    return np.concatenate([band[:half], middle, band[half:]]).astype(np.float32)


@njit(cache=True, fastmath=True, nogil=True)
def _add_patch(field, down, across, y, x, amount):
    """Add what a change at (y, x) gives to each pixel about it; the field is padded by the bands' radius."""
    for j in range(down.shape[1]):
        row = amount * down[y, j]
        for i in range(across.shape[1]):
            field[y + j, x + i] += row * across[x, i]


@njit(cache=True, inline="always")
def _look_again(due, free, y, x):
    """A pixel is looked at again only when something near it has changed since."""
    for j in range(max(0, y - LOOK), min(due.shape[0], y + LOOK + 1)):
        for i in range(max(0, x - LOOK), min(due.shape[1], x + LOOK + 1)):
            due[j, i] = free[j, i]


@njit(cache=True, fastmath=True, nogil=True)
def _search_tone(pixels, light, weight, field, down, across, free, usable, due):
    """One pass; how many pixels changed.

    `field` is what the eye gathers of the weighted error about each pixel, padded by the bands' radius.
    """
    height, width = pixels.shape
    radius = down.shape[1] // 2
    changed = 0
    for y in range(height):
        for x in range(width):
            if not due[y, x]:
                continue
            due[y, x] = False
            own = down[y, radius] * across[x, radius]
            k, w, here = pixels[y, x], weight[y, x], field[y + radius, x + radius]
            best, to, at_y, at_x = np.float32(-1e-9), -1, y, x
            for i in usable:
                a = (light[i] - light[k]) * w
                gain = a * (a * own + 2 * here)
                if i != k and gain < best:
                    best, to = gain, i
            for j in range(max(0, y - 1), min(height, y + 2)):
                for i in range(max(0, x - 1), min(width, x + 2)):
                    other = pixels[j, i]
                    if other == k or not free[j, i]:
                        continue
                    a = (light[other] - light[k]) * w
                    b = (light[k] - light[other]) * weight[j, i]
                    gain = a * (a * own + 2 * here)
                    gain += b * (b * down[j, radius] * across[i, radius] + 2 * field[j + radius, i + radius])
                    gain += 2 * a * b * down[y, radius + j - y] * across[x, radius + i - x]
                    if gain < best:
                        best, to, at_y, at_x = gain, other, j, i
            if to < 0:
                continue
            changed += 1
            pixels[y, x] = to
            _add_patch(field, down, across, y, x, (light[to] - light[k]) * w)
            if at_y != y or at_x != x:
                pixels[at_y, at_x] = k
                _add_patch(field, down, across, at_y, at_x, (light[k] - light[to]) * weight[at_y, at_x])
            _look_again(due, free, y, x)
    return changed


def _correlated(error: FloatArray, down: FloatArray, across: FloatArray) -> FloatArray:
    """(H + 2r, W + 2r) what the eye gathers of an error (H, W) about each pixel; the padding stays out of use."""
    radius = down.shape[1] // 2
    height, width = error.shape
    lines = np.zeros((height, width + 2 * radius), np.float32)
    for k in range(across.shape[1]):
        lines[:, k : k + width] += error * across[:, k]
    out = np.zeros((height + 2 * radius, width + 2 * radius), np.float32)
    for k in range(down.shape[1]):
        out[k : k + height] += lines * down[:, k, None]
    return out


def _gathered(seen: FloatArray, sigma_px: float) -> FloatArray:
    """(H, W) how much each pixel takes part in what is seen (H, W): the blur's transpose, which is itself but for the edges."""
    weights = gaussian_weights(sigma_px)
    reach = len(weights) // 2
    for _ in range(2):
        full = np.zeros((seen.shape[0] + 2 * reach, seen.shape[1]), np.float32)
        for k, weight in enumerate(weights):
            full[k : k + len(seen)] += weight * seen
        full[reach] += full[:reach].sum(axis=0)
        full[-reach - 1] += full[len(full) - reach :].sum(axis=0)
        seen = full[reach:-reach].T
    return seen


def _pass_by_pass(once: Callable[[BoolArray], int], free: BoolArray, step: Step) -> None:
    """Passes over the pixels that are due, until hardly any changes; `once` gives how many did."""
    due = free.copy()
    for number in range(PASSES):
        step(number, PASSES)
        if once(due) <= LEAST_SHARE * free.size:
            break


def no_step(done: int, total: int) -> None:
    """Told to nobody."""


def polish_tone(
    pixels: IndexArray,
    target: FloatArray,
    light: FloatArray,
    sigma_px: float,
    free: BoolArray,
    usable: IndexArray,
    step: Step = no_step,
) -> IndexArray:
    """A tone picture rearranged so that the eye sees less difference.

    Parameters
    ----------
    pixels : (H, W) palette indices to begin with; not changed
    target : (H, W) luminance that was meant
    light : (K,) luminance of each palette colour
    sigma_px : blur of the eye in pixels
    free : (H, W) pixels that may change
    usable : palette indices that may be set
    step : called with (done, total) before each pass; what it raises ends the search
    """
    weight = lightness_slope(blur(target, sigma_px)) / np.float32(100)
    down, across = (_line_correlation(count, float(sigma_px)) for count in pixels.shape)
    found = pixels.copy()
    field = _correlated((light[found] - target) * weight, down, across)
    lights = np.ascontiguousarray(light, np.float32)
    _pass_by_pass(lambda due: _search_tone(found, lights, weight, field, down, across, free, usable, due), free, step)
    return found


@njit(cache=True, fastmath=True, nogil=True)
def _add_patches(field, down, across, y, x, a0, a1, a2):
    for j in range(down.shape[1]):
        for i in range(across.shape[1]):
            p = down[y, j] * across[x, i]
            field[0, y + j, x + i] += a0 * p
            field[1, y + j, x + i] += a1 * p
            field[2, y + j, x + i] += a2 * p


@njit(cache=True, fastmath=True, inline="always")
def _seen(slope, d0, d1, d2, row):
    return slope[row, 0] * d0 + slope[row, 1] * d1 + slope[row, 2] * d2


@njit(cache=True, fastmath=True, nogil=True)
def _search_colors(pixels, colors, slope, field, down, across, free, usable, due):
    height, width = pixels.shape
    radius = down.shape[1] // 2
    changed = 0
    for y in range(height):
        for x in range(width):
            if not due[y, x]:
                continue
            due[y, x] = False
            own = down[y, radius] * across[x, radius]
            k = pixels[y, x]
            s = slope[y, x]
            f0, f1, f2 = field[0, y + radius, x + radius], field[1, y + radius, x + radius], field[2, y + radius, x + radius]
            best, to, at_y, at_x = np.float32(-1e-9), -1, y, x
            for i in usable:
                if i == k:
                    continue
                d0, d1, d2 = colors[i, 0] - colors[k, 0], colors[i, 1] - colors[k, 1], colors[i, 2] - colors[k, 2]
                a0, a1, a2 = _seen(s, d0, d1, d2, 0), _seen(s, d0, d1, d2, 1), _seen(s, d0, d1, d2, 2)
                gain = own * (a0 * a0 + a1 * a1 + a2 * a2) + 2 * (a0 * f0 + a1 * f1 + a2 * f2)
                if gain < best:
                    best, to = gain, i
            for j in range(y, min(height, y + 2)):
                for i in range(max(0, x - 1), min(width, x + 2)):
                    other = pixels[j, i]
                    if other == k or (j == y and i <= x) or not free[j, i]:
                        continue
                    d0, d1, d2 = (
                        colors[other, 0] - colors[k, 0],
                        colors[other, 1] - colors[k, 1],
                        colors[other, 2] - colors[k, 2],
                    )
                    a0, a1, a2 = _seen(s, d0, d1, d2, 0), _seen(s, d0, d1, d2, 1), _seen(s, d0, d1, d2, 2)
                    o = slope[j, i]
                    b0, b1, b2 = -_seen(o, d0, d1, d2, 0), -_seen(o, d0, d1, d2, 1), -_seen(o, d0, d1, d2, 2)
                    v, u = j + radius, i + radius
                    gain = own * (a0 * a0 + a1 * a1 + a2 * a2)
                    gain += down[j, radius] * across[i, radius] * (b0 * b0 + b1 * b1 + b2 * b2)
                    gain += 2 * (a0 * f0 + a1 * f1 + a2 * f2 + b0 * field[0, v, u] + b1 * field[1, v, u] + b2 * field[2, v, u])
                    gain += 2 * down[y, radius + j - y] * across[x, radius + i - x] * (a0 * b0 + a1 * b1 + a2 * b2)
                    if gain < best:
                        best, to, at_y, at_x = gain, other, j, i
            if to < 0:
                continue
            changed += 1
            d0, d1, d2 = colors[to, 0] - colors[k, 0], colors[to, 1] - colors[k, 1], colors[to, 2] - colors[k, 2]
            pixels[y, x] = to
            _add_patches(field, down, across, y, x, _seen(s, d0, d1, d2, 0), _seen(s, d0, d1, d2, 1), _seen(s, d0, d1, d2, 2))
            if at_y != y or at_x != x:
                pixels[at_y, at_x] = k
                o = slope[at_y, at_x]
                _add_patches(
                    field,
                    down,
                    across,
                    at_y,
                    at_x,
                    -_seen(o, d0, d1, d2, 0),
                    -_seen(o, d0, d1, d2, 1),
                    -_seen(o, d0, d1, d2, 2),
                )
            _look_again(due, free, y, x)
    return changed


def polish_colors(
    pixels: IndexArray,
    target: FloatArray,
    shown: FloatArray,
    colors: FloatArray,
    sigma_px: float,
    free: BoolArray,
    usable: IndexArray,
    step: Step = no_step,
) -> IndexArray:
    """A picture in palette colours rearranged so that the eye sees less difference.

    Parameters
    ----------
    pixels : (H, W) palette indices to begin with; not changed
    target : (H, W, 3) light that was meant, also where the palette cannot show it
    shown : (H, W, 3) the nearest light to it that the palette can show
    colors : (K, 3) light of the palette
    sigma_px : blur of the eye in pixels
    free : (H, W) pixels that may change
    usable : palette indices that may be set
    step : called with (done, total) before each pass; what it raises ends the search
    """
    sigma = min(sigma_px, WIDEST_SIGMA)
    # What is seen is taken as straight about the nearest that the palette can show; about a colour far
    # outside its gamut the slopes would tell of colours that never occur. What is missing from there to
    # the colour meant is a constant of the search.
    near, meant = np.maximum(blur(shown, sigma), 0), np.maximum(blur(target, sigma), 0)
    slope = lab_slope(near) / np.float32(100)
    missing = (linear_to_lab(near) - linear_to_lab(meant)) / np.float32(100)
    down, across = (_line_correlation(count, float(sigma_px)) for count in pixels.shape)
    found = pixels.copy()
    error = np.einsum("yxlc,yxc->lyx", slope, colors[found] - shown)
    radius = down.shape[1] // 2
    field = np.empty((3, *(count + 2 * radius for count in pixels.shape)), np.float32)
    for plane in range(3):
        field[plane] = _correlated(error[plane], down, across)
        field[plane, radius:-radius, radius:-radius] += _gathered(missing[..., plane], sigma)
    lights = np.ascontiguousarray(colors, np.float32)
    _pass_by_pass(lambda due: _search_colors(found, lights, slope, field, down, across, free, usable, due), free, step)
    return found
