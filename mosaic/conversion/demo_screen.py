"""The screen on which panels are compared: the same content, painted for each panel's own pixels.

Large figures, a line of text, a curve and two patches of colour: what a maker would read from
afar and from near, and what shows a panel's colours.
"""

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from mosaic.conversion.pipeline import Converted, convert, fit_stage
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.geometry import Turn, seen_size
from mosaic.panels.passport import Passport
from mosaic.reduce.recipe import Recipe

OVERSAMPLING = 3
LARGEST_SIDE = 2400
# Margins of round glass, as a share of its side: inside this the square lies within the disc.
DISC_MARGIN = 0.146
LEAST_TEXT_PX = 10


def paint(width: int, height: int, *, dark: bool, crisp: bool = False, round_glass: bool = False) -> SourcePicture:
    """The screen at `width` x `height` pixels; light on dark for glass that shines.

    It is painted finer than the panel, so that edges are even; `crisp` paints it pixel by pixel
    without grey edges, for glass of two colours.
    """
    scale = 1 if crisp else max(1, min(OVERSAMPLING, LARGEST_SIDE // max(width, height)))
    size = (width * scale, height * scale)
    ground, ink, quiet = ((8, 12, 16), (240, 244, 240), (90, 150, 170)) if dark else ((255, 255, 255), (0, 0, 0), (90, 90, 90))
    image = Image.new("RGB", size, ground)
    draw = ImageDraw.Draw(image)
    draw.fontmode = "1" if crisp else "L"
    margin = DISC_MARGIN * min(size) if round_glass else 0.04 * min(size)
    left, top, right, bottom = margin, margin, size[0] - margin, size[1] - margin
    wide = (right - left) > 1.6 * (bottom - top)
    figures = (left, top, left + (right - left) * (0.55 if wide else 1.0), bottom if wide else top + (bottom - top) * 0.5)
    rest = (figures[2] + margin, top, right, bottom) if wide else (left, figures[3], right, bottom)
    _figures(draw, figures, ink, quiet)
    _curve(draw, rest, ink, quiet)
    return SourcePicture(np.asarray(image), None, "PNG")


def _font(size: float) -> ImageFont.FreeTypeFont:
    return ImageFont.load_default(max(6.0, size))  # type: ignore[return-value]


def _figures(draw: ImageDraw.ImageDraw, box: tuple[float, ...], ink: tuple[int, ...], quiet: tuple[int, ...]) -> None:
    """Two large figures with their unit, and a word below."""
    left, top, right, bottom = box
    size = min((bottom - top) * 0.82, (right - left) * 0.55)
    draw.text((left, top - size * 0.16), "3.4", font=_font(size), fill=ink)
    end = left + draw.textlength("3.4", font=_font(size))
    draw.text((end + size * 0.06, top + size * 0.44), "m", font=_font(size * 0.38), fill=quiet)
    draw.text((left, top + size * 0.86), "Tide, rising", font=_font(max(size * 0.24, LEAST_TEXT_PX)), fill=ink)


def _curve(draw: ImageDraw.ImageDraw, box: tuple[float, ...], ink: tuple[int, ...], quiet: tuple[int, ...]) -> None:
    """A tide curve over its base line, and patches of red, yellow, green and blue."""
    left, top, right, bottom = box
    width, height = right - left, bottom - top
    x = np.linspace(0, 1, 60)
    y = 0.42 - 0.34 * np.sin(x * 2 * np.pi - 1.1)
    line = max(2, int(min(width, height) * 0.035))
    points = [(left + width * a, top + height * b * 0.8) for a, b in zip(x, y, strict=True)]
    draw.line(points, fill=ink, width=line, joint="curve")
    base = top + height * 0.7
    draw.line([(left, base), (right, base)], fill=quiet, width=max(1, line // 2))
    for number, color in enumerate(((206, 44, 36), (240, 196, 20), (46, 140, 74), (40, 84, 190))):
        at = left + width * number / 4
        draw.rectangle((at, top + height * 0.78, at + width * 0.21, bottom), fill=color)


def shown_on(passport: Passport, turn: Turn) -> Converted:
    """The screen reduced for a panel as its pictures are, packed, and proved on the virtual panel."""
    size = seen_size(passport, turn)
    dark = bool(passport.optics.white_cd_m2)
    # Text wants hard edges: two colours by threshold; more of them want diffusion.
    two_colors = passport.palette is not None and len(passport.palette) == 2
    source = paint(*size, dark=dark, crisp=two_colors, round_glass=passport.glass.shape == "round")
    recipe = Recipe(method="threshold" if two_colors else "floyd-steinberg", fit="stretch", scaling="area", strength=0.85)
    return convert(fit_stage(source, recipe, passport, turn), recipe, passport, turn, 1.5)
