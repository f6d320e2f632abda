"""Pixel formats: sizes from the field's table, bytes worked out by hand, there and back."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.pixels.direct import expand_channel, pack_direct, unpack_direct
from mosaic.pixels.formats import CHANNEL_BITS, DirectFormat, IndexedFormat, Plane
from mosaic.pixels.indexed import pack_indexed, unpack_indexed
from tests.conftest import quantised


def indexed(bits=1, along="row", first="msb", follow="rows", align_bits=8, codes=None, second=None):
    planes = [Plane("first", tuple(codes or range(1 << bits)))]
    if second:
        planes.append(Plane("second", tuple(second)))
    return IndexedFormat(bits, along, first, follow, tuple(planes), align_bits)


PAGES = indexed(along="column", first="lsb", follow="pages")
ROWS = indexed()


# width, height as the controller scans them, and the bytes that data sheets and libraries give.
@pytest.mark.parametrize(
    ("fmt", "width", "height", "size"),
    [
        (PAGES, 128, 64, 1024),
        (PAGES, 128, 32, 512),
        (PAGES, 72, 40, 360),
        (PAGES, 128, 128, 2048),
        (indexed(bits=4), 256, 64, 8192),
        (ROWS, 122, 250, 4000),
        (ROWS, 250, 122, 3904),
        (ROWS, 128, 296, 4736),
        (ROWS, 296, 128, 4736),
        (indexed(bits=2), 128, 296, 9472),
        (indexed(bits=2), 296, 128, 9472),
        (ROWS, 400, 300, 15000),
        (ROWS, 800, 480, 48000),
        (indexed(second=(0, 1)), 800, 480, 96000),
        (indexed(bits=4), 600, 448, 134400),
        (DirectFormat(16), 240, 240, 115200),
        (DirectFormat(16), 320, 240, 153600),
        (DirectFormat(18), 480, 320, 460800),
        (DirectFormat(12), 128, 160, 30720),
    ],
)
def test_frame_bytes(fmt, width, height, size):
    assert fmt.frame_bytes(width, height) == size
    if isinstance(fmt, IndexedFormat):
        assert len(pack_indexed(np.zeros((height, width), np.uint8), fmt)) == size
    else:
        assert len(pack_direct(np.zeros((height, width, 3), np.uint8), fmt)) == size


def px(text: str) -> np.ndarray:
    """(H, W) indices of rows of digits."""
    return np.array([[int(c, 16) for c in row] for row in text.split()], np.uint8)


NINE = "100000001 010000010"  # two rows of nine pixels: one more than a byte
TALL = "1 1 0 0 0 0 0 0 0 1"  # a column of ten


@pytest.mark.parametrize(
    ("fmt", "picture", "data"),
    [
        # row bytes, leftmost pixel high: 10000000 1-------, 01000001 0-------
        (ROWS, NINE, "8080 4100"),
        # leftmost pixel low
        (indexed(first="lsb"), NINE, "0101 8200"),
        # rows padded to 16 and to 32 bits
        (indexed(align_bits=16), NINE, "8080 4100"),
        (indexed(align_bits=32), NINE, "80800000 41000000"),
        # byte columns: both first bytes, then both second ones
        (indexed(follow="columns"), NINE, "8041 8000"),
        # ink is 1: codes exchanged, padding stays 0
        (indexed(codes=(1, 0)), NINE, "7f00 be80"),
        # page bytes: topmost pixel low; ten rows take two pages
        (PAGES, TALL, "03 02"),
        (indexed(along="column", first="msb", follow="pages"), TALL, "c0 40"),
        (PAGES, "10 01", "01 02"),
        # column by column: the whole first column, then the second
        (indexed(along="column", first="lsb", follow="columns"), "10 01 00 00 00 00 00 00 11", "0101 0201"),
        (PAGES, "10 01 00 00 00 00 00 00 11", "0102 0101"),
        # 2 bits: 0,1,2,3 -> 00011011; five pixels take two bytes
        (indexed(bits=2), "01231", "1b40"),
        (indexed(bits=2, first="lsb"), "01231", "e401"),
        # colour numbers are a table: red is sent as 3, yellow as 2
        (indexed(bits=2, codes=(0, 1, 3, 2)), "0123", "1e"),
        (indexed(bits=2, along="column", first="lsb", follow="pages"), "0 1 2 3", "e4"),
        # 4 bits: first pixel in the high half byte
        (indexed(bits=4), "1a3", "1a30"),
        (indexed(bits=4, first="lsb"), "1a3", "a103"),
        # 4 bits with seven colours, and a hole in the numbers
        (indexed(bits=4, codes=(0, 1, 2, 3, 5, 6, 8)), "456", "5680"),
        (indexed(bits=8, codes=(0, 7, 255)), "012", "0007ff"),
        # two planes, black/white then red: white is 1 in the first, red 1 in the second
        (indexed(codes=(0, 1, 1), second=(0, 0, 1)), "0120", "60 20"),
        # four greys: high bits, then low bits
        (indexed(codes=(0, 0, 1, 1), second=(0, 1, 0, 1)), "0123", "30 50"),
    ],
)
def test_indexed_bytes_by_hand(fmt, picture, data):
    pixels = px(picture)
    packed = pack_indexed(pixels, fmt)
    assert packed == bytes.fromhex(data)
    assert np.array_equal(unpack_indexed(packed, pixels.shape[1], pixels.shape[0], fmt), pixels)


ORANGE = (0xFF, 0x84, 0x10)  # 5-6-5: 31, 33, 2; 4-4-4: f, 8, 1; 6-6-6: 3f, 21, 04; 3-3-2: 7, 4, 0
GREY = (0x42, 0x41, 0x42)


@pytest.mark.parametrize(
    ("fmt", "colors", "data"),
    [
        (DirectFormat(16), [ORANGE], "fc22"),
        (DirectFormat(16, byte_order="little"), [ORANGE], "22fc"),
        (DirectFormat(16, channel_order="bgr"), [ORANGE], "143f"),
        (DirectFormat(12), [ORANGE, GREY], "f8 14 44"),
        (DirectFormat(12), [ORANGE], "f8 10"),
        (DirectFormat(12, channel_order="bgr"), [ORANGE, GREY], "18 f4 44"),
        (DirectFormat(18), [ORANGE], "fc 84 10"),
        (DirectFormat(24), [ORANGE], "ff 84 10"),
        (DirectFormat(24, channel_order="bgr"), [ORANGE], "10 84 ff"),
        (DirectFormat(8), [ORANGE], "f0"),
        (DirectFormat(12, align_bits=16), [ORANGE], "f810"),
        (DirectFormat(24, align_bits=32), [ORANGE], "ff841000"),
    ],
)
def test_direct_bytes_by_hand(fmt, colors, data):
    assert pack_direct(np.array([colors], np.uint8), fmt) == bytes.fromhex(data)


def test_an_odd_row_of_12_bits_shares_its_byte_unless_rows_are_aligned():
    column = np.array([[ORANGE], [GREY]], np.uint8)
    assert pack_direct(column, DirectFormat(12)).hex() == "f81444"
    assert pack_direct(column, DirectFormat(12, align_bits=8)).hex() == "f8104440"


def test_columns_follow_columns():
    square = np.array([[ORANGE, GREY], [GREY, ORANGE]], np.uint8)
    rows, columns = pack_direct(square, DirectFormat(24)), pack_direct(square, DirectFormat(24, follow="columns"))
    assert rows == columns  # a symmetric picture
    wide = np.array([[ORANGE, GREY, GREY], [ORANGE, GREY, ORANGE]], np.uint8)
    assert pack_direct(wide, DirectFormat(24, follow="columns")).hex() == "ff8410" * 2 + "424142" * 3 + "ff8410"


@pytest.mark.parametrize(
    ("bits", "value", "wide"), [(5, 3, 24), (5, 30, 247), (6, 1, 4), (6, 62, 251), (4, 9, 153), (3, 5, 182), (2, 2, 170)]
)
def test_expansion_repeats_the_high_bits(bits, value, wide):
    assert expand_channel(np.array([value]), bits)[0] == wide


@st.composite
def indexed_case(draw):
    bits = draw(st.sampled_from([1, 2, 4, 8]))
    along, follow = draw(st.sampled_from([("row", "rows"), ("row", "columns"), ("column", "pages"), ("column", "columns")]))
    colors = draw(st.integers(2, min(1 << bits, 16)))
    codes = draw(
        st.permutations(range(1 << bits)).map(lambda p: tuple(p[:colors]))
        if bits < 8
        else st.just(tuple(range(0, colors * 9, 9)))
    )
    align = draw(st.sampled_from([8, 16, 32]))
    first = draw(st.sampled_from(["msb", "lsb"]))
    planes = [Plane("a", codes)]
    if draw(st.booleans()):
        planes.append(Plane("b", tuple(draw(st.integers(0, (1 << bits) - 1)) for _ in codes)))
    fmt = IndexedFormat(bits, along, first, follow, tuple(planes), align)
    width, height = draw(st.integers(1, 37)), draw(st.integers(1, 21))
    seed = draw(st.integers(0, 2**32 - 1))
    return fmt, np.random.default_rng(seed).integers(0, colors, (height, width), np.uint8)


@given(indexed_case())
def test_indexed_there_and_back(case):
    fmt, pixels = case
    before = pixels.copy()
    height, width = pixels.shape
    packed = pack_indexed(pixels, fmt)
    assert len(packed) == fmt.frame_bytes(width, height)
    again = unpack_indexed(packed, width, height, fmt)
    assert np.array_equal(again, pixels)
    assert pack_indexed(again, fmt) == packed
    assert np.array_equal(pixels, before)


@given(
    st.sampled_from(sorted(CHANNEL_BITS)), st.sampled_from(["rgb", "bgr"]), st.sampled_from(["big", "little"]),
    st.sampled_from(["rows", "columns"]), st.sampled_from([0, 8, 16, 32]), st.integers(1, 19), st.integers(1, 13), st.integers(0, 2**32 - 1),
)  # fmt: skip
def test_direct_there_and_back(bits, order, byte_order, follow, align, width, height, seed):
    fmt = DirectFormat(bits, order, byte_order, follow, align)
    pixels = quantised(np.random.default_rng(seed).integers(0, 256, (height, width, 3), np.uint8), fmt)
    packed = pack_direct(pixels, fmt)
    assert len(packed) == fmt.frame_bytes(width, height)
    assert np.array_equal(unpack_direct(packed, width, height, fmt), pixels)


class TestRefusals:
    @pytest.mark.parametrize(
        "make",
        [
            lambda: indexed(bits=3, codes=(0, 1)),
            lambda: indexed(along="row", follow="pages"),
            lambda: indexed(align_bits=24),
            lambda: indexed(codes=(0, 2)),
            lambda: indexed(codes=(0, 1), second=(0, 1, 1)),
            lambda: IndexedFormat(1, "row", "msb", "rows", ()),
            lambda: DirectFormat(15),
            lambda: DirectFormat(16, align_bits=4),
        ],
    )
    def test_descriptions(self, make):
        with pytest.raises(BadDescriptionError):
            make()

    def test_values(self):
        with pytest.raises(BadValueError, match="row 0, column 1"):
            pack_indexed(px("03"), indexed(codes=(0, 1)))
        with pytest.raises(BadValueError, match="uint8"):
            pack_indexed(np.zeros((2, 2)), ROWS)
        with pytest.raises(BadValueError, match="shape"):
            pack_direct(np.zeros((2, 2), np.uint8), DirectFormat(16))
        with pytest.raises(BadValueError, match="size 65536 x 1 "):
            pack_direct(np.zeros((1, 65_536, 3), np.uint8), DirectFormat(16))
        with pytest.raises(BadValueError, match="between 1 x 1"):
            ROWS.frame_bytes(0, 4)

    @pytest.mark.parametrize("codes", [(0, 1), (1, 0), (0, 1, 3), (0, 1, 2, 3)])
    def test_the_number_of_colours_is_one_too_many(self, codes):
        """The last colour has a code, the next index none, wherever it stands."""
        fmt = indexed(bits=2, codes=codes)
        for width in (4, 5):
            pixels = np.zeros((2, width), np.uint8)
            pixels[1, width - 1] = len(codes) - 1
            assert np.array_equal(unpack_indexed(pack_indexed(pixels, fmt), width, 2, fmt), pixels)
            pixels[1, width - 1] = len(codes)
            with pytest.raises(BadValueError, match=f"index {len(codes)} at row 1, column {width - 1} has no code"):
                pack_indexed(pixels, fmt)

    def test_lengths_and_codes_without_colour(self):
        with pytest.raises(BadValueError, match=r"3 bytes given.*takes 4"):
            unpack_indexed(b"abc", 9, 2, ROWS)
        with pytest.raises(BadValueError, match=r"1 bytes given.*takes 2"):
            unpack_direct(b"a", 1, 1, DirectFormat(16))
        with pytest.raises(BadValueError, match="stands for no colour"):
            unpack_indexed(b"\xf0", 2, 1, indexed(bits=4, codes=(0, 1, 2)))


def test_descriptions_in_words():
    assert PAGES.describe() == "1 bit a pixel, bytes along a column, top pixel at the low end, page by page"
    assert DirectFormat(16, "bgr", "little").describe() == "16 bits a pixel (5-6-5), BGR, little-endian, row by row"
    assert DirectFormat(12).depth_name == "rgb444"


@pytest.mark.parametrize(
    ("count", "packed"),
    [(1, "1230"), (2, "123456"), (3, "1234567890"), (4, "123456789abc"), (5, "123456789abcdef0")],
)
def test_twelve_bits_of_any_count(count, packed):
    """The odd last pixel of a run begins a byte of its own, whose second half is 0."""
    values = [0x10, 0x20, 0x30, 0x40, 0x50, 0x60, 0x70, 0x80, 0x90, 0xA0, 0xB0, 0xC0, 0xD0, 0xE0, 0xF0][: 3 * count]
    assert pack_direct(np.array(values, np.uint8).reshape(1, count, 3), DirectFormat(12)).hex() == packed
