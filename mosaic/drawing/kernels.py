"""Shapes into rows of values, compiled. Each function has the words of `docs/drawing.md` for its rule."""

import numpy as np
from numba import njit


@njit(cache=True, nogil=True)
def run(values, top, x, y, w, color):
    """A horizontal run, clipped."""
    row = y - top
    if row < 0 or row >= values.shape[0]:
        return
    first, last = max(x, 0), min(x + w, values.shape[1])
    for column in range(first, last):
        values[row, column] = color


@njit(cache=True, nogil=True)
def fill(values, top, x, y, w, h, color):
    for row in range(max(y, top), min(y + h, top + values.shape[0])):
        run(values, top, x, row, w, color)


@njit(cache=True, nogil=True)
def whole_root(n):
    """The whole part of the square root; a guess in floating point, put right in whole numbers."""
    found = np.int64(np.sqrt(np.float64(n)))
    while found * found > n:
        found -= 1
    while (found + 1) * (found + 1) <= n:
        found += 1
    return found


@njit(cache=True, nogil=True)
def inset(w, h, row):
    """Pixels of a row of a box that lie left of the ellipse in it."""
    v = 2 * row + 1 - h
    fine = 256 if h <= 256 else 16  # as finely as 32 bits have room for
    reach = w * whole_root((h * h - v * v) * fine * fine) // (h * fine)
    return (w - reach) // 2


@njit(cache=True, nogil=True)
def insets(w, h, r):
    """(h,) insets of a box with corners of radius r; r < 0 for a whole ellipse."""
    out = np.zeros(h, np.int64)
    for row in range(h):
        if r < 0:
            out[row] = inset(w, h, row)
        elif row < r:
            out[row] = inset(2 * r, 2 * r, row)
        elif row >= h - r:
            out[row] = inset(2 * r, 2 * r, h - 1 - row)
    return out


@njit(cache=True, nogil=True)
def inset_box(values, top, x, y, w, lefts, outlined, color):
    """A box whose rows begin so far from its sides; whole, or the pixels that have one of four neighbours outside."""
    h = lefts.size
    for row in range(max(0, top - y), min(h, top + values.shape[0] - y)):
        left = lefts[row]
        inner = w
        if outlined and 0 < row < h - 1:
            inner = max(left + 1, lefts[row - 1], lefts[row + 1])
        if not outlined or 2 * inner >= w:
            run(values, top, x + left, y + row, w - 2 * left, color)
        else:
            run(values, top, x + left, y + row, inner - left, color)
            run(values, top, x + w - inner, y + row, inner - left, color)


@njit(cache=True, nogil=True)
def line(values, top, x0, y0, x1, y1, thickness, color):
    if y1 < y0 or (y1 == y0 and x1 < x0):
        x0, y0, x1, y1 = x1, y1, x0, y0
    dx, dy = abs(x1 - x0), y1 - y0
    step = 1 if x1 >= x0 else -1
    brush = insets(thickness, thickness, -1)
    half = thickness // 2
    error = dx - dy
    while True:
        if thickness == 1:
            run(values, top, x0, y0, 1, color)
        else:
            inset_box(values, top, x0 - half, y0 - half, thickness, brush, False, color)
        if x0 == x1 and y0 == y1:
            return
        twice = 2 * error
        if twice > -dy:
            error -= dy
            x0 += step
        if twice < dx:
            error += dx
            y0 += 1


@njit(cache=True, nogil=True)
def ring(values, top, cx, cy, r, thickness, color):
    """All pixels with x² + y² <= r² + r, without those of the circle that is smaller by the thickness."""
    hole_r = r - thickness
    for dy in range(max(-r, top - cy), min(r + 1, top + values.shape[0] - cy)):
        half = whole_root(r * r + r - dy * dy)
        if hole_r < 0 or abs(dy) > hole_r:
            run(values, top, cx - half, cy + dy, 2 * half + 1, color)
        else:
            hole = whole_root(hole_r * hole_r + hole_r - dy * dy)
            run(values, top, cx - half, cy + dy, half - hole, color)
            run(values, top, cx + hole + 1, cy + dy, half - hole, color)


