"""Draw speed: exact counts against figures worked by hand, the C runtime, and the virtual panel's clocks."""

import ctypes
from collections import Counter
from dataclasses import replace
from fractions import Fraction
from random import Random

import pytest

from mosaic.boards.board import link_between
from mosaic.links import total_s, wire_steps
from mosaic.links.spi import SpiLink
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import Rect, addressable, host_size
from mosaic.panels.wire import window_parts
from mosaic.refresh.costs import Cost, Wire
from mosaic.refresh.direct import direct_boxes
from mosaic.refresh.own import own_cost
from mosaic.refresh.speed import by_kind, change_cost, element_costs, frame_ways, scan_bytes_s, why_not_direct
from mosaic.screens.calls import Call
from mosaic.screens.rendering import render
from mosaic.screens.screen import Anchor, Element, Screen, Size
from tests.mosaic.drawing.test_three_renderers import AREA
from tests.mosaic.screens.compiling import CScreen
from tests.mosaic.screens.made_up import all_kinds, device, kit_of

TFT = "tft-320x240-touch"


def test_a_slanted_line_is_fifty_windows_of_two_pixels():
    """A line from (0, 0) to (99, 49): 50 runs, each 11 bytes of window and 4 of pixels, 750 in all."""
    boxes = direct_boxes([Call("line", (0, 0, 99, 49, 1, 5))], (320, 240))
    assert boxes == Counter({(2, 1): 50})
    dev = device(TFT)
    cost = Wire(dev, dev.link).boxes(boxes)
    assert (cost.windows, cost.setup_bytes, cost.data_bytes, cost.pixels) == (50, 550, 200, 100)


@pytest.mark.parametrize(
    ("call", "windows", "sent"),
    [(Call("line", (0, 0, 99, 0, 1, 5)), 1, 211), (Call("fill", (0, 0, 100, 50, 5)), 1, 10_011)],
)
def test_runs_and_filled_boxes(call, windows, sent):
    dev = device(TFT)
    cost = Wire(dev, dev.link).boxes(direct_boxes([call], (320, 240)))
    assert (cost.windows, cost.sent_bytes) == (windows, sent)


def test_two_corners_are_26_bytes_and_a_window_round_both_a_frame():
    dev = device(TFT)
    wire = Wire(dev, dev.link)
    assert (wire.window(Rect(0, 0, 1, 1)) + wire.window(Rect(319, 239, 1, 1))).sent_bytes == 26
    assert wire.frame().sent_bytes == 153_611


def test_a_frame_at_40_mhz():
    dev = replace(device(TFT), clock_hz=40_000_000)
    cost = Wire(dev, SpiLink(40_000_000)).frame()
    assert cost.data_ms == Fraction(153_600 * 8, 40_000)
    assert cost.setup_ms == Fraction(11 * 8, 40_000)
    assert cost.clocks == 153_611 * 8


@pytest.mark.parametrize("slug", sorted(catalogue()))
def test_a_frame_costs_what_its_parts_do(slug):
    """On every panel: bytes and clocks of the split are those of the whole, and times add up."""
    dev = device(slug)
    cost = Wire(dev, dev.link).frame()
    size = host_size(dev.passport, dev.turn)
    parts = window_parts(dev.passport, dev.turn, Rect(0, 0, *size), bytes(dev.passport.format.frame_bytes(*size)))
    steps = wire_steps(parts, dev.link)
    assert cost.sent_bytes == sum(step.byte_count for step in steps)
    assert cost.data_bytes == dev.passport.format.frame_bytes(*size)
    assert cost.clocks == sum(step.clocks for step in steps)
    assert cost.setup_ms + cost.data_ms + cost.gap_ms == total_s(steps) * 1000


def sent_by_c(rendered, folder) -> Counter:
    """The windows that compiled code sends, by their sizes."""
    library, sent = CScreen(rendered, folder).library, []
    held = AREA(lambda context, x, y, w, h, color: sent.append((w, h)))
    library.run(ctypes.byref(library.none(held)), None, None)
    return Counter(sent)


