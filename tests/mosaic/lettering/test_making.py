"""Plans carried out: sizes, characters, fallbacks, touch-ups, pictures, measuring, findings."""

import math
import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Device
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.findings.rules import lettering_findings
from mosaic.findings.subjects import LetteringSubject
from mosaic.forms import from_record
from mosaic.lettering.beginning import first_plan
from mosaic.lettering.coverage import preset_coverage
from mosaic.lettering.faces import FACES
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.lettering.glyph_edits import edited, with_pixels
from mosaic.lettering.making import Sources, make
from mosaic.lettering.measure import extent_of, face_table, measured, pitch_mm, spots_of
from mosaic.lettering.packing import order_of, pack
from mosaic.lettering.pictures import proposed_codes
from mosaic.lettering.plan import GlyphEdit, LetteringPlan, lettering_plan
from mosaic.lettering.shades import lay_out, line_rooms, seen_mask, shades
from mosaic.lettering.source import font_info
from mosaic.lettering.texts import parse_texts
from mosaic.panels.loader import catalogue as panels
from mosaic.strips.cells import Cell
from tests.mosaic.lettering.test_fonts import made_font

PITCH = 0.226


def device(slug: str = "epaper-296x128-four-colour", **more) -> Device:
    passport = panels()[slug]
    return Device(
        passport=passport, rotation=passport.rotation, board=boards()["wireless"], link_kind="spi", clock_hz=4_000_000, **more
    )


def made(sources: Sources | None = None, **changes):
    return make(LetteringPlan().with_changes(**changes), sources or Sources(PITCH))


def found(panel: Device, texts: str = "", sources: Sources | None = None, **changes) -> dict:
    fields = parse_texts(texts)
    plan = LetteringPlan().with_changes(**changes)
    result = make(plan, sources or Sources(pitch_mm(panel)[1], None, fields, distance_mm=panel.viewing_distance_mm))
    packed = pack(result.lettering, plan.box, order_of(plan.order, panel.passport.format), plan.compression)
    return {f.id: f for f in lettering_findings(LetteringSubject(panel, plan, result, packed, fields))}


class TestSize:
    def test_by_distance_capitals_have_the_angle(self):
        """16' at 0.9 m are 4.19 mm by hand; on rows of 0.226 mm that takes 19."""
        result = made(Sources(PITCH, distance_mm=900.0), size_by="distance", arc_minutes=16, face="sans")
        assert result.lettering.capital == math.ceil(2 * 900 * math.tan(math.radians(16 / 60) / 2) / PITCH) == 19

    @pytest.mark.parametrize("slug", [s for s in FACES if s != "segments"])
    def test_by_capital_height_rows_are_the_nearest_that_the_face_has(self, slug):
        result = made(size_by="capital", capital_mm=4.1, face=slug)
        info = result.info
        rows = 4.1 / PITCH
        step = info.native_px * info.capital if info.native_px else 1
        assert abs(result.lettering.capital - rows) <= step / 2 + 0.51

    def test_pixel_faces_take_whole_multiples(self):
        assert [made(face="fixed-5x8", size_px=px).size.em_px for px in (4, 8, 13, 16, 30)] == [8, 8, 16, 16, 32]

    def test_to_begin_with_it_can_be_read_from_where_it_is_unless_that_is_a_heading(self):
        info = font_info(FACES["sans"].data)
        near, far = (first_plan(device(viewing_distance_mm=d), info, face="sans") for d in (600, 3000))
        assert (near.size_by, far.size_by) == ("distance", "pixels")
        assert first_plan(device("tft-320x240-touch"), info).bits == 2
        assert first_plan(device(), font_info(FACES["fixed-6x13"].data), face="fixed-6x13").size_px == 13

    def test_what_cannot_be_set_is_told(self):
        with pytest.raises(BadValueError, match="4 to 256 px can be set"):
            made(size_by="capital", capital_mm=150)
        with pytest.raises(BadValueError, match=r"^reading at 40 m take \d+ px to the em on this panel; 4 to 256 px can be set"):
            made(Sources(PITCH, distance_mm=40_000.0), size_by="distance")
        with pytest.raises(BadDescriptionError, match="size_px: 2 is given; it is a whole number from 4 to 256"):
            made(size_px=2)


