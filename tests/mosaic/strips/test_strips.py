"""Strips: cutting, standing on a line, cropping each other, and files that other tools read."""

import csv
import io
import json
import subprocess
import sys
import zipfile
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from mosaic.errors import BadValueError
from mosaic.forms import from_record, to_record
from mosaic.imports.pictures import SourcePicture
from mosaic.pixels.indexed import unpack_indexed
from mosaic.reduce.recipe import Recipe
from mosaic.strips import cutting
from mosaic.strips.cells import Cell, line_of, overlaps, pack_cell
from mosaic.strips.cutting import StripPlan, boxes_of, cells_from_sheet, ground_of, reduced_sheet
from mosaic.strips.files import c_header, contact_rgb, index, index_csv, python_source, zip_of
from mosaic.strips.placing import Placed, crops, placed, scene_of
from tests.mosaic.animation.test_animation import device

MONO, PAPER, TFT = (device(s) for s in ("mono-oled-128x64", "epaper-296x128-four-colour", "tft-128x160-12bit"))

# Three figures on 12 x 10 cells: a 4 x 6 block, a 2 x 8 bar, an 8 x 2 dash on the baseline.
SHEET = np.zeros((10, 36), np.uint8)
SHEET[2:8, 3:7] = 1
SHEET[0:8, 17:19] = 1
SHEET[6:8, 26:34] = 1
PLAN = StripPlan(columns=3, baseline=2, names=("block", "bar"))


def source() -> SourcePicture:
    return SourcePicture(np.repeat((SHEET * 255)[..., None], 3, axis=2), None, "PNG")


class TestCutting:
    def test_by_grid(self):
        assert boxes_of(PLAN, SHEET > 0) == [(0, 0, 12, 10), (12, 0, 12, 10), (24, 0, 12, 10)]
        spaced = StripPlan(columns=2, rows=2, margin_x=1, margin_y=2, gap_x=3, gap_y=1)
        assert boxes_of(spaced, np.zeros((11, 15), bool)) == [(1, 2, 5, 3), (9, 2, 5, 3), (1, 6, 5, 3), (9, 6, 5, 3)]

    def test_by_gaps(self):
        plan = replace(PLAN, cut="gaps")
        assert boxes_of(plan, SHEET > 0) == [(3, 0, 4, 8), (17, 0, 2, 8), (26, 0, 8, 8)]
        with pytest.raises(BadValueError, match="nothing on this sheet"):
            boxes_of(plan, np.zeros((4, 4), bool))

    def test_by_size_and_count(self):
        plan = StripPlan(cut="size", cell_width=5, cell_height=4, gap_x=1, margin_y=1, count=7)
        boxes = boxes_of(plan, np.zeros((10, 36), bool))
        assert boxes[:2] == [(0, 1, 5, 4), (6, 1, 5, 4)]
        assert len(boxes) == 7
        assert boxes[6] == (0, 5, 5, 4)

    @pytest.mark.parametrize(
        ("plan", "message"),
        [
            (StripPlan(columns=40), "do not fit 36 x 10"),
            (StripPlan(cut="size", cell_width=40), "no cell of 40 x 16 fits"),
        ],
    )
    def test_what_does_not_fit_is_told(self, plan, message):
        with pytest.raises(BadValueError, match=message):
            boxes_of(plan, np.zeros((10, 36), bool))

    @given(st.integers(1, 6), st.integers(1, 4), st.integers(0, 3), st.integers(0, 3))
    def test_cells_of_a_grid_are_equal_and_do_not_meet(self, columns, rows, gap, margin):
        plan = StripPlan(columns=columns, rows=rows, gap_x=gap, gap_y=gap, margin_x=margin, margin_y=margin)
        taken = np.zeros((60, 80), int)
        boxes = boxes_of(plan, taken > 0)
        assert len({box[2:] for box in boxes}) == 1
        for x, y, w, h in boxes:
            taken[y : y + h, x : x + w] += 1
        assert taken.max() == 1
        assert len(boxes) == columns * rows


