"""What no set of windows can be cheaper than: the dual of covering, raised cell by cell.

Each changed cell is given a worth; if no window that the panel can address holds cells of more worth than it costs, then all
worths together are at most what any covering costs (weak duality of linear programming). The worth of a cell begins with the cost
of its pixels and is raised in turn to the most that the windows around it leave.

Cells here are those of a compressed grid: `xs` and `ys` are how many cells of the panel's grid each column and row stands for.
"""

import numpy as np
import numpy.typing as npt
from numba import njit

Cells = npt.NDArray[np.bool_]
Floats = npt.NDArray[np.float64]
Whole = npt.NDArray[np.int64]


@njit(cache=True)
def room_left(
    cells: Cells, raised: Floats, row_raised: Floats, xs: Floats, ys: Floats, price: Floats, r: int, c: int, box: Whole
) -> tuple[float, int]:
    """How far the worth of cell (r, c) can be raised: the least that a window which holds it has left. Which one goes into `box`.

    For each pair of rows the columns' sums are walked to the left and to the right as long as that makes it less. Rows at which
    nothing has been raised cannot be the first or last of the window that has least left.
    """
    rows, columns = cells.shape
    window, row_price, cell_price = price[0], price[1], price[2]
    best, work = 1e300, 0
    up, sums = np.zeros(columns), np.zeros(columns)
    low = r
    for bottom in range(rows - 1, r, -1):
        if row_raised[bottom] > 0:
            low = bottom
            break
    height_up = 0.0
    for top in range(r, -1, -1):
        for x in range(columns):
            up[x] += -raised[top, x] if cells[top, x] else cell_price * xs[x] * ys[top]
        height_up += ys[top]
        if top < r and row_raised[top] <= 0:
            continue
        height = height_up
        for x in range(columns):
            sums[x] = up[x]
        for bottom in range(r, low + 1):
            if bottom > r:
                for x in range(columns):
                    sums[x] += -raised[bottom, x] if cells[bottom, x] else cell_price * xs[x] * ys[bottom]
                height += ys[bottom]
                if row_raised[bottom] <= 0:
                    continue
            left, right, first, last = 0.0, 0.0, c, c
            run = 0.0
            for x in range(c - 1, -1, -1):
                run += sums[x]
                if run < left:
                    left, first = run, x
            run = 0.0
            for x in range(c + 1, columns):
                run += sums[x]
                if run < right:
                    right, last = run, x
            value = window + row_price * height + sums[c] + left + right
            if value < best:
                best = value
                box[0], box[1], box[2], box[3] = top, first, bottom + 1, last + 1
            work += columns
    return best, work


@njit(cache=True)
def raise_worths(
    cells: Cells, xs: Floats, ys: Floats, price: Floats, order: Whole, shares: Floats, most_work: int
) -> tuple[Floats, Whole, int]:
    """What is raised of each cell beyond the cost of its pixels, the window that bound each of them, and the work it took.

    Cells are raised in an `order` (n, 2), once for each of the `shares`, by this share of what is left. Any time is a good time
    to stop: what has been raised stays true.
    """
    raised, row_raised = np.zeros(cells.shape), np.zeros(cells.shape[0])
    boxes = np.zeros((order.shape[0], 4), np.int64)
    for i in range(order.shape[0]):
        r, c = order[i, 0], order[i, 1]
        boxes[i, 0], boxes[i, 1], boxes[i, 2], boxes[i, 3] = r, c, r + 1, c + 1
    work = 0
    for share in shares:
        for i in range(order.shape[0]):
            r, c = order[i, 0], order[i, 1]
            left, more = room_left(cells, raised, row_raised, xs, ys, price, r, c, boxes[i])
            work += more
            if left > 0:
                raised[r, c] += left * share
                row_raised[r] += left * share
            if work > most_work:
                return raised, boxes, work
    return raised, boxes, work
