"""Set-up sequences: read in any spelling, told in words, compared, and taken over into a passport that still drives."""

import numpy as np
import pytest

from mosaic.conversion.driving import drive
from mosaic.conversion.program import Setting, transmission
from mosaic.errors import BadLinesError, BadValueError
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from mosaic.panels.wire import Part, setup_part, window_values
from mosaic.setups.compare import compared, taken_over
from mosaic.setups.read import read_sequence
from mosaic.virtual.panel import shown_pixels, virtual_panel
from tests.mosaic.virtual.test_virtual import random_picture

PANELS = catalogue()
OLED, TFT = PANELS["mono-oled-128x64"], PANELS["tft-128x128"]
FOUND = (
    "0xAE, 0xD5,0x80, 0xA8,0x1F, 0xD3,0x08, 0x40, 0x8D,0x10, 0x20,0x01, 0xA1, 0xC8, 0xDA,0x02, 0x81,0xCF, 0xD9,0xF1,"
    " 0xA4, 0xA7, 0xAF"
)


def own(panel, turn=0):
    return read_sequence(panel.sequences.setup, panel.controller.family, window_values(panel, turn))


@pytest.mark.parametrize(
    "panel", [p for p in PANELS.values() if p.controller.family not in ("drawing-tft", "serial-canvas")], ids=lambda p: p.slug
)
def test_every_passport_s_own_set_up_is_read_in_words_and_drives_it(panel):
    read = own(panel, panel.rotation)
    assert all(said.topic is not None for said in read.commands), [said.hex for said in read.commands if said.topic is None]
    assert all("operands" not in said.words for said in read.commands)
    setting = Setting(panel, Orientation(panel.rotation))
    pixels = random_picture(panel, setting.turn)
    virtual = virtual_panel(panel)
    for part in (Part("set-up", read.transactions(panel.controller.family)), *transmission(pixels, setting, Sending())[1:]):
        virtual.play(part.transactions)
    assert np.array_equal(shown_pixels(virtual, setting.turn), pixels)
    assert virtual.misuse == []


@pytest.mark.parametrize(
    ("text", "written_as"),
    [
        ("reset\nc 11\ndelay 120\nc 36 d 48\nc 3A d 05\nc 29", "notation of passports"),
        (
            "hw_reset();\nwriteCommand(0x11); delay(120);\nwriteCommand(0x36); writeData(0x48); // access\ncmd(0x3A); data(0x05);\ncmd(0x29);",
            "calls",
        ),
        (
            "lcd.reset();\nlcd.send_cmd(0x11);\nlcd.msleep(120);\nlcd.send_cmd(0x36, 0x48);\nlcd.send_cmd(0x3A, 0x05);\nlcd.send_cmd(0x29);",
            "calls",
        ),
    ],
)
def test_one_sequence_in_several_spellings(text, written_as):
    read = read_sequence(text, "window-tft")
    assert read.written_as == written_as
    assert [step.words for step in read.steps] == [
        "reset", "leave sleep", "wait 120 ms", "memory access: columns from the right, blue first", "pixel format: 16 bits a pixel",
        "display on",
    ]  # fmt: skip


def test_lists_of_bytes_with_and_without_counts():
    counted = read_sequence("0x11, 0x80, 120,\n0x36, 1, 0x48,\n0x3A, 0x81, 0x55, 255,\n0x29, 0x80, 100, 0x00", "window-tft")
    assert counted.written_as == "list with counts"
    assert [s.wait_ms for s in counted.steps if s.kind == "delay"] == [120, 500, 100]
    plain = read_sequence("static const uint8_t init[] = {0xAE, 0xA8, 0x3F, // rows\n0x40, 0xAF};", "page-oled")
    assert [said.words for said in plain.commands] == [
        "display off", "multiplex ratio: 64 rows", "start at RAM row 0", "display on",
    ]  # fmt: skip
    assert plain.steps[2].line == 2


