"""Fit, reduce, pack, prove and measure one picture for one panel."""

import math
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.color.eye import rms_difference, seen_lab, seen_lightness
from mosaic.color.eye_rows import difference_of_colors, seen_between
from mosaic.color.srgb import bytes_to_linear, luminance
from mosaic.conversion.reducing import checked_runs, polished, reduced
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import Turn, from_host, glass_mask, orientation_of, seen_size, seen_zones, to_host
from mosaic.panels.passport import Passport
from mosaic.panels.wire import Part, frame_parts, setup_part
from mosaic.pixels.direct import pack_direct, unpack_direct
from mosaic.pixels.formats import DirectFormat
from mosaic.pixels.indexed import pack_indexed, unpack_indexed
from mosaic.reduce.fit import Box, Cut, crop_box, cut_for, fit_coverage, fit_picture
from mosaic.reduce.polish import Step, no_step
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.region import painted
from mosaic.reduce.task import fit_to_panel
from mosaic.reduce.tone import apply_tone, histogram, propose_tone
from mosaic.virtual.panel import Proof, prove

FloatArray = npt.NDArray[np.float32]


@dataclass(frozen=True, eq=False)
class Fitted:
    """A source at the panel's size: (H, W, 3) light, where it came from, and (H, W) where it is opaque if asked for."""

    linear: FloatArray
    cut: Cut
    coverage: npt.NDArray[np.bool_] | None = None
    aimed_error: float | None = None

    @cached_property
    def histogram(self) -> npt.NDArray[np.float64]:
        """Shares of pixels by encoded luminance; the same for every tone and reduction."""
        return histogram(self.linear)

    @cached_property
    def proposal(self) -> dict[str, Any]:
        """The tone that is proposed for it."""
        return propose_tone(self.linear, self.cut.scale)


@dataclass(frozen=True, eq=False)
class Converted:
    """A finished picture and everything measured of it.

    Attributes
    ----------
    pixels : palette indices (H, W) or RGB (H, W, 3), as the reader sees them
    toned : (H, W, 3) light that was meant, before reduction
    packed : the bytes
    parts : what goes over the wire for one frame
    proof : what the virtual panel says
    perceived_error : CIELAB units at `sigma_px`
    unpolished_error : the same before the search; None where none was made
    aimed_error : the same where both aim and result are reckoned in the colours that a vivid recipe asks for; None elsewhere
    coverage : (H, W) where the picture is opaque, if that was asked for
    """

    pixels: npt.NDArray[np.uint8]
    toned: FloatArray
    packed: bytes
    parts: tuple[Part, ...]
    proof: Proof
    perceived_error: float
    sigma_px: float
    cut: Cut
    passport: Passport
    unpolished_error: float | None = None
    coverage: npt.NDArray[np.bool_] | None = None
    aimed_error: float | None = None

    @cached_property
    def shares(self) -> tuple[float, ...]:
        """Share of pixels of each palette colour; empty for direct formats."""
        if self.passport.palette is None:
            return ()
        seen = self._visible(self.pixels).ravel()
        counts = np.bincount(seen, minlength=len(self.passport.palette))
        return tuple(float(c) / seen.size for c in counts)

    @cached_property
    def colors_used(self) -> int:
        """How many different colours the picture has."""
        seen = self._visible(self.pixels)
        if self.pixels.ndim == 2:
            return int(np.count_nonzero(np.bincount(seen.ravel())))
        wide = seen.astype(np.uint32)
        return len(np.unique(wide[..., 0] << 16 | wide[..., 1] << 8 | wide[..., 2]))

    def _visible(self, pixels: npt.NDArray[np.uint8]) -> npt.NDArray[np.uint8]:
        """What lies under the glass: without the corners where it is round or rounded."""
        return under_glass(pixels, self.passport)

    @cached_property
    def marked_share(self) -> float:
        """Share of pixels that are not the panel's resting colour: lit, or on e-paper inked."""
        palette = self.passport.palette
        if palette is None:
            return float(self._visible(self.pixels).any(axis=-1).mean())
        resting = palette.lightest if self.passport.technology == "epaper" else palette.darkest
        return 1.0 - self.shares[resting]

    @cached_property
    def light_share(self) -> float:
        """Mean light of the glass, 1 where all is lit full."""
        if self.passport.palette is None:
            return float(luminance(bytes_to_linear(self._visible(self.pixels))).mean())
        return float(np.dot(self.shares, self.passport.palette.levels()))


def picture_area(recipe: Recipe, passport: Passport, turn: Turn) -> Box | None:
    """(x, y, width, height) of the glass that the picture is fitted to; None for all of it."""
    if not passport.zones or recipe.zones not in ("upper", "lower"):
        return None
    return seen_zones(passport, turn)[0 if recipe.zones == "upper" else -1]


