"""Fonts and letterings that the tests of this folder share."""

import io
from functools import cache
from pathlib import Path

import numpy as np
from fontTools.ttLib import TTFont
from hypothesis import strategies as st

from mosaic.lettering.characters import PRESETS, characters_of
from mosaic.lettering.glyph import Lettering, cropped
from mosaic.lettering.outline import Style, rasterised

FONTS = Path(__file__).resolve().parents[3] / "workshop" / "static" / "fonts"
TEXT_FACE = (FONTS / "atkinson-hyperlegible-next-latin-400-normal.woff2").read_bytes()
MONO_FACE = (FONTS / "spline-sans-mono-latin-600-normal.woff2").read_bytes()
TEXTS = ("High water 06:42", "Ebb 3.7 m/s, NW", "Rückkehr um 9°")


@cache
def as_ttf(data: bytes) -> bytes:
    """A web font as TTF, by the fonts' own library."""
    font = TTFont(io.BytesIO(data))
    font.flavor = None
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


@cache
def face(bits: int = 1, size: int = 17) -> Lettering:
    codes = characters_of(PRESETS["basic"].characters + "ü°")
    return rasterised(TEXT_FACE, size, codes, Style(bits=bits))


def ink_of(slot) -> set[tuple[int, int]]:
    """(column from the pen, upper edge above the baseline) of every pixel of FreeType's own one-bit bitmap."""
    bitmap = slot.bitmap
    return {
        (slot.bitmap_left + x, slot.bitmap_top - y)
        for y in range(bitmap.rows)
        for x in range(bitmap.width)
        if bitmap.buffer[y * bitmap.pitch + x // 8] >> (7 - x % 8) & 1
    }


def ink_in(glyph) -> set[tuple[int, int]]:
    """The same of a glyph of ours."""
    return {(glyph.left + x, glyph.top - y) for y, x in np.argwhere(glyph.levels)}


def letterings(bits: int = 1) -> st.SearchStrategy[Lettering]:
    """A few glyphs of random pixels and metrics, with random kerning."""
    glyphs = st.builds(
        lambda code, height, width, noise, left, top, advance: cropped(
            code, np.frombuffer(noise, np.uint8)[: height * width].reshape(height, width) % (1 << bits), left, top, advance
        ),
        st.integers(33, 0x2FFF), st.integers(1, 12), st.integers(1, 12), st.binary(min_size=144, max_size=144),
        st.integers(-5, 5), st.integers(-4, 14), st.integers(0, 20),
    )  # fmt: skip
    several = st.lists(glyphs, min_size=1, max_size=8, unique_by=lambda g: g.code)

    def made(found, kerns):
        codes = sorted(g.code for g in found)
        pairs = [(a, b) for a in codes for b in codes]
        kerning = {pair: by for pair, by in zip(pairs, kerns, strict=False) if by}
        return Lettering("made up", tuple(sorted(found, key=lambda g: g.code)), 14, 16, bits, kerning)

    return st.builds(made, several, st.lists(st.integers(-3, 3), max_size=20))
