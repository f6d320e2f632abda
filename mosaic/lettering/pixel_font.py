"""Glyphs of pixel fonts, BDF and PCF, at their own size or enlarged by whole steps."""

from dataclasses import replace

import freetype
import numpy as np

from mosaic.apart import apart
from mosaic.errors import BadDescriptionError
from mosaic.lettering.bdf import read_bdf
from mosaic.lettering.glyph import Glyph, Lettering, check_reach, cropped
from mosaic.lettering.pcf import pcf_glyph
from mosaic.lettering.source import kind_of, open_face


@apart()
def pixel_lettering(
    data: bytes, codes: tuple[int, ...], *, scale: int = 1, bits: int = 1, bolder_px: int = 0, name: str = "the font"
) -> Lettering:
    """A lettering of these code points, all of which the font has.

    `scale` makes squares of pixels, `bolder_px` draws each glyph over itself, that many pixels to the right.

    Raises
    ------
    MosaicError
        As `open_face` and `read_bdf`, or it reaches too far.
    """
    whole = _own_size(data, codes, name)
    check_reach([*whole.glyphs], name, scale)
    glyphs = tuple(_grown(_leveled(glyph, whole.bits, bits), scale, bolder_px) for glyph in whole.glyphs)
    return replace(
        whole, glyphs=glyphs, ascent=whole.ascent * scale, descent=whole.descent * scale, bits=bits,
        capital=whole.capital * scale, x_height=whole.x_height * scale,
    )  # fmt: skip


def _leveled(glyph: Glyph, own_bits: int, bits: int) -> Glyph:
    """Its levels in another depth: the nearest, half a level of ink up."""
    own_full, full = (1 << own_bits) - 1, (1 << bits) - 1
    levels = ((2 * full * glyph.levels.astype(np.uint16) + own_full) // (2 * own_full)).astype(np.uint8)
    return cropped(glyph.code, levels, glyph.left, glyph.top, glyph.advance)


def _grown(glyph: Glyph, scale: int, bolder_px: int) -> Glyph:
    levels = np.kron(glyph.levels, np.ones((scale, scale), np.uint8)) if glyph.width else glyph.levels
    if glyph.width and bolder_px > 0:
        wide = np.zeros((levels.shape[0], levels.shape[1] + bolder_px), np.uint8)
        for by in range(bolder_px + 1):
            np.maximum(wide[:, by : by + levels.shape[1]], levels, out=wide[:, by : by + levels.shape[1]])
        levels = wide
    more = bolder_px if bolder_px > 0 and glyph.advance else 0
    return Glyph(glyph.code, levels, glyph.left * scale, glyph.top * scale, glyph.advance * scale + more)


def _own_size(data: bytes, codes: tuple[int, ...], name: str) -> Lettering:
    if kind_of(data) == "bdf":
        whole = read_bdf(data, name)
        wanted = set(codes)
        return replace(whole, glyphs=tuple(glyph for glyph in whole.glyphs if glyph.code in wanted))
    face = open_face(data, name)
    face.select_size(0)
    try:
        glyphs = tuple(pcf_glyph(face, code) for code in codes)
    except freetype.FT_Exception as error:
        raise BadDescriptionError(f"a glyph of {name} is broken and cannot be drawn ({error})") from error
    tops = {glyph.code: glyph.top for glyph in glyphs}
    up, down = face.size.ascender // 64, -(face.size.descender // 64)
    own = " ".join(part.decode("utf-8", "replace") for part in (face.family_name, face.style_name) if part) or name
    return Lettering(own, glyphs, int(up), int(down), 1, {}, tops.get(ord("H"), 0), tops.get(ord("x"), 0))
