"""Floyd-Steinberg in whole numbers: the default's quick loops, for a palette and for one tone.

For a palette, a pixel is one word of 64 bits that holds its three opponent coordinates, 21 bits each. A word is no more
than the sum ``q0 + q1 * 2**21 + q2 * 2**42`` of three signed numbers, so adding words, and multiplying them by a small
whole number, does so to all three at once. A shift by four with a mask divides all three by 16, once a bias keeps each
field above zero. Values are kept in sixteenths of the least step: one rounding is made a pixel, and no error is lost.

The nearest colour stands in a table of 64 x 64 x 64 cells, found by the top six bits of each field, which one
multiplication gathers. The top bit of each field stays clear as long as a value lies in the table's box; what strays out
of it sets that bit, and the caller falls back to the loops in floating point. So the result depends on picture and
palette alone.

For one tone a pixel is a whole number of 2**-20 of the panel's white.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from numba import njit

FIELD_BITS, CELL_BITS = 21, 6
VALUE_BITS = FIELD_BITS - 1
"""Bits of a value, the last four of which are sixteenths; the field's top bit is the guard."""
WORST_CELL_SHARE = 0.5
"""Share of the least distance between two colours that a cell's diagonal may have; above it the table decides too coarsely."""
NARROW_BOX, WIDE_BOX = (0.5, 0.3), (1.2, 0.8)
"""Room beyond the palette's colours, in shares of its span along each axis, and at least of its largest span.

Errors stray further where colours are few, or lie nearly in a plane: the wide box is taken where the narrow one is left.
"""
FEW_COLORS = 5
"""With no more colours than this, the narrow box is always left: it is not tried."""


def _word(a: int, b: int, c: int) -> int:
    return a + (b << FIELD_BITS) + (c << 2 * FIELD_BITS)


_I, _U = np.int64, np.uint64
_LOW = VALUE_BITS - CELL_BITS  # where the cell's number begins in a field
_TOP = 64 - 3 * CELL_BITS  # gathered, the cell's number stands at the word's top
_PICK = _U(_word(*[((1 << CELL_BITS) - 1) << _LOW] * 3))
_GATHER = _U(
    (1 << (_TOP - _LOW))
    + (1 << (_TOP + CELL_BITS - _LOW - FIELD_BITS))
    + ((1 << (_TOP + 2 * CELL_BITS)) >> (_LOW + 2 * FIELD_BITS))
)
_SHIFT = _U(_TOP)
_GUARD = _I(_word(*[1 << VALUE_BITS] * 3))
_NO_ERROR = _word(*[1 << (VALUE_BITS - 4)] * 3)  # a sixteenth of the bias stands for none
_BIAS = _I(16 * _NO_ERROR)
_MASK = _I(_word(*[(1 << (FIELD_BITS - 4)) - 1] * 3))
_SMALL = _I(_NO_ERROR)
_THREE_SMALL, _SIX_SMALL, _SEVEN_SMALL, _NINE_SMALL = (_I(n * _NO_ERROR) for n in (3, 6, 7, 9))
_ONE, _TWO, _THREE, _FOUR = (_I(n) for n in (1, 2, 3, 4))
_U1, _U2, _U3, _U4 = (_U(n) for n in (1, 2, 3, 4))


@dataclass(frozen=True, eq=False)
class _Plan:
    """What the loops need of a palette.

    `table` (2**18,) holds the nearest colour's number by cell; `given` (K,) is what is added to a value to have its error,
    biased; light (3,) becomes three whole numbers by `turn` (3, 3) and `offset` (3,). `cell_share` is the diagonal of a
    cell as a share of the least distance between two colours.
    """

    table: npt.NDArray[np.uint8]
    given: npt.NDArray[np.int64]
    turn: npt.NDArray[np.float32]
    offset: npt.NDArray[np.float32]
    cell_share: float


