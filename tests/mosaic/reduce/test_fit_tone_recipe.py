"""Fitting and tone in linear light, and the recipe's own rules."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.color.srgb import bytes_to_linear, linear_to_srgb, srgb_to_linear
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.reduce.fit import fit_picture, plan_cut, scale_to_linear
from mosaic.reduce.recipe import Recipe, accepted, field_from_text, field_names, recipe_from_json, recipe_to_plain
from mosaic.reduce.tone import apply_tone, histogram, propose_tone

BOARD = np.indices((40, 40)).sum(axis=0) % 2 * 255
CHECKERS = np.repeat(BOARD[..., None], 3, axis=2).astype(np.uint8)


@pytest.mark.parametrize("scaling", ["area", "lanczos"])
def test_scaling_averages_light_not_codes(scaling):
    # Half black, half white is half the light, which is code 188 and not 128.
    small, _ = fit_picture(CHECKERS, None, Recipe(scaling=scaling), (10, 10))
    assert small[2:8, 2:8] == pytest.approx(0.5, abs=0.02)


def test_area_average_by_hand():
    row = np.array([[[0] * 3, [255] * 3, [255] * 3]], np.uint8)
    # Three pixels into two: the middle one is shared, so (0 + 1/2) / 1.5 and (1/2 + 1) / 1.5.
    out = scale_to_linear(row, (0, 0, 3, 1), (2, 1), "area")
    assert out[0, :, 0] == pytest.approx([1 / 3, 1])


def test_nearest_enlarges_by_whole_tiles():
    out, cut = fit_picture(CHECKERS[:4, :4], None, Recipe(scaling="nearest"), (12, 12))
    assert np.array_equal(out[..., 0], np.kron(BOARD[:4, :4] / 255, np.ones((3, 3))))
    assert cut.scale == pytest.approx(1 / 3)


class TestPlan:
    # source 200 x 100 on a panel of 50 x 50
    @pytest.mark.parametrize(
        ("fit", "anchor", "source_box", "panel_box"),
        [
            ("cover", "centre", (50, 0, 100, 100), (0, 0, 50, 50)),
            ("cover", "left", (0, 0, 100, 100), (0, 0, 50, 50)),
            ("cover", "bottom-right", (100, 0, 100, 100), (0, 0, 50, 50)),
            ("contain", "centre", (0, 0, 200, 100), (0, 12, 50, 25)),
            ("contain", "top", (0, 0, 200, 100), (0, 0, 50, 25)),
            ("stretch", "centre", (0, 0, 200, 100), (0, 0, 50, 50)),
            ("none", "centre", (75, 25, 50, 50), (0, 0, 50, 50)),
            ("none", "top-right", (150, 0, 50, 50), (0, 0, 50, 50)),
        ],
    )
    def test_boxes(self, fit, anchor, source_box, panel_box):
        cut = plan_cut(Recipe(fit=fit, anchor=anchor), (200, 100), (50, 50))
        assert (cut.source_x, cut.source_y, cut.source_width, cut.source_height) == source_box
        assert (cut.panel_x, cut.panel_y, cut.panel_width, cut.panel_height) == panel_box

    def test_a_small_picture_stands_on_its_ground(self):
        out, cut = fit_picture(CHECKERS[:2, :2], None, Recipe(fit="none", ground="#ff0000"), (4, 4))
        assert out[0, 0].tolist() == [1, 0, 0]
        assert (cut.panel_x, cut.panel_y) == (1, 1)
        assert out[1, 2].tolist() == [1, 1, 1]


def test_crop_turn_and_flip():
    marked = np.zeros((3, 4, 3), np.uint8)
    marked[0, 1] = 255  # column 1 of the top row
    recipe = Recipe(crop_x=1, crop_width=2, crop_height=2, fit="none", scaling="nearest")
    assert fit_picture(marked, None, recipe, (2, 2))[0][..., 0].tolist() == [[1, 0], [0, 0]]
    right = recipe.with_changes(turn=90)
    assert fit_picture(marked, None, right, (2, 2))[0][..., 0].tolist() == [[0, 1], [0, 0]]
    assert fit_picture(marked, None, right.with_changes(flip=True), (2, 2))[0][..., 0].tolist() == [[1, 0], [0, 0]]
    with pytest.raises(BadValueError, match="4 x 3"):
        fit_picture(marked, None, recipe.with_changes(crop_x=4), (2, 2))


def test_half_transparent_white_on_black_is_half_the_light():
    white, alpha = np.full((8, 8, 3), 255, np.uint8), np.full((8, 8), 128, np.uint8)
    out, _ = fit_picture(white, alpha, Recipe(ground="#000000"), (4, 4))
    assert out == pytest.approx(128 / 255, abs=0.004)


class TestTone:
    grey = np.full((2, 2, 3), 0.2140411, np.float32)

    def test_left_as_is(self):
        assert apply_tone(self.grey, Recipe()) is self.grey

    def test_a_stop_doubles_the_light(self):
        assert apply_tone(self.grey, Recipe(exposure=1)) == pytest.approx(0.4280822, rel=2e-3)
        assert apply_tone(self.grey, Recipe(exposure=-1)) == pytest.approx(0.1070206, rel=2e-3)

    def test_contrast_turns_about_the_encoded_middle(self):
        assert apply_tone(self.grey, Recipe(contrast=2)) == pytest.approx(0.2140411, rel=2e-3)
        lighter = np.full((1, 1, 3), srgb_to_linear(0.6), np.float32)
        assert apply_tone(lighter, Recipe(contrast=2)) == pytest.approx(float(srgb_to_linear(0.7)), rel=3e-3)

    def test_inverted_codes(self):
        dark = np.full((1, 1, 3), srgb_to_linear(0.2), np.float32)
        assert apply_tone(dark, Recipe(invert=True)) == pytest.approx(float(srgb_to_linear(0.8)), rel=3e-3)

    def test_saturation_keeps_luminance(self):
        color = np.array([[[0.5, 0.3, 0.2]]], np.float32)
        out = apply_tone(color, Recipe(saturation=1.3))
        weights = (0.2126, 0.7152, 0.0722)
        assert out[0, 0] @ weights == pytest.approx(color[0, 0] @ weights, rel=2e-3)
        assert np.ptp(out) == pytest.approx(1.3 * np.ptp(color), rel=5e-3)
        assert np.ptp(apply_tone(color, Recipe(saturation=0))) == pytest.approx(0, abs=1e-6)


class TestRecipe:
    def test_json_round_trip(self):
        import json

        recipe = Recipe(fit="contain", turn=270, strength=0.5, ground="#102030")
        assert recipe_from_json(json.dumps(recipe_to_plain(recipe))) == recipe

    @given(st.fixed_dictionaries({"exposure": st.floats(-3, 3), "contrast": st.floats(0.2, 3), "threshold": st.integers(0, 255)}))
    def test_all_values_within_range_are_taken(self, changes):
        assert recipe_to_plain(Recipe().with_changes(**changes)).items() >= changes.items()

    @pytest.mark.parametrize(
        "changes",
        [
            {"exposure": 4},
            {"strength": -0.1},
            {"turn": 45},
            {"fit": "fill"},
            {"crop_x": -1},
            {"polish_more": 1},
            {"threshold": 256},
        ],
    )
    def test_everything_else_is_refused_with_its_name(self, changes):
        with pytest.raises(BadDescriptionError, match=next(iter(changes))):
            Recipe().with_changes(**changes)

    def test_colours_are_checked(self):
        with pytest.raises(ValueError, match="#rrggbb"):
            Recipe(ground="white")

    @pytest.mark.parametrize(
        ("name", "text", "value"),
        [("turn", "90", 90), ("flip", "no", False), ("exposure", "-0.5", -0.5), ("method", "threshold", "threshold")],
    )
    def test_fields_from_text(self, name, text, value):
        assert field_from_text(name, text) == value

    def test_wrong_text_says_what_is_accepted(self):
        with pytest.raises(BadValueError, match="whole number from 0 to 255"):
            field_from_text("threshold", "half")
        with pytest.raises(BadValueError, match="known: crop_x"):
            field_from_text("thresh", "1")
        assert all(accepted(name) for name in field_names())


class TestWholeSteps:
    SPRITE = np.arange(6 * 4 * 3, dtype=np.uint8).reshape(4, 6, 3)

    def test_enlarging_repeats_pixels_by_the_largest_whole_factor_that_fits(self):
        out, cut = fit_picture(self.SPRITE, None, Recipe(scaling="whole", fit="contain", ground="#ffffff"), (21, 15))
        assert (cut.panel_x, cut.panel_y, cut.panel_width, cut.panel_height) == (1, 1, 18, 12)
        squares = np.kron(bytes_to_linear(self.SPRITE), np.ones((3, 3, 1)))
        assert out[1:13, 1:19] == pytest.approx(squares)
        assert out[0].min() == out[:, 0].min() == 1

    def test_filling_takes_the_next_factor_and_cuts_whole_squares(self):
        out, _ = fit_picture(self.SPRITE, None, Recipe(scaling="whole", fit="cover"), (20, 12))
        squares = np.kron(bytes_to_linear(self.SPRITE), np.ones((4, 4, 1)))
        assert out.shape[:2] == (12, 20)
        assert out == pytest.approx(squares[:12, :20])

    def test_reducing_takes_one_of_every_few(self):
        large = np.repeat(np.repeat(self.SPRITE, 5, axis=0), 5, axis=1)
        out, cut = fit_picture(large, None, Recipe(scaling="whole", fit="contain"), (6, 4))
        assert out == pytest.approx(bytes_to_linear(self.SPRITE))
        assert cut.scale == 5


class TestPointsAndSharpness:
    RAMP = np.repeat(srgb_to_linear(np.linspace(0, 1, 256)).astype(np.float32)[None, :, None], 3, axis=2)

    def test_points_become_black_and_white_and_the_mid_tone_a_power(self):
        toned = linear_to_srgb(apply_tone(self.RAMP, Recipe(black_point=51, white_point=204)))[0, :, 0]
        assert toned[51] == pytest.approx(0, abs=2e-3)
        assert toned[204] == pytest.approx(1, abs=2e-3)
        assert toned[102] == pytest.approx(1 / 3, abs=4e-3)
        lighter = linear_to_srgb(apply_tone(self.RAMP, Recipe(mid_tone=2.0)))[0, :, 0]
        assert lighter[64] == pytest.approx((64 / 255) ** 0.5, abs=4e-3)

    def test_points_too_near_are_told(self):
        with pytest.raises((BadDescriptionError, BadValueError), match="at least 5 above"):
            Recipe().with_changes(black_point=200, white_point=204)
        assert Recipe().with_changes(black_point=200, white_point=205).white_point == 205

    @pytest.mark.parametrize("field", ["sharpening", "local_contrast"])
    def test_edges_stand_out_and_flat_parts_keep_their_light(self, field):
        step = np.full((64, 64, 3), 0.3, np.float32)
        step[:, 32:] = 0.5
        toned = apply_tone(step, Recipe().with_changes(**{field: 1.0 if field == "local_contrast" else 2.0}))
        assert toned[32, 31, 0] < 0.28
        assert toned[32, 32, 0] > 0.52
        assert toned[32, [1, 62], 0] == pytest.approx([0.3, 0.5], abs=0.01)
        assert apply_tone(np.full((9, 9, 3), 0.4, np.float32), Recipe(sharpening=2, local_contrast=1)) == pytest.approx(
            0.4, abs=1e-3
        )

    def test_colours_keep_their_hue(self):
        tinted = np.tile(np.array([0.4, 0.2, 0.1], np.float32), (32, 32, 1))
        tinted[:, 16:] *= 0.5
        toned = apply_tone(tinted, Recipe(sharpening=1))
        assert toned[..., 0] / toned[..., 1] == pytest.approx(2, rel=1e-3)

    def test_the_histogram_counts_every_pixel_once(self):
        assert histogram(self.RAMP).tolist() == pytest.approx([1 / 64] * 64)

    def test_a_proposal_stretches_a_dull_picture_and_leaves_a_good_one(self):
        dull = srgb_to_linear(np.random.default_rng(1).uniform(0.2, 0.7, (60, 60, 1)).repeat(3, axis=2)).astype(np.float32)
        found = propose_tone(dull, 4.0)
        assert found["black_point"] == pytest.approx(52, abs=2)
        assert found["white_point"] == pytest.approx(191, abs=2)
        assert found["sharpening"] == pytest.approx(0.5)
        good = propose_tone(self.RAMP, 1.0)
        assert (good["black_point"], good["white_point"], good["sharpening"]) == (
            pytest.approx(1, abs=1),
            pytest.approx(254, abs=1),
            0,
        )
        assert good["mid_tone"] == pytest.approx(1, abs=0.15)
        assert Recipe().with_changes(**found)
