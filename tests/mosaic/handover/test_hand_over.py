"""A whole hand-over: the same bytes each time, compiled without a warning, every state equal, runs equal on the virtual panel."""

import io
import json
import re
import subprocess
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from mosaic.behaviour.recording import recorded
from mosaic.behaviour.state import Happening
from mosaic.behaviour.step import begin, step
from mosaic.build_file import DocumentOf, read
from mosaic.cli.main import main
from mosaic.errors import MosaicError
from mosaic.forms import from_record, to_record
from mosaic.handover import proof as proofs
from mosaic.handover.layout import FileLayout
from mosaic.handover.making import MARK, hand_over, manifest_file
from mosaic.handover.program import titles_of
from mosaic.handover.proof import prove
from mosaic.handover.proof import write as write_files
from mosaic.panels.loader import catalogue
from tests.mosaic.handover.made_up import build, renamed

EXAMPLES = sorted((Path(__file__).parents[3] / "examples" / "builds").glob("*.zip"))
BY_SIZE = sorted(catalogue().values(), key=lambda one: -one.glass.width_px * one.glass.height_px)
FAMILIES = list({passport.controller.family: passport.slug for passport in BY_SIZE}.values())
"""The smallest panel of each."""
TURNS = (0, 90, 180, 270)


@pytest.fixture
def in_c_alone(monkeypatch):
    """Where C is what is looked at, the same in Python is left out."""
    monkeypatch.setattr(proofs, "MOST_PYTHON", 0)


@pytest.mark.parametrize("path", EXAMPLES, ids=lambda path: path.stem)
def test_each_build_of_the_demo_is_proved(path, tmp_path):
    data = path.read_bytes()
    made = hand_over(read(data))
    assert not made.left
    found = prove(made)
    assert found.is_right, found
    assert found.states == len(made.looks) >= 14
    again = hand_over(read(data))
    assert [(one.path, one.data) for one in again.files] == [(one.path, one.data) for one in made.files]
    assert manifest_file(again.manifest(data)) == manifest_file(made.manifest(data))
    names = [one.path.lower() for one in made.files]
    assert len(set(names)) == len(names)
    previews = {one.path for one in made.files if one.path.startswith("previews/")}
    assert previews == {f"previews/{look.path}.png" for look in made.looks}


def test_there_are_five_examples_and_all_families():
    assert len(EXAMPLES) == 5
    assert len(FAMILIES) == len({one.controller.family for one in catalogue().values()}) > 12


@pytest.mark.parametrize("slug", FAMILIES)
def test_one_build_on_each_family_of_panel(slug):
    number = FAMILIES.index(slug)
    turn, change = TURNS[number % 4], ("slide", "cut", "wipe")[number % 3]
    made = hand_over(build(slug, rotation=turn, mirrored=number % 5 == 0, change=change))
    assert not made.left
    found = prove(made)
    assert found.is_right, found
    assert found.runs[0].steps > 8
    if not found.python_why:  # glass of very many pixels is not drawn in Python here
        assert (found.python_states, len(found.runs)) == (found.states, 2)
    assert {look.screen for look in made.looks} == {"tide", "screen_draw", "still"}


@pytest.mark.parametrize(
    ("slug", "bands"), [("mono-oled-128x64", 4), ("tft-128x160-16bit", 0), ("tft-128x160-16bit", 5), ("tft-128x160-12bit", 3)]
)
def test_bands_and_no_buffer(slug, bands, in_c_alone):
    assert prove(hand_over(build(slug, buffer_bands=bands, change="slide"))).is_right


def test_a_wrong_byte_is_found(in_c_alone):
    """One bit of the packing in panel.h seeded wrong: the glass is another one from the first step on."""
    made = hand_over(build("mono-oled-128x64"))
    for number, one in enumerate(made.files):
        if one.path == "src/panel.h":
            made.files[number] = type(one)(
                one.path, one.data.replace(b"128, rows, top, 1, 0, 3, 0,", b"128, rows, top, 1, 0, 3, 1,"), one.role
            )
            assert made.files[number].data != one.data
    found = prove(made)
    assert (found.compiled, found.is_right) == (True, False)
    assert found.runs[0].wrong_at == 0
    assert not found.wrong_states  # the drawing itself is right


def test_a_wrong_screen_is_found(in_c_alone):
    made = hand_over(build("mono-oled-128x64"))
    for number, one in enumerate(made.files):
        if one.path == "src/still.c":
            made.files[number] = type(one)(one.path, one.data.replace(b"3, 3, 23, 9", b"3, 3, 22, 9"), one.role)
    found = prove(made)
    assert found.wrong_states == ("still/typical",)


