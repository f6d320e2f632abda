"""Glyphs of PCF, read by FreeType, and the pixels of its bitmaps."""

import ctypes

import freetype
import numpy as np

from mosaic.lettering.glyph import Glyph, cropped


def pixels_of(bitmap: freetype.Bitmap) -> np.ndarray:
    """(rows, pitch) bytes of a FreeType bitmap."""
    size = bitmap.rows * bitmap.pitch
    return np.frombuffer(ctypes.string_at(bitmap._FT_Bitmap.buffer, size), np.uint8).reshape(bitmap.rows, bitmap.pitch)


def pcf_glyph(face: freetype.Face, code: int) -> Glyph:
    """One glyph of a face whose size has been selected, cropped to its ink."""
    face.load_char(chr(code), freetype.FT_LOAD_RENDER | freetype.FT_LOAD_TARGET_MONO)
    slot = face.glyph
    width = slot.bitmap.width
    is_blank = not width or not slot.bitmap.rows
    levels = np.zeros((0, 0), np.uint8) if is_blank else np.unpackbits(pixels_of(slot.bitmap), axis=1)[:, :width]
    return cropped(code, levels, slot.bitmap_left, slot.bitmap_top, slot.advance.x // 64)
