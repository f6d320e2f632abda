"""Devices at their boundaries: what is meant where nothing is said, and the fewest bands that fit the memory."""

from dataclasses import fields, replace

import pytest

from mosaic.device.budget import Budget, BudgetPart, Content, bands_that_fit, ram_budget
from mosaic.device.device import Device, Supply
from tests.mosaic.lettering.test_making import device


def test_what_is_meant_where_nothing_is_said():
    told = {f.name: f.default for f in fields(Device)}
    assert (told["viewing_distance_mm"], told["light_lux"], told["update_interval_s"]) == (500, 500, 900)
    assert (told["frame_time_limit_ms"], told["energy_limit_mwh"]) == (None, None)
    assert told["on_hours_per_day"] == 24
    assert Supply("cell").usable_mwh == pytest.approx(2960)  # 3.7 V of 1,000 mAh, eight tenths of it


@pytest.mark.parametrize(
    ("free", "bands"), [(1024, 1), (1023, 2), (512, 2), (511, 3), (384, 3), (383, 4), (256, 4), (255, 8), (128, 8), (127, None)]
)
@pytest.mark.parametrize("external", [0, 4096])
def test_fewest_bands_that_fit(free, bands, external):
    """128 x 64 pixels of one bit are 1,024 bytes, and a page of them 128."""
    panel = device("mono-oled-128x64")
    panel = replace(panel, board=replace(panel.board, external_ram_bytes=external))
    assert bands_that_fit(panel, panel.board.ram_bytes + external - free) == bands


@pytest.mark.parametrize(
    ("value", "limit", "state"),
    [(84.9, 100, "sound"), (85.0, 100, "tight"), (100.0, 100, "tight"), (100.1, 100, "over"), (1.0, None, "none")],
)
def test_how_full_is_tight(value, limit, state):
    assert Budget("ram", "RAM", "B", (BudgetPart("buffer", value, "computed"),), limit).state == state


@pytest.mark.parametrize(("bands", "name"), [(0, "no buffer"), (1, "full buffer"), (2, "buffer in 2 bands")])
def test_a_buffer_in_words(bands, name):
    parts = ram_budget(replace(device("mono-oled-128x64"), buffer_bands=bands), Content((), (), 0.0)).parts
    assert parts[1].name == name
