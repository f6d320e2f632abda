"""Segmented figures: every symbol from one drawing and one table."""

import contextlib
import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadPictureError, BadValueError, UnknownNameError
from mosaic.forms import from_record, to_record
from mosaic.panels.loader import catalogue
from mosaic.segments.figure import (
    FigurePlan,
    SymbolRow,
    first_plan,
    rows_of,
    segment_masks,
    symbols_of,
    table_from_text,
    text_of_table,
)
from mosaic.segments.layouts import FOURTEEN, LAYOUTS, SEVEN, _only, polygons
from tests.mosaic.screens.made_up import device

MONO, GREY, TFT = (catalogue()[s] for s in ("mono-oled-128x64", "grey-oled-256x64", "tft-128x160-12bit"))
OWN = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="100" height="50"><rect id="frame-less" width="0" height="0"/>'
    b'<rect id="left" width="50" height="50"/><g transform="translate(50,0)"><path id="right" d="M0 0h50v50h-50z"/></g>'
    b'<rect x="0" y="0" width="100" height="10"/></svg>'
)


def by_name(cells):
    return {cell.name: cell for cell in cells}


class TestSeven:
    PLAN = FigurePlan()
    CELLS = by_name(symbols_of(PLAN, MONO))

    def test_the_table_says_what_is_known_of_digits(self):
        """The count of lit segments of 0 to 9, as everybody can count on a clock: 6 2 5 5 4 5 6 3 7 6."""
        assert [len(SEVEN.table[str(d)].split()) for d in range(10)] == [6, 2, 5, 5, 4, 5, 6, 3, 7, 6]

    def test_lit_segments_are_those_of_a_clock(self):
        """Told by where they are not: a 2 has neither the upper left nor the lower right, a 5 the other two."""
        everything = set("abcdefg")
        missing = {str(d): "".join(sorted(everything - set(SEVEN.table[str(d)].split()))) for d in range(10)}
        assert missing == {
            "0": "g", "1": "adefg", "2": "cf", "3": "ef", "4": "ade", "5": "be", "6": "b", "7": "defg", "8": "", "9": "e",
        }  # fmt: skip

    def test_eight_is_all_of_it_and_no_two_digits_are_alike(self):
        digits = [self.CELLS[str(d)].pixels for d in range(10)]
        assert all((digits[8] >= digit).all() for digit in digits)
        assert len({d.tobytes() for d in digits}) == 10

    def test_segments_lie_where_their_names_say(self):
        masks = segment_masks(self.PLAN)
        centre = {name: np.argwhere(mask).mean(axis=0) for name, mask in masks.items()}
        assert centre["a"][0] < centre["g"][0] < centre["d"][0]
        assert centre["f"][1] < centre["g"][1] < centre["b"][1] < centre["point"][1]
        assert centre["b"][0] < centre["c"][0]
        assert abs(centre["e"][1] - centre["f"][1]) < 0.01
        total = sum(mask.astype(int) for mask in masks.values())
        assert total.max() == 1  # with a gap, no two share a pixel

    def test_one_change_remakes_all(self):
        thick = by_name(symbols_of(FigurePlan(thickness=0.25), MONO))
        assert all(not np.array_equal(thick[name].pixels, cell.pixels) for name, cell in self.CELLS.items())
        assert thick["8"].pixels.sum() > self.CELLS["8"].pixels.sum()

    def test_leaning_figures_stay_in_their_box(self):
        upright, leaning = (segment_masks(FigurePlan(width=40, slant_deg=s))["f"] for s in (0, 12))
        tops = [np.argwhere(mask)[:8, 1].mean() for mask in (upright, leaning)]
        assert tops[1] > tops[0] + 3
        lit = by_name(symbols_of(FigurePlan(width=40, slant_deg=12), MONO))["8"].pixels
        assert (lit[:, 0].any(), lit[:, 1].any()) == (False, True)
        assert lit[:, -1].sum() <= 4


