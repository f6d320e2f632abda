"""What the documents say is true: schemas are current and fit, links lead somewhere, figures are there."""

import json
import re
from pathlib import Path

import jsonschema
import pytest

from mosaic.boards.board import board_to_plain
from mosaic.boards.board import catalogue as boards
from mosaic.exports.registry import EXPORTERS, export
from mosaic.forms import from_record
from mosaic.lettering.plan import GlyphEdit, LetteringPlan
from mosaic.panels.loader import catalogue, passport_to_plain
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe, recipe_to_plain
from mosaic.schemas import RECORDS, text_of
from tests.mosaic.exports.test_exports import result_for

ROOT = Path(__file__).resolve().parent.parent
FORMATS = ROOT / "docs" / "formats"


def check(name: str, value: object) -> None:
    schema = json.loads((FORMATS / f"{name}.schema.json").read_text())
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.Draft202012Validator(schema).validate(value)


@pytest.mark.parametrize("name", RECORDS)
def test_published_schemas_are_current(name):
    assert (FORMATS / f"{name}.schema.json").read_text() == text_of(name), "run python -m mosaic.schemas"


def test_our_own_values_fit_them():
    for panel in catalogue().values():
        check("passport", json.loads(json.dumps(passport_to_plain(panel))))
    for board in boards().values():
        check("board", board_to_plain(board))
    check("recipe", recipe_to_plain(Recipe()))
    check("lettering", from_record(LetteringPlan().with_edit(GlyphEdit(65, 16.0, pixels=((3, 4, 15),)))))
    schema = json.loads((FORMATS / "result.schema.json").read_text())
    schema["properties"]["recipe"] = {"type": "object"}  # its own schema has been checked above
    jsonschema.validate(json.loads(export(result_for("mono-oled-128x64"), "json")), schema)


@pytest.mark.parametrize(
    ("name", "change"), [("recipe", {"exposure": 9}), ("recipe", {"nothing": 1}), ("passport", {"glass": {}})]
)
def test_wrong_values_do_not(name, change):
    plain = recipe_to_plain(Recipe()) if name == "recipe" else passport_to_plain(catalogue()["mono-oled-128x64"])
    with pytest.raises(jsonschema.ValidationError):
        check(name, {**plain, **change})


def test_every_link_in_the_documents_leads_somewhere():
    broken = []
    for page in [ROOT / "README.md", *(ROOT / "docs").rglob("*.md")]:
        for target in re.findall(r"\]\(([^)#]+?)(?:#[^)]*)?\)", page.read_text()):
            if "://" not in target and not (page.parent / target).exists():
                broken.append(f"{page.name}: {target}")
    assert not broken


def test_methods_and_files_are_all_described():
    text = (ROOT / "docs" / "formats.md").read_text() + (ROOT / "docs" / "methods.md").read_text()
    assert all(f"`{name}`" in text for name in METHODS)
    assert all(f"`.{ending}`" in text for ending in EXPORTERS)
