"""Arrays from anywhere: every spelling gives its bytes, and what cannot be read is told by its line."""

import pytest

from mosaic.errors import BadLinesError
from mosaic.imports.foreign import found_raw, read_foreign, size_in_words

DATA = bytes([0x00, 0x2A, 0xFF, 0x10, 0x80, 0x01, 0x7E, 0x99, 0xAB])


@pytest.mark.parametrize(
    ("text", "written_as"),
    [
        (
            "const uint8_t logo[] = { /* 72 bits */ 0x00, 0x2A, 0xFF, 0x10, // row\n 0x80, 1, 126, 0x99, 0xAB };",
            "array in braces",
        ),
        ("static const unsigned char a[3][3] PROGMEM = {{0x00,0x2A,0xFF},{0x10,0x80,0x01},{0x7E,0x99,0xAB}};", "array in braces"),
        ("{0x00, 0x2A, 0xFF, 0x10, 0x80, 0x01, 0x7E, 0x99, 0xAB", "array in braces"),
        ("0000: 00 2A FF 10 80 01 7E 99  ..*.....\n0008: ab\n", "hex dump"),
        ("00000000  002a ff10 8001 7e99\n00000008  ab\n", "hex dump"),
        ("0, 42, 255, 16, 128, 1, 126, 153, 171", "list of numbers"),
        ("00 2A FF 10 80 01 7E 99 AB", "list of numbers"),
        ("  9 | 0x00, 0x2A, 0xFF, // top\n 10 | 0x10, 0x80, 0x01,\n 11 | 0x7E, 0x99, 0xAB", "list of numbers"),
        ("B00000000, B00101010, B11111111, B00010000,\nB10000000, B00000001, B01111110, B10011001, B10101011", "list of numbers"),
        ("0b0 0b101010 0b11111111 0b10000 0b10000000 0b1 0b1111110 0b10011001 0b10101011", "list of numbers"),
        (r'pic = b"\x00*\xff\x10" b"\x80\x01~\x99\xab"', "quoted bytes"),
    ],
)
def test_every_spelling(text, written_as):
    found = read_foreign(text)
    assert found.data == DATA
    assert found.written_as == written_as


def test_words_of_sixteen_bits_keep_their_order():
    assert read_foreign("{0xF800, 0x07E0, 0x001F, 0xFFFF}").data == bytes.fromhex("f80007e0001fffff")


@pytest.mark.parametrize(
    ("text", "size"),
    [
        ("/* 128 x 64 */", (128, 64)), ("logo_296x128.bin", (296, 128)), ("#define W_WIDTH 40\n#define W_HEIGHT 72", (40, 72)),
        ("0x00, 0x2A", None), ("nothing", None),
    ],
)  # fmt: skip
def test_sizes_in_words(text, size):
    assert size_in_words(text) == size


def test_files():
    assert found_raw(DATA, "a.bin").data == DATA
    assert found_raw(b"0, 42, 255, 16, 128, 1, 126, 153, 171\n", "a.txt").written_as == "list of numbers"
    assert found_raw(b"Dear boathouse, high water is at two.", "a.txt").written_as == "raw file"


DAMAGED = [
    ("", 1, "holds 0 numbers"),
    ("{0x00, 0x01}", 1, "holds 2 numbers"),
    ("x\n{\n0x00, 0x01, 0x02, 0x03,\nfoo, 0x04, 0x05, 0x06, 0x07, 0x08}", 4, "'foo' is no byte"),
    ("{0x00,0x01,0x02,\n0x03,0x04,0x12345,0x06,0x07,0x08}", 2, "more than two bytes"),
    ("0000: 00 01 02 03 04 05 06 07\n0008: 08 09 zz\n0010: 00 01 02 03 04 05 06 07", 2, "has no address and bytes"),
    ("0000: 00 01\n0002: 02 03\n", 1, "the dump holds 4 bytes"),
    ("1, 2, 3, 4, 5, 6, 7,\n-8, 9", 2, "is no byte"),
    ("high water at two\nlow water at eight", 1, "'high' is no byte"),
    ("b'\\x01\\x02'", 1, "holds 2 bytes"),
    ("'\\x01\\x02\\x03\\x04\\x05\\x06\\x07\\x08\u2713'", 1, "write it as"),
]


@pytest.mark.parametrize(("text", "line", "words"), DAMAGED)
def test_damage_is_told_by_its_line(text, line, words):
    with pytest.raises(BadLinesError) as told:
        read_foreign(text)
    assert told.value.problems[0].line == line
    assert words in told.value.problems[0].words


def test_a_short_raw_file():
    with pytest.raises(BadLinesError, match="holds 3 bytes"):
        found_raw(b"\x00\x01\x02", "a.bin")
