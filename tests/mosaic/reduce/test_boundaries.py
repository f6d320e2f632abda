"""Reduction at its boundaries: which of two colours is nearer, and what counts as a colour of the panel."""

import numpy as np
import pytest

from mosaic.color.srgb import bytes_to_linear
from mosaic.panels.loader import catalogue
from mosaic.reduce.task import light_within
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


@pytest.mark.parametrize("name", ["red", "green", "yellow"])
@pytest.mark.parametrize("channel", range(3))
def test_what_differs_in_one_channel_is_another_colour(name, channel):
    number = SEVEN.names.index(name)
    other = bytes_to_linear(SEVEN.nominal_rgb[number : number + 1]).reshape(1, 1, 3)
    other[0, 0, channel] += -0.1 if other[0, 0, channel] > 0.5 else 0.1
    assert not np.array_equal(light_within(other, SEVEN, SEVEN.linear())[0, 0], SEVEN.linear()[number])
