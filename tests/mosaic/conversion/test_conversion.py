"""The whole way, and how near it comes to the original."""

import io

import numpy as np
import pytest
from PIL import Image

from mosaic.color.eye import SIGMA_ONE_TONE, SIGMA_PALETTE
from mosaic.color.srgb import linear_to_bytes
from mosaic.conversion.pipeline import convert, eye_error, fit_stage, seen_target
from mosaic.imports.pictures import SourcePicture, read_picture
from mosaic.panels.loader import catalogue
from mosaic.reduce.recipe import Recipe
from workshop.scenario.painting import CONTINUOUS_TONE


@pytest.fixture(scope="module")
def paintings():
    return [read_picture(paint()) for paint in CONTINUOUS_TONE]


def ours_and_the_librarys(source, slug, sigma):
    """Perceived errors of our Floyd-Steinberg and of the general library's own, in measured colours."""
    panel, recipe = catalogue()[slug], Recipe()
    fitted = fit_stage(source, recipe, panel, panel.rotation)
    ours = convert(fitted, recipe, panel, panel.rotation, sigma).perceived_error
    image, palette = Image.fromarray(linear_to_bytes(fitted.linear)), panel.palette
    if palette.is_tone:
        theirs = np.where(np.asarray(image.convert("1")), palette.lightest, palette.darkest)
    else:
        carrier = Image.new("P", (1, 1))
        rest = np.tile(palette.measured_rgb[0], (256 - len(palette), 1))
        carrier.putpalette(np.concatenate([palette.measured_rgb, rest]).astype(np.uint8).tobytes())
        theirs = np.asarray(image.quantize(palette=carrier, dither=Image.Dither.FLOYDSTEINBERG))
        theirs = np.where(theirs < len(palette), theirs, 0)
    target = seen_target(fitted.linear, panel, panel.rotation, sigma)
    return ours, eye_error(target, theirs.astype(np.uint8), panel, panel.rotation, sigma)


def test_one_tone_is_below_a_quarter_of_the_librarys_error(paintings):
    pairs = [ours_and_the_librarys(p, "epaper-296x128-black-white", SIGMA_ONE_TONE) for p in paintings]
    ours, theirs = np.mean(pairs, axis=0)
    assert ours < theirs / 4, pairs


@pytest.mark.parametrize(("slug", "share"), [("epaper-296x128-four-colour", 0.75), ("epaper-800x480-seven-colour", 0.5)])
def test_palettes_are_clearly_nearer_than_the_library(paintings, slug, share):
    pairs = [ours_and_the_librarys(p, slug, SIGMA_PALETTE) for p in paintings]
    ours, theirs = np.mean(pairs, axis=0)
    assert ours < theirs * share, pairs


def test_figures_of_a_known_picture():
    half = np.zeros((64, 128, 3), np.uint8)
    half[:, :32] = 255
    out = io.BytesIO()
    Image.fromarray(half).save(out, "PNG")
    panel, recipe = catalogue()["mono-oled-128x64"], Recipe(method="threshold", fit="none")
    done = convert(fit_stage(read_picture(out.getvalue()), recipe, panel, 0), recipe, panel, 0, 1.5)
    assert done.shares == (0.75, 0.25)
    assert (done.marked_share, done.light_share, done.colors_used) == (0.25, 0.25, 2)
    assert done.packed == (b"\xff" * 32 + b"\0" * 96) * 8
    assert done.proof.verified
    assert done.perceived_error < 0.01


def test_depth_figures():
    rgb = np.zeros((240, 240, 3), np.uint8)
    rgb[:120] = (255, 0, 0)
    out = io.BytesIO()
    Image.fromarray(rgb).save(out, "PNG")
    panel, recipe = catalogue()["tft-240x240-round"], Recipe(scaling="nearest")
    done = convert(fit_stage(read_picture(out.getvalue()), recipe, panel, 0), recipe, panel, 0, 1.5)
    assert (done.colors_used, done.marked_share, done.shares) == (2, 0.5, ())
    assert done.light_share == pytest.approx(0.2126 / 2, abs=1e-4)
    assert done.packed[:2].hex() == "f800"


def test_what_round_glass_hides_is_not_counted():
    rgb = np.zeros((240, 240, 3), np.uint8)
    rgb[:30, :30] = 255  # a corner that no disc reaches
    out = io.BytesIO()
    Image.fromarray(rgb).save(out, "PNG")
    panel, recipe = catalogue()["tft-240x240-round"], Recipe(scaling="nearest", method="threshold")
    done = convert(fit_stage(read_picture(out.getvalue()), recipe, panel, 0), recipe, panel, 0, 1.5)
    assert (done.marked_share, done.light_share) == (0, 0)


def test_vivid_is_judged_by_its_own_aim_too():
    """All red of the data sheet: wholly vivid, red dots are exactly what was aimed at, and far from the true colours' aim."""
    panel = catalogue()["epaper-296x128-four-colour"]
    red = np.tile(np.array(panel.palette.nominal_rgb[panel.palette.names.index("red")], np.uint8), (128, 296, 1))
    source = SourcePicture(red, None, "PNG")
    made = {}
    for share in (0.0, 100.0):
        recipe = Recipe(nominal_share=share)
        made[share] = convert(fit_stage(source, recipe, panel, panel.rotation), recipe, panel, panel.rotation, 0.8)
    assert made[0.0].aimed_error is None
    assert made[100.0].shares[panel.palette.names.index("red")] == 1
    assert made[100.0].aimed_error == pytest.approx(0, abs=0.01)
    assert made[100.0].perceived_error > 5
