"""The cheapest set of windows for a few cells: all of them are tried that a bound does not rule out."""

import numpy as np
import numpy.typing as npt
from numba import njit

MOST_CELLS, MOST_WINDOWS, MOST_NODES = 40, 3000, 20_000


@njit(cache=True)
def cheapest(
    held: npt.NDArray[np.int64], costs: npt.NDArray[np.float64], worths: npt.NDArray[np.float64], best: float, most_nodes: int
) -> tuple[npt.NDArray[np.int64], float, bool]:
    """The cheapest of all sets of windows that hold all cells, its cost, and whether the search came to its end.

    Parameters
    ----------
    held : which cells each window holds, a bit each; of the cheapest windows first. costs : of each.
    worths : of each cell; together they are never more than what a set of windows that holds them costs.
    best : the cost to beat; the set is empty where nothing is cheaper.
    """
    cells = worths.shape[0]
    holding, ends = np.zeros(0, np.int64), np.zeros(cells + 1, np.int64)  # which windows hold each cell, cell by cell
    for cell in range(cells):
        holding = np.append(holding, np.flatnonzero(held >> cell & 1))
        ends[cell + 1] = holding.shape[0]
    chosen, taken = np.zeros(0, np.int64), np.full(cells + 1, -1)
    open_, spent, owed = np.zeros(cells + 1, np.int64), np.zeros(cells + 1), np.zeros(cells + 1)
    first = np.zeros(cells + 1, np.int64)
    open_[0], owed[0] = (np.int64(1) << cells) - 1, worths.sum()
    depth, nodes = 0, 0
    while depth >= 0:
        if taken[depth] < 0:  # a new node: the first cell that is open has to be held by something
            nodes += 1
            if nodes > most_nodes:
                return chosen, best, False
            cell = 0
            while not open_[depth] >> cell & 1:
                cell += 1
            first[depth], taken[depth] = cell, ends[cell] - 1
        moved = False
        for at in range(taken[depth] + 1, ends[first[depth] + 1]):
            i = holding[at]
            total, owing, new = spent[depth] + costs[i], owed[depth], open_[depth] & held[i]
            cell = first[depth]
            while new >> cell:
                if new >> cell & 1:
                    owing -= worths[cell]
                cell += 1
            if total + owing < best - 1e-9:
                taken[depth] = at
                rest = open_[depth] & ~held[i]
                if rest == 0:
                    best, chosen = total, holding[taken[: depth + 1]]
                else:
                    depth += 1
                    open_[depth], spent[depth], owed[depth], taken[depth] = rest, total, owing, -1
                    moved = True
                    break
        if not moved:
            taken[depth] = -1
            depth -= 1
    return chosen, best, True


@njit(cache=True)
def tight_windows(
    cells: npt.NDArray[np.bool_], order: npt.NDArray[np.int64]
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """All windows (n, 4) of which each side touches a marked cell, and which of the cells in `order` each holds, a bit each.

    None at all where there are more than `MOST_WINDOWS`.
    """
    rows, columns = cells.shape
    bits = np.zeros(cells.shape, np.int64)
    for number in range(order.shape[0]):
        bits[order[number, 0], order[number, 1]] = np.int64(1) << number
    boxes, held = np.zeros((MOST_WINDOWS, 4), np.int64), np.zeros(MOST_WINDOWS, np.int64)
    count = 0
    for top in range(rows):
        for bottom in range(top + 1, rows + 1):
            for left in range(columns):
                if not cells[top:bottom, left].any():
                    continue
                for right in range(left + 1, columns + 1):
                    if not cells[top:bottom, right - 1].any():
                        continue
                    if not cells[top, left:right].any() or not cells[bottom - 1, left:right].any():
                        continue
                    if count == MOST_WINDOWS:
                        return boxes[:0], held[:0]
                    inside = np.int64(0)
                    for r in range(top, bottom):
                        for c in range(left, right):
                            inside |= bits[r, c]
                    boxes[count, 0], boxes[count, 1], boxes[count, 2], boxes[count, 3] = top, left, bottom, right
                    held[count] = inside
                    count += 1
    return boxes[:count].copy(), held[:count].copy()
