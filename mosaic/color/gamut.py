"""What a palette can show on average: the convex hull of its colours in linear light.

A dithered area is a mixture of palette colours, and light adds, so the colours a panel can
show on average are exactly the hull. A colour outside is moved to the nearest point of the
hull. Distances are taken in luminance and two opponent differences of light; the weights
were chosen by the perceived error they leave (`docs/decisions.md`).
"""

import itertools
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from numba import njit

FloatArray = npt.NDArray[np.float32]

# Light is turned into luminance and two opponent differences; distances are Euclidean there.
OPPONENT = np.array([[0.2126, 0.7152, 0.0722], [0.5, -0.5, 0.0], [-0.25, -0.25, 0.5]], np.float64)
OPPONENT[1:] *= 2.0

GRID = 33
"""Points along each side of the table; between them the mapping is interpolated."""


def opponent(linear_rgb: npt.ArrayLike) -> FloatArray:
    """Opponent coordinates (..., 3) in which distances are taken, of linear light (..., 3)."""
    return (np.asarray(linear_rgb, np.float64) @ OPPONENT.T).astype(np.float32)


def _triangles(count: int) -> npt.NDArray[np.int64]:
    """(T, 3) vertex numbers: all triangles, or the one edge of a two-colour palette."""
    if count == 2:
        return np.array([[0, 1, 1]])
    return np.array(list(itertools.combinations(range(count), 3)))


def _facets(points: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """(F, 4) half-spaces n.x <= d that bound the hull; empty where the hull is flat.

    With at most sixteen points, trying every plane through three of them is quick and exact.
    """
    found = []
    scale = np.ptp(points, axis=0).max()
    for i, j, k in itertools.combinations(range(len(points)), 3):
        normal = np.cross(points[j] - points[i], points[k] - points[i])
        length = np.linalg.norm(normal)
        if length < 1e-9 * scale * scale:
            continue
        normal = normal / length
        side = (points - points[i]) @ normal
        if side.max() < 1e-7 * scale:
            found.append([*normal, normal @ points[i]])
        elif side.min() > -1e-7 * scale:
            found.append([*-normal, -normal @ points[i]])
    flat = np.array(found).reshape(-1, 4)
    # A flat hull yields the same plane from both sides and bounds nothing.
    spread = np.linalg.matrix_rank(points - points[0], tol=1e-6 * scale)
    return flat if spread == 3 else np.zeros((0, 4))


@njit(cache=True, inline="always")
def _dot(a, b):
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@njit(cache=True, nogil=True)
def _closest_on_triangle(p, a, b, c, out):
    """Closest point to `p` on triangle abc (C. Ericson, Real-Time Collision Detection, 5.1.5)."""
    ab, ac, ap = b - a, c - a, p - a
    d1, d2 = _dot(ab, ap), _dot(ac, ap)
    if d1 <= 0 and d2 <= 0:
        out[:] = a
        return
    bp = p - b
    d3, d4 = _dot(ab, bp), _dot(ac, bp)
    if d3 >= 0 and d4 <= d3:
        out[:] = b
        return
    vc = d1 * d4 - d3 * d2
    if vc <= 0 and d1 >= 0 and d3 <= 0:
        out[:] = a + ab * (d1 / max(d1 - d3, 1e-30))
        return
    cp = p - c
    d5, d6 = _dot(ab, cp), _dot(ac, cp)
    if d6 >= 0 and d5 <= d6:
        out[:] = c
        return
    vb = d5 * d2 - d1 * d6
    if vb <= 0 and d2 >= 0 and d6 <= 0:
        out[:] = a + ac * (d2 / max(d2 - d6, 1e-30))
        return
    va = d3 * d6 - d5 * d4
    if va <= 0 and d4 - d3 >= 0 and d5 - d6 >= 0:
        out[:] = b + (c - b) * ((d4 - d3) / max((d4 - d3) + (d5 - d6), 1e-30))
        return
    total = max(va + vb + vc, 1e-30)
    out[:] = a + ab * (vb / total) + ac * (vc / total)


@njit(cache=True, nogil=True)
def _project(queries, points, triangles, facets):
    out = np.empty_like(queries)
    near = np.empty(3)
    for i in range(queries.shape[0]):
        p = queries[i]
        inside = facets.shape[0] > 0
        for f in range(facets.shape[0]):
            if facets[f, 0] * p[0] + facets[f, 1] * p[1] + facets[f, 2] * p[2] > facets[f, 3]:
                inside = False
                break
        if inside:
            out[i] = p
            continue
        best = np.inf
        for t in range(triangles.shape[0]):
            _closest_on_triangle(p, points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]], near)
            away = (near[0] - p[0]) ** 2 + (near[1] - p[1]) ** 2 + (near[2] - p[2]) ** 2
            if away < best:
                best = away
                out[i] = near
    return out