def test_a_wrong_program_in_python_is_found():
    made = hand_over(build("mono-oled-128x64"))
    for number, one in enumerate(made.files):
        if one.path == "python/panel.py":
            made.files[number] = type(one)(
                one.path, one.data.replace(b"b.write(buf[start + row * ay", b"b.write(buf[start + row * ay + 1"), one.role
            )
            assert made.files[number].data != one.data
    found = prove(made)
    assert (found.python_states, found.is_right) == (found.states, False)
    assert [run.is_right for run in found.runs] == [True, False]


def test_no_compiler_is_told(monkeypatch):
    monkeypatch.setattr(proofs, "compiler", lambda: None)
    found = prove(hand_over(build("mono-oled-128x64")))
    assert (found.compiled, found.is_right) == (False, False)
    assert "no C compiler" in found.why


def test_the_folder_stands_by_itself(tmp_path):
    """make states, make board, and the same as C++, with nothing but what was handed over."""
    made = hand_over(build("tft-128x160-16bit", rotation=90))
    write_files(made.files, tmp_path)
    done = subprocess.run(["make", "states", "board"], cwd=tmp_path, capture_output=True, check=True)
    assert b"warning" not in done.stderr
    for look in made.looks:
        drawn = np.asarray(Image.open(tmp_path / "states" / f"{look.path}.ppm"))
        assert np.array_equal(drawn, np.asarray(Image.open(tmp_path / "previews" / f"{look.path}.png").convert("RGB")))
    for source in sorted((tmp_path / "src").glob("*.c")):
        words = ["g++", "-x", "c++", "-std=c++11", *proofs.WARNINGS, "-Isrc", "-c", str(source), "-o", "/dev/null"]
        subprocess.run(words, cwd=tmp_path, check=True)


def test_names_that_programs_cannot_have():
    file = renamed(renamed(build("mono-oled-128x64"), "screen-1", "while"), "screen-3", "Größe 7 / Uhr")
    made = hand_over(file)
    assert {look.screen for look in made.looks} == {"while_screen", "screen_draw", "grosse_7_uhr"}
    assert prove(made).is_right
    same = hand_over(renamed(build("mono-oled-128x64"), "screen-1", "STILL"))
    assert len({look.screen for look in same.looks}) == 3
    assert prove(same).is_right


def test_changing_one_letter_changes_what_it_should():
    file = build("mono-oled-128x64")
    before = hand_over(file)
    documents = tuple(
        replace(one, description=json.loads(json.dumps(one.description).replace('"p {v4}"', '"q {v4}"')))
        if one.ref == "screen-2"
        else one
        for one in file.build.documents
    )
    changed = hand_over(replace(file, build=replace(file.build, documents=documents)))
    old = {one.path: one.sha256 for one in before.files}
    paths = {one.path for one in changed.files if old.get(one.path) != one.sha256}
    assert paths == {"src/screen_draw.c", "python/screen_draw.py"} | {p for p in old if p.startswith("previews/screen_draw/")}


def test_the_command_writes_a_folder_and_keeps_what_is_the_makers(tmp_path, capsys):
    out, path = tmp_path / "out", str(EXAMPLES[0])
    assert main(["hand-over", path, "--out", str(out), "--json"]) == 0
    first = json.loads(capsys.readouterr().out)
    assert not first["changed"]
    assert "main.c" in first["new"]
    manifest = json.loads((out / "manifest.json").read_text())
    assert {one["path"] for one in manifest["files"]} == set(first["new"])
    (out / "main.c").write_text("/* mine */\n")
    (out / "notes.txt").write_text("mine too\n")
    assert main(["hand-over", path, "--out", str(out), "--json"]) == 0
    second = json.loads(capsys.readouterr().out)
    assert (second["kept"], second["new"], second["changed"]) == (
        ["board.c", "main.c", "python/board.py", "python/main.py"],
        [],
        [],
    )
    assert (out / "main.c").read_text() == "/* mine */\n"
    assert (out / "notes.txt").read_text() == "mine too\n"
    source = out / "src" / "app.c"
    assert source.read_text().startswith(f"/* {MARK} */\n")
    source.write_text(source.read_text() + "/* edited */\n")
    assert main(["hand-over", path, "--out", str(out)]) == 1
    said = capsys.readouterr().err
    assert "src/app.c was changed by hand" in said
    assert "--force" in said
    assert source.read_text().endswith("/* edited */\n")
    assert main(["hand-over", path, "--out", str(out), "--force"]) == 0
    assert "edited" not in source.read_text()
    # what is not made any more goes, unless somebody changed it
    other = str(EXAMPLES[1])
    assert main(["hand-over", other, "--out", str(out), "--json"]) == 0
    told = json.loads(capsys.readouterr().out.splitlines()[-1])
    assert told["gone"]
    assert not any((out / gone).exists() for gone in told["gone"])
    (out / "manifest.json").write_text("{}")
    assert main(["hand-over", path, "--out", str(out)]) == 1
    assert "no hand-over" in capsys.readouterr().err