class TestStanding:
    def test_trimmed_cells_keep_their_place_on_the_baseline(self):
        block, bar, dash = cells_from_sheet(SHEET, PLAN, 0)
        assert [(c.name, c.width, c.height, c.dy, c.advance) for c in (block, bar, dash)] == [
            ("block", 4, 6, 6, 5), ("bar", 2, 8, 8, 3), ("2", 8, 2, 2, 9),
        ]  # fmt: skip
        line = line_of((block, bar, dash), ["block", "dash", "bar", "2"], 0, opaque=False)
        drawn = ["".join("#" if v else "." for v in row) for row in line]
        assert drawn[0] == ".....##........."
        assert drawn[2] == "####.##........."
        assert drawn[7] == "####.##.########"

    def test_equal_advance_centres_each(self):
        cells = cells_from_sheet(SHEET, replace(PLAN, equal_advance=True), 0)
        assert {c.advance for c in cells} == {9}
        assert [c.dx for c in cells] == [2, 3, 0]

    def test_untrimmed_cells_are_whole(self):
        assert [(c.width, c.height, c.dy) for c in cells_from_sheet(SHEET, replace(PLAN, trim=False), 0)] == [(12, 10, 8)] * 3


class TestOverlap:
    def cell(self, name: str, width: int, advance: int, dx: int = 0) -> Cell:
        return Cell(name, np.ones((4, width), np.uint8), np.ones((4, width), bool), dx, 4, advance)

    def test_an_opaque_neighbour_covers_what_reaches_under_it(self):
        """A leans over by two columns of four rows: eight pixels are lost to whatever follows."""
        found = overlaps((self.cell("A", 6, 4), self.cell("B", 4, 5)))
        assert [(o.first, o.second, o.covered_px) for o in found] == [("A", "A", 8), ("A", "B", 8)]
        (found,) = overlaps((self.cell("C", 3, 0),))  # without an advance each lies on the one before
        assert found.covered_px == 12
        line = line_of((self.cell("A", 6, 4), self.cell("B", 4, 5)), ["A", "B"], 0, opaque=True)
        assert line.shape == (4, 8)

    def test_neighbours_that_do_not_meet_are_sound(self):
        assert overlaps(cells_from_sheet(SHEET, PLAN, 0)) == []

    def test_an_empty_margin_that_is_covered_loses_nothing(self):
        wide = Cell("C", np.zeros((4, 6), np.uint8), np.zeros((4, 6), bool), 0, 4, 4)
        assert overlaps((wide,)) == []


class TestPlacing:
    A = TestOverlap().cell("A", 6, 4)
    B = TestOverlap().cell("B", 4, 5)

    def test_places_by_hand_and_the_line_beside_them(self):
        scene = placed((self.A, self.B), "A B B@-1,2")
        assert [(p.cell.name, p.x, p.y, p.follows) for p in scene] == [("A", 0, 0, True), ("B", 4, 0, True), ("B", -1, 2, False)]
        drawn = scene_of(scene, 0, opaque=True)
        assert drawn.shape == (6, 8)
        assert drawn[4:, :4].tolist() == [[1, 1, 1, 0]] * 2

    def test_crops_are_told_of_those_that_meet_only(self):
        """A at 0, 0 is 6 x 4; B at 5, 3 covers one pixel of it, at 6, 4 none: it lies beside the last column and row."""
        cells = (self.A, self.B)
        assert [(o.first, o.second, o.covered_px) for o in crops(placed(cells, "A@0,0 B@5,3"))] == [("A", "B", 1)]
        for apart in ("A@0,0 B@6,3", "A@0,0 B@5,4", "A@4,0 B@0,0", "A@0,4 B@0,0"):
            assert crops(placed(cells, apart)) == [], apart
        assert [(o.first, o.second) for o in crops(placed(cells, "A B"))] == [("A", "A"), ("A", "B")]
        assert crops(placed(cells, "B")) == []

    def test_the_line_is_as_ever(self):
        cells = cells_from_sheet(SHEET, PLAN, 0)
        scene = placed(cells, "block bar 2")
        assert np.array_equal(scene_of(scene, 0, opaque=False), line_of(cells, ["block", "dash", "bar", "2"], 0, opaque=False))

    def test_the_furthest_place(self):
        assert [(p.x, p.y) for p in placed((self.A, self.B), "A@4096,-4096")] == [(4096, -4096)]
        with pytest.raises(BadValueError, match="within 4096 px"):
            placed((self.A, self.B), "A@0,4097")

    @pytest.mark.parametrize(
        ("text", "words"), [("A C", "no cell is called 'C'"), ("A@9999,0", "within 4096 px"), ("A " * 65, "65 cells are placed")]
    )
    def test_what_cannot_be_placed_is_told(self, text, words):
        with pytest.raises(BadValueError, match=words):
            placed((self.A, self.B), text)


