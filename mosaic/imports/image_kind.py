"""What kind of picture a source is, told by its pixels."""

import numpy as np
import numpy.typing as npt

EXTREME_SHARE = 0.85
"""Share of nearly black or white pixels from which a source counts as line art."""
SAMPLES = 240
"""A picture is sampled down to about this many rows and columns."""


def is_line_art(rgb: npt.NDArray[np.uint8]) -> bool:
    """Whether a picture (H, W, 3) is nearly all black and white, with some of both."""
    step_y, step_x = max(1, rgb.shape[0] // SAMPLES), max(1, rgb.shape[1] // SAMPLES)
    red, green, blue = (rgb[::step_y, ::step_x, c].astype(np.int16) for c in range(3))
    dark = ((red < 50) & (green < 50) & (blue < 50)).mean()
    light = ((red > 205) & (green > 205) & (blue > 205)).mean()
    return bool(dark + light > EXTREME_SHARE and min(dark, light) > 0.01)
