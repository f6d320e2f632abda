"""Faces and fonts: what FreeType and Pillow draw of them, what is refused, and the characters asked for."""

import gzip
import io
import struct

import freetype
import numpy as np
import pytest
import uharfbuzz as hb
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont
from PIL import ImageFont

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.lettering.characters import PRESETS, characters_of
from mosaic.lettering.faces import FACES, FOLDER
from mosaic.lettering.glyph import Lettering, draw_text
from mosaic.lettering.kerning import kerning_units
from mosaic.lettering.outline import Style, rasterised
from mosaic.lettering.pixel_font import pixel_lettering
from mosaic.lettering.source import font_info, open_face, plain_font
from tests.mosaic.lettering.letters import MONO_FACE, TEXT_FACE, TEXTS, as_ttf, face, ink_in, ink_of


class TestOutlines:
    @pytest.mark.parametrize("size", [9, 16, 31])
    def test_hinted_pixels_and_metrics_are_freetypes_own(self, size):
        """FreeType is asked anew, character by character, through its own bitmaps."""
        lettering = rasterised(MONO_FACE, size, characters_of("basic"))
        own = freetype.Face(io.BytesIO(as_ttf(MONO_FACE)))
        own.set_pixel_sizes(0, size)
        for glyph in lettering.glyphs:
            own.load_char(chr(glyph.code), freetype.FT_LOAD_RENDER | freetype.FT_LOAD_TARGET_MONO)
            ink = ink_of(own.glyph)
            assert ink_in(glyph) == ink, chr(glyph.code)
            assert glyph.advance == round(own.glyph.advance.x / 64)

    def test_grey_is_what_the_general_library_draws(self):
        """Pillow draws one letter with FreeType's plain coverage; two bits are its nearest quarter."""
        lettering = rasterised(TEXT_FACE, 40, characters_of("W"), Style("plain", 4))
        font = ImageFont.truetype(io.BytesIO(as_ttf(TEXT_FACE)), 40, layout_engine=ImageFont.Layout.BASIC)
        mask = font.getmask("W", mode="L")
        shown = np.array(mask, np.uint8).reshape(mask.size[1], mask.size[0])
        shown = shown[shown.any(axis=1)][:, shown.any(axis=0)]
        levels = lettering.glyphs[0].levels
        assert abs(levels.shape[0] - shown.shape[0]) <= 1
        assert levels.astype(float).sum() / 15 == pytest.approx(shown.astype(float).sum() / 255, rel=0.06)

    def test_threshold_gives_more_or_less_ink(self):
        inks = [
            sum(
                int(g.levels.sum())
                for g in rasterised(TEXT_FACE, 20, characters_of("digits"), Style("plain", threshold=t)).glyphs
            )
            for t in (0.2, 0.5, 0.9)
        ]
        assert inks[0] > inks[1] > inks[2]

    def test_a_weight_makes_stems_stronger_and_keeps_them_in_place(self):
        light, heavy = (rasterised(TEXT_FACE, 32, (ord("l"),), Style("plain", 4, weight=w)).glyphs[0] for w in (0.0, 2.0))
        ink = [g.levels.astype(float).sum() / g.height / 15 for g in (light, heavy)]
        assert ink[1] - ink[0] == pytest.approx(2, abs=0.3)
        middles = [g.left + (g.levels.sum(axis=0) * np.arange(g.width)).sum() / g.levels.sum() for g in (light, heavy)]
        assert abs(middles[1] - middles[0]) < 0.8

    def test_axes_set_the_weight_of_a_variable_face(self):
        data = FACES["hyperlegible"].data
        (axis,) = font_info(data).axes
        assert (axis.tag, axis.least, axis.most) == ("wght", 200, 800)
        inks = [
            int(rasterised(data, 40, (ord("H"),), Style("plain", 4, axes=(("wght", w),))).glyphs[0].levels.sum())
            for w in (200, 400, 800, 9999)
        ]
        assert inks[0] < inks[1] < inks[2] == inks[3]

    @pytest.mark.parametrize(
        ("data", "message"),
        [
            (b"the tide turns at six", "no font that can be read"),
            (TEXT_FACE[:900], "no font that can be read"),
            (as_ttf(TEXT_FACE)[:60] + bytes(4000), "no font that can be read"),
            (bytes(50 * 1024 * 1024), r"50.0 MiB; fonts up to 16 MiB"),
        ],
    )
    def test_what_is_no_font_is_told(self, data, message):
        with pytest.raises((BadDescriptionError, BadValueError), match=message):
            open_face(data, "notes.ttf")

    def test_a_font_without_a_character_map_is_told(self):
        with pytest.raises(BadDescriptionError, match="no Unicode character map"):
            open_face(made_font(without="cmap"), "empty.ttf")

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


