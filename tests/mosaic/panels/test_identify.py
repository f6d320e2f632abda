"""Identifying a panel from what a seller's page, a data sheet or the part itself says."""

import pytest

from mosaic.panels.evidence import Evidence, read_words
from mosaic.panels.identify import family_key, rank, weigh
from mosaic.panels.loader import catalogue

PANELS = list(catalogue().values())

# What a seller's page would say, in a seller's way: half of it, some of it wrong, sizes rounded.
SELLERS = {
    "mono-oled-72x40": "0.42 inch OLED display 72x40 white, I2C, tiny module for wearables",
    "mono-oled-64x32": "0.49\" OLED 64*32 IIC white light 4 pin module GND VCC SCL SDA",
    "mono-oled-64x48": "0.66 inch 64x48 OLED shield, IIC, white",
    "mono-oled-96x16": "0.69 inch OLED screen 96x16 dots, monochrome white, I2C",
    "mono-oled-128x32": "0.91 inch OLED module, white, 128X32, IIC interface, 4 pins GND VCC SCL SDA",
    "mono-oled-128x64": "0.96 inch OLED module 128x64 white I2C 4 pin, 3.3 V - 5 V, GND VCC SCL SDA",
    "mono-oled-128x64-132": "1.3\" OLED 128x64 white, 4-pin I2C IIC module, big size, better view",
    "two-zone-oled-128x64": "0.96 inch yellow blue OLED 128x64 IIC, yellow and blue, top 16 lines yellow, 132-column RAM",
    "mono-oled-128x64-large": "2.42 inch OLED screen 128x64 yellow light SPI module 7 pin",
    "mono-oled-128x64-bare": "0.96 inch OLED bare screen 128x64, 30 pin FPC solder type, no PCB, BS0 BS1 BS2 VCOMH IREF",
    "mono-oled-128x128": "1.12 inch OLED 128x128 mono white, SPI I2C",
    "transparent-oled-128x56": "1.51 inch transparent OLED, 128x56 pixels, light blue, SPI / I2C",
    "grey-oled-256x64": "3.12 inch OLED 256x64, 16 gray scale, SPI, module",
    "grey-oled-128x128": "1.5 inch OLED module 128x128, 16-bit gray level, SPI/I2C",
    "color-oled-96x64": "0.95 inch full color OLED 96x64 SPI 65K RGB",
    "color-oled-128x128": "1.5 inch RGB OLED display module 128x128, 65K colors, SPI",
    "tft-80x160": "0.96 inch IPS 80x160 colorful TFT display, SPI, 65K full color, 8 pin with BLK",
    "tft-128x128": "1.44 inch TFT LCD 128x128 colour screen SPI, LED backlight, 65K",
    "tft-128x160-16bit": "1.8 inch 128x160 SPI full color TFT LCD module, RGB565",
    "tft-135x240": "1.14\" IPS TFT LCD 135x240 SPI 8pin 65K color",
    "tft-170x320": "1.9 inch IPS LCD display 170x320 SPI RGB TFT 262K",
    "tft-172x320-rounded": "1.47 inch rounded corners LCD 172x320 IPS SPI 262K colors",
    "tft-240x240-square": "1.3 inch IPS HD TFT 240x240 SPI no CS pin, 65K colors, GND VCC SCL SDA RES DC BLK",
    "tft-240x240-round": "1.28 inch round LCD display, 240x240, IPS, SPI, 65K RGB",
    "tft-240x280-rounded": "1.69 inch IPS 240x280 rounded corner TFT, SPI, 262K",
    "tft-320x240-touch": "2.4 inch SPI TFT LCD touch 240x320 module with resistive touch T_IRQ T_CS T_CLK, LED",
    "tft-320x240-parallel": "2.8 inch TFT shield 240x320 8-bit parallel, plugs onto the board, 65K",
    "tft-480x320-18bit": "3.5 inch SPI TFT 480x320 touch screen, 262K colors",
    "tft-480x320-parallel": "3.5 inch TFT 320x480 16-bit parallel bus 65K colour module",
    "tft-800x480-parallel": "4.0 inch TFT 480x800 16-bit parallel with IPS glass",
    "tft-320x240-bare": "2.8 inch raw panel TFT 240x320, 45 pin FPC, bare glass, IM0 IM1 IM2, SPI",
    "amoled-466x466-round": "1.43 inch round AMOLED 466x466 QSPI display",
    "amoled-368x448-rounded": "1.8 inch AMOLED 368x448 QSPI, rounded corners",
    "amoled-240x536-rounded": "1.91 inch AMOLED 240x536, QSPI interface",
    "rgb-tft-800x480": "5.0 inch TFT LCD 800x480, RGB interface 40 pin, no controller, HSYNC VSYNC DE PCLK",
    "rgb-tft-480x480-round": "2.1 inch round TFT 480x480 RGB interface",
    "rgb-tft-1024x600": "7 inch 1024x600 TFT panel TTL 50 pin 24-bit RGB",
    "drawing-tft-800x480": "7 inch TFT 800x480 with graphics controller, draws lines and shapes, SPI, touch, WAIT INT",
    "serial-tft-1024x600": "7 inch HMI serial screen 1024x600 UART smart display, TX RX 5V GND",
    "epaper-200x200-black-white": "1.54 inch e-Paper 200x200 black white SPI partial refresh module",
    "epaper-200x200-three-colour": "1.54 inch e-ink module 200x200 red black white, SPI",
    "epaper-250x122-black-white": "2.13 inch e-paper HAT 250x122 black/white SPI partial refresh",
    "epaper-250x122-three-colour": "2.13inch E-Ink display 250x122 black, white and red three-color",
    "epaper-296x128-four-colour": "2.9 inch e-paper 296x128 black, white, red, yellow four color SPI",
    "epaper-296x128-four-grey": "2.9 inch e-paper 296 x 128, 4 grayscale",
    "epaper-400x300-three-colour": "4.2 inch e-paper module 400x300 three-colour red",
    "epaper-600x448-seven-colour": "5.65 inch 7-color e-paper 600x448",
    "epaper-800x480-black-white": "7.5 inch e-paper 800x480 black and white SPI",
    "epaper-800x480-six-colour": "7.3 inch E6 full color e-paper 800x480, six-color",
    "epaper-960x640-black-white": "10.2 inch e-paper 960x640 black white SPI",
    "epaper-1200x825-sixteen-grey": "9.7 inch e-paper 1200x825 16 grayscale with driver board",
}  # fmt: skip


