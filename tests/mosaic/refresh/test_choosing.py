"""Panels side by side for one purpose."""

from dataclasses import replace

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Supply
from mosaic.panels.loader import catalogue
from mosaic.refresh.choosing import Purpose, candidate_of, device_for, flashing_s_per_day

C = catalogue()
CELL = Supply("cell", 3.7, 2000.0)
PURPOSE = Purpose(boards()["low-power"], 900.0, 8000.0, CELL, update_interval_s=900.0)


def test_figures_of_a_paper_panel():
    candidate = candidate_of(C["epaper-296x128-four-colour"], PURPOSE)
    assert candidate.device.link_kind == "spi"
    assert candidate.flashing_s_per_day == pytest.approx(96 * 17)  # 96 updates of 17 s
    assert candidate.ram.value == 16_384 + 9_472
    assert (candidate.floor.height_px, candidate.comfortable.height_px) == (19, 26)
    # A linear regulator to 3.3 V that needs 0.15 V more ends at 3.45 V a cell: of 2,000 mAh x 0.8 it leaves 0.875 / 0.95, 1,474 mAh.
    # A day: panel 96 x 220 mJ / 3.3 V = 1.78 mAh, board 96 x 17.02 s of 6 mA = 2.72, both asleep 4 uA x 24 h = 0.10, regulator
    # 5 uA = 0.12, self-discharge of 2.5 % a month 1.64: 6.36 mAh, so 232 days.
    assert candidate.runtime_days == pytest.approx(232, abs=1)
    assert candidate.legibility.verdict == "text"
    assert not candidate.hurdles


def test_a_partial_first_mode_does_not_flash():
    panel = C["epaper-296x128-black-white"]
    quiet = replace(panel, refresh=(panel.refresh[1],))
    assert flashing_s_per_day(panel, 900) == 96 * 2
    assert flashing_s_per_day(quiet, 900) == 0
    assert flashing_s_per_day(C["mono-oled-128x64"], 1) == 0


@pytest.mark.parametrize(
    ("slug", "change", "hurdle"),
    [
        ("amoled-466x466-round", {}, "no link it speaks (quad SPI)"),
        ("mono-oled-128x64-bare", {}, "bare glass"),
        ("epaper-296x128-four-colour", {"update_interval_s": 60.0}, "wants 180 s between updates"),
        ("epaper-648x480-black-white", {"update_interval_s": 3.0}, "takes longer than the time between two"),
    ],
)
def test_what_stands_in_the_way(slug, change, hurdle):
    assert hurdle in " ".join(candidate_of(C[slug], replace(PURPOSE, **change)).hurdles)


@pytest.mark.parametrize(("every_s", "is_told"), [(4.0, False), (3.999, True)])
def test_an_update_of_4_s_fits_every_4_s(every_s, is_told):
    hurdles = candidate_of(C["epaper-648x480-black-white"], replace(PURPOSE, update_interval_s=every_s)).hurdles
    assert ("takes longer" in " ".join(hurdles)) is is_told


@pytest.mark.parametrize(("every_s", "is_told"), [(180.0, False), (179.9, True)])
def test_a_pause_of_180_s_is_kept_every_180_s(every_s, is_told):
    hurdles = candidate_of(C["epaper-296x128-four-colour"], replace(PURPOSE, update_interval_s=every_s)).hurdles
    assert ("between updates" in " ".join(hurdles)) is is_told


def test_a_panel_without_memory_needs_ram():
    two_core = replace(PURPOSE, board=boards()["two-core"])
    large = replace(PURPOSE, board=boards()["wireless-large"])
    assert "does not fit the RAM" in " ".join(candidate_of(C["rgb-tft-800x480"], two_core).hurdles)
    assert not candidate_of(C["rgb-tft-800x480"], large).hurdles


def test_the_fastest_shared_link_is_taken():
    assert device_for(C["mono-oled-128x64"], PURPOSE).link_kind == "spi"
    assert device_for(C["serial-tft-320x240"], PURPOSE).link_kind == "uart"
    assert device_for(C["rgb-tft-800x480"], PURPOSE) is None
