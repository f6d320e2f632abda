"""Variants of a picture: the contact sheet of all methods, what is kept, and two of them compared."""

import json
from dataclasses import dataclass
from typing import Any

import numpy as np
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.conversion.advice import PURPOSES, advise, image_kind_of
from mosaic.device.device import Device
from mosaic.exports.rasters import encode_png
from mosaic.numbers import row_id, whole
from mosaic.panels.appearance import colors_of
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe, recipe_from_plain, recipe_to_plain
from workshop.answers import check_key, image, passing_image
from workshop.builds.models import Build
from workshop.documents.pages import base_of
from workshop.jobs import services as jobs
from workshop.jobs.models import Job
from workshop.jobs.views import shown as job_shown
from workshop.pictures import services
from workshop.pictures.contact_sheet import cell_of, cells_of_sheet, trials
from workshop.pictures.documents import Picture
from workshop.pictures.models import Variant
from workshop.pictures.reports import fitted_of, glass_png, report_key, report_of
from workshop.pictures.tabs import tabs_of
from workshop.pictures.views import own_picture
from workshop.removal import tell_removed
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

KIND = "contact-sheet"
ORDERS = {"error": "perceived error", "bytes": "bytes, compressed", "method": "method"}
NOW = "now"
WAYS = ("split", "blink", "difference")


