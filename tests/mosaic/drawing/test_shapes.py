"""Shapes against pixel maps drawn by hand, and what holds for all sizes."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.drawing import shapes
from mosaic.drawing.kernels import whole_root
from mosaic.drawing.surface import new_surface, packed, value_of
from mosaic.errors import BadValueError
from mosaic.firmware import draw as python
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.pixels.formats import DirectFormat, IndexedFormat, Plane


def drawn(width: int, height: int, *calls) -> str:
    s = new_surface(width, height)
    for name, *given_values in calls:
        more = given_values.pop() if isinstance(given_values[-1], dict) else {}
        getattr(shapes, name)(s, *given_values, **more)
    return "\n".join("".join(".#ox"[v] for v in row) for row in s.values)


def art(text: str) -> str:
    return "\n".join(line.strip() for line in text.strip().splitlines())


MARK = np.array([[1, 1], [0, 2]], np.uint8)
LETTERS = Lettering(
    "Tiny",
    (Glyph(ord("l"), np.ones((3, 1), np.uint8), 0, 2, 2), Glyph(ord("o"), np.ones((2, 2), np.uint8), 0, 2, 3)),
    3, 1, 1, {(ord("l"), ord("l")): -1},
)  # fmt: skip
MAPS = [
    ("fill", (1, 1, 3, 2, 1), ".....\n.###.\n.###.\n....."),
    ("fill", (-1, -1, 3, 3, 1), "##...\n##...\n.....\n....."),
    ("fill", (3, 2, 9, 9, 1), ".....\n.....\n...##\n...##"),
    ("frame", (0, 0, 5, 4, 1, 1), "#####\n#...#\n#...#\n#####"),
    ("frame", (0, 0, 5, 4, 2, 1), "#####\n#####\n#####\n#####"),
    ("frame", (-1, 1, 4, 5, 1, 1), ".....\n###..\n..#..\n..#.."),
    ("ellipse", (0, 0, 5, 4, 1), ".###.\n#####\n#####\n.###."),
    ("ellipse", (0, 0, 4, 4, 1), ".##..\n####.\n####.\n.##.."),
    ("ellipse", (1, 0, 3, 3, 1), ".###.\n.###.\n.###.\n....."),
    ("ellipse", (0, 0, 5, 4, 1, {"outlined": True}), ".###.\n#...#\n#...#\n.###."),
    ("ring", (2, 1, 1, 1, 1), ".###.\n.#.#.\n.###.\n....."),
    ("ring", (2, 2, 2, 1, 1), ".###.\n#...#\n#...#\n#...#"),
    ("disc", (2, 1, 1, 1), ".###.\n.###.\n.###.\n....."),
    ("disc", (2, 2, 2, 1), ".###.\n#####\n#####\n#####"),
    ("disc", (0, 0, 0, 1), "#....\n.....\n.....\n....."),
    ("rounded", (0, 0, 5, 4, 2, 1), ".###.\n#####\n#####\n.###."),
    ("rounded", (0, 0, 5, 4, 0, 1), "#####\n#####\n#####\n#####"),
    ("rounded", (0, 0, 5, 4, 2, 1, {"outlined": True}), ".###.\n#...#\n#...#\n.###."),
    ("line", (0, 0, 4, 3, 1, 1), "#....\n.##..\n...#.\n....#"),
    ("line", (4, 3, 0, 0, 1, 1), "#....\n.##..\n...#.\n....#"),
    ("line", (0, 3, 4, 3, 1, 1), ".....\n.....\n.....\n#####"),
    ("line", (2, 1, 2, 1, 1, 1), ".....\n..#..\n.....\n....."),
    ("line", (1, 1, 3, 1, 3, 1), "#####\n#####\n#####\n....."),
    ("polygon", ([(0, 0), (5, 0), (5, 4), (0, 4)], 1), "#####\n#####\n#####\n#####"),
    ("polygon", ([(0, 0), (4, 4), (0, 4)], 1), ".....\n#....\n##...\n###.."),
    ("polygon", ([(0, 0), (4, 0), (4, 4)], 1), "####.\n.###.\n..##.\n...#."),
    ("polygon", ([(0, 0), (5, 0), (5, 4), (0, 4), (0, 1), (1, 1), (1, 3), (4, 3), (4, 1), (0, 1)], 1), "#####\n#...#\n#...#\n#####"),
    ("sector", (2, 2, 2, 1, 0, 90, 1), "..##.\n....#\n.....\n....."),
    ("sector", (2, 2, 2, 3, 90, 90, 1), ".....\n.....\n...##\n...##"),
    ("sector", (2, 2, 2, 3, 0, 180, 1), "..##.\n..###\n...##\n...##"),
    ("glyph", (1, 0, np.array([[0, 1], [2, 3]], np.uint8), 2, (None, 1, 2, 3)), "..#..\n.ox..\n.....\n....."),
    ("turned", (2, 1, 0, 1, 0, MARK, (None, 1, 2)), ".....\n.##..\n..o..\n....."),
    ("turned", (2, 1, 90, 1, 0, MARK, (None, 1, 2)), "..#..\n.o#..\n.....\n....."),
    ("turned", (2, 1, 180, 1, 0, MARK, (None, 1, 2)), "..o..\n..##.\n.....\n....."),
    ("turned", (0, 3, 270, 0, 0, MARK, (None, 1, 2)), ".....\n.....\n#o...\n#...."),
    ("values", (1, 1, np.array([[1, -1, 2]], np.int32)), ".....\n.#.o.\n.....\n....."),
    ("values", (-1, 0, np.array([[3, 1], [1, 2]], np.int32)), "#....\no....\n.....\n....."),
    ("values", (4, 3, np.array([[3, 1], [1, 2]], np.int32)), ".....\n.....\n.....\n....x"),
    ("text", (0, 2, "lo", LETTERS, (None, 1)), "#.##.\n#.##.\n#....\n....."),
    ("text", (1, 2, "ll", LETTERS, (None, 1)), ".##..\n.##..\n.##..\n....."),
    ("text", (-1, 3, "o?l", LETTERS, (None, 2)), ".....\n#.#..\n#.#..\n..#..".replace("#", "o")),
    ("polyline", ([(0, 0), (4, 0), (4, 3)], 1, 1), "#####\n....#\n....#\n....#"),
    ("pattern", (0, 0, 5, 4, np.array([[True, False]]), 1, None), "#.#.#\n#.#.#\n#.#.#\n#.#.#"),
    ("pattern", (1, 1, 3, 2, np.array([[True, False], [False, True]]), 1, 2), ".....\n.#o#.\n.o#o.\n....."),
    ("pattern", (0, 0, 5, 2, np.array([[True, True, False]]), 1, None), "##.##\n##.##\n.....\n....."),
    ("stencil", (1, 1, np.array([[True, False], [True, True]]), 1), ".....\n.#...\n.##..\n....."),
    ("picture", (3, 0, np.array([[0, 1], [2, 0]], np.uint8), (None, 2, 3)), "....o\n...x.\n.....\n....."),
    ("picture", (-1, -1, np.array([[0, 1], [2, 1]], np.uint8), (1, 2, 3)), "o....\n.....\n.....\n....."),
    # The newest at the right; a reading that stands alone is a point, what lies beyond is held at the edge.
    ("plot", (0, 0, 5, 4, 1, 0, 3, [0, 1, 2, 3, 2], 5, 1), "...#.\n..#.#\n.#...\n#...."), ("plot", (0, 0, 5, 4, 1, 0, 3, [1, None, 2], 3, 1), ".....\n....#\n#....\n....."),
    ("plot", (0, 0, 5, 4, 1, 0, 3, [9, None, -5], 3, 1), "#....\n.....\n.....\n....#"), ("plot", (0, 0, 5, 4, 1, 3, 0, [3, None, 0], 3, 1), "....#\n.....\n.....\n#...."),
    ("plot", (0, 0, 5, 4, 1, 0, 3, [0, 0, 3, None, 0], 3, 1), "#....\n.....\n.....\n....#"), ("plot", (0, 0, 5, 4, 1, 0, 2, [1, None, None], 3, 1), ".....\n#....\n.....\n....."),
    ("plot", (1, 1, 3, 2, 1, 0, 1, [0, None, 1], 3, 1), ".....\n...#.\n.#...\n....."), ("plot", (0, 0, 5, 4, 1, 0, 3, [3], 3, 1), "....#\n.....\n.....\n....."),
]  # fmt: skip


@pytest.mark.parametrize(("name", "numbers", "expected"), MAPS)
def test_by_hand(name, numbers, expected):
    assert drawn(5, 4, (name, *numbers)) == expected


def mask(width: int, height: int, name: str, *numbers, **more):
    s = new_surface(width, height)
    getattr(shapes, name)(s, *numbers, **more)
    return s.values == 1


def outline_of(filled):
    """Pixels of a shape that have one of four neighbours outside, found by shifting."""
    padded = np.pad(filled, 1)
    inside = padded[:-2, 1:-1] & padded[2:, 1:-1] & padded[1:-1, :-2] & padded[1:-1, 2:]
    return filled & ~inside


def test_circles_of_all_radii_to_200_are_what_their_rule_says():
    far = np.arange(-202, 203)
    square = far[:, None] ** 2 + far[None, :] ** 2
    for r in range(201):
        filled = mask(405, 405, "disc", 202, 202, r, 1)
        assert (filled == (square <= r * r + r)).all(), r
        assert (filled == filled.T).all()
        border = mask(405, 405, "ring", 202, 202, r, 1, 1)
        assert not (border & ~filled).any()
        assert (border == filled & ~mask(405, 405, "disc", 202, 202, r - 1, 1)).all() if r else border[202, 202]


@pytest.mark.parametrize(
    "size",
    [
        (1, 1),
        (2, 1),
        (1, 7),
        (2, 2),
        (3, 9),
        (20, 13),
        (64, 64),
        (101, 40),
        (400, 3),
        (399, 400),
        (4096, 9),
        (9, 4096),
        (900, 256),
        (900, 257),
    ],
)
def test_filled_ellipses_cover_their_outline_exactly_and_are_symmetric(size):
    w, h = size
    filled = mask(w, h, "ellipse", 0, 0, w, h, 1)
    assert (filled == filled[::-1]).all()
    assert (filled == filled[:, ::-1]).all()
    assert (mask(w, h, "ellipse", 0, 0, w, h, 1, outlined=True) == outline_of(filled)).all()
    # No row is more than a pixel from the true ellipse on either side.
    x, y = (2 * np.arange(w) + 1 - w) / w, (2 * np.arange(h) + 1 - h) / h
    true = x[None, :] ** 2 + y[:, None] ** 2 <= 1
    assert (filled != true).sum() <= 2 * h


@given(st.integers(0, 60), st.integers(0, 60), st.integers(0, 40))
def test_rounded_boxes_cover_their_outline_exactly(w, h, r):
    filled = mask(60, 60, "rounded", 0, 0, w, h, r, 1)
    assert (mask(60, 60, "rounded", 0, 0, w, h, r, 1, outlined=True) == outline_of(filled)).all()
    assert (filled[:h, :w] == filled[:h, :w][::-1, ::-1]).all()


@given(st.integers(0, 30), st.integers(1, 31), st.integers(-720, 720), st.lists(st.integers(1, 200), min_size=1, max_size=6))
def test_sectors_that_meet_leave_no_gap_and_no_overlap(r, t, start, spans):
    """Parts of a whole turn: each pixel of the ring but its middle belongs to exactly one."""
    ring, counted, at = mask(63, 63, "ring", 31, 31, r, t, 1), np.zeros((63, 63), int), start
    for span in spans:
        span = min(span, start + 360 - at)
        counted += mask(63, 63, "sector", 31, 31, r, t, at, span, 1)
        at += span
    counted += mask(63, 63, "sector", 31, 31, r, t, at, start + 360 - at, 1)
    counted[31, 31] = ring[31, 31]
    assert (counted == ring).all()


def test_directions_are_the_runtimes_table():
    for degrees in range(-400, 800):
        assert shapes.direction(degrees) == python.direction(degrees)
        assert abs(np.hypot(*shapes.direction(degrees)) - 16384) < 1


@given(*(st.integers(-10, 50) for _ in range(8)))
def test_polygons_that_share_a_side_leave_no_gap_and_no_overlap(ax, ay, bx, by, cx, cy, dx, dy):
    """Two triangles on one side, on different sides of it: each pixel of both together belongs to one of them."""
    sides = [(bx - ax) * (y - ay) - (by - ay) * (x - ax) for x, y in ((cx, cy), (dx, dy))]
    if sides[0] * sides[1] >= 0:
        return
    first, second = [(ax, ay), (bx, by), (cx, cy)], [(ax, ay), (bx, by), (dx, dy)]
    one, two = mask(41, 41, "polygon", first, 1), mask(41, 41, "polygon", second, 1)
    assert not (one & two).any()
    both = mask(41, 41, "polygon", [(ax, ay), (cx, cy), (bx, by), (dx, dy)], 1)
    assert ((one | two) == both).all()


@given(st.integers(-20, 60), st.integers(-20, 60), st.integers(-20, 60), st.integers(-20, 60))
def test_lines_are_the_same_from_both_ends_and_connected(x0, y0, x1, y1):
    there, back = mask(41, 41, "line", x0, y0, x1, y1, 1, 1), mask(41, 41, "line", x1, y1, x0, y0, 1, 1)
    assert (there == back).all()
    whole = new_surface(200, 200)
    shapes.line(whole, x0 + 60, y0 + 60, x1 + 60, y1 + 60, 1, 1)
    assert whole.values.sum() == max(abs(x1 - x0), abs(y1 - y0)) + 1


def test_what_cannot_be_drawn_is_told():
    s = new_surface(8, 8)
    with pytest.raises(BadValueError, match="8192 lies too far off; coordinates from -8,191 to 8,191"):
        shapes.fill(s, 8192, 0, 1, 1, 1)
    shapes.fill(s, 8191, -8191, 4096, 0, 1)
    for w in (-1, 4097):
        with pytest.raises(BadValueError, match="no size in pixels; 0 to 4,096"):
            shapes.fill(s, 0, 0, w, 1, 1)
    with pytest.raises(BadValueError, match="a polygon of 2 points; 3 to 32"):
        shapes.polygon(s, [(0, 0), (1, 1)], 1)
    with pytest.raises(BadValueError, match="a polygon of 33 points"):
        shapes.polygon(s, [(0, 0)] * 33, 1)
    with pytest.raises(BadValueError, match="a tile of 9 x 1"):
        shapes.pattern(s, 0, 0, 1, 1, np.ones((9, 1), bool), 1, None)
    with pytest.raises(BadValueError, match="a pixel has colour 2; there are 2"):
        shapes.picture(s, 0, 0, np.array([[2]], np.uint8), (None, 1))
    with pytest.raises(BadValueError, match="a surface of 0 x 8"):
        new_surface(0, 8)
    assert not s.values.any()


def test_values_and_bytes_of_colours():
    assert value_of(0xFF8040, DirectFormat(16)) == 0xFC08
    assert value_of(0xFF8040, DirectFormat(24)) == 0xFF8040
    assert value_of(0xFF8040, DirectFormat(12)) == 0xF84
    assert value_of(3, IndexedFormat(2, "row", "msb", "rows", (Plane("", (0, 1, 2, 3)),))) == 3
    s = new_surface(2, 1, color=0xFF8040)
    assert packed(s, DirectFormat(16)).hex() == "fc08fc08"


def test_whole_roots():
    squares = [n * n for n in (0, 1, 2, 3, 10, 1000, 46_341, 2**26 - 1, 2**26, 2**31 - 1)]
    for n in (*squares, *(square - 1 for square in squares[1:]), *(square + 1 for square in squares)):
        assert whole_root(n) == math.isqrt(n), n
