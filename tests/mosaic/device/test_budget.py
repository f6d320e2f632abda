"""Budgets against sums worked out by hand."""

from dataclasses import replace

import pytest

from mosaic.boards.board import board_from_plain, board_to_plain, highest_clock_hz, link_between, usual_clock_hz
from mosaic.boards.board import catalogue as boards
from mosaic.device.bands import band_bytes, band_counts, check_bands, unit_name
from mosaic.device.budget import Budget, BudgetPart, Content, Need, bands_that_fit, budgets, runtime_days
from mosaic.device.device import Device, Supply
from mosaic.panels.loader import catalogue as panels
from mosaic.panels.wire import frame_parts


def content(device: Device, stored: int = 0, light: float = 0.0) -> Content:
    return Content(
        (Need("arrays", "pictures", stored),),
        frame_parts(device.passport, device.rotation, bytes(device.passport.frame_bytes)),
        light,
    )


def by_slug(device: Device, stored: int = 0, light: float = 0.0):
    return {b.slug: b for b in budgets(device, content(device, stored, light))}


@pytest.mark.parametrize(
    ("value", "limit", "state"),
    [(0.0, 100.0, "sound"), (100.0, 100.0, "tight"), (100.1, 100.0, "over"), (5.0, None, "none"), (5.0, 0.0, "none")],
)
def test_all_of_a_limit_is_not_over(value, limit, state):
    assert Budget("flash", "Flash", "B", (BudgetPart("all", value, "computed"),), limit).state == state


def test_a_sum_is_typical_as_soon_as_one_part_is():
    for bases, expected in ((("computed", "computed"), "computed"), (("computed", "typical"), "typical"), ((), "computed")):
        assert Budget("a", "A", "B", tuple(BudgetPart("one", 1.0, basis) for basis in bases), None).basis == expected


def test_needs_of_one_group_are_one_part():
    needs = (
        Need("arrays", "pictures", 10), Need("RAM", "lettering", 7), Need("arrays", "lettering", 3, "typical"),
        Need("arrays", "pictures", 5), Need("files", "pictures", 8),
    )  # fmt: skip
    content = Content(needs, (), 0.0)
    assert content.parts("arrays", "files") == (
        BudgetPart("pictures", 15, "computed"), BudgetPart("lettering", 3, "typical"), BudgetPart("pictures as files", 8, "computed", True),
    )  # fmt: skip
    assert (content.total("arrays"), content.total("arrays", "files"), content.total("energy")) == (18, 26, 0)


class TestTideBoard:
    def test_memory(self, tide_board):
        sums = by_slug(tide_board, stored=2 * 9472)
        assert sums["flash"].value == 122_880 + 18_944
        assert sums["ram"].value == 16_384 + 9_472
        assert (sums["flash"].limit, sums["ram"].limit) == (524_288, 65_536)
        assert sums["flash"].basis == "typical"  # the program's size is

    def test_frame_time(self, tide_board):
        # 9,472 data + 1 write command + 4 to show = 9,477 bytes at 4 MHz: 18.954 ms; five switches
        # (10|data, 12|00, 02|00: c d, c d, c d = 6) of 600 ns; then 17 s of refresh.
        parts = {p.name: p for p in by_slug(tide_board)["frame"].parts}
        assert parts["send"].value == pytest.approx(18.954 + 6 * 0.0006, abs=0.0007)
        assert parts["send"].basis == "computed"
        assert (parts["refresh, full"].value, parts["refresh, full"].basis) == (17_000, "typical")

    def test_energy(self, tide_board):
        # Panel and board each at its own voltage, here both 3.3 V.
        # 96 updates of 220 mJ = 5.867 mWh; awake 96 x 17.019 s x 6 mA x 3.3 V = 8.986 mWh; asleep 4 uA x 3.3 V x 24 h.
        parts = {p.name: p.value for p in by_slug(tide_board)["energy"].parts}
        assert parts["panel updates"] == pytest.approx(96 * 220 / 3600, abs=1e-3)
        assert parts["board awake"] == pytest.approx(8.986, abs=2e-3)
        assert parts["asleep"] == pytest.approx(0.3168, abs=1e-4)

    def test_the_boards_current_is_at_the_boards_voltage(self, tide_board):
        # 6 mA x 5 V x 96 x 17.019 s; asleep 1 uA at 3.3 V and 3 uA at 5 V for a day.
        board = replace(tide_board.board, logic_v=5.0, active_ma=6.0, sleep_ua=3.0)
        power = replace(tide_board.passport.power, sleep_ua=1.0)
        device = replace(tide_board, board=board, passport=replace(tide_board.passport, power=power))
        parts = {p.name: p.value for p in by_slug(device)["energy"].parts}
        assert parts["board awake"] == pytest.approx(96 * 17.019 / 3600 * 30, abs=3e-3)
        assert parts["asleep"] == pytest.approx((3.3 + 15) * 24 / 1000)

    def test_a_day_has_24_hours(self, tide_board):
        parts = {p.name: p.value for p in by_slug(replace(tide_board, update_interval_s=1))["energy"].parts}
        board = tide_board.board
        assert parts["board awake"] == pytest.approx(24 * board.active_ma * board.logic_v)

    def test_states(self, tide_board):
        def state(limit):
            return by_slug(replace(tide_board, frame_time_limit_ms=limit))["frame"].state

        assert [state(x) for x in (None, 40_000, 20_000, 17_000)] == ["none", "sound", "tight", "over"]

    def test_mains_has_no_energy_limit(self, tide_board):
        energy = by_slug(replace(tide_board, energy_limit_mwh=5))["energy"]
        assert (energy.limit, energy.why_unlimited, energy.share) == (None, "mains", None)
        on_cell = replace(tide_board, energy_limit_mwh=5, supply=Supply("cell", 3.7, 2000, 0.8))
        energy = by_slug(on_cell)["energy"]
        assert energy.state == "over"
        # 3.7 V x 2000 mAh x 0.8 = 5,920 mWh
        assert runtime_days(on_cell, energy) == pytest.approx(5920 / energy.value)
        assert runtime_days(tide_board, energy) is None