@pytest.mark.parametrize(
    ("slug", "size", "colors"),
    # Five eighths of the glass's height, and five eighths of that wide; 12 to 96 pixels high.
    [
        ("mono-oled-128x64", (25, 40), (1, 0, 0)), ("mono-oled-96x16", (7, 12), (1, 0, 0)), ("mono-oled-128x32", (12, 20), (1, 0, 0)),
        ("epaper-200x200-black-white", (60, 96), (0, 1, 1)), ("grey-oled-96x96", (37, 60), (15, 0, 0)),
        ("tft-80x160", (60, 96), (0xFFFFFF, 0, 0x303030)), ("color-oled-96x64", (25, 40), (0xFFFFFF, 0, 0x303030)),
    ],
)  # fmt: skip
def test_where_a_figure_begins(slug, size, colors):
    plan = first_plan(device(slug))
    assert (plan.width, plan.height) == size
    assert (plan.lit, plan.ground, plan.faint) == colors


@pytest.mark.parametrize("spacing", [0, 1, 7])
def test_a_symbol_takes_its_width_and_the_space_behind_it(spacing):
    cells = symbols_of(FigurePlan(width=20, height=30, spacing=spacing), MONO)
    assert {cell.advance for cell in cells} == {20 + spacing}
    assert {(cell.dy, cell.pixels.shape) for cell in cells} == {(30, (30, 20))}


def test_fourteen_draws_every_letter_differently():
    cells = by_name(symbols_of(FigurePlan(layout="fourteen", width=40, height=64, thickness=0.12), MONO))
    letters = [cells[chr(c)].pixels.tobytes() for c in range(ord("A"), ord("Z") + 1)]
    assert len(set(letters)) == 26
    # K and the slash, by what they are made of.
    assert set(FOURTEEN.table["K"].split()) == {"e", "f", "g1", "j", "m"}


