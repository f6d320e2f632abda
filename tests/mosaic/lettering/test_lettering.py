"""Lettering: against FreeType and Pillow themselves, the C reader against the core's rasteriser, BDF there and back."""

import io
import json
import subprocess
import sys
from functools import cache
from pathlib import Path

import freetype
import numpy as np
import pytest
from fontTools.fontBuilder import FontBuilder
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st
from PIL import BdfFontFile, Image, ImageFont

from mosaic.cli.main import main
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.lettering.bdf import read_bdf, write_bdf
from mosaic.lettering.characters import PRESETS, characters_of
from mosaic.lettering.files import c_header, flash_bytes, metrics, packed, png_sheet, python_source, written
from mosaic.lettering.glyph import Glyph, Lettering, cropped, draw_text
from mosaic.lettering.outline import MissingGlyphsError, open_face, rasterised

FONTS = Path(__file__).resolve().parents[3] / "workshop" / "static" / "fonts"
TEXT_FACE = (FONTS / "atkinson-hyperlegible-next-latin-400-normal.woff2").read_bytes()
MONO_FACE = (FONTS / "spline-sans-mono-latin-600-normal.woff2").read_bytes()
TEXTS = ("High water 06:42", "Ebb 3.7 m/s, NW", "Rückkehr um 9°")


@cache
def plain_font(data: bytes) -> bytes:
    """A web font as TTF, by the fonts' own library."""
    font = TTFont(io.BytesIO(data))
    font.flavor = None
    out = io.BytesIO()
    font.save(out)
    return out.getvalue()


@cache
def face(bits: int = 1, size: int = 17) -> Lettering:
    return rasterised(TEXT_FACE, size, characters_of(PRESETS["basic"] + "ü°"), bits=bits)


