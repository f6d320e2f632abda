"""What files say at their boundaries: the shortest pause, a share rounded, half a pixel of a touch."""

import io
import json
import subprocess
from dataclasses import replace
from fractions import Fraction
from types import SimpleNamespace

import numpy as np
import pytest
from PIL import Image

from mosaic.conversion.pipeline import convert, fit_stage, pack
from mosaic.exports.code import hex_lines, python_bytes
from mosaic.exports.feed_program import feed_program
from mosaic.exports.making import figures, result_of
from mosaic.exports.rasters import encode_indexed_png
from mosaic.exports.registry import EXPORTERS, export
from mosaic.exports.touch import touch_c
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from mosaic.pixels.formats import DirectFormat
from mosaic.reduce.recipe import Recipe
from mosaic.touch.fit import Fit
from tests.conftest import gradient
from tests.mosaic.exports.test_exports import TFT, result_for
from tests.mosaic.virtual.test_virtual import random_picture


@pytest.mark.parametrize(("pause", "told"), [(0, 1), (1, 1), (2, 2), (120, 120)])
def test_the_shortest_pause_of_a_program_is_a_millisecond(pause, told):
    panel = catalogue()["mono-oled-128x64"]
    panel = replace(panel, sequences=replace(panel.sequences, setup=f"reset\nc AE\ndelay {pause}\nc AF"))
    program = feed_program(panel, 0, 9000, "t", "Slip").decode()
    assert [line.strip() for line in program.splitlines() if line.startswith("    panel_delay(")] == [f"panel_delay({told});"]


def test_arrays_of_words_from_the_low_end_have_their_bytes_exchanged():
    panel, how = catalogue()["tft-128x128"], Recipe()
    converted = convert(fit_stage(SourcePicture(gradient(), None, "PNG"), how, panel, 0), how, panel, 0, 1.5)
    own, given = (
        result_of("Slip", converted, how, 0, sending) for sending in (None, Sending(array=DirectFormat(16, byte_order="little")))
    )
    assert (own.packed, own.passport.format) == (converted.packed, panel.format)
    assert np.array_equal(np.frombuffer(given.packed, "<u2"), np.frombuffer(own.packed, ">u2"))
    assert given.packed != own.packed


def test_a_program_draws_eight_stripes():
    panel = catalogue()["mono-oled-128x64"]
    assert b"(count / 8u + 5u) / 6u * 6u" in feed_program(panel, panel.rotation, 8413, "token", "Slip")


def test_a_dozen_bytes_a_line_of_c_and_sixteen_of_python():
    assert [line.count("0x") for line in hex_lines(bytes(25)).split("\n")] == [12, 12, 1]
    assert [line.count("\\x") for line in python_bytes("TIDE", bytes(33)).split("\n")[1:-2]] == [16, 16, 1]


def test_what_is_said_of_a_conversion():
    palette = SimpleNamespace(names=("off", "lit"))
    converted = SimpleNamespace(
        passport=SimpleNamespace(palette=palette), packed=bytes(12), perceived_error=1 / 3, sigma_px=2.5, colors_used=2, marked_share=2 / 3,
        shares=(1 / 3, 2 / 3), parts=(SimpleNamespace(byte_count=5), SimpleNamespace(byte_count=12)), cut=SimpleNamespace(scale=Fraction(1, 3)),
        proof=SimpleNamespace(verified=True),
    )  # fmt: skip
    told = figures(converted)
    assert told == {
        "bytes": 12, "perceived_error": 0.333, "eye_sigma_px": 2.5, "colors_used": 2, "marked_share": 0.66667, "shares": {"off": 0.33333, "lit": 0.66667},
        "wire_bytes": 17, "source_pixels_per_pixel": 0.3333, "verified": True,
    }  # fmt: skip
    assert figures(SimpleNamespace(**vars(converted) | {"passport": SimpleNamespace(palette=None)}))["shares"] == {}


