"""Code of a screen, compiled and run, against what the page shows: whole, in bands, and without a buffer."""

import numpy as np
import pytest

from mosaic.firmware import draw as runtime
from mosaic.screens.code_c import c_header, c_source, quoted
from mosaic.screens.code_python import draws_the_same, python_source
from mosaic.screens.rendering import render
from mosaic.screens.screen import Anchor, Element, Ground, Screen
from tests.mosaic.screens.compiling import CScreen, bands_of, sent_values
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


def module_of(rendered) -> dict:
    known = {"draw": runtime}
    exec(python_source(rendered, "Tide").replace("import draw\n", ""), known)
    return known


def test_c_draws_the_page_s_bytes_whole_in_bands_and_directly(rendered, tmp_path):
    code = CScreen(rendered, tmp_path)
    for rows in bands_of(rendered):
        assert code.packed(rendered, rows) == rendered.packed, rows
    assert np.array_equal(code.frame(rendered), sent_values(rendered))


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