class TestCharacters:
    def test_missing_ones_have_proposals(self):
        result = made(more="Ж漢é", face="hyperlegible", preset="digits")
        by_code = {chr(m.code): m for m in result.missing}
        assert set(by_code) == {"Ж", "漢"}
        assert {"sans", "sans-condensed", "fixed-6x13"} <= set(by_code["Ж"].faces)
        assert by_code["漢"].by == 0

    def test_a_fallback_stands_in_at_the_same_capital_height(self):
        result = made(more="ЖИ", preset="basic", fallback="sans", size_px=40, mode="plain")
        assert (result.missing, result.borrowed) == ((), {ord("Ж"), ord("И")})
        assert abs(result.lettering.by_code[ord("И")].height - result.lettering.by_code[ord("H")].height) <= 1

    def test_a_replacement_has_the_others_pixels(self):
        result = made(more="’", face="segments", preset="digits", replacements=[{"code": 0x2019, "by": ord("-")}])
        ours, other = result.lettering.by_code[0x2019], made(face="segments", preset="none", more="-").lettering.glyphs[0]
        assert np.array_equal(ours.levels, other.levels)

    def test_what_the_screens_use(self):
        texts = parse_texts("Tide {0.0..9.4} m\n{ebb|flood}")
        result = made(Sources(PITCH, None, texts), preset="screens", left_out="l", more="?")
        assert "".join(chr(g.code) for g in result.lettering.glyphs) == "".join(sorted(set("Tide m.0123456789ebbfood?")))

    def test_none_and_too_many_are_told(self):
        with pytest.raises(BadValueError, match="0 characters are asked for"):
            made(preset="none")
        with pytest.raises(BadValueError, match="5,8.. characters are asked for; 1 to 4,096"):
            made(face="sans", preset="all")

    def test_presets_say_how_much_of_them_a_face_has(self):
        told = {title: (there, asked) for title, there, asked in preset_coverage(font_info(FACES["segments"].data).codes)}
        assert told["digits"] == (10, 10)
        assert told["western European"][0] < 30


