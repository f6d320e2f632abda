"""Good sets of windows: pieces are put together where that is cheaper, cut anew in pairs, and stripped of what others hold.

A window is a row (top, left, bottom, right) of an array, in cells of a compressed grid; `xs` and `ys` here are where columns and
rows begin, in cells of the panel's grid; `price` is (window, row, cell).
"""

import numpy as np
import numpy.typing as npt
from numba import njit

Cells = npt.NDArray[np.bool_]
Floats = npt.NDArray[np.float64]
Whole = npt.NDArray[np.int64]
LITTLE = 1e-9


@njit(cache=True)
def cost(box: Whole, xs: Floats, ys: Floats, price: Floats) -> float:
    height = ys[box[2]] - ys[box[0]]
    return price[0] + height * (price[1] + price[2] * (xs[box[3]] - xs[box[1]]))


@njit(cache=True)
def _count(box: Whole, times: Whole, by: int) -> None:
    for r in range(box[0], box[2]):
        for c in range(box[1], box[3]):
            times[r, c] += by


@njit(cache=True)
def _round_both(a: Whole, b: Whole, box: Whole) -> None:
    box[0], box[1] = min(a[0], b[0]), min(a[1], b[1])
    box[2], box[3] = max(a[2], b[2]), max(a[3], b[3])


@njit(cache=True)
def _is_inside(a: Whole, box: Whole) -> bool:
    return a[0] >= box[0] and a[1] >= box[1] and a[2] <= box[2] and a[3] <= box[3]


@njit(cache=True)
def _near(a: Whole, b: Whole, xs: Floats, ys: Floats, reach: float) -> bool:
    across = max(xs[a[1]] - xs[b[3]], xs[b[1]] - xs[a[3]])
    down = max(ys[a[0]] - ys[b[2]], ys[b[0]] - ys[a[2]])
    return across < reach and down < reach


@njit(cache=True)
def near_groups(boxes: Whole, reach: float) -> Whole:
    """Which group each box belongs to: boxes of different groups, and the boxes round groups, are `reach` apart."""
    count = boxes.shape[0]
    group, around = np.arange(count), boxes.copy()
    alive = np.ones(count, np.bool_)
    changed = True
    while changed:
        changed = False
        for i in range(count):
            if not alive[i]:
                continue
            for j in range(i + 1, count):
                if not alive[j]:
                    continue
                a, b = around[i], around[j]
                if max(a[1] - b[3], b[1] - a[3]) < reach and max(a[0] - b[2], b[0] - a[2]) < reach:
                    _round_both(a, b, a)
                    alive[j] = False
                    changed = True
                    for m in range(count):
                        if group[m] == j:
                            group[m] = i
    return group


@njit(cache=True)
def _strip(cells: Cells, boxes: Whole, n: int, times: Whole) -> int:
    """Shrink each window to what it alone holds, and drop those that hold nothing alone; how many are left."""
    changed = True
    while changed:
        changed = False
        i = 0
        while i < n:
            box = boxes[i]
            top, left, bottom, right = 1 << 30, 1 << 30, -1, -1
            for r in range(box[0], box[2]):
                for c in range(box[1], box[3]):
                    if cells[r, c] and times[r, c] == 1:
                        top, bottom = min(top, r), max(bottom, r + 1)
                        left, right = min(left, c), max(right, c + 1)
            if bottom < 0:
                _count(box, times, -1)
                n -= 1
                boxes[i] = boxes[n]
                changed = True
                continue
            if top != box[0] or left != box[1] or bottom != box[2] or right != box[3]:
                _count(box, times, -1)
                box[0], box[1], box[2], box[3] = top, left, bottom, right
                _count(box, times, 1)
                changed = True
            i += 1
    return n


@njit(cache=True)
def _saving(
    boxes: Whole, alive: Cells, costs: Floats, i: int, j: int, xs: Floats, ys: Floats, price: Floats, box: Whole
) -> float:
    """What is saved by one window round two, which then holds others too."""
    _round_both(boxes[i], boxes[j], box)
    saved = costs[i] + costs[j] - cost(box, xs, ys, price)
    if saved > -6 * price[0]:
        for m in range(alive.shape[0]):
            if alive[m] and m != i and m != j and _is_inside(boxes[m], box):
                saved += costs[m]
    return saved


