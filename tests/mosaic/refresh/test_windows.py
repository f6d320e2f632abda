"""Windows to send: the cheapest of all on small cases, near a bound on large ones, and every one of them right."""

from functools import cache
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.links.i2c import I2cLink
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import Rect, addressable, host_size
from mosaic.refresh.costs import Wire
from mosaic.refresh.windows.covering import Coverer, cut_apart
from mosaic.refresh.windows.prices import Grid
from tests.mosaic.screens.made_up import device

TFT, PAGES, PAPER = "tft-320x240-touch", "two-zone-oled-128x64", "epaper-400x300-black-white"


@cache
def coverer(slug):
    dev = device(slug)
    return Coverer(Wire(dev, dev.link))


def marked(slug, rects):
    dev = device(slug)
    width, height = host_size(dev.passport, dev.turn)
    changed = np.zeros((height, width), np.bool_)
    for x, y, w, h in rects:
        changed[y : y + h, x : x + w] = True
    return changed


def test_two_corners_are_two_windows():
    """26 bytes against 153,611 of one window round both."""
    found = coverer(TFT).cover(marked(TFT, [(0, 0, 1, 1), (239, 319, 1, 1)]))
    assert found.windows == (Rect(0, 0, 1, 1), Rect(239, 319, 1, 1))
    assert found.is_cheapest
    wire = coverer(TFT).wire
    assert found.ms == pytest.approx(wire.window(Rect(0, 0, 1, 1)).wire_ms * 2)


def test_where_two_windows_become_one():
    """Two pixels are one window as long as what lies between costs less than setting another window: exactly at the turn."""
    wire = coverer(TFT).wire
    one, two = (wire.window(Rect(0, 0, width, 1)).wire_ms for width in (1, 2))
    between = int((one - (two - one)) / (two - one))  # pixels that cost as much as a window, or just less
    near = coverer(TFT).cover(marked(TFT, [(10, 7, 1, 1), (10 + between, 7, 1, 1)]))
    far = coverer(TFT).cover(marked(TFT, [(10, 7, 1, 1), (12 + between, 7, 1, 1)]))
    assert [len(near.windows), len(far.windows)] == [1, 2]


def test_a_corner_shape_is_cut_where_it_costs_least():
    """Two bars that cross: with four pixels in common they are two windows, which send these twice; with nine they are three,
    for a window costs about seven."""
    found = coverer(TFT).cover(marked(TFT, [(10, 30, 61, 2), (39, 10, 2, 43)]))
    assert sorted(found.windows, key=lambda one: one.x) == [Rect(10, 30, 61, 2), Rect(39, 10, 2, 43)]
    assert found.is_cheapest
    found = coverer(TFT).cover(marked(TFT, [(10, 30, 61, 3), (39, 10, 3, 43)]))
    assert len(found.windows) == 3
    assert found.is_cheapest


def test_windows_stand_on_the_panels_grid():
    found = coverer(PAPER).cover(marked(PAPER, [(13, 5, 1, 1)]))
    assert found.windows == (Rect(8, 5, 8, 1),)
    found = coverer(PAGES).cover(marked(PAGES, [(13, 5, 4, 1)]))
    assert found.windows == (Rect(13, 0, 4, 8),)


def test_nothing_changed_and_everything_changed():
    assert coverer(TFT).cover(marked(TFT, [])).windows == ()
    found = coverer(TFT).cover(marked(TFT, [(0, 0, 240, 320)]))
    assert found.windows == (Rect(0, 0, 240, 320),)
    assert found.is_cheapest


@pytest.mark.parametrize("slug", ["epaper-800x480-black-white", "rgb-tft-800x480"])
def test_panels_of_whole_frames(slug):
    found = coverer(slug).cover(marked(slug, [(3, 3, 1, 1)]))
    assert [one.pixels for one in found.windows] == [np.prod(host_size(device(slug).passport, device(slug).turn))]
    assert found.is_cheapest


def by_trying_everything(who, cells, top, left):
    """ms of the cheapest set of windows for a few cells: of every set of cells that are left, the first has to be held by some
    window, each of which is tried."""
    rows, columns = cells.shape
    places = [(int(r), int(c)) for r, c in np.argwhere(cells)]
    boxes = []
    for t in range(rows):
        for b in range(t + 1, rows + 1):
            for first in range(columns):
                for end in range(first + 1, columns + 1):
                    held = sum(1 << n for n, (r, c) in enumerate(places) if t <= r < b and first <= c < end)
                    if held:
                        window = who.grid.window(left + first, top + t, left + end, top + b)
                        boxes.append((held, who.wire.window(window).wire_ms))
    boxes = [(held, min(ms for other, ms in boxes if other == held)) for held in {held for held, _ in boxes}]

    @cache
    def least(open_):
        if not open_:
            return 0.0
        first = open_ & -open_
        return min(ms + least(open_ & ~held) for held, ms in boxes if held & first)

    return least((1 << len(places)) - 1)


