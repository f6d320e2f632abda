"""Colour against published and hand-worked values."""

import numpy as np
import pytest

from mosaic.color.eye import blur, eye_sigma_px, perceived_error, rms_difference, seen_lab
from mosaic.color.gamut import OPPONENT, fit_to_gamut, nearest_mixture
from mosaic.color.lab import lightness, lightness_slope, linear_to_lab
from mosaic.color.palette import Palette, light_of
from mosaic.color.srgb import bytes_to_linear, linear_to_bytes, linear_to_srgb, parse_hex, srgb_to_linear
from mosaic.errors import BadValueError

FOUR = Palette(
    ("black", "white", "red", "yellow"),
    ("#000000", "#ffffff", "#ff0000", "#ffff00"),
    ("#1f1d1e", "#e6e4da", "#b0261e", "#e3b81c"),
)


@pytest.mark.parametrize(("encoded", "linear"), [(0, 0), (1, 1), (0.04045, 0.0031308), (0.5, 0.2140411), (0.735357, 0.5)])
def test_srgb_law(encoded, linear):
    assert srgb_to_linear(encoded) == pytest.approx(linear, abs=2e-6)
    assert linear_to_srgb(linear) == pytest.approx(encoded, abs=2e-5)


def test_every_byte_survives_the_way_through_light():
    every = np.arange(256, dtype=np.uint8)
    assert np.array_equal(linear_to_bytes(bytes_to_linear(every)), every)


# L*, a*, b* of the sRGB corners under D65, as published by several colour libraries.
@pytest.mark.parametrize(
    ("rgb", "lab"),
    [
        ((1, 1, 1), (100, 0, 0)),
        ((0, 0, 0), (0, 0, 0)),
        ((1, 0, 0), (53.24, 80.09, 67.20)),
        ((0, 1, 0), (87.73, -86.18, 83.18)),
        ((0, 0, 1), (32.30, 79.19, -107.86)),
        ((0.2140411,) * 3, (53.39, 0, 0)),
    ],
)
def test_lab_corners(rgb, lab):
    assert linear_to_lab(np.array([rgb], np.float32))[0] == pytest.approx(lab, abs=0.03)


def test_lightness_of_mid_grey_and_of_the_straight_part():
    # 18.42 % reflectance is L* 50; below 216/24389 L* is 24389/27 times Y.
    assert lightness(np.array([0.184187, 0.004], np.float32)) == pytest.approx([50, 24389 / 27 * 0.004], abs=0.01)


def test_hex_colours_and_refusal():
    assert parse_hex("#B0261e") == (0xB0, 0x26, 0x1E)
    for wrong in ("b0261e", "#b026", "#gg0000", ""):
        with pytest.raises(BadValueError, match="#rrggbb"):
            parse_hex(wrong)


class TestPalette:
    def test_blend_goes_from_measured_to_nominal_in_light(self):
        assert np.allclose(FOUR.linear(0), bytes_to_linear(FOUR.measured_rgb))
        assert np.allclose(FOUR.linear(1), bytes_to_linear(FOUR.nominal_rgb))
        # Half way for the red channel of red: (1 + ((176/255+0.055)/1.055)^2.4) / 2.
        assert FOUR.linear(0.5)[2, 0] == pytest.approx((1 + 0.434154) / 2, abs=1e-4)

    def test_extremes_and_kind(self):
        assert (FOUR.darkest, FOUR.lightest, FOUR.is_tone) == (0, 1, False)
        greys = Palette(("w", "g", "k"), ("#ffffff", "#808080", "#000000"), ("#cfd0c8", "#808078", "#26282a"))
        assert (greys.darkest, greys.lightest, greys.is_tone) == (2, 0, True)
        assert greys.levels()[[2, 0]] == pytest.approx([0, 1])

    @pytest.mark.parametrize(("names", "share"), [(("one",), 0), (("a", "b"), 1.5)])
    def test_refusals(self, names, share):
        with pytest.raises(BadValueError):
            Palette(names, ("#000000",) * len(names), ("#000000",) * len(names)).linear(share)