@njit(cache=True)
def _merge(boxes: Whole, n: int, xs: Floats, ys: Floats, price: Floats, times: Whole) -> int:
    """Put the two windows together that save most, as long as that saves anything; how many are left.

    Windows further apart than a window costs save nothing.
    """
    reach = (price[0] + price[1]) / price[2]
    costs, alive = np.zeros(n), np.ones(n, np.bool_)
    for i in range(n):
        costs[i] = cost(boxes[i], xs, ys, price)
    box = np.zeros(4, np.int64)
    partner, gain, stale = np.full(n, -1), np.zeros(n), np.ones(n, np.bool_)
    while True:
        best = -1
        for i in range(n):
            if alive[i] and stale[i]:
                gain[i], partner[i], stale[i] = LITTLE, -1, False
                for j in range(n):
                    if j != i and alive[j] and _near(boxes[i], boxes[j], xs, ys, reach):
                        saved = _saving(boxes, alive, costs, i, j, xs, ys, price, box)
                        if saved > gain[i]:
                            gain[i], partner[i] = saved, j
            if alive[i] and partner[i] >= 0 and (best < 0 or gain[i] > gain[best]):
                best = i
        if best < 0:
            break
        other = partner[best]
        if not alive[other] or _saving(boxes, alive, costs, best, other, xs, ys, price, box) < gain[best] - LITTLE:
            stale[best] = True
            continue
        _round_both(boxes[best], boxes[other], box)
        for m in range(n):
            if alive[m] and _is_inside(boxes[m], box):
                _count(boxes[m], times, -1)
                alive[m] = m == best
        boxes[best] = box
        costs[best] = cost(box, xs, ys, price)
        _count(box, times, 1)
        stale[best] = True
        for i in range(n):
            if not alive[i] or i == best:
                continue
            if partner[i] >= 0 and (not alive[partner[i]] or partner[i] == best):
                stale[i] = True
            elif not stale[i] and _near(boxes[i], boxes[best], xs, ys, reach):
                saved = _saving(boxes, alive, costs, i, best, xs, ys, price, box)
                if saved > gain[i]:
                    gain[i], partner[i] = saved, best
    kept = 0
    for i in range(n):
        if alive[i]:
            boxes[kept] = boxes[i]
            kept += 1
    return kept


@njit(cache=True)
def _cut_anew(
    cells: Cells, boxes: Whole, i: int, j: int, xs: Floats, ys: Floats, price: Floats, times: Whole, found: Whole
) -> tuple[float, int]:
    """What is saved by the best one or two windows in place of window i, or of i and j, by one straight cut; and how many.

    They go into `found`.
    """
    old = cost(boxes[i], xs, ys, price)
    _count(boxes[i], times, -1)
    box = boxes[i].copy()
    if j >= 0:
        old += cost(boxes[j], xs, ys, price)
        _count(boxes[j], times, -1)
        _round_both(boxes[i], boxes[j], box)
    height, width = box[2] - box[0], box[3] - box[1]
    none = 1 << 30
    row_first, row_end = np.full(height, none), np.full(height, -1)
    column_first, column_end = np.full(width, none), np.full(width, -1)
    for r in range(height):
        for c in range(width):
            if cells[box[0] + r, box[1] + c] and times[box[0] + r, box[1] + c] == 0:
                row_first[r], row_end[r] = min(row_first[r], c), max(row_end[r], c + 1)
                column_first[c], column_end[c] = min(column_first[c], r), max(column_end[c], r + 1)
    best, count = old - LITTLE, 0
    two = np.zeros((2, 4), np.int64)
    for across in range(2):
        length = width if across else height
        first, end = (column_first, column_end) if across else (row_first, row_end)
        # Of what lies behind each cut: from where to where it reaches along and across the cut's direction.
        behind = np.zeros((length + 1, 4), np.int64)
        behind[length] = np.array([-1, none, -1, -1])
        for x in range(length - 1, -1, -1):
            behind[x] = behind[x + 1]
            if end[x] >= 0:
                behind[x, 0] = x
                behind[x, 1], behind[x, 3] = min(behind[x, 1], first[x]), max(behind[x, 3], end[x])
                if behind[x, 2] < 0:
                    behind[x, 2] = x + 1
        before = np.array([-1, none, -1, -1])
        for x in range(length + 1):
            total, parts = 0.0, 0
            for part in (before, behind[x]):
                if part[3] < 0:
                    continue
                if across:
                    two[parts] = np.array([box[0] + part[1], box[1] + part[0], box[0] + part[3], box[1] + part[2]])
                else:
                    two[parts] = np.array([box[0] + part[0], box[1] + part[1], box[0] + part[2], box[1] + part[3]])
                total += cost(two[parts], xs, ys, price)
                parts += 1
            if total < best:
                best, count = total, parts
                found[:] = two
            if x < length and end[x] >= 0:
                before[0] = x if before[0] < 0 else before[0]
                before[1], before[3], before[2] = min(before[1], first[x]), max(before[3], end[x]), x + 1
    _count(boxes[i], times, 1)
    if j >= 0:
        _count(boxes[j], times, 1)
    return old - best, count