def page(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Advice, the sheet, kept variants, and the two that are compared."""
    build, shown = own_picture(request, build_id, picture_id)
    device, recipe = build.to_device(), shown.record
    order = request.GET.get("by", "error")
    order = order if order in ORDERS else "error"
    fitted = fitted_of(shown.original_id, shown.file_name, recipe, device)
    job = jobs.latest(build=build, kind=KIND, subject=shown.pk)
    context = {
        **frame_context(overview_of(build), "pictures"),
        "tabs": tabs_of(build, "variants", shown),
        "picture": shown,
        "image_kind": image_kind_of(fitted.linear),
        "advice": [
            (words, advice, METHODS[advice.changes["method"]].title, json.dumps(advice.changes))
            for slug, words in PURPOSES.items()
            for advice in [advise(fitted.linear, device.passport, slug)]
        ],
        "orders": [(slug, words, slug == order) for slug, words in ORDERS.items()],
        **_sheet(job, recipe, order),
        **_compared(request, build, shown, device),
        "width": device.size[0],
        "height": device.size[1],
    }
    return render(request, "pictures/variants.html", context)


def _sheet(job: Job | None, recipe: Recipe, order: str) -> dict:
    if job is None:
        return {"job": None, "cells": []}
    context = job_shown(job)
    if job.state != Job.State.DONE:
        return {**context, "cells": []}
    cells = cells_of_sheet(job)
    keys = {"error": lambda c: c["error"], "bytes": lambda c: (c["compressed"], c["error"]), "method": lambda c: c["number"]}
    cells.sort(key=keys[order])
    # The sheet was made of the settings of that time; where they have changed since, it says so.
    stale = job.asked["recipe"] != recipe_to_plain(_base(recipe))
    return {**context, "cells": cells, "stale": stale}


def _base(recipe: Recipe) -> Recipe:
    """The settings that a sheet is made of: all but the method itself."""
    return recipe.with_changes(method=Recipe().method, polish=False)


@dataclass(frozen=True)
class Side:
    """One way of the picture: what it is called, its figures, and where its image is."""

    slug: str
    name: str
    error: float
    key: str
    url: str
    variant: Variant | None = None


def _side(build: Build, shown: Picture, device: Device, variant: Variant | None) -> Side:
    slug, name = (str(variant.pk), variant.name) if variant else (NOW, "as it is now")
    recipe = variant.record if variant else shown.record
    figures = _figures(shown, recipe, device, variant)
    url = reverse("shot", args=[build.pk, shown.pk, slug, figures["key"]])
    return Side(slug, name, figures["error"], figures["key"], url, variant)


def _figures(shown: Picture, recipe: Recipe, device: Device, variant: Variant | None) -> dict[str, Any]:
    """Perceived error and key of a recipe; those of a kept variant from its row, where they still hold."""
    key = report_key(shown.original_id, recipe, device)
    if variant is not None and variant.derived_key == key:
        return variant.derived
    report = report_of(shown, recipe, device, wait=False)
    figures = {"error": report.converted.perceived_error, "key": report.key}
    if variant is not None and not report.awaits_search:
        Variant.objects.filter(pk=variant.pk).update(derived_key=key, derived=figures)
    return figures


def _compared(request: HttpRequest, build: Build, shown: Picture, device: Device) -> dict[str, Any]:
    sides = {side.slug: side for side in (_side(build, shown, device, v) for v in (None, *shown.variants.all()))}
    kept = [side for side in sides.values() if side.variant]
    a = sides.get(request.GET.get("a", ""), sides[NOW])
    b = sides.get(request.GET.get("b", ""), kept[0] if kept else sides[NOW])
    way = request.GET.get("way", "split")
    difference = reverse("difference", args=[build.pk, shown.pk])
    return {
        "kept": kept,
        "names": [(side.slug, side.name) for side in sides.values()],
        "sides": [a, b],
        "way": way if way in WAYS else "split",
        "ways": WAYS,
        "difference_url": f"{difference}?a={a.slug}&b={b.slug}&k={a.key[:8]}{b.key[:8]}",
    }


def _recipe_named(shown: Picture, slug: str) -> Recipe:
    if slug == NOW:
        return shown.record
    variant = shown.variants.filter(pk=row_id(slug)).first()
    if variant is None:
        raise Http404("no such variant")
    return variant.record


def shot(request: HttpRequest, build_id: int, picture_id: int, slug: str, key: str) -> HttpResponse:
    """A variant on the glass; its address holds its key, so it never grows old."""
    build, shown = own_picture(request, build_id, picture_id)
    device = build.to_device()
    report = report_of(shown, _recipe_named(shown, slug), device, wait=False)
    check_key(key, report.key)
    return image(glass_png(report, device))


def difference(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Where two variants differ: equal pixels faint, others marked."""
    build, shown = own_picture(request, build_id, picture_id)
    device = build.to_device()
    recipes = [_recipe_named(shown, request.GET.get(side, NOW)) for side in ("a", "b")]
    pixels = [report_of(shown, recipe, device, wait=False).converted.pixels for recipe in recipes]
    differs = pixels[0] != pixels[1]
    differs = differs.any(axis=-1) if differs.ndim == 3 else differs
    faint = (colors_of(pixels[1], device.passport, device.turn) // 5 + 190).astype(np.uint8)
    faint[differs] = (162, 59, 31)
    return passing_image(encode_png(faint, level=1))


@require_POST
def try_all(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Start the contact sheet."""
    build, shown = own_picture(request, build_id, picture_id)
    recipe = _base(shown.record)
    count = len(trials(recipe, searched=build.to_device().passport.palette is not None))
    jobs.start(
        build=build, owner=request.user, kind=KIND, subject=shown.pk, total=count, asked={"recipe": recipe_to_plain(recipe)}
    )
    return redirect("variants", build.pk, shown.pk)


def cell(request: HttpRequest, build_id: int, picture_id: int, job_id: int, number: int) -> HttpResponse:
    """One picture of the sheet."""
    build, shown = own_picture(request, build_id, picture_id)
    job = build.jobs.filter(pk=job_id, kind=KIND, subject=shown.pk, state=Job.State.DONE).defer("result").first()
    try:
        return image(cell_of(job, number)["png"])
    except (AttributeError, IndexError):
        raise Http404("no such trial") from None


@require_POST
def keep(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Keep a trial of the sheet, or the recipe as it is now, as a variant."""
    build, shown = own_picture(request, build_id, picture_id)
    title, recipe = _posted(request, build, shown)
    services.keep_variant(picture=shown, name=request.POST.get("name", "") or title, recipe=recipe)
    return redirect("variants", build.pk, shown.pk)


def _posted(request: HttpRequest, build: Build, shown: Picture) -> tuple[str, Recipe]:
    """The title and recipe of a posted trial (`job`, `number`) or variant (`variant`); without either, what there is now."""
    if request.POST.get("variant"):
        return "", _recipe_named(shown, request.POST["variant"])
    number, job_id = whole(request.POST.get("number")), row_id(request.POST.get("job"))
    if number is None or job_id is None:
        return "as it was", shown.record
    job = build.jobs.filter(pk=job_id, kind=KIND, subject=shown.pk, state=Job.State.DONE).defer("result").first()
    try:
        trial = cell_of(job, number)
    except (AttributeError, IndexError):
        raise Http404("no such trial") from None
    return trial["title"], recipe_from_plain(trial["recipe"])


@require_POST
def take(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Make a trial or a variant the picture's recipe."""
    build, shown = own_picture(request, build_id, picture_id)
    _, recipe = _posted(request, build, shown)
    report_of(shown, recipe, build.to_device(), wait=False)
    services.save_recipe(picture=shown, base=base_of(request), recipe=recipe)
    return redirect("picture", build.pk, shown.pk)


@require_POST
def drop(request: HttpRequest, build_id: int, picture_id: int, variant_id: int) -> HttpResponse:
    """Delete a kept variant."""
    build, shown = own_picture(request, build_id, picture_id)
    row = shown.variants.filter(pk=variant_id).first()
    if row is not None:
        row.remove()
        tell_removed(request, row)
    return redirect("variants", build.pk, shown.pk)
