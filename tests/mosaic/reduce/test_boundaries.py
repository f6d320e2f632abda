"""Reduction at its boundaries: which of two colours is nearer, and what counts as a colour of the panel."""

import numpy as np
import pytest

from mosaic.color.srgb import bytes_to_linear, srgb_to_linear
from mosaic.panels.loader import catalogue
from mosaic.reduce.fit import Cut, plan_cut, turned
from mosaic.reduce.mask import _mix_cells
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.region import Region, region_mask
from mosaic.reduce.task import PaletteTask, ToneTask, light_within
from mosaic.reduce.threshold import _nearest

SEVEN = catalogue()["epaper-800x480-seven-colour"].palette


# Distances by hand. A strong colour (chroma 50) counts 0.8 of its lightness, 0.6 along its hue, 1.6 across it; one of 20, half way
# to grey, 0.9, 1.1 and 1.6; grey itself 1, 1.6 and 1.6.
@pytest.mark.parametrize(("seen", "first", "second", "nearer"), [
    ((50, 30, 40), (50, 60, 80), (87, 30, 40), 1),  # 30 against 0.8 x 37 = 29.6
    ((50, 30, 40), (50, 60, 80), (88, 30, 40), 0),  # 30.4
    ((50, 30, 40), (50, 60, 80), (50, 15.6, 50.8), 1),  # across: 1.6 x 18 = 28.8
    ((50, 30, 40), (50, 60, 80), (50, 14.8, 51.4), 0),  # 1.6 x 19 = 30.4
    ((50, 12, 16), (50, 24, 32), (74, 12, 16), 1),  # 22 against 0.9 x 24 = 21.6
    ((50, 12, 16), (50, 24, 32), (75, 12, 16), 0),  # 22.5
    ((50, 0, 0), (50, 10, 0), (65, 0, 0), 1), ((50, 0, 0), (50, 10, 0), (67, 0, 0), 0), ((50, 0, 0), (50, 0, -10), (67, 0, 0), 0),
    ((50, 0, 0), (40, 0, 0), (60, 0, 0), 0),  # of two as near the first
])  # fmt: skip
def test_the_nearer_colour(seen, first, second, nearer):
    out = np.zeros(1, np.uint8)
    _nearest(np.array([seen], np.float32), np.array([first, second], np.float32), out)
    assert out[0] == nearer


@pytest.mark.parametrize("number", range(7))
def test_colours_as_the_data_sheet_names_them_are_the_panels_own(number):
    colors = SEVEN.linear()
    nominal = bytes_to_linear(SEVEN.nominal_rgb[number : number + 1]).reshape(1, 1, 3)
    assert np.array_equal(light_within(nominal, SEVEN, colors)[0, 0], colors[number])


@pytest.mark.parametrize(("away", "is_same"), [(0.000095, True), (0.000105, False)])
def test_how_near_is_the_same(away, is_same):
    number = SEVEN.names.index("red")
    seen = bytes_to_linear(SEVEN.nominal_rgb[number : number + 1]).reshape(1, 1, 3)
    seen[0, 0, 1] += away
    assert np.array_equal(light_within(seen, SEVEN, SEVEN.linear())[0, 0], SEVEN.linear()[number]) is is_same


@pytest.mark.parametrize("name", ["red", "green", "yellow"])
@pytest.mark.parametrize("channel", range(3))
def test_what_differs_in_one_channel_is_another_colour(name, channel):
    number = SEVEN.names.index(name)
    other = bytes_to_linear(SEVEN.nominal_rgb[number : number + 1]).reshape(1, 1, 3)
    other[0, 0, channel] += -0.1 if other[0, 0, channel] > 0.5 else 0.1
    assert not np.array_equal(light_within(other, SEVEN, SEVEN.linear())[0, 0], SEVEN.linear()[number])


@pytest.mark.parametrize(("fit", "side", "room", "cut"), [
    # Whole factors: exact multiples, just above and just below them.
    ("contain", 10, 30, (0, 10, 0, 30)), ("contain", 10, 29, (0, 10, 4, 20)), ("contain", 10, 34, (0, 10, 2, 30)),
    ("cover", 10, 30, (0, 10, 0, 30)), ("cover", 10, 31, (1, 7.75, 0, 31)), ("contain", 300, 100, (0, 300, 0, 100)),
    ("contain", 301, 100, (0, 300, 12, 75)), ("cover", 300, 100, (0, 300, 0, 100)), ("cover", 350, 100, (24, 300, 0, 100)), ("cover", 150, 100, (25, 100, 0, 100)),
])  # fmt: skip
def test_cuts_by_whole_factors(fit, side, room, cut):
    found = plan_cut(Recipe(scaling="whole", fit=fit), (side, side), (room, room))
    begin, take, place, to = cut
    assert found == Cut(begin, begin, take, take, place, place, to, to)