class TestFiles:
    CELLS = cells_from_sheet(SHEET, PLAN, 0)

    def test_sheet_is_reduced_pixel_for_pixel(self):
        assert np.array_equal(reduced_sheet(source(), PLAN.recipe, MONO), SHEET)
        white = replace(PLAN.recipe, ground="#ffffff")
        assert [ground_of(PLAN.recipe, d.passport) for d in (MONO, PAPER)] == [0, 0]
        assert ground_of(white, PAPER.passport) == 1
        assert ground_of(replace(white, ground="#102030"), TFT.passport) == (16, 32, 48)
        half_clear = SourcePicture(source().rgb, (SHEET * 255).astype(np.uint8), "PNG")
        assert np.array_equal(reduced_sheet(half_clear, PLAN.recipe, MONO), SHEET)

    def test_the_largest_sheet(self, monkeypatch):
        monkeypatch.setattr(cutting, "MAX_SHEET_PIXELS", 36 * 10)
        assert reduced_sheet(source(), PLAN.recipe, MONO).shape[1] == 36
        monkeypatch.setattr(cutting, "MAX_SHEET_PIXELS", 36 * 10 - 1)
        with pytest.raises(BadValueError, match="pixels; up to"):
            reduced_sheet(source(), PLAN.recipe, MONO)

    def test_each_cell_is_packed_like_a_picture_of_its_own(self):
        for cell in self.CELLS:
            back = unpack_indexed(pack_cell(cell, MONO), cell.width, cell.height, MONO.passport.format)
            assert np.array_equal(back, cell.pixels)

    def test_header_compiles_and_finds_every_cell(self, tmp_path):
        odd = (replace_name(self.CELLS[0], "*/ \\ odd"), *self.CELLS[1:])
        (tmp_path / "p.h").write_bytes(c_header("Tide marks", odd, MONO))
        (tmp_path / "main.c").write_text(
            '#include <stdio.h>\n#include "p.h"\nint main(void) {\n    for (unsigned i = 0; i < TIDE_MARKS_CELLS; i++) {\n'
            "        const struct tide_marks_cell *c = &tide_marks_cells[i];\n"
            '        printf("%u %u %d %d %d\\n", c->width, c->height, c->dx, c->dy, c->advance);\n'
            "        fwrite(tide_marks + c->offset, 1, c->bytes, stderr);\n    }\n    return (int)TIDE_MARKS_BAR - 1;\n}\n"
        )
        subprocess.run(["gcc", "-std=c99", "-Wall", "-Wextra", "-Werror", "main.c", "-o", "show"], cwd=tmp_path, check=True)
        done = subprocess.run([tmp_path / "show"], capture_output=True, check=True)
        assert done.stdout.decode().splitlines() == ["4 6 0 6 5", "2 8 0 8 3", "8 2 0 2 9"]
        assert done.stderr == b"".join(pack_cell(cell, MONO) for cell in self.CELLS)

    def test_python_and_csv(self, tmp_path):
        (tmp_path / "p.py").write_bytes(python_source("Tide marks", self.CELLS, MONO))
        code = "import p; w, h, dx, dy, adv, at, n = p.tide_marks_cells['bar']; print(w, h, dy, len(p.tide_marks[at:at + n]))"
        done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path, capture_output=True, check=True)
        assert done.stdout.decode().split() == ["2", "8", "8", "2"]
        rows = list(csv.DictReader(io.StringIO(index_csv(self.CELLS, MONO).decode())))
        assert [r["name"] for r in rows] == ["block", "bar", "2"]
        assert int(rows[2]["offset"]) == index(self.CELLS, MONO)[0][-1] + index(self.CELLS, MONO)[1][-1]

    @pytest.mark.parametrize("to", [MONO, PAPER, TFT], ids=lambda d: d.passport.slug)
    def test_the_zip_holds_all(self, to):
        ground = ground_of(PLAN.recipe, to.passport)
        cells = cells_from_sheet(reduced_sheet(source(), PLAN.recipe, to), PLAN, ground)
        archive = zipfile.ZipFile(io.BytesIO(zip_of("Tide marks", cells, to, ground, PLAN)))
        assert sorted(name.split(".")[1] for name in archive.namelist()) == ["bin", "csv", "h", "json", "png", "py"]
        assert json.loads(archive.read("tide_marks.json"))["columns"] == 3
        assert Image.open(io.BytesIO(archive.read("tide_marks.png"))).size == (18, 10)


