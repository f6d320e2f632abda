"""Advice: what kind of picture it is, and what a practitioner would take for it."""

import numpy as np
import pytest

from mosaic.color.srgb import srgb_to_linear
from mosaic.conversion.advice import PURPOSES, advise, image_kind_of
from mosaic.panels.loader import catalogue
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe


def light(encoded: np.ndarray) -> np.ndarray:
    return np.repeat(srgb_to_linear(np.clip(encoded, 0, 1))[..., None], 3, axis=2).astype(np.float32)


Y, X = np.mgrid[0:64, 0:128]
DRAWING = light(np.where((X // 9 + Y // 7) % 3 == 0, 0.95, 0.1))
SLOPE = light(X / 127)
PHOTO = light(0.5 + 0.2 * np.sin(X / 9) + np.random.default_rng(1).normal(0, 0.06, X.shape))
MONO, SEVEN, TFT = (catalogue()[s] for s in ("mono-oled-128x64", "epaper-800x480-seven-colour", "tft-240x240-round"))


@pytest.mark.parametrize(("picture", "image_kind"), [(DRAWING, "line art"), (SLOPE, "gradient"), (PHOTO, "photo")])
def test_what_it_is(picture, image_kind):
    assert image_kind_of(picture) == image_kind


@pytest.mark.parametrize(
    ("picture", "panel", "purpose", "method", "polish"),
    [
        (DRAWING, MONO, "moving", "threshold", False),
        (DRAWING, SEVEN, "still", "threshold", False),
        (PHOTO, MONO, "still", "floyd-steinberg", True),
        (PHOTO, SEVEN, "moving", "blue-noise", False),
        (PHOTO, SEVEN, "changing", "blue-noise", False),
        (PHOTO, MONO, "changing", "bayer-4", False),
        (SLOPE, TFT, "still", "blue-noise", False),
        (PHOTO, TFT, "still", "floyd-steinberg", False),
    ],
)
def test_what_suits_it(picture, panel, purpose, method, polish):
    advice = advise(picture, panel, purpose)
    assert (advice.changes["method"], advice.changes["polish"]) == (method, polish)


@pytest.mark.parametrize("panel", catalogue().values(), ids=lambda p: p.slug)
def test_every_advice_is_a_recipe(panel):
    for purpose in PURPOSES:
        for picture in (DRAWING, SLOPE, PHOTO):
            advice = advise(picture, panel, purpose)
            recipe = Recipe().with_changes(**advice.changes)
            assert recipe.method in METHODS
            assert not (recipe.polish and panel.palette is None)
            assert METHODS[recipe.method].family != "error diffusion" or purpose == "still"