@njit(nogil=True, cache=True)
def _fill(low, step, colors, out):
    """The number of the colour nearest to the middle of each cell."""
    side = 1 << CELL_BITS
    near = np.empty(colors.shape[0])
    for c in range(side):
        for b in range(side):
            p1, p2 = low[1] + (b + 0.5) * step[1], low[2] + (c + 0.5) * step[2]
            for i in range(colors.shape[0]):
                near[i] = (p1 - colors[i, 1]) ** 2 + (p2 - colors[i, 2]) ** 2
            for a in range(side):
                p0 = low[0] + (a + 0.5) * step[0]
                best, k = 1e30, 0
                for i in range(colors.shape[0]):
                    distance = near[i] + (p0 - colors[i, 0]) ** 2
                    if distance < best:
                        best, k = distance, i
                out[a + (b << CELL_BITS) + (c << (2 * CELL_BITS))] = k


@lru_cache(maxsize=16)
def _plan(color_bytes: bytes, count: int, turn_bytes: bytes, room: tuple[float, float]) -> _Plan:
    colors = np.frombuffer(color_bytes, np.float32).reshape(count, 3).astype(np.float64)
    turn = np.frombuffer(turn_bytes, np.float32).reshape(3, 3).astype(np.float64)
    low, high = colors.min(axis=0), colors.max(axis=0)
    span = high - low
    beyond = np.maximum(room[0] * span, room[1] * span.max())
    low, high = low - beyond, high + beyond
    scale, step = (1 << VALUE_BITS) / (high - low), (high - low) / (1 << CELL_BITS)
    table = np.empty(1 << (3 * CELL_BITS), np.uint8)
    _fill(low, step, colors, table)
    steps = np.rint((colors - low) * scale).astype(np.int64)
    given = np.array([int(_BIAS) - _word(*(int(v) for v in row)) for row in steps], np.int64)
    apart = np.sqrt(((colors[:, None] - colors[None]) ** 2).sum(axis=2))[~np.eye(count, dtype=bool)].min()
    diagonal = float(np.sqrt((step**2).sum()))
    return _Plan(
        table, given, (turn * scale[:, None]).astype(np.float32), (-low * scale).astype(np.float32), diagonal / float(apart)
    )


@njit(nogil=True, cache=True, inline="always")
def _cell(v):
    return ((_U(v) & _PICK) * _GATHER) >> _SHIFT


@njit(nogil=True, cache=True, inline="always")
def _pixel(v, table, given):
    """Colour of a value, and a sixteenth of its error, biased."""
    k = _U(table[_cell(v)])
    return k, ((v + given[k]) >> _FOUR) & _MASK


@njit(nogil=True, cache=True, fastmath=True)
def _row_as_words(line, turn, offset, thirds, out):
    """One row of light (3 W,) as words (W,), less the bias that its neighbours' errors bring; bits beyond a value's."""
    t00, t01, t02 = turn[0, 0], turn[0, 1], turn[0, 2]
    t10, t11, t12 = turn[1, 0], turn[1, 1], turn[1, 2]
    t20, t21, t22 = turn[2, 0], turn[2, 1], turn[2, 2]
    o0, o1, o2 = offset[0], offset[1], offset[2]
    for x in range(out.shape[0]):
        r, g, b = line[3 * x], line[3 * x + 1], line[3 * x + 2]
        thirds[0, x] = np.int32(t00 * r + t01 * g + t02 * b + o0)
        thirds[1, x] = np.int32(t10 * r + t11 * g + t12 * b + o1)
        thirds[2, x] = np.int32(t20 * r + t21 * g + t22 * b + o2)
    beyond = np.int32(0)
    for x in range(out.shape[0]):
        beyond |= thirds[0, x] | thirds[1, x] | thirds[2, x]
    for x in range(out.shape[0]):
        out[x] = _I(thirds[0, x]) + (_I(thirds[1, x]) << 21) + (_I(thirds[2, x]) << 42) - _BIAS
    return beyond >> VALUE_BITS


@njit(nogil=True, cache=True)
def _as_words(lines, turn, offset, out):
    """(H, 3 W) light as words (H, W + 2), pixel 0 at 1; whether any lies out of the table's box.

    The whole picture first: a loop of its own keeps registers free.
    """
    thirds = np.empty((3, out.shape[1] - 2), np.int32)
    beyond = np.int32(0)
    for y in range(lines.shape[0]):
        beyond |= _row_as_words(lines[y], turn, offset, thirds, out[y, 1 : out.shape[1] - 1])
    return beyond != 0