def test_the_size_of_a_picture_in_colours():
    told = json.loads(export(result_for(TFT), "json"))
    assert (told["width"], told["height"], told["byte_count"]) == (128, 160, 128 * 160 * 3 // 2)


@pytest.mark.parametrize(("share", "raw", "place"), [
    (0.5, 1, 1), (0.5, 3, 2), (0.49, 1, 0), (0.5, 0, 0), (-0.5, 1, 0), (-1.0, 1, 0), (1.0, 9, 9), (1.0, 10, 9),
])  # fmt: skip
def test_half_a_pixel_of_a_touch_is_the_next_one(tmp_path, share, raw, place):
    """And none lies off the glass of 10 x 10."""
    (tmp_path / "touch.h").write_text(touch_c(Fit(((share, 0, 0), (0, share, 0)), (0.0,)), 10, 10, "Slip"))
    (tmp_path / "main.c").write_text(
        f'#include <stdio.h>\n#include "touch.h"\nint main(void) {{ int32_t x, y; touch_place({raw}, {raw}, &x, &y); printf("%d %d", (int)x, (int)y); return 0; }}\n'
    )
    subprocess.run(["gcc", "-std=c99", "-Wall", "-Werror", "main.c", "-o", "main"], cwd=tmp_path, check=True)
    assert subprocess.run([tmp_path / "main"], capture_output=True, check=True).stdout.decode() == f"{place} {place}"


@pytest.mark.parametrize("count", [2, 3, 4, 5, 16, 17, 256])
@pytest.mark.parametrize("width", [1, 7, 8, 9])
def test_a_png_with_a_palette_is_read_by_a_general_tool(count, width):
    rng = np.random.default_rng(count + width)
    colors, indices = rng.integers(0, 256, (count, 3), np.uint8), rng.integers(0, count, (5, width)).astype(np.uint8)
    indices.flat[-1] = count - 1
    with Image.open(io.BytesIO(encode_indexed_png(indices, colors))) as image:
        assert np.array_equal(np.asarray(image.convert("RGB")), colors[indices])


@pytest.mark.parametrize(("slug", "turn", "said"), [
    ("mono-oled-128x64", 180, "turned 180 degrees counter-clockwise"), ("mono-oled-128x64", 0, ""), ("tft-128x160-12bit", 90, ""),
    ("mono-oled-128x64", Orientation(0, True), "mirrored left to right before packing"), ("tft-128x160-12bit", Orientation(0, True), ""),
])  # fmt: skip
def test_what_a_file_says_of_turning(slug, turn, said):
    """A controller that turns by itself gets its picture as the reader sees it."""
    about = export(replace(result_for(slug), turn=turn, pixels=(pixels := random_picture(catalogue()[slug], turn)), shown=colors_of(pixels, catalogue()[slug], turn),
                           packed=pack(pixels, catalogue()[slug], turn)), "h").decode()  # fmt: skip
    assert [words in about for words in ("turned ", "mirrored left")] == [said.startswith("turned"), said.startswith("mirrored")]
    assert said in about


@pytest.mark.parametrize(
    ("slug", "size"), [("mono-oled-128x64", 128 * 64 // 8), (TFT, 128 * 160 // 8), ("grey-oled-128x128", 128 * 128 // 8)]
)
def test_a_mask_takes_a_bit_a_pixel(slug, size):
    result = result_for(slug)
    assert result.mask is None
    covered = np.ones(result.pixels.shape[:2], bool)
    assert replace(result, coverage=covered).mask == b"\xff" * size
    assert replace(result, coverage=~covered).mask == bytes(size)


@pytest.mark.parametrize("ending", [ending for ending in EXPORTERS if ending not in ("ppm", "pgm")])
@pytest.mark.parametrize("length", [1, 39, 40, 41, 60, 80])
def test_a_name_of_one_long_word(ending, length):
    assert export(result_for("mono-oled-128x64", "n" * length), ending)