class TestRendering:
    def test_spacing_and_digits_of_equal_room(self):
        plain, spaced, equal = (
            made(preset="basic", tabular=t, spacing=s).lettering for t, s in ((False, 0), (False, 3), (True, 0))
        )
        assert all(b.advance == a.advance + 3 for a, b in zip(plain.glyphs, spaced.glyphs, strict=True))
        rooms = [plain.by_code[ord(d)].advance for d in "0123456789"]
        assert {equal.by_code[ord(d)].advance for d in "0123456789"} == {max(rooms)}
        assert len(set(rooms)) > 1

    def test_kerning_is_kept_or_dropped_and_tabular_digits_have_none(self):
        kept, dropped = made(size_px=40).lettering, made(size_px=40, kerning=False).lettering
        assert kept.width_of("AVATAR") < dropped.width_of("AVATAR")
        assert not [pair for pair in kept.kerning if chr(pair[0]).isdigit() and chr(pair[1]).isdigit()]
        narrow = made(face="narrow", size_px=80).lettering.kerning  # ".0" lies 38, "11" 17 and "21" 27 thousandths nearer
        assert (narrow[ord("."), ord("0")], (ord("1"), ord("1")) in narrow, (ord("2"), ord("1")) in narrow) == (-3, False, False)

    def test_a_font_without_a_blank_gets_one_and_no_box(self):
        result = made(Sources(PITCH, (made_font(), "square.ttf")), face="file", preset="none", more="A B", size_px=20)
        space = result.lettering.by_code[0x20]
        assert (space.width, space.advance, [m.code for m in result.missing]) == (0, 5, [ord("B")])

    def test_grey_of_a_pixel_font_is_taken_at_the_depth_asked_for(self):
        """Levels 0 to 3 of two bits: at one bit 2 and 3 are ink; at four bits they are 0, 5, 10 and 15."""
        grey = (
            "STARTFONT 2.1\nFONT grey\nSIZE 8 75 75 2\nFONTBOUNDINGBOX 4 1 0 0\nCHARS 1\nSTARTCHAR A\nENCODING 65\nDWIDTH 5 0\n"
            "BBX 4 1 0 0\nBITMAP\n6D\nENDCHAR\nENDFONT\n"
        )
        plan = {"face": "file", "preset": "all", "size_px": 4}
        sources = Sources(PITCH, (grey.replace("BBX 4 1", "BBX 4 1").encode(), "grey.bdf"))
        one, four = (made(sources, bits=bits, **plan).lettering for bits in (1, 4))
        # 6D is 01 10 11 01: levels 1, 2, 3, 1; enlarged four times.
        assert one.glyphs[0].levels[0].tolist() == [1] * 8
        assert four.glyphs[0].levels[0].tolist() == [5] * 4 + [10] * 4 + [15] * 4 + [5] * 4

    def test_pictures_in_place_of_letters_are_not_kerned(self):
        ink = np.ones((9, 4), bool)
        cells = {("strip-4", "V"): Cell("V", ink.astype(np.uint8), ink, 0, 9, 5)}
        plain = made(size_px=40)
        drawn = made(Sources(PITCH, None, (), cells), size_px=40, pictures=[{"code": ord("V"), "source": "strip-4", "cell": "V"}])
        assert plain.lettering.kern(ord("A"), ord("V")) < 0
        assert drawn.lettering.kern(ord("A"), ord("V")) == 0
        assert drawn.lettering.kern(ord("T"), ord("o")) == plain.lettering.kern(ord("T"), ord("o"))

    def test_lines_without_height_are_refused(self):
        flat = made_font(without="OS/2", ascent=0)
        plan = {"face": "file", "preset": "none", "more": " "}
        with pytest.raises(BadValueError, match="Square has lines of 0 px; 1 to 2,048 px can be drawn"):
            made(Sources(PITCH, (flat, "flat.ttf")), **plan)

    def test_metrics_that_lead_far_off_are_refused(self):
        far = (
            "STARTFONT 2.1\nFONT far\nSIZE 8 75 75\nFONTBOUNDINGBOX 3 2 0 0\nCHARS 1\nSTARTCHAR A\nENCODING 65\nDWIDTH 900000 0\n"
            "BBX 3 2 0 0\nBITMAP\nA0\n40\nENDCHAR\nENDFONT\n"
        )
        with pytest.raises(BadValueError, match="far.bdf reaches 7,200,000 px from its pen; up to 2,048 px are drawn"):
            made(Sources(PITCH, (far.encode(), "far.bdf")), face="file", preset="all")

    def test_an_own_font_is_taken_and_a_missing_one_told(self):
        assert made(Sources(PITCH, (made_font(), "square.ttf")), face="file", preset="all").lettering.name == "square.ttf 16 px"
        with pytest.raises(BadValueError, match="no font file of its own"):
            made(face="file")


places = st.tuples(st.integers(-3, 12), st.integers(-4, 14))


