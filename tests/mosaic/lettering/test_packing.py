"""Packing and files: bytes told by hand, every way read back, and generated C and Python against the core's rasteriser."""

import io
import itertools
import json
import subprocess

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from mosaic.errors import BadValueError
from mosaic.lettering.c_reader import c_header
from mosaic.lettering.faces import FACES
from mosaic.lettering.files import metrics, png_sheet, python_source, written
from mosaic.lettering.glyph import Glyph, Lettering, draw_text
from mosaic.lettering.making import Sources, make
from mosaic.lettering.packing import ORDERS, order_of, pack, reads_back
from mosaic.lettering.plan import LetteringPlan
from mosaic.pixels.formats import DirectFormat, IndexedFormat, Plane
from mosaic.source_text import identifier
from tests.mosaic.lettering.letters import TEXTS, letterings

PLANES = (Plane("all", (0, 1)),)
EVERY_WAY = list(itertools.product(("cropped", "cell"), ORDERS, ("plain", "runs")))


def lettering_of(bits: int, **changes):
    plan = LetteringPlan().with_changes(
        **({"face": "narrow", "size_px": 19, "bits": bits, "preset": "western", "tabular": False} | changes)
    )
    return make(plan, Sources(1.0)).lettering


def one(levels, bits: int) -> Lettering:
    array = np.array(levels, np.uint8)
    return Lettering("one", (Glyph(65, array, 0, array.shape[0], array.shape[1] + 1),), array.shape[0], 0, bits)


class TestByHand:
    @pytest.mark.parametrize(
        ("levels", "bits", "way", "data"),
        [
            # 11 00 01 10 | 11 and three empty places
            ([[3, 0, 1, 2, 3]], 2, ("cropped", "rows", "plain"), "c6 c0"),
            ([[1, 0, 1]], 1, ("cropped", "rows", "plain"), "a0"),
            ([[15, 1, 7]], 4, ("cropped", "rows", "plain"), "f1 70"),
            # Column by column, the upper pixel in bit 0: 1+2+8, then 4.
            ([[1, 0], [1, 0], [0, 1], [1, 0]], 1, ("cropped", "pages", "plain"), "0b 04"),
            # Two bits: the upper pixel in bits 0 and 1.
            ([[3], [1], [0], [2]], 2, ("cropped", "pages", "plain"), "87"),
            # Level in the high bit, count less one: three of 1, one of 0, two of 1.
            # The first pixel in the low end; columns of two bytes where ten rows are one bit each.
            ([[3, 0, 1, 2, 3]], 2, ("cropped", "rows-low", "plain"), "93 03"),
            ([[1, 0], [1, 0], [0, 1], [1, 0]], 1, ("cropped", "pages-high", "plain"), "d0 20"),
            ([[1, 0]] + [[0, 1]] * 9, 1, ("cropped", "columns", "plain"), "80 00 7f c0"),
            ([[1, 0]] + [[0, 1]] * 9, 1, ("cropped", "columns-low", "plain"), "01 00 fe 03"),
            ([[1, 0]] + [[0, 1]] * 9, 1, ("cropped", "pages", "plain"), "01 fe 00 03"),
            ([[1, 1, 1], [0, 1, 1]], 1, ("cropped", "columns", "runs"), "80 00 83"),
            ([[1, 1, 1], [0, 1, 1]], 1, ("cropped", "rows", "runs"), "82 00 81"),
            # Down the columns: one 1, one 0, then four of 1.
            ([[1, 1, 1], [0, 1, 1]], 1, ("cropped", "pages", "runs"), "80 00 83"),
            # Four bits leave room for sixteen in a run: seventeen take two.
            ([[9] * 17], 4, ("cropped", "rows", "runs"), "9f 90"),
            # The cell holds the advance too, one column more.
            ([[1, 1], [1, 0]], 1, ("cell", "rows", "plain"), "c0 80"),
        ],
    )
    def test_bytes(self, levels, bits, way, data):
        assert pack(one(levels, bits), *way).pixels == bytes.fromhex(data)

    def test_what_is_the_same_for_all_stands_in_no_table(self):
        fixed = make(LetteringPlan(face="fixed-5x8", size_px=8, preset="basic"), Sources(1.0)).lettering
        cells = pack(fixed, "cell", "pages", "plain")
        assert cells.glyphs.columns == {}
        assert cells.glyphs.constants == {"width": 5, "height": 8, "left": 0, "top": 7, "advance": 5}
        # 95 cells of 5 columns and one range of code point, count and number, a byte each.
        assert (len(cells.pixels), cells.index_bytes, cells.flash_bytes) == (475, 3, 478)
        cropped = pack(fixed)
        assert "advance" in cropped.glyphs.constants

    def test_equal_glyphs_share_their_bytes(self):
        levels = np.ones((3, 4), np.uint8)
        twice = Lettering("twice", (Glyph(65, levels, 0, 3, 5), Glyph(66, levels, 1, 3, 6)), 3, 0)
        packed = pack(twice)
        assert (len(packed.pixels), packed.index["offset"], packed.shared) == (3, (0, 0), (False, True))


