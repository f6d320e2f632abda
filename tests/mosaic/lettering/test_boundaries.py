"""Letterings at their boundaries: the ends of character sets and of Unicode, a font without a blank, pairs among other rules."""

import io
import re
from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest
from fontTools.feaLib.builder import addOpenTypeFeaturesFromString
from fontTools.ttLib import TTFont, newTable
from fontTools.ttLib.tables._k_e_r_n import KernTable_format_0

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.lettering.bdf import read_bdf, write_bdf
from mosaic.lettering.beginning import sizes_compared, ways_compared
from mosaic.lettering.c_reader import c_header, character_name
from mosaic.lettering.characters import PRESETS, _ranges
from mosaic.lettering.coverage import plain_counterpart
from mosaic.lettering.faces import FACES
from mosaic.lettering.files import sheet_cells
from mosaic.lettering.glyph import MOST_REACH_PX, Glyph, Lettering, blank, check_reach
from mosaic.lettering.kerning import kerning_units
from mosaic.lettering.making import Sources, _tabular
from mosaic.lettering.measure import Fit, Spot, capacity_of, extent_of, face_table, spots_of, widths_of
from mosaic.lettering.outline import Style, rasterised
from mosaic.lettering.packing import pack
from mosaic.lettering.pictures import glyph_of_cell
from mosaic.lettering.plan import GlyphEdit, LetteringPlan, lettering_plan, scaled
from mosaic.lettering.segment_face import segment_font
from mosaic.lettering.shades import Room, broken, contrast_of, lay_out, line_rooms, seen_mask, shades, usual_colors, valid_color
from mosaic.lettering.sizing import Size, size_of
from mosaic.lettering.source import MOST_UNFOLDED, font_info
from mosaic.lettering.texts import parse_texts
from mosaic.strips.cells import Cell
from tests.mosaic.lettering.letters import TEXT_FACE, as_ttf, face
from tests.mosaic.lettering.test_fonts import made_font
from tests.mosaic.lettering.test_making import PITCH, device, made


@pytest.mark.parametrize(("name", "count", "first", "last"), [
    # 0x20 to 0x7E are 95; 0xA0 to 0xFF 96, less the soft hyphen; Greek lacks three of 71; controls and unassigned ones do not count.
    ("digits", 10, "0", "9"), ("numbers", 19, " ", "/"), ("basic", 95, " ", "~"), ("western", 190, " ", "ÿ"), ("european", 323, " ", "€"),
    ("greek", 102, " ", "ώ"), ("cyrillic", 130, " ", "ґ"), ("arrows", 266, "←", "◿"),
])  # fmt: skip
def test_sets_of_characters(name, count, first, last):
    characters = PRESETS[name].characters
    assert (len(characters), characters[0], characters[-1]) == (count, first, last)
    assert ("\xa0" in characters) == (name in ("western", "european"))


def test_the_last_code_point():
    assert lettering_plan({"left_out": "", "replacements": [{"code": 0x10FFFF, "by": 65}]}).replacements[0].code == 0x10FFFF
    with pytest.raises(BadDescriptionError):
        lettering_plan({"replacements": [{"code": 0x110000, "by": 65}]})


def test_pictures_alone_bring_no_blank():
    cell = Cell("7", np.ones((2, 2), np.uint8), np.ones((2, 2), bool), 0, 2, 3)
    uses = [{"code": 0x37, "source": "strip-4", "cell": "7"}]
    result = made(Sources(PITCH, None, (), {("strip-4", "7"): cell}), face="pictures", preset="none", more="7 ", pictures=uses)
    assert [glyph.code for glyph in result.lettering.glyphs] == [0x37]
    assert 0x20 in [one.code for one in result.missing]


def test_a_cell_that_leads_back_does_not_move_the_pen():
    cell = Cell("x", np.ones((1, 1), np.uint8), np.ones((1, 1), bool), 2, 5, -4)
    glyph = glyph_of_cell(cell, 65, 3)
    assert (glyph.advance, glyph.left, glyph.top, glyph.levels.tolist()) == (0, 2, 5, [[3]])


def test_pairs_are_taken_from_rules_of_pairs_alone():
    """A kern feature that also moves a letter by itself."""
    rules = "feature kern { lookup one { pos A 20; } one; lookup two { pos A V -50; pos T o 7; } two; } kern;"
    assert _kerned(rules) == {"AV": -50, "To": 7}