class TestTouch:
    @given(st.lists(st.lists(places, min_size=1, max_size=6), max_size=5), st.integers(-3, 3), st.integers(-3, 3))
    def test_pixels_set_and_cleared_are_what_is_seen(self, strokes, dx, dy):
        plain = made(preset="none", more="R").lettering.glyphs[0]
        touch = replace(GlyphEdit(plain.code, 16.0), shift_x=dx, shift_y=dy)
        seen = {(plain.left + x + dx, plain.top - 1 - y + dy) for y, x in np.argwhere(plain.levels)}
        for number, stroke in enumerate(strokes):
            level = 15 * (number % 2 == 0)
            touch = with_pixels(touch, plain, stroke, level, 1)
            seen = seen | set(stroke) if level else seen - set(stroke)
        glyph = edited(plain, touch, 1)
        assert {(glyph.left + x, glyph.top - 1 - y) for y, x in np.argwhere(glyph.levels)} == seen

    def test_drawing_back_leaves_nothing_behind(self):
        plain = made(preset="none", more="R").lettering.glyphs[0]
        stroke = [(20, 3), (1, 2)]
        there = with_pixels(GlyphEdit(plain.code, 16.0), plain, stroke, 15, 1)
        assert with_pixels(there, plain, stroke, 0, 1).pixels in ((), ((1, 2, 0),))
        assert not there.is_empty

    def test_touch_ups_survive_regeneration_and_are_set_aside_at_another_size(self):
        plan = LetteringPlan().with_edit(GlyphEdit(ord("A"), 16.0, pixels=((30, 2, 15),), advance=2))
        before = make(plan, Sources(PITCH)).lettering.by_code[ord("A")]
        for change in ({"preset": "western"}, {"spacing": 1}, {"mode": "light"}, {"bits": 4}):
            result = make(plan.with_changes(**change), Sources(PITCH))
            glyph = result.lettering.by_code[ord("A")]
            assert result.edited == {ord("A")}
            assert glyph.right == 31
            assert glyph.levels[glyph.top - 3, -1] == result.lettering.full
        assert before.advance == make(LetteringPlan(), Sources(PITCH)).lettering.by_code[ord("A")].advance + 2
        other = make(plan.with_changes(size_px=20), Sources(PITCH))
        assert (other.edited, other.set_aside) == (frozenset(), (ord("A"),))
        back = make(plan.with_changes(size_px=20).with_changes(size_px=16), Sources(PITCH)).lettering.by_code[ord("A")]
        assert back.same_as(before)

    def test_a_plan_survives_its_saved_form(self):
        plan = LetteringPlan().with_edit(GlyphEdit(65, 16.0, 1, -1, 0, ((3, 4, 15),)))
        assert lettering_plan(from_record(plan)) == plan


class TestPictures:
    def test_cells_become_letters(self):
        ink = np.array([[1, 1], [1, 0], [1, 1]], bool)
        cell = Cell("7", ink.astype(np.uint8), ink, 1, 3, 5)
        sources = Sources(PITCH, None, (), {("strip-4", "7"): cell})
        uses = [{"code": 0xE000, "source": "strip-4", "cell": "7"}, {"code": 0xE001, "source": "strip-4", "cell": "gone"}]
        result = made(sources, face="pictures", preset="none", pictures=uses, bits=2)
        (glyph,) = result.lettering.glyphs
        assert (glyph.levels.tolist(), glyph.left, glyph.top, glyph.advance) == ([[3, 3], [3, 0], [3, 3]], 1, 3, 5)
        assert result.unknown_cells == ("gone",)
        assert (result.lettering.ascent, result.lettering.descent) == (3, 0)

    def test_names_become_code_points(self):
        assert proposed_codes(("0", "minus", "slack", "0", "ebb")) == (0x30, 0x2D, 0xE000, 0xE001, 0xE002)


class TestShades:
    def test_two_colours_part_at_half(self):
        panel = panels()["epaper-296x128-four-colour"]
        assert shades(panel, 2, 1, 2).tolist() == [1, 1, 2, 2]

    def test_tone_panels_take_the_nearest_level(self):
        panel = panels()["grey-oled-256x64"]
        told = shades(panel, panel.palette.lightest, panel.palette.darkest, 4).tolist()
        assert told == sorted(told)
        assert (told[0], told[-1]) == (panel.palette.darkest, panel.palette.lightest)

    def test_colours_mix_in_light(self):
        """Half of white's light is sRGB 188, not 128."""
        panel = panels()["tft-320x240-touch"]
        told = shades(panel, 0xFFFFFF, 0, 2)
        assert told[:, 0].tolist() == [0, 156, 213, 255]


