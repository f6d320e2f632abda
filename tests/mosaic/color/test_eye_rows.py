"""The eye by rows is the plain eye."""

import numpy as np
import pytest

from mosaic.color.eye import rms_difference, seen_lab
from mosaic.color.eye_rows import difference_of_colors, seen_between
from mosaic.panels.loader import catalogue

SEVEN = catalogue()["epaper-800x480-seven-colour"].palette.linear()


@pytest.mark.parametrize("size", [(1, 1), (1, 9), (7, 1), (5, 6), (33, 41)], ids=str)
@pytest.mark.parametrize("sigma", [0.8, 1.5, 3.1])
def test_equals_the_plain_figure(size, sigma):
    rng = np.random.default_rng(size[0] * 7 + size[1])
    light = rng.random((*size, 3)).astype(np.float32)
    pixels = rng.integers(0, len(SEVEN), size).astype(np.uint8)
    black, white = SEVEN[0], SEVEN[1]
    between = black + light * (white - black)
    rows = seen_between(light, black, white, sigma)
    plain = seen_lab(between, sigma)
    planes = rows.reshape(size[0], 3, size[1]).transpose(0, 2, 1)
    assert planes == pytest.approx(plain, abs=2e-3)
    ours = difference_of_colors(rows, pixels, SEVEN, sigma)
    assert ours == pytest.approx(rms_difference(plain, seen_lab(SEVEN[pixels], sigma)), abs=2e-3)


def test_a_picture_is_no_way_from_itself():
    pixels = np.random.default_rng(1).integers(0, len(SEVEN), (20, 30)).astype(np.uint8)
    nothing, all_of_it = np.zeros(3, np.float32), np.ones(3, np.float32)
    assert difference_of_colors(seen_between(SEVEN[pixels], nothing, all_of_it, 2.0), pixels, SEVEN, 2.0) < 1e-4


def test_white_on_black_is_a_hundred_steps_of_lightness():
    pixels = np.ones((9, 9), np.uint8)
    colors = np.array([[0, 0, 0], [1, 1, 1]], np.float32)
    black = seen_between(np.zeros((9, 9, 3), np.float32), colors[0], colors[1], 1.5)
    assert difference_of_colors(black, pixels, colors, 1.5) == pytest.approx(100, abs=0.01)