@pytest.mark.parametrize("without", ["LookupList", "FeatureList"])
def test_a_font_with_half_of_its_rules_moves_nothing(without):
    font, out = TTFont(io.BytesIO(as_ttf(TEXT_FACE))), io.BytesIO()
    del font["GPOS"]
    addOpenTypeFeaturesFromString(font, "feature kern { pos A V -50; } kern;")
    setattr(font["GPOS"].table, without, None)
    font["head"].unitsPerEm = 2048  # told where nothing was stumbled over
    font.save(out)
    assert kerning_units(out.getvalue(), (ord("A"), ord("V"))) == ({}, 2048)


def test_pairs_of_an_older_table_with_others_beside_them():
    font, out, pairs = TTFont(io.BytesIO(as_ttf(TEXT_FACE))), io.BytesIO(), KernTable_format_0()
    del font["GPOS"]
    pairs.coverage, pairs.kernTable = 1, {("A", "V"): -50, ("A", "W"): -30, ("T", "A"): -20}
    font["kern"] = newTable("kern")
    font["kern"].version, font["kern"].kernTables = 0, [pairs]
    font.save(out)
    assert kerning_units(out.getvalue(), (ord("A"), ord("V")))[0] == {(ord("A"), ord("V")): -50}


def test_how_far_a_glyph_may_reach():
    check_reach([blank(0x20, MOST_REACH_PX)], "wide")
    with pytest.raises(BadValueError):
        check_reach([blank(0x20, MOST_REACH_PX + 1)], "wide")


def test_as_many_glyphs_of_a_bdf_as_are_taken():
    head = "STARTFONT 2.1\nFONTBOUNDINGBOX 1 1 0 0\n"
    glyphs = [f"STARTCHAR x\nENCODING {32 + n}\nDWIDTH 1 0\nBBX 0 0 0 0\nBITMAP\nENDCHAR\n" for n in range(65_537)]
    assert len(read_bdf(f"{head}{''.join(glyphs[1:])}ENDFONT\n".encode()).glyphs) == 65_536
    with pytest.raises(BadDescriptionError, match="more than 65,536 glyphs"):
        read_bdf(f"{head}{''.join(glyphs)}ENDFONT\n".encode())


def _kerned(rules: str) -> dict[str, float]:
    """What pairs of a face are moved by, by rules of its own."""
    font, out = TTFont(io.BytesIO(as_ttf(TEXT_FACE))), io.BytesIO()
    del font["GPOS"]
    addOpenTypeFeaturesFromString(font, rules)
    font.save(out)
    return {chr(a) + chr(b): by for (a, b), by in kerning_units(out.getvalue(), tuple(range(0x21, 0x7F)))[0].items() if by}


def test_a_table_of_classes_decides_for_all_its_first_glyphs():
    """What stands behind it in the same lookup changes its own first glyphs no more."""
    rules = "pos [A T] [V W] -30; subtable; pos [A L] [Y] -20;"
    assert _kerned(f"feature kern {{ lookup one {{ {rules} }} one; }} kern;") == {
        "AV": -30,
        "AW": -30,
        "TV": -30,
        "TW": -30,
        "LY": -20,
    }


def test_a_font_of_as_many_bytes_as_are_taken():
    for more, words in ((0, "is no font"), (1, "fonts up to 16 MiB")):
        with pytest.raises((BadDescriptionError, BadValueError), match=words):
            font_info(bytes(16 * 2**20 + more), "large.ttf")


def test_a_web_font_may_unfold_to_as_much_as_is_taken():
    for more, behind, is_taken in ((0, b"", True), (0, bytes(4), True), (1, b"", False), (1, bytes(4), False)):
        head = b"wOFF" + bytes(12) + (MOST_UNFOLDED + more).to_bytes(4, "big") + behind
        with pytest.raises(BadDescriptionError) as refused:
            font_info(head, "large.woff")
        assert ("unfolds to 64 MiB; up to 64 MiB" in str(refused.value)) is not is_taken


def test_widths_of_the_faces_of_segments():
    """A bar is 0.19 of 460 units: 87; a point takes three of them."""
    font = TTFont(io.BytesIO(segment_font()))
    widths = {character: font["hmtx"][font.getBestCmap()[ord(character)]][0] for character in ".:8° "}
    assert font["hmtx"]["u0020"] == (560, 0)
    assert widths == {".": 261, ":": 261, "8": 560, "°": 560, " ": 560}


