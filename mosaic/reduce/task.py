"""What a method is asked to reduce: one tone, a palette, or a depth."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from numba import njit

from mosaic.color.gamut import fit_to_gamut
from mosaic.color.palette import Palette
from mosaic.color.srgb import LINEAR_OF_BYTE, bytes_to_linear, luminance
from mosaic.pixels.direct import expand_channel

FloatArray = npt.NDArray[np.float32]
SAME_LIGHT = np.float32(1e-4)
"""Less than a third of the least step between two bytes, more than scaling a flat picture adds up to."""


@dataclass(frozen=True, eq=False)
class ToneTask:
    """`values` (H, W): 0 is the panel's darkest, 1 its lightest; `levels` (K,) in palette order."""

    values: FloatArray
    levels: FloatArray


@dataclass(frozen=True, eq=False)
class PaletteTask:
    """`linear` (H, W, 3) light within the gamut of `colors` (K, 3), in palette order; `meant` makes the light (H, W, 3) as it
    was before it was moved into the gamut."""

    linear: FloatArray
    colors: FloatArray
    wanted: Callable[[], FloatArray] | None = None

    @property
    def meant(self) -> FloatArray:
        return self.wanted() if self.wanted else self.linear


@dataclass(frozen=True, eq=False)
class DepthTask:
    """`linear` (H, W, 3) light for channels of `bits` (red, green, blue) bits."""

    linear: FloatArray
    bits: tuple[int, int, int]


Task = ToneTask | PaletteTask | DepthTask


def channel_levels(bits: int) -> tuple[npt.NDArray[np.uint8], FloatArray]:
    """8-bit values (2**bits,) of a reduced channel's steps, and their linear light."""
    values = expand_channel(np.arange(1 << bits), bits)
    return values, LINEAR_OF_BYTE[values]


@njit(cache=True, fastmath=True, nogil=True)
def _lay_between(flat, black, span, out):
    for i in range(flat.shape[0]):
        for c in range(3):
            out[i, c] = black[c] + flat[i, c] * span[c]


def fit_to_panel(linear_rgb: FloatArray, colors: FloatArray, darkest: int, lightest: int) -> FloatArray:
    """Light 0..1 laid between the panel's own black and white, channel by channel."""
    flat = np.ascontiguousarray(linear_rgb, np.float32).reshape(-1, 3)
    out = np.empty_like(flat)
    _lay_between(flat, colors[darkest], colors[lightest] - colors[darkest], out)
    return out.reshape(linear_rgb.shape)


@njit(cache=True, nogil=True)
def _keep_flat(source, nominal, colors, out):
    """Where a source has a colour of the panel exactly as the data sheet names it, that colour is meant, and nothing mixed."""
    for y in range(source.shape[0]):
        for x in range(source.shape[1]):
            for k in range(nominal.shape[0]):
                if (
                    abs(source[y, x, 0] - nominal[k, 0]) < SAME_LIGHT
                    and abs(source[y, x, 1] - nominal[k, 1]) < SAME_LIGHT
                    and abs(source[y, x, 2] - nominal[k, 2]) < SAME_LIGHT
                ):
                    for c in range(3):
                        out[y, x, c] = colors[k, c]


def light_within(linear_rgb: FloatArray, palette: Palette, colors: FloatArray) -> FloatArray:
    """(H, W, 3) light that mixtures of a palette's `colors` can show, nearest to a source's; its own colours stay flat."""
    linear_rgb = np.ascontiguousarray(linear_rgb, np.float32)
    within = fit_to_gamut(linear_rgb, colors, palette.darkest, palette.lightest)
    _keep_flat(linear_rgb, bytes_to_linear(palette.nominal_rgb), colors, within)
    return within


def task_for_palette(linear_rgb: FloatArray, palette: Palette, nominal_share: float) -> ToneTask | PaletteTask:
    """The task of showing (H, W, 3) light in this palette, blended as asked."""
    if palette.is_tone:
        return ToneTask(luminance(linear_rgb), palette.levels(nominal_share))
    colors = palette.linear(nominal_share)

    def wanted() -> FloatArray:
        meant = fit_to_panel(linear_rgb, colors, palette.darkest, palette.lightest)
        _keep_flat(linear_rgb, bytes_to_linear(palette.nominal_rgb), colors, meant)
        return meant

    return PaletteTask(light_within(linear_rgb, palette, colors), colors, wanted)
