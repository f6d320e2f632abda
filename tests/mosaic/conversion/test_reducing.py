"""Everything between tone and packing: every method on every panel, colours left out, zones, regions, search, touch-up."""

from functools import cache

import numpy as np
import pytest

from mosaic.color.srgb import srgb_to_linear
from mosaic.conversion.pipeline import Fitted, convert, fit_stage, pack, unpack
from mosaic.conversion.reducing import checked_runs, reduced
from mosaic.errors import BadValueError, UnknownNameError
from mosaic.forms import from_record
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.geometry import seen_size
from mosaic.panels.loader import catalogue
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.region import Region

MONO, ZONES, FOUR, TFT = (
    catalogue()[slug] for slug in ("mono-oled-128x64", "two-zone-oled-128x64", "epaper-296x128-four-colour", "tft-128x160-12bit")
)


@cache
def scene(width: int, height: int) -> np.ndarray:
    """(H, W, 3) light: two gradients and a grain."""
    y, x = np.mgrid[0:height, 0:width]
    flat = np.stack([x / width, y / height, 1 - x / width], axis=-1)
    grain = np.random.default_rng(4).normal(0, 0.05, flat.shape)
    return srgb_to_linear(np.clip(flat + grain, 0, 1)).astype(np.float32)


def fitted(panel) -> Fitted:
    size = seen_size(panel, panel.rotation)
    source = SourcePicture(np.zeros((size[1], size[0], 3), np.uint8), None, "PNG")
    return Fitted(scene(*size), fit_stage(source, Recipe(), panel, panel.rotation).cut)


def run(panel, recipe):
    return convert(fitted(panel), recipe, panel, panel.rotation, 1.5)


@pytest.mark.parametrize("slug", catalogue())
def test_every_method_on_every_panel(slug):
    """What is packed reads back as what was reduced, whatever the method."""
    panel = catalogue()[slug]
    light = scene(*seen_size(panel, panel.rotation))
    for method in METHODS:
        pixels = reduced(light, Recipe(method=method), panel, panel.rotation)
        assert np.array_equal(unpack(pack(pixels, panel, panel.rotation), panel, panel.rotation), pixels), method
        assert (pixels != pixels[0, 0]).any(), method


class TestLeftOut:
    @pytest.mark.parametrize("method", METHODS)
    def test_colours_do_not_occur(self, method):
        done = run(FOUR, Recipe(method=method, left_out=("red",), polish=True))
        assert FOUR.palette.names[2] == "red"
        assert done.proof.verified
        assert not (done.pixels == 2).any()

    def test_black_and_white_of_four_colours_are_a_tone(self):
        done = run(FOUR, Recipe(left_out=("red", "yellow")))
        assert set(np.unique(done.pixels)) == {0, 1}

    def test_a_name_that_is_none_and_too_few_are_told(self):
        with pytest.raises(UnknownNameError, match="it has black, white, red, yellow"):
            run(FOUR, Recipe(left_out=("blue",)))
        with pytest.raises(BadValueError, match="at least two"):
            run(FOUR, Recipe(left_out=("red", "yellow", "white")))


class TestRegions:
    RECIPE = Recipe(method="floyd-steinberg", scan="raster")

    def test_edges_are_exact_and_nothing_is_handed_across(self):
        box = Region("rect", ((20, 8), (70, 40)), method="bayer-4")
        mixed = run(MONO, self.RECIPE.with_changes(regions=[box_plain(box)])).pixels
        outside, inside = run(MONO, self.RECIPE).pixels, run(MONO, Recipe(method="bayer-4")).pixels
        expected = outside.copy()
        expected[8:40, 20:70] = inside[8:40, 20:70]
        assert np.array_equal(mixed, expected)

    def test_a_later_region_lies_over_an_earlier(self):
        below = Region("rect", ((0, 0), (64, 64)), method="threshold")
        above = Region("rect", ((32, 0), (64, 64)), method="pattern", pattern="net")
        mixed = run(MONO, self.RECIPE.with_changes(regions=[box_plain(below), box_plain(above)])).pixels
        net = run(MONO, Recipe(method="pattern", pattern="net")).pixels
        assert np.array_equal(mixed[:, 32:64], net[:, 32:64])

    def test_the_search_leaves_them_alone(self):
        box = Region("rect", ((20, 8), (70, 40)), method="threshold")
        recipe = self.RECIPE.with_changes(regions=[box_plain(box)])
        plain, searched = run(MONO, recipe), run(MONO, recipe.with_changes(polish=True))
        assert np.array_equal(plain.pixels[8:40, 20:70], searched.pixels[8:40, 20:70])
        assert not np.array_equal(plain.pixels, searched.pixels)


