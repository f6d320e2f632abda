"""Rulers over the controller's whole RAM: the first number that is seen tells where the glass begins.

A ruler is sent to every column and row the controller has, numbered from 0, whether glass lies
before it or not. Marks stand every ten, numbers at as many as there is room for.
"""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import numpy.typing as npt

from mosaic.cards.canvas import Canvas
from mosaic.cards.card import Card
from mosaic.cards.letters import FACES, Face
from mosaic.errors import BadValueError
from mosaic.panels.geometry import Orientation, Turn, from_host, host_view, orientation_of, seen_size
from mosaic.panels.glass import Ram
from mosaic.panels.passport import Passport

Axis = Literal["columns", "rows"]
Edge = Literal["left", "right", "top", "bottom"]
MARK = 10
NUMBER_STEPS = (10, 20, 50, 100, 200)
BAND_GAP = 6
NUMBERS_SEEN = 4
PAGE_FAMILIES = ("page-oled", "page-only-oled")


def ram_as_glass(passport: Passport) -> Passport:
    """The passport as if glass lay before all of its RAM, so that a frame fills it."""
    ram = passport.ram
    glass = replace(passport.glass, width_px=ram.width_px, height_px=ram.height_px, shape="rect", corner_mm=0.0)
    return replace(passport, glass=glass, ram=replace(ram, offset_x=0, offset_y=0), zones=())


def has_addresses(passport: Passport) -> bool:
    """Whether the glass can lie anywhere else in a RAM: panels that take whole frames have no addresses."""
    return not passport.grid.whole_frames and passport.scan is None


def addresses(passport: Passport, turn: Turn, axis: Axis) -> npt.NDArray[np.int64]:
    """(H, W) address of the board's column or row at each RAM pixel, as the reader sees it."""
    whole = ram_as_glass(passport)
    view = host_view(whole, turn)
    y, x = np.mgrid[0 : view.height_px, 0 : view.width_px]
    seen: npt.NDArray[np.int64] = from_host(x if axis == "columns" else y, whole, turn)
    return seen


@dataclass(frozen=True)
class Reading:
    """How an axis of the board lies before the reader: along which edge its first address is."""

    axis: Axis
    edge: Edge

    @property
    def runs_across(self) -> bool:
        return self.edge in ("left", "right")


def reading_of(passport: Passport, turn: Turn, axis: Axis) -> Reading:
    """Where the reader finds the first address of an axis."""
    seen = addresses(passport, turn, axis)
    if seen[0, 0] != seen[0, -1]:
        return Reading(axis, "left" if seen[0, 0] < seen[0, -1] else "right")
    return Reading(axis, "top" if seen[0, 0] < seen[-1, 0] else "bottom")


def paint_ruler(canvas: Canvas, axis: Axis) -> None:
    """Marks and numbers across the whole RAM, repeated so that every strip of glass has some."""
    line = addresses(canvas.passport, canvas.turn, axis)
    across = bool(line[0, 0] != line[0, -1])
    values = line[0] if across else line[:, 0]
    digits = len(str(int(values.max())))
    face, step = _face_and_step(canvas, across, digits)
    band = (face.height if across else face.width_of("8" * digits)) + 8
    length = canvas.height if across else canvas.width
    for start in range(0, length, band + BAND_GAP):
        for place, value in enumerate(values.tolist()):
            _mark(canvas, across, place, start, _mark_length(value, step, band))
        for place, value in enumerate(values.tolist()):
            if value % step == 0:
                _number(canvas, across, place, start, str(value), face)


