"""Cutting a sheet into equal or found cells: by a grid, by the gaps between them, or by a given size."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
import numpy.typing as npt
from msgspec import Meta

from mosaic.color.palette import Palette
from mosaic.color.srgb import bytes_to_linear, luminance, parse_hex
from mosaic.conversion.reducing import reduced
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.passport import Passport
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.tone import apply_tone
from mosaic.strips.cells import Cell

Count = Annotated[int, Meta(ge=1, le=512)]
Pixels = Annotated[int, Meta(ge=0, le=4096)]
MAX_CELLS = 1024
MAX_SHEET_PIXELS = 4_000_000
Box = tuple[int, int, int, int]


@dataclass(frozen=True)
class StripPlan:
    """How a sheet becomes cells.

    Attributes
    ----------
    cut : by a grid of `columns` x `rows`; by empty gaps; or by cells of `cell_width` x `cell_height`.
    margin_x, margin_y, gap_x, gap_y : sheet pixels before the first cell, and between cells (grid and size).
    count : how many cells are taken; 0 takes all.
    trim : cut each cell to its ink.
    baseline : row within the untrimmed cell on which it stands, counted from its lower edge.
    equal_advance : every cell moves the pen by as much as the widest. spacing : pixels added to each advance.
    names : of the cells in order; cells beyond them are numbered.
    drawn : whether a program draws whole cells, ground and all, or their ink only.
    line : the cells that it puts side by side, and those that stand at a place of their own (`mosaic.strips.placing`);
        "" for all of them on a line.
    """

    cut: Literal["grid", "gaps", "size"] = "grid"
    columns: Count = 10
    rows: Count = 1
    cell_width: Annotated[int, Meta(ge=1, le=4096)] = 16
    cell_height: Annotated[int, Meta(ge=1, le=4096)] = 16
    margin_x: Pixels = 0
    margin_y: Pixels = 0
    gap_x: Pixels = 0
    gap_y: Pixels = 0
    count: Annotated[int, Meta(ge=0, le=MAX_CELLS)] = 0
    trim: bool = True
    baseline: Pixels = 0
    equal_advance: bool = False
    spacing: Annotated[int, Meta(ge=-64, le=256)] = 1
    names: tuple[str, ...] = ()
    drawn: Literal["opaque", "see-through"] = "opaque"
    line: Annotated[str, Meta(max_length=2000)] = ""
    recipe: Recipe = field(default=Recipe(method="threshold", ground="#000000"))
    form: Literal[1] = field(default=1)


def ground_of(recipe: Recipe, passport: Passport) -> int | tuple[int, int, int]:
    """The value of the background on this panel: the palette colour nearest to it, or its RGB."""
    rgb = np.array(parse_hex(recipe.ground), np.uint8)
    palette: Palette | None = passport.palette
    if palette is None:
        return int(rgb[0]), int(rgb[1]), int(rgb[2])
    light = bytes_to_linear(rgb)
    if palette.is_tone:
        aim = float(luminance(light))
        return int(np.abs(palette.levels() - aim).argmin())
    return int(((palette.linear() - light) ** 2).sum(axis=1).argmin())


def reduced_sheet(source: SourcePicture, recipe: Recipe, device: Device) -> npt.NDArray[np.uint8]:
    """The whole sheet, pixel for pixel, in the panel's values; see-through parts lie on the ground.

    Raises
    ------
    BadValueError
        The sheet is too large.
    """
    if source.width * source.height > MAX_SHEET_PIXELS:
        raise BadValueError(
            f"the sheet has {source.width:,} x {source.height:,} pixels; up to {MAX_SHEET_PIXELS // 10**6} million are accepted"
        )
    light = bytes_to_linear(source.rgb)
    if source.alpha is not None:
        ground = bytes_to_linear(np.array(parse_hex(recipe.ground), np.uint8))
        share = (source.alpha.astype(np.float32) / 255)[..., None]
        light = (light * share + ground * (1 - share)).astype(np.float32)
    # Zones belong to places on the glass; a cell may be drawn anywhere.
    plain = recipe.with_changes(zones="across", regions=[], pixel_edits=[])
    return reduced(apply_tone(np.ascontiguousarray(light, np.float32), plain), plain, device.passport, device.turn)


def inked_of(pixels: npt.NDArray[np.uint8], ground: int | tuple[int, int, int]) -> npt.NDArray[np.bool_]:
    """(H, W) which pixels differ from the ground."""
    differs = pixels != np.array(ground, np.uint8)
    return differs.any(axis=-1) if differs.ndim == 3 else differs


def _runs(filled: npt.NDArray[np.bool_]) -> list[tuple[int, int]]:
    """(first, end) of every run of True."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], filled, [False]]).astype(np.int8)))
    return [(int(a), int(b)) for a, b in edges.reshape(-1, 2)]


