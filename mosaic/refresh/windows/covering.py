"""The cheapest windows for the pixels that have changed, on the panel's grid and by its link's own costs.

Groups of cells that lie further apart than a window costs are covered by themselves: a window over two of them costs no less
than one for each. A few cells are covered at best; for many, good sets of windows are looked for, and a bound says how far from
the best they can be.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from mosaic.panels.windows import Rect, host_size
from mosaic.refresh.costs import Wire
from mosaic.refresh.windows import exact, search
from mosaic.refresh.windows.bound import raise_worths
from mosaic.refresh.windows.prices import Grid, Plane

Cells = npt.NDArray[np.bool_]
Boxes = npt.NDArray[np.int64]
MOST_PIECES = 500
"""Runs of cells from which on cells are looked at in blocks."""
MANY_PIECES = 100
"""From which on windows are looked for in one way only."""
MOST_WORK = 3_000_000
"""Additions for the better bound of one change; the plain one is always found."""
NEAR_ENOUGH = 1.01
"""Of the bound, at which no better windows are looked for."""
ONE_PASS, TWO_PASSES = np.array([1.0]), np.array([0.5, 1.0])


@dataclass(frozen=True)
class Cover:
    """Windows, as the board addresses them; ms on the link; ms below which nothing can be; whether nothing is cheaper."""

    windows: tuple[Rect, ...]
    ms: float
    bound_ms: float
    is_cheapest: bool

    @property
    def off(self) -> float:
        """By how much it may lie above the cheapest, as a share of the bound."""
        return 0.0 if self.is_cheapest or not self.bound_ms else max(0.0, self.ms / self.bound_ms - 1)


@dataclass(frozen=True, eq=False)
class _Group:
    """Cells of one group on a compressed grid: which have changed, and where rows and columns begin, in cells."""

    cells: Cells
    xs: npt.NDArray[np.int64]
    ys: npt.NDArray[np.int64]

    @cached_property
    def widths(self) -> npt.NDArray[np.float64]:
        return np.diff(self.xs).astype(np.float64)

    @cached_property
    def heights(self) -> npt.NDArray[np.float64]:
        return np.diff(self.ys).astype(np.float64)


Corners = tuple[int, int, int, int]
"""Top, left, bottom, right, in cells."""


def _stretches(marked: Cells, reach: float) -> list[tuple[int, int]]:
    """From where to where marks stand, cut where `reach` or more are free."""
    at = np.flatnonzero(marked)
    cuts = np.flatnonzero(np.diff(at) - 1 >= reach)
    return list(zip(at[np.append(0, cuts + 1)].tolist(), (at[np.append(cuts, len(at) - 1)] + 1).tolist(), strict=True))


def cut_apart(cells: Cells, reach: float) -> list[Corners]:
    """Boxes that hold all marked cells, `reach` apart by rows or by columns: cut straight through, again and again."""
    waiting: list[tuple[Corners, bool]] = [((0, 0, *cells.shape), False)]
    found = []
    while waiting:
        (top, left, bottom, right), is_same = waiting.pop()
        part = cells[top:bottom, left:right]
        rows = _stretches(np.any(part, axis=1), reach)
        if len(rows) == 1:
            ((first, end),) = rows
            columns = _stretches(np.any(part[first:end], axis=0), reach)
            boxes = [(top + first, left + a, top + end, left + b) for a, b in columns]
        else:
            boxes = [(top + a, left, top + b, right) for a, b in rows]
        if len(boxes) == 1 and is_same:
            found.append(boxes[0])
        else:
            waiting += [(box, len(boxes) == 1) for box in boxes]
    return found


def _groups_in(cells: Cells, part: Corners, reach: float) -> list[Corners]:
    """Boxes that are `reach` apart, of a part that no straight cut divides."""
    top, left, bottom, right = part
    pieces = search.pieces(np.ascontiguousarray(cells[top:bottom, left:right]))
    if len(pieces) > MOST_PIECES:
        return [part]
    groups = search.near_groups(pieces, reach)
    found = []
    for number in np.unique(groups):
        a, b = pieces[groups == number][:, :2].min(axis=0), pieces[groups == number][:, 2:].max(axis=0)
        found.append((top + int(a[0]), left + int(a[1]), top + int(b[0]), left + int(b[1])))
    return found


def _group(cells: Cells, box: Corners, *, is_compressed: bool) -> _Group:
    top, left, bottom, right = box
    part = cells[top:bottom, left:right]
    ys, xs = np.arange(top, bottom + 1), np.arange(left, right + 1)
    if is_compressed:
        rows = np.concatenate([[True], (part[1:] != part[:-1]).any(axis=1)])
        columns = np.concatenate([[True], (part[:, 1:] != part[:, :-1]).any(axis=0)])
        ys, xs = np.append(ys[:-1][rows], bottom), np.append(xs[:-1][columns], right)
        part = part[rows][:, columns]
    return _Group(np.ascontiguousarray(part), xs, ys)


class Coverer:
    """Finds windows for one device on one link; what windows cost is found once."""

    def __init__(self, wire: Wire) -> None:
        self.wire, self.grid = wire, Grid(wire)

    @cached_property
    def plane(self) -> Plane:
        return self.grid.plane()

    def cells_of(self, changed: Cells) -> Cells:
        """(H, W) pixels, as the board addresses them, on the cells of the panel's grid."""
        grid, (height, width) = self.grid, changed.shape
        right = grid.across * grid.x_px - width - grid.left_px
        bottom = grid.down * grid.y_px - height - grid.top_px
        padded = np.pad(changed, ((grid.top_px, bottom), (grid.left_px, right)))
        found: Cells = np.any(padded.reshape(grid.down, grid.y_px, grid.across, grid.x_px), axis=(1, 3))
        return found

    def cover(self, changed: Cells) -> Cover:
        """The windows by which what has changed, (H, W) as the board addresses it, is sent."""
        if not changed.any():
            return Cover((), 0.0, 0.0, True)
        if self.grid.across == self.grid.down == 1:
            whole = Rect(0, 0, *host_size(self.wire.device.passport, self.wire.device.turn))
            ms = self.wire.window(whole).wire_ms
            return Cover((whole,), ms, ms, True)
        cells, plane = self.cells_of(changed), self.plane
        reach = (plane.window + plane.row) / plane.cell
        groups = [box for part in cut_apart(cells, reach) for box in _groups_in(cells, part, reach)]
        found, bound, sure, work = [], 0.0, plane.is_exact or len(groups) == 1, MOST_WORK
        for box in groups:
            top, left, bottom, right = box
            if np.count_nonzero(np.diff(cells[top:bottom, left:right], axis=1)) > 2 * MOST_PIECES:
                boxes, least, is_cheapest = *self._in_blocks(cells[top:bottom, left:right]), False
                boxes = boxes + np.array([top, left, top, left])
            else:
                group = _group(cells, box, is_compressed=plane.is_exact)
                boxes, least, is_cheapest, spent = self._of_group(group, work)
                work -= spent
            found.append(boxes)
            bound += least
            sure = sure and is_cheapest
        return self._made(np.concatenate(found), bound, sure)

    def _made(self, boxes: Boxes, bound: float, is_cheapest: bool) -> Cover:
        windows = [self.grid.window(left, top, right, bottom) for top, left, bottom, right in boxes.tolist()]
        ms = sum(self.wire.window(window).wire_ms for window in windows)
        whole = self.grid.window(0, 0, self.grid.across, self.grid.down)
        if self.wire.window(whole).wire_ms < ms:
            windows, ms = [whole], self.wire.window(whole).wire_ms
        bound = min(bound, ms)
        return Cover(tuple(sorted(windows, key=lambda one: (one.y, one.x))), ms, bound, is_cheapest or ms <= bound * (1 + 1e-9))

    def _in_blocks(self, cells: Cells) -> tuple[Boxes, float]:
        """Very many pieces: windows of whole blocks of cells, drawn in to what has changed, and the bound that pixels make."""
        plane, size = self.plane, 1
        while True:
            size *= 2
            padded = np.pad(cells, ((0, -cells.shape[0] % size), (0, -cells.shape[1] % size)))
            blocks: Cells = np.any(padded.reshape(padded.shape[0] // size, size, padded.shape[1] // size, size), axis=(1, 3))
            pieces = search.pieces(blocks)
            if len(pieces) <= MOST_PIECES:
                break
        price = np.array([plane.window, plane.row * size, plane.cell * size * size]) / plane.cell
        xs, ys = np.arange(blocks.shape[1] + 1), np.arange(blocks.shape[0] + 1)
        found = search.improved(blocks, pieces, xs.astype(np.float64), ys.astype(np.float64), price)
        boxes = []
        for top, left, bottom, right in (found * size).tolist():
            inside = cells[top:bottom, left:right]
            rows, columns = np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0))
            boxes.append([top + rows[0], left + columns[0], top + rows[-1] + 1, left + columns[-1] + 1])
        return np.array(boxes, np.int64), plane.window + plane.row + plane.cell * float(cells.sum())

    def _of_group(self, group: _Group, work: int) -> tuple[Boxes, float, bool, int]:
        """(windows in cells, ms that no windows are below, whether nothing is cheaper, work) of one group."""
        plane = self.plane
        price = np.array([plane.window, plane.row, plane.cell]) / plane.cell
        cells = group.cells
        order = places = np.argwhere(cells)
        pixels = float(group.heights @ cells @ group.widths)
        starts = [search.pieces(cells), search.pieces(cells.T.copy())[:, [1, 0, 3, 2]]]
        if len(places) * cells.size > MOST_WORK:  # a corner of each piece will do
            order = starts[0][:, :2].copy()
        raised, bounding, plain = raise_worths(cells, group.widths, group.heights, price, order, ONE_PASS, 20 * MOST_WORK)
        spent = 0
        for turned, shares in ((order[::-1].copy(), ONE_PASS), (order, TWO_PASSES)):
            if plain * (14 if shares is TWO_PASSES else 1) > work - spent:
                break
            again, more, took = raise_worths(cells, group.widths, group.heights, price, turned, shares, work - spent)
            spent += took
            if again.sum() > raised.sum():
                raised, bounding = again, more
        bound = pixels + float(raised.sum())
        xs, ys = group.xs.astype(np.float64), group.ys.astype(np.float64)
        candidates = np.unique(np.concatenate([bounding, *starts]), axis=0)
        best, least = starts[0], np.inf
        for start in (None, *starts) if len(starts[0]) <= MANY_PIECES else (None,):
            from_ = search.greedy(cells, candidates, xs, ys, price) if start is None else start
            found = search.improved(cells, from_, xs, ys, price)
            costs = sum(search.cost(one, xs, ys, price) for one in found)
            if costs < least:
                best, least = found, costs
            if least <= bound * NEAR_ENOUGH:
                break
        is_cheapest = plane.is_exact and least <= bound + 1e-6
        if not is_cheapest and len(places) <= exact.MOST_CELLS:
            rows, columns = places[:, 0], places[:, 1]
            worths = group.heights[rows] * group.widths[columns] + raised[rows, columns]
            tried = self._tried(group, places, worths, best)
            if tried is not None:
                best, is_cheapest = tried, True
                bound = self._ms(best, group) / plane.cell if plane.is_exact else bound
        return self._in_cells(best, group), bound * plane.cell, is_cheapest, spent

    def _in_cells(self, boxes: Boxes, group: _Group) -> Boxes:
        """Windows of a compressed grid in cells of the panel's."""
        found: Boxes = np.stack(
            [group.ys[boxes[:, 0]], group.xs[boxes[:, 1]], group.ys[boxes[:, 2]], group.xs[boxes[:, 3]]], axis=1
        )
        return found

    def _ms(self, boxes: Boxes, group: _Group) -> float:
        placed = self._in_cells(boxes, group).tolist()
        return sum(self.wire.window(self.grid.window(x, y, right, bottom)).wire_ms for y, x, bottom, right in placed)

    def _tried(self, group: _Group, order: Boxes, worths: npt.NDArray[np.float64], best: Boxes) -> Boxes | None:
        """The cheapest windows of all, by true costs; None where there are too many to try."""
        windows, held = exact.tight_windows(group.cells, order)
        if not len(windows):
            return None
        cell = self.plane.cell
        if self.plane.is_exact:
            price = np.array([self.plane.window, self.plane.row, cell]) / cell
            heights, widths = (ends[windows[:, n + 2]] - ends[windows[:, n]] for n, ends in ((0, group.ys), (1, group.xs)))
            costs = price[0] + heights * (price[1] + widths)
        else:
            costs = np.array([self._ms(windows[n : n + 1], group) / cell for n in range(len(windows))])
        by_cost = np.argsort(costs, kind="stable")
        so_far = self._ms(best, group) / cell
        chosen, _, ended = exact.cheapest(held[by_cost], costs[by_cost], worths, so_far - 1e-7, exact.MOST_NODES)
        if not ended:
            return None
        return windows[by_cost[chosen]] if len(chosen) else best