@njit(nogil=True, cache=True)
def _colors_serpentine(words, table, given, out):
    """Words (H, W + 2) to palette indices (H, W), every other row from right to left; whether a value strayed.

    The value of the next pixel, but for this one's error, is fetched while this one's colour is looked up.
    """
    height, width = out.shape
    wide = _U(width)
    below = np.empty(width + 2, np.int64)
    below[:] = _NINE_SMALL
    strayed = _I(0)
    for y in range(height):
        row, made = words[y], out[y]
        ahead, b, n = _SEVEN_SMALL, _SIX_SMALL, _SMALL
        if y % 2 == 1:
            coming = row[wide] + below[wide]
            for i in range(wide):
                x = wide - _U(i)
                v = coming + ahead
                coming = row[x - _U1] + below[x - _U1]
                strayed |= v
                k, e = _pixel(v, table, given)
                made[x - _U1] = k
                ahead = (e << _THREE) - e
                below[x + _U1] = b + (e << _ONE) + e
                b = n + (e << _TWO) + e
                n = e
            below[_U1] = b + _THREE_SMALL
        else:
            coming = row[_U1] + below[_U1]
            for i in range(wide):
                x = _U(i)
                v = coming + ahead
                coming = row[x + _U2] + below[x + _U2]
                strayed |= v
                k, e = _pixel(v, table, given)
                made[x] = k
                ahead = (e << _THREE) - e
                below[x] = b + (e << _ONE) + e
                b = n + (e << _TWO) + e
                n = e
            below[wide] = b + _THREE_SMALL
    return (strayed & _GUARD) != 0


@njit(nogil=True, cache=True)
def _staggered_part(rows, made, below, table, given, begin, end, state):
    """Steps of three rows, the lower two and four pixels behind, where not all of them are within the picture."""
    wide = _U(rows.shape[1] - 2)
    a0, b0, n0, p0, a1, b1, n1, p1, a2, b2, n2, strayed = state
    for i in range(begin, end):
        t = _U(i)
        if t >= _U4:
            v = rows[2, t - _U3] + p1 + a2
            strayed |= v
            k, e = _pixel(v, table, given)
            made[2, t - _U4] = k
            a2 = (e << _THREE) - e
            below[t - _U4] = b2 + (e << _ONE) + e
            b2 = n2 + (e << _TWO) + e
            n2 = e
        if _U2 <= t < wide + _U2:
            v = rows[1, t - _U1] + p0 + a1
            strayed |= v
            k, e = _pixel(v, table, given)
            made[1, t - _U2] = k
            a1 = (e << _THREE) - e
            p1 = b1 + (e << _ONE) + e
            b1 = n1 + (e << _TWO) + e
            n1 = e
        else:
            p1 = b1 + _THREE_SMALL
        if t < wide:
            v = rows[0, t + _U1] + below[t + _U1] + a0
            strayed |= v
            k, e = _pixel(v, table, given)
            made[0, t] = k
            a0 = (e << _THREE) - e
            p0 = b0 + (e << _ONE) + e
            b0 = n0 + (e << _TWO) + e
            n0 = e
        else:
            p0 = b0 + _THREE_SMALL
    return a0, b0, n0, p0, a1, b1, n1, p1, a2, b2, n2, strayed


