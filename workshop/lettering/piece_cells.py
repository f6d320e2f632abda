"""Cells of the build's strips and segmented figures, as letters."""

from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.lettering.beginning import first_plan
from mosaic.lettering.making import NONE
from mosaic.lettering.pictures import proposed_codes
from mosaic.lettering.plan import PICTURES_ONLY, LetteringPlan
from mosaic.strips.cells import Cell
from workshop.pictures import figure_views, strip_views
from workshop.pictures.models import Piece


def cells_of_piece(piece: Piece, device: Device) -> tuple[Cell, ...]:
    """All cells of a strip or a figure; none where it cannot be made."""
    try:
        if piece.kind == Piece.Kind.STRIP:
            return strip_views.cut_cells(piece, strip_views.plan_of(piece.description), device)
        if piece.kind == Piece.Kind.FIGURE:
            return figure_views.made_symbols(piece, figure_views.plan_of(piece.description), device)
    except MosaicError:
        return ()
    return ()


def plan_of_pictures(piece: Piece, device: Device) -> LetteringPlan:
    """The cells of a strip or a figure as letters.

    Raises
    ------
    BadValueError
        It has none.
    """
    names = tuple(cell.name for cell in cells_of_piece(piece, device))
    if not names:
        raise BadValueError(f"{piece.name} has no cells to take; look at it in station 3")
    codes = proposed_codes(names)
    uses = [{"code": code, "piece": piece.pk, "cell": name[:80]} for code, name in zip(codes, names, strict=True)]
    return first_plan(device, None, face=PICTURES_ONLY, preset=NONE, pictures=uses, bits=1)
