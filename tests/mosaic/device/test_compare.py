"""Panels side by side for one purpose."""

from dataclasses import replace

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.device.compare import Purpose, candidate_of, device_for, flashing_s_per_day
from mosaic.device.device import Supply
from mosaic.panels.loader import catalogue

C = catalogue()
CELL = Supply("cell", 3.7, 2000.0)
PURPOSE = Purpose(boards()["low-power"], 900.0, 8000.0, CELL, update_interval_s=900.0)


def test_figures_of_a_paper_panel():
    candidate = candidate_of(C["epaper-296x128-four-colour"], PURPOSE)
    assert candidate.device.link_kind == "spi"
    assert candidate.flashing_s_per_day == pytest.approx(96 * 17)  # 96 updates of 17 s
    assert candidate.ram.value == 16_384 + 9_472
    assert (candidate.floor.height_px, candidate.comfortable.height_px) == (19, 26)
    # usable 3.7 V x 2,000 mAh x 0.8 = 5,920 mWh. A day: panel 96 x 220 mJ / 3,600 = 5.87 mWh, asleep
    # 4 uA x 3.3 V x 24 h = 0.32, board 96 x 17.02 s of 6 mA x 3.3 V = 8.98: 15.17 mWh, so 390 days.
    assert candidate.runtime_days == pytest.approx(390, abs=1)
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