class TestMeasuring:
    def test_extent_by_hand(self):
        box = np.ones((3, 2), np.uint8)
        lettering = Lettering("two", (Glyph(65, box, -1, 3, 4), Glyph(66, box, 1, 2, 3)), 3, 1, 1, {(65, 66): -1})
        extent = extent_of(lettering, "AB?")
        # A: ink -1..1; B's pen is at 3: ink 4..6.
        assert (extent.pen, extent.left, extent.right, extent.top, extent.bottom, extent.missing) == (6, -1, 6, 3, -1, "?")
        assert (extent.ink_width, extent.room) == (7, 7)

    def test_a_value_in_millimetres_and_minutes(self):
        panel = device(viewing_distance_mm=900)
        lettering = made(Sources(pitch_mm(panel)[1]), face="mono", size_px=20).lettering
        (text,) = parse_texts("{0..99} kn")
        told = measured(text, lettering, panel)
        advance = lettering.by_code[ord("0")].advance
        # "kn" ends within its room: five characters of equal width.
        assert told.extent.pen == 5 * advance
        glass = panel.passport.glass  # it scans upright and lies on its side
        across = glass.height_mm / glass.height_px
        assert told.width_mm == pytest.approx(told.extent.room * across)
        assert told.width_arcmin == pytest.approx(2 * math.degrees(math.atan(told.width_mm / 1800)) * 60)
        assert told.fits_somewhere

    def test_round_glass_gives_the_shorter_chord(self):
        panel = device("tft-240x240-round")
        mask = seen_mask(panel.passport, panel.turn)
        rooms = line_rooms(mask, 40)
        assert len(rooms) == 4
        for room in rooms:
            edge = max(abs(room.y - 120), abs(room.y + 40 - 120))
            assert room.width == pytest.approx(2 * math.sqrt(120**2 - edge**2), abs=3)

    def test_zones_are_places_of_their_own(self):
        spots = spots_of(device("two-zone-oled-128x64"), 12)
        assert [(s.width, s.height) for s in spots] == [(128, 64), (128, 16), (128, 48)]

    def test_lines_and_characters_of_a_pixel_face_by_hand(self):
        table = {face.slug: {c.size_px: c for c in rows} for face, rows in face_table(device("mono-oled-128x64"))}
        small = table["fixed-5x8"][8]
        assert (small.lines, small.letters, small.figures, small.total) == (8, 25, 25, 200)
        assert 12 not in table["fixed-5x8"]
        assert table["narrow"][16].letters > table["sans"][16].letters

    def test_running_text_is_broken_at_blanks_and_long_words_where_the_glass_ends(self):
        lettering = made(face="fixed-5x8", size_px=8).lettering
        levels = lay_out(lettering, np.ones((32, 52), bool), ["low tide", "aaaaaaaaaaaa"], breaks=True)
        told = lay_out(lettering, np.ones((32, 52), bool), ["low tide", "aaaaaaaaaa", "aa"])
        assert np.array_equal(levels, told)

    def test_lines_lie_one_under_the_other(self):
        lettering = made(face="fixed-6x13", size_px=13).lettering
        levels = lay_out(lettering, np.ones((40, 100), bool), ["H", "H"])
        assert np.array_equal(levels[:13], levels[13:26])
        assert not levels[26:].any()


AT_ODDS = {"lettering.no-size-serves", "lettering.text-too-wide", "lettering.too-small-to-read"}