def test_what_a_header_says_of_its_glyphs():
    for box, words in (("cropped", "Glyphs cropped to their ink"), ("cell", "Glyphs in cells of one size")):
        assert words in c_header(pack(face(), box)).decode()


def test_a_bdf_of_nothing_has_a_box_of_one_pixel():
    lines = write_bdf(Lettering("Nothing", (), 6, 2, 1)).decode().splitlines()
    assert "FONTBOUNDINGBOX 1 8 0 -2" in lines


@pytest.mark.parametrize(("slug", "name", "ways"), [
    ("mono-oled-128x64", "fixed-6x13", [("hinted", 1)]), ("mono-oled-128x64", "sans", [("hinted", 1), ("plain", 1), ("light", 1)]),
    ("tft-128x128", "sans", [("hinted", 1), ("plain", 1), ("light", 1), ("light", 2), ("light", 4)]),
])  # fmt: skip
def test_ways_worth_comparing(slug, name, ways):
    panel = device(slug)
    ink, ground = usual_colors(panel.passport)
    plan = LetteringPlan(ink=ink, ground=ground, mode="hinted", bits=1)
    assert ways_compared(plan, panel, font_info(FACES[name].data)) == ways


def test_sizes_worth_comparing():
    """Up to 0.7 of the height, the one in use among them; steps of a pixel face that fit."""
    panel = SimpleNamespace(size=(128, 40))
    assert sizes_compared(panel, font_info(FACES["sans"].data), 33.2) == [8, 10, 12, 14, 16, 18, 20, 24, 28, 33]
    native = font_info(FACES["fixed-6x13"].data)
    assert (sizes_compared(panel, native, 13), sizes_compared(SimpleNamespace(size=(128, 39)), native, 13)) == (
        [13, 26, 39],
        [13, 26, 39],
    )
    assert sizes_compared(SimpleNamespace(size=(128, 38)), native, 13) == [13, 26]


def test_a_line_without_ink_reaches_nowhere():
    lettering = Lettering("Blanks", (blank(0x20, 5),), 6, 2)
    extent = extent_of(lettering, "  x")
    assert (extent.pen, extent.left, extent.right, extent.top, extent.bottom, extent.room, extent.missing) == (
        10,
        0,
        0,
        0,
        0,
        10,
        "x",
    )
    assert (lettering.bits, lettering.capital, lettering.x_height) == (1, 0, 0)


def test_bolder_letters_grow_to_both_sides():
    """A stem of two pixels more, one of them at either side."""
    plain, bold = (rasterised(TEXT_FACE, 40, (0x49,), Style("plain", weight=weight)).glyphs[0] for weight in (0, 2))
    assert (bold.left - plain.left, bold.width - plain.width, bold.top - plain.top) == (-1, 2, 1)
    assert bold.advance == plain.advance + 2


@pytest.mark.parametrize(("edit", "is_taken"), [
    ({"pixels": [[3, 4, 0]]}, True), ({"pixels": [[3, 4, 15]]}, True), ({"pixels": [[3, 4, 16]]}, False), ({"pixels": [[3, 4, -1]]}, False),
    ({"pixels": [[512, -512, 1]]}, True), ({"pixels": [[513, 0, 1]]}, False), ({"pixels": [[0, -513, 1]]}, False),
    ({"shift_x": -64, "shift_y": 64}, True), ({"shift_x": -65}, False), ({"shift_y": 65}, False),
])  # fmt: skip
def test_how_far_a_glyph_may_be_changed(edit, is_taken):
    told = {"glyph_edits": [{"code": 65, "em_px": 16.0, **edit}]}
    if is_taken:
        assert lettering_plan(told).glyph_edits
    else:
        with pytest.raises(BadDescriptionError):
            lettering_plan(told)


def test_lines_on_round_glass():
    """240 rows hold four lines of 50 with 20 to spare above; the chord through the centres of row 20 is
    2 x sqrt(120^2 - 99.5^2) = 134.2 px long."""
    rooms = line_rooms(seen_mask(device("tft-240x240-round").passport, 0), 50)
    assert [room.y for room in rooms] == [20, 70, 120, 170]
    assert (rooms[0].width, rooms[3].width) == (134, 134)
    assert rooms[1].width == rooms[2].width > 216


def test_a_font_that_says_nothing_of_its_use_is_open():
    assert font_info(made_font(without="OS/2"), "square.ttf").permission.level == "open"


