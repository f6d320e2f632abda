"""Recipes by name, for one picture or for a set of them; and the command line that does the same as the page."""

import shlex
from typing import Any

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.exports.result import file_title
from mosaic.forms import from_record
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from mosaic.reduce.recipe import Recipe, recipe_to_plain
from mosaic.source_text import identifier
from workshop.documents.names import checked_name
from workshop.pictures.documents import Picture
from workshop.pictures.models import SavedRecipe

MAX_RECIPES = 200
MOST_SETTINGS = 8
"""With more than this many fields changed, the command line is shorter with a file."""


def save_as(*, owner, name: str, recipe: Recipe) -> SavedRecipe:
    """Keep a recipe by name; one of the same name is replaced.

    Raises
    ------
    BadValueError
        The name is empty or too long, or there are too many recipes.
    """
    name = checked_name(name, "the recipe's name")
    if owner.recipes.exclude(name=name).count() >= MAX_RECIPES:
        raise BadValueError(f"you keep {MAX_RECIPES} recipes, which is the most; delete one first")
    plain = recipe_to_plain(recipe.without_places())
    SavedRecipe.everything.filter(owner=owner, name=name).exclude(removed=None).delete()  # its name is wanted again
    saved, _ = SavedRecipe.objects.update_or_create(owner=owner, name=name, defaults={"recipe": plain})
    return saved


def command_of(picture: Picture, recipe: Recipe, device: Device, slug: str, endings: tuple[str, ...]) -> dict[str, Any]:
    """The command that gives the same files as the page, word by word, and the files it needs beside the picture."""
    known = catalogue().get(slug) if slug in catalogue() else None
    needs = []
    panel = slug
    if known is None or known != device.passport:
        panel = "passport.json"
        needs.append("passport")
    words = ["bin/mosaic", "convert", picture.file_name, "--panel", panel, "--rotation", str(device.rotation)]
    words += ["--mirrored"] if device.mirrored else []
    words += ["--distance", f"{device.viewing_distance_mm:g}"]
    words += [] if file_title(picture.file_name) == picture.name else ["--name", picture.name]
    plain = Recipe()
    changed = {k: v for k, v in from_record(recipe).items() if k != "form" and v != from_record(plain)[k]}
    if len(changed) > MOST_SETTINGS or {"regions", "pixel_edits"} & changed.keys():
        words += ["--recipe", "recipe.json"]
        needs.append("recipe")
    else:
        if "method" in changed:
            words += ["--method", changed.pop("method")]
        for name, value in changed.items():
            words += ["--set", f"{name}={_as_text(value)}"]
    if sending_of(device):
        words += ["--sending", "sending.json"]
        needs.append("sending")
    name = identifier(picture.name)
    for ending in endings:
        words += ["--out", f"{name}.{ending}"]
    return {"words": words, "text": shlex.join(words), "needs": needs}


def _as_text(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, list):
        return ",".join(value)
    return f"{value:g}" if isinstance(value, float) and float(f"{value:g}") == value else str(value)


def sending_of(device: Device) -> dict[str, Any]:
    """How arrays are taken and tables kept, as the command needs it; empty where nothing differs from what it does anyway."""
    asked = Sending(array=device.sending.array, tables=device.board.tables)
    return from_record(asked) if asked != Sending() else {}
