"""Colours at their boundaries: what is one tone, and what is none."""

import numpy as np
import pytest

from mosaic.color.patches import light_over
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