@pytest.mark.parametrize("slug", [TFT, "tft-240x240-round", "grey-oled-128x128"])
def test_direct_windows_are_those_of_the_c_runtime(slug, tmp_path):
    """Element by element: a screen of each alone, drawn without a buffer by compiled code."""
    dev = device(slug)
    screen = all_kinds(dev)
    chosen = screen.elements[::4] if slug != TFT else screen.elements[::2]
    for number, element in enumerate(chosen):
        if element.members or element.x.to not in ("glass", "safe") or element.y.to not in ("glass", "safe"):
            continue
        rendered = render(Screen((element,)), dev, kit_of(dev))
        folder = tmp_path / str(number)
        folder.mkdir()
        assert direct_boxes(rendered.calls, dev.size) == sent_by_c(rendered, folder), element.kind


def test_ways_of_a_frame():
    dev = device(TFT)
    rendered = render(all_kinds(dev), dev, kit_of(dev))
    ways = frame_ways(rendered, Wire(dev, dev.link))
    frame = 320 * 240 * 2
    assert [ways[slug].ram_bytes for slug in ("direct", "pages", "full", "double")] == [0, frame // 40, frame, 2 * frame]
    assert ways["pages"].passes == 40
    full, double = ways["full"], ways["double"]
    assert full.total_ms == pytest.approx(full.cost.draw_ms + full.cost.wire_ms)
    assert double.total_ms == pytest.approx(max(full.cost.draw_ms, full.cost.wire_ms))
    assert ways["pages"].total_ms > full.total_ms
    assert ways["direct"].cost.windows == sum(direct_boxes(rendered.calls, dev.size).values())


@pytest.mark.parametrize(
    ("slug", "told"),
    [("mono-oled-128x64", "1 × 8 px"), ("epaper-296x128-four-colour", "whole frames only"), (TFT, "")],
)
def test_where_nothing_can_be_drawn_directly(slug, told):
    assert told in why_not_direct(device(slug))
    assert (told == "") == (why_not_direct(device(slug)) == "")


def test_elements_add_up():
    dev = device(TFT)
    rendered = render(all_kinds(dev), dev, kit_of(dev))
    wire = Wire(dev, dev.link)
    costs = element_costs(rendered, wire)
    assert [one.ident for one in costs] == [one.element.id for one in rendered.drawn]
    ground = wire.boxes(direct_boxes(rendered.ground, dev.size))
    total = sum((one.direct for one in costs), ground)
    assert total.windows == frame_ways(rendered, wire)["direct"].cost.windows
    assert total.sent_bytes == frame_ways(rendered, wire)["direct"].cost.sent_bytes


def test_nothing_changes_between_a_state_and_itself():
    dev = device(TFT)
    rendered = render(all_kinds(dev), dev, kit_of(dev))
    change = change_cost(rendered, rendered, Wire(dev, dev.link))
    assert (change.windows, change.cost) == ((), Cost())


def test_windows_of_a_turned_panel_are_counted_as_the_board_sets_them():
    """A tall box of the reader's is a wide one on a panel that lies on its side, and costs the same bytes of pixels."""
    upright, turned = device(TFT, 0), device(TFT, 90)
    boxes = Counter({(3, 200): 2})
    costs = [Wire(dev, dev.link).boxes(boxes) for dev in (upright, turned)]
    assert [(cost.windows, cost.data_bytes, cost.pixels) for cost in costs] == [(2, 2400, 1200)] * 2
    rendered = render(all_kinds(turned), turned, kit_of(turned))
    assert frame_ways(rendered, Wire(turned, turned.link))["direct"].cost.windows > 100


def test_kinds_by_the_ratio_of_their_sums():
    """A line of 50 runs and a box of one window: 750 and 10,011 bytes directly; from a buffer 10,011 each."""
    dev = replace(device(TFT), clock_hz=40_000_000)
    elements = (
        Element("e1", "line", x=Anchor(), y=Anchor(), width=Size("pixels", 100), height=Size("pixels", 50)),
        Element("e2", "rectangle", x=Anchor(plus=100), y=Anchor(plus=100), width=Size("pixels", 100), height=Size("pixels", 50)),
    )
    rendered = render(Screen(elements), dev, kit_of(dev))
    rows = {one.kind: one for one in by_kind(rendered, Wire(dev, SpiLink(40_000_000)), Wire(dev, SpiLink(8_000_000)))}
    wire = {kind: 1000 * 8 * size / 40_000_000 for kind, size in (("line", 750), ("rectangle", 10_011))}
    drawing = rows["line"].direct_ms - wire["line"]
    assert 0 < drawing < 0.2
    assert rows["line"].by_program_ms == pytest.approx(5 * wire["line"] + drawing)
    assert rows["rectangle"].buffer_brings < 1 < rows["rectangle"].hardware_brings < 5
    total = rows["all together"]
    assert (total.count, list(rows)[-1]) == (2, "all together")
    assert total.hardware_brings == pytest.approx(
        (rows["line"].by_program_ms + rows["rectangle"].by_program_ms) / (rows["line"].direct_ms + rows["rectangle"].direct_ms)
    )
    assert (
        by_kind(
            render(Screen(elements), device("mono-oled-128x64"), kit_of(device("mono-oled-128x64"))),
            Wire(dev, dev.link),
            Wire(dev, dev.link),
        )
        == []
    )


def test_a_panel_that_is_scanned_takes_bandwidth_all_the_time():
    slug = next(slug for slug, passport in sorted(catalogue().items()) if passport.scan is not None)
    dev = device(slug)
    assert scan_bytes_s(dev) == dev.clock_hz * dev.passport.format.bits / 8 > 0
    assert scan_bytes_s(device(TFT)) == 0
    ways = frame_ways(render(Screen(), dev, kit_of(dev)), Wire(dev, dev.link))
    assert "no memory of its own" in ways["direct"].why_not


def test_a_panel_that_draws_by_itself_takes_short_commands():
    """A filled box of 100 x 50 is 26 bytes and 5,000 pixels at 20 a microsecond; a slanted line of 100 pixels 26 bytes and 15 a
    microsecond; a ring, which the panel has no command for, is sent in windows."""
    dev = device("drawing-tft-800x480")
    size = {"width": Size("pixels", 100), "height": Size("pixels", 50)}
    at = {"x": Anchor(plus=10), "y": Anchor(plus=10)}
    alone = render(Screen(()), dev, kit_of(dev))
    box = render(Screen((Element("e1", "rectangle", **at, **size),)), dev, kit_of(dev))
    wire = Wire(dev, dev.link)
    ground, both = own_cost(alone, wire), own_cost(box, wire)
    assert ground.sent_bytes == 26
    assert ground.draw_ms == pytest.approx(800 * 480 / 20 / 1000)
    assert both.sent_bytes == 52
    assert both.draw_ms - ground.draw_ms == pytest.approx(0.25)
    line = render(Screen((Element("e1", "line", **at, **size),)), dev, kit_of(dev))
    assert own_cost(line, wire).draw_ms - ground.draw_ms == pytest.approx(100 / 15 / 1000)
    ring = render(Screen((Element("e1", "circle", **at, **size, filled=False),)), dev, kit_of(dev))
    assert own_cost(ring, wire).windows > 50
    assert frame_ways(box, wire)["own"].total_ms == pytest.approx(both.draw_ms + both.wire_ms)
    assert own_cost(render(Screen(()), device(TFT), kit_of(device(TFT))), Wire(device(TFT), device(TFT).link)) is None


@pytest.mark.parametrize("slug", sorted(catalogue()))
def test_windows_cost_the_clocks_that_the_wire_counts(slug):
    """Windows by lot on every panel, on each link that it has: bytes and clocks of the transmission itself, and times that add up."""
    dev, lot = device(slug), Random(4)
    width, height = host_size(dev.passport, dev.turn)
    for option in dev.passport.links:
        clock = min(option.max_clock_hz, dev.board.max_clock_hz(option.kind) or option.max_clock_hz)
        link = link_between(dev.board, option.kind, clock, dev.passport.scan)
        wire = Wire(dev, link)
        for _ in range(4):
            x, y = lot.randrange(width), lot.randrange(height)
            box = Rect(x, y, lot.randint(1, width - x), lot.randint(1, height - y))
            window = addressable(box, dev.passport, dev.turn)
            packed = bytes(dev.passport.format.frame_bytes(window.width, window.height))
            steps = wire_steps(window_parts(dev.passport, dev.turn, window, packed), link)
            cost = wire.window(window)
            assert cost.clocks == sum(step.clocks for step in steps)
            assert cost.sent_bytes == sum(step.byte_count for step in steps)
            assert cost.setup_ms + cost.data_ms + cost.gap_ms == total_s(steps) * 1000