class TestFindings:
    def test_a_good_lettering_has_none(self):
        panel = device(viewing_distance_mm=600)
        assert found(panel, "Tide {0.0..9.9} m", preset="screens", size_px=24, face="sans") == {}

    def test_findings_do_not_chase_each_other(self):
        """From 2 m no size both fits and reads: one finding says so, with the distance at which what fits would read."""
        panel, text = device(viewing_distance_mm=2000), "High water in {0..23} h"
        for size in (10, 14, 40, 104):
            told = found(panel, text, preset="screens", size_px=size, face="sans")
            assert [id_ for id_ in told if id_ in AT_ODDS] == ["lettering.no-size-serves"], size
        finding = told["lettering.no-size-serves"]
        fits = int(re.search(r"fit up to (\d+) px", finding.what)[1])
        metres = float(re.search(r"reading from (\d+\.\d) m", finding.why)[1])
        near = device(viewing_distance_mm=metres * 1000 - 60)
        assert not AT_ODDS & found(near, text, preset="screens", size_px=fits, face="sans").keys()
        assert found(near, text, preset="screens", size_px=fits * 2, face="sans").keys() & AT_ODDS == {"lettering.text-too-wide"}

    @pytest.mark.parametrize(
        ("id_", "changes", "texts"),
        [
            ("lettering.characters-missing", {"more": "Ж漢"}, ""),
            ("lettering.characters-missing", {"face": "segments", "preset": "digits", "more": "×"}, ""),
            ("lettering.too-small-to-read", {"size_px": 8}, ""),
            ("lettering.text-too-wide", {"size_px": 60}, "Water {0..23} h"),
            ("lettering.low-contrast", {"ink": 1, "ground": 3}, ""),
            ("lettering.digits-jump", {"tabular": False}, "{0..99}"),
            ("lettering.levels-not-on-panel", {"bits": 4}, ""),
            ("lettering.never-shown", {"preset": "western", "size_px": 24}, "Tide {0..9}"),
            ("lettering.letters-touch", {"spacing": -2, "face": "sans"}, "rnrn"),
            ("lettering.no-ink", {"mode": "plain", "threshold": 1.0, "size_px": 6}, ""),
        ],
    )
    def test_each_is_found_and_its_fix_mends_it(self, id_, changes, texts):
        panel = device(viewing_distance_mm=900)
        finding = found(panel, texts, **changes)[id_]
        assert any(c.isdigit() for c in finding.what)
        assert id_ != "lettering.levels-not-on-panel" or finding.what == "Of 16 levels this panel shows 2 between these colours"
        if finding.fix:
            for _ in range(8):  # a step may be one of several
                changes = changes | finding.fix.changes
                finding = found(panel, texts, **changes).get(id_)
                if finding is None or finding.fix is None:
                    break
            assert finding is None or id_ == "lettering.characters-missing"

    def test_touches_of_another_size_are_told_and_the_way_back(self):
        touches = [from_record(GlyphEdit(65, 20.0, 1))]
        finding = found(device(), glyph_edits=touches)["lettering.edits-set-aside"]
        assert finding.fix.changes == {"size_by": "pixels", "size_px": 20}
        assert "lettering.edits-set-aside" not in found(device(), glyph_edits=touches, **finding.fix.changes)

    def test_a_font_that_may_not_be_embedded(self):
        sources = Sources(PITCH, (made_font(fs_type=2), "square.ttf"))
        assert (
            "must not be embedded"
            in found(device(), "", sources, face="file", preset="all")["lettering.embedding-not-allowed"].what
        )

    def test_gone_pictures(self):
        ink = np.ones((9, 4), bool)
        sources = Sources(PITCH, None, (), {("strip-4", "7"): Cell("7", ink.astype(np.uint8), ink, 0, 9, 5)})
        uses = [{"code": 55, "source": "strip-4", "cell": "7"}, {"code": 0xE001, "source": "strip-4", "cell": "gone"}]
        finding = found(device(), "", sources, face="pictures", preset="none", pictures=uses)["lettering.pictures-gone"]
        assert finding.fix.changes["pictures"] == [uses[0]]
        assert "1 picture used as letters is gone: " in finding.what

    def test_alike_letters_are_named(self):
        twins = [
            from_record(GlyphEdit(ord(c), 16.0, pixels=tuple((x, y, 15) for x in range(14) for y in range(-5, 16)), advance=9))
            for c in "OD"
        ]
        told = found(device(), preset="none", more="ODQ", face="fixed-5x8", glyph_edits=twins)
        assert "lettering.look-alike" in told
        assert "DO" in told["lettering.look-alike"].what
