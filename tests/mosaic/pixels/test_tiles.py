"""Tiles say where a pixel's bits lie; packing a single pixel has to agree."""

import numpy as np
import pytest

from mosaic.errors import BadValueError
from mosaic.pixels.direct import pack_direct
from mosaic.pixels.formats import DirectFormat, IndexedFormat, Plane
from mosaic.pixels.indexed import pack_indexed
from mosaic.pixels.tiles import cells_of_byte

WIDTH, HEIGHT = 11, 10
LAYOUTS = [("row", "rows"), ("row", "columns"), ("column", "pages"), ("column", "columns")]


def bits_of(fmt, size: int) -> dict[tuple[int, int, str], tuple[int, int]]:
    """(x, y, part) of every cell: (byte, bit)."""
    return {
        (cell.x, cell.y, cell.part): (byte, 7 - place)
        for byte in range(size)
        for place, cell in enumerate(cells_of_byte(fmt, WIDTH, HEIGHT, byte))
        if not cell.is_padding
    }


@pytest.mark.parametrize("bits", [1, 2, 4, 8])
@pytest.mark.parametrize("first", ["msb", "lsb"])
@pytest.mark.parametrize(("along", "follow"), LAYOUTS)
@pytest.mark.parametrize("align", [8, 16])
def test_indexed(bits, first, along, follow, align):
    fmt = IndexedFormat(bits, along, first, follow, (Plane("p", tuple(range(2**bits))),), align)
    cells = bits_of(fmt, fmt.plane_bytes(WIDTH, HEIGHT))
    assert len(cells) == WIDTH * HEIGHT * bits
    for x, y in [(0, 0), (10, 9), (3, 7), (8, 8), (10, 0)]:
        for bit in range(bits):
            pixels = np.zeros((HEIGHT, WIDTH), np.uint8)
            pixels[y, x] = 1 << bit
            packed = pack_indexed(pixels, fmt)
            (at,) = [i for i, value in enumerate(packed) if value]
            assert cells[x, y, str(bit) if bits > 1 else ""] == (at, packed[at].bit_length() - 1)


@pytest.mark.parametrize("bits", [8, 12, 16, 18, 24])
@pytest.mark.parametrize("order", ["rgb", "bgr"])
@pytest.mark.parametrize("follow", ["rows", "columns"])
@pytest.mark.parametrize(("endian", "align"), [("big", 0), ("little", 0), ("big", 32)])
def test_direct(bits, order, follow, endian, align):
    fmt = DirectFormat(bits, order, endian, follow, align)
    cells = bits_of(fmt, fmt.frame_bytes(WIDTH, HEIGHT))
    # "bgr" exchanges red and blue with their widths, so the counts are those of the order on the wire.
    widths = {"R": fmt.channel_bits[0], "G": fmt.channel_bits[1], "B": fmt.channel_bits[2]}
    for x, y in [(0, 0), (10, 9), (3, 7)]:
        for channel, name in enumerate("RGB"):
            for bit in range(widths[name]):
                pixels = np.zeros((HEIGHT, WIDTH, 3), np.uint8)
                pixels[y, x, channel] = 1 << (8 - widths[name] + bit)
                packed = pack_direct(pixels, fmt)
                (at,) = [i for i, value in enumerate(packed) if value]
                assert cells[x, y, f"{name}{bit}"] == (at, packed[at].bit_length() - 1)


def test_no_such_byte():
    with pytest.raises(BadValueError, match="byte 30 is not in a picture of 30 bytes"):
        cells_of_byte(DirectFormat(24), 5, 2, 30)