DAMAGED = [
    ("", "page-oled", 1, "nothing to read"),
    ("c AE\nc ZZ", "page-oled", 2, "is neither a byte"),
    ("c AE\nc A8 3\nc AF", "page-oled", 2, "is neither a byte"),
    ("c AE\ndelay 5\nc A8 {height2}", "page-oled", 3, "names no value"),
    ("0xAE, 0xA8,\n0x3F, 0xE7, 0xAF", "page-oled", 2, "E7 is no command of this controller"),
    ("0xAE, 0xA8", "page-oled", 1, "takes 1 operand(s), and the list ends after 0"),
    ("0xAE, hello, 0xAF", "page-oled", 1, "'hello' is no byte"),
    ("data(0x10);\ncmd(0xAE);", "window-tft", 1, "is data before any command"),
    ("cmd(0xAE);\nfoo(0x10);", "page-oled", 2, "neither command nor data by its name"),
    ("cmd(0xAE);\ncmd(x);", "page-oled", 2, "gives no byte"),
    ("cmd(0xAE);\ncmd(0xAF);\nif ready then", "page-oled", 3, "is no call"),
]


@pytest.mark.parametrize(("text", "family", "line", "words"), DAMAGED)
def test_damage_is_told_by_its_line(text, family, line, words):
    with pytest.raises(BadLinesError) as told:
        read_sequence(text, family)
    assert told.value.problems[0].line == line
    assert words in told.value.problems[0].words


class TestCompare:
    pairs = {pair.key: pair for pair in compared(own(OLED), read_sequence(FOUND, "page-oled"), "page-oled")}

    def test_what_changes_the_picture_is_marked(self):
        marked = {key for key, pair in self.pairs.items() if pair.is_marked}
        assert marked == {"A8", "D3", "8D", "20", "A0/A1", "C0/C8", "DA", "A6/A7"}
        assert {key for key, pair in self.pairs.items() if pair.differs} - marked == {"81", "D9"}

    def test_in_words(self):
        assert self.pairs["A8"].there.words == "multiplex ratio: 32 rows"
        assert self.pairs["8D"].there.words == "charge pump: off"
        assert self.pairs["D9"].here is None

    @pytest.mark.parametrize(
        ("key", "line"), [("A8", "c A8 1F"), ("A0/A1", "c A1"), ("20", "c 20 01"), ("81", "c 81 CF"), ("D9", "c D9 F1")]
    )
    def test_taken_over_into_the_passport(self, key, line):
        taken = taken_over(Setting(OLED, Orientation()), self.pairs[key])
        lines = taken.passport.sequences.setup.splitlines()
        assert any(text.startswith(line) for text in lines)
        again = {pair.key: pair for pair in compared(own(taken.passport), read_sequence(FOUND, "page-oled"), "page-oled")}
        assert not again[key].differs
        assert lines[-1].startswith("c AF")

    def test_taking_back_what_was_taken(self):
        there = own(OLED)
        taken = taken_over(Setting(OLED, Orientation()), self.pairs["D9"])
        pair = next(p for p in compared(own(taken.passport), there, "page-oled") if p.key == "D9")
        assert "D9" not in taken_over(taken, pair).passport.sequences.setup

    @pytest.mark.parametrize(
        ("code", "rotation", "mirrored", "bgr"), [(0x60, 270, False, False), (0xC8, 180, False, True), (0x40, 0, True, False)]
    )
    def test_memory_access_becomes_how_the_build_lies(self, code, rotation, mirrored, bgr):
        setting = Setting(TFT, Orientation())
        there = read_sequence(TFT.sequences.setup.replace("{turn}", f"{code:02X}"), "window-tft")
        pair = next(p for p in compared(own(TFT), there, "window-tft") if p.key == "36")
        taken = taken_over(setting, pair)
        assert taken.turn == Orientation(rotation, mirrored)
        assert taken.passport.controller.bgr_glass is bgr
        assert drive(taken.passport, taken.turn).verified

    def test_an_access_that_is_no_orientation_is_refused(self):
        there = read_sequence(TFT.sequences.setup.replace("{turn}", "10"), "window-tft")
        pair = next(p for p in compared(own(TFT), there, "window-tft") if p.key == "36")
        with pytest.raises(BadValueError, match="none of this panel's eight orientations"):
            taken_over(Setting(TFT, Orientation()), pair)


def test_a_set_up_of_another_reads_as_the_device_would_take_it():
    read = read_sequence(FOUND, "page-oled")
    virtual = virtual_panel(OLED)
    virtual.play(setup_part(OLED, 0).transactions[:1])
    virtual.play(read.transactions("page-oled"))
    assert (virtual.multiplex, virtual.shift, virtual.mode, virtual.mirrored, virtual.inverted) == (32, 8, 1, True, True)
