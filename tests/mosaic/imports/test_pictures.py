"""Reading pictures: odd ones work, broken ones get a clear message."""

import io
import struct
import zlib

import numpy as np
import pytest
from PIL import Image

from mosaic.errors import BadDescriptionError, BadPictureError
from mosaic.imports.arrays import bytes_from_c, bytes_from_python
from mosaic.imports.pictures import MAX_FILE_BYTES, read_header, read_picture
from tests.conftest import gradient, png_of


def png_header(width: int, height: int) -> bytes:
    """A PNG that claims a size and has almost nothing behind it."""
    chunk = b"IHDR" + struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    body = b"IDAT" + zlib.compress(b"\0" * 100)
    parts = [struct.pack(">I", len(c) - 4) + c + struct.pack(">I", zlib.crc32(c)) for c in (chunk, body, b"IEND")]
    return b"\x89PNG\r\n\x1a\n" + b"".join(parts)


class TestBroken:
    @pytest.mark.parametrize(
        ("data", "message"),
        [
            (b"", r"notes.png is empty \(0 bytes\); PNG, JPEG"),
            (b"Tide tables for the slipway\n", "notes.png is a text file, not a picture"),
            (b"<html><body></body></html>", "markup file"),
            (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "says no size"),
            (b"%PDF-1.7 \xff\xfe", "PDF document"),
            (b"PK\x03\x04rest", "zip archive"),
            (bytes(range(128, 256)), "unknown kind"),
            (png_header(40_000, 40_000), "40,000 x 40,000 pixels, 1,600 million"),
            (b"\0" * (MAX_FILE_BYTES + 1), "24.0 MiB"),
        ],
    )
    def test_before_decoding(self, data, message):
        with pytest.raises(BadPictureError, match=message):
            read_header(data, "notes.png")

    def test_truncated_jpeg(self):
        whole = png_of(gradient(200, 200), format="JPEG")
        with pytest.raises(BadPictureError, match=r"slip.jpg breaks off before its end.*JPEG"):
            read_picture(whole[: len(whole) // 2], "slip.jpg")

    def test_damaged_png(self):
        whole = bytearray(png_of(gradient(50, 50)))
        whole[60:90] = bytes(30)
        with pytest.raises(BadPictureError, match="slip.png"):
            read_picture(bytes(whole), "slip.png")


class TestOddOnesWork:
    @pytest.mark.parametrize(
        ("mode", "kind", "tolerance"),
        [
            ("RGB", "PNG", 0),
            ("RGB", "BMP", 0),
            ("RGB", "TIFF", 0),
            ("RGB", "PPM", 0),
            ("RGB", "WEBP", 12),
            ("RGB", "JPEG", 12),
            ("P", "GIF", 60),
        ],
    )
    def test_kinds(self, mode, kind, tolerance):
        options = {"lossless": True} if kind == "WEBP" else {}
        picture = read_picture(png_of(gradient(), mode, format=kind, **options))
        assert picture.format_name == kind
        assert np.abs(picture.rgb.astype(int) - gradient()).max() <= tolerance
        assert picture.alpha is None

    def test_cmyk(self):
        picture = read_picture(png_of(np.full((8, 8, 3), (200, 100, 50), np.uint8), "CMYK", format="JPEG", quality=98))
        assert picture.rgb[4, 4] == pytest.approx((200, 100, 50), abs=6)

    def test_sixteen_bit_grey(self):
        ramp = np.linspace(0, 65535, 64).astype(np.uint16).reshape(8, 8)
        picture = read_picture(png_of(ramp))
        assert picture.rgb[0, 0].tolist() == [0, 0, 0]
        assert picture.rgb[7, 7].tolist() == [255, 255, 255]
        assert np.abs(picture.rgb[..., 0].astype(int) - (ramp.astype(int) / 257).round()).max() <= 1

    def test_palette_with_transparency(self):
        image = Image.fromarray(np.array([[0, 1], [1, 2]], np.uint8), "P")
        image.putpalette([255, 0, 0, 0, 255, 0, 0, 0, 255])
        out = io.BytesIO()
        image.save(out, "PNG", transparency=1)
        picture = read_picture(out.getvalue())
        assert picture.rgb[0, 0].tolist() == [255, 0, 0]
        assert picture.alpha.tolist() == [[255, 0], [0, 255]]

    def test_one_bit_and_grey_with_alpha(self):
        assert read_picture(png_of(gradient(), "1")).rgb.max() == 255
        picture = read_picture(png_of(np.dstack([gradient(), np.full((60, 80), 7, np.uint8)]), "LA"))
        assert picture.alpha.tolist()[0][0] == 7

    def test_the_cameras_turn_is_honoured(self):
        exif = Image.Exif()
        exif[0x0112] = 6  # turn clockwise to see it upright
        out = io.BytesIO()
        Image.fromarray(gradient(40, 80)).save(out, "JPEG", exif=exif, quality=95)
        picture = read_picture(out.getvalue())
        assert (picture.width, picture.height) == (40, 80)
        assert picture.rgb[0, 39].sum() < picture.rgb[79, 0].sum()  # the dark corner has gone to the upper right


class TestArrays:
    def test_bytes_of_source_text(self):
        assert bytes_from_c("/* 0x99 */ const uint8_t a[3] = {0x01, 2, // 7\n 0b11};") == b"\x01\x02\x03"
        assert bytes_from_python("# w\nW = 8\ndata = (b'\\x01' b'\\x02')") == b"\x01\x02"

    @pytest.mark.parametrize("text", ["int main;", "uint8_t a[] = {256};"])
    def test_wrong_c(self, text):
        with pytest.raises(BadDescriptionError):
            bytes_from_c(text)

    @pytest.mark.parametrize("text", ["def", "x = 5"])
    def test_wrong_python(self, text):
        with pytest.raises(BadDescriptionError):
            bytes_from_python(text)