def test_pictures_without_a_face_have_capitals_of_usual_share():
    """14 rows of capitals at 0.7 of the em."""
    cell = Cell("7", np.ones((2, 2), np.uint8), np.ones((2, 2), bool), 0, 2, 3)
    uses = [{"code": 0x37, "source": "strip-4", "cell": "7"}]
    sources = Sources(PITCH, None, (), {("strip-4", "7"): cell})
    result = made(sources, face="pictures", preset="none", pictures=uses, size_by="capital", capital_mm=PITCH * 14)
    assert result.size.em_px == 20


@pytest.mark.parametrize(("size_by", "size_px", "scale", "meant"), [
    ("pixels", 20, 1.0, 20), ("pixels", 20, 1.5, 30), ("pixels", 21, 1.5, 32), ("pixels", 21, 1.26, 26), ("pixels", 5, 0.5, 4), ("pixels", 200, 2.0, 256), ("distance", 20, 1.5, 20),
])  # fmt: skip
def test_letters_for_a_larger_panel(size_by, size_px, scale, meant):
    assert scaled(LetteringPlan(size_by=size_by, size_px=size_px), scale).size_px == meant


@pytest.mark.parametrize(("words", "count"), [
    ("U+0041-U+005A", 26), ("U+0041", 1), ("41-43", 3), ("U+10FFFF", 1), ("U+110000", None), ("U+005A-U+0041", None), ("U+4E00-U+9FFF", None), ("Q", None),
    ("U+1000-U+1FFF", 4096), ("U+1000-U+2000", None),
])  # fmt: skip
def test_ranges_of_code_points(words, count):
    if count is not None:
        assert len(_ranges([words])) == count
        return
    with pytest.raises(BadValueError, match=re.escape(repr(words))):
        _ranges([words])


@pytest.mark.parametrize(
    ("code", "name"),
    [(0x41, "A"), (0x7E, "~"), (0x7F, "U+007F"), (0xB0, "U+00B0"), (0x2A, "U+002A"), (0x20, " "), (0x1F, "U+001F")],
)
def test_characters_in_a_comment(code, name):
    assert character_name(code) == name


def test_cells_of_a_sheet():
    """A pixel of ground around each; the pen of a letter that hangs over at the left is moved along."""
    hanging = Glyph(0x6A, np.ones((3, 4), np.uint8), -2, 3, 2)
    width, height, pens = sheet_cells(Lettering("Two", (hanging, blank(0x6B, 5)), 6, 2))
    assert (width, height, pens) == (2 * (5 + 2 + 2), 10, [(3, 7), (12, 7)])


@pytest.mark.parametrize(("spare_px", "spare_rows", "fits"), [(0, 0, True), (-1, 0, False), (0, -1, False)])
def test_what_just_fits(spare_px, spare_rows, fits):
    assert Fit(Spot("the glass", 128, 64), spare_px, spare_rows).fits is fits


@pytest.mark.parametrize(("slug", "height", "spots"), [
    ("mono-oled-128x64", 20, [("across the glass", 128, 64)]), ("mono-oled-128x64", 65, [("the glass", 128, 64)]),
    ("two-zone-oled-128x64", 12, [("across the glass", 128, 64), ("in the zone of rows 0 to 15", 128, 16), ("in the zone of rows 16 to 63", 128, 48)]),
    ("tft-240x240-round", 50, [("across its middle", 234, 240), ("on its first line", 134, 50)]),
])  # fmt: skip
def test_where_a_line_can_stand(slug, height, spots):
    assert [(spot.name, spot.width, spot.height) for spot in spots_of(replace(device(slug), rotation=0), height)] == spots


def test_zones_of_a_panel_that_stands():
    """Turned clockwise its upper 16 rows are the columns at the right."""
    spots = spots_of(replace(device("two-zone-oled-128x64"), rotation=90), 12)
    assert [spot.name for spot in spots[1:]] == ["in the zone of columns 0 to 47", "in the zone of columns 48 to 63"]


@pytest.mark.parametrize(
    ("slug", "ink", "ground"), [("epaper-200x200-black-white", "black", "white"), ("mono-oled-128x64", "lit", "dark")]
)
def test_usual_colours(slug, ink, ground):
    names = device(slug).passport.palette.names
    assert [names[number] for number in usual_colors(device(slug).passport)] == [ink, ground]


