"""Cells of the build's strips and segmented figures, for use as letters."""

from mosaic.device.device import Device
from mosaic.errors import MosaicError
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