def test_titles():
    parts = hand_over(build("mono-oled-128x64")).project.of("screen")
    assert titles_of(parts, ("draw",)) == {"screen-1": "Tide", "screen-2": "screen_draw", "screen-3": "Still"}


def test_a_screen_of_a_build_file_is_rendered_as_it_is_previewed(tmp_path):
    path = next(one for one in EXAMPLES if one.stem == "sign_out_panel")
    made = hand_over(read(path.read_bytes()))
    names = {part.name: titles_of([part], ())[part.ref] for part in made.project.of("screen")}
    for name in names:
        out = tmp_path / "frame.png"
        assert main(["render", str(path), "--screen", name, "--out", str(out)]) == 0
        meant = next(one.data for one in made.files if one.path.lower() == f"previews/{name.lower()}/typical.png")
        assert np.array_equal(
            np.asarray(Image.open(out).convert("RGB")), np.asarray(Image.open(io.BytesIO(meant)).convert("RGB"))
        )


def test_the_plan_of_a_build_on_the_command_line(capsys):
    path = next(one for one in EXAMPLES if one.stem == "tide_wind_board")
    assert main(["plan", str(path), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    budgets = {one["name"]: one for one in told["budgets"]}
    assert 9472 in [part["value"] for part in budgets["ram"]["parts"]]  # 296 x 128 pixels of 2 bits
    assert told["worst_step"]["refresh_ms"] > 1000
    assert told["schedule"]["length_ms"] == 86_400_000
    assert told["schedule"]["bytes"] >= told["schedule"]["drawings"] * 9472
    assert round(sum(part["value"] for part in budgets["energy"]["parts"]), 1) == round(told["energy"]["mwh_a_day"], 1)
    assert main(["plan", str(path)]) == 0
    assert "the cell lasts" in capsys.readouterr().out
    assert main(["plan", __file__]) == 1
    assert "no build file" in capsys.readouterr().err


def with_document(file, kind, record):
    """The build with one document more."""
    one = DocumentOf(f"{kind}-1", kind, kind.capitalize(), from_record(record), position=99)
    return replace(file, build=replace(file.build, documents=(*file.build.documents, one)))


def test_arrays_as_the_maker_wants_them(tmp_path):
    usual = hand_over(build("mono-oled-128x64"))
    made = hand_over(with_document(build("mono-oled-128x64"), "layout", FileLayout("ui_", 7, True)))
    arrays = [one for one in made.files if one.path.startswith("arrays/")]
    assert [one.path for one in arrays] == ["arrays/arrays.h"]
    text = arrays[0].data.decode()
    lines = [line for line in text.splitlines() if line.strip().startswith("0x")]
    assert {line.count("0x") for line in lines[:5]} == {7}
    assert "ui_small" in text
    plain = next(one.data.decode() for one in usual.files if one.path == "arrays/small.h")
    known = [re.findall("0x[0-9A-F]{2}", part) for part in (plain, text)]
    assert known[0] == known[1]
    (tmp_path / "arrays.h").write_text(text)
    (tmp_path / "main.c").write_text(
        '#include "arrays.h"\n#include "arrays.h"\nint main(void) { return ui_small_pixels[0] == 255; }\n'
    )
    subprocess.run(["gcc", "-std=c99", "-Wall", "-Werror", "-Wno-unused", "main.c", "-o", "main"], cwd=tmp_path, check=True)


def test_kept_runs_become_tests_of_the_hand_over():
    file = build("mono-oled-128x64")
    machine = hand_over(file).project.machine
    happened = (
        (300, Happening("reading", 0, 33)),
        (600, Happening("pin", 0, 0)),
        (700, Happening("time")),
        (1800, Happening("time")),
    )
    state, told = begin(machine)
    told = [(0, effect) for effect in told]
    for now, one in happened:
        state, effects = step(machine, state, one, now)
        told += [(now, effect) for effect in effects]
    kept = recorded(machine, happened, tuple(told))
    assert kept.told
    found = prove(hand_over(with_document(file, "recording", kept)))
    assert (found.kept_runs, found.is_right) == ((("run_recording", True),), True)
    assert [run.name for run in found.runs] == ["everything once", "Recording", "everything once, in Python"]


@pytest.mark.parametrize("prefix", ["7_", "a-b", "x" * 17, "é"])
def test_prefixes_that_no_name_can_have(prefix):
    with pytest.raises(MosaicError, match="letters"):
        to_record({"prefix": prefix}, FileLayout, "layout")
