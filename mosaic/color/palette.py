"""Palettes: the few colours a panel can show, as sold (nominal) and as seen (measured)."""

from dataclasses import dataclass
from functools import cached_property
from typing import Annotated

import numpy as np
import numpy.typing as npt
from msgspec import Meta
from numba import njit

from mosaic.color.srgb import LUMINANCE_WEIGHTS, bytes_to_linear, luminance, parse_hex
from mosaic.errors import BadValueError

# Colours nearer than this to the line from darkest to lightest (linear light) count as one tone.
_TONE_TOLERANCE = 0.05


Distance = Annotated[float, Meta(ge=0)]
HexColor = Annotated[str, Meta(pattern="^#[0-9a-fA-F]{6}$", description="a colour such as #a02c26")]


@njit(cache=True, nogil=True)
def _gather(pixels, colors, out):
    for y in range(pixels.shape[0]):
        for x in range(pixels.shape[1]):
            for c in range(3):
                out[y, x, c] = colors[pixels[y, x], c]


def light_of(pixels: npt.NDArray[np.uint8], colors: npt.NDArray[np.float32]) -> npt.NDArray[np.float32]:
    """(H, W, 3) light of palette indices (H, W), each below the number of `colors` (K, 3)."""
    out = np.empty((*pixels.shape, 3), np.float32)
    _gather(pixels, np.ascontiguousarray(colors, np.float32), out)
    return out


@dataclass(frozen=True)
class Palette:
    """Named colours in a fixed order; the position of a colour is its palette index.

    `nominal` are the colours as the data sheet names them, `measured` those the glass shows
    in daylight or when lit, all "#rrggbb". `uncertainty` is that of each measured colour, in
    CIELAB; empty where they are typical.
    """

    names: tuple[str, ...]
    nominal: tuple[HexColor, ...]
    measured: tuple[HexColor, ...]
    uncertainty: tuple[Distance, ...] = ()

    def __post_init__(self) -> None:
        if not 2 <= len(self.names) == len(self.nominal) == len(self.measured) <= 256:
            raise BadValueError(
                f"a palette has {len(self.names)} names, {len(self.nominal)} nominal and"
                f" {len(self.measured)} measured colours; it needs 2 to 256 of each, equally many"
            )
        if len(self.uncertainty) not in (0, len(self.names)):
            raise BadValueError(
                f"a palette of {len(self.names)} colours has {len(self.uncertainty)} uncertainties; none, or one each"
            )

    @property
    def worst_uncertainty(self) -> float | None:
        """The largest uncertainty of a measured colour; None where they are typical."""
        return max(self.uncertainty, default=None)

    def __len__(self) -> int:
        return len(self.names)

    @cached_property
    def measured_rgb(self) -> npt.NDArray[np.uint8]:
        """(K, 3) uint8 sRGB values of the measured colours."""
        return np.array([parse_hex(c) for c in self.measured], np.uint8)

    @cached_property
    def nominal_rgb(self) -> npt.NDArray[np.uint8]:
        """(K, 3) uint8 sRGB values of the nominal colours."""
        return np.array([parse_hex(c) for c in self.nominal], np.uint8)

    def linear(self, nominal_share: float = 0.0) -> npt.NDArray[np.float32]:
        """(K, 3) linear light, blended: 0 is all measured ("faithful"), 1 all nominal ("vivid")."""
        if not 0 <= nominal_share <= 1:
            raise BadValueError(f"nominal share {nominal_share} is not between 0 and 1")
        measured, nominal = bytes_to_linear(self.measured_rgb), bytes_to_linear(self.nominal_rgb)
        return (measured + np.float32(nominal_share) * (nominal - measured)).astype(np.float32)

    @cached_property
    def darkest(self) -> int:
        """Index of the colour with the least measured luminance."""
        return int(np.argmin(luminance(self.linear())))

    @cached_property
    def lightest(self) -> int:
        """Index of the colour with the most measured luminance."""
        return int(np.argmax(luminance(self.linear())))

    @cached_property
    def is_tone(self) -> bool:
        """Whether all colours lie between the darkest and the lightest: one tone or grey levels."""
        if len(self) == 2:
            return True
        colors = self.linear().astype(np.float64)
        axis = colors[self.lightest] - colors[self.darkest]
        along = ((colors - colors[self.darkest]) @ axis) / (axis @ axis)
        off = colors - colors[self.darkest] - along[:, None] * axis
        return bool(np.abs(off).max() < _TONE_TOLERANCE)

    def levels(self, nominal_share: float = 0.0) -> npt.NDArray[np.float32]:
        """(K,) share of the way from darkest (0) to lightest (1) in luminance, in palette order."""
        y = (self.linear(nominal_share) @ LUMINANCE_WEIGHTS).astype(np.float64)
        low, high = y[self.darkest], y[self.lightest]
        return ((y - low) / (high - low)).astype(np.float32)