@njit(nogil=True, cache=True)
def _colors_raster(words, table, given, out):
    """As `_colors_serpentine` in raster order, three rows side by side, each two pixels behind the one above.

    Each row is a chain in which a pixel waits for the one before; three chains keep the processor busy. `words` has a
    multiple of three rows; those beyond the picture are worked and thrown away.
    """
    height, width = out.shape
    wide = _U(width)
    below = np.empty(width + 8, np.int64)
    below[:] = _NINE_SMALL
    spare = np.empty((3, width), np.uint8)
    strayed = _I(0)
    for y in range(0, height, 3):
        rows = words[y : y + 3]
        whole = y + 3 <= height
        made = out[y : y + 3] if whole else spare
        state = (
            _SEVEN_SMALL, _SIX_SMALL, _SMALL, _SMALL, _SEVEN_SMALL, _SIX_SMALL, _SMALL, _SMALL, _SEVEN_SMALL, _SIX_SMALL, _SMALL,
            strayed,
        )  # fmt: skip
        state = _staggered_part(rows, made, below, table, given, _U(0), min(_U4, wide), state)
        a0, b0, n0, p0, a1, b1, n1, p1, a2, b2, n2, strayed = state
        first, second, third, made0, made1, made2 = rows[0], rows[1], rows[2], made[0], made[1], made[2]
        for i in range(_U4, wide):
            t = _U(i)
            v = third[t - _U3] + p1 + a2
            strayed |= v
            k, e = _pixel(v, table, given)
            made2[t - _U4] = k
            a2 = (e << _THREE) - e
            below[t - _U4] = b2 + (e << _ONE) + e
            b2 = n2 + (e << _TWO) + e
            n2 = e
            v = second[t - _U1] + p0 + a1
            strayed |= v
            k, e = _pixel(v, table, given)
            made1[t - _U2] = k
            a1 = (e << _THREE) - e
            p1 = b1 + (e << _ONE) + e
            b1 = n1 + (e << _TWO) + e
            n1 = e
            v = first[t + _U1] + below[t + _U1] + a0
            strayed |= v
            k, e = _pixel(v, table, given)
            made0[t] = k
            a0 = (e << _THREE) - e
            p0 = b0 + (e << _ONE) + e
            b0 = n0 + (e << _TWO) + e
            n0 = e
        state = (a0, b0, n0, p0, a1, b1, n1, p1, a2, b2, n2, strayed)
        state = _staggered_part(rows, made, below, table, given, max(wide, _U4) if wide >= _U4 else wide, wide + _U4, state)
        strayed = state[11]
        below[wide] = state[9] + _THREE_SMALL
        if not whole:
            out[y:height] = spare[: height - y]
    return (strayed & _GUARD) != 0


