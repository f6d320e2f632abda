"""Cells where a program puts them: following one another on a line, or with their upper left corner at x, y."""

import re
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.strips.cells import Cell, Overlap, PixelArray, overlaps

MOST_PLACED = 64
FURTHEST = 4096
_PLACE = re.compile(r"(?P<name>.+)@(?P<x>-?[0-9]{1,4}),(?P<y>-?[0-9]{1,4})")


@dataclass(frozen=True)
class Placed:
    """A cell with its upper left corner at x, y; `follows` where it stands on the line, behind any other of it."""

    cell: Cell
    x: int
    y: int
    follows: bool


def placed(cells: tuple[Cell, ...], text: str) -> tuple[Placed, ...]:
    """What a line of words puts where: names follow one another, ``name@x,y`` stands at its own place.

    x and y are pixels from the left end of the line and from its top.

    Raises
    ------
    BadValueError
        A cell is not known, a place lies too far away, or there are too many.
    """
    known = {cell.name: cell for cell in cells}
    words = text.split()
    if len(words) > MOST_PLACED:
        raise BadValueError(f"{len(words)} cells are placed; {MOST_PLACED} are accepted")
    wanted: list[tuple[Cell, tuple[int, int] | None]] = []
    for word in words:
        match = None if word in known else _PLACE.fullmatch(word)
        name, at = (match["name"], (int(match["x"]), int(match["y"]))) if match else (word, None)
        if name not in known:
            raise BadValueError(f"no cell is called {name!r}; places are written like {cells[0].name}@12,3")
        if at and max(map(abs, at)) > FURTHEST:
            raise BadValueError(f"{word}: places lie within {FURTHEST} px")
        wanted.append((known[name], at))
    above = max((cell.dy for cell, at in wanted if at is None), default=0)
    found, pen = [], max(0, -min((cell.dx for cell, at in wanted if at is None), default=0))
    for cell, at in wanted:
        if at is None:
            found.append(Placed(cell, pen + cell.dx, above - cell.dy, True))
            pen += cell.advance
        else:
            found.append(Placed(cell, *at, False))
    return tuple(found)


def scene_of(scene: tuple[Placed, ...], ground: npt.ArrayLike, *, opaque: bool) -> PixelArray:
    """(H, W) or (H, W, 3): the cells drawn in their order, cut off above and to the left of the origin."""
    wide = max([1, *(p.x + p.cell.width for p in scene)])
    high = max([1, *(p.y + p.cell.height for p in scene)])
    shape = (high, wide)
    out = np.empty(shape if np.ndim(ground) == 0 else (*shape, 3), np.uint8)
    out[:] = ground
    for p in scene:
        skip_x, skip_y = max(0, -p.x), max(0, -p.y)
        part = out[p.y + skip_y : p.y + p.cell.height, p.x + skip_x : p.x + p.cell.width] if _is_seen(p) else out[:0, :0]
        shown = p.cell.inked[skip_y:, skip_x:][: part.shape[0], : part.shape[1]] | opaque
        part[shown] = p.cell.pixels[skip_y:, skip_x:][: part.shape[0], : part.shape[1]][shown]
    return out


def _is_seen(p: Placed) -> bool:
    return p.x + p.cell.width > 0 and p.y + p.cell.height > 0


def crops(scene: tuple[Placed, ...]) -> list[Overlap]:
    """Which cells lose ink where all are drawn opaque, the worst first.

    Cells of the line may follow each other in any order; what stands at a place of its own meets what lies there.
    """
    on_line = {p.cell.name: p.cell for p in scene if p.follows}
    worst = {(o.first, o.second): o.covered_px for o in overlaps(tuple(on_line.values()))}
    for later, second in enumerate(scene):
        for first in scene[:later]:
            if first.follows and second.follows:
                continue
            lost = _covered(first, second)
            key = (first.cell.name, second.cell.name)
            if lost > worst.get(key, 0):
                worst[key] = lost
    found = [Overlap(first, second, lost) for (first, second), lost in worst.items()]
    return sorted(found, key=lambda overlap: -overlap.covered_px)


def _covered(first: Placed, second: Placed) -> int:
    """Ink of the first that lies under the box of the second."""
    left, top = second.x - first.x, second.y - first.y
    right, bottom = left + second.cell.width, top + second.cell.height
    if right <= 0 or bottom <= 0:
        return 0
    return int(first.cell.inked[max(0, top) : bottom, max(0, left) : right].sum())
