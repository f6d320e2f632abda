"""Flat colours through the whole way, from a picture's bytes to the pixels: what the panel has stays what it is."""

import numpy as np
import pytest

from mosaic.conversion.pipeline import fit_stage, make_pixels
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.geometry import seen_size
from mosaic.panels.loader import catalogue
from mosaic.reduce.methods import METHODS
from mosaic.reduce.pattern import TILES, ranks_of
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import ToneTask

SEVEN, SIX, FOUR, THREE = (
    "epaper-600x448-seven-colour", "epaper-600x400-six-colour", "epaper-296x128-four-colour", "epaper-200x200-three-colour"
)  # fmt: skip


def pixels(rgb, slug, alpha=None, **recipe):
    panel, how = catalogue()[slug], Recipe(**recipe)
    source = SourcePicture(np.ascontiguousarray(rgb, np.uint8), alpha, "PNG")
    return make_pixels(fit_stage(source, how, panel, panel.rotation), how, panel, panel.rotation).pixels


def flat(color, size=(300, 400)):
    return np.tile(np.array(color, np.uint8), (*size, 1))


@pytest.mark.parametrize("slug", [SEVEN, SIX, FOUR, THREE, "epaper-264x176-four-grey", "mono-oled-128x64", "grey-oled-96x96"])
@pytest.mark.parametrize("method", list(METHODS))
def test_the_panels_own_colours_stay_flat(method, slug):
    palette = catalogue()[slug].palette
    ends = palette.darkest, palette.lightest
    for index in range(len(palette)) if not palette.is_tone else ends:
        color = palette.nominal_rgb[index] if not palette.is_tone else (0, 0, 0) if index == ends[0] else (255, 255, 255)
        assert np.all(pixels(flat(color), slug, method=method) == index), palette.names[index]


@pytest.mark.parametrize("slug", [SEVEN, SIX])
@pytest.mark.parametrize(
    ("color", "name"),
    [
        ((250, 3, 3), "red"), ((3, 250, 3), "green"), ((3, 3, 250), "blue"), ((250, 250, 3), "yellow"), ((128, 0, 0), "red"),
        ((0, 128, 0), "green"), ((0, 0, 128), "blue"), ((128, 128, 128), "black"), ((240, 240, 240), "white"),
    ],
)  # fmt: skip
def test_flat_art_keeps_the_name_of_its_colour(color, name, slug):
    """What the panel has of a hue is taken, however dull; greys become black or white."""
    names = catalogue()[slug].palette.names
    assert set(pixels(flat(color), slug, method="threshold").ravel()) == {names.index(name)}


def test_a_strong_red_is_dithered_of_red_first():
    for slug in (SIX, FOUR, THREE):
        palette = catalogue()[slug].palette
        share = np.mean(pixels(flat((250, 3, 3)), slug) == palette.names.index("red"))
        assert share > 0.9, slug


def test_one_clear_pixel_changes_only_what_it_covers():
    """Colours that 5-6-5 has exactly are opaque, whatever else of the picture is clear."""
    panel = catalogue()["tft-240x240-round"]
    steps = np.array([v << 3 | v >> 2 for v in range(32)])  # five bits made eight
    rgb = np.tile(np.stack([np.repeat(steps, 8)[:240]] * 3, axis=-1), (240, 1, 1)).astype(np.uint8)
    rgb[..., 1] = 0
    alpha = np.full((240, 240), 255, np.uint8)
    whole = pixels(rgb, "tft-240x240-round")
    alpha[0, 0] = 0
    pierced = pixels(rgb, "tft-240x240-round", alpha)
    differing = np.argwhere((whole != pierced).any(axis=-1))
    assert seen_size(panel, panel.rotation) == (240, 240)
    assert [tuple(at) for at in differing] == [(0, 0)]


@pytest.mark.parametrize(
    ("slug", "greys"), [("epaper-250x122-black-white", 3), ("mono-oled-128x64", 3), ("epaper-800x480-black-white", 36)]
)
@pytest.mark.parametrize("size", [(300, 400), (122, 250), (64, 128), (97, 331)])
def test_a_grey_exactly_at_the_threshold_is_light_everywhere(slug, greys, size):
    palette = catalogue()[slug].palette
    for grey in range(1, 256, greys):
        at = pixels(flat((grey,) * 3, size), slug, method="threshold", threshold=grey, fit="stretch")
        above = pixels(flat((grey - 1,) * 3, size), slug, method="threshold", threshold=grey, fit="stretch")
        assert np.all(at == palette.lightest), grey
        assert np.all(above == palette.darkest), grey


@pytest.mark.parametrize("name", TILES)
def test_a_pattern_is_as_light_on_the_whole_as_its_tone(name):
    """Where many places share a rank, the error is at most half of what one of them adds."""
    recipe = Recipe(method="pattern", pattern=name)
    ranks = ranks_of(recipe)
    step = np.bincount(ranks.ravel()).max() / ranks.size
    for light in np.linspace(0.02, 0.98, 25):
        task = ToneTask(np.full(ranks.shape, light, np.float32), np.array([0, 1], np.float32))
        assert abs(METHODS["pattern"].reduce(task, recipe).mean() - light) <= step / 2 + 1e-6, light
