"""The colours a reader sees for the values on the glass."""

import numpy as np
import numpy.typing as npt

from mosaic.color.srgb import parse_hex
from mosaic.narrowing import needed
from mosaic.panels.geometry import Turn, to_native, to_seen
from mosaic.panels.passport import Passport


def _colors(texts: tuple[str, ...]) -> npt.NDArray[np.uint8]:
    return np.array([parse_hex(text) for text in texts], np.uint8)


def colors_of(pixels: npt.NDArray[np.uint8], passport: Passport, turn: Turn, *, nominal: bool = False) -> npt.NDArray[np.uint8]:
    """(H, W, 3) colours of what is shown: measured, or nominal where asked.

    `pixels` are palette indices (H, W) as the reader sees them, or already RGB (H, W, 3). Rows
    of a zone take the zone's own colours.
    """
    if pixels.ndim == 3:
        return pixels
    palette = needed(passport.palette, "a palette of the panel, as pixels are colours by number,")
    table = palette.nominal_rgb if nominal else palette.measured_rgb
    shown = table[pixels]
    if not passport.zones:
        return shown
    native, indices = to_native(shown, turn), to_native(pixels, turn)
    for zone in passport.zones:
        rows = slice(zone.first_row, zone.first_row + zone.rows)
        native[rows] = _colors(zone.nominal if nominal else zone.measured)[indices[rows]]
    return to_seen(native, turn)