def box_plain(region: Region) -> dict:
    return from_record(region)


class TestPolish:
    # Most of the scene lies far outside of what four colours can show; that part no search can mend.
    @pytest.mark.parametrize(("panel", "share"), [(MONO, 0.8), (FOUR, 0.97)], ids=["one tone", "four colours"])
    def test_the_figure_shown_falls_and_the_one_before_is_kept(self, panel, share):
        plain, searched = run(panel, Recipe()), run(panel, Recipe(polish=True))
        assert searched.perceived_error < share * plain.perceived_error
        assert searched.unpolished_error == pytest.approx(plain.perceived_error)
        assert plain.unpolished_error is None

    def test_a_depth_has_none(self):
        assert np.array_equal(run(TFT, Recipe(polish=True)).pixels, run(TFT, Recipe()).pixels)


class TestTouchUp:
    def test_pixels_are_set_last_and_survive_another_method(self):
        touches = ((5, 3, 4, 1), (5, 4, 4, 0))
        for method in ("threshold", "blue-noise", "stucki"):
            done = run(MONO, Recipe(method=method, polish=True, pixel_edits=touches))
            assert done.pixels[3, 5:9].tolist() == [1] * 4
            assert done.pixels[4, 5:9].tolist() == [0] * 4
            assert done.proof.verified

    def test_what_another_panel_left_is_brought_to_this_one(self):
        assert checked_runs(((0, 0, 1, 6), (1, 0, 1, 1)), MONO) == ((1, 0, 1, 1),)
        # 0x8F of eight bits is 8 of four, which is shown as 0x88.
        assert checked_runs(((0, 0, 1, 0x8F00FF),), TFT) == ((0, 0, 1, 0x8800FF),)
        assert run(TFT, Recipe(pixel_edits=((0, 0, 3, 0x123456),))).proof.verified


class TestZones:
    def test_apart_each_zone_is_reduced_for_itself(self):
        apart = run(ZONES, Recipe(zones="apart", method="threshold", auto_threshold=True)).pixels
        light = fitted(ZONES).linear
        for rows in (slice(0, 16), slice(16, 64)):
            alone = reduced(np.ascontiguousarray(light[rows]), Recipe(method="threshold", auto_threshold=True), MONO, 0)
            assert np.array_equal(apart[rows], alone)

    @pytest.mark.parametrize(("zone", "rows"), [("upper", slice(0, 16)), ("lower", slice(16, 64))])
    def test_the_picture_within_one_zone(self, zone, rows):
        white = SourcePicture(np.full((20, 40, 3), 255, np.uint8), None, "PNG")
        recipe = Recipe(zones=zone, fit="stretch", ground="#000000")
        light = fit_stage(white, recipe, ZONES, 0).linear[..., 0]
        assert light[rows].min() > 0.999
        assert light.sum() == pytest.approx(light[rows].size)
        upside_down = fit_stage(white, recipe, ZONES, 180).linear[..., 0]
        rows_there = slice(48, 64) if zone == "lower" else slice(0, 48)
        assert upside_down[rows_there].min() > 0.999
        assert upside_down.sum() == pytest.approx(upside_down[rows_there].size)


def test_the_mask_is_where_the_picture_covers_half_a_pixel():
    alpha = np.zeros((64, 128), np.uint8)
    alpha[:32] = 255
    source = SourcePicture(np.zeros((64, 128, 3), np.uint8), alpha, "PNG")
    assert fit_stage(source, Recipe(), MONO, 0).coverage is None
    kept = fit_stage(source, Recipe(mask=True), MONO, 0)
    assert kept.coverage[:32].all()
    assert not kept.coverage[32:].any()
    assert convert(kept, Recipe(mask=True), MONO, 0, 1.5).coverage is kept.coverage
