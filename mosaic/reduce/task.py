"""What a method is asked to reduce: one tone, a palette, or a depth."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.color.gamut import fit_to_gamut
from mosaic.color.palette import Palette
from mosaic.color.srgb import LINEAR_OF_BYTE, luminance
from mosaic.pixels.direct import expand_channel

FloatArray = npt.NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class ToneTask:
    """`values` (H, W): 0 is the panel's darkest, 1 its lightest; `levels` (K,) in palette order."""

    values: FloatArray
    levels: FloatArray


@dataclass(frozen=True, eq=False)
class PaletteTask:
    """`linear` (H, W, 3) light within the gamut of `colors` (K, 3), in palette order."""

    linear: FloatArray
    colors: FloatArray


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


def fit_to_panel(linear_rgb: FloatArray, colors: FloatArray, darkest: int, lightest: int) -> FloatArray:
    """Light 0..1 laid between the panel's own black and white, channel by channel."""
    black = colors[darkest]
    fitted = linear_rgb * (colors[lightest] - black)
    fitted += black
    return fitted


def task_for_palette(linear_rgb: FloatArray, palette: Palette, nominal_share: float) -> ToneTask | PaletteTask:
    """The task of showing (H, W, 3) light in this palette, blended as asked."""
    if palette.is_tone:
        return ToneTask(luminance(linear_rgb), palette.levels(nominal_share))
    colors = palette.linear(nominal_share)
    fitted = fit_to_panel(linear_rgb, colors, palette.darkest, palette.lightest)
    return PaletteTask(fit_to_gamut(fitted, colors), colors)