def replace_name(cell: Cell, name: str) -> Cell:
    return Cell(name, cell.pixels, cell.inked, cell.dx, cell.dy, cell.advance)


def test_a_recipe_travels_with_its_plan():

    plan = replace(PLAN, recipe=Recipe(method="bayer-4"))
    assert to_record(from_record(plan), StripPlan, "strip") == plan


def cell_of(name, width, height, dx, dy, advance):
    return Cell(name, np.ones((height, width), np.uint8), np.ones((height, width), bool), dx, dy, advance)


def test_the_size_of_a_line_and_of_a_contact_sheet():
    """Two cells, 2 x 5 from 3 above the baseline and 4 x 2 from 1 above it, the first one begun a pixel to the left."""
    cells = (cell_of("a", 2, 5, -1, 3, 4), cell_of("b", 4, 2, 1, 1, 6))
    line = line_of(cells, ["a", "b"], 0, opaque=True)
    assert line.tolist() == [
        [1, 1, 0, 0, 0, 0, 0, 0, 0, 0], [1, 1, 0, 0, 0, 0, 0, 0, 0, 0], [1, 1, 0, 0, 0, 0, 1, 1, 1, 1], [1, 1, 0, 0, 0, 0, 1, 1, 1, 1], [1, 1, 0, 0, 0, 0, 0, 0, 0, 0],
    ]  # fmt: skip
    assert line_of(cells, [], 0, opaque=True).tolist() == [[0]]
    sheet = contact_rgb(cells, MONO, 0)[..., 0] > 100
    # A pixel about each, both on one baseline.
    assert np.argwhere(sheet).tolist() == [
        [1, 1], [1, 2], [2, 1], [2, 2], *([row, x] for row in (3, 4) for x in (1, 2, 4, 5, 6, 7)), [5, 1], [5, 2],
    ]  # fmt: skip
    assert sheet.shape == (5 + 2, 2 + 4 + 3)


@pytest.mark.parametrize(("height", "width", "count"), [(11, 12, 4), (10, 12, 2), (11, 11, 2), (16, 17, 4), (17, 18, 9)])
def test_cells_of_a_size_that_just_fit(height, width, count):
    """Of 5 x 4 from 1, 1 on, 1 and 2 px apart."""
    plan = StripPlan(cut="size", cell_width=5, cell_height=4, gap_x=1, gap_y=2, margin_x=1, margin_y=1)
    assert len(boxes_of(plan, np.zeros((height, width), bool))) == count


@pytest.mark.parametrize(("x", "y", "shown"), [(-5, 0, 1), (-6, 0, 0), (0, -3, 1), (0, -4, 0)])
def test_the_last_pixel_of_a_cell_that_hangs_over(x, y, shown):
    """6 x 4 px, to the left of the origin or above it."""
    cell = cell_of("A", 6, 4, 0, 4, 6)
    drawn = scene_of((Placed(cell, x, y, False),), 0, opaque=True)
    assert drawn.any() == bool(shown)
