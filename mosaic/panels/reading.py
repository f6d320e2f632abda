"""Reading a panel at its place: how large letters have to be, and whether the light allows it.

Sizes by angle follow ISO 9241-303: a capital of 16 arc-minutes is a floor, 20 to 22 are
comfortable. Contrast is the ratio of luminances that reach the eye: those of the panel, and
light of the place thrown back by it.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from mosaic.color.srgb import bytes_to_linear, luminance
from mosaic.errors import BadValueError
from mosaic.panels.geometry import Turn, seen_size
from mosaic.panels.passport import Passport

FLOOR_ARCMIN = 16.0
COMFORTABLE_ARCMIN = 22.0
# Height of a line of text, and width of a character, in heights of its capitals; usual type.
LINE_PER_CAPITAL = 1.7
CHARACTER_PER_CAPITAL = 0.78
# Fewest pixels in which the capitals of an alphabet can be told apart.
LEAST_CAPITAL_PX = 5

TEXT_CONTRAST, LARGE_CONTRAST = 4.5, 3.0
# Luminance below which text is read with effort, or not at all; orders of magnitude.
EASY_CD_M2, LEAST_CD_M2 = 10.0, 2.0
# Behind transparent glass: a grey card's reflectance, seen through glass that passes this share.
BEHIND_REFLECTANCE, PASSED_SHARE = 0.18, 0.7
# A dark-room contrast for panels whose colours are not listed (16 bits a pixel and the like), typical.
DIRECT_CONTRAST = {"oled": 10_000.0, "tft": 700.0, "epaper": 10.0}


def capital_height_mm(arc_minutes: float, distance_mm: float) -> float:
    """Height that appears under this angle: 2 d tan(angle / 2).

    >>> round(capital_height_mm(16, 900), 2), round(capital_height_mm(22, 500), 2)
    (4.19, 3.2)
    """
    if not (arc_minutes > 0 and distance_mm > 0):
        raise BadValueError(f"angle {arc_minutes} arc-minutes and distance {distance_mm} mm must both be above 0")
    return 2 * distance_mm * math.tan(math.radians(arc_minutes / 60) / 2)


def arc_minutes(height_mm: float, distance_mm: float) -> float:
    """Angle under which a height appears: 2 atan(h / 2d) x 60 x 180 / pi."""
    return 2 * math.atan(height_mm / (2 * distance_mm)) * 60 * 180 / math.pi


def wcag_contrast(first: float, second: float) -> float:
    """Contrast of two relative luminances by the WCAG formula, 1 to 21, whichever is lighter."""
    light, dark = max(first, second), min(first, second)
    return (light + 0.05) / (dark + 0.05)


def emissive_contrast(white_cd_m2: float, black_cd_m2: float, reflectance: float, lux: float) -> float:
    """(Lw + r E / pi) / (Lb + r E / pi): what is left of a shining panel's contrast in the light of its place."""
    glare = reflectance * lux / math.pi
    return (white_cd_m2 + glare) / (black_cd_m2 + glare)


def reflected_cd_m2(reflectance: float, lux: float) -> float:
    """Luminance of a reflecting surface: R E / pi."""
    return reflectance * lux / math.pi


@dataclass(frozen=True)
class Letters:
    """Letters of one angular size on one panel: capital height, and how many lines and columns fit."""

    arc_minutes: float
    height_mm: float
    height_px: int
    lines: int
    columns: int


def letters_of(passport: Passport, turn: Turn, distance_mm: float, angle: float = FLOOR_ARCMIN) -> Letters:
    """How large capitals have to be on this panel, at least as many pixels as an alphabet needs."""
    height_mm = capital_height_mm(angle, distance_mm)
    pixels = max(LEAST_CAPITAL_PX, math.ceil(height_mm / passport.glass.pitch_mm - 1e-9))
    width, height = seen_size(passport, turn)
    return Letters(
        angle, height_mm, pixels, int(height / (pixels * LINE_PER_CAPITAL)), int(width / (pixels * CHARACTER_PER_CAPITAL))
    )


@dataclass(frozen=True)
class Legibility:
    """Whether a panel can be read in a light: its contrast there, and how bright its light parts look."""

    contrast: float
    white_cd_m2: float
    verdict: Literal["text", "large text only", "not readable"]
    why: str


def own_contrast(passport: Passport) -> float:
    """Ratio of the panel's lightest to its darkest luminance, by its measured colours where it has a palette.

    For reflective glass by the WCAG formula, which allows for light that the surface reflects.
    """
    if passport.palette is None:
        return DIRECT_CONTRAST[passport.technology]
    light = luminance(bytes_to_linear(passport.palette.measured_rgb)).astype(np.float64)
    if not passport.optics.white_cd_m2:
        return wcag_contrast(float(light.max()), float(light.min()))
    return float(light.max() / max(light.min(), 1e-4))


def legibility_of(passport: Passport, lux: float) -> Legibility:
    """Contrast and luminance at a place with this light.

    Reflective glass keeps its contrast and lives on the light it gets; glass that shines loses
    contrast to what its surface reflects; transparent glass is read against what is behind.
    """
    if lux < 0:
        raise BadValueError(f"a light of {lux} lux is below 0")
    optics = passport.optics
    if not optics.white_cd_m2:
        white = reflected_cd_m2(optics.reflectance, lux)
        return judged(own_contrast(passport), white, "reflects what light there is")
    white, black = optics.white_cd_m2, optics.white_cd_m2 / own_contrast(passport)
    if passport.glass.transparent:
        behind = reflected_cd_m2(BEHIND_REFLECTANCE * PASSED_SHARE, lux)
        contrast = emissive_contrast(white + behind, black + behind, optics.reflectance, lux)
        return judged(contrast, white + behind, "read against a grey card behind it")
    return judged(emissive_contrast(white, black, optics.reflectance, lux), white, "shines against what its glass reflects")


def judged(contrast: float, white_cd_m2: float, why: str) -> Legibility:
    """The verdict on a contrast and a luminance (cd/m²) that reach the eye."""
    if white_cd_m2 < LEAST_CD_M2:
        return Legibility(contrast, white_cd_m2, "not readable", f"{why}; too dark to read")
    if contrast >= TEXT_CONTRAST and white_cd_m2 >= EASY_CD_M2:
        return Legibility(contrast, white_cd_m2, "text", why)
    verdict = "large text only" if contrast >= LARGE_CONTRAST else "not readable"
    return Legibility(contrast, white_cd_m2, verdict, why)  # type: ignore[arg-type]
