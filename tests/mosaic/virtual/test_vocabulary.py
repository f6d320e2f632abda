"""Commands in words, each operand's bits by hand."""

import pytest

from mosaic.virtual.vocabulary import operand_count, spoken


@pytest.mark.parametrize(
    ("family", "code", "operands", "words"),
    [
        ("page-oled", 0x20, (0,), "addressing mode: across, then pages"),
        ("page-oled", 0x20, (1,), "addressing mode: down, then columns"),
        ("page-oled", 0x20, (2,), "addressing mode: within a page"),
        ("page-oled", 0x20, (3,), "addressing mode: within a page"),
        ("page-oled", 0x8D, (0x14,), "charge pump: on"),
        ("page-oled", 0x8D, (0x10,), "charge pump: off"),
        ("page-oled", 0xAD, (0x8B,), "converter: on"),
        ("page-oled", 0xAD, (0x8A,), "converter: off"),
        ("page-oled", 0xA8, (63,), "multiplex ratio: 64 rows"),
        ("page-oled", 0xDA, (0x12,), "COM pins: alternating"),
        ("page-oled", 0xDA, (0x02,), "COM pins: one after the other"),
        ("page-oled", 0x40, (), "start at RAM row 0"),
        ("page-oled", 0x7F, (), "start at RAM row 63"),
        ("page-oled", 0xB7, (), "page 7"),
        ("page-oled", 0x0F, (), "column, low nibble F"),
        ("page-oled", 0x1F, (), "column, high nibble F"),
        ("page-oled", 0xE4, (), "not known to this controller"),
        ("page-oled", 0xA8, (), "multiplex ratio: 0 of 1 operands"),
        ("grey-oled", 0xFD, (0x12,), "command lock: open"),
        ("grey-oled", 0xFD, (0xB1,), "command lock: open"),
        ("grey-oled", 0xFD, (0x16,), "command lock: shut"),
        ("grey-oled", 0xA0, (0x14, 0x11), "scan order: high nibble first"),
        ("grey-oled", 0xA0, (0x03, 0x11), "scan order: low nibble first, columns from the right, down first"),
        ("pair-grey-oled", 0xA4, (), "as the RAM holds it"),
        ("pair-grey-oled", 0xA5, (), "all pixels on"),
        ("pair-grey-oled", 0xA6, (), "all pixels off"),
        ("pair-grey-oled", 0xA7, (), "inverted"),
        ("grey-oled", 0xA4, (), "all pixels off"),
        ("grey-oled", 0xA6, (), "as the RAM holds it"),
        ("pair-grey-oled", 0xA0, (0x06,), "scan order: high nibble first, down first"),
        ("pair-grey-oled", 0xA0, (0x01,), "scan order: low nibble first, columns from the right"),
        ("byte-window-oled", 0xA0, (0x00,), "scan order and depth: 8 bits a pixel, red first"),
        ("byte-window-oled", 0xA0, (0x74,), "scan order and depth: 16 bits a pixel, blue first"),
        ("byte-window-oled", 0xA0, (0x83,), "scan order and depth: 18 bits a pixel, red first, columns from the right, down first"),
        ("byte-window-oled", 0xA0, (0xC0,), "scan order and depth: 18 bits a pixel, red first"),
        ("window-tft", 0x36, (0x00,), "memory access: upright, red first"),
        ("window-tft", 0x36, (0xE8,), "memory access: rows from below, columns from the right, axes exchanged, blue first"),
        ("window-tft", 0x3A, (0x53,), "pixel format: 12 bits a pixel"),
        ("window-tft", 0x3A, (0x55,), "pixel format: 16 bits a pixel"),
        ("window-tft", 0x3A, (0x66,), "pixel format: 18 bits a pixel"),
        ("window-tft", 0x3A, (0x04,), "pixel format: no known depth"),
        ("window-tft", 0x2A, (0x01, 0x02, 0x03, 0x04), "columns: 258 to 772"),
        ("byte-window-epaper", 0x45, (0x27, 0x01, 0x00, 0x02), "y range: 295 to 512"),
        ("byte-window-epaper", 0x44, (0, 15), "x range, in bytes: 0 to 15"),
        ("page-oled", 0xD3, (2,), "vertical shift: by 2 rows"),
        ("page-oled", 0xA8, (0,), "multiplex ratio: 1 row"),
        ("page-oled", 0xD3, (0,), "vertical shift: by none"),
        ("page-oled", 0xD3, (1,), "vertical shift: by 1 row"),
        ("byte-window-epaper", 0x01, (0x27, 0x01, 0x00), "rows driven: 296 rows"),
        ("byte-window-epaper", 0x11, (3,), "data entry: x counts up, y counts up"),
        ("byte-window-epaper", 0x11, (1,), "data entry: x counts up, y counts down"),
        ("byte-window-epaper", 0x11, (6,), "data entry: x counts down, y counts up, down first"),
        ("frame-epaper", 0x61, (0x03, 0x20, 0x01, 0xE0), "resolution: 800 × 480"),
    ],
)  # fmt: skip
def test_what_a_command_says(family, code, operands, words):
    assert spoken(family, code, operands).words == words


def test_hexadecimal_and_counts():
    assert spoken("page-oled", 0xA8, (63,)).hex == "A8 3F"
    assert (operand_count("page-oled", 0xA8), operand_count("page-oled", 0xAF), operand_count("page-oled", 0xE4)) == (1, 0, None)
