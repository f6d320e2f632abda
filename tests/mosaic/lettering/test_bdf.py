"""BDF there and back; read by FreeType and Pillow; faults told with their lines."""

import gzip
import io
from pathlib import Path

import freetype
import numpy as np
import pytest
from hypothesis import given
from PIL import BdfFontFile

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.lettering.bdf import read_bdf, write_bdf
from mosaic.lettering.faces import FACES
from mosaic.lettering.pixel_font import pixel_lettering
from mosaic.lettering.source import font_info
from tests.mosaic.lettering.letters import face, ink_in, ink_of, letterings

# The well-known fixed face as a BDF written by another program (Debian's pcf2bdf) from Debian's package.
FOREIGN = gzip.decompress((Path(__file__).resolve().parents[2] / "vendor" / "fonts" / "fixed-5x8.bdf.gz").read_bytes())


def through_freetype(data: bytes, codes) -> dict[int, tuple]:
    """(levels as bytes, left, top, advance) of each code point, as FreeType gives them."""
    own = freetype.Face(io.BytesIO(data))
    own.select_size(0)
    found = {}
    for code in codes:
        own.load_char(chr(code), freetype.FT_LOAD_RENDER | freetype.FT_LOAD_MONOCHROME)
        ink = ink_of(own.glyph)
        found[code] = (ink, own.glyph.advance.x // 64)
    return found


class TestThereAndBack:
    @pytest.mark.parametrize("bits", [1, 2, 4])
    def test_comes_back_equal(self, bits):
        @given(letterings(bits))
        def holds(lettering):
            back = read_bdf(write_bdf(lettering))
            assert (back.ascent, back.descent, back.bits, len(back.glyphs)) == (14, 16, bits, len(lettering.glyphs))
            assert all(a.same_as(b) for a, b in zip(lettering.glyphs, back.glyphs, strict=True))

        holds()

    def test_a_well_known_face_survives(self):
        first = read_bdf(FOREIGN, "fixed-5x8.bdf")
        assert len(first.glyphs) == 1426
        back = read_bdf(write_bdf(first))
        assert (back.name, back.ascent, back.descent) == (first.name, first.ascent, first.descent)
        assert all(a.same_as(b) for a, b in zip(first.glyphs, back.glyphs, strict=True))
        codes = [glyph.code for glyph in first.glyphs]
        assert through_freetype(write_bdf(first), codes) == through_freetype(FOREIGN, codes)

    def test_the_same_face_as_pcf_has_the_same_glyphs(self):
        data = FACES["fixed-5x8"].data
        bdf, pcf = read_bdf(FOREIGN), pixel_lettering(data, tuple(sorted(font_info(data).codes)))
        assert (bdf.ascent, bdf.descent, bdf.capital, bdf.x_height) == (pcf.ascent, pcf.descent, pcf.capital, pcf.x_height)
        assert all(a.same_as(b) for a, b in zip(bdf.glyphs, pcf.glyphs, strict=True))


class TestRead:
    def test_freetype_reads_the_same_pixels_and_metrics(self):
        lettering = face()
        found = through_freetype(write_bdf(lettering), [glyph.code for glyph in lettering.glyphs])
        for glyph in lettering.glyphs:
            ink = ink_in(glyph)
            assert found[glyph.code] == (ink, glyph.advance), chr(glyph.code)

    @pytest.mark.parametrize("bits", [2, 4])
    def test_freetype_reads_grey_levels(self, bits):
        lettering = face(bits)
        own = freetype.Face(io.BytesIO(write_bdf(lettering)))
        own.select_size(0)
        for glyph in lettering.glyphs:
            own.load_char(chr(glyph.code), freetype.FT_LOAD_DEFAULT)
            bitmap = own.glyph.bitmap
            if not glyph.width:
                continue
            single = np.unpackbits(np.array(bitmap.buffer, np.uint8).reshape(bitmap.rows, bitmap.pitch), axis=1)
            levels = single[:, : glyph.width * bits].reshape(bitmap.rows, -1, bits) @ (1 << np.arange(bits - 1, -1, -1))
            assert np.array_equal(levels, glyph.levels), chr(glyph.code)

    def test_the_general_imaging_library_reads_it(self):
        lettering = face()
        font = BdfFontFile.BdfFontFile(io.BytesIO(write_bdf(lettering)))
        for code in (ord("g"), ord("8"), ord("W")):
            _, _, _, image = font.glyph[code]
            assert np.array_equal(np.asarray(image).astype(int), lettering.by_code[code].levels)


PLAIN = (
    "STARTFONT 2.1\nFONT t\nSIZE 8 75 75\nFONTBOUNDINGBOX 3 2 0 0\nCHARS 1\nSTARTCHAR A\nENCODING 65\nDWIDTH 4 0\n"
    "BBX 3 2 0 0\nBITMAP\nA0\n40\nENDCHAR\nENDFONT\n"
)


class TestRefused:
    @pytest.mark.parametrize(
        ("change", "message"),
        [
            (("BBX 3 2", "BBX 3 4"), "the bitmap has 2 rows; its bounding box says 4"),
            (("BBX 3 2", "BBX 30 2"), "line 11: this row has 1 bytes; its bounding box is 30 wide and needs 4"),
            (("BBX 3 2", "BBX 9000 2"), "bounding box of 9000"),
            (("A0\n", "XY\n"), "no row of hexadecimal"),
            (("ENCODING 65", "ENCODING five"), "ENCODING needs 1 whole number"),
            (("ENDFONT\n", ""), "breaks off before ENDFONT"),
            (("BITMAP\n", ""), "without its BITMAP|breaks off"),
            (("STARTFONT 2.1", "FONT"), "does not begin with STARTFONT"),
            (("ENCODING 65", "ENCODING -1"), "no glyph with a code point"),
            (("BBX 3 2 0 0\nBITMAP", "BITMAP"), "a bounding box of 9999"),
            (("FONTBOUNDINGBOX 3 2 0 0", "FONTBOUNDINGBOX 3 0 0 0"), "lines of 0 px"),
            (("FONTBOUNDINGBOX 3 2 0 0\n", ""), "lines of 0 px"),
            (("CHARS 1", "FONT_ASCENT 70000"), "lines of 70000 px; 1 to 512"),
            (("CHARS 1", "FONT_ASCENT 400\nFONT_DESCENT 113"), "lines of 513 px; 1 to 512"),
            (("DWIDTH 4 0", "DWIDTH inf 0"), "DWIDTH needs 1 whole number"),
            (("SIZE 8 75 75", "SIZE 8 75 75 3"), "3 bits a pixel; 1, 2 and 4 are accepted"),
        ],
    )
    def test_what_is_wrong_is_told_with_its_line(self, change, message):
        assert read_bdf(PLAIN.encode()).glyphs[0].levels.tolist() == [[1, 0, 1], [0, 1, 0]]
        assert change[0] in PLAIN
        plain = PLAIN.replace("BOX 3 2", "BOX 9999 2") if "9999" in message else PLAIN
        with pytest.raises(BadDescriptionError, match=message):
            read_bdf(plain.replace(*change).encode())

    def test_one_that_is_too_large_is_told(self):
        with pytest.raises(BadValueError, match="9.0 MiB; BDF up to 8 MiB"):
            read_bdf(b"STARTFONT" + bytes(9 * 2**20 - 9), "long.bdf")
