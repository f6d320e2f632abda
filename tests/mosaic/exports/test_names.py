"""Names that makers give: whatever they are, every file of C compiles in C and C++, and every file of Python runs."""

import ast
import subprocess
from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.animation.files import c_header as animation_header
from mosaic.animation.making import MadeAnimation, MadeFrame
from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Device
from mosaic.exports.registry import export
from mosaic.exports.touch import touch_c
from mosaic.lettering.files import python_source as lettering_python
from mosaic.lettering.files import written
from mosaic.lettering.packing import pack
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import Rect
from mosaic.reduce.recipe import Recipe
from mosaic.source_text import comment, distinct, identifier
from mosaic.strips.cells import Cell
from mosaic.strips.files import c_header as cells_header
from mosaic.strips.files import python_source as cells_python
from mosaic.tables import TableStyle
from mosaic.touch.fit import crosses, fit
from mosaic.wiring.plan import PinPlan
from mosaic.wiring.proposal import propose
from mosaic.wiring.signals import Signal, signals_of
from mosaic.wiring.sources import c_header as pins_header
from mosaic.wiring.sources import python_module
from tests.mosaic.exports.test_exports import MONO, result_for
from tests.mosaic.lettering.letters import face

NASTY = [
    "main", "uint8_t", "printf", "new", "class", "template", "int8", "size", "and", "co_await", "lambda", "match", "None", "len",
    "a /* b */ c // d \\", '"""', "7 boats", "", "ä", "Tide\nmark", "??/", "x" * 80, "y0", "register", "if", "TRUE",
]  # fmt: skip
MACROS = "#include <stdint.h>\n#define FLASH\n#define flash_byte(address) (*(const uint8_t *)(address))\n"
STYLES = (TableStyle(), TableStyle("FLASH", "flash_byte", "flash_tables.h"))
INCLUDES = "".join(
    f"#include <{name}>\n" for name in ("stdio.h", "stdlib.h", "string.h", "math.h", "time.h", "limits.h", "unistd.h")
)


def device(style: TableStyle) -> Device:
    board = replace(boards()["small"], tables=style)
    return Device(catalogue()[MONO], 0, board, "i2c", 400_000, wiring=propose(catalogue()[MONO], board, "i2c").plan)


def cells(names):
    ink = np.ones((3, 5), bool)
    return tuple(Cell(name, ink.astype(np.uint8), ink, 0, 3, 6) for name in names)


def headers(name: str, style: TableStyle) -> dict[str, bytes]:
    """Every C file that is made of a name."""
    to = device(style)
    result = replace(result_for(MONO, name), tables=style, coverage=np.ones((64, 128), bool))
    places = [(float(x), float(y)) for x, y in crosses(320, 240)]
    made = MadeAnimation(
        (MadeFrame(np.zeros((64, 128), np.uint8), Rect(0, 0, 8, 8), bytes(8), 8, Fraction(1, 100), 100.0),), 0.0, 0.0
    )
    letters = replace(face(), name=name)
    return {
        "picture": export(result, "h"),
        "packbits": export(replace(result, recipe=Recipe(compression="packbits")), "h"),
        "runs": export(replace(result, recipe=Recipe(compression="run-length")), "h"),
        "cells": cells_header(name, cells([name, name, "other"]), to),
        "animation": animation_header(name, made, to),
        "lettering": written(pack(letters), "h", style),
        "touch": touch_c(fit(places, places), 320, 240, name).encode(),
        "pins": pins_header(to.wiring, signals_of(to.passport, "i2c"), name).encode(),
    }


@pytest.mark.parametrize("style", STYLES, ids=["plain", "own qualifier"])
def test_every_header_compiles_in_c_and_cpp(tmp_path, style):
    (tmp_path / "flash_tables.h").write_text(MACROS)
    texts: dict[str, dict[str, str]] = {}
    for number, name in enumerate(NASTY):
        for kind, text in headers(name, style).items():
            # Headers of one name cannot stand beside each other; of the others all of a kind stand in one file.
            unit = f"{kind}_{number}" if kind in ("touch", "pins") else kind
            guard = next(line for line in text.decode().splitlines() if line.startswith("#ifndef"))
            texts.setdefault(unit, {})[guard] = f"{kind}_{number}.h"
            (tmp_path / f"{kind}_{number}.h").write_bytes(text)
    for unit, included in texts.items():
        library = "" if unit.startswith(("touch", "pins")) else INCLUDES
        lines = "".join(f'#include "{header}"\n' for header in included.values())
        (tmp_path / f"{unit}.c").write_text(f"{library}{lines}int used_{unit}(void);\nint used_{unit}(void) {{ return 0; }}\n")
    common = ["-Wall", "-Wextra", "-Werror", "-Wno-unused", "-fsyntax-only", "-I", "."]
    sources = [f"{unit}.c" for unit in texts]
    subprocess.run(["gcc", "-std=c99", "-pedantic", *common, *sources], cwd=tmp_path, check=True)
    subprocess.run(["g++", "-x", "c++", "-std=c++20", *common, *sources], cwd=tmp_path, check=True)


@pytest.mark.parametrize("name", NASTY)
def test_every_python_file_is_python(name):
    to = device(TableStyle())
    letters = replace(face(), name=name)
    for text in (
        export(result_for(MONO, name), "py"), cells_python(name, cells([name, name]), to), lettering_python(pack(letters)),
        python_module(to.wiring, signals_of(to.passport, "i2c"), name),
    ):  # fmt: skip
        ast.parse(text)
    told: dict = {}
    exec(cells_python(name, cells([name, name, "other"]), to), told)
    assert len(told[f"{identifier(name, 'cells')}_cells"]) == 3  # none of two equal names is lost


def test_two_cells_of_one_constant_are_both_there():
    text = cells_header("Marks", cells(["Low tide", "low-tide", "LOW TIDE", "cells", "h"]), device(TableStyle())).decode()
    for constant, number in (("LOW_TIDE", 0), ("LOW_TIDE_2", 1), ("LOW_TIDE_3", 2), ("CELLS_2", 3), ("H_2", 4)):
        assert f"#define MARKS_{constant} {number}u\n" in text
    assert "/* 1: low-tide, MARKS_LOW_TIDE_2 */" in text


def test_two_lines_of_one_constant_are_both_there():
    signals = (Signal("D/C", "data/command", "must"), Signal("D-C", "reset", "must"), Signal("#", "busy", "must"))
    plan = PinPlan().with_wire("D/C", "D4").with_wire("D-C", "D5").with_wire("#", "D6")
    names = [line.split()[1] for line in pins_header(plan, signals, "x").splitlines() if line.startswith("#define PANEL_")]
    assert names == ["PANEL_PINS_H", "PANEL_D_C", "PANEL_D_C_2", "PANEL_LINE"]


@given(st.text(max_size=40))
def test_any_name_makes_an_identifier_and_a_comment(name):
    word = identifier(name)
    assert word.isidentifier()
    assert word.isascii()
    assert word == word.lower()
    line = comment(name)
    for sign in ("*/", "/*", '"""', "'''", "\n", "\\", "??"):
        assert sign not in line
    ast.parse(f'"""{line}: x"""\n# {line}\n')


@given(st.lists(st.sampled_from(["a", "b", "a_2", "a_3"]), max_size=8))
def test_distinct_names_keep_their_order_and_their_beginning(names):
    made = distinct(names)
    assert len(set(made)) == len(names)
    assert all(new.startswith(old) for new, old in zip(made, names, strict=True))
