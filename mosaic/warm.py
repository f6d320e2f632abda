"""Compiling, or loading from the cache, every kernel before the first maker waits for one."""

import numpy as np

from mosaic.boards.board import catalogue as boards
from mosaic.conversion.pipeline import convert, fit_stage
from mosaic.device.device import Device
from mosaic.drawing import shapes
from mosaic.drawing.surface import new_surface
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.loader import catalogue
from mosaic.pixels.compression import COMPRESSIONS, compressed_sizes
from mosaic.pixels.guess import candidates_for, guess, sizes_of_bytes
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.tone import histogram
from mosaic.refresh.costs import Wire
from mosaic.refresh.windows.covering import Coverer

# One panel of each kind of packing and of each kind of task.
PANELS = (
    "mono-oled-128x64", "grey-oled-256x64", "tft-128x160-12bit", "tft-240x240-round", "tft-480x320-18bit",
    "epaper-250x122-three-colour", "epaper-296x128-four-colour",
)  # fmt: skip


def warm() -> None:
    """Run every method once on a small picture for each kind of panel."""
    grey = np.linspace(0, 255, 64 * 48, dtype=np.uint8).reshape(48, 64)
    rgb = np.stack([grey, grey[::-1], grey.T.copy().reshape(48, 64)], axis=-1)
    plain = SourcePicture(rgb, None, "PNG")
    clear = SourcePicture(rgb, grey, "PNG")
    for slug in PANELS:
        passport = catalogue()[slug]
        for method in METHODS:
            recipe = Recipe(method=method, contrast=1.1, scaling="area")
            convert(fit_stage(plain, recipe, passport, 0), recipe, passport, 0, 1.5)
        for recipe in (Recipe(polish=True, sharpening=0.5), Recipe(method="stucki", noise=0.2, error_limit=0.5)):
            convert(fit_stage(plain, recipe, passport, 0), recipe, passport, 0, 1.5)
    raster = Recipe(scan="raster")
    passport = catalogue()[PANELS[0]]
    convert(fit_stage(clear, raster, passport, 0), raster, passport, 0, 1.5)
    histogram(fit_stage(plain, raster, passport, 0).linear)
    _draw_everything()
    _cover()
    data = bytes(range(256)) * 4
    for way in COMPRESSIONS.values():
        way.expand(way.compress(data))
    compressed_sizes(data)
    guess(data, candidates_for(len(data), sizes_of_bytes(len(data)), []))


def _draw_everything() -> None:
    s = new_surface(16, 16)
    shapes.fill(s, 0, 0, 4, 4, 1)
    shapes.ellipse(s, 0, 0, 4, 4, 1)
    shapes.line(s, 0, 0, 4, 4, 2, 1)
    shapes.disc(s, 4, 4, 2, 1)
    shapes.sector(s, 4, 4, 3, 1, 0, 90, 1)
    shapes.polygon(s, [(0, 0), (4, 0), (4, 4)], 1)
    shapes.pattern(s, 0, 0, 4, 4, np.ones((1, 1), np.bool_), 1, None)
    shapes.stencil(s, 0, 0, np.ones((2, 2), np.bool_), 1)


def _cover() -> None:
    """Windows for a change, of few pieces and of many."""
    device = Device(catalogue()["tft-320x240-touch"], 0, boards()["low-power"], "spi", 8_000_000)
    coverer = Coverer(Wire(device, device.link))
    for share in (0.0005, 0.3):
        coverer.cover(np.random.default_rng(1).random((320, 240)) < share)


if __name__ == "__main__":
    warm()
