"""Boards: what the catalogue says, and what a board's memory does to the budgets."""

from dataclasses import replace

import pytest

from mosaic.boards.board import board_from_plain, board_to_plain, catalogue, link_between, shared_links, usual_clock_hz
from mosaic.device.budget import Content, Need, bands_that_fit, budgets, ram_budget
from mosaic.device.device import Device
from mosaic.errors import BadDescriptionError
from mosaic.findings.rules import device_findings
from mosaic.findings.subjects import DeviceSubject
from mosaic.panels.loader import catalogue as panels
from mosaic.panels.mounting import Opening
from mosaic.panels.wire import frame_parts

BOARDS = catalogue()
NOTHING = Content((Need("arrays", "pictures", 10_000),), (), 0.2)


@pytest.mark.parametrize("board", BOARDS.values(), ids=lambda b: b.slug)
def test_every_board_says_what_its_maker_needs(board):
    assert board_from_plain(board_to_plain(board)) == board
    roles = {role for pin in board.pins for role in pin.roles}
    assert {"power", "ground", "spi clock", "i2c data"} <= roles
    assert board.reserve_bytes < board.ram_bytes
    assert board.program_bytes < board.flash_bytes
    assert {pin.side for pin in board.pins} == {"left", "right"}
    for pin in board.pins:
        if {"boot strap", "input only", "flash"} & set(pin.roles):
            assert pin.caution, f"{pin.name} needs a caution"


def test_the_field_is_covered():
    assert len(BOARDS) >= 8
    assert {b.logic_v for b in BOARDS.values()} == {3.3, 5.0}
    assert any(b.constants_in_ram for b in BOARDS.values())
    assert any(b.external_ram_bytes and b.max_rgb_hz for b in BOARDS.values())


def test_two_pins_of_one_name_are_refused():
    plain = board_to_plain(BOARDS["tiny-usb"])
    plain["pins"][1]["name"] = "0"
    with pytest.raises(BadDescriptionError, match="two pins are named '0'"):
        board_from_plain(plain)


def test_links_in_common():
    panel = panels()["amoled-466x466-round"]
    assert not shared_links(BOARDS["small"], panel.links)
    assert [o.kind for o in shared_links(BOARDS["two-core"], panel.links)] == ["qspi"]
    assert usual_clock_hz(BOARDS["two-core"], panel.links[0]) == 40_000_000
    assert link_between(BOARDS["small"], "spi3", 8_000_000).byte_gap_ns == 1000


def device(panel: str, board: str, **changes) -> Device:
    passport = panels()[panel]
    option = shared_links(BOARDS[board], passport.links)[0]
    return Device(passport, passport.rotation, BOARDS[board], option.kind, usual_clock_hz(BOARDS[board], option), **changes)


class TestMemory:
    def test_constants_count_twice_where_they_are_copied(self):
        parts = {p.name: p.value for p in ram_budget(device("mono-oled-128x64", "classic-5v"), NOTHING).parts}
        assert parts == {"stack, heap and libraries": 700, "full buffer": 1024, "constants copied at start": 10_000}
        assert len(ram_budget(device("mono-oled-128x64", "small"), NOTHING).parts) == 2

    def test_a_large_buffer_goes_to_external_ram(self):
        budget = ram_budget(device("rgb-tft-800x480", "wireless-large"), NOTHING)
        assert budget.parts[1].name == "full buffer, in external RAM"
        assert budget.parts[1].value == 800 * 480 * 2
        assert budget.limit == 512 * 1024 + 8 * 1024 * 1024
        small = ram_budget(device("tft-240x240-round", "wireless-large"), NOTHING)
        assert small.parts[1].name == "full buffer"

    @pytest.mark.parametrize(("spare", "name"), [(0, "full buffer"), (-1, "full buffer, in external RAM")])
    def test_a_buffer_that_just_fits_stays_inside(self, spare, name):
        large = device("rgb-tft-800x480", "wireless-large")
        board = replace(large.board, ram_bytes=768_000 + large.board.reserve_bytes + spare)
        assert ram_budget(replace(large, board=board), NOTHING).parts[1].name == name

    def test_bands_count_external_ram(self):
        assert bands_that_fit(device("tft-800x480-parallel", "wireless-large"), 65_536) == 1
        assert bands_that_fit(device("tft-800x480-parallel", "two-core"), 40_960) == 4  # 768,000 in 229,376 bytes


def found(subject_device: Device) -> dict[str, object]:
    frame = frame_parts(subject_device.passport, subject_device.turn, bytes(subject_device.passport.frame_bytes))
    sums = budgets(subject_device, Content((), frame, 0.2))
    return {f.id: f for f in device_findings(DeviceSubject(subject_device, sums))}


class TestFindings:
    def test_a_scan_needs_its_whole_frame(self):
        assert not found(device("rgb-tft-480x480-round", "wireless-large"))
        finding = found(device("rgb-tft-800x480", "wireless-large", buffer_bands=8))["memory.scan-needs-whole-frame"]
        assert finding.fix.changes == {"buffer_bands": 1}
        too_little = found(device("rgb-tft-800x480", "two-core"))["memory.buffer-exceeds-ram"]
        assert too_little.fix is None  # fewer bands would not help

    def test_a_scan_may_starve_drawing(self):
        # Two bytes a pixel: 30 MHz reads 60 MB/s of 84, 71 %; 20 MHz reads 40, 48 %.
        passport = panels()["rgb-tft-1024x600"]
        fast = Device(passport, 0, BOARDS["wireless-large"], "rgb", 30_000_000)
        assert "memory.scan-starves-drawing" in found(fast)
        assert found(fast)["memory.scan-starves-drawing"].what == "The scan reads 60 of 84 MB/s"
        assert "memory.scan-starves-drawing" not in found(replace(fast, clock_hz=20_000_000))
        # 60 % of 84 MB/s at two bytes a pixel is 25.2 MHz; 1344 x 635 pixels then go 29 times a second.
        mended = found(fast)["memory.scan-starves-drawing"].fix
        assert (mended.changes, mended.then) == ({"clock_hz": 25_000_000}, "then 29 scans a second")
        assert "memory.scan-starves-drawing" not in found(replace(fast, **mended.changes))

    def test_a_bezel_that_hides_pixels(self):
        # Glass of 66.9 x 29.06 mm from (17, 4.47): an opening from 17.5 hides three columns of 0.226 mm.
        build = device("epaper-296x128-four-colour", "low-power", opening=Opening(17.5, 4.0, 67.0, 30.0))
        finding = found(build)["mounting.bezel-hides-pixels"]
        assert finding.what == f"The bezel hides {3 * 128} pixels: 3 columns at the left"
        assert finding.fix.changes["opening"]["x_mm"] == 16.5
        mended = replace(build, opening=Opening(**finding.fix.changes["opening"]))
        assert "mounting.bezel-hides-pixels" not in found(mended)
        assert "mounting.bezel-hides-pixels" not in found(replace(build, opening=None))
