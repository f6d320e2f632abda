"""What a palette can show on average: the convex hull of its colours in linear light.

A dithered area is a mixture of palette colours, and light adds, so the colours a panel can
show on average are exactly the hull. A colour outside is moved to the nearest point of the
hull. Distances are taken in luminance and two opponent differences of light; the weights
were chosen by the perceived error they leave (`docs/decisions.md`). A step across the hue of a
strong colour counts more than one along it: a red too strong for the panel becomes its red and not
its orange.
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

STRONG = 0.25
"""Chroma, in opponent coordinates, from which a colour counts as strong; weaker ones go over to plain distance."""
ACROSS_HUE, ALONG_HUE = 2.6, 0.85
"""Weights of a strong colour's steps across and along its hue, against one of luminance."""

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
    near, seen, turned = np.empty(3), np.empty(3), np.empty_like(points)
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
        # Coordinates along and across the hue of the colour asked for, each with its weight.
        chroma = np.hypot(p[1], p[2])
        u, v = (p[1] / chroma, p[2] / chroma) if chroma > 0 else (1.0, 0.0)
        strong = min(1.0, chroma / STRONG)
        along, across = 1 + (ALONG_HUE - 1) * strong, 1 + (ACROSS_HUE - 1) * strong
        seen[0], seen[1], seen[2] = p[0], along * chroma, 0.0
        for k in range(points.shape[0]):
            turned[k, 0] = points[k, 0]
            turned[k, 1] = along * (points[k, 1] * u + points[k, 2] * v)
            turned[k, 2] = across * (points[k, 2] * u - points[k, 1] * v)
        best = np.inf
        for t in range(triangles.shape[0]):
            _closest_on_triangle(seen, turned[triangles[t, 0]], turned[triangles[t, 1]], turned[triangles[t, 2]], near)
            away = (near[0] - seen[0]) ** 2 + (near[1] - seen[1]) ** 2 + (near[2] - seen[2]) ** 2
            if away < best:
                best = away
                a, b = near[1] / along, near[2] / across
                out[i, 0], out[i, 1], out[i, 2] = near[0], a * u - b * v, a * v + b * u
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
def _table(color_bytes: bytes, count: int, darkest: int, lightest: int) -> FloatArray:
    colors = np.frombuffer(color_bytes, np.float32).reshape(count, 3)
    entries = np.zeros((GRID**3, _ENTRY), np.float32)
    black, white = colors[darkest].astype(np.float64), colors[lightest].astype(np.float64)
    entries[:, :3] = nearest_mixture(black + grid_colors() * (white - black), colors)
    # Black and white stand at corners of the table: exactly the panel's own.
    entries[0, :3], entries[-1, :3] = colors[darkest], colors[lightest]
    table = entries.reshape(-1)
    table.setflags(write=False)
    return table


_ONE, _ZERO = np.float32(1), np.float32(0)
_ENTRY = 4
"""Floats of a table's entry: three of light and one that only makes entries a power of two long."""
_STEP_B, _STEP_G, _STEP_R = np.uint64(_ENTRY), np.uint64(_ENTRY * GRID), np.uint64(_ENTRY * GRID * GRID)


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _places(line, steps, shares):
    """For each channel of a row the number of the step below, and the share of the way to the next.

    Linear in light between two steps, so that straight gradients stay straight.
    """
    side, most = np.float32(GRID - 1), np.int32(GRID - 2)
    for x in range(line.shape[0]):
        v = np.sqrt(min(max(line[x], _ZERO), _ONE)) * side
        step = min(np.int32(v), most)
        low = np.float32(step)
        steps[x] = step
        shares[x] = (v * v - low * low) / (low + low + _ONE)


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _look_up(lines, table, out):
    """Between four corners of a cell, along its sides in the order of the shares (tetrahedral interpolation)."""
    n = lines.shape[1]
    steps, shares = np.empty(n, np.int32), np.empty(n, np.float32)
    u1, u2 = np.uint64(1), np.uint64(2)
    at = np.uint64(0)
    for y in range(lines.shape[0]):
        _places(lines[y], steps, shares)
        for x in range(n // 3):
            i = np.uint64(3 * x)
            r, g, b = shares[i], shares[i + u1], shares[i + u2]
            low = np.uint64(steps[i]) * _STEP_R + np.uint64(steps[i + u1]) * _STEP_G + np.uint64(steps[i + u2]) * _STEP_B
            most, least = max(r, max(g, b)), min(r, min(g, b))
            middle = r + g + b - most - least
            first = _STEP_R if most == r else (_STEP_G if most == g else _STEP_B)
            last = _STEP_B if least == b else (_STEP_G if least == g else _STEP_R)
            high = low + _STEP_R + _STEP_G + _STEP_B
            near, far = low + first, high - last
            w0, w1, w2 = _ONE - most, most - middle, middle - least
            for c in range(_ENTRY):
                e = np.uint64(c)
                # The fourth value falls into the next pixel's place and is overwritten by it.
                out[at + e] = table[low + e] * w0 + table[near + e] * w1 + table[far + e] * w2 + table[high + e] * least
            at += np.uint64(3)


def fit_to_gamut(
    linear_rgb: npt.NDArray[np.floating], colors: npt.NDArray[np.floating], darkest: int, lightest: int
) -> FloatArray:
    """Light (..., 3), 0..1, laid between the panel's black and white and moved into what mixtures of `colors` (K, 3) can show.

    By a table of the source's light, so that its black and white are the panel's exactly; between them, and wherever nothing
    has to be moved, exact to rounding, elsewhere nearly so.
    """
    colors = np.ascontiguousarray(colors, np.float32)
    lines = np.ascontiguousarray(linear_rgb, np.float32)
    lines = lines.reshape(-1, 3 * lines.shape[-2]) if lines.ndim > 1 else lines.reshape(1, 3)
    out = np.empty(lines.size + 1, np.float32)
    _look_up(lines, _table(colors.tobytes(), len(colors), darkest, lightest), out)
    return out[:-1].reshape(linear_rgb.shape)
