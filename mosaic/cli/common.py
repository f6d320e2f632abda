"""What several commands share: options, and reading what they name."""

import argparse
import json
from pathlib import Path
from typing import Any

from mosaic.errors import BadValueError
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue, passport_from_json
from mosaic.panels.passport import ROTATIONS, Passport
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe, field_from_text, recipe_from_json


def add_panel(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--panel", required=True, metavar="SLUG|PASSPORT.json", help="a panel of the catalogue, or a passport file"
    )
    parser.add_argument("--rotation", type=int, choices=ROTATIONS, help="degrees clockwise; the panel's usual one if left out")
    parser.add_argument("--mirrored", action="store_true", help="left and right exchanged: see-through glass from behind")


def add_json(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--json", action="store_true", help="one JSON object or list instead of words")


def add_recipe(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--recipe", metavar="FILE", help="a recipe in JSON to begin with")
    parser.add_argument("--method", help="a reduction method; `mosaic methods` lists them")
    parser.add_argument("--set", action="append", default=[], metavar="NAME=VALUE", help="a recipe field; may be repeated")


def panel_of(arguments: argparse.Namespace) -> tuple[Passport, Orientation]:
    """The passport that was named, and how it lies."""
    name = arguments.panel
    passport = passport_from_json(Path(name).read_bytes()) if name.endswith(".json") else catalogue()[name]
    rotation = passport.rotation if arguments.rotation is None else arguments.rotation
    return passport, Orientation(rotation, arguments.mirrored)


def recipe_of(arguments: argparse.Namespace) -> Recipe:
    """The recipe made of a file, --method and --set, in this order."""
    recipe = recipe_from_json(Path(arguments.recipe).read_bytes()) if arguments.recipe else Recipe()
    changes: dict[str, Any] = {}
    if arguments.method:
        changes["method"] = METHODS[arguments.method].name
    for pair in arguments.set:
        name, equals, value = pair.partition("=")
        if not equals:
            raise BadValueError(f"--set {pair!r} is not of the form NAME=VALUE")
        changes[name] = field_from_text(name, value)
    recipe = recipe.with_changes(**changes)
    METHODS[recipe.method]  # an unknown method in a file or --set is told now, with the known ones
    return recipe


def print_json(value: Any) -> None:
    print(json.dumps(value, indent=2))