class TestOutlines:
    @pytest.mark.parametrize("size", [9, 16, 31])
    def test_hinted_pixels_and_metrics_are_freetypes_own(self, size):
        """FreeType is asked anew, character by character, through its own bitmaps."""
        lettering = rasterised(MONO_FACE, size, characters_of("basic"))
        own = freetype.Face(io.BytesIO(plain_font(MONO_FACE)))
        own.set_pixel_sizes(0, size)
        for glyph in lettering.glyphs:
            own.load_char(chr(glyph.code), freetype.FT_LOAD_RENDER | freetype.FT_LOAD_TARGET_MONO)
            bitmap = own.glyph.bitmap
            ink = {
                (own.glyph.bitmap_left + x, own.glyph.bitmap_top - y)
                for y in range(bitmap.rows)
                for x in range(bitmap.width)
                if bitmap.buffer[y * bitmap.pitch + x // 8] >> (7 - x % 8) & 1
            }
            assert {(glyph.left + x, glyph.top - y) for y, x in np.argwhere(glyph.levels)} == ink, chr(glyph.code)
            assert glyph.advance == round(own.glyph.advance.x / 64)

    def test_grey_is_what_the_general_library_draws(self):
        """Pillow draws one letter with FreeType's plain coverage; two bits are its nearest quarter."""
        lettering = rasterised(TEXT_FACE, 40, characters_of("W"), mode="plain", bits=4)
        font = ImageFont.truetype(io.BytesIO(plain_font(TEXT_FACE)), 40, layout_engine=ImageFont.Layout.BASIC)
        mask = font.getmask("W", mode="L")
        shown = np.array(mask, np.uint8).reshape(mask.size[1], mask.size[0])
        shown = shown[shown.any(axis=1)][:, shown.any(axis=0)]
        levels = lettering.glyphs[0].levels
        assert abs(levels.shape[0] - shown.shape[0]) <= 1
        assert levels.astype(float).sum() / 15 == pytest.approx(shown.astype(float).sum() / 255, rel=0.06)

    def test_threshold_gives_more_or_less_ink(self):
        inks = [
            sum(int(g.levels.sum()) for g in rasterised(TEXT_FACE, 20, characters_of("digits"), mode="plain", threshold=t).glyphs)
            for t in (0.2, 0.5, 0.9)
        ]
        assert inks[0] > inks[1] > inks[2]

    def test_missing_characters_are_named(self):
        with pytest.raises(MissingGlyphsError, match=r"lacks 漢 \(U\+6F22\)"):
            rasterised(TEXT_FACE, 16, characters_of("a漢"))

    @pytest.mark.parametrize(
        ("data", "message"),
        [
            (b"the tide turns at six", "no font that can be read"),
            (TEXT_FACE[:900], "no font that can be read"),
            (plain_font(TEXT_FACE)[:60] + bytes(4000), "no font that can be read"),
            (bytes(17 * 1024 * 1024), "17.0 MiB"),
        ],
    )
    def test_what_is_no_font_is_told(self, data, message):
        with pytest.raises((BadDescriptionError, BadValueError), match=message):
            open_face(data, "notes.ttf")

    def test_a_font_without_a_character_map_is_told(self):
        builder = FontBuilder(1000, isTTF=True)
        builder.setupGlyphOrder([".notdef"])
        builder.setupGlyf({".notdef": __import__("fontTools.ttLib.tables._g_l_y_f", fromlist=["Glyph"]).Glyph()})
        builder.setupHorizontalMetrics({".notdef": (500, 0)})
        builder.setupHorizontalHeader(ascent=800, descent=-200)
        builder.setupCharacterMap({})
        builder.setupPost()
        del builder.font["cmap"]
        out = io.BytesIO()
        builder.font["maxp"].numGlyphs = 1
        builder.save(out)
        with pytest.raises(BadDescriptionError, match="no Unicode character map"):
            open_face(out.getvalue(), "empty.ttf")

    @pytest.mark.parametrize("size", [3, 257])
    def test_sizes_have_bounds(self, size):
        with pytest.raises(BadValueError, match="4 to 256"):
            rasterised(TEXT_FACE, size, (65,))


class TestCharacters:
    def test_presets_ranges_and_texts(self):
        assert characters_of("digits") == tuple(range(48, 58))
        assert characters_of("U+0041-U+0043 U+007A") == (65, 66, 67, 122)
        assert characters_of("Tide, tide") == tuple(sorted({ord(c) for c in "Tide, tide"}))
        assert all(characters_of(name) for name in PRESETS)

    @pytest.mark.parametrize("text", ["", "U+GG", "U+0043-U+0041", "U+0000-U+FFFFF", "U+110000"])
    def test_what_is_none_is_told(self, text):
        with pytest.raises(BadValueError):
            characters_of(text)


glyphs = st.builds(
    lambda code, height, width, bits, left, top, advance: cropped(
        code, np.unpackbits(np.frombuffer(bits, np.uint8), axis=0)[: height * width].reshape(height, width), left, top, advance
    ),
    st.integers(33, 0x2FFF), st.integers(1, 12), st.integers(1, 12), st.binary(min_size=18, max_size=18),
    st.integers(-5, 5), st.integers(-4, 14), st.integers(0, 20),
)  # fmt: skip
letterings = st.lists(glyphs, min_size=1, max_size=8, unique_by=lambda g: g.code).map(
    lambda found: Lettering("made up", tuple(sorted(found, key=lambda g: g.code)), 12, 4)
)


class TestBdf:
    @given(letterings)
    def test_comes_back_equal(self, lettering):
        back = read_bdf(write_bdf(lettering))
        assert (back.ascent, back.descent, len(back.glyphs)) == (12, 4, len(lettering.glyphs))
        assert all(a.same_as(b) for a, b in zip(lettering.glyphs, back.glyphs, strict=True))

    def test_freetype_reads_the_same_pixels_and_metrics(self):
        lettering = face()
        own = freetype.Face(io.BytesIO(write_bdf(lettering)))
        own.select_size(0)
        for glyph in lettering.glyphs:
            own.load_char(chr(glyph.code), freetype.FT_LOAD_RENDER | freetype.FT_LOAD_MONOCHROME)
            bitmap = own.glyph.bitmap
            rows = [bitmap.buffer[y * bitmap.pitch : (y + 1) * bitmap.pitch] for y in range(bitmap.rows)]
            shown = [[row[x // 8] >> (7 - x % 8) & 1 for x in range(bitmap.width)] for row in rows]
            assert shown == glyph.levels.tolist(), chr(glyph.code)
            assert own.glyph.advance.x // 64 == glyph.advance
            if glyph.width:
                assert (own.glyph.bitmap_left, own.glyph.bitmap_top) == (glyph.left, glyph.top)

    def test_the_general_imaging_library_reads_it(self):
        lettering = face()
        font = BdfFontFile.BdfFontFile(io.BytesIO(write_bdf(lettering)))
        for code in (ord("g"), ord("8"), ord("W")):
            _, _, _, image = font.glyph[code]
            assert np.array_equal(np.asarray(image).astype(int), lettering.by_code[code].levels)

    @pytest.mark.parametrize(
        ("change", "message"),
        [
            (("BBX 3 2", "BBX 3 4"), "line 12: the bitmap has 2 rows; its bounding box says 4"),
            (("BBX 3 2", "BBX 30 2"), "line 10: this row has 1 bytes; its bounding box is 30 wide and needs 4"),
            (("BBX 3 2", "BBX 9000 2"), "bounding box of 9000"),
            (("A0\n", "XY\n"), "no row of hexadecimal"),
            (("ENCODING 65", "ENCODING five"), "ENCODING needs 1 whole number"),
            (("ENDFONT\n", ""), "breaks off before ENDFONT"),
            (("BITMAP\n", ""), "without its BITMAP|breaks off"),
            (("STARTFONT 2.1", "FONT"), "does not begin with STARTFONT"),
            (("ENCODING 65", "ENCODING -1"), "no glyph with a code point"),
        ],
    )
    def test_what_is_wrong_is_told_with_its_line(self, change, message):
        plain = (
            "STARTFONT 2.1\nFONT t\nSIZE 8 75 75\nFONTBOUNDINGBOX 3 2 0 0\nCHARS 1\nSTARTCHAR A\nENCODING 65\nDWIDTH 4 0\n"
            "BBX 3 2 0 0\nBITMAP\nA0\n40\nENDCHAR\nENDFONT\n"
        )
        assert read_bdf(plain.encode()).glyphs[0].levels.tolist() == [[1, 0, 1], [0, 1, 0]]
        assert change[0] in plain
        text = plain.replace(*change)
        if "BBX 30 2" in text or "BBX 3 4" in text:
            message = message.split(": ", 1)[1]
        with pytest.raises(BadDescriptionError, match=message):
            read_bdf(text.encode())

    def test_grey_levels_do_not_fit(self):
        with pytest.raises(BadValueError, match="one bit a pixel"):
            write_bdf(face(2))


class TestFiles:
    @pytest.mark.parametrize("bits", [1, 2, 4])
    def test_the_c_reader_draws_three_texts_as_the_core_does(self, bits, tmp_path):
        lettering = face(bits)
        (tmp_path / "p.h").write_bytes(c_header(lettering))
        word = "atkinson_hyperlegible_next_17_px"
        (tmp_path / "main.c").write_text(
            '#include <stdio.h>\n#include "p.h"\nstatic uint8_t canvas[3][24][200];\nstatic int line;\n'
            "static void put(int32_t x, int32_t y, uint8_t level, void *with)\n{\n    (void)with;\n"
            "    if (x >= 0 && x < 200 && y >= 0 && y < 24 && canvas[line][y][x] < level) canvas[line][y][x] = level;\n}\n"
            f"int main(void)\n{{\n    const char *texts[3] = {{{', '.join(json.dumps(t, ensure_ascii=False) for t in TEXTS)}}};\n"
            f"    for (line = 0; line < 3; line++) {word}_draw(texts[line], 2, 18, put, 0);\n"
            "    return fwrite(canvas, 1, sizeof canvas, stdout) == sizeof canvas ? 0 : 1;\n}\n"
        )
        flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic"]
        subprocess.run(["gcc", *flags, "main.c", "-o", "show"], cwd=tmp_path, check=True)
        drawn = subprocess.run([tmp_path / "show"], capture_output=True, check=True).stdout
        expected = np.zeros((3, 24, 200), np.uint8)
        for line, text in enumerate(TEXTS):
            draw_text(expected[line], lettering, 2, 18, text)
        assert np.array_equal(np.frombuffer(drawn, np.uint8).reshape(3, 24, 200), expected)
        assert expected.max() == (1 << bits) - 1

    def test_packing_told_by_hand(self):
        levels = np.array([[3, 0, 1, 2, 3]], np.uint8)
        glyph = Glyph(65, levels, 0, 1, 6)
        # 11 00 01 10 | 11 and three empty places
        assert packed(glyph, 2) == bytes([0b11000110, 0b11000000])
        assert packed(Glyph(65, np.array([[1, 0, 1]], np.uint8), 0, 1, 4), 1) == bytes([0b10100000])
        assert packed(Glyph(65, np.array([[15, 1, 7]], np.uint8), 0, 1, 4), 4) == bytes([0xF1, 0x70])
        assert flash_bytes(Lettering("a", (glyph,), 1, 0, 2)) == 18

    def test_python_json_and_sheet(self, tmp_path):
        lettering = rasterised(MONO_FACE, 16, characters_of("digits"))
        (tmp_path / "p.py").write_bytes(python_source(lettering))
        code = (
            "import p; at, w, h, left, top, adv = p.spline_sans_mono_16_px_glyphs[ord('7')];"
            "rows = p.spline_sans_mono_16_px_pixels[at:at + h * ((w + 7) // 8)]; print(w, h, rows.hex())"
        )
        done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path, capture_output=True, check=True, text=True)
        seven = lettering.by_code[ord("7")]
        assert done.stdout.split() == [str(seven.width), str(seven.height), np.packbits(seven.levels, axis=1).tobytes().hex()]
        told = json.loads(metrics(lettering))
        assert [g["character"] for g in told["glyphs"]] == list("0123456789")
        assert told["flash_bytes"] == flash_bytes(lettering)
        sheet = np.asarray(Image.open(io.BytesIO(png_sheet(lettering))))
        assert (sheet == 0).sum() == sum(int(g.levels.sum()) for g in lettering.glyphs)

    def test_other_kinds_are_refused_with_the_known_ones(self):
        with pytest.raises(BadValueError, match=r"\.h, \.py, \.bdf, \.png, \.json are"):
            written(face(), "otf")


class TestDrawing:
    def test_width_is_the_sum_of_advances_and_lines_are_cut_at_the_canvas(self):
        lettering = face()
        canvas = np.zeros((10, 30), np.uint8)
        end = draw_text(canvas, lettering, -7, 8, TEXTS[0])
        assert end == -7 + lettering.width_of(TEXTS[0])
        wide = np.zeros((40, 300), np.uint8)
        draw_text(wide, lettering, 20, 20, TEXTS[0])
        assert np.array_equal(canvas, wide[12:22, 27:57])

    def test_double_and_unsorted_glyphs_are_refused(self):
        glyph = face().glyphs[5]
        with pytest.raises(BadValueError, match="once each"):
            Lettering("twice", (glyph, glyph), 1, 1)


class TestCommand:
    def test_a_font_and_its_bdf_give_the_same_arrays(self, tmp_path, capsys):
        (tmp_path / "face.woff2").write_bytes(MONO_FACE)
        outs = [str(tmp_path / f"face.{ending}") for ending in ("h", "bdf", "json")]
        words = [w for out in outs for w in ("--out", out)]
        assert main(["letter", str(tmp_path / "face.woff2"), "--size", "16", "--chars", "numbers", *words, "--json"]) == 0
        assert json.loads(capsys.readouterr().out)["glyphs"] == len(set(PRESETS["numbers"]))
        assert main(["letter", outs[1], "--chars", "numbers", "--out", str(tmp_path / "again.h")]) == 0
        assert (tmp_path / "again.h").read_bytes() == Path(outs[0]).read_bytes()

    @pytest.mark.parametrize(
        ("words", "message"),
        [
            (["--chars", "digits"], "--size is missing"),
            (["--size", "16", "--threshold", "2"], "above 0 to 1"),
            (["--size", "16", "--chars", "漢"], "lacks 漢"),
        ],
    )
    def test_what_is_wrong_is_one_line(self, tmp_path, capsys, words, message):
        (tmp_path / "face.woff2").write_bytes(MONO_FACE)
        assert main(["letter", str(tmp_path / "face.woff2"), *words, "--out", str(tmp_path / "x.h")]) == 1
        error = capsys.readouterr().err
        assert message in error
        assert error.count("\n") == 1
        assert not (tmp_path / "x.h").exists()