def family_ranked_first(text: str) -> tuple[object, ...]:
    return rank(read_words(text), PANELS)[0].key


def test_a_sellers_page_leads_to_the_right_family():
    wrong = [slug for slug, text in SELLERS.items() if family_ranked_first(text) != family_key(catalogue()[slug])]
    assert len(SELLERS) >= 40
    assert not wrong


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ('0,96" OLED 128 × 64 I²C', Evidence(technology="oled", width_px=128, height_px=64, diagonal_inch=0.96, links=("i2c",))),
        ("e-ink 2.9in, BUSY RST", Evidence(technology="epaper", diagonal_inch=2.9, labels=("BUSY", "RST"))),
        ("GDDRAM of 132 x 64, commands 0xB0 and 10h", Evidence(ram_width=132, ram_height=64, commands=(0xB0, 0x10))),
        ("outline 27.3 x 27.8 mm", Evidence()),
        ("", Evidence()),
    ],
)
def test_words_are_read(text, expected):
    assert read_words(text) == expected


def test_what_was_stated_stands_above_what_was_read():
    read = read_words("1.3 inch OLED 128x64")
    assert read.joined(Evidence(diagonal_inch=0.96)).diagonal_inch == 0.96
    assert read.joined(Evidence()) == read


class TestReasons:
    wide, narrow = catalogue()["mono-oled-128x64-132"], catalogue()["mono-oled-128x64"]

    def test_speak_for_and_against(self):
        standing = weigh(Evidence(technology="oled", width_px=128, height_px=32, links=("i2c",)), self.narrow)
        assert [r.words for r in standing.pros] == ["is OLED", "speaks I2C"]
        assert [r.words for r in standing.cons] == ["has 128 × 64 pixels: only one side agrees"]

    @pytest.mark.parametrize(
        ("clue", "better"),
        [
            (Evidence(ram_width=132), "wide"),
            (Evidence(diagonal_inch=1.3), "wide"),
            (Evidence(commands=(0x20, 0x21, 0x22)), "narrow"),  # window commands
            (Evidence(commands=(0xAD,)), "wide"),  # converter instead of charge pump
        ],
    )
    def test_tell_the_two_common_ones_apart(self, clue, better):
        points = {"wide": weigh(clue, self.wide).points, "narrow": weigh(clue, self.narrow).points}
        assert max(points, key=points.get) == better

    def test_without_clues_nothing_is_claimed(self):
        assert not [r for family in rank(Evidence(), PANELS) for r in family.best.pros]

    def test_a_label_no_pin_can_have_speaks_against(self):
        assert weigh(Evidence(labels=("BUSY",)), catalogue()["tft-240x240-round"]).cons[-1].words == "has no pin for BUSY"
