"""Specimens: words in a face, a size and a mode on this panel's colours."""

import numpy as np

from mosaic.device.device import Device
from mosaic.exports.rasters import encode_png
from mosaic.lettering.faces import FACES
from mosaic.lettering.glyph import Lettering, draw_text
from mosaic.lettering.making import NONE, Sources, make
from mosaic.lettering.measure import extent_of, pitch_mm
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.shades import on_panel, usual_colors
from mosaic.lettering.source import font_info
from workshop.documents.keys import digest, panel_part

WORDS = "Gate 06:42 −12.5°"
FIGURES = "06:42 -12.5°"
SPECIMEN_PX = 18
MARGIN_PX = 3


def line_levels(lettering: Lettering, text: str) -> np.ndarray:
    """(H, W) levels of one line with a margin around it."""
    extent = extent_of(lettering, text)
    left = min(0, extent.left)
    canvas = np.zeros((lettering.line_height + 2 * MARGIN_PX, max(1, extent.room) + 2 * MARGIN_PX), np.uint8)
    draw_text(canvas, lettering, MARGIN_PX - left, MARGIN_PX + lettering.ascent, text)
    return canvas


def colored(levels: np.ndarray, lettering: Lettering, device: Device, ink: int, ground: int) -> bytes:
    """Levels as a PNG in the panel's colours."""
    pixels = on_panel(levels, lettering, device.passport, ink, ground)
    palette = device.passport.palette
    return encode_png(pixels if palette is None else palette.measured_rgb[pixels], level=1)


def specimen_key(slug: str, device: Device) -> str:
    return digest("specimen", slug, WORDS, SPECIMEN_PX, *panel_part(device))[:32]


def specimen_png(slug: str, device: Device) -> bytes:
    """A shipped face at a usual size, one pixel each."""
    face = FACES[slug]
    codes = font_info(face.data, face.name).codes
    text = WORDS.replace("−", "-") if all(ord(c) in codes for c in "Gate") else FIGURES
    plan = LetteringPlan(face=slug, size_px=SPECIMEN_PX, preset=NONE, more=text)
    made = make(plan, Sources(pitch_mm(device)[1], distance_mm=device.viewing_distance_mm)).lettering
    return colored(line_levels(made, text), made, device, *usual_colors(device.passport))