def test_oled_light_follows_what_is_lit():
    device = Device(panels()["mono-oled-128x64"], 0, boards()["small"], "i2c", 400_000, on_hours_per_day=2)
    # 24 mA x share x 3.3 V x 2 h
    assert by_slug(device, light=0.25)["energy"].parts[0].value == pytest.approx(24 * 0.25 * 3.3 * 2)
    assert by_slug(device, light=0)["energy"].parts[0].value == 0


def test_backlight_does_not():
    device = Device(panels()["tft-240x240-round"], 0, boards()["wireless"], "spi", 40_000_000, on_hours_per_day=1)
    assert by_slug(device, light=0.1)["energy"].parts[0].value == by_slug(device, light=0.9)["energy"].parts[0].value == 40 * 3.3


class TestBuffers:
    def test_bands(self, barometer):
        # 65,536 - 16,384 = 49,152 free; 115,200 / 3 = 38,400 fits, half does not.
        assert bands_that_fit(barometer, 16_384) == 3
        assert bands_that_fit(barometer, 65_536 - 38_400) == 3
        assert bands_that_fit(barometer, 65_536 - 38_399) == 4
        assert replace(barometer, buffer_bands=3).buffer_bytes == 38_400
        assert replace(barometer, buffer_bands=0).buffer_bytes == 0

    def test_no_room_even_for_a_row(self, barometer):
        assert bands_that_fit(barometer, 65_536 - 480) == 240  # single rows of 240 pixels in two bytes each
        assert bands_that_fit(barometer, 65_536 - 479) is None


class TestBands:
    def test_pages_rows_and_columns(self):
        oled, tft, paper = (panels()[s] for s in ("mono-oled-128x64", "tft-240x240-round", "epaper-296x128-black-white"))
        assert band_counts(oled) == (1, 2, 3, 4, 8)
        assert [band_bytes(oled, n) for n in (0, 1, 2, 3, 4, 8)] == [0, 1024, 512, 384, 256, 128]
        assert (unit_name(oled), unit_name(tft)) == ("pages", "rows")
        assert band_counts(tft)[:5] == (1, 2, 3, 4, 5)
        assert band_bytes(tft, 7) == 35 * 480  # 240 rows in 7: 35 to a band
        assert band_bytes(paper, 2) == 148 * 16  # 296 rows of 16 bytes

    @pytest.mark.parametrize(
        ("bands", "words"),
        [
            (0, ""), (3, ""), (8, ""),
            (5, "5 bands of this panel's 8 pages are no whole pages; 4 of 2 pages or 8 of 1 page are accepted"),
            (9, "9 bands of this panel's 8 pages are no whole pages; 8 of 1 page are accepted"),
        ],
    )  # fmt: skip
    def test_what_is_refused(self, bands, words):
        assert check_bands(panels()["mono-oled-128x64"], bands) == words

    def test_all_bands_hold_the_frame(self):
        for panel in panels().values():
            for bands in band_counts(panel)[:40]:
                assert band_bytes(panel, bands) * bands >= panel.frame_bytes
                assert check_bands(panel, bands) == ""


class TestBoards:
    def test_clocks_use_both_ends(self):
        small, panel = boards()["small"], panels()["tft-320x240-touch"]
        assert highest_clock_hz(small, panel.link("spi")) == 8_000_000
        assert usual_clock_hz(boards()["wireless"], panel.link("spi")) == 40_000_000
        assert panel.link("i2c").kind == "spi"  # it has no other

    def test_links_carry_the_boards_limits(self):
        assert link_between(boards()["small"], "i2c", 400_000).transaction_bytes == 32
        assert link_between(boards()["low-power"], "i2c", 400_000).transaction_bytes is None
        assert link_between(boards()["small"], "spi", 8_000_000).byte_gap_ns == 1000

    def test_json_form(self):
        for board in boards().values():
            assert board_from_plain(board_to_plain(board)) == board
