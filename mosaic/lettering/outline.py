"""Glyphs of outline fonts (TTF, OTF, WOFF, WOFF2), rasterised by FreeType at a size in pixels."""

import io
import math
from typing import Literal

import freetype
import numpy as np
from fontTools.ttLib import TTFont

from mosaic.errors import BadDescriptionError, BadValueError, MosaicError
from mosaic.lettering.glyph import Glyph, Lettering, cropped

MOST_BYTES = 16 * 1024 * 1024
SIZES = (4, 256)
Mode = Literal["hinted", "plain", "light"]
MODES: dict[str, str] = {
    "hinted": "hinted for one bit, as the font's maker meant it",
    "plain": "unhinted, every pixel covered by the threshold's share or more",
    "light": "fitted to rows by the automatic hinter",
}
WEB_FONTS = (b"wOFF", b"wOF2")
_FLAGS = {
    "hinted": freetype.FT_LOAD_RENDER | freetype.FT_LOAD_TARGET_MONO,
    "plain": freetype.FT_LOAD_RENDER | freetype.FT_LOAD_NO_HINTING,
    "light": freetype.FT_LOAD_RENDER | freetype.FT_LOAD_TARGET_LIGHT | freetype.FT_LOAD_FORCE_AUTOHINT,
}


class MissingGlyphsError(MosaicError):
    """The font lacks characters that are asked for; the text names them."""


def open_face(data: bytes, name: str = "the font") -> freetype.Face:
    """A face of a font file.

    Raises
    ------
    BadValueError
        It is too large.
    BadDescriptionError
        It is no font, its tables are broken, or it has no Unicode character map.
    """
    if len(data) > MOST_BYTES:
        raise BadValueError(f"{name} is {len(data) / 2**20:.1f} MiB; fonts up to {MOST_BYTES // 2**20} MiB are accepted")
    try:
        face = freetype.Face(io.BytesIO(_unpacked(data) if data[:4] in WEB_FONTS else data))
    except Exception as error:  # the readers of fonts raise whatever their broken tables lead them to
        accepted = "TTF, OTF, WOFF and WOFF2 are accepted"
        raise BadDescriptionError(f"{name} is no font that can be read, or its tables are broken; {accepted}") from error
    try:
        face.select_charmap(freetype.FT_ENCODING_UNICODE)
    except freetype.FT_Exception as error:
        raise BadDescriptionError(f"{name} has no Unicode character map, so its glyphs cannot be told apart") from error
    if not face.is_scalable:
        raise BadDescriptionError(f"{name} has no outlines; bitmap fonts are taken as BDF")
    return face


def _unpacked(data: bytes) -> bytes:
    """A web font as a plain one."""
    font = TTFont(io.BytesIO(data), lazy=False)
    font.flavor = None
    out = io.BytesIO()
    font.save(out)
    if out.tell() > 4 * MOST_BYTES:
        raise ValueError("too large when unpacked")
    return out.getvalue()


def rasterised(
    data: bytes,
    size_px: int,
    codes: tuple[int, ...],
    *,
    name: str = "the font",
    mode: Mode = "hinted",
    bits: int = 1,
    threshold: float = 0.5,
) -> Lettering:
    """A lettering of these code points; `size_px` is the em in pixels, `threshold` the share that a pixel needs (one bit).

    Raises
    ------
    BadValueError
        Size or mode is not one of those accepted.
    BadDescriptionError
        As `open_face`.
    MissingGlyphsError
        Characters are missing.
    """
    if not SIZES[0] <= size_px <= SIZES[1]:
        raise BadValueError(f"a size of {size_px} px; {SIZES[0]} to {SIZES[1]} are accepted")
    if mode not in MODES:
        raise BadValueError(f"no way of rendering is named {mode!r}; known: {', '.join(MODES)}")
    face = open_face(data, name)
    missing = [code for code in codes if not face.get_char_index(code) and code != 0x20]
    if missing:
        shown = ", ".join(f"{chr(code)} (U+{code:04X})" for code in missing[:12])
        more = f" and {len(missing) - 12} more" if len(missing) > 12 else ""
        raise MissingGlyphsError(f"{name} lacks {shown}{more}; leave them out, or take another face")
    face.set_pixel_sizes(0, size_px)
    # Grey levels need coverage; the hinter for one bit gives none.
    how = "light" if mode == "hinted" and bits > 1 else mode
    glyphs = tuple(_glyph(face, code, how, bits, threshold) for code in codes)
    metrics = face.size
    up, down = math.ceil(metrics.ascender / 64), math.ceil(abs(metrics.descender) / 64)
    up = max([up, *(g.top for g in glyphs if g.width)])
    down = max([down, *(g.height - g.top for g in glyphs if g.width)])
    family = (face.family_name or b"lettering").decode("ascii", "replace")
    return Lettering(f"{family} {size_px} px", glyphs, int(up), int(down), bits)


def _glyph(face: freetype.Face, code: int, how: str, bits: int, threshold: float) -> Glyph:
    face.load_char(chr(code), _FLAGS[how])
    slot = face.glyph
    advance = round(slot.advance.x / 64)
    return cropped(code, _levels(slot.bitmap, bits, threshold), slot.bitmap_left, slot.bitmap_top, advance)


def _levels(bitmap: freetype.Bitmap, bits: int, threshold: float) -> np.ndarray:
    width, height, pitch = bitmap.width, bitmap.rows, bitmap.pitch
    if not width or not height:
        return np.zeros((0, 0), np.uint8)
    rows = np.array(bitmap.buffer, np.uint8).reshape(height, pitch)
    if bitmap.pixel_mode == freetype.FT_PIXEL_MODE_MONO:
        return np.unpackbits(rows, axis=1)[:, :width]
    coverage = rows[:, :width].astype(np.float32) / 255
    if bits == 1:
        return (coverage >= threshold).astype(np.uint8)
    return np.rint(coverage * ((1 << bits) - 1)).astype(np.uint8)
