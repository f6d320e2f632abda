"""Cells: small pictures of one kind (digits, icons, sprites), how they stand on a line, and whether they crop each other."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.device.device import Device
from mosaic.panels.geometry import to_host
from mosaic.pixels.direct import pack_direct
from mosaic.pixels.formats import DirectFormat
from mosaic.pixels.indexed import pack_indexed

PixelArray = npt.NDArray[np.uint8]


@dataclass(frozen=True, eq=False)
class Cell:
    """One cell.

    Attributes
    ----------
    pixels : (H, W) palette indices or (H, W, 3) RGB; inked (H, W) where it is not ground.
    dx, dy : pixels from the pen to its left edge, and from the baseline up to its upper edge.
    advance : pixels by which the pen moves on.
    """

    name: str
    pixels: PixelArray
    inked: npt.NDArray[np.bool_]
    dx: int
    dy: int
    advance: int

    @property
    def width(self) -> int:
        return self.pixels.shape[1]

    @property
    def height(self) -> int:
        return self.pixels.shape[0]


@dataclass(frozen=True)
class Overlap:
    """Two cells of which the second, drawn opaque behind the first, covers the first one's ink.

    `covered_px` pixels of `first` are lost when `second` follows.
    """

    first: str
    second: str
    covered_px: int


def overlaps(cells: tuple[Cell, ...]) -> list[Overlap]:
    """Every pair, in either order, in which an opaque second cell covers ink of the first; the worst first."""
    found = []
    for first in cells:
        for second in cells:
            # Column of the first cell at which the second one's box begins, and rows that both have.
            begin = max(0, first.advance + second.dx - first.dx)
            end = begin + second.width
            top = first.dy - second.dy
            covered = first.inked[max(0, top) : max(0, top + second.height), begin:end]
            if covered.any():
                found.append(Overlap(first.name, second.name, int(covered.sum())))
    return sorted(found, key=lambda overlap: -overlap.covered_px)


def pack_cell(cell: Cell, device: Device) -> bytes:
    """A cell's bytes, packed like a picture of its own size in the form in which the program takes arrays."""
    host = np.ascontiguousarray(to_host(cell.pixels, device.passport, device.turn))
    form = device.sending.array_format(device.passport)
    return pack_direct(host, form) if isinstance(form, DirectFormat) else pack_indexed(host, form)


def line_of(cells: tuple[Cell, ...], names: list[str], ground: npt.ArrayLike, *, opaque: bool) -> PixelArray:
    """The named cells side by side on one line, as a program that draws them would; (H, W) or (H, W, 3)."""
    known = {cell.name: cell for cell in cells}
    drawn = [known[name] for name in names if name in known]
    above = max((cell.dy for cell in drawn), default=1)
    below = max((cell.height - cell.dy for cell in drawn), default=0)
    start = max(0, -min((cell.dx for cell in drawn), default=0))
    pens = [start]
    for cell in drawn:
        pens.append(pens[-1] + cell.advance)
    wide = max((pen + cell.dx + cell.width for pen, cell in zip(pens, drawn, strict=False)), default=1)
    shape = (max(1, above + below), max(1, wide))
    out = np.empty(shape if np.ndim(ground) == 0 else (*shape, 3), np.uint8)
    out[:] = ground
    for pen, cell in zip(pens, drawn, strict=False):
        x, y = pen + cell.dx, above - cell.dy
        part = out[y : y + cell.height, x : x + cell.width]
        shown = cell.inked[: part.shape[0], : part.shape[1]] | opaque
        part[shown] = cell.pixels[: part.shape[0], : part.shape[1]][shown]
    return out