@pytest.mark.parametrize("slug", [TFT, PAGES, PAPER, "mono-oled-128x64", "tft-128x160-12bit"])
def test_a_few_cells_are_covered_at_best(slug):
    """200 small cases by lot on each of five panels: pixels of 16 and of 12 bits, pages, bytes of eight pixels."""
    who, lot = coverer(slug), np.random.default_rng(7)
    for _ in range(200):
        rows, columns = int(lot.integers(1, 5)), int(lot.integers(1, 8))
        cells = lot.random((rows, columns)) < lot.choice([0.15, 0.35, 0.6])
        if not cells.any() or cells.sum() > 11:
            cells = np.zeros((rows, columns), np.bool_)
            cells[0, 0] = cells[-1, -1] = True
        top, left = int(lot.integers(0, who.grid.down - rows)), int(lot.integers(0, who.grid.across - columns))
        changed = marked(slug, [])
        for r, c in np.argwhere(cells):
            at = who.grid.window(left + c, top + r, left + c + 1, top + r + 1)
            changed[at.y, at.x] = True
        found = who.cover(changed)
        best = by_trying_everything(who, cells, top, left)
        assert found.ms == pytest.approx(best, abs=1e-9)
        assert found.bound_ms <= best + 1e-9


def drawn(slug, lot):
    """A change as screens have them: lines of letters, a hand, a curve, a bar."""
    changed = marked(slug, [])
    height, width = changed.shape
    for _ in range(int(lot.integers(2, 7))):
        what = lot.integers(0, 4)
        x, y = int(lot.integers(0, width - 40)), int(lot.integers(0, height - 30))
        if what == 0:
            for letter in range(6):
                stem = int(lot.integers(0, 4))
                changed[y : y + 12, x + 6 * letter + stem] = True
                changed[y + int(lot.integers(0, 12)), x + 6 * letter : x + 6 * letter + 4] = True
        elif what == 1:
            for step in range(25):
                changed[y + step // 2 : y + step // 2 + 3, x + step] = True
        elif what == 2:
            for step in range(38):
                changed[y + int(12 + 10 * np.sin(step / 6)), x + step] = True
        else:
            changed[y : y + 8, x : x + int(lot.integers(1, 40))] = True
    return changed


@pytest.mark.parametrize("slug", [TFT, PAPER, "mono-oled-128x128", "tft-800x480-parallel", "grey-oled-256x64"])
def test_large_changes_are_near_the_bound_and_whole(slug):
    """Within 10 % of what nothing can be cheaper than; windows on the grid that hold every pixel that has changed."""
    who, lot, dev = coverer(slug), np.random.default_rng(3), device(slug)
    off = []
    for _ in range(12):
        changed = drawn(slug, lot)
        found = who.cover(changed)
        sent = np.zeros_like(changed)
        for one in found.windows:
            assert addressable(one, dev.passport, dev.turn) == one
            sent[one.y : one.bottom, one.x : one.right] = True
        assert not (changed & ~sent).any()
        assert found.ms == pytest.approx(sum(who.wire.window(one).wire_ms for one in found.windows))
        assert found.ms <= who.wire.frame().wire_ms + 1e-12
        off.append(found.off)
    assert max(off) <= 0.1, off


def test_very_many_pieces_are_covered_too():
    changed = np.random.default_rng(1).random((320, 240)) < 0.02
    found = coverer(TFT).cover(changed)
    sent = np.zeros_like(changed)
    for one in found.windows:
        sent[one.y : one.bottom, one.x : one.right] = True
    assert not (changed & ~sent).any()
    assert not found.is_cheapest
    assert 0 < found.bound_ms <= found.ms


@given(st.lists(st.tuples(st.integers(0, 40), st.integers(0, 40)), min_size=1, max_size=30), st.sampled_from([1, 3, 6.5]))
@settings(max_examples=150, deadline=None)
def test_parts_that_are_cut_apart_hold_all_and_stand_apart(places, reach):
    cells = np.zeros((41, 41), np.bool_)
    for place in places:
        cells[place] = True
    boxes = cut_apart(cells, reach)
    held = np.zeros(cells.shape, np.int64)
    for top, left, bottom, right in boxes:
        held[top:bottom, left:right] += 1
    assert (held[cells] == 1).all()
    for number, a in enumerate(boxes):
        for b in boxes[number + 1 :]:
            assert max(a[0] - b[2], b[0] - a[2], a[1] - b[3], b[1] - a[3]) >= reach


@given(st.data())
@settings(max_examples=60, deadline=None)
def test_the_plane_lies_below_every_window(data):
    """On every panel and link, by any window: no less than the plane; where it says that it is exact, the same."""
    slug = data.draw(st.sampled_from(sorted(slug for slug, one in catalogue().items() if not one.grid.whole_frames)))
    dev = device(slug)
    link = data.draw(st.sampled_from([dev.link, I2cLink(400_000, 32), I2cLink(100_000, 17, single_commands=True)]))
    grid = Grid(Wire(dev, link))
    plane = grid.plane()
    for _ in range(6):
        width, height = data.draw(st.integers(1, grid.across)), data.draw(st.integers(1, grid.down))
        ms = grid.ms(width, height)
        assert plane.of(width, height) <= ms + 1e-9
        if plane.is_exact:
            assert plane.of(width, height) == pytest.approx(ms, abs=1e-9)


def test_growth_of_the_plane_on_a_link_of_transactions():
    """I2C at 400 kHz, 31 bytes behind each control byte: nine clocks a byte and twenty for each transaction, so a byte is at least
    9 + 20 / 31 clocks; a window round one column is no cheaper than the plane says."""
    dev = device("mono-oled-128x64")
    plane = Grid(Wire(dev, I2cLink(400_000, 32))).plane()
    assert plane.cell * 400 == pytest.approx(9 + 20 / 31)
    assert not plane.is_exact
    widths = [Grid(Wire(dev, I2cLink(400_000, 32))).ms(width, 1) for width in (31, 32)]
    assert [round((b - a) * 400) for a, b in pairwise(widths)] == [29]
