"""Code of a screen, compiled and run, against what the page shows: whole, in bands, and without a buffer."""

import ctypes
import subprocess

import numpy as np
import pytest

from mosaic.firmware import draw as runtime
from mosaic.panels.geometry import to_host
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.code_c import c_header, c_source, quoted
from mosaic.screens.code_python import draws_the_same, python_source
from mosaic.screens.rendering import render
from mosaic.screens.screen import Anchor, Element, Ground, Screen
from tests.mosaic.drawing.test_three_renderers import AREA, SOURCES, WARNINGS, CSurface
from tests.mosaic.screens.made_up import all_kinds, device, kit_of

PLACES = [
    ("mono-oled-128x64", 0, False, Ground()), ("mono-oled-128x64", 180, True, Ground("pattern", tile=("#...", "..#."))),
    ("epaper-296x128-four-colour", 90, False, Ground("gradient", "white", "red", mask=True)),
    ("tft-240x240-round", 0, False, Ground("gradient", "#102040", "#80a0ff", upright=False)),
    ("tft-320x240-touch", 90, True, Ground("gradient", "#000000", "#304060", mask=True)),
    ("epaper-296x128-four-colour", 270, True, Ground("picture", source="picture-1")),
    ("tft-320x240-touch", 0, False, Ground("picture", source="picture-1")),
]  # fmt: skip


@pytest.fixture(params=PLACES, ids=lambda place: f"{place[0]}-{place[1]}{'-mirrored' if place[2] else ''}-{place[3].by}")
def rendered(request):
    slug, rotation, mirrored, ground = request.param
    dev = device(slug, rotation, mirrored=mirrored)
    return render(all_kinds(dev, ground), dev, kit_of(dev, bits=2))


def compiled(rendered, folder):
    """The screen as a library: a surface of it, and its drawing."""
    (folder / "tide.h").write_text(c_header(rendered, "Tide"))
    (folder / "tide.c").write_text(c_source(rendered, "Tide"))
    more = "draw_surface tide_given(uint8_t *b, int32_t t, int32_t r) { return tide_surface(b, t, r); }\n"
    more += (
        "draw_surface tide_none(void (*a)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t)) { return tide_direct(a, 0); }\n"
    )
    more += "int32_t tide_size(int32_t rows) { return (int32_t)TIDE_BYTES(rows); }\n"
    (folder / "more.c").write_text('#include "tide.h"\n' + more)
    sources = [str(folder / "tide.c"), str(folder / "more.c"), str(SOURCES / "draw.c")]
    words = ["-I", str(SOURCES), "-I", str(folder), "-shared", "-fPIC", *WARNINGS]
    subprocess.run(["gcc", "-std=c99", "-O1", *words, *sources, "-o", str(folder / "tide.so")], check=True)
    subprocess.run(["g++", "-x", "c++", *words[:4], *WARNINGS, "-c", sources[0], "-o", str(folder / "tide.o")], check=True)
    library = ctypes.CDLL(str(folder / "tide.so"))
    library.tide_given.restype = library.tide_none.restype = CSurface
    return library


def module_of(rendered) -> dict:
    known = {"draw": runtime}
    exec(python_source(rendered, "Tide").replace("import draw\n", ""), known)
    return known


def bands_of(rendered) -> list[int]:
    """Heights of bands that its bytes can be cut into."""
    fmt, (_, height) = rendered.device.passport.format, host_size(rendered.device.passport, rendered.device.turn)
    unit = fmt.pixels_per_byte if isinstance(fmt, IndexedFormat) and fmt.along == "column" else 1
    return sorted({height, *(rows for rows in (1, 8, 16) if rows % unit == 0)}) if fmt.follow != "columns" else [height]


def test_c_draws_the_page_s_bytes_whole_in_bands_and_directly(rendered, tmp_path):
    library = compiled(rendered, tmp_path)
    width, height = host_size(rendered.device.passport, rendered.device.turn)
    for rows in bands_of(rendered):
        found = b""
        for top in range(0, height, rows):
            held = min(rows, height - top)
            buffer = (ctypes.c_uint8 * library.tide_size(held))()
            library.tide(ctypes.byref(library.tide_given(buffer, top, held)))
            found += bytes(buffer)
        if (
            len(rendered.device.passport.format.planes if isinstance(rendered.device.passport.format, IndexedFormat) else "1")
            == 1
        ):
            assert found == rendered.packed, rows
    frame = np.full((height, width), -1, np.int64)

    def take(context, x, y, w, h, color):
        frame[y : y + h, x : x + w] = color

    held = AREA(take)
    library.tide_none.argtypes = [AREA]
    library.tide(ctypes.byref(library.tide_none(held)))
    assert np.array_equal(frame, sent_values(rendered))


def sent_values(rendered):
    """(H, W) of what a board without a buffer sends, as the bytes lie."""
    fmt = rendered.device.passport.format
    host = to_host(rendered.pixels, rendered.device.passport, rendered.device.turn).astype(np.int64)
    if host.ndim == 2:
        return host
    r, g, b = host[..., 0], host[..., 1], host[..., 2]
    assert fmt.bits == 16
    return r >> 3 << 11 | g >> 2 << 5 | b >> 3


def test_python_draws_the_page_s_bytes_too(rendered):
    known = module_of(rendered)
    rows = known["HEIGHT"]
    buffer = bytearray(known["size_of"](rows))
    known["tide"](known["surface"](buffer))
    assert bytes(buffer) == rendered.packed
    assert draws_the_same(python_source(rendered, "Tide"), rendered, "Tide")
    assert rendered.proof.verified


def test_python_that_draws_one_pixel_otherwise_is_found_out():
    dev = device()
    rendered = render(Screen((Element("e1", "rectangle", x=Anchor(plus=9)),)), dev, kit_of(dev))
    source = python_source(rendered, "Tide")
    assert "draw.fill(s, 9, 0, 40, 24, 1)" in source
    assert not draws_the_same(source.replace("(s, 9, 0, 40", "(s, 9, 0, 41"), rendered, "Tide")


def test_each_element_is_a_call_and_a_comment_that_says_what_it_is():
    dev = device()
    screen = Screen((Element("e1", "text", text='Café "9*/"', name="Gate"), Element("e2", "rectangle")))
    source = c_source(render(screen, dev, kit_of(dev)), "Low tide")
    assert (
        '    /* a text: Gate */\n    draw_text(s, 0, 12, "Caf\\303\\251 \\0429*/\\042", &low_tide_small, low_tide_colors_1);'
        in source
    )
    assert "    /* a rectangle: e2 */\n    draw_fill(s, 0, 0, 40, 24, 1u);" in source
    assert "#define LOW_TIDE_WIDTH 128" in c_header(render(screen, dev, kit_of(dev)), "Low tide")


def test_words_stand_in_c_whatever_they_are():
    assert quoted('a"b\\?\n°') == '"a\\042b\\134\\077\\012\\302\\260"'