SUPERSAMPLING = 4
"""Rendered pixels of a drawing to each side of a panel pixel."""


def fit_stage(source: SourcePicture, recipe: Recipe, passport: Passport, turn: Turn, *, zoom: int = 1) -> Fitted:
    """Take, turn and scale the source to the panel, times `zoom` for viewing; a drawing is rendered for the size it gets."""
    size, area = seen_size(passport, turn), picture_area(recipe, passport, turn)
    if source.vector:
        _, _, wide, high = crop_box(recipe, source.width, source.height)
        lying = (high, wide) if recipe.turn % 180 else (wide, high)
        scale = cut_for(recipe, lying, size, area).scale
        source = source.finer(math.ceil(SUPERSAMPLING * zoom / scale - 1e-9))
    linear, cut = fit_picture(source.rgb, source.alpha, recipe, size, area=area, zoom=zoom, detail=source.detail)
    coverage = None
    if recipe.mask and source.alpha is not None and zoom == 1:
        coverage = fit_coverage(source.alpha, recipe, size, area=area, detail=source.detail)
    return Fitted(linear, cut, coverage)


def pack(pixels: npt.NDArray[np.uint8], passport: Passport, turn: Turn) -> bytes:
    """Packed bytes of what the reader shall see."""
    host = to_host(pixels, passport, turn)
    if isinstance(passport.format, DirectFormat):
        return pack_direct(np.ascontiguousarray(host), passport.format)
    return pack_indexed(host, passport.format)


def unpack(packed: bytes, passport: Passport, turn: Turn) -> npt.NDArray[np.uint8]:
    """What the reader sees of packed bytes; the inverse of `pack`."""
    width, height = seen_size(passport, turn)
    turned = orientation_of(turn).rotation % 180 and passport.controller.turned_by == "picture"
    size = (height, width) if turned else (width, height)
    if isinstance(passport.format, DirectFormat):
        return from_host(unpack_direct(packed, *size, passport.format), passport, turn)
    return from_host(unpack_indexed(packed, *size, passport.format), passport, turn)


def _in_rows(passport: Passport) -> bool:
    """Whether the eye's figure is taken by rows: a palette of colours is."""
    return passport.palette is not None and not passport.palette.is_tone


def _flat(passport: Passport, turn: Turn, index: int) -> FloatArray:
    """(H, W, 3) light of the glass where every pixel has one palette index; the zones have their own."""
    width, height = seen_size(passport, turn)
    return bytes_to_linear(colors_of(np.full((height, width), index, np.uint8), passport, turn))


def seen_target(toned: FloatArray, passport: Passport, turn: Turn, sigma_px: float) -> FloatArray:
    """The meant picture, fitted to the panel's measured black and white, as the eye sees it; for `eye_error`.

    On glass of two zones each is fitted to its own black and white.
    """
    palette = passport.palette
    if palette is None:
        return seen_lab(toned, sigma_px)
    if passport.zones:
        low, high = (_flat(passport, turn, index) for index in (palette.darkest, palette.lightest))
        return seen_lightness(luminance(low + toned * (high - low)), sigma_px)
    light = palette.linear()
    if _in_rows(passport):
        return seen_between(toned, light[palette.darkest], light[palette.lightest], sigma_px)
    return seen_lightness(luminance(fit_to_panel(toned, light, palette.darkest, palette.lightest)), sigma_px)


def under_glass(values: npt.NDArray[Any], passport: Passport) -> npt.NDArray[Any]:
    """(H, W, ...) values of the pixels that the glass does not hide: all of them, or (N, ...) where it is round or rounded."""
    if passport.glass.shape == "rect":
        return values
    mask = glass_mask(passport)  # the same from every side, but for its width and height
    return values[mask if mask.shape == values.shape[:2] else mask.T]


def eye_error(target: FloatArray, pixels: npt.NDArray[np.uint8], passport: Passport, turn: Turn, sigma_px: float) -> float:
    """How far a result in measured colours looks from what `seen_target` gave, in CIELAB units."""
    palette = passport.palette
    if palette is None:
        seen = seen_lab(bytes_to_linear(pixels), sigma_px)
        if passport.glass.shape == "rect":
            return rms_difference(target, seen)
        return rms_difference(under_glass(target, passport)[None], under_glass(seen, passport)[None])
    if passport.zones:
        return rms_difference(target, seen_lightness(luminance(bytes_to_linear(colors_of(pixels, passport, turn))), sigma_px))
    if _in_rows(passport):
        return difference_of_colors(target, pixels, palette.linear(), sigma_px)
    return rms_difference(target, seen_lightness(luminance(palette.linear())[pixels], sigma_px))


