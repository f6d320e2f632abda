"""Files that were made to stop or fill the program that reads them: each is a message, and the next file is read."""

import io
import os
import struct
import threading
import zlib

import numpy as np
import pytest
from PIL import Image

from mosaic import apart
from mosaic.errors import BadDescriptionError, BadPictureError, MosaicError
from mosaic.imports.pictures import read_header, read_picture
from mosaic.lettering.faces import FACES
from mosaic.lettering.outline import rasterised
from mosaic.lettering.source import font_info
from tests.conftest import gradient, png_of

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="200" height="200" '
FINE = f'{HEAD}viewBox="0 0 200 200"><rect width="90" height="90" fill="red"/></svg>'.encode()


def svg(inside: str, attributes: str = 'viewBox="0 0 200 200"') -> bytes:
    return f"{HEAD}{attributes}>{inside}</svg>".encode()


def png_head(width: int, height: int, depth: int = 8, kind: int = 2, rows: int = 0) -> bytes:
    """A PNG of one colour of this size, packed to next to nothing; where `rows` are told, it has no more than these."""

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    line = 1 + width * depth * {0: 1, 2: 3, 6: 4}[kind] // 8
    press = zlib.compressobj(1)
    body = b"".join(press.compress(bytes(line * 64)) for _ in range((rows or height) // 64)) + press.flush()
    head = struct.pack(">IIBBBBB", width, height, depth, kind, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", body) + chunk(b"IEND", b"")


def embedded(data: bytes) -> bytes:
    import base64

    return svg(f'<image width="200" height="200" xlink:href="data:image/png;base64,{base64.b64encode(data).decode()}"/>')


HOSTILE = [
    (svg("<g>" * 270 + '<rect width="9" height="9"/>' + "</g>" * 270), "nests more than 128 groups"),
    (svg("<g>" * 20_000 + "</g>" * 20_000), "nests more than 128 groups"),
    (svg('<rect width="1" height="1"/>' * 200_000), "200,001 parts; 100,000 are accepted"),
    (
        svg(
            '<filter id="f"><feTurbulence baseFrequency="0.9" numOctaves="900000"/></filter>'
            '<rect width="200" height="200" filter="url(#f)"/>'
        ),
        "it takes more than",
    ),
    (svg("", 'viewBox=". . . ."').replace(b'width="200" height="200"', b""), "says no size"),
    (FINE.replace(b'width="200"', b'width="1.2.3"').replace(b'viewBox="0 0 200 200"', b""), "says no size"),
    (FINE.replace(b'width="200"', b'width="1e400"').replace(b'viewBox="0 0 200 200"', b""), "says no size"),
    (FINE.replace(b"0 0 200 200", b"0 0 1e99 1e99").replace(b'width="200"', b""), "says no size"),
    (png_head(40_000, 40_000, rows=64)[:4000], "million"),
]


@pytest.mark.parametrize(("data", "words"), HOSTILE, ids=range(len(HOSTILE)))
def test_it_is_refused_in_words_and_the_next_file_is_read(data, words):
    with pytest.raises(MosaicError, match=words):
        read_picture(data, "boat.svg")
    assert read_picture(FINE, "fine.svg").rgb[5, 5].tolist() == [255, 0, 0]


def test_a_picture_hidden_in_a_drawing_takes_no_more_than_its_share():
    """20,000 x 20,000 pixels in a few kilobytes: either the renderer leaves it out, or it is refused."""
    data = embedded(png_head(20_000, 20_000, kind=0))
    try:
        told = str(read_picture(data, "boat.svg").rgb.shape)
    except BadPictureError as error:
        told = str(error)
    assert told == "(200, 200, 3)" or "cannot be read safely" in told
    assert read_picture(FINE, "fine.svg").width == 200


@pytest.mark.parametrize(("kind", "depth"), [(2, 8), (6, 8), (6, 16), (0, 16)])
def test_forty_million_pixels_are_decoded_at_half_their_size(kind, depth):
    data = png_head(8000, 4992, depth, kind)
    header = read_header(data, "large.png")
    picture = read_picture(data, "large.png")
    assert (header.width, header.height) == (8000, 4992) == (picture.width, picture.height)
    assert picture.rgb.shape == (2496, 4000, 3)
    assert picture.detail == 0.5


def test_one_pixel_more_than_is_kept_whole_halves_it():
    for width, shape in ((4000, (4000, 4000)), (4002, (2000, 2001))):
        out = io.BytesIO()
        Image.new("L", (width, 4000), 128).save(out, "PNG", compress_level=1)
        picture = read_picture(out.getvalue(), "grey.png")
        assert picture.rgb.shape[:2] == shape
        assert (picture.rgb == 128).all()


def test_what_is_reduced_still_lies_upright():
    """A picture whose camera lay on its side: its red left half is at the top."""
    image = Image.new("RGB", (5000, 4000), (0, 0, 255))
    image.paste((255, 0, 0), (0, 0, 2500, 4000))
    out, exif = io.BytesIO(), Image.Exif()
    exif[0x0112] = 6
    image.save(out, "PNG", exif=exif, compress_level=1)
    picture = read_picture(out.getvalue(), "camera.png")
    assert picture.rgb.shape == (2500, 2000, 3)
    assert picture.rgb[10, 1000].tolist() == [255, 0, 0]
    assert picture.rgb[-10, 1000].tolist() == [0, 0, 255]
    assert picture.width == 4000


def test_a_font_that_asks_for_glyphs_of_gigabytes_is_refused():
    """Sixteen units to the em: each glyph is a hundred times as large as it says."""
    data = bytearray(FACES["mono"].data if FACES["mono"].data[:4] != b"wOF2" else FACES["hyperlegible"].data)
    if data[:4] in (b"wOF2", b"wOFF"):
        from mosaic.lettering.source import unpacked

        data = bytearray(unpacked(bytes(data)))
    tables = {
        bytes(data[12 + 16 * i : 16 + 16 * i]): struct.unpack(">II", data[20 + 16 * i : 28 + 16 * i]) for i in range(data[5])
    }
    at = tables[b"head"][0] + 18
    data[at : at + 2] = struct.pack(">H", 16)
    with pytest.raises(MosaicError, match=r"reaches|cannot be read|broken"):
        rasterised(bytes(data), 256.0, tuple(range(33, 127)), name="huge.ttf")


def test_a_packed_font_that_unfolds_to_gigabytes_is_refused():
    claimed = b"wOF2" + struct.pack(">IIHHIIHHIIIII", 0x00010000, 4000, 1, 0, 3_700_000_000, 100, 1, 0, 0, 0, 0, 0, 0)
    with pytest.raises(BadDescriptionError, match="unfolds to 3,529 MiB"):
        font_info(claimed + bytes(4000), "packed.woff2")


def test_makers_do_not_wait_for_one_anothers_files():
    """While one file uses up its time, another is read in a child of its own."""
    told = []

    def read_slowly():
        try:
            read_picture(HOSTILE[3][0], "slow.svg")
        except MosaicError as error:
            told.append(str(error))

    waiting = threading.Thread(target=read_slowly)
    waiting.start()
    for _ in range(3):
        assert read_picture(png_of(gradient(20, 30)), "fast.png").width == 30
        assert waiting.is_alive()
    waiting.join()
    assert "slow.svg" in told[0]


def test_a_child_that_is_killed_is_a_message_and_is_replaced():
    children = apart._children()
    read_picture(FINE, "fine.svg")
    for child in list(children._idle):
        os.kill(child.process.pid, 9)
        child.process.wait()
    assert read_picture(FINE, "fine.svg").width == 200


def test_an_answer_runs_nothing():
    """What a child says is values: a name of a function in it is refused."""
    with pytest.raises(Exception, match="which is not accepted"):
        apart._Plain(io.BytesIO(b"cos\nsystem\n(S'true'\ntR.")).load()
    assert apart._Plain(io.BytesIO(__import__("pickle").dumps(np.arange(3)))).load().tolist() == [0, 1, 2]
