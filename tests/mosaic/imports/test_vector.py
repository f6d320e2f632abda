"""Drawings in SVG and colour profiles."""

import io
import struct

import numpy as np
import pytest
from PIL import Image, ImageCms

from mosaic.conversion.pipeline import fit_stage
from mosaic.errors import BadPictureError
from mosaic.imports.pictures import read_header, read_picture
from mosaic.panels.loader import catalogue
from mosaic.reduce.recipe import Recipe

OPEN = '<svg xmlns="http://www.w3.org/2000/svg" '
HALVES = OPEN + 'width="100" height="50"><rect width="100" height="50" fill="white"/><rect width="50" height="50"/></svg>'


def read(text: str):
    return read_picture(text.encode(), "gauge.svg")


class TestSvg:
    @pytest.mark.parametrize(
        ("attributes", "size"),
        [
            ('width="100" height="50"', (100, 50)),
            ('width="1in" height="48pt"', (96, 64)),
            ('viewBox="0 0 640 320"', (640, 320)),
            ('viewBox="0 0 10 5" width="200"', (200, 100)),
            ('width="16" height="8"', (64, 32)),
            ('width="8000" height="2000"', (2000, 500)),
        ],
    )
    def test_says_its_size(self, attributes, size):
        text = f'{OPEN}{attributes}><path d="M0 0h9v9z"/></svg>'
        header = read_header(text.encode(), "gauge.svg")
        assert (header.width, header.height) == size
        assert header.media_type == "image/svg+xml"
        assert (read(text).width, read(text).height) == size

    def test_what_is_not_painted_is_see_through(self):
        source = read(OPEN + 'width="100" height="100"><circle cx="50" cy="50" r="40"/></svg>')
        assert source.alpha is not None
        assert (source.alpha / 255).sum() == pytest.approx(np.pi * 40 * 40, rel=0.003)

    @pytest.mark.parametrize(
        ("text", "message"),
        [
            (OPEN + 'width="9" height="9"><image href="file:///etc/passwd"/></svg>', "refers to 'file:///etc/passwd'"),
            (OPEN + 'width="9" height="9"><rect fill="url(https://a.example/x)"/></svg>', "embed it"),
            (OPEN + 'width="9" height="9"><image href="data:image/svg+xml;base64,AA"/></svg>', "refers to"),
            (OPEN + 'width="9" height="9"><text>tide</text></svg>', "outlines"),
            ('<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "b">]>' + OPEN + 'width="9" height="9"/>', "entities"),
            (OPEN + 'width="9" height="9"><rect>', "not well-formed"),
            (OPEN + 'width="wide" height="9"></svg>', "says no size"),
        ],
    )
    def test_what_cannot_be_taken_is_told(self, text, message):
        with pytest.raises(BadPictureError, match=message):
            read(text)

    def test_is_rendered_for_the_size_it_gets(self):
        """Strokes one unit wide, two apart, of a 64-unit drawing on 480 rows: sharp bars of 7.5 pixels, no blur of enlarging."""
        bars = "".join(f'<rect x="{x}" width="1" height="32"/>' for x in range(0, 64, 2))
        source = read(OPEN + f'width="64" height="32"><rect width="64" height="32" fill="white"/>{bars}</svg>')
        panel = catalogue()["epaper-800x480-black-white"]
        fitted = fit_stage(source, Recipe(fit="stretch", scaling="area"), panel, panel.rotation)
        row = fitted.linear[200, :, 0]
        assert row.mean() == pytest.approx(0.5, abs=0.01)
        assert ((row < 0.02) | (row > 0.98)).mean() > 0.85

    def test_crop_and_turn_count_in_its_own_pixels(self):
        panel = catalogue()["mono-oled-128x64"]
        recipe = Recipe(crop_x=40, crop_width=20, crop_height=20, turn=90, fit="stretch", scaling="area")
        row = fit_stage(read(HALVES), recipe, panel, panel.rotation).linear[:, 3, 0]
        assert row[:31].max() < 0.01
        assert row[33:].min() > 0.99


def profile(gamma: float) -> bytes:
    """A matrix profile (ICC.1:2010) with sRGB's primaries and another curve, built by hand."""

    def fixed(*values: float) -> bytes:
        return b"".join(struct.pack(">i", round(v * 65536)) for v in values)

    # sRGB's primaries adapted to D50.
    columns = [(0.43607, 0.22249, 0.01392), (0.38515, 0.71687, 0.09708), (0.14307, 0.06061, 0.71410)]
    tags = {b"wtpt": b"XYZ \0\0\0\0" + fixed(0.9642, 1, 0.8249)}
    for letter, column in zip(b"rgb", columns, strict=True):
        tags[bytes([letter]) + b"XYZ"] = b"XYZ \0\0\0\0" + fixed(*column)
        tags[bytes([letter]) + b"TRC"] = b"curv\0\0\0\0" + struct.pack(">IH", 1, round(gamma * 256)) + b"\0\0"
    tags[b"desc"] = b"desc\0\0\0\0" + struct.pack(">I", 2) + b"x\0" + bytes(79) + b"\0" * 3
    tags[b"cprt"] = b"text\0\0\0\0none\0\0\0\0"
    table, body = b"", b""
    start = 128 + 4 + 12 * len(tags)
    for name, data in tags.items():
        table += name + struct.pack(">II", start + len(body), len(data))
        body += data + bytes(-len(data) % 4)
    size = start + len(body)
    head = struct.pack(">I4sI4s4s4s", size, b"\0\0\0\0", 0x02100000, b"mntr", b"RGB ", b"XYZ ")
    head += struct.pack(">6H", 2026, 1, 1, 0, 0, 0) + b"acsp" + bytes(28) + fixed(0.9642, 1, 0.8249) + bytes(48)
    return head + struct.pack(">I", len(tags)) + table + body


class TestProfile:
    def png(self, icc: bytes | None) -> bytes:
        out = io.BytesIO()
        Image.fromarray(np.full((4, 4, 3), 128, np.uint8)).save(out, "PNG", icc_profile=icc)
        return out.getvalue()

    def test_colours_are_brought_to_srgb(self):
        """In a profile without a curve 128 is light 0.502, which sRGB encodes as 188."""
        assert read_picture(self.png(profile(1.0))).rgb[0, 0] == pytest.approx([188] * 3, abs=1)
        assert read_picture(self.png(None)).rgb[0, 0].tolist() == [128] * 3

    def test_srgb_itself_and_broken_profiles_change_nothing(self):
        own = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
        assert read_picture(self.png(own)).rgb[0, 0] == pytest.approx([128] * 3, abs=1)
        assert read_picture(self.png(b"no profile at all")).rgb[0, 0].tolist() == [128] * 3
