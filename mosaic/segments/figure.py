"""Every symbol of a segmented figure, made of one drawing and a table of which segments it lights."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
import numpy.typing as npt
from msgspec import Meta

from mosaic.device.device import Device
from mosaic.errors import BadValueError, UnknownNameError
from mosaic.imports.vector import render_svg
from mosaic.panels.passport import Passport
from mosaic.reduce.mask import shares
from mosaic.reduce.pattern import TILES, tile_ranks
from mosaic.segments.layouts import LAYOUTS, own_segments, polygons, svg_of
from mosaic.strips.cells import Cell, PixelArray

BoolArray = npt.NDArray[np.bool_]
HALF_COVERED = 128
MAX_SYMBOLS = 128


@dataclass(frozen=True)
class SymbolRow:
    """A symbol and the segments it lights, separated by spaces."""

    symbol: Annotated[str, Meta(min_length=1, max_length=24)]
    lit: Annotated[str, Meta(max_length=400)] = ""


@dataclass(frozen=True)
class FigurePlan:
    """How a segmented figure is made.

    Attributes
    ----------
    layout : "seven", "fourteen" or "own" (a drawing with named segments).
    width, height : pixels of every symbol.
    thickness, gap : of the drawn layouts, shares of the width; slant_deg : lean to the right.
    lit, ground : the panel's colours, by palette index, or 0xRRGGBB without a palette.
    unlit : segments that are not lit are left out, shown faint in the colour `faint`, or filled with `pattern`.
    share : how much of the pattern's places are set.
    spacing : pixels between figures.
    table : symbols; empty takes the layout's own.
    """

    layout: Literal["seven", "fourteen", "own"] = "seven"
    width: Annotated[int, Meta(ge=4, le=1024)] = 24
    height: Annotated[int, Meta(ge=6, le=1024)] = 40
    thickness: Annotated[float, Meta(ge=0.05, le=0.35)] = 0.16
    gap: Annotated[float, Meta(ge=0, le=0.2)] = 0.03
    slant_deg: Annotated[float, Meta(ge=0, le=20)] = 0.0
    lit: Annotated[int, Meta(ge=0, le=0xFFFFFF)] = 1
    ground: Annotated[int, Meta(ge=0, le=0xFFFFFF)] = 0
    unlit: Literal["none", "faint", "pattern"] = "none"
    faint: Annotated[int, Meta(ge=0, le=0xFFFFFF)] = 0
    pattern: Annotated[str, Meta(max_length=20)] = "grain"
    share: Annotated[float, Meta(ge=0, le=1)] = 0.25
    spacing: Annotated[int, Meta(ge=0, le=256)] = 2
    table: Annotated[tuple[SymbolRow, ...], Meta(max_length=MAX_SYMBOLS)] = ()
    form: Literal[1] = field(default=1)


def first_plan(device: Device) -> FigurePlan:
    """Seven segments in the panel's own contrast, five eighths of its height, 12 to 96 pixels."""
    passport = device.passport
    height = max(12, min(96, device.size[1] * 5 // 8))
    if passport.palette is None:
        return FigurePlan(width=height * 5 // 8, height=height, lit=0xFFFFFF, ground=0, faint=0x303030)
    lit, ground = passport.palette.lightest, passport.palette.darkest
    if passport.technology == "epaper":
        lit, ground = ground, lit
    return FigurePlan(width=height * 5 // 8, height=height, lit=lit, ground=ground, faint=ground)


def rows_of(plan: FigurePlan) -> tuple[SymbolRow, ...]:
    """The plan's table, or its layout's own."""
    return plan.table or tuple(SymbolRow(symbol, lit) for symbol, lit in LAYOUTS[plan.layout].table.items())


def segment_masks(plan: FigurePlan, drawing: tuple[str, bytes] | None = None) -> dict[str, BoolArray]:
    """(H, W) pixels of every segment: those it covers by half or more.

    `drawing` is (file name, bytes) of an SVG for the layout "own".

    Raises
    ------
    BadValueError
        The layout "own" has no drawing, or nothing in it has a name.
    BadPictureError
        The drawing cannot be taken.
    """
    if plan.layout == "own":
        if drawing is None:
            raise BadValueError("a figure of your own needs a drawing in SVG whose segments have names")
        drawn, _ = own_segments(drawing[1], drawing[0])
        name = drawing[0]
    else:
        # Leaning figures reach beyond their box by half their lean; it is drawn narrower by as much.
        lean = np.tan(np.radians(plan.slant_deg)) * plan.height
        shapes = polygons(
            LAYOUTS[plan.layout], max(3.0, plan.width - lean), plan.height, plan.thickness, plan.gap, plan.slant_deg
        )
        moved = {key: tuple((x + lean / 2, y) for x, y in shape) for key, shape in shapes.items()}
        drawn, name = svg_of(moved, plan.width, plan.height), "the figure"
    return {key: _covered(text, plan.width, plan.height, name) for key, text in drawn.items()}


def _covered(text: str, width: int, height: int, name: str) -> BoolArray:
    # The renderer's own smoothing says how much of a pixel is covered.
    return render_svg(text, width, height, name)[..., 3] >= HALF_COVERED


def _value(color: int, passport: Passport) -> npt.NDArray[np.uint8]:
    """A colour as a pixel of this panel.

    Raises
    ------
    BadValueError
        The panel has no such colour.
    """
    if passport.palette is None:
        return np.array([color >> 16, color >> 8 & 255, color & 255], np.uint8)
    if color >= len(passport.palette):
        raise BadValueError(f"colour {color} is none of this panel; 0 to {len(passport.palette) - 1} are")
    return np.array(color, np.uint8)


def symbols_of(plan: FigurePlan, passport: Passport, drawing: tuple[str, bytes] | None = None) -> tuple[Cell, ...]:
    """A cell for every symbol of the table.

    Raises
    ------
    UnknownNameError
        The table names a segment that the figure has not, or the pattern is unknown.
    BadValueError
        A symbol stands twice, a colour is none of the panel's, or as `segment_masks`.
    """
    masks = segment_masks(plan, drawing)
    rows = rows_of(plan)
    symbols = [row.symbol for row in rows]
    twice = sorted({s for s in symbols if symbols.count(s) > 1})
    if twice:
        raise BadValueError(f"the table has {', '.join(twice)} twice; each symbol stands once")
    if not rows:
        raise BadValueError('the table has no symbol; give each a line such as "7: a b c"')
    ground, lit = _value(plan.ground, passport), _value(plan.lit, passport)
    every = np.zeros((plan.height, plan.width), np.bool_)
    for mask in masks.values():
        every |= mask
    return tuple(_cell(row, plan, _lit_mask(row, masks, every.shape), every, (ground, lit), passport) for row in rows)


def _lit_mask(row: SymbolRow, masks: dict[str, BoolArray], shape: tuple[int, ...]) -> BoolArray:
    on = np.zeros(shape, np.bool_)
    for name in row.lit.split():
        if name not in masks:
            raise UnknownNameError(f"{row.symbol!r} lights {name!r}, which the figure has not; it has {', '.join(masks)}")
        on |= masks[name]
    return on


def _cell(
    row: SymbolRow, plan: FigurePlan, on: BoolArray, every: BoolArray, colors: tuple[PixelArray, PixelArray], passport: Passport
) -> Cell:
    ground, lit = colors
    out = np.empty((*on.shape, *ground.shape), np.uint8)
    out[:] = ground
    off = every & ~on
    if plan.unlit == "faint":
        out[off] = _value(plan.faint, passport)
    elif plan.unlit == "pattern":
        out[off & _pattern(plan, on.shape)] = lit
    out[on] = lit
    shown = on | off if plan.unlit != "none" else on
    return Cell(row.symbol, out, shown, 0, plan.height, plan.width + plan.spacing)


def _pattern(plan: FigurePlan, shape: tuple[int, ...]) -> BoolArray:
    if plan.pattern not in TILES:
        raise UnknownNameError(f"no pattern is named {plan.pattern!r}; known: {', '.join(TILES)}")
    ranks = tile_ranks(TILES[plan.pattern])
    set_places = shares(ranks) < plan.share
    y, x = np.indices(shape)
    return set_places[y % ranks.shape[0], x % ranks.shape[1]]


def table_from_text(text: str) -> tuple[SymbolRow, ...]:
    """The rows of a table written as lines "symbol: segments".

    Raises
    ------
    BadValueError
        A line has no colon, or its symbol is empty or too long.
    """
    rows = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        # A colon may be a symbol itself, so the first one behind a sign parts.
        symbol, colon, lit = line.strip()[:1], "", ""
        head, colon, lit = line.strip()[1:].partition(":")
        symbol += head
        if not colon or not 1 <= len(symbol.strip()) <= 24:
            shown = line.strip()[:40]
            raise BadValueError(f'line {number} of the table is {shown!r}; a line is a symbol, a colon and segments: "7: a b c"')
        rows.append(SymbolRow(symbol.strip(), " ".join(lit.split())))
    if len(rows) > MAX_SYMBOLS:
        raise BadValueError(f"the table has {len(rows)} symbols; {MAX_SYMBOLS} are accepted")
    return tuple(rows)


def text_of_table(rows: tuple[SymbolRow, ...]) -> str:
    """The inverse of `table_from_text`."""
    return "\n".join(f"{row.symbol}: {row.lit}" for row in rows)
