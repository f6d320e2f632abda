"""Stages: their figures come from the build's own panel, link and wiring."""

from dataclasses import replace

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.bringup.stage import Measure
from mosaic.bringup.stages import stages_of
from mosaic.device.device import Device
from mosaic.faults.questions import QUESTIONS
from mosaic.faults.registry import FAULTS
from mosaic.panels.loader import catalogue
from mosaic.wiring.proposal import propose


def device(slug, board, link, clock_hz):
    passport = catalogue()[slug]
    return Device(
        passport, passport.rotation, boards()[board], link, clock_hz, wiring=propose(passport, boards()[board], link).plan
    )


@pytest.fixture
def counter():
    return device("mono-oled-128x64", "wireless", "i2c", 400_000)


def by_slug(d):
    return {stage.slug: stage for stage in stages_of(d)}


def test_eight_in_working_order(counter):
    assert list(by_slug(counter)) == ["power", "answer", "set-up", "card", "offset", "picture", "part", "live"]


def test_an_i2c_panel_answers_at_its_address(counter):
    stages = by_slug(counter)
    assert (stages["answer"].measure.low, stages["answer"].measure.high) == (0x3C, 0x3C)
    assert "0x78, the same in its 8-bit form" in stages["answer"].see[0]
    moved = replace(counter, wiring=replace(counter.wiring, address=0x3D))
    assert by_slug(moved)["answer"].measure.low == 0x3D


def test_a_frame_takes_what_its_bytes_take(counter):
    measure = by_slug(counter)["picture"].measure
    # 128-byte transactions of this board: 1,024 bytes in 9 of 127, each with two bytes more, start and stop.
    limit = counter.board.i2c_transaction_bytes
    count = -(-1024 // (limit - 1)) if limit else 1
    clocks = (1024 + 2 * count) * 9 + 2 * count + 2 * 47
    assert measure.high == pytest.approx(1.3 * clocks / 400)
    assert "1,024 bytes, 1,030 on the wire" in by_slug(counter)["picture"].send[0]


def test_figures_follow_the_build(counter):
    slow = replace(counter, clock_hz=100_000)
    assert by_slug(slow)["picture"].measure.high == pytest.approx(4 * by_slug(counter)["picture"].measure.high)
    rail = by_slug(counter)["power"].measure
    assert (rail.low, rail.high) == (3.0, 5.0)


def test_whole_frame_paper_has_neither_offset_nor_parts(tide_board):
    stages = by_slug(tide_board)
    assert "whole frames" in stages["offset"].skipped
    assert "whole frames" in stages["part"].skipped
    assert stages["live"].measure.low == 180.0
    assert stages["picture"].measure.unit == "s"
    assert any("exchanged" in suspect.words for suspect in stages["picture"].suspects)


def test_a_field_takes_a_window_on_the_grid(counter):
    # A third of 128 columns and a quarter of 64 rows, on whole pages: 43 x 16, 86 bytes and six of the window.
    assert "43 × 16 pixels at 42, 24: 92 bytes instead of 1,030" in by_slug(counter)["part"].send[0]


def test_suspects_lead_somewhere(counter, tide_board, barometer):
    for d in (counter, tide_board, barometer):
        for stage in stages_of(d):
            for suspect in stage.suspects:
                assert bool(suspect.fault) + bool(suspect.question) + bool(suspect.page) == 1
                assert not suspect.fault or FAULTS[suspect.fault]
                assert not suspect.question or QUESTIONS[suspect.question]


@pytest.mark.parametrize(("reading", "holds"), [(3.0, True), (3.3, True), (2.99, False), (3.31, False)])
def test_bounds_belong_to_what_holds(reading, holds):
    assert Measure("rail", "V", 3.0, 3.3).holds(reading) is holds