@pytest.mark.parametrize(
    ("form", "order"),
    [
        (IndexedFormat(1, "row", "msb", "rows", PLANES), "rows"), (IndexedFormat(1, "row", "lsb", "rows", PLANES), "rows-low"),
        (IndexedFormat(1, "column", "lsb", "pages", PLANES), "pages"), (IndexedFormat(1, "column", "msb", "pages", PLANES), "pages-high"),
        (IndexedFormat(1, "column", "msb", "columns", PLANES), "columns"), (IndexedFormat(1, "column", "lsb", "columns", PLANES), "columns-low"),
        (DirectFormat(16), "rows"),
    ],
)  # fmt: skip
def test_glyphs_follow_the_form_of_arrays_unless_the_plan_says_its_own(form, order):
    assert order_of("arrays", form) == order
    assert order_of("rows-low", form) == "rows-low"


class TestThereAndBack:
    @pytest.mark.parametrize("bits", [1, 2, 4])
    @pytest.mark.parametrize("way", EVERY_WAY, ids="-".join)
    def test_every_way_reads_back(self, bits, way):
        @settings(max_examples=30)  # of each of 72 ways
        @given(letterings(bits))
        def holds(lettering):
            assert reads_back(pack(lettering, *way))

        holds()

    @given(letterings(1), st.sampled_from(EVERY_WAY))
    def test_a_wrong_bit_is_noticed(self, lettering, way):
        packed = pack(lettering, *way)
        if not any(glyph.width for glyph in lettering.glyphs):
            return
        first = 0x80 if packed.high_first or packed.compression == "runs" else 0x01
        object.__setattr__(packed, "pixels", bytes([packed.pixels[0] ^ first]) + packed.pixels[1:])
        assert not reads_back(packed)


def run_c(tmp_path, header: bytes, word: str) -> tuple[np.ndarray, list[int]]:
    """Three texts drawn by the reader on three canvases, and what it says of itself: pens, bytes of tables."""
    upper = word.upper()
    (tmp_path / "p.h").write_bytes(header)
    text = header.decode()
    tables = [f"sizeof {word}_{what}" for what in ("ranges", "glyphs", "pairs", "pixels") if f" {word}_{what}[" in text]
    texts = ", ".join(json.dumps(t, ensure_ascii=False) for t in TEXTS)
    (tmp_path / "main.c").write_text(
        '#include <stdio.h>\n#include "p.h"\nstatic uint8_t canvas[3][30][200];\nstatic int line;\n'
        "static void put(int32_t x, int32_t y, uint8_t level, void *with)\n{\n    (void)with;\n"
        "    if (x >= 0 && x < 200 && y >= 0 && y < 30 && canvas[line][y][x] < level) canvas[line][y][x] = level;\n}\n"
        f'int main(void)\n{{\n    const char *texts[3] = {{{texts}}};\n    fprintf(stderr, "%d\\n", (int)({" + ".join(tables)}));\n'
        f'    for (line = 0; line < 3; line++) {{ fprintf(stderr, "%d\\n", (int){word}_draw(texts[line], 0, 0, 0, 0));'
        f" {word}_draw(texts[line], 2, 22, put, 0); }}\n"
        f'    fprintf(stderr, "%d\\n%d\\n", (int){word}_find(0x6F22), {upper}_ASCENT);\n'
        "    return fwrite(canvas, 1, sizeof canvas, stdout) == sizeof canvas ? 0 : 1;\n}\n"
    )
    flags = ["-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic"]
    subprocess.run(["gcc", *flags, "main.c", "-o", "show"], cwd=tmp_path, check=True)
    done = subprocess.run([tmp_path / "show"], capture_output=True, check=True)
    return np.frombuffer(done.stdout, np.uint8).reshape(3, 30, 200), [int(v) for v in done.stderr.split()]