def made_font(fs_type: int = 0, without: str = "", ascent: int = 800) -> bytes:
    """A font of one square, made here."""
    pen = TTGlyphPen(None)
    for x, y in ((0, 0), (0, 500), (500, 500), (500, 0)):
        (pen.lineTo if (x, y) != (0, 0) else pen.moveTo)((x, y))
    pen.closePath()
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder([".notdef", "A"])
    builder.setupGlyf({".notdef": TTGlyphPen(None).glyph(), "A": pen.glyph()})
    builder.setupHorizontalMetrics({".notdef": (500, 0), "A": (600, 0)})
    builder.setupHorizontalHeader(ascent=ascent, descent=-200 if ascent else 0)
    builder.setupCharacterMap({65: "A"})
    builder.setupNameTable({"familyName": "Square", "styleName": "Regular"})
    builder.setupOS2(fsType=fs_type)
    builder.setupPost(keepGlyphNames=not without)
    if without:
        del builder.font[without]
    out = io.BytesIO()
    builder.save(out)
    return out.getvalue()


class TestSources:
    @pytest.mark.parametrize(
        ("fs_type", "level", "doubtful"),
        [(0, "open", False), (2, "restricted", True), (4, "preview", True), (8, "editable", False), (0x104, "preview", True)],
    )
    def test_the_embedding_permission_is_read(self, fs_type, level, doubtful):
        """OpenType, OS/2: bit 1 restricted, bit 2 preview and print, bit 3 editable."""
        permission = font_info(made_font(fs_type), "square.ttf").permission
        assert (permission.level, permission.is_doubtful) == (level, doubtful)

    def test_of_a_square_everything_is_known(self):
        info = font_info(made_font(), "square.ttf")
        assert (info.name, info.kind, info.codes, info.native_px, info.capital) == ("Square", "outlines", {65}, 0, 0.0)
        glyph = rasterised(made_font(), 20, (65,)).glyphs[0]
        assert (glyph.levels.tolist(), glyph.left, glyph.top, glyph.advance) == ([[1] * 10] * 10, 0, 10, 12)

    @pytest.mark.parametrize("slug", list(FACES))
    def test_every_face_that_comes_along_has_what_it_says(self, slug):
        own = FACES[slug]
        info = font_info(own.data, own.name)
        assert {ord(c) for c in "0123456789"} <= info.codes
        assert not info.permission.is_doubtful
        if own.file:
            assert (FOLDER / own.licence_file).read_text("utf-8").strip()
            assert own.licence_text

    def test_there_are_two_pixel_faces_a_condensed_and_a_face_of_equal_widths(self):
        infos = {slug: font_info(own.data, own.name) for slug, own in FACES.items()}
        assert sum(info.kind == "pcf" for info in infos.values()) >= 2
        assert len(FACES) >= 6

        def width(slug: str) -> int:
            return rasterised(FACES[slug].data, 32, characters_of("High water")).width_of("High water")

        assert width("narrow") < width("sans-condensed") < width("sans")
        mono = rasterised(FACES["mono"].data, 20, characters_of("basic"))
        assert len({glyph.advance for glyph in mono.glyphs}) == 1

    def test_the_projects_own_face_lights_the_segments(self):
        lettering = rasterised(FACES["segments"].data, 64, characters_of("18"))
        one, eight = (lettering.by_code[ord(c)] for c in "18")
        assert int(one.levels.sum()) * 3 < int(eight.levels.sum())
        middle = eight.levels[eight.height // 2]
        assert middle.sum() > eight.width // 2

    def test_pcf_is_read_as_freetype_draws_it_also_packed(self):
        data = FACES["fixed-6x13"].data
        codes = tuple(sorted(font_info(data).codes))
        assert len(codes) > 4000
        own = freetype.Face(io.BytesIO(data))
        own.select_size(0)
        for glyph in pixel_lettering(data, codes[:400]).glyphs:
            own.load_char(chr(glyph.code), freetype.FT_LOAD_RENDER | freetype.FT_LOAD_MONOCHROME)
            ink = ink_of(own.glyph)
            assert ink_in(glyph) == ink
        packed = gzip.compress(data)
        assert plain_font(packed, "fixed.pcf.gz") == data

    @pytest.mark.parametrize("data", [b"\x1f\x8b\x08 not at all", b"\x1f\x8b"])
    def test_a_broken_gzip_is_told(self, data):
        with pytest.raises(BadDescriptionError, match="broken gzip"):
            plain_font(data, "tide.pcf.gz")

    def test_a_gzip_that_grows_is_stopped(self):
        bomb = gzip.compress(bytes(20 * 2**20))
        with pytest.raises(BadValueError, match="up to 16 MiB"):
            plain_font(bomb, "bomb.pcf.gz")

    def test_broken_pcf_is_told(self):
        data = FACES["fixed-5x8"].data
        for part in (data[:200], b"\x01fcp" + struct.pack("<I", 60_000) + bytes(400)):
            with pytest.raises(BadDescriptionError, match="no font that can be read|no Unicode"):
                font_info(part, "tide.pcf")

    def test_pixel_faces_grow_by_whole_steps_and_get_bolder(self):
        data = FACES["fixed-5x8"].data
        plain, double, bold = (pixel_lettering(data, (ord("T"),), **kw).glyphs[0] for kw in ({}, {"scale": 2}, {"bolder_px": 1}))
        assert np.array_equal(double.levels, plain.levels.repeat(2, 0).repeat(2, 1))
        assert (double.left, double.top, double.advance) == (2 * plain.left, 2 * plain.top, 2 * plain.advance)
        stem = plain.levels[-1].tolist()
        assert bold.levels[-1].tolist() == [a | b for a, b in zip([*stem, 0], [0, *stem], strict=True)]
        assert bold.advance == plain.advance + 1
        accent = (
            "STARTFONT 2.1\nFONT t\nSIZE 8 75 75\nFONTBOUNDINGBOX 3 2 0 0\nCHARS 1\nSTARTCHAR A\nENCODING 65\nDWIDTH 0 0\n"
            "BBX 3 1 0 0\nBITMAP\nE0\nENDCHAR\nENDFONT\n"
        )
        over = pixel_lettering(accent.encode(), (65,), bolder_px=1).glyphs[0]
        assert (over.width, over.advance) == (4, 0)  # what takes no room goes on taking none


class TestKerning:
    @pytest.mark.parametrize("slug", ["narrow", "hyperlegible", "sans"])
    def test_pairs_are_those_that_a_shaper_lays(self, slug):
        """HarfBuzz lays each pair of letters with and without kerning; the difference is the pair's value."""
        data = FACES[slug].data
        codes = characters_of("AVToLYavo.,-rfT")
        pairs, em = kerning_units(data, codes)
        font = hb.Font(hb.Face(as_ttf(data) if data[:4] == b"wOF2" else data))
        assert em == font.face.upem

        def laid(text: str, kern: bool) -> int:
            buffer = hb.Buffer()
            buffer.add_str(text)
            buffer.guess_segment_properties()
            hb.shape(font, buffer, {"kern": kern, "liga": False, "calt": False, "clig": False})
            return sum(place.x_advance for place in buffer.glyph_positions)

        texts = [chr(a) + chr(b) for a in codes for b in codes]
        shaped = {(ord(t[0]), ord(t[1])): laid(t, True) - laid(t, False) for t in texts}
        assert {pair: by for pair, by in shaped.items() if by} == pairs
        assert pairs[ord("A"), ord("V")] < 0

    def test_a_font_without_tables_has_none(self):
        assert kerning_units(made_font(), (65,)) == ({}, 1000)

    @pytest.mark.parametrize("weight", [200, 400, 550, 800])
    def test_kerning_follows_the_weight_axis(self, weight):
        """As a font has it that was made of that weight alone."""
        data, codes = FACES["hyperlegible"].data, tuple(range(0x21, 0x7F))
        still = TTFont(io.BytesIO(as_ttf(data)))
        out = io.BytesIO()
        instantiateVariableFont(still, {"wght": weight}).save(out)
        mine, theirs = kerning_units(data, codes, (("wght", weight),))[0], kerning_units(out.getvalue(), codes)[0]
        pairs = mine.keys() | theirs.keys()
        assert len(pairs) > 500
        assert max(abs(mine.get(pair, 0) - theirs.get(pair, 0)) for pair in pairs) <= 0.5


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
