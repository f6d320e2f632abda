"""Sentences of empty pages, against figures worked out by hand."""

from dataclasses import replace

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.desk.examples import EXAMPLES, example
from mosaic.device.device import Device
from mosaic.panels.loader import catalogue as panels


def test_of_a_colour_panel(barometer):
    # 240 x 240 x 2 bytes and 11 of the window: 115,211 x 8 / 24 MHz = 38.404 ms, 26.04 of them a second.
    assert "115,200 bytes, which take 38.4 ms over SPI at 24 MHz (computed)" in example("pictures", barometer)
    assert "so at most 26 fit into a second (computed)." in example("schedule", barometer)
    assert "38.4 ms on the wire are predicted" in example("measured", barometer)


@pytest.mark.parametrize(
    ("pause", "words"),
    [
        (180.0, "needs 180 s from one update to the next (typical): at most 20"),
        (17.0, "refreshes for 17.0 s (typical): at most 211"),
    ],
)
def test_of_paper(tide_board, pause, words):
    # 9,472 bytes and 5 of commands: 9,477 x 8 / 4 MHz = 18.954 ms; 3,600 s / 17.019 s = 211.5.
    device = replace(tide_board, passport=replace(tide_board.passport, update_pause_s=pause))
    assert "takes 19.0 ms over SPI at 4 MHz (computed); the panel" in example("schedule", device)
    assert f"{words} updates an hour." in example("schedule", device)


def test_letters(tide_board):
    # 900 mm x 2 tan(16'/2) = 4.189 mm, at 0.227 mm a pixel 18.45: 19 px. 128 / (19 x 2) = 3 lines, 296 / (19 x 0.8) = 19 characters.
    device = replace(tide_board, viewing_distance_mm=900)
    assert "from 0.9 m capitals of 19 px can be read on this panel, and 3 lines of 19 characters fit" in example(
        "screens", device
    )
    assert "8 characters at its widest, of the 3 lines of 19 characters" in example("values", device)


@pytest.mark.parametrize("page", EXAMPLES)
def test_every_panel_has_its_own(page):
    board = boards()["wireless-large"]
    for passport in panels().values():
        link = passport.links[0]
        words = example(page, Device(passport, passport.rotation, board, link.kind, link.usual_clock_hz))
        assert words == "" if passport.slots or passport.format is None else words.endswith(".")