def test_a_colon_of_segments_stands_at_its_heights():
    """Bars of 87 units, their upper edges at 0.28 and 0.62 of 720 from the top: 518 and 274 above the baseline."""
    colon = TTFont(io.BytesIO(segment_font()))["glyf"]["u003A"]
    assert (colon.yMax, colon.yMin, colon.xMax) == (518, 274 - 87, 174)
    assert colon.xMin == 70  # the lower one leans by a fifth of itself


@pytest.mark.parametrize(("value", "taken"), [(1, 1), (2, 0)])
def test_a_colour_that_this_panel_has(value, taken):
    assert valid_color(device("mono-oled-128x64").passport, value, 0) == taken


WORDS = Lettering("Words", (blank(0x20, 5), Glyph(0x48, np.ones((6, 4), np.uint8), 0, 6, 5)), 6, 2)


def test_digits_in_equal_room_stand_in_its_middle():
    """Of 9 columns a figure of 4 leaves five, two of them before it."""
    found = _tabular(
        {code: Glyph(code, np.ones((6, 2), np.uint8), 1, 6, room) for code, room in ((0x31, 4), (0x38, 9), (0x41, 3))}
    )
    assert {code: (one.left, one.advance) for code, one in found.items()} == {0x31: (3, 9), 0x38: (1, 9)}


def test_a_line_stands_in_the_middle_of_its_room():
    """Of 21 columns one is hidden; 20 less the 5 of a letter, halved, are 7."""
    mask = np.ones((16, 21), bool)
    mask[0, 0] = False
    ink = np.argwhere(lay_out(WORDS, mask, ["H"]))
    assert (ink.min(axis=0).tolist(), ink.max(axis=0).tolist()) == ([0, 8], [5, 11])


def test_each_line_is_as_long_as_its_own_room():
    rooms = [Room(0, 8 * n, width, 8) for n, width in enumerate((12, 27, 12))]
    assert broken(WORDS, "H H H H H H", rooms) == ["H", "H H H", "H"]
    assert broken(WORDS, "H H H H", [replace(room, width=26) for room in rooms]) == ["H H", "H H"]


@pytest.mark.parametrize(("characters", "held"), [("08", (8, 0, 25, 0)), ("en", (8, 25, 0, 200)), ("0e", (8, 25, 25, 200))])
def test_what_a_lettering_lacks_is_held_nowhere(characters, held):
    """Advances of 5 px on 128 x 64, lines of 8."""
    lettering = Lettering("Some", tuple(blank(ord(one), 5) for one in characters), 6, 2)
    panel = replace(device("mono-oled-128x64"), rotation=0)
    found = capacity_of(widths_of(lettering), 8, panel, seen_mask(panel.passport, 0))
    assert (found.lines, found.letters, found.figures, found.total) == held


def test_sizes_that_are_shown():
    """An outline has them all; a face of 13 rows whole multiples."""
    table = {face.slug: [one.size_px for one in rows] for face, rows in face_table(device("tft-800x480-parallel"))}
    assert table["sans"] == [8, 10, 12, 13, 14, 16, 18, 20, 24, 26, 32, 40, 48]
    assert table["fixed-6x13"] == [13, 26]


def test_a_pixel_covered_by_just_the_threshold_is_ink():
    assert rasterised(TEXT_FACE, 40, (0x49,), Style("plain", threshold=1.0)).glyphs[0].levels.any()


def test_sizes_in_pixels():
    """Outlines take any; a face of pixels of 13 rows whole multiples of it, the nearest one."""
    for name, size_px, size in (
        ("sans", 20, Size(20.0, 1)),
        ("fixed-6x13", 19, Size(13.0, 1)),
        ("fixed-6x13", 20, Size(26.0, 2)),
    ):
        assert size_of(LetteringPlan(size_by="pixels", size_px=size_px), font_info(FACES[name].data), PITCH, 500.0) == size


def test_as_many_texts_as_are_taken():
    assert len(parse_texts("Ebb\n" * 100)) == 100
    with pytest.raises(BadValueError, match="101 lines; up to 100"):
        parse_texts("Ebb\n" * 101)


