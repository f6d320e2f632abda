"""Films in virtual time: their clock is the exact sum of wire, pauses and waiting."""

from fractions import Fraction

import numpy as np
import pytest

from mosaic.conversion.pipeline import pack
from mosaic.links.i2c import I2cLink
from mosaic.links.spi import SpiLink
from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import expand
from mosaic.panels.wire import Part, frame_parts, setup_part
from mosaic.virtual.film import film_of, played_s
from mosaic.virtual.panel import shown_pixels, virtual_panel
from tests.mosaic.virtual.test_virtual import random_picture


def set_up(slug, turn=0):
    panel = catalogue()[slug]
    virtual = virtual_panel(panel)
    virtual.play(setup_part(panel, turn).transactions)
    virtual.play(expand("busy", {}))
    return panel, virtual


def film(slug, link, turn=0):
    panel, virtual = set_up(slug, turn)
    pixels = random_picture(panel, turn)
    return film_of(virtual, frame_parts(panel, turn, pack(pixels, panel, turn)), link, turn), pixels


def test_a_page_frame_over_i2c():
    # By hand: 1,024 bytes (1024 + 2) x 9 + 2 = 9,236 clocks; two windows of 3 command bytes, each (3 + 2) x 9 + 2 = 47.
    made, pixels = film("mono-oled-128x64", I2cLink(400_000))
    assert made.clocks == 9236 + 2 * 47
    assert made.total_s == Fraction(9330, 400_000)
    assert made.byte_count == 1024 + 6
    assert (made.moments[0].picture, made.moments[0].byte_count, made.moments[0].clocks) == (0, 0, 0)
    assert np.array_equal(made.pictures[-1], pixels)


def test_a_tft_frame_grows_row_by_row():
    made, pixels = film("tft-320x240-touch", SpiLink(40_000_000))
    assert made.total_s == Fraction((153_600 + 11) * 8, 40_000_000)  # 30.72 ms and a window of 11 bytes
    assert 16 <= len(made.pictures) <= 40
    right = [int((picture == pixels).all(axis=2).all(axis=1).sum()) for picture in made.pictures]
    assert right == sorted(right)
    assert right[-1] == 320  # native rows: the panel scans upright
    times = [moment.at_s for moment in made.moments]
    assert times == sorted(times)
    assert times[0] == 0


def test_an_epaper_flashes_for_as_long_as_its_passport_says():
    panel = catalogue()["epaper-296x128-four-colour"]
    made, pixels = film("epaper-296x128-four-colour", SpiLink(4_000_000), 90)
    wire = Fraction((9472 + 5) * 8, 4_000_000)  # the frame, its command, refresh and switching off with an operand each
    assert made.total_s == wire + Fraction(panel.refresh[0].time_ms) / 1000 + Fraction(80, 1000)
    flashing = [m for m in made.moments if m.words.endswith("flashing")]
    assert len(flashing) == 4
    assert all(len(np.unique(made.pictures[m.picture])) == 1 for m in flashing)
    # One, three, five and seven eighths of 17 s after it has begun.
    begun = flashing[0].at_s - Fraction(17, 8)
    assert [m.at_s - begun for m in flashing] == [Fraction(17 * n, 8) for n in (1, 3, 5, 7)]
    lit = [int(made.pictures[m.picture].flat[0]) for m in flashing]
    assert lit[:2] == lit[2:]
    assert lit[0] != lit[1]
    assert np.array_equal(made.pictures[made.moments[-1].picture], pixels)


def test_pauses_count_and_waiting_for_an_idle_panel_does_not():
    virtual = virtual_panel(catalogue()["tft-240x240-round"])
    part = Part("p", tuple(expand("reset\ndelay 120\nbusy\nc 11", {})))
    assert played_s(virtual, (part,), SpiLink(8_000_000)) == Fraction(120, 1000) + Fraction(8, 8_000_000)


@pytest.mark.parametrize("slug", ["mono-oled-128x64", "two-zone-oled-128x64", "tft-135x240", "epaper-296x128-black-white"])
def test_a_film_ends_where_playing_ends(slug):
    panel, virtual = set_up(slug, 90)
    parts = frame_parts(panel, 90, pack(random_picture(panel, 90), panel, 90))
    link = SpiLink(8_000_000, byte_gap_ns=400, switch_ns=900)
    other = set_up(slug, 90)[1]
    made = film_of(virtual, parts, link, 90)
    assert made.total_s == played_s(other, parts, link)
    assert np.array_equal(made.pictures[-1], shown_pixels(other, 90))
    assert made.misuse == ()


def test_misuse_stands_at_its_moment():
    _, virtual = set_up("tft-240x240-round")
    made = film_of(virtual, (Part("p", tuple(expand("c 20\nc 99\nc 2C d 00 00 00", {}))),), SpiLink(1_000_000), 0)
    told = [(m.words, [said.kind for said in m.misuse]) for m in made.moments if m.misuse]
    assert told == [("command 99", ["unknown"]), ("nothing more is sent", ["half-pixel"])]