@njit(cache=True)
def _polish(cells: Cells, boxes: Whole, n: int, xs: Floats, ys: Floats, price: Floats, times: Whole, rounds: int) -> int:
    """Cut windows and pairs of near ones anew as long as that saves anything, at most so many rounds; how many there are then."""
    found = np.zeros((2, 4), np.int64)
    reach = (price[0] + price[1]) / price[2]
    for _ in range(rounds):
        changed = False
        i = 0
        while i < n:
            j = -1
            while j < n and i < n:
                fits = j < 0 or (j > i and _near(boxes[i], boxes[j], xs, ys, reach))
                if fits and n + 1 < boxes.shape[0]:
                    saved, count = _cut_anew(cells, boxes, i, j, xs, ys, price, times, found)
                    if saved > 10 * LITTLE and count > 0:
                        changed = True
                        _count(boxes[i], times, -1)
                        boxes[i] = found[0]
                        _count(boxes[i], times, 1)
                        if j >= 0:
                            _count(boxes[j], times, -1)
                        if count == 2 and j >= 0:
                            boxes[j] = found[1]
                            _count(boxes[j], times, 1)
                        elif count == 2:
                            boxes[n] = found[1]
                            _count(boxes[n], times, 1)
                            n += 1
                        elif j >= 0:
                            n -= 1
                            boxes[j] = boxes[n]
                j += 1
            i += 1
        if not changed:
            break
    return n


@njit(cache=True)
def improved(cells: Cells, start: Whole, xs: Floats, ys: Floats, price: Floats) -> Whole:
    """A cheaper set of windows from one that holds all cells."""
    n = start.shape[0]
    boxes = np.zeros((2 * n + 8, 4), np.int64)
    boxes[:n] = start
    times = np.zeros(cells.shape, np.int64)
    for i in range(n):
        _count(boxes[i], times, 1)
    n = _strip(cells, boxes, n, times)
    before = -1.0
    for _ in range(2):
        total = 0.0
        for i in range(n):
            total += cost(boxes[i], xs, ys, price)
        if total == before:
            break
        before = total
        n = _merge(boxes, n, xs, ys, price, times)
        n = _strip(cells, boxes, n, times)
        n = _polish(cells, boxes, n, xs, ys, price, times, 3)
        n = _strip(cells, boxes, n, times)
    return boxes[:n].copy()


@njit(cache=True)
def greedy(cells: Cells, candidates: Whole, xs: Floats, ys: Floats, price: Floats) -> Whole:
    """Of windows that hold all cells together those that are cheapest for what they bring, one after the other."""
    count = candidates.shape[0]
    times = np.zeros(cells.shape, np.int64)
    taken = np.zeros(count, np.bool_)
    left = cells.sum()
    while left > 0:
        best, least = -1, 1e300
        for i in range(count):
            box, gained = candidates[i], 0.0
            if taken[i]:
                continue
            for r in range(box[0], box[2]):
                for c in range(box[1], box[3]):
                    if cells[r, c] and times[r, c] == 0:
                        gained += (xs[c + 1] - xs[c]) * (ys[r + 1] - ys[r])
            if gained > 0 and cost(box, xs, ys, price) / gained < least:
                best, least = i, cost(box, xs, ys, price) / gained
        box = candidates[best]
        for r in range(box[0], box[2]):
            for c in range(box[1], box[3]):
                if cells[r, c] and times[r, c] == 0:
                    left -= 1
        _count(box, times, 1)
        taken[best] = True
    return candidates[taken]


@njit(cache=True)
def pieces(cells: Cells) -> Whole:
    """Boxes (n, 4) that hold the marked cells once each: runs along rows, joined where the row above has the same."""
    rows, columns = cells.shape
    found = np.zeros((rows * (columns + 1) // 2 + 1, 4), np.int64)
    count = 0
    open_ = np.full(columns, -1)
    for r in range(rows):
        seen = np.full(columns, -1)
        c = 0
        while c < columns:
            if not cells[r, c]:
                c += 1
                continue
            left = c
            while c < columns and cells[r, c]:
                c += 1
            above = open_[left]
            if above >= 0 and found[above, 3] == c:
                found[above, 2] = r + 1
                seen[left] = above
            else:
                found[count, 0], found[count, 1], found[count, 2], found[count, 3] = r, left, r + 1, c
                seen[left] = count
                count += 1
        open_ = seen
    return found[:count].copy()
