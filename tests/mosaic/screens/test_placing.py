"""Where things stand: each constraint by hand, circles, and that no order of elements matters."""

import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.screens.placing import Box, Natural, PlacingError, place, safe_box
from mosaic.screens.screen import Anchor, Element, Guide, Size

GLASS = Box(0, 0, 100, 60, 60)
SAFE = Box(10, 6, 80, 48, 54)
SIZES = {"e1": Natural(20, 10, 8), "e2": Natural(31, 12, 9), "e3": Natural(7, 5, 4)}


def put(*elements, guides=(), natural=SIZES):
    areas = {"glass": GLASS, "safe": SAFE, "zone1": Box(0, 0, 100, 16, 16)}
    return place(tuple(elements), areas, lambda e: natural.get(e.id, Natural(0, 0, 0)), tuple(guides))


CORNER, OWN = Anchor(), Size()


def one(x=CORNER, y=CORNER, width=OWN, height=OWN, ident="e1", **more):
    return Element(ident, more.pop("kind", "text"), x=x, y=y, width=width, height=height, **more)


@pytest.mark.parametrize(
    ("x", "y", "at"),
    [
        (Anchor(), Anchor(), (0, 0)),
        (Anchor(plus=5), Anchor(plus=-3), (5, -3)),
        (Anchor("end", "glass", "end"), Anchor("end", "glass", "end", -1), (80, 49)),
        (Anchor("middle", "glass", "middle"), Anchor("middle", "glass", "middle"), (40, 25)),
        (Anchor("start", "safe", "start"), Anchor("end", "safe", "end"), (10, 44)),
        (Anchor("start", "safe", "end"), Anchor("start", "zone1", "end", 2), (90, 18)),
        (Anchor("end", "glass", "middle"), Anchor("base", "glass", "end"), (30, 52)),
        (Anchor("start", "g1", "start", 2), Anchor("base", "g2", "start"), (14, 19)),
    ],
)  # fmt: skip
def test_from_the_glass_the_safe_area_zones_and_guides(x, y, at):
    guides = (Guide("g1", "margin", True, "start", 12), Guide("g2", "line", False, "middle", -3))
    box = put(one(x, y), guides=guides)["e1"]
    assert (box.x, box.y) == at
    assert (box.width, box.height, box.base) == (20, 10, box.y + 8)


def test_an_odd_size_stands_in_the_middle_rounded_down():
    box = put(one(Anchor("middle", "glass", "middle"), Anchor("middle", "glass", "middle"), ident="e3"))["e3"]
    assert (box.x, box.y) == (50 - 3, 30 - 2)


def test_from_another_element():
    boxes = put(
        one(Anchor(plus=10), Anchor(plus=4)),
        one(Anchor("start", "e1", "end", 3), Anchor("base", "e1", "base"), ident="e2"),
        one(Anchor("middle", "e2", "middle"), Anchor("start", "e2", "end", 1), ident="e3"),
    )
    assert (boxes["e2"].x, boxes["e2"].base, boxes["e2"].y) == (33, 12, 3)
    assert (boxes["e3"].x, boxes["e3"].y) == (33 + 15 - 3, 16)


def test_sizes_in_pixels_as_another_and_up_to_a_line():
    boxes = put(
        one(Anchor(plus=10), width=Size("pixels", 44), height=Size("pixels", 3)),
        one(Anchor(plus=5), width=Size("as", to="e1", plus=-4), height=Size("as", to="glass"), ident="e2"),
        one(Anchor(plus=20), Anchor(plus=9), Size("until", to="safe", of="end", plus=-1), Size("until", to="e1", of="end"), "e3"),
    )
    assert (boxes["e1"].width, boxes["e1"].height, boxes["e1"].base) == (44, 3, 3)
    assert (boxes["e2"].width, boxes["e2"].height) == (40, 60)
    assert (boxes["e3"].x, boxes["e3"].width) == (20, 69)
    # Up to a line above its own: the box lies between the two.
    assert (boxes["e3"].y, boxes["e3"].height) == (3, 6)


def test_up_to_a_line_from_the_right_and_about_the_middle():
    boxes = put(
        one(Anchor("end", "glass", "end", -10), width=Size("until", to="safe", of="start")),
        one(Anchor("middle", "glass", "middle"), width=Size("until", to="glass", of="end", plus=-8), ident="e2"),
    )
    assert (boxes["e1"].x, boxes["e1"].width) == (10, 80)
    assert (boxes["e2"].x, boxes["e2"].width) == (8, 84)


def test_a_size_is_never_below_nothing():
    assert put(one(width=Size("pixels", 3)), one(width=Size("as", to="e1", plus=-9), ident="e2"))["e2"].width == 0


