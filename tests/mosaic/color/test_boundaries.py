"""Colours at their boundaries: what is one tone, and what is none."""

import numpy as np
import pytest

from mosaic.color.eye import area_means
from mosaic.color.eye_rows import difference_of_colors, seen_between
from mosaic.color.palette import Palette
from mosaic.color.patches import layout, light_over
from mosaic.color.srgb import luminance, parse_hex
from mosaic.errors import BadValueError
from mosaic.panels.loader import catalogue


@pytest.mark.parametrize(("slug", "is_tone"), [
    ("mono-oled-128x64", True), ("epaper-200x200-black-white", True), ("epaper-296x128-four-grey", True), ("grey-oled-128x128", True),
    ("epaper-200x200-three-colour", False), ("epaper-296x128-four-colour", False), ("epaper-600x448-seven-colour", False),
])  # fmt: skip
def test_one_tone(slug, is_tone):
    assert catalogue()[slug].palette.is_tone is is_tone


def test_light_is_the_median_about_each_point():
    """Of five columns about a point the three to its left are the sheet, those to its right a shadow."""
    photo, whites = np.full((100, 100, 3), 200, np.uint8), ((20.0, 20.0), (80.0, 20.0), (50.0, 80.0))
    for x, y in whites:
        photo[int(y) - 2 : int(y) + 3, int(x) + 1 : int(x) + 3] = 90
    sheet = ((200 / 255 + 0.055) / 1.055) ** 2.4
    assert light_over(photo, whites, 1.0) == pytest.approx(np.array([[sheet, 0, 0]] * 3), abs=1e-6)


@pytest.mark.parametrize(("color", "is_tone"), [("#bcc7bc", True), ("#bcc9bc", False)])
def test_how_far_from_the_greys_a_colour_is_still_one_tone(color, is_tone):
    """Light 0.503, and 0.571 or 0.584 of green: two thirds of 0.068 and of 0.081 off the line of greys, of which 0.05 is let pass."""
    colors = ("#000000", "#ffffff", color)
    assert Palette(("black", "white", "third"), colors, colors).is_tone is is_tone


def test_a_long_text_that_is_no_colour_is_cut_in_the_message():
    with pytest.raises(BadValueError, match=f"colour '#{'a' * 23}' is not"):
        parse_hex("#" + "a" * 40)


def test_dark_and_light_by_rows_follow_cielab():
    """L* = 903.3 Y up to Y = 0.008856, and 116 Y^(1/3) - 16 above; CIE 15:2004."""
    for light, lightness in ((0.004, 3.613), (0.0084, 7.588), (0.0092, 8.306), (0.012, 10.557), (0.0184, 14.624), (0.5, 76.069)):
        pixels, colors = np.zeros((3, 3), np.uint8), np.zeros((2, 3), np.float32)
        grey = seen_between(np.full((3, 3, 3), light, np.float32), np.zeros(3, np.float32), np.ones(3, np.float32), 1.0)
        assert difference_of_colors(grey, pixels, colors, 1.0) == pytest.approx(lightness, abs=0.004)


def test_areas_are_averaged_and_rests_left_out():
    pixels, colors = np.arange(35).reshape(5, 7).astype(np.uint8), np.arange(105, dtype=np.float32).reshape(35, 3)
    means = area_means(pixels, colors, 2)
    assert means.shape == (2, 3, 3)
    assert means[..., 0].tolist() == [[12, 18, 24], [54, 60, 66]]  # 3 x (0 + 1 + 7 + 8) / 4 and so on
    assert (means[..., 2] - means[..., 0] == 2).all()


@pytest.mark.parametrize(("count", "second"), [(2, [0, 1]), (3, [1, 0, 2]), (4, [1, 0, 3, 2]), (7, [3, 2, 1, 0, 6, 5, 4])])
def test_the_second_row_of_patches_begins_with_the_middle_colour(count, second):
    patches = layout(count)
    assert [patch.index for patch in patches] == [*range(count), *second]
    assert (patches[-1].right, patches[-1].bottom, patches[count].left, patches[count].top) == (1, 1, 0, 0.5)


def test_luminance_of_the_primaries():
    """IEC 61966-2-1: 0.2126, 0.7152 and 0.0722, which are 1 together."""
    assert luminance(np.eye(3, dtype=np.float32)).tolist() == pytest.approx([0.2126, 0.7152, 0.0722])
