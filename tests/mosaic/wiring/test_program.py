"""Pins in programs: many ways of writing constants, and the plan as source."""

import shutil
import subprocess

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.panels.loader import catalogue as panels
from mosaic.wiring.plan import PinPlan, Wire
from mosaic.wiring.program import differences, pin_named, read_program, signal_of
from mosaic.wiring.proposal import propose
from mosaic.wiring.signals import signals_of
from mosaic.wiring.sources import c_header, python_module
from tests.mosaic.wiring.test_wiring import PAPER, found, replanned

WIRELESS, TWO_CORE = boards()["wireless"], boards()["two-core"]
TFT = signals_of(panels()["tft-240x240-round"], "spi")


@pytest.mark.parametrize(
    "text",
    [
        "#define TFT_CS 5",
        "#define TFT_CS   (5)   // select",
        "#define TFT_CS GPIO_NUM_5",
        "#define TFT_CS 0x05",
        "const int csPin = 5;",
        "static constexpr uint8_t PIN_CS = 5;",
        "constexpr int kCs{5};\n",
        "byte cs = 5;  // select",
        "enum { LCD_CS = 5, LCD_DC = 16 };",
        "CS_PIN = 5",
        "cs = Pin(5, Pin.OUT)",
        'cs = Pin("GPIO5", Pin.OUT)',
        "cs = digitalio.DigitalInOut(board.IO5)",
        "cs: int = 5",
        "  cs_pin: GPIO5",
        '  "cs": 5,',
        "build_flags = -D TFT_CS=5 -D TFT_DC=16",
        "    .pin_cs = 5,",
        "let cs = peripherals.pins.gpio5;",
        "set CS 5",
    ],
)
def test_twenty_ways_of_writing_one_constant(text):
    first = next(c for c in read_program(text, TFT, WIRELESS) if c.signal == "CS")
    assert first.pin == "5"


@pytest.mark.parametrize(
    ("name", "signal"),
    [
        ("TFT_DC", "DC"), ("dcPin", "DC"), ("PIN_RS", "DC"), ("LCD_RST", "RES"), ("resetPin", "RES"), ("TFT_BL", "BLK"),
        ("BACKLIGHT_PIN", "BLK"), ("SPI_MOSI", "SDA"), ("SDA_PIN", "SDA"), ("sclk", "SCL"), ("SCREEN_WIDTH", ""), ("BAUD", ""),
        ("MISO", ""), ("descriptor", ""),
    ],
)  # fmt: skip
def test_names(name, signal):
    assert signal_of(name, TFT) == signal_of(name, tuple(sorted(TFT, key=lambda s: s.function != "data in"))) == signal


def test_a_boards_transmitter_goes_to_the_panels_receiver():
    lines = signals_of(panels()["serial-tft-320x240"], "uart")
    assert [(c.signal, c.pin) for c in read_program("#define TXD2 17\n#define LCD_TX 17\nint rxPin = 16;", lines, WIRELESS)] == [
        ("RX", "17"), ("TX", "16"),
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("written", "board", "pin"),
    [
        ("5", "wireless", "5"), ("D5", "small", "D5"), ("5", "small", "D5"), ("GP17", "two-core", "GP17"), ("17", "two-core", "GP17"),
        ("A4", "small", "A4"), ("MOSI", "low-power", "MOSI"), ("GPIO25", "single-board-computer", "GPIO25"), ("0x10", "wireless", "16"),
        ("99", "wireless", ""), ("WIDTH", "wireless", ""), ("X5", "wireless", ""), ("05", "wireless", "5"), ("0", "wireless", "0"),
    ],
)  # fmt: skip
def test_pins(written, board, pin):
    assert pin_named(written, boards()[board]) == pin


def test_comments_and_other_constants_are_left_alone():
    text = "/* #define TFT_CS 4 */\n#define WIDTH 240\n#define TFT_CS 5\n#define TFT_CS 6\nfloat light = 0.5;\n"
    constants = read_program(text, TFT, WIRELESS)
    assert [(c.name, c.pin) for c in constants] == [("TFT_CS", "5")]


def test_differences_become_findings_that_mend_themselves():
    told = found(replanned(PAPER, program="#define EPD_RST 27\n#define EPD_CS 4"))  # the plan has CS on 4, RST on 33
    assert set(told) == {"program-differs"}
    finding = told["program-differs"]
    assert finding.what == "The program has RST on 27, the plan on 33"
    assert {"signal": "RST", "to": "27"} in finding.fix.changes["wiring"]["wires"]
    assert not found(replanned(PAPER, program="#define EPD_RST 33\n#define EPD_BUSY 99"))


def test_nothing_is_said_of_pins_the_board_has_not():
    constants = read_program("#define TFT_CS 99", TFT, WIRELESS)
    assert (constants[0].signal, constants[0].pin) == ("CS", "")
    assert differences(constants, PinPlan()) == []


class TestSources:
    plan = propose(panels()["tft-240x240-round"], WIRELESS, "spi").plan

    def test_the_header_compiles_to_the_plan(self, tmp_path):
        (tmp_path / "panel_pins.h").write_text(c_header(self.plan, TFT, "Barometer */ again"))
        program = (
            '#include <stdio.h>\n#include "panel_pins.h"\nint main(void) { printf("%d %d %d", PANEL_CS, PANEL_DC, PANEL_BLK); }'
        )
        (tmp_path / "main.c").write_text(program)
        built = [shutil.which("gcc"), "-Wall", "-Werror", "-std=c99", "-o", tmp_path / "out", tmp_path / "main.c"]
        subprocess.run(built, check=True, cwd=tmp_path)
        said = subprocess.run([tmp_path / "out"], capture_output=True, text=True, check=True).stdout
        assert said.split() == [self.plan.to_of("CS"), self.plan.to_of("DC"), self.plan.to_of("BLK")]

    def test_our_own_header_and_module_are_read_back_without_a_difference(self):
        for write in (c_header, python_module):
            constants = read_program(write(self.plan, TFT, "Barometer"), TFT, WIRELESS)
            assert len(constants) == 6  # clock, data, reset, data/command, select, backlight
            assert differences(constants, self.plan) == []

    def test_names_that_are_no_numbers(self):
        lines = signals_of(panels()["tft-240x240-round"], "spi")
        plan = PinPlan((Wire("SCL", "SCK"), Wire("CS", "CS (green)"), Wire("DC", "GP17"), Wire("RES", "tied high")))
        header = c_header(plan, lines, "x")
        assert "#define PANEL_SCL SCK" in header
        assert "#define PANEL_CS (-1) /* CS (green) */" in header
        assert "#define PANEL_DC 17" in header
        assert "PANEL_RES" not in header
        assert "PANEL_SCL = 'SCK'" in python_module(plan, lines, "x")