def _diffused(lines: npt.NDArray[np.float32], plan: _Plan, serpentine: bool, out: npt.NDArray[np.uint8]) -> bool:
    """Light (H, 3 W) to palette indices (H, W); whether all values lay in the table's box."""
    height, width = out.shape
    rows = height if serpentine else -(-height // 3) * 3
    words = np.empty((rows, width + 2), np.int64)
    if _as_words(lines, plan.turn, plan.offset, words):
        return False
    words[height:] = words[height - 1]
    loop = _colors_serpentine if serpentine else _colors_raster
    return not loop(words, plan.table, plan.given, out)


def diffuse_palette(
    linear: npt.NDArray[np.float32], turn: npt.NDArray[np.float32], colors: npt.NDArray[np.float32], *, serpentine: bool
) -> npt.NDArray[np.uint8] | None:
    """Light (H, W, 3) to palette indices (H, W).

    Parameters
    ----------
    turn : (3, 3) from light to the coordinates in which `colors` (K, 3) stand and the nearest one is taken

    Returns
    -------
    None where a value strayed out of the widest box, or the colours lie too close for the table: the caller takes the
    loops in floating point.
    """
    width = linear.shape[1]
    out = np.empty(linear.shape[:2], np.uint8)
    lines = linear.reshape(-1, 3 * width)
    for room in (NARROW_BOX, WIDE_BOX) if len(colors) > FEW_COLORS else (WIDE_BOX,):
        plan = _plan(colors.tobytes(), len(colors), turn.tobytes(), room)
        if plan.cell_share > WORST_CELL_SHARE:
            return None
        if _diffused(lines, plan, serpentine, out):
            return out
    return None


_UNIT = 1 << 20
_STEP = _I(_UNIT >> 4)
_HALF = _I(_UNIT // 2)
_ZERO = _I(0)


@njit(nogil=True, cache=True, fastmath=True)
def _row_as_units(line, out):
    scale = np.float32(_UNIT)
    for x in range(line.shape[0]):
        out[x] = np.int32(line[x] * scale)


@njit(nogil=True, cache=True)
def _tone_raster(values, dark, light, out):
    """Light (H, W) of one tone, three rows side by side as in `_colors_raster`."""
    height, width = values.shape
    wide = _U(width)
    rows = np.zeros((3, width + 4), np.int32)
    r0, r1, r2 = rows[0], rows[1], rows[2]
    below = np.zeros(width + 8, np.int32)
    spare = np.empty(width, np.uint8)
    for y in range(0, height, 3):
        _row_as_units(values[y], r0[:width])
        m0, m1, m2 = out[y], spare, spare
        if y + 1 < height:
            _row_as_units(values[y + 1], r1[:width])
            m1 = out[y + 1]
        if y + 2 < height:
            _row_as_units(values[y + 2], r2[:width])
            m2 = out[y + 2]
        a0, b0, n0, p0 = _ZERO, _ZERO, _ZERO, _ZERO
        a1, b1, n1, p1 = _ZERO, _ZERO, _ZERO, _ZERO
        a2, b2, n2 = _ZERO, _ZERO, _ZERO
        for i in range(wide + _U4):
            t = _U(i)
            if t >= _U4:
                v = _I(r2[t - _U4]) + p1 + a2
                lit = v >= _HALF
                e = (v >> _FOUR) - (_STEP if lit else _ZERO)
                m2[t - _U4] = light if lit else dark
                a2 = (e << _THREE) - e
                below[t - _U4] = b2 + (e << _ONE) + e
                b2 = n2 + (e << _TWO) + e
                n2 = e
            if t >= _U2 and t < wide + _U2:
                v = _I(r1[t - _U2]) + p0 + a1
                lit = v >= _HALF
                e = (v >> _FOUR) - (_STEP if lit else _ZERO)
                m1[t - _U2] = light if lit else dark
                a1 = (e << _THREE) - e
                p1 = b1 + (e << _ONE) + e
                b1 = n1 + (e << _TWO) + e
                n1 = e
            else:
                p1 = b1
            if t < wide:
                v = _I(r0[t]) + _I(below[t + _U1]) + a0
                lit = v >= _HALF
                e = (v >> _FOUR) - (_STEP if lit else _ZERO)
                m0[t] = light if lit else dark
                a0 = (e << _THREE) - e
                p0 = b0 + (e << _ONE) + e
                b0 = n0 + (e << _TWO) + e
                n0 = e
            else:
                p0 = b0
        below[wide] = b2


@njit(nogil=True, cache=True)
def _tone_serpentine(values, dark, light, out):
    """One tone, every other row from right to left. Both outcomes of a pixel are carried on before it is known which holds."""
    height, width = values.shape
    wide = _U(width)
    row, below = np.zeros(width + 2, np.int32), np.zeros(width + 2, np.int32)  # pixel 0 stands at 1
    seven = _I(7 * (_UNIT >> 4))
    for y in range(height):
        made = out[y]
        _row_as_units(values[y], row[1 : width + 1])
        b, n = _ZERO, _ZERO
        if y % 2 == 1:
            v = _I(row[wide]) + _I(below[wide])
            for i in range(wide):
                x = wide - _U(i)
                given = _I(row[x - _U1]) + _I(below[x - _U1])
                share = v >> _FOUR
                dark_next = given + ((share << _THREE) - share)
                light_next = dark_next - seven
                lit = v >= _HALF
                e = share - _STEP if lit else share
                made[x - _U1] = light if lit else dark
                v = light_next if lit else dark_next
                below[x + _U1] = b + (e << _ONE) + e
                b = n + (e << _TWO) + e
                n = e
            below[_U1] = b
        else:
            v = _I(row[_U1]) + _I(below[_U1])
            for i in range(wide):
                x = _U(i)
                given = _I(row[x + _U2]) + _I(below[x + _U2])
                share = v >> _FOUR
                dark_next = given + ((share << _THREE) - share)
                light_next = dark_next - seven
                lit = v >= _HALF
                e = share - _STEP if lit else share
                made[x] = light if lit else dark
                v = light_next if lit else dark_next
                below[x] = b + (e << _ONE) + e
                b = n + (e << _TWO) + e
                n = e
            below[wide] = b
        below[0] = _ZERO
        below[wide + _U1] = _ZERO


def diffuse_tone(values: npt.NDArray[np.float32], dark: int, light: int, *, serpentine: bool) -> npt.NDArray[np.uint8]:
    """Light (H, W), 0 dark and 1 light, to the indices `dark` and `light` (H, W)."""
    out = np.empty(values.shape, np.uint8)
    (_tone_serpentine if serpentine else _tone_raster)(values, dark, light, out)
    return out