def nearest_mixture(linear_rgb: npt.NDArray[np.floating], colors: npt.NDArray[np.floating]) -> FloatArray:
    """Nearest colour (N, 3) that mixtures of `colors` (K, 3) can show, of light (N, 3); exact, slow."""
    points = np.asarray(colors, np.float64) @ OPPONENT.T
    queries = np.asarray(linear_rgb, np.float64) @ OPPONENT.T
    hit = _project(queries, points, _triangles(len(points)), _facets(points))
    return (hit @ np.linalg.inv(OPPONENT).T).astype(np.float32)


def grid_colors() -> npt.NDArray[np.float64]:
    """(GRID**3, 3) linear light at the table's points, evenly spaced in the square root of light."""
    step = (np.arange(GRID) / (GRID - 1)) ** 2
    return np.stack(np.meshgrid(step, step, step, indexing="ij"), axis=-1).reshape(-1, 3)


@lru_cache(maxsize=64)
def _table(color_bytes: bytes, count: int) -> FloatArray:
    colors = np.frombuffer(color_bytes, np.float32).reshape(count, 3)
    table = nearest_mixture(grid_colors(), colors).reshape(GRID, GRID, GRID, 3)
    table.setflags(write=False)
    return table


@njit(cache=True, fastmath=True, inline="always")
def _place(light, side):
    """Number of the step below a channel's light, and the share of the way to the next.

    Linear in light between two steps, so that straight gradients stay straight.
    """
    v = np.sqrt(min(max(light, np.float32(0)), np.float32(1))) * np.float32(side)
    k = min(int(v), side - 1)
    low = np.float32(k) * np.float32(k)
    return k, (v * v - low) / np.float32(2 * k + 1)


@njit(cache=True, fastmath=True, nogil=True)
def _look_up(flat, table, out):
    side = table.shape[0] - 1
    one = np.float32(1)
    for i in range(flat.shape[0]):
        r, fr = _place(flat[i, 0], side)
        g, fg = _place(flat[i, 1], side)
        b, fb = _place(flat[i, 2], side)
        for c in range(3):
            c00 = table[r, g, b, c] * (one - fb) + table[r, g, b + 1, c] * fb
            c01 = table[r, g + 1, b, c] * (one - fb) + table[r, g + 1, b + 1, c] * fb
            c10 = table[r + 1, g, b, c] * (one - fb) + table[r + 1, g, b + 1, c] * fb
            c11 = table[r + 1, g + 1, b, c] * (one - fb) + table[r + 1, g + 1, b + 1, c] * fb
            out[i, c] = (c00 * (one - fg) + c01 * fg) * (one - fr) + (c10 * (one - fg) + c11 * fg) * fr


def fit_to_gamut(linear_rgb: npt.NDArray[np.floating], colors: npt.NDArray[np.floating]) -> FloatArray:
    """Move light (..., 3) into what mixtures of `colors` (K, 3) can show; by table, fast."""
    colors = np.ascontiguousarray(colors, np.float32)
    flat = np.ascontiguousarray(linear_rgb, np.float32).reshape(-1, 3)
    out = np.empty_like(flat)
    _look_up(flat, _table(colors.tobytes(), len(colors)), out)
    return out.reshape(linear_rgb.shape)
