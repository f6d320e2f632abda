"""The cells of strips and segmented figures, made of their documents."""

import numpy as np

from mosaic.animation.frames import read_clip
from mosaic.animation.making import make_animation
from mosaic.device.device import Device
from mosaic.forms import from_record
from mosaic.segments.figure import FigurePlan, symbols_of
from mosaic.strips.cells import Cell
from mosaic.strips.cutting import StripPlan, ground_of, reduced_sheet
from mosaic.strips.cutting import cells_from_sheet as cut
from workshop.documents.decoded import source_of
from workshop.documents.keys import digest, panel_part
from workshop.documents.models import Document, bytes_of
from workshop.memory import ByteCache
from workshop.pictures.documents import Animation, Figure, Strip


def sheet_of(strip: Strip, plan: StripPlan, device: Device):
    """The sheet in the panel's own values; raises `MosaicError`."""
    source = strip.sources[0]
    return reduced_sheet(source_of(source.original_id, source.file_name), plan.recipe, device)


def cut_cells(strip: Strip, plan: StripPlan, device: Device) -> tuple[Cell, ...]:
    """The cells of a strip.

    Raises
    ------
    MosaicError
        The sheet cannot be cut so.
    """
    return cut(sheet_of(strip, plan, device), plan, ground_of(plan.recipe, device.passport))


_symbols = ByteCache("symbols of figures", 24 * 2**20)


def drawing_of(figure: Figure) -> tuple[str, bytes] | None:
    """(file name, bytes) of the drawing that a figure's segments are parts of; None where it has none."""
    files = bytes_of(figure.sources)
    return files[-1] if files else None


def made_symbols(figure: Figure, plan: FigurePlan, device: Device) -> tuple[Cell, ...]:
    """The symbols of a figure.

    Raises
    ------
    MosaicError
        The drawing, the table or a colour does not do.
    """
    key = digest("symbols", from_record(plan), figure.original_id, *panel_part(device))

    def make() -> tuple[Cell, ...]:
        return symbols_of(plan, device.passport, drawing_of(figure))

    return _symbols.get_or_make(key, make, lambda cells: sum(cell.pixels.nbytes + cell.inked.nbytes for cell in cells))


def document_cells(document: Document, device: Device) -> tuple[Cell, ...]:
    """The cells of a strip or a figure as it is saved; raises `MosaicError`."""
    if isinstance(document, Strip):
        return cut_cells(document, document.record, device)
    return made_symbols(document, document.record, device)  # type: ignore[arg-type]


MOST_FRAMES = 64
"""Of an animation that are offered one by one."""


def frames_as_cells(row: Animation, device: Device) -> tuple[Cell, ...]:
    """The frames of an animation, each a cell of the whole glass; raises `MosaicError` where it cannot be made."""
    made = make_animation(read_clip(bytes_of(row.sources)), row.record, device)
    return tuple(
        Cell(
            f"frame {number}",
            frame.pixels,
            np.ones(frame.pixels.shape[:2], bool),
            0,
            frame.pixels.shape[0],
            frame.pixels.shape[1],
        )
        for number, frame in enumerate(made.frames[:MOST_FRAMES], 1)
    )
