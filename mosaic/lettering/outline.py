"""Glyphs of outline fonts (TTF, OTF, WOFF, WOFF2), rasterised by FreeType at a size in pixels."""

import ctypes
import math
from dataclasses import dataclass
from typing import Literal

import freetype
import numpy as np

from mosaic.apart import apart
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.lettering.glyph import MOST_REACH_PX, Glyph, Lettering, cropped
from mosaic.lettering.pcf import pixels_of
from mosaic.lettering.source import FontInfo, font_info, open_face

SIZES = (4, 256)
Mode = Literal["hinted", "plain", "light"]
MODES: dict[str, str] = {
    "hinted": "hinted for one bit, as the font's maker meant it",
    "plain": "unhinted, every pixel covered by the threshold's share or more",
    "light": "fitted to rows by the automatic hinter",
}
F26 = 64
"""FreeType counts in 64ths of a pixel."""
_ONE_BIT = {
    "hinted": (freetype.FT_LOAD_TARGET_MONO, freetype.FT_RENDER_MODE_MONO),
    "plain": (freetype.FT_LOAD_NO_HINTING, freetype.FT_RENDER_MODE_NORMAL),
    "light": (freetype.FT_LOAD_TARGET_LIGHT | freetype.FT_LOAD_FORCE_AUTOHINT, freetype.FT_RENDER_MODE_NORMAL),
}
# Grey levels need coverage; the hinter for one bit gives none.
_GREY = _ONE_BIT | {"hinted": (freetype.FT_LOAD_TARGET_NORMAL, freetype.FT_RENDER_MODE_NORMAL)}


@dataclass(frozen=True)
class Style:
    """How outlines become pixels.

    `threshold` is the share of a pixel that counts as ink (one bit), `weight` pixels by which stems grow, `axes` what a
    variable font's axes are set to.
    """

    mode: Mode = "hinted"
    bits: int = 1
    threshold: float = 0.5
    weight: float = 0.0
    axes: tuple[tuple[str, float], ...] = ()


@apart()
def rasterised(data: bytes, em_px: float, codes: tuple[int, ...], style: Style = Style(), name: str = "the font") -> Lettering:
    """A lettering of these code points, all of which the font has; `em_px` is the em in pixels, in 64ths.

    Raises
    ------
    BadValueError
        Size or mode is not one of those accepted.
    BadDescriptionError
        As `open_face`, or a glyph is broken.
    """
    if not SIZES[0] <= em_px <= SIZES[1]:
        raise BadValueError(f"a size of {em_px:g} px; {SIZES[0]} to {SIZES[1]} are accepted")
    if style.mode not in MODES:
        raise BadValueError(f"no way of rendering is named {style.mode!r}; known: {', '.join(MODES)}")
    info = font_info(data, name)
    face = sized_face(data, em_px, style, info, name)
    load, render = (_ONE_BIT if style.bits == 1 else _GREY)[style.mode]
    try:
        glyphs = tuple(_glyph(face, code, load, render, style) for code in codes)
    except freetype.FT_Exception as error:
        raise BadDescriptionError(f"a glyph of {name} is broken and cannot be drawn ({error})") from error
    by_code = {glyph.code: glyph for glyph in glyphs}
    up, down = math.ceil(face.size.ascender / F26), math.ceil(abs(face.size.descender) / F26)
    up = max([up, *(g.top for g in glyphs if g.width)])
    down = max([down, *(-g.bottom for g in glyphs if g.width)])
    heights = [
        by_code[ord(c)].top if ord(c) in by_code else round(share * em_px)
        for c, share in zip("Hx", (info.capital, info.x_height), strict=True)
    ]
    return Lettering(info.name, glyphs, int(up), int(down), style.bits, {}, *heights)


def sized_face(data: bytes, em_px: float, style: Style, info: FontInfo, name: str) -> freetype.Face:
    """A face at a size, its axes set."""
    face = open_face(data, name)
    if info.axes:
        told = dict(style.axes)
        face.set_var_design_coords([min(a.most, max(a.least, told.get(a.tag, a.usual))) for a in info.axes])
    face.set_char_size(0, round(em_px * F26))
    return face


def _glyph(face: freetype.Face, code: int, load: int, render: int, style: Style) -> Glyph:
    face.load_char(chr(code), load)
    slot = face.glyph
    strength = round(style.weight * F26)
    if strength and slot.format == freetype.FT_GLYPH_FORMAT_OUTLINE:
        outline = ctypes.byref(slot.outline._FT_Outline)
        freetype.FT_Outline_Embolden(outline, strength)
        # It grows to the right and upwards; half of it back keeps the stems where they were.
        freetype.FT_Outline_Translate(outline, -strength // 2, -strength // 2)
    if slot.format == freetype.FT_GLYPH_FORMAT_OUTLINE:
        box = slot.outline.get_cbox()
        widest = max(abs(box.xMin), abs(box.xMax), abs(box.yMin), abs(box.yMax)) / F26
        if widest > MOST_REACH_PX:
            raise BadDescriptionError(f"glyph U+{code:04X} reaches {widest:,.0f} px; up to {MOST_REACH_PX:,} px can be drawn")
    advance = round((slot.advance.x + (max(0, strength) if slot.advance.x else 0)) / F26)
    slot.render(render)
    return cropped(code, _levels(slot.bitmap, style), slot.bitmap_left, slot.bitmap_top, advance)


def _levels(bitmap: freetype.Bitmap, style: Style) -> np.ndarray:
    width = bitmap.width
    if not width or not bitmap.rows:
        return np.zeros((0, 0), np.uint8)
    rows = pixels_of(bitmap)
    if bitmap.pixel_mode == freetype.FT_PIXEL_MODE_MONO:
        return np.unpackbits(rows, axis=1)[:, :width]
    coverage = rows[:, :width].astype(np.float32) / 255
    if style.bits == 1:
        return (coverage >= style.threshold).astype(np.uint8)
    return np.rint(coverage * ((1 << style.bits) - 1)).astype(np.uint8)
