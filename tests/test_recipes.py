"""The recipes of docs/ are followed: a made-up method, panel, kind of file, finding, element, calculator, each by its one entry.

A made-up station and kind of document stand in tests/workshop/test_stations.py.
"""

import shutil
from dataclasses import replace

import numpy as np

from mosaic.cli.main import main
from mosaic.conversion.driving import drive
from mosaic.desk.calculator import Answer, Bars, Calculator, Field, Figure, whole
from mosaic.desk.desk import CALCULATORS
from mosaic.exports.registry import EXPORTERS
from mosaic.exports.result import Exporter
from mosaic.findings import Finding
from mosaic.findings.rules import DEVICE_RULES, device_findings
from mosaic.panels import loader
from mosaic.panels.passport import Passport
from mosaic.reduce.methods import METHODS
from mosaic.reduce.threshold import THRESHOLD
from mosaic.screens.kinds import KINDS
from tests.conftest import gradient, png_of
from tests.mosaic.screens.test_elements import map_of


def added(monkeypatch, registry, name, member):
    """A registry with an entry more, as a line of its file would give it."""
    monkeypatch.setitem(registry._members, name, member)


def converted(tmp_path, *words):
    """A picture through the command line; its bytes."""
    source, out = tmp_path / "slip.png", tmp_path / "slip.bin"
    source.write_bytes(png_of(gradient(64, 128)))
    assert main(["convert", str(source), "--panel", "mono-oled-128x64", *words, "--out", str(out)]) == 0
    return out.read_bytes()


def test_a_method(monkeypatch, tmp_path, capsys):
    dark = replace(THRESHOLD, name="always-dark", tone=lambda task, recipe: np.zeros(task.values.shape[:2], np.uint8))
    added(monkeypatch, METHODS, "always-dark", dark)
    assert converted(tmp_path, "--method", "always-dark") == bytes(1024)
    capsys.readouterr()
    assert main(["methods"]) == 0
    assert "always-dark" in capsys.readouterr().out


def test_a_panel(monkeypatch, tmp_path):
    """A file of five lines beside the one it differs from in little; it is driven from reset."""
    for path in loader.FOLDER.glob("*.toml"):
        shutil.copy(path, tmp_path / path.name)
    lines = ('base = "mono-oled-128x64"', 'name = "OLED 96x32, made up"', "[glass]", "width_px = 96", "height_px = 32")
    (tmp_path / "mono-oled-96x32-made-up.toml").write_text("\n".join(lines) + "\n")
    found = loader.load(tmp_path, Passport, "panel")["mono-oled-96x32-made-up"]
    assert (found.glass.width_px, found.glass.height_px, found.frame_bytes) == (96, 32, 384)
    assert drive(found).verified


def test_a_kind_of_file(monkeypatch, tmp_path):
    turned = Exporter("rev", "Bytes from the last to the first", "application/octet-stream",
                      lambda result: result.stored[::-1], lambda data, result: data[::-1] == result.stored)  # fmt: skip
    added(monkeypatch, EXPORTERS, "rev", turned)
    plain = converted(tmp_path)
    out = tmp_path / "slip.rev"
    words = ["convert", str(tmp_path / "slip.png"), "--panel", "mono-oled-128x64", "--out", str(out)]
    assert main(words) == 0
    assert out.read_bytes() == plain[::-1]
    added(monkeypatch, EXPORTERS, "rev", replace(turned, check=lambda data, result: False))
    out.unlink()
    assert main(words) == 1  # what does not read back is not given out
    assert not out.exists()


def test_a_finding(tide_board):
    """A function from a subject, and a line: it is listed with the others, worst first."""
    from mosaic.device.budget import Content, budgets
    from mosaic.findings.subjects import DeviceSubject
    from mosaic.panels.wire import frame_parts

    def wet(subject):
        return [Finding("place.wet", "must fix", "Place", f"{subject.device.passport.name} stands in the rain", "Water gets in.")]

    parts = frame_parts(tide_board.passport, 0, bytes(tide_board.passport.frame_bytes))
    subject = DeviceSubject(tide_board, budgets(tide_board, Content((), parts, 0.0)))
    before = device_findings(subject)
    found = device_findings(subject, (*DEVICE_RULES, wet))
    assert len(found) == len(before) + 1
    mine = next(one for one in found if one.id == "place.wet")
    assert all(one.severity == "must fix" for one in found[: found.index(mine)])


def test_an_element(monkeypatch):
    """An entry with its sentence and what draws it: a screen with it is placed and drawn."""
    rectangle = KINDS["rectangle"]
    added(monkeypatch, KINDS, "buoy", replace(rectangle, name="buoy", begin="a buoy"))
    assert map_of("buoy", 9, 5) == map_of("rectangle", 9, 5) != map_of("line", 9, 5)


def test_a_calculator(monkeypatch):
    def answer(values):
        count = whole(values, "boats") * 2
        return Answer(f"{count} oars.", (Figure("oars", str(count)),), "two a boat", Bars((("oars", count, str(count)),)))

    oars = Calculator(
        "oars", "Oars", "How many oars?", (Field("boats", "Boats", "3", kind="whole", most=99),), answer, "log", "Log"
    )
    added(monkeypatch, CALCULATORS, "oars", oars)
    assert CALCULATORS["oars"].answer({"boats": "4"})[0].sentence == "8 oars."
    assert CALCULATORS["oars"].answer({"boats": "100"})[1]["boats"].endswith("from 0 to 99 is accepted")