@pytest.mark.parametrize(("fit", "source", "panel", "cut"), [
    ("stretch", (7, 9), (20, 10), (0, 0, 7, 9, 0, 0, 20, 10)), ("cover", (40, 40), (20, 10), (0, 10, 40, 20, 0, 0, 20, 10)),
    ("contain", (40, 40), (20, 10), (0, 0, 40, 40, 5, 0, 10, 10)), ("contain", (400, 1), (20, 10), (0, 0, 400, 1, 0, 4, 20, 1)),
    ("none", (40, 6), (20, 10), (10, 0, 20, 6, 0, 2, 20, 6)),
])  # fmt: skip
def test_cuts_by_any_factor(fit, source, panel, cut):
    assert plan_cut(Recipe(fit=fit), source, panel) == Cut(*cut)


@pytest.mark.parametrize(("below", "is_light"), [(0.0295, True), (0.0305, False)])
def test_how_far_below_its_surroundings_a_pixel_is_dark(below, is_light):
    """A checkerboard of two greys about the middle of the scale, and one pixel below that."""
    encoded = np.where(np.indices((15, 15)).sum(axis=0) % 2, 0.4, 0.6)
    encoded[7, 7] = 0.5 - below * 225 / 224  # it takes part in the mean itself
    task = ToneTask(srgb_to_linear(encoded).astype(np.float32), np.array([0, 1], np.float32))
    assert METHODS["local-threshold"].reduce(task, Recipe(window=15))[7, 7] == is_light


@pytest.mark.parametrize(("apart", "is_light"), [(0.0195, False), (0.0205, True)])
def test_how_little_a_window_holds_before_it_counts_as_flat(apart, is_light):
    """Greys a little below the middle of the scale: alone they are dark, beside each other no darker than their mean."""
    encoded = np.where(np.indices((16, 16)).sum(axis=0) % 2, 0.45 - apart, 0.45 + apart)
    task = ToneTask(srgb_to_linear(encoded).astype(np.float32), np.array([0, 1], np.float32))
    assert (METHODS["local-threshold"].reduce(task, Recipe(window=9))[4:12, 4:12] == is_light).all()


def test_greys_are_moved_to_the_middle_of_the_scale_by_their_mean():
    """Of 0.05 and 0.55 come 0.25 and 0.75; thirds of the light are 0.61 and 0.84 of the scale."""
    encoded = np.where(np.indices((16, 16)).sum(axis=0) % 2, 0.05, 0.55)
    task = ToneTask(srgb_to_linear(encoded).astype(np.float32), np.array([0, 1 / 3, 2 / 3, 1], np.float32))
    found = METHODS["local-threshold"].reduce(task, Recipe(window=9))[4:12, 4:12]
    assert np.array_equal(found, np.where(encoded[4:12, 4:12] > 0.3, 2, 0))


def test_the_last_column_of_a_smaller_copy():
    """The last of 12 columns is 2.75 of 3 from the left: rounded it would lie beyond them."""
    pixels = np.arange(6, dtype=np.uint8).reshape(2, 3, 1)
    assert turned(pixels, Recipe(crop_x=11, crop_width=1), 0.25).tolist() == [[[2]], [[5]]]


@pytest.mark.parametrize(("light", "shown"), [(0.45, 0), (0.5, 1)])
def test_without_strength_the_middle_of_a_mixture_is_left(light, shown):
    """Half black and half white: of sixteen ranks the eighth is black and the ninth white, the middle is rounded up."""
    task = PaletteTask(np.full((8, 8, 3), light, np.float32), np.array([[0, 0, 0], [1, 1, 1], [1, 0, 0]], np.float32))
    assert (METHODS["bayer-8"].reduce(task, Recipe(strength=0.0)) == shown).all()


def test_of_two_colours_as_near_the_first_is_mixed():
    out = np.full((1, 3), 9, np.uint8)
    grey, colors = np.full((1, 3), 0.5, np.float32), np.array([[0, 0, 0], [1, 1, 1]], np.float32)
    _mix_cells(grey, colors, np.array([0, 1]), 1, out)
    assert out[0, 0] == 0
    _mix_cells(grey, colors, np.array([0, 1]), 3, out)
    assert out.tolist() == [[0, 0, 1]]


def test_a_corner_on_the_line_of_a_pixels_centre_counts_once():
    """A square that stands on its tip, corners half way down pixels."""
    mask = region_mask(Region("lasso", ((4, 0.5), (7.5, 4), (4, 7.5), (0.5, 4))), (8, 8))
    assert mask.sum(axis=1).tolist() == [0, 2, 4, 6, 6, 4, 2, 0]
    assert region_mask(Region("lasso", ((1, 2.5), (6, 2.5), (6, 5), (1, 5))), (8, 8)).sum(axis=1).tolist() == [
        0,
        0,
        5,
        5,
        5,
        0,
        0,
        0,
    ]


def test_the_box_about_a_region():
    assert Region("rect", ((3, 5), (13, 9))).box == (3, 5, 10, 4)
    assert Region("lasso", ((7, 2), (3, 9), (5, 4))).box == (3, 2, 4, 7)