@njit(cache=True, nogil=True)
def sector(values, top, cx, cy, r, thickness, start, end, half_turn, color):
    """A ring's pixels from one direction (x, y) to another; `half_turn` says whether the span is 180 degrees at most."""
    hole_r = r - thickness
    for dy in range(max(-r, top - cy), min(r + 1, top + values.shape[0] - cy)):
        half = whole_root(r * r + r - dy * dy)
        hole = whole_root(hole_r * hole_r + hole_r - dy * dy) if hole_r >= 0 and abs(dy) <= hole_r else -1
        for dx in range(max(-half, -cx), min(half + 1, values.shape[1] - cx)):
            if abs(dx) <= hole:
                continue
            begun = start[0] * dy - start[1] * dx
            first = begun > 0 or (begun == 0 and start[0] * dx + start[1] * dy > 0)
            ended = end[0] * dy - end[1] * dx
            second = not (ended > 0 or (ended == 0 and end[0] * dx + end[1] * dy > 0))
            if (first and second) if half_turn else (first or second):
                values[cy + dy - top, cx + dx] = color


@njit(cache=True, nogil=True)
def polygon(values, top, points, color):
    """(N, 2) corners of pixels; a pixel belongs to it by its centre, even-odd."""
    count = points.shape[0]
    crossings = np.empty(count, np.int64)
    for y in range(max(points[:, 1].min(), top), min(points[:, 1].max(), top + values.shape[0])):
        found = 0
        for i in range(count):
            j = (i + 1) % count
            low, high = (i, j) if points[i, 1] <= points[j, 1] else (j, i)
            ya, yb = points[low, 1], points[high, 1]
            if ya <= y < yb:
                dy = yb - ya
                # Where the side passes the middle of the row, and the first pixel whose centre lies behind it.
                ahead = (2 * (y - ya) + 1) * (points[high, 0] - points[low, 0]) - dy
                crossings[found] = points[low, 0] + -((-ahead) // (2 * dy))
                found += 1
        crossings[:found].sort()
        for k in range(0, found - 1, 2):
            run(values, top, crossings[k], y, crossings[k + 1] - crossings[k], color)


@njit(cache=True, nogil=True)
def pattern(values, top, x, y, w, h, tile, width, color, ground):
    """(rows,) bytes of a tile that begins at the glass's own corner; a negative colour is none."""
    for row in range(max(y, top), min(y + h, top + values.shape[0])):
        bits = tile[row % tile.size]
        for column in range(max(x, 0), min(x + w, values.shape[1])):
            chosen = color if bits & (128 >> (column % width)) else ground
            if chosen >= 0:
                values[row - top, column] = chosen


@njit(cache=True, nogil=True)
def lay(values, top, x, y, pixels):
    """(H, W) values, of which negative ones leave what is there."""
    for row in range(max(0, top - y), min(pixels.shape[0], top + values.shape[0] - y)):
        for column in range(max(0, -x), min(pixels.shape[1], values.shape[1] - x)):
            if pixels[row, column] >= 0:
                values[y + row - top, x + column] = pixels[row, column]


@njit(cache=True, nogil=True)
def turned(values, top, x, y, sine, minus_cosine, px, py, pixels, colors):
    """A picture about its pixel px, py: each pixel of the glass takes the one that lies nearest to where it comes from."""
    h, w = pixels.shape
    wide, high = max(px, w - 1 - px, -px), max(py, h - 1 - py, -py)
    reach = whole_root(wide * wide + high * high) + 1
    for dy in range(max(-reach, top - y), min(reach + 1, top + values.shape[0] - y)):
        for dx in range(max(-reach, -x), min(reach + 1, values.shape[1] - x)):
            u = px + ((dy * sine - dx * minus_cosine + 8192) >> 14)
            v = py + ((-dy * minus_cosine - dx * sine + 8192) >> 14)
            if 0 <= u < w and 0 <= v < h:
                color = colors[pixels[v, u]]
                if color >= 0:
                    values[y + dy - top, x + dx] = color


@njit(cache=True, nogil=True)
def picture(values, top, x, y, pixels, colors):
    """(H, W) places among the colours, of which a negative one is none."""
    for row in range(max(0, top - y), min(pixels.shape[0], top + values.shape[0] - y)):
        for column in range(max(0, -x), min(pixels.shape[1], values.shape[1] - x)):
            color = colors[pixels[row, column]]
            if color >= 0:
                values[y + row - top, x + column] = color