class TestOwn:
    TABLE = (SymbolRow("L", "left"), SymbolRow("R", "right"), SymbolRow("both", "left right"), SymbolRow("none", ""))
    PLAN = FigurePlan(layout="own", width=20, height=10, table=TABLE)

    def test_named_parts_of_a_drawing_are_its_segments(self):
        cells = by_name(symbols_of(self.PLAN, MONO, ("lamps.svg", OWN)))
        assert cells["L"].pixels.tolist() == [[1] * 10 + [0] * 10] * 10
        assert cells["R"].pixels.tolist() == [[0] * 10 + [1] * 10] * 10
        assert cells["both"].pixels.all()
        assert not cells["none"].pixels.any()

    def test_what_is_wrong_is_told(self):
        with pytest.raises(BadValueError, match="needs a drawing"):
            symbols_of(self.PLAN, MONO)
        with pytest.raises(BadValueError, match="has a name"):
            symbols_of(
                self.PLAN,
                MONO,
                ("x.svg", b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><path d="M0 0h9"/></svg>'),
            )
        with pytest.raises(BadPictureError):
            symbols_of(self.PLAN, MONO, ("x.svg", b"<svg"))
        wrong = FigurePlan(layout="own", table=(SymbolRow("L", "middle"),))
        with pytest.raises(UnknownNameError, match="'L' lights 'middle'.*left, right"):
            symbols_of(wrong, MONO, ("lamps.svg", OWN))


class TestUnlit:
    def test_left_out_faint_or_patterned(self):
        one = by_name(symbols_of(FigurePlan(lit=15, unlit="none"), GREY))["1"]
        faint = by_name(symbols_of(FigurePlan(lit=15, unlit="faint", faint=2), GREY))["1"]
        assert set(np.unique(one.pixels)) == {0, 15}
        assert set(np.unique(faint.pixels)) == {0, 2, 15}
        assert ((faint.pixels == 15) == (one.pixels == 15)).all()
        pattern = by_name(symbols_of(FigurePlan(unlit="pattern", pattern="slant", share=0.25), MONO))
        eight, nothing = pattern["8"].pixels.sum(), pattern["."].pixels
        assert 0.15 < (nothing.sum() / eight) < 0.4
        assert ((faint.inked) >= one.inked).all()

    def test_colours_of_a_panel_without_palette(self):
        cell = by_name(symbols_of(FigurePlan(lit=0xFFCC00, ground=0x102030), TFT))["1"]
        assert {tuple(v) for v in cell.pixels.reshape(-1, 3).tolist()} == {(255, 204, 0), (16, 32, 48)}
        with pytest.raises(BadValueError, match="none of this panel"):
            symbols_of(FigurePlan(lit=7), MONO)


class TestTable:
    @pytest.mark.parametrize("name", [n for n in LAYOUTS if n != "own"])
    def test_text_and_back(self, name):
        rows = rows_of(FigurePlan(layout=name))
        assert table_from_text(text_of_table(rows)) == rows

    @given(st.text(max_size=60))
    def test_any_text_makes_rows_or_a_message(self, text):
        rows: tuple = ()
        with contextlib.suppress(BadValueError):
            rows = table_from_text(text)
        assert all(row.symbol.strip() == row.symbol != "" for row in rows)

    def test_a_colon_may_be_a_symbol(self):
        assert table_from_text(":: point\n7: a b c") == (SymbolRow(":", "point"), SymbolRow("7", "a b c"))

    def test_a_symbol_twice_is_told(self):
        with pytest.raises(BadValueError, match="7 twice"):
            symbols_of(FigurePlan(table=(SymbolRow("7", "a"), SymbolRow("7", "b"))), MONO)

    def test_a_plan_travels(self):
        plan = FigurePlan(table=(SymbolRow("7", "a b c"),), unlit="pattern")
        assert to_record(from_record(plan), FigurePlan, "figure") == plan


def test_where_the_slants_and_the_point_lie():
    """In 100 x 200 with bars of 10: uprights at 5 and 83, so the middle is 44, 100; the point has its own 10 to the right."""
    made = polygons(FOURTEEN, 100, 200, 0.1, 0, 0)
    ends = {name: [tuple(round(v, 6) for v in made[name][n]) for n in (0, 3)] for name in "hjkm"}
    assert ends == {
        "h": [(15, 15), (39, 95)], "j": [(73, 15), (49, 95)], "k": [(15, 185), (39, 105)], "m": [(73, 185), (49, 105)],
    }  # fmt: skip
    assert polygons(SEVEN, 100, 200, 0.1, 0, 0)["point"] == ((90, 190), (100, 190), (100, 200), (90, 200))


@pytest.mark.parametrize(("length", "is_taken"), [(1, True), (24, True), (25, False)])
def test_how_long_the_name_of_a_symbol_may_be(length, is_taken):
    if is_taken:
        assert [row.symbol for row in table_from_text(f"{'x' * length}: a b")] == ["x" * length]
        return
    with pytest.raises(BadValueError, match="line 1 of the table"):
        table_from_text(f"{'x' * length}: a b")


def test_a_drawing_of_one_segment_holds_nothing_else():
    """What is within the others goes, groups that are left empty and wrappings of any kind among them."""
    shapes = '<g><path id="b"/></g><a><rect id="c"/></a><g id="x"/><g><g id="a"><path/></g></g><title>Tide</title>'
    found = _only(f'<svg xmlns="http://www.w3.org/2000/svg">{shapes}</svg>', "a")
    assert re.findall(r"<(\w+)", found) == ["svg", "g", "g", "path", "title"]


def test_a_colour_that_the_panel_has_not():
    with pytest.raises(BadValueError, match="colour 2 is none of this panel; 0 to 1 are"):
        symbols_of(FigurePlan(width=20, height=30, lit=2), MONO)