def aimed_error(
    toned: FloatArray, pixels: npt.NDArray[np.uint8], recipe: Recipe, passport: Passport, sigma_px: float
) -> float | None:
    """How far a vivid result lies from its own aim: both in the blend of measured and nominal colours that was asked for.

    Against the measured colours a vivid picture always looks worse; this says how well it does what it was to do.
    """
    palette = passport.palette
    if palette is None or palette.is_tone or not recipe.nominal_share:
        return None
    light = palette.linear(recipe.nominal_share / 100)
    target = seen_between(toned, light[palette.darkest], light[palette.lightest], sigma_px)
    return difference_of_colors(target, pixels, light, sigma_px)


@dataclass(frozen=True, eq=False)
class Searched:
    """Pixels after the search, and the perceived error before it."""

    pixels: npt.NDArray[np.uint8]
    unpolished_error: float


def search(fitted: Fitted, recipe: Recipe, passport: Passport, turn: Turn, sigma_px: float, step: Step = no_step) -> Searched:
    """Reduce, then search for a better arrangement; the better of both by the figure that is shown.

    `step(done, total)` is called before each pass; what it raises ends the search.
    """
    toned = apply_tone(fitted.linear, recipe)
    with ThreadPoolExecutor(1) as beside:
        target = beside.submit(seen_target, toned, passport, turn, sigma_px)
        pixels = reduced(toned, recipe, passport, turn)
        before = eye_error(target.result(), pixels, passport, turn, sigma_px)
    tried = polished(pixels, toned, recipe, passport, sigma_px, step)
    # The search goes by a figure that is nearly the one shown.
    after = eye_error(target.result(), tried, passport, turn, sigma_px)
    return Searched(tried if after < before else pixels, before)


def wants_search(recipe: Recipe, passport: Passport) -> bool:
    """Whether the recipe asks for the search, and the panel's few colours leave anything to search for."""
    return recipe.polish and passport.palette is not None


@dataclass(frozen=True, eq=False)
class Pixels:
    """What a recipe makes of a fitted source, before anything is packed or measured.

    `toned` is the light (H, W, 3) that was meant, `pixels` are palette indices (H, W) or RGB (H, W, 3) as the reader sees them.
    """

    toned: FloatArray
    pixels: npt.NDArray[np.uint8]


def make_pixels(fitted: Fitted, recipe: Recipe, passport: Passport, turn: Turn, searched: Searched | None = None) -> Pixels:
    """Tone and reduce; raises as `convert`."""
    toned = apply_tone(fitted.linear, recipe)
    pixels = searched.pixels if searched else reduced(toned, recipe, passport, turn)
    return Pixels(toned, painted(pixels, checked_runs(recipe.pixel_edits, passport)))


def convert(
    fitted: Fitted,
    recipe: Recipe,
    passport: Passport,
    turn: Turn,
    sigma_px: float,
    *,
    searched: Searched | None = None,
    search_later: bool = False,
    made: Pixels | None = None,
) -> Converted:
    """Tone, reduce, pack, play through the virtual panel, and measure.

    `searched` is what `search` made of the same recipe, if that was done before; with `search_later`
    a search that is asked for is left to another time; `made` are the recipe's pixels, if they are there already.

    Raises
    ------
    UnknownNameError
        The recipe names no known method, or a colour to be left out that the panel has not.
    BadValueError
        Too many colours are left out, or a drawn tile is malformed.
    """
    if wants_search(recipe, passport) and searched is None and not search_later:
        searched = search(fitted, recipe, passport, turn, sigma_px)
    made = made or make_pixels(fitted, recipe, passport, turn, searched)
    pixels = made.pixels
    # What the eye would see of the original does not wait for the proof; the kernels let go of
    # the interpreter, so the two run side by side.
    with ThreadPoolExecutor(1) as beside:
        target = beside.submit(seen_target, made.toned, passport, turn, sigma_px)
        packed = pack(pixels, passport, turn)
        parts = frame_parts(passport, turn, packed)
        proof = prove(passport, turn, setup_part(passport, turn), parts, pixels, len(packed))
        error = eye_error(target.result(), pixels, passport, turn, sigma_px)
    before = searched.unpolished_error if searched else None
    aimed = aimed_error(made.toned, pixels, recipe, passport, sigma_px)
    return Converted(
        pixels, made.toned, packed, parts, proof, error, sigma_px, fitted.cut, passport, before, fitted.coverage, aimed
    )
