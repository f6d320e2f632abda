"""What a new lettering begins with, on its panel and at its distance."""

from typing import Any

from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.lettering.making import NONE, Sources, make
from mosaic.lettering.measure import pitch_mm
from mosaic.lettering.pictures import proposed_codes
from mosaic.lettering.plan import PICTURES_ONLY, LetteringPlan
from mosaic.lettering.shades import shade_count, usual_colors
from mosaic.lettering.source import FontInfo
from workshop.lettering.piece_cells import cells_of_piece
from workshop.pictures.models import Piece


def first_plan(device: Device, info: FontInfo | None, **changes: Any) -> LetteringPlan:
    """A plan to begin with: the panel's own contrast, and a size that can be read at the build's distance, if that fits."""
    ink, ground = usual_colors(device.passport)
    bits = 2 if device.passport.palette is None or shade_count(device.passport, ink, ground, 2) == 4 else 1
    plan = LetteringPlan().with_changes(ink=ink, ground=ground, **{"bits": bits} | changes)
    if info is None or info.native_px:
        return plan.with_changes(size_px=min(256, max(4, info.native_px)) if info else 16, bits=1)
    by_distance = plan.with_changes(size_by="distance", distance_m=device.viewing_distance_mm / 1000)
    try:
        size = make(by_distance.with_changes(preset=NONE, more="0", face=plan.face), Sources(pitch_mm(device)[1])).size
    except MosaicError:
        return plan
    # A line that takes more than a third of the glass is a heading, not a lettering to begin with.
    return by_distance if size.em_px * 3 <= device.size[1] else plan


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
