"""Cells of the build's strips and segmented figures, as letters."""

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.lettering.beginning import first_plan
from mosaic.lettering.making import NONE
from mosaic.lettering.pictures import proposed_codes
from mosaic.lettering.plan import PICTURES_ONLY, LetteringPlan
from mosaic.strips.cells import Cell
from workshop.builds.models import Build
from workshop.stations.exchange import offered_cells


def cells_by_name(build: Build, device: Device, refs: list[str]) -> dict[tuple[str, str], Cell]:
    """The cells of what these references name, by reference and name."""
    return {(ref, cell.name): cell for ref in refs for cell in offered_cells(build, device, ref)}


def plan_of_pictures(build: Build, device: Device, ref: str, name: str) -> LetteringPlan:
    """The cells of a strip or a figure called `name` as letters.

    Raises
    ------
    BadValueError
        It has none.
    """
    names = tuple(cell.name for cell in offered_cells(build, device, ref))
    if not names:
        raise BadValueError(f"{name} has no cells to take; look at it in station 3")
    codes = proposed_codes(names)
    uses = [{"code": code, "source": ref, "cell": cell[:80]} for code, cell in zip(codes, names, strict=True)]
    return first_plan(device, None, face=PICTURES_ONLY, preset=NONE, pictures=uses, bits=1)
