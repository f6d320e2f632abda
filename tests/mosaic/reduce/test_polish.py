"""The search for a better arrangement: it lowers what the eye is left with, and keeps to its bounds."""

import numpy as np
import pytest

from mosaic.color.eye import perceived_error
from mosaic.panels.loader import catalogue
from mosaic.reduce.methods import METHODS
from mosaic.reduce.polish import polish_colors, polish_tone
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import PaletteTask, ToneTask

TWO = np.array([0, 1], np.float32)
SEVEN = catalogue()["epaper-800x480-seven-colour"].palette.linear()


def smooth(height: int, width: int, seed: int) -> np.ndarray:
    """(H, W) light with slow changes and an edge."""
    y, x = np.mgrid[0:height, 0:width] / 20
    rng = np.random.default_rng(seed)
    a, b, c = rng.uniform(0, 6, 3)
    light = 0.5 + 0.3 * np.sin(x + a) * np.cos(y + b) + 0.15 * np.sin(0.3 * x * y / 4 + c)
    light[:, width // 2 :] *= 0.7
    return np.clip(light, 0, 1).astype(np.float32)


# At the smallest sigma there is little to gain from a diffused picture.
@pytest.mark.parametrize(("sigma", "share"), [(0.8, 1.0), (1.0, 0.9), (1.5, 0.7), (2.2, 0.45)])
@pytest.mark.parametrize("start", ["floyd-steinberg", "bayer-4", "threshold"])
def test_one_tone_gains(sigma, share, start):
    light = smooth(60, 80, 1)
    first = METHODS[start].reduce(ToneTask(light, TWO), Recipe())
    free, usable = np.ones(first.shape, bool), np.array([0, 1], np.uint8)
    found = polish_tone(first, light, TWO, sigma, free, usable)
    before, after = (perceived_error(light, TWO[pixels], sigma) for pixels in (first, found))
    assert after < share * before


def test_a_palette_gains_at_least_a_fifth():
    weights = np.stack([smooth(48, 64, seed) for seed in range(7)], axis=-1)
    light = ((weights / weights.sum(axis=-1, keepdims=True)) @ SEVEN).astype(np.float32)
    first = METHODS["floyd-steinberg"].reduce(PaletteTask(light, SEVEN), Recipe())
    found = polish_colors(first, light, light, SEVEN, 2.0, np.ones(first.shape, bool), np.arange(7, dtype=np.uint8))
    before, after = (perceived_error(light, SEVEN[pixels], 2.0) for pixels in (first, found))
    assert after < 0.8 * before


def test_the_best_arrangement_of_a_tiny_picture_is_nearly_reached():
    """All 2^12 pictures of 3 x 4 pixels are tried: the search ends within a tenth of the best."""
    light = smooth(3, 4, 5)
    pictures = ((np.arange(4096)[:, None] >> np.arange(12)) & 1).reshape(-1, 3, 4).astype(np.uint8)
    best = min(perceived_error(light, TWO[p], 0.8) for p in pictures)
    first = METHODS["threshold"].reduce(ToneTask(light, TWO), Recipe())
    found = polish_tone(first, light, TWO, 0.8, np.ones((3, 4), bool), np.array([0, 1], np.uint8))
    assert perceived_error(light, TWO[found], 0.8) <= perceived_error(light, TWO[first], 0.8)
    assert perceived_error(light, TWO[found], 0.8) < 1.6 * best + 0.5


def test_what_is_not_free_and_colours_not_usable_are_left():
    light = np.random.default_rng(9).random((30, 40, 3)).astype(np.float32) * 0.6
    first = np.random.default_rng(8).integers(0, 4, (30, 40)).astype(np.uint8)
    free = np.zeros((30, 40), bool)
    free[5:25, 10:30] = True
    kept = first.copy()
    found = polish_colors(first, light, light, SEVEN, 1.5, free, np.array([0, 1, 2, 3], np.uint8))
    assert np.array_equal(first, kept)
    assert np.array_equal(found[~free], first[~free])
    assert (found != first).any()
    assert found.max() <= 3
    tone = polish_tone((first > 1).astype(np.uint8), light[..., 0], TWO, 1.5, free, np.array([0, 1], np.uint8))
    assert np.array_equal(tone[~free], (first > 1).astype(np.uint8)[~free])