def _face_and_step(canvas: Canvas, across: bool, digits: int) -> tuple[Face, int]:
    """Letters small enough for NUMBERS_SEEN numbers on the glass, and how far apart they stand."""
    sides = seen_size(canvas.passport, canvas.turn)
    wanted = canvas.face(max(5, min(sides) // 5))
    for face in FACES[FACES.index(wanted) :]:
        need = face.width_of("8" * digits) + 4 if across else face.height + 5
        step = next((s for s in NUMBER_STEPS if s >= need), NUMBER_STEPS[-1])
        if step * NUMBERS_SEEN <= sides[0 if across else 1]:
            return face, step
    return FACES[-1], step


def _mark_length(value: int, step: int, band: int) -> int:
    """A numbered mark runs through its band, tens and fives stand out, even addresses are short, odd ones bare."""
    if value % step == 0:
        return band
    return 6 if value % MARK == 0 else 4 if value % 5 == 0 else 2 if value % 2 == 0 else 0


def _mark(canvas: Canvas, across: bool, place: int, start: int, length: int) -> None:
    if across:
        canvas.fill(place, start, 1, length)
    else:
        canvas.fill(start, place, length, 1)


def _number(canvas: Canvas, across: bool, place: int, start: int, words: str, face: Face) -> None:
    """Right of its mark, or below it, clear of the small marks."""
    x, y = (place + 2, start + 7) if across else (start + 7, place + 2)
    canvas.text(x, y, words, face)


def _columns(canvas: Canvas) -> None:
    paint_ruler(canvas, "columns")


def _rows(canvas: Canvas) -> None:
    paint_ruler(canvas, "rows")


def offset_from_reading(passport: Passport, turn: Turn, first_column: int, first_row: int) -> Ram:
    """The RAM with the offsets that make `first_column` and `first_row` the first addresses on the glass.

    The inverse of what `host_view` computes. A page controller of which only the columns before
    the glass were known is taken to have as many after it.

    Raises
    ------
    BadValueError
        An address is below 0, or the RAM ends before the glass does.
    """
    glass, ram, lies = passport.glass, passport.ram, orientation_of(turn)
    for name, value in (("column", first_column), ("row", first_row)):
        if value < 0:
            raise BadValueError(f"first {name} {value} is below 0; the ruler begins at 0")
    if passport.controller.turned_by == "picture":
        native = (first_column, first_row)
    else:
        native = _native_offsets(passport, lies, first_column, first_row)
    width, height = ram.width_px, ram.height_px
    if passport.controller.family in PAGE_FAMILIES and native[0] + glass.width_px > width:
        width = glass.width_px + 2 * native[0]
    for name, offset, size, whole in (("column", native[0], glass.width_px, width), ("row", native[1], glass.height_px, height)):
        if not 0 <= offset <= whole - size:
            raise BadValueError(
                f"the glass cannot begin at {name} {offset}: {size} {name}s of glass fit {whole} of RAM"
                f" from {name} 0 to {whole - size}; correct the RAM in the passport if it has more"
            )
    return Ram(width, height, *native)


def _native_offsets(passport: Passport, lies: Orientation, first_column: int, first_row: int) -> tuple[int, int]:
    """Native offsets of a controller that turns: axes may be exchanged and counted from the far end."""
    glass, ram = passport.glass, passport.ram
    plain = host_view(replace(passport, ram=replace(ram, offset_x=0, offset_y=0)), lies)
    if lies.rotation % 180:
        first_column, first_row = first_row, first_column
        at_zero = (plain.offset_y, plain.offset_x)
    else:
        at_zero = (plain.offset_x, plain.offset_y)
    spare = (ram.width_px - glass.width_px, ram.height_px - glass.height_px)
    # An axis that runs against the native one shows all spare addresses first when nothing is offset.
    x = spare[0] - first_column if at_zero[0] == spare[0] and spare[0] else first_column
    y = spare[1] - first_row if at_zero[1] == spare[1] and spare[1] else first_row
    return x, y


_LOOK = (
    "Read the first long mark with a number, counted from the edge named below.",
    "Count the {} between that edge and the mark; every second one has a short mark, every fifth a longer one.",
)
COLUMNS = Card(
    "columns", "Column ruler", "at which column of the RAM the glass begins",
    (_LOOK[0], _LOOK[1].format("columns")), _columns, has_addresses, whole_ram=True,
)  # fmt: skip
ROWS = Card(
    "rows", "Row ruler", "at which row of the RAM the glass begins",
    (_LOOK[0], _LOOK[1].format("rows")), _rows, has_addresses, whole_ram=True,
)  # fmt: skip
