"""Recipes by name and as files, and the command line."""

import json

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.exports.registry import EXPORTERS
from mosaic.numbers import row_id
from mosaic.reduce.recipe import Recipe, recipe_from_json
from mosaic.source_text import identifier
from workshop.answers import attachment
from workshop.builds.models import Build
from workshop.documents.pages import base_of
from workshop.pictures import recipes, services
from workshop.pictures.documents import Picture
from workshop.pictures.models import SavedRecipe
from workshop.pictures.reports import report_of
from workshop.pictures.tabs import tabs_of
from workshop.pictures.views import own_picture
from workshop.removal import tell_removed
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

MOST_RECIPE_BYTES = 1_000_000


def page(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Recipes kept, the one of this picture as a file, and the command that does the same."""
    build, shown = own_picture(request, build_id, picture_id)
    device, recipe = build.to_device(), shown.record
    endings = tuple(e.ending for e in EXPORTERS.values() if e.ending in ("bin", "h", "png"))
    context = {
        **frame_context(overview_of(build), "pictures"),
        "tabs": tabs_of(build, "recipes", shown),
        "picture": shown,
        "recipe": recipe,
        "changed": changed_words(recipe),
        "saved": [(row, changed_words(row.record)) for row in request.user.recipes.all()],
        "command": recipes.command_of(shown, recipe, device, build.passport_slug, endings),
    }
    return render(request, "pictures/recipes.html", context)


def changed_words(recipe: Recipe) -> list[tuple[str, str]]:
    """The fields in which a recipe differs from the plain one, and their values in words."""
    plain = Recipe()
    found = []
    for name in (n for n in plain.__dataclass_fields__ if n != "form"):
        value = getattr(recipe, name)
        if value == getattr(plain, name):
            continue
        words = f"{len(value)}" if name in ("regions", "pixel_edits") else ", ".join(value) if isinstance(value, tuple) else value
        found.append((name.replace("_", " "), "yes" if value is True else "no" if value is False else str(words)))
    return found


def _json_file(value: dict, name: str) -> HttpResponse:
    return attachment(json.dumps(value, indent=2) + "\n", name, "application/json")


def take(request: HttpRequest, build_id: int, picture_id: int, what: str) -> HttpResponse:
    """A file that the command needs beside the picture: recipe, passport or the form of arrays."""
    build, shown = own_picture(request, build_id, picture_id)
    if what == "recipe":
        return _json_file(shown.description, "recipe.json")
    if what == "passport":
        return _json_file(build.passport, "passport.json")
    return _json_file(recipes.sending_of(build.to_device()), "sending.json")


def take_saved(request: HttpRequest, build_id: int, recipe_id: int) -> HttpResponse:
    """A saved recipe as a file."""
    row = get_object_or_404(SavedRecipe, pk=recipe_id, owner=request.user)
    return _json_file(row.recipe, f"{identifier(row.name)}.recipe.json")


@require_POST
def save(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Keep this picture's recipe by name."""
    build, shown = own_picture(request, build_id, picture_id)
    recipes.save_as(owner=request.user, name=request.POST.get("name", ""), recipe=shown.record)
    return redirect("recipes", build.pk, shown.pk)


@require_POST
def use(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Give this picture a saved recipe; it keeps its own crop, regions and touch-up."""
    build, shown = own_picture(request, build_id, picture_id)
    row = request.user.recipes.filter(pk=row_id(request.POST.get("recipe"))).first()
    if row is None:
        raise Http404("no such recipe")
    return _given(request, build, shown, services.with_own_places(row.record, shown.record))


@require_POST
def bring(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Give this picture the recipe of a file, with its places."""
    build, shown = own_picture(request, build_id, picture_id)
    upload = request.FILES.get("file")
    if upload is None:
        raise BadValueError("no file came with this; choose a recipe in JSON")
    if upload.size > MOST_RECIPE_BYTES:
        raise BadValueError(f"{upload.name} has {upload.size:,} bytes; a recipe has up to {MOST_RECIPE_BYTES:,}")
    return _given(request, build, shown, recipe_from_json(upload.read()))


def _given(request: HttpRequest, build: Build, shown: Picture, recipe: Recipe) -> HttpResponse:
    # Carried out before it is kept: a recipe made for another panel may name colours that this one has not.
    report_of(shown, recipe, build.to_device(), wait=False)
    services.save_recipe(picture=shown, base=base_of(request), recipe=recipe)
    return redirect("picture", build.pk, shown.pk)


@require_POST
def forget(request: HttpRequest, build_id: int, picture_id: int, recipe_id: int) -> HttpResponse:
    """Delete a saved recipe."""
    build, shown = own_picture(request, build_id, picture_id)
    row = get_object_or_404(SavedRecipe, pk=recipe_id, owner=request.user)
    row.remove()
    tell_removed(request, row)
    return redirect("recipes", build.pk, shown.pk)
