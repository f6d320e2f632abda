"""Exports: compiled, run, and read by general tools; never taken on trust."""

import io
import json
import subprocess
import sys
from dataclasses import replace

import numpy as np
import pytest
from PIL import Image

from mosaic.conversion.pipeline import pack
from mosaic.errors import BadValueError, UnknownNameError
from mosaic.exports.registry import EXPORTERS, NotProvenError, export
from mosaic.exports.result import ExportResult, identifier
from mosaic.panels.appearance import colors_of
from mosaic.panels.loader import catalogue
from mosaic.reduce.recipe import Recipe
from tests.mosaic.virtual.test_virtual import random_picture


def result_for(slug: str, name: str = "Slip at dusk") -> ExportResult:
    panel = catalogue()[slug]
    pixels = random_picture(panel, panel.rotation)
    shown = colors_of(pixels, panel, panel.rotation)
    return ExportResult(name, panel, panel.rotation, Recipe(), pixels, shown, pack(pixels, panel, panel.rotation))


MONO, FOUR, TFT = "mono-oled-128x64", "epaper-296x128-four-colour", "tft-128x160-12bit"


@pytest.mark.parametrize("slug", [MONO, FOUR, TFT])
@pytest.mark.parametrize("ending", ["h", "c"])
def test_c_compiles_without_a_warning_and_holds_the_raw_bytes(tmp_path, slug, ending):
    result = result_for(slug, "return */ 7th \\ slip")
    name = result.identifier
    (tmp_path / f"p.{ending}").write_bytes(export(result, ending))
    use = '#include "p.h"\n' if ending == "h" else f"#include <stdint.h>\nextern const uint8_t {name}[{len(result.packed)}];\n"
    main = f"#include <stdio.h>\n{use}int main(void) {{ return fwrite({name}, 1, sizeof {name}, stdout) == sizeof {name} ? 0 : 1; }}\n"
    (tmp_path / "main.c").write_text(main)
    sources = ["main.c"] + (["p.c"] if ending == "c" else [])
    flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic"]
    subprocess.run(["gcc", *flags, *sources, "-o", "show"], cwd=tmp_path, check=True)
    assert subprocess.run([tmp_path / "show"], capture_output=True, check=True).stdout == export(result, "bin") == result.packed


def test_python_module_runs_and_holds_the_raw_bytes(tmp_path):
    result = result_for(FOUR)
    (tmp_path / "p.py").write_bytes(export(result, "py"))
    code = "import p, sys; assert (p.SLIP_AT_DUSK_WIDTH, p.SLIP_AT_DUSK_HEIGHT) == (296, 128); sys.stdout.buffer.write(p.slip_at_dusk)"
    done = subprocess.run([sys.executable, "-c", code], cwd=tmp_path, capture_output=True, check=True)
    assert done.stdout == result.packed


class TestReadByPillow:
    def test_two_level_forms(self):
        result = result_for(MONO)
        lit = result.pixels.astype(bool)
        assert np.array_equal(np.asarray(Image.open(io.BytesIO(export(result, "pbm"))).convert("1")), lit)
        assert np.array_equal(np.asarray(Image.open(io.BytesIO(export(result, "xbm"))).convert("1")), lit)

    @pytest.mark.parametrize("ending", ["png", "bmp", "ppm"])
    @pytest.mark.parametrize("slug", [FOUR, TFT, "two-zone-oled-128x64"])
    def test_colour_forms(self, slug, ending):
        result = result_for(slug)
        image = Image.open(io.BytesIO(export(result, ending)))
        assert image.size == result.shown.shape[1::-1]
        assert np.array_equal(np.asarray(image.convert("RGB")), result.shown)

    def test_grey_form(self):
        image = Image.open(io.BytesIO(export(result_for("grey-oled-256x64"), "pgm")))
        assert (image.mode, image.size) == ("L", (256, 64))
        assert len(np.unique(np.asarray(image))) == 16


def test_json_says_everything():
    import base64

    result = result_for(FOUR)
    value = json.loads(export(result, "json"))
    assert base64.b64decode(value["bytes_base64"]) == result.packed
    assert value["format"]["planes"][0]["codes"] == [0, 1, 3, 2]
    assert (value["form"], value["width"], value["height"], value["byte_count"]) == (1, 296, 128, 9472)


def test_what_does_not_fit_is_refused():
    with pytest.raises(BadValueError, match="two colours"):
        export(result_for(FOUR), "xbm")
    with pytest.raises(UnknownNameError, match="known: h, bin"):
        export(result_for(MONO), "xyz")


@pytest.mark.parametrize("ending", [e for e in EXPORTERS if e not in ("pbm", "xbm")])
def test_a_file_that_does_not_hold_the_result_is_never_given_out(ending, monkeypatch):
    result = result_for(FOUR)
    exporter = EXPORTERS[ending]
    other = replace(result, packed=bytes(9472), shown=np.zeros_like(result.shown))
    broken = replace(exporter, write=lambda _: exporter.write(other))
    monkeypatch.setitem(EXPORTERS._members, ending, broken)
    with pytest.raises(NotProvenError, match="was not given out"):
        export(result, ending)


def test_identifiers():
    assert identifier('*/ évil " name') == "evil_name"
    assert identifier("int") == "int_picture"