@pytest.mark.parametrize(("gap", "starts"), [(0, (5, 25, 56)), (4, (5, 29, 64)), (-1, (5, 36, 78))])
def test_a_row_with_gaps_given_or_spread_evenly(gap, starts):
    row = Element(
        "r1", "row", x=Anchor(plus=5), width=Size("pixels", 80) if gap < 0 else Size(), gap=gap, members=("e1", "e2", "e3")
    )
    members = [one(y=Anchor("middle", "r1", "middle"), ident=ident) for ident in ("e1", "e2", "e3")]
    boxes = put(row, *members)
    assert tuple(boxes[ident].x for ident in ("e1", "e2", "e3")) == starts
    if gap >= 0:
        assert (boxes["r1"].width, boxes["r1"].height) == (58 + 2 * gap, 12)
    assert boxes["e3"].y == 6 - 2


def test_a_column_and_a_group():
    column = Element("c1", "column", x=Anchor(plus=9), y=Anchor(plus=7), gap=2, members=("e2", "e1"))
    boxes = put(column, one(Anchor("start", "c1")), one(Anchor("start", "c1"), ident="e2"))
    assert (boxes["e2"].y, boxes["e1"].y, boxes["c1"].height, boxes["c1"].width) == (7, 21, 24, 31)
    group = Element("g9", "group", x=Anchor(plus=9), y=Anchor(plus=7), members=("e1", "e2"))
    boxes = put(
        group,
        one(Anchor("start", "g9", "start", 2), Anchor("start", "g9")),
        one(Anchor("start", "g9"), Anchor("start", "g9", "start", 11), ident="e2"),
    )
    assert (boxes["e1"].x, boxes["e2"].y) == (11, 18)
    assert (boxes["g9"].width, boxes["g9"].height) == (31, 23)


@pytest.mark.parametrize(
    ("elements", "words", "who"),
    [
        ((one(Anchor("start", "e2")), one(Anchor("start", "e1"), ident="e2")), "the text e1 and the text e2 stand in a circle", {"e1", "e2"}),
        ((one(Anchor("start", "e1")),), "the text e1 stand in a circle", {"e1"}),
        ((one(width=Size("as", to="e2")), one(width=Size("as", to="e1"), ident="e2")), "stand in a circle", {"e1", "e2"}),
        ((one(Anchor("start", "e7", "start"), name="Tide"),), "Tide is placed by e7, which is not there any more", {"e1"}),
        ((one(Anchor("start", "g1")),), "placed by the level guide line, which says nothing there", {"e1"}),
    ],
)  # fmt: skip
def test_what_cannot_be_placed_is_told(elements, words, who):
    with pytest.raises(PlacingError, match=words) as told:
        put(*elements, guides=(Guide("g1", "line", False),))
    assert set(told.value.elements) == who


def test_a_long_chain_is_no_trouble_whatever_its_order():
    chain = [one(Anchor("start", f"a{n - 1}", "end", 1) if n else Anchor(), ident=f"a{n}") for n in range(300)]
    boxes = put(*reversed(chain), natural={e.id: Natural(2, 1, 1) for e in chain})
    assert boxes["a299"].x == 299 * 3


@given(st.randoms(use_true_random=False))
def test_no_result_depends_on_the_order_of_elements(dice):
    elements = []
    for n in range(12):
        to = f"b{dice.randrange(n)}" if n and dice.random() < 0.7 else dice.choice(("glass", "safe"))
        anchors = [
            Anchor(dice.choice(("start", "middle", "end")), to, dice.choice(("start", "middle", "end")), dice.randint(-9, 9))
            for _ in "xy"
        ]
        sizes = [
            dice.choice((Size(), Size("pixels", dice.randint(0, 30)), Size("as", to=to, plus=dice.randint(-5, 5)))) for _ in "wh"
        ]
        elements.append(one(*anchors, *sizes, ident=f"b{n}"))
    natural = {e.id: Natural(dice.randint(0, 40), dice.randint(0, 20), 3) for e in elements}
    first = put(*elements, natural=natural)
    mixed = list(elements)
    random.Random(dice.random()).shuffle(mixed)
    assert put(*mixed, natural=natural) == first


def test_a_larger_natural_size_moves_what_stands_beside():
    beside = one(Anchor("start", "e1", "end", 2), ident="e2")
    assert put(one(), beside)["e2"].x == 22
    assert put(one(), beside, natural={**SIZES, "e1": Natural(26, 10, 8)})["e2"].x == 28


def test_the_safe_area_is_the_largest_rectangle_that_can_be_seen():
    rows = ["..####..", ".######.", "########", "########", ".######.", "..####.."]
    seen = np.array([[c == "#" for c in row] for row in rows])
    assert safe_box(seen) == Box(1, 1, 6, 4, 5)
    assert safe_box(np.ones((5, 9), bool)) == Box(0, 0, 9, 5, 5)
    seen = np.zeros((4, 4), bool)
    seen[3, 1:] = True
    assert safe_box(seen) == Box(1, 3, 3, 1, 4)