@pytest.mark.parametrize(("slug", "ink", "ground", "meant"), [
    # A third and two thirds of the light are 156 and 213 of sRGB: 1.055 x (1/3)^(1/2.4) - 0.055.
    ("tft-128x128", 0xFFFFFF, 0, [[0] * 3, [156] * 3, [213] * 3, [255] * 3]), ("tft-128x128", 0xFF0000, 0xFF, [[0, 0, 255], [156, 0, 213], [213, 0, 156], [255, 0, 0]]),
    # Steps of fifteenths to the power of 2.2: the ninth is 0.325, the twelfth 0.612, the one behind it 0.73.
    ("grey-oled-256x64", 15, 0, [0, 9, 12, 15]), ("mono-oled-128x64", 1, 0, [0, 0, 1, 1]), ("mono-oled-128x64", 0, 1, [1, 1, 0, 0]), ("epaper-200x200-three-colour", 2, 1, [1, 1, 2, 2]),
])  # fmt: skip
def test_what_each_level_is_on_a_panel(slug, ink, ground, meant):
    assert shades(device(slug).passport, ink, ground, 2).tolist() == meant


def test_lines_of_the_face_of_segments():
    """60 of 1,000 units above and below its figures, in both tables that programs ask."""
    font = TTFont(io.BytesIO(segment_font()))
    told = font["OS/2"]
    assert (told.sTypoAscender, told.sTypoDescender, told.usWinAscent, told.usWinDescent, told.sCapHeight) == (
        780,
        -60,
        780,
        60,
        720,
    )
    assert (font["hhea"].ascent, font["hhea"].descent) == (780, -60)


@pytest.mark.parametrize(
    ("first", "second", "ratio"), [(0xFFFFFF, 0, 21), (0, 0xFFFFFF, 21), (0x777777, 0xFFFFFF, 4.48), (0x336699, 0x336699, 1)]
)
def test_contrast_of_two_colours(first, second, ratio):
    """Black and white as WCAG has them; its well-known grey just misses 4.5."""
    assert contrast_of(device("tft-128x128").passport, first, second) == pytest.approx(ratio, abs=0.005)


@pytest.mark.parametrize(
    ("bits", "level"), [(1, "restricted"), (3, "restricted"), (12, "editable"), (6, "preview"), (0x10, "open")]
)
def test_the_least_restrictive_permission_counts(bits, level):
    assert font_info(made_font(bits), "square.ttf").permission.level == level


@pytest.mark.parametrize(("text", "is_read"), [
    ("{0..999999999}", True), ("{0..9999999999}", False), ("{0.0..99999999.9}", True), ("{0.0..999999999.9}", False),
    ("{-99999999.9..0}", True), ("{-999999999.9..0}", False), ("{7..7}", True), ("{8..7}", False),
])  # fmt: skip
def test_how_many_digits_a_value_has(text, is_read):
    if is_read:
        assert len(parse_texts(text)) == 1
        return
    with pytest.raises(BadValueError, match="nine digits|lower bound"):
        parse_texts(text)


@pytest.mark.parametrize(("code", "has", "by"), [
    ("\u2019", "'", "'"), ("\u201c", '"', '"'), ("\u2013", "-", "-"), ("\u00d7", "xX", "x"), ("\u00df", "sS", "s"), ("\u0142", "lL", "l"), ("\u20ac", "E", "E"),
    ("\u00b0", "o", "o"), ("\u00b5", "u", "u"), ("\u202f", " ", " "), ("\u00e9", "e", "e"), ("A", "a", "a"), ("\u2019", '"', ""), ("B", "b", "b"), ("b", "c", ""),
])  # fmt: skip
def test_what_could_stand_for_a_character(code, has, by):
    assert plain_counterpart(ord(code), frozenset(map(ord, has))) == (ord(by) if by else 0)


@pytest.mark.parametrize(
    ("how", "em_px"), [({"size_by": "capital", "capital_mm": 0.8}, 8), ({"size_by": "distance", "arc_minutes": 16.0}, 16)]
)
def test_a_pixel_face_by_capitals_and_by_distance(how, em_px):
    """8 rows of 0.1 mm; 16' at 170 mm are 0.79 mm. A face of 6 rows comes nearest with them once, and reaches them twice."""
    info = replace(font_info(FACES["fixed-5x8"].data), capital=6 / 8)
    assert size_of(LetteringPlan(**how), info, 0.1, 170.0).em_px == em_px


def test_what_was_changed_by_hand_on_a_glyph():
    edits = (GlyphEdit(65, 16.0, 1), GlyphEdit(66, 16.0, 2), GlyphEdit(65, 20.0, 3))
    plan = LetteringPlan(glyph_edits=edits)
    assert [plan.edit_of(*glyph).shift_x for glyph in ((65, 16.0), (66, 16.0), (65, 20.0), (66, 20.0), (67, 16.0))] == [
        1,
        2,
        3,
        0,
        0,
    ]
