"""Buffers and links: what fits, what is taken, and how fast a frame is on each link, by hand."""

from dataclasses import replace

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Device
from mosaic.panels.loader import catalogue
from mosaic.refresh.buffers import BufferChoice, buffer_choices, recommended
from mosaic.refresh.costs import Wire
from mosaic.refresh.lines import link_speeds, soft_clock_hz
from mosaic.screens.rendering import render
from tests.mosaic.screens.made_up import all_kinds, device, kit_of

TFT = "tft-320x240-touch"
FRAME = 320 * 240 * 2


def choices(slug, taken, **more):
    dev = replace(device(slug), **more)
    rendered = render(all_kinds(dev), dev, kit_of(dev))
    return {one.bands: one for one in buffer_choices(rendered, Wire(dev, dev.link), taken)}


def test_what_a_buffer_leaves():
    dev = device(TFT)
    found = choices(TFT, 10_000)
    room = dev.board.ram_bytes + dev.board.external_ram_bytes - 10_000
    assert (found[0].ram_bytes, found[0].left_bytes) == (0, room)
    assert (found[1].ram_bytes, found[1].left_bytes) == (FRAME, room - FRAME)
    assert (found[-1].ram_bytes, found[-1].left_bytes) == (2 * FRAME, room - 2 * FRAME)
    # 320 rows of 480 B: bands of 8 and of 16 rows, halves and quarters.
    assert {bands: one.ram_bytes for bands, one in found.items() if bands > 1} == {2: 76_800, 4: 38_400, 20: 7680, 40: 3840}
    assert found[40].frame_ms > found[20].frame_ms > found[1].frame_ms >= found[-1].frame_ms


def test_where_nothing_is_drawn_directly_there_is_no_way_without_a_buffer():
    found = choices("mono-oled-128x64", 0)
    assert "1 × 8 px" in found[0].why_not
    assert not found[0].fits
    assert sorted(found) == [-1, 0, 1, 2, 4, 8]


@pytest.mark.parametrize(("spare", "fits"), [(0, True), (-1, False)])
def test_a_buffer_that_just_fits(spare, fits):
    dev = device(TFT)
    taken = dev.board.ram_bytes + dev.board.external_ram_bytes - FRAME - spare
    assert choices(TFT, taken)[1].fits == fits


def plan(*rows):
    return [BufferChoice(bands, f"{bands}", ram, 1, ms, left) for bands, ram, ms, left in rows]


@pytest.mark.parametrize(
    ("rows", "ram", "taken"),
    [
        (((1, 1000, 10.0, 9000),), 20_000, 1),
        (((2, 500, 10.5, 400), (1, 1000, 10.0, 100)), 2000, 2),  # a full one would leave less than a tenth
        (((2, 500, 10.5, 400), (1, 1000, 10.0, 200)), 2000, 1),  # exactly a tenth, and not more than half of all
        (((2, 501, 11.0, 800), (1, 1001, 10.0, 300)), 2000, 2),  # more than half of all RAM for a tenth of the time
        (((2, 501, 11.1, 800), (1, 1001, 10.0, 300)), 2000, 1),
        (((1, 1000, 10.0, -1),), 2000, None),
    ],
)
def test_which_is_taken(rows, ram, taken):
    best, why = recommended(plan(*rows), ram)
    assert (best.bands if best else None) == taken
    assert why


def at(slug, board, kind, clock):
    return Device(catalogue()[slug], 0, boards()[board], kind, clock)


def test_a_software_bus_takes_as_many_times_longer_as_its_bit():
    """A board of 160 MHz at 20 cycles a bit makes 8 MHz: five times as long as 40 MHz, for every byte."""
    dev = at(TFT, "wireless", "spi", 40_000_000)
    assert soft_clock_hz(dev) == dev.board.cpu_mhz * 50_000
    soft = next(one for one in link_speeds(dev) if one.by_program)
    assert soft.factor == pytest.approx(40_000_000 / soft_clock_hz(dev), rel=1e-3)  # switching a line takes its time on both
    assert soft.frame.clocks == 153_611 * 8


def test_the_link_at_hand_is_marked_and_is_the_measure():
    speeds = link_speeds(at(TFT, "wireless", "spi", 10_000_000))
    here = [one for one in speeds if one.is_here]
    assert [(one.clock_hz, one.factor) for one in here] == [(10_000_000, 1.0)]
    faster = next(one for one in speeds if one.clock_hz == 40_000_000 and not one.by_program)
    assert faster.factor == pytest.approx(0.25, rel=1e-3)
    assert {"CS", "DC", "RESET"} <= set(here[0].lines)


def test_each_clock_that_a_board_makes_of_its_own():
    """The highest that both ends allow, halved four times; two wires have the clocks they were made for."""
    tft = catalogue()[TFT]
    top = min(80_000_000, next(one for one in tft.links if one.kind == "spi").max_clock_hz)
    clocks = [
        one.clock_hz for one in link_speeds(at(TFT, "wireless", "spi", 10_000_000)) if one.kind == "spi" and not one.by_program
    ]
    assert {top, top // 2, top // 4, top // 8, top // 16} <= set(clocks)
    assert top // 32 not in clocks
    two_wires = [one.clock_hz for one in link_speeds(at("mono-oled-128x64", "classic-5v", "i2c", 400_000)) if one.kind == "i2c"]
    assert two_wires == [100_000, 400_000]


def test_what_a_link_is_wired_with():
    """Eight data lines and four more against five; a board with too few pins says so."""
    speeds = {one.kind: one for one in link_speeds(at("mono-oled-128x64", "classic-5v", "i2c", 400_000))}
    assert (speeds["i2c"].pins, speeds["spi"].pins) == (2, 5)
    assert not speeds["spi"].hurdles


def test_i2c_in_transactions_of_32_bytes():
    """A page frame of 1,024 B at 400 kHz; the data alone are 34 transactions, 9,896 clocks."""
    speeds = link_speeds(at("mono-oled-128x64", "classic-5v", "i2c", 400_000))
    mine = next(one for one in speeds if one.is_here)
    assert mine.frame.data_bytes == 1024
    assert mine.frame.wire_ms == pytest.approx(mine.frame.clocks / 400, rel=1e-9)
    spi = [one for one in speeds if one.kind == "spi" and not one.by_program][-1]
    assert spi.factor < 0.2


def test_links_that_a_board_does_not_have():
    told = {
        one.kind: one.why_not
        for one in link_speeds(
            at("amoled-368x448-rounded", "small", catalogue()["amoled-368x448-rounded"].links[0].kind, 4_000_000)
        )
        if one.why_not
    }
    assert all("does not have it" in why for why in told.values())