class TestPrograms:
    @pytest.mark.parametrize(("bits", "way"), [*((b, EVERY_WAY[0]) for b in (1, 2, 4)), *((2, w) for w in EVERY_WAY[1::2])])
    def test_the_c_reader_draws_three_texts_as_the_core_does(self, bits, way, tmp_path):
        lettering = lettering_of(bits)
        assert lettering.kerning
        packed = pack(lettering, *way)
        canvas, told = run_c(tmp_path, c_header(packed), identifier(lettering.name))
        expected = np.zeros((3, 30, 200), np.uint8)
        pens = [draw_text(expected[line], lettering, 2, 22, text) - 2 for line, text in enumerate(TEXTS)]
        assert np.array_equal(canvas, expected)
        assert expected.max() == (1 << bits) - 1
        # The compiler's own count of the tables is what is said to lie in flash.
        assert told == [packed.flash_bytes, *pens, -1, lettering.ascent]

    def test_a_lettering_without_tables_compiles_and_draws(self, tmp_path):
        fixed = make(LetteringPlan(face="fixed-6x13", size_px=13, preset="western"), Sources(1.0)).lettering
        packed = pack(fixed, "cell", "rows", "plain")
        canvas, told = run_c(tmp_path, c_header(packed), identifier(fixed.name))
        expected = np.zeros((3, 30, 200), np.uint8)
        for line, text in enumerate(TEXTS):
            draw_text(expected[line], fixed, 2, 22, text)
        assert np.array_equal(canvas, expected)
        assert told[0] == packed.flash_bytes

    @pytest.mark.parametrize(("bits", "way"), list(itertools.product((1, 4), EVERY_WAY)))
    def test_the_python_module_draws_the_same(self, bits, way):
        lettering = lettering_of(bits)
        word = identifier(lettering.name)
        space: dict = {}
        exec(python_source(pack(lettering, *way)), space)
        canvas = np.zeros((30, 200), np.uint8)

        def put(x, y, level):
            canvas[y, x] = max(canvas[y, x], level)

        pen = space[f"{word}_draw"](TEXTS[2], 2, 22, put)
        expected = np.zeros((30, 200), np.uint8)
        assert pen == draw_text(expected, lettering, 2, 22, TEXTS[2])
        assert np.array_equal(canvas, expected)

    def test_json_and_sheet(self):
        lettering = lettering_of(1, preset="digits")
        packed = pack(lettering)
        told = json.loads(metrics(packed))
        assert [g["character"] for g in told["glyphs"]] == list("0123456789")
        assert told["flash_bytes"] == told["pixel_bytes"] + told["index_bytes"] + told["kerning_bytes"]
        sheet = np.asarray(Image.open(io.BytesIO(png_sheet(packed)))) == 0
        for entry, glyph in zip(told["glyphs"], lettering.glyphs, strict=True):
            x, y = entry["sheet_pen"]
            part = sheet[
                y - entry["top"] : y - entry["top"] + entry["height"], x + entry["left"] : x + entry["left"] + entry["width"]
            ]
            assert np.array_equal(part, glyph.levels == 1)
        assert sheet.sum() == sum(int(g.levels.sum()) for g in lettering.glyphs)

    def test_other_kinds_are_refused_with_the_known_ones(self):
        with pytest.raises(BadValueError, match=r"\.h, \.py, \.bdf, \.png, \.json are"):
            written(pack(lettering_of(1)), "otf")

    def test_names_cannot_close_a_comment(self):
        lettering = one([[1]], 1)
        object.__setattr__(lettering, "name", "tide */ int x; /*")
        text = c_header(pack(lettering)).decode()
        assert text.index("*/") > text.index("reader") if "reader" in text[: text.index("*/")] else "tide * / int" in text


class TestCommand:
    def run(self, words, capsys):
        from mosaic.cli.main import main

        status = main(["letter", *words])
        return status, capsys.readouterr()

    def test_a_font_and_its_bdf_give_the_same_arrays(self, tmp_path, capsys):
        (tmp_path / "face.woff2").write_bytes(FACES["mono"].data)
        outs = [str(tmp_path / f"face.{ending}") for ending in ("h", "bdf", "json")]
        words = [w for out in outs for w in ("--out", out)]
        status, said = self.run([str(tmp_path / "face.woff2"), "--size", "16", "--chars", "numbers", *words, "--json"], capsys)
        assert (status, json.loads(said.out)["glyphs"]) == (0, len(" 0123456789+-.,:%°/"))
        status, _ = self.run([outs[1], "--out", str(tmp_path / "again.json")], capsys)
        first, again = (json.loads((tmp_path / name).read_text()) for name in ("face.json", "again.json"))
        assert status == 0
        assert first["glyphs"] == again["glyphs"]

    def test_a_face_that_comes_along_is_taken_by_its_name(self, tmp_path, capsys):
        words = [
            "hyperlegible",
            "--size",
            "20",
            "--axis",
            "wght=700",
            "--order",
            "pages",
            "--runs",
            "--out",
            str(tmp_path / "x.h"),
        ]
        status, said = self.run(words, capsys)
        assert status == 0
        assert "may be embedded without limits" in said.out
        assert "down pages of 8 rows" in (tmp_path / "x.h").read_text()

    @pytest.mark.parametrize(
        ("words", "message"),
        [
            (["--chars", "digits"], "--size is missing"),
            (["--size", "16", "--threshold", "2"], "above 0 to 1"),
            (["--size", "16", "--chars", "漢"], "lacks every character asked for (漢)"),
            (["--size", "16", "--chars", "a漢"], "lacks 漢 (U+6F22)"),
            (["--size", "900"], "a whole number from 4 to 256"),
            (["--size", "16", "--axis", "bold"], "wght=600"),
        ],
    )
    def test_what_is_wrong_is_one_line(self, tmp_path, capsys, words, message):
        (tmp_path / "face.woff2").write_bytes(FACES["mono"].data)
        status, said = self.run([str(tmp_path / "face.woff2"), *words, "--out", str(tmp_path / "x.h")], capsys)
        assert (status, said.err.count("\n")) == (1, 1)
        assert message in said.err
        assert not (tmp_path / "x.h").exists()