class TestEye:
    def test_sigma_follows_one_arc_minute(self):
        # 1 m away, 0.15 mm pixels: 1000*tan(1 deg)/0.15 = 116.37 pixels a degree, /60 = 1.9395.
        assert eye_sigma_px(0.15, 1000) == pytest.approx(1.9395, abs=1e-3)
        assert eye_sigma_px(0.3, 200) == 0.8  # never less
        with pytest.raises(BadValueError, match="above 0"):
            eye_sigma_px(0, 100)

    def test_blur_keeps_light_and_is_the_gaussian(self):
        dot = np.zeros((31, 31), np.float32)
        dot[15, 15] = 1
        out = blur(dot, 2.0)
        assert out.sum() == pytest.approx(1, abs=1e-3)
        assert out[15, 18] / out[15, 15] == pytest.approx(np.exp(-9 / 8), rel=1e-3)
        assert np.allclose(out, out.T, atol=1e-7)

    def test_channels_do_not_leak_and_edges_repeat(self):
        flat = np.tile(np.array([0.2, 0.5, 0.9], np.float32), (7, 9, 1))
        assert np.allclose(blur(flat, 1.5), flat, atol=1e-6)

    def test_error_of_even_areas_is_the_lab_distance(self):
        black, white = np.zeros((8, 8), np.float32), np.ones((8, 8), np.float32)
        assert perceived_error(black, white) == pytest.approx(100, abs=0.01)
        red = np.zeros((8, 8, 3), np.float32)
        red[..., 0] = 1
        assert perceived_error(np.zeros_like(red), red) == pytest.approx(np.sqrt(53.24**2 + 80.09**2 + 67.20**2), abs=0.1)

    def test_a_fine_checkerboard_is_seen_as_half_the_light(self):
        board = np.indices((64, 64)).sum(axis=0) % 2
        assert perceived_error(np.full((64, 64), 0.5, np.float32), board.astype(np.float32), 2.0) < 0.5

    def test_shapes_must_agree(self):
        with pytest.raises(BadValueError, match="one shape"):
            perceived_error(np.zeros((2, 2)), np.zeros((2, 3)))
        assert rms_difference(seen_lab(np.zeros((2, 2, 3)), 1), seen_lab(np.zeros((2, 2, 3)), 1)) == 0


class TestGamut:
    colors = FOUR.linear()

    def test_mixtures_stay_where_they_are(self):
        weights = np.random.default_rng(1).dirichlet([1, 1, 1, 1], 50)
        mixed = (weights @ self.colors).astype(np.float32)
        assert np.allclose(nearest_mixture(mixed, self.colors), mixed, atol=1e-5)

    @staticmethod
    def away(colors, want):
        """Distances with a strong colour's steps across its hue counted 2.6 times, along it 0.85 times; grey's once."""
        points, seen = (np.asarray(v, float) @ OPPONENT.T for v in (colors, want))
        chroma = np.hypot(*seen[1:])
        way = seen[1:] / chroma if chroma else np.array([1.0, 0.0])
        d, strong = points - seen, min(1, chroma / 0.25)
        along, across = d[:, 1:] @ way, d[:, 1:] @ np.array([-way[1], way[0]])
        return np.sqrt(d[:, 0] ** 2 + ((1 - 0.15 * strong) * along) ** 2 + ((1 + 1.6 * strong) * across) ** 2)

    def test_what_lies_outside_lands_on_the_hull_no_nearer_mixture_exists(self):
        asked = np.array([[0.0, 0.1, 0.6], [0.1, 0.6, 0.1], [1, 1, 1], [0.2, 0.25, 0.4]], np.float32)
        given = nearest_mixture(asked, self.colors)
        tries = np.random.default_rng(2).dirichlet([0.3] * 4, 4000) @ self.colors
        for want, got in zip(asked, given, strict=True):
            assert self.away(got[None], want)[0] <= self.away(tries, want).min() + 1e-5

    def test_black_and_white_are_the_panels_exactly(self):
        ends = np.array([[0, 0, 0], [1, 1, 1]], np.float32)
        assert np.array_equal(fit_to_gamut(ends, self.colors, 0, 1), self.colors[:2])

    def test_flat_palettes_have_a_gamut_too(self):
        three = self.colors[:3]
        out = nearest_mixture(np.array([[0.2, 0.8, 0.2]], np.float32), three)
        basis = np.linalg.lstsq((three[1:] - three[0]).T, (out[0] - three[0]), rcond=None)
        assert np.linalg.norm((three[1:] - three[0]).T @ basis[0] - (out[0] - three[0])) < 1e-5

    def test_the_table_is_near_the_exact_way(self):
        asked = np.random.default_rng(3).random((200, 3)).astype(np.float32)
        laid = self.colors[0] + asked * (self.colors[1] - self.colors[0])
        assert np.abs(fit_to_gamut(asked, self.colors, 0, 1) - nearest_mixture(laid, self.colors)).max() < 0.02


@pytest.mark.parametrize(
    ("light", "slope"),
    # Above (6/29)^3 = 0.008856 it is 116/3 Y^(-2/3), below it 116/3 (29/6)^2 = 903.3.
    [(1.0, 38.667), (0.125, 154.667), (0.001, 903.296), (0.0, 903.296)],
)
def test_slope_of_lightness(light, slope):
    assert lightness_slope(np.array([light], np.float32))[0] == pytest.approx(slope, rel=2e-5)


def test_colours_of_numbers_stand_where_the_numbers_stand():
    palette = Palette(("black", "white", "red"), ("#000000", "#ffffff", "#ff0000"), ("#202020", "#e0e0e0", "#a03020"))
    assert np.array_equal(palette.linear(), palette.linear(0.0))
    assert not np.allclose(palette.linear(), palette.linear(1.0))
    numbers = np.array([[0, 1, 2, 1], [2, 0, 0, 1]], np.uint8)
    assert np.array_equal(light_of(numbers, palette.linear()), palette.linear()[numbers])


def test_light_beyond_white_is_white_and_the_smallest_distance_counts():
    assert linear_to_srgb([1.5, -0.5]) == pytest.approx([1.0, 0.0])
    assert eye_sigma_px(0.01, 0.9) == eye_sigma_px(1.0, 1.0)  # both under the least
