"""Captures: what was written is read back, other programs' columns are understood, damage is told by its line."""

from fractions import Fraction

import pytest

from mosaic.conversion.program import Setting, transmission
from mosaic.conversion.replay import replay
from mosaic.errors import BadLinesError
from mosaic.exports.capture import capture_csv
from mosaic.imports.capture import read_capture
from mosaic.links.i2c import I2cLink
from mosaic.links.spi import SpiLink
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from tests.mosaic.virtual.test_virtual import random_picture

PANELS = [
    catalogue()[s]
    for s in ("mono-oled-128x64", "two-zone-oled-128x64", "tft-128x128", "epaper-296x128-black-white", "amoled-390x390-round")
]


def sent_to(panel):
    setting = Setting(panel, Orientation(panel.rotation))
    return random_picture(panel, setting.turn), transmission(random_picture(panel, setting.turn), setting, Sending())


@pytest.mark.parametrize("panel", PANELS, ids=lambda p: p.slug)
def test_a_written_capture_plays_to_the_same_glass_without_misuse(panel):
    pixels, parts = sent_to(panel)
    result = replay(read_capture(capture_csv(parts, SpiLink(8_000_000))), panel, Orientation(panel.rotation), SpiLink(8_000_000))
    assert (result.shown == pixels).all()
    assert result.misuse == ()
    assert result.byte_count == sum(part.byte_count for part in parts)


@pytest.mark.parametrize(
    "text",
    [
        "C,2A\nD,00 10\nD,00 EF\n",
        "kind,bytes,us\nC,2A,1\nD,001000EF,2\n",
        "dc;data;time [s]\n0;0x2A;0.1\n1;0x00;0.2\n1;0x10;0.3\n1;0x00;0.4\n1;0xEF;0.5\n",
        "Time (ms)\tD/C\tMOSI\n0.5\t0\t2A\n0.6\t1\t00\n0.7\t1\t10\n0.8\t1\t0\n0.9\t1\tEF\n",
        "# from the boat\ncmd,2Ah\n\ndata,00h 10h 00h EFh  # a window\n",
    ],
)
def test_columns_of_many_kinds(text):
    command, data = read_capture(text).sent
    assert (command.transaction.kind, command.transaction.data) == ("command", b"\x2a")
    assert (data.transaction.kind, data.transaction.data) == ("data", b"\x00\x10\x00\xef")


def test_times_in_their_units():
    assert read_capture("dc;data;time [s]\n0;2A;0.1\n0;29;0.35\n").duration_s == Fraction(1, 4)
    assert read_capture("C,2A,100\nC,29,350\n").duration_s == Fraction(250, 1_000_000)
    assert read_capture("C,2A\nC,29\n").duration_s is None


DAMAGED = [
    ("", 1, "nothing was sent"),
    ("kind,bytes,us\n", 1, "nothing was sent"),
    ("C,2A\nX,00\n", 2, "'x' is no kind"),
    ("C,2A\nD,GG\n", 2, "'GG' is no byte"),
    ("C,2A\nD,\n", 2, "no byte is given"),
    ("C\n", 1, "nothing stands behind 'c'"),
    ("C,2A,10\nD,00,5\n", 2, "lies before the time of the row above"),
    ("C,2A,now\n", 1, "'now' is no time"),
    ("wait,soon\n", 1, "no number of milliseconds"),
    ("wait,-5\n", 1, "a wait is between 0 and an hour"),
    ("C,2A\n\n# note\nD,0 0 100\n", 4, "'100' is no byte"),
    ("\x89PNG\r\n\x1a\n", 1, "is no kind"),
]


@pytest.mark.parametrize(("text", "line", "words"), DAMAGED)
def test_damage_is_told_by_its_line(text, line, words):
    with pytest.raises(BadLinesError) as told:
        read_capture(text)
    assert told.value.problems[0].line == line
    assert words in told.value.problems[0].words


def test_many_wrong_lines_are_told_together():
    with pytest.raises(BadLinesError) as told:
        read_capture("Q,1\n" * 100)
    assert [p.line for p in told.value.problems] == list(range(1, 21))
    assert "and 19 more" in str(told.value)


class TestReplay:
    oled = catalogue()["mono-oled-128x64"]

    def test_misuse_is_marked_with_its_line(self):
        text = "reset,\nC,20 00\nC,21 10 05\nD,FF\nC,AF\nD,00\n"
        result = replay(read_capture(text), self.oled, 0, I2cLink(400_000))
        assert [(said.line, said.misuse.kind) for said in result.misuse] == [(4, "reversed"), (6, "reversed")]

    def test_a_byte_in_the_middle_of_a_run_is_found_on_its_own_row(self):
        tft = catalogue()["tft-240x240-round"]
        rows = ["reset,", "C,11", "wait,5", "C,29", "D,01", "D,02"]
        result = replay(read_capture("\n".join(rows)), tft, 0, SpiLink(1_000_000))
        assert [(said.line, said.misuse.kind) for said in result.misuse] == [(5, "stray-data")]

    def test_time_against_prediction_by_hand(self):
        # 32 bytes at 1 MHz take 256 µs; captured they took 512.
        text = "C,2C,0\nD," + "00 " * 32 + ",8\nC,29,520\n"
        result = replay(read_capture(text), catalogue()["tft-240x240-round"], 0, SpiLink(1_000_000), after_setup=True)
        pixels = next(s for s in result.stretches if s.name == "pixels")
        assert (pixels.computed_s, pixels.captured_s) == (Fraction(256, 1_000_000), Fraction(512, 1_000_000))
        assert (pixels.first_line, pixels.last_line) == (2, 2)
        assert result.ratio == pytest.approx(520 / 264)

    def test_a_capture_that_begins_after_the_set_up(self):
        pixels, parts = sent_to(self.oled)
        text = capture_csv(parts[1:])
        assert replay(read_capture(text), self.oled, 0, I2cLink(400_000)).misuse[0].misuse.kind == "outside"
        result = replay(read_capture(text), self.oled, 0, I2cLink(400_000), after_setup=True)
        assert result.misuse == ()
        assert (result.shown == pixels).all()
        assert result.ratio is None
