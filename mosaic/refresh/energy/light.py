"""How much light screens make, and what it takes: each channel of an OLED by itself, a backlight by its duty."""

from collections.abc import Sequence
from typing import Any

import numpy.typing as npt

from mosaic.color.srgb import bytes_to_linear
from mosaic.panels.passport import Passport

CHANNELS = (0.3, 0.25, 0.45)
"""What red, green and blue take of the current of white. Typical of OLED: blue is the least efficient."""


def channel_levels(pixels: npt.NDArray[Any], passport: Passport) -> tuple[float, ...]:
    """Mean linear light 0..1 of a glass: of red, green and blue, or of the one colour that there is.

    `pixels` are palette indices (H, W) or RGB (H, W, 3), as the reader sees them.
    """
    if passport.palette is not None:
        return (float(passport.palette.levels()[pixels].mean()),)
    return tuple(float(one) for one in bytes_to_linear(pixels).reshape(-1, 3).mean(axis=0))


def white_share(levels: Sequence[float], channels: Sequence[float] = CHANNELS) -> float:
    """The share of the current of a white glass that some light takes: the sum over channels of light times the channel's share.

    >>> white_share((0.5,)), round(white_share((1.0, 0.0, 0.0)), 2)
    (0.5, 0.3)
    """
    if len(levels) == 1:
        return levels[0]
    return sum(level * share for level, share in zip(levels, channels, strict=True)) / sum(channels)
