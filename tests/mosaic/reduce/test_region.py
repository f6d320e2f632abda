"""Regions to their exact edge, and the layer of pixels set by hand."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.reduce.recipe import Recipe, field_from_text, recipe_from_json, recipe_from_plain, recipe_to_plain
from mosaic.reduce.region import Region, painted, pixels_of_runs, region_mask, runs_of, with_stroke

SIZE = (24, 16)
columns, rows = st.integers(0, 26), st.integers(0, 18)
places = st.tuples(st.integers(0, 23), st.integers(0, 15))


class TestMask:
    @given(columns, rows, columns, rows)
    def test_a_rectangle_is_a_slice(self, x0, y0, x1, y1):
        plain = np.zeros((16, 24), bool)
        plain[min(y0, y1) : max(y0, y1), min(x0, x1) : max(x0, x1)] = True
        assert np.array_equal(region_mask(Region("rect", ((x0, y0), (x1, y1))), SIZE), plain)

    @given(st.lists(st.tuples(columns, rows), min_size=3, max_size=9))
    def test_a_lasso_holds_the_centres_that_rays_say(self, corners):
        """Against the ray rule told pixel by pixel: a centre is inside when an odd number of edges lies left of it."""
        mask = region_mask(Region("lasso", tuple(corners)), SIZE)
        for y in range(0, 16, 3):
            for x in range(0, 24, 2):
                left = 0
                for (ax, ay), (bx, by) in zip(corners, corners[1:] + corners[:1], strict=True):
                    if (ay <= y + 0.5) != (by <= y + 0.5):
                        left += ax + (y + 0.5 - ay) * (bx - ax) / (by - ay) <= x + 0.5
                assert mask[y, x] == bool(left % 2)

    @given(columns, st.integers(1, 23))
    def test_neighbours_share_no_pixel_and_leave_none(self, tilt, middle):
        left = Region("lasso", ((0, 0), (middle, 0), (tilt, 16), (0, 16)))
        right = Region("lasso", ((middle, 0), (30, 0), (30, 16), (tilt, 16)))
        a, b = region_mask(left, SIZE), region_mask(right, SIZE)
        assert not (a & b).any()
        assert (a | b).all()

    def test_too_few_corners_are_told(self):
        with pytest.raises(BadValueError, match="it needs 2"):
            Region("rect", ((0, 0),))
        with pytest.raises(BadDescriptionError, match="3 to 400"):
            recipe_from_plain({"regions": [{"shape": "lasso", "corners": [[0, 0], [1, 1]]}]})


class TestTouches:
    @given(st.dictionaries(places, st.integers(0, 3), max_size=60))
    def test_runs_hold_the_cells(self, cells):
        runs = runs_of(cells)
        assert pixels_of_runs(runs) == cells
        assert all(a[:2] != b[:2] for a, b in pairwise(runs))
        out = painted(np.full((16, 24), 9, np.uint8), runs)
        assert {(x, y): int(out[y, x]) for y, x in np.argwhere(out != 9)} == cells

    def test_a_stroke_sets_and_takes_off(self):
        runs = with_stroke((), ((3, 2), (4, 2), (5, 2)), 1)
        assert runs == ((3, 2, 3, 1),)
        assert with_stroke(runs, ((4, 2),), 0) == ((3, 2, 1, 1), (4, 2, 1, 0), (5, 2, 1, 1))
        assert with_stroke(runs, ((4, 2), (9, 9)), None) == ((3, 2, 1, 1), (5, 2, 1, 1))

    def test_what_lies_outside_is_passed_over(self):
        out = painted(np.zeros((4, 4, 3), np.uint8), ((3, 0, 9, 0xFF8001), (0, 7, 1, 5)))
        assert out[0, 3].tolist() == [255, 128, 1]
        assert out.sum() == 255 + 128 + 1

    def test_too_many_rows_of_pixels_are_told(self):
        with pytest.raises(BadValueError, match="6,000 are accepted"):
            with_stroke((), tuple((2 * x, y) for x in range(100) for y in range(61)), 1)


def test_a_recipe_with_both_comes_back_from_json():
    regions = (Region("rect", ((0, 0), (8, 8)), pattern="net", method="pattern"), Region("lasso", ((0, 0), (9, 0), (4, 8))))
    recipe = Recipe(regions=regions, pixel_edits=((1, 2, 3, 0),), left_out=("red",), mask=True)
    again = recipe_from_plain(recipe_to_plain(recipe))
    assert again == recipe
    assert hash(again) == hash(recipe)
    assert recipe_from_json('{"method": "stucki"}') == Recipe(method="stucki")
    assert recipe.without_places() == Recipe(left_out=("red",), mask=True)


class TestAsText:
    """On a command line, lists are names parted by commas, or JSON."""

    def test_lists(self):
        changes = {name: field_from_text(name, text) for name, text in {
            "left_out": "red, yellow", "pixel_edits": "[[1, 2, 3, 0]]",
            "regions": '[{"shape": "rect", "corners": [[0, 0], [8, 8]], "method": "bayer-4"}]',
        }.items()}  # fmt: skip
        recipe = Recipe().with_changes(**changes)
        assert recipe.left_out == ("red", "yellow")
        assert recipe.pixel_edits == ((1, 2, 3, 0),)
        assert recipe.regions[0].method == "bayer-4"

    @pytest.mark.parametrize(("name", "text"), [("regions", "{}"), ("pixel_edits", "[1"), ("regions", "rect")])
    def test_what_is_no_list_is_told_with_an_example(self, name, text):
        with pytest.raises(BadValueError, match="a list in JSON"):
            field_from_text(name, text)