def boxes_of(plan: StripPlan, inked: npt.NDArray[np.bool_]) -> list[Box]:
    """(x, y, width, height) of every cell on a sheet of (H, W) ink.

    Raises
    ------
    BadValueError
        The cells do not fit the sheet, nothing is on it, or there are too many.
    """
    height, width = inked.shape
    if plan.cut == "gaps":
        boxes = [
            (x, y, end_x - x, end_y - y)
            for y, end_y in _runs(np.asarray(inked.any(axis=1)))
            for x, end_x in _runs(np.asarray(inked[y:end_y].any(axis=0)))
        ]
        if not boxes:
            raise BadValueError("nothing on this sheet differs from its background; choose another background, or cut by a grid")
    else:
        boxes = _regular(plan, width, height)
    boxes = boxes[: plan.count or len(boxes)]
    if len(boxes) > MAX_CELLS:
        raise BadValueError(f"the sheet falls into {len(boxes):,} cells; {MAX_CELLS:,} are accepted")
    return boxes


def _regular(plan: StripPlan, width: int, height: int) -> list[Box]:
    if plan.cut == "grid":
        columns, rows = plan.columns, plan.rows
        wide = (width - 2 * plan.margin_x - (columns - 1) * plan.gap_x) // columns
        high = (height - 2 * plan.margin_y - (rows - 1) * plan.gap_y) // rows
        if wide < 1 or high < 1:
            raise BadValueError(f"{columns} x {rows} cells with their margins and gaps do not fit {width} x {height} pixels")
    else:
        wide, high = plan.cell_width, plan.cell_height
        columns = (width - plan.margin_x + plan.gap_x) // (wide + plan.gap_x)
        rows = (height - plan.margin_y + plan.gap_y) // (high + plan.gap_y)
        if columns < 1 or rows < 1:
            raise BadValueError(f"no cell of {wide} x {high} fits the sheet of {width} x {height} pixels")
    step_x, step_y = wide + plan.gap_x, high + plan.gap_y
    return [(plan.margin_x + c * step_x, plan.margin_y + r * step_y, wide, high) for r in range(rows) for c in range(columns)]


def cells_from_sheet(sheet: npt.NDArray[np.uint8], plan: StripPlan, ground: int | tuple[int, int, int]) -> tuple[Cell, ...]:
    """The cells of a reduced sheet, (H, W) or (H, W, 3)."""
    inked = inked_of(sheet, ground)
    cut = []
    for number, (x, y, width, height) in enumerate(boxes_of(plan, inked)):
        part = inked[y : y + height, x : x + width]
        left, top, right, bottom = 0, 0, width, height
        if plan.trim and part.any():
            rows, columns = np.flatnonzero(part.any(axis=1)), np.flatnonzero(part.any(axis=0))
            left, right, top, bottom = int(columns[0]), int(columns[-1]) + 1, int(rows[0]), int(rows[-1]) + 1
        box = (slice(y + top, y + bottom), slice(x + left, x + right))
        # From the baseline, which is counted from the lower edge of the untrimmed cell.
        cut.append((_name(plan, number), sheet[box], inked[box], height - plan.baseline - top))
    widest = max(pixels.shape[1] for _, pixels, _, _ in cut)
    made = []
    for name, pixels, ink, dy in cut:
        slack = widest - pixels.shape[1] if plan.equal_advance else 0
        advance = pixels.shape[1] + slack + plan.spacing
        made.append(Cell(name, np.ascontiguousarray(pixels), ink, slack // 2, dy, advance))
    return tuple(made)


def _name(plan: StripPlan, number: int) -> str:
    return plan.names[number] if number < len(plan.names) else str(number)


def sheet_rgb(pixels: npt.NDArray[np.uint8], passport: Passport) -> npt.NDArray[np.uint8]:
    """(H, W, 3) values of any size in the panel's measured colours."""
    return pixels if passport.palette is None else passport.palette.measured_rgb[pixels]
