"""From toned light to the panel's own values: method, zones, regions, colours left out, search and touch-up."""

from dataclasses import replace
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.color.palette import Palette
from mosaic.color.srgb import luminance
from mosaic.errors import BadValueError, UnknownNameError
from mosaic.panels.geometry import Turn, seen_zones
from mosaic.panels.passport import Passport
from mosaic.pixels.direct import expand_channel
from mosaic.pixels.formats import DirectFormat
from mosaic.reduce.methods import METHODS
from mosaic.reduce.polish import Step, no_step, polish_colors, polish_tone
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.region import Run, region_mask
from mosaic.reduce.task import DepthTask, Task, fit_to_panel, light_within, task_for_palette

FloatArray = npt.NDArray[np.float32]
PixelArray = npt.NDArray[np.uint8]


def used_colors(palette: Palette, recipe: Recipe) -> npt.NDArray[np.uint8]:
    """Palette indices that may be used.

    Raises
    ------
    UnknownNameError
        A colour to be left out is not in the palette.
    BadValueError
        Fewer than two are left.
    """
    for name in recipe.left_out:
        if name not in palette.names:
            raise UnknownNameError(f"this panel has no colour {name!r} to leave out; it has {', '.join(palette.names)}")
    used = [i for i, name in enumerate(palette.names) if name not in recipe.left_out]
    if len(used) < 2:
        raise BadValueError(f"{len(recipe.left_out)} of {len(palette)} colours are left out; at least two must stay")
    return np.array(used, np.uint8)


def _palette_of(passport: Passport) -> Palette:
    """The palette of a panel that has one.

    Raises
    ------
    BadValueError
        It shows colours by value.
    """
    if passport.palette is None:
        raise BadValueError("this panel has no palette: it shows colours by value")
    return passport.palette


def _direct_format(passport: Passport) -> DirectFormat:
    if not isinstance(passport.format, DirectFormat):
        raise BadValueError("this panel has no colours by value: it has a palette")
    return passport.format


def _part_of(palette: Palette, used: PixelArray) -> Palette:
    def pick(values: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple(values[i] for i in used)

    return Palette(pick(palette.names), pick(palette.nominal), pick(palette.measured))


def task_of(toned: FloatArray, recipe: Recipe, passport: Passport) -> tuple[Task, PixelArray | None]:
    """What is to be reduced for this panel; and, where colours are left out, the palette index of each that is left."""
    if isinstance(passport.format, DirectFormat):
        return DepthTask(toned, passport.format.channel_bits), None
    palette, share = _palette_of(passport), recipe.nominal_share / 100
    if not recipe.left_out:
        return task_for_palette(toned, palette, share), None
    used = used_colors(palette, recipe)
    return task_for_palette(toned, _part_of(palette, used), share), used


def _by_method(toned: FloatArray, recipe: Recipe, passport: Passport) -> PixelArray:
    task, used = task_of(toned, recipe, passport)
    pixels = METHODS[recipe.method].reduce(task, recipe)
    return pixels if used is None else used[pixels]


def _whole(toned: FloatArray, recipe: Recipe, passport: Passport, turn: Turn) -> PixelArray:
    if not passport.zones or recipe.zones == "across":
        return _by_method(toned, recipe, passport)
    out = np.empty(toned.shape[:2], np.uint8)
    for x, y, width, height in seen_zones(passport, turn):
        box = (slice(y, y + height), slice(x, x + width))
        out[box] = _by_method(np.ascontiguousarray(toned[box]), recipe, passport)
    return out


def reduced(toned: FloatArray, recipe: Recipe, passport: Passport, turn: Turn) -> PixelArray:
    """Palette indices (H, W) or RGB (H, W, 3) by the recipe's method, and by their own in its regions."""
    pixels = _whole(toned, recipe, passport, turn)
    made: dict[Recipe, PixelArray] = {}
    for region in recipe.regions:
        own = replace(recipe.for_region(region), pixel_edits=())
        if own not in made:
            made[own] = _whole(toned, own, passport, turn)
        inside = region_mask(region, (toned.shape[1], toned.shape[0]))
        pixels[inside] = made[own][inside]
    return pixels


def polished(
    pixels: PixelArray, toned: FloatArray, recipe: Recipe, passport: Passport, sigma_px: float, step: Step = no_step
) -> PixelArray:
    """Palette indices (H, W) after the search, which leaves regions and colours that are left out alone."""
    palette = _palette_of(passport)
    colors = palette.linear(recipe.nominal_share / 100)
    target = fit_to_panel(toned, colors, palette.darkest, palette.lightest)
    usable = used_colors(palette, recipe) if recipe.left_out else np.arange(len(palette), dtype=np.uint8)
    free = np.ones(pixels.shape, np.bool_)
    for region in recipe.regions:
        free &= ~region_mask(region, (pixels.shape[1], pixels.shape[0]))
    if palette.is_tone:
        return polish_tone(pixels, luminance(target), luminance(colors), sigma_px, free, usable, step)
    shown = light_within(toned, palette, colors)
    return polish_colors(pixels, target, shown, colors, sigma_px, free, usable, step)


def checked_runs(runs: tuple[Run, ...], passport: Passport) -> tuple[Run, ...]:
    """Runs of pixels set by hand, brought to what this panel can show.

    A colour of another panel (a palette index it has not, or a depth it cannot show) must not
    reach the packer: unknown indices are left out, and direct colours are cut to the panel's bits.
    """
    if passport.palette is not None:
        return tuple(run for run in runs if run[3] < len(passport.palette))
    bits = _direct_format(passport).channel_bits
    return tuple((x, y, count, _cut_to(color, bits)) for x, y, count, color in runs)


def _cut_to(color: int, bits: tuple[int, int, int]) -> int:
    value = 0
    for shift, width in zip((16, 8, 0), bits, strict=True):
        step = np.array([(color >> shift & 255) >> (8 - width)])
        value |= int(expand_channel(step, width)[0]) << shift
    return value
