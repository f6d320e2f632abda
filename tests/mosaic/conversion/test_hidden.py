"""What round or rounded glass hides counts nowhere."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.conversion.pipeline import convert, eye_error, fit_stage, seen_target, under_glass
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.geometry import glass_mask
from mosaic.panels.loader import catalogue
from mosaic.reduce.recipe import Recipe
from tests.conftest import gradient


@pytest.mark.parametrize("slug", ["tft-240x240-round", "tft-240x280-rounded"])
def test_hidden_corners_count_neither_in_the_error_nor_among_the_colours(slug):
    panel = catalogue()[slug]
    turn, recipe = panel.rotation, Recipe()
    source = SourcePicture(gradient(300, 300), None, "PNG")
    made = convert(fit_stage(source, recipe, panel, turn), recipe, panel, turn, 0.8)
    mask = glass_mask(panel)
    mask = mask if mask.shape == made.pixels.shape[:2] else mask.T
    changed = made.pixels.copy()
    changed[~mask] = np.random.default_rng(1).integers(0, 256, (int((~mask).sum()), 3), np.uint8)
    assert len(under_glass(changed, panel)) == mask.sum() < mask.size
    assert replace(made, pixels=changed).colors_used == made.colors_used == len(np.unique(made.pixels[mask], axis=0))
    corner = made.pixels.copy()
    corner[:3, :3] = 255 - corner[:3, :3]  # further from the glass than the eye's blur reaches
    target = seen_target(made.toned, panel, turn, 0.8)
    assert eye_error(target, corner, panel, turn, 0.8) == pytest.approx(made.perceived_error, abs=1e-6)


def test_square_glass_hides_nothing():
    panel = catalogue()["tft-240x240-square"]
    light = np.random.default_rng(0).random((240, 240, 3)).astype(np.float32)
    assert under_glass(light, panel) is light


@pytest.mark.parametrize("turn", [0, 180])
def test_each_zone_of_the_glass_is_measured_in_its_own_colours(turn):
    """All lit is exactly what was meant of white, in both zones: reckoned in one zone's colours the other would be wrong."""
    panel = catalogue()["two-zone-oled-128x64"]
    white = np.ones((64, 128, 3), np.float32)
    target = seen_target(white, panel, turn, 0.8)
    assert eye_error(target, np.ones((64, 128), np.uint8), panel, turn, 0.8) == pytest.approx(0, abs=1e-4)
    yellow = slice(0, 16) if turn == 0 else slice(48, 64)
    dark_band = np.ones((64, 128), np.uint8)
    dark_band[yellow] = 0
    # Lit yellow (#ffd84a) has L* 87.2, lit blue (#52b6ff) 71.2: a quarter of the rows wrong by nearly all of 87.2.
    assert float(target[yellow, 5].mean()) == pytest.approx(87.2, abs=1)
    assert eye_error(target, dark_band, panel, turn, 0.8) == pytest.approx(87.2 / 2, abs=2)
