"""The Pictures station: one page, its live parts, its images and its files."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, StreamingHttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import png_of_glass
from mosaic.exports.registry import EXPORTERS, export
from mosaic.imports.pictures import frame_count
from mosaic.numbers import row_id
from mosaic.reduce.polish import PASSES
from mosaic.reduce.recipe import Recipe
from mosaic.source_text import identifier
from workshop.answers import attachment, check_key, go_to, image, inline_png
from workshop.builds.models import Build
from workshop.builds.pages import changes_of, own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.originals import keep_picture, read_upload
from workshop.documents.pages import base_of
from workshop.errors import message_of
from workshop.jobs import services as jobs
from workshop.jobs.models import Job
from workshop.jobs.views import shown as job_shown
from workshop.live import live_response
from workshop.pictures import services, touch_up
from workshop.pictures.context import decode_recipe, original_address, point_fields, station_context
from workshop.pictures.documents import Picture
from workshop.pictures.forms import RecipeForm, recipe_from_post
from workshop.pictures.reports import (
    export_result,
    first_pixels,
    glass_png,
    original_key,
    original_png,
    report_of,
    source_png,
)
from workshop.pictures.searching import search_key
from workshop.pictures.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of


def own_picture(request: HttpRequest, build_id: int, picture_id: int) -> tuple[Build, Picture]:
    """A build of the one signed in, and its picture; anything else is not there."""
    build = own_build(request, build_id)
    return build, shelf.own(build, Picture, picture_id)


def pictures(request: HttpRequest, build_id: int) -> HttpResponse:
    """The station: the build's first picture, or an empty mat that waits for one."""
    build = own_build(request, build_id)
    first = Picture.objects.filter(build=build).first()
    if first:
        return redirect("picture", build.pk, first.pk)
    overview = overview_of(build)
    tabs = tabs_of(build, "picture")
    return render(request, "pictures/empty.html", {**frame_context(overview, "pictures"), **overview.elsewhere, "tabs": tabs})


def picture(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """One picture on the mat."""
    build, shown = own_picture(request, build_id, picture_id)
    context = _page_context(build, shown, shown.record)
    return render(request, "pictures/station.html", context)


def _page_context(build: Build, shown: Picture, recipe: Recipe) -> dict:
    try:
        context = station_context(build, shown, recipe)
    except MosaicError as error:
        # A saved recipe that cannot be carried out must not lock its maker out of the page.
        recipe = Recipe()
        context = {**station_context(build, shown, recipe), "problem": message_of(error)}
        # The saved recipe has no picture; what is shown instead has no address of its own.
        context["glass_url"] = _inline(context)
    if context["report"].awaits_search:
        job = jobs.latest(build=build, kind="search", subject=shown.pk)
        if job is not None and not job.is_over:
            context.update(job_shown(job))
    return {**context, "form": RecipeForm.of(recipe, _colors(build))}


def _colors(build: Build) -> tuple[str, ...]:
    return tuple((build.passport.get("palette") or {}).get("names", ()))


def _inline(context: dict) -> str:
    """The picture on the glass inside its own address."""
    return inline_png(glass_png(context["report"], context["device"]))


def _live(
    request: HttpRequest, build: Build, shown: Picture, recipe: Recipe, *, with_form: bool = False
) -> HttpResponse | StreamingHttpResponse:
    """The parts of the page that a kept recipe changes; with the form where the server changed it."""
    context = {**station_context(build, shown, recipe), "with_form": with_form, "kept": True}
    if shown.group:
        start_remaking(build, shown.group, request.user)
    if context["report"].awaits_search:
        context.update(job_shown(start_search(build, shown, recipe, request.user)))
    if with_form:
        context["form"] = RecipeForm.of(recipe, _colors(build))
    told = {"base": shown.head_id, "glass": context["glass_url"], "original": context["original_url"]}
    return live_response(request, told | {"fields": point_fields(recipe)}, "pictures/partials/live.html", lambda: context)


def start_remaking(build: Build, set_name: str, owner) -> None:
    """Queue the figures of a set's pictures, so that no page has to wait for all of them."""
    rows = Picture.objects.filter(build=build, group=set_name)
    heads = list(rows.values_list("pk", "head_id"))
    jobs.start(
        build=build,
        owner=owner,
        kind="set",
        subject=heads[0][0],
        total=len(heads),
        asked={"set": set_name, "heads": sorted(h for _, h in heads)},
    )


def start_search(build: Build, shown: Picture, recipe: Recipe, owner) -> Job:
    """Queue the search of a saved recipe."""
    key = search_key(shown, recipe, build.to_device())
    return jobs.start(build=build, owner=owner, kind="search", subject=shown.pk, total=PASSES, asked={"key": key})


@require_POST
def search_now(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Run the search of the saved recipe, which was stopped or never begun."""
    build, shown = own_picture(request, build_id, picture_id)
    start_search(build, shown, shown.record, request.user)
    return redirect("picture", build.pk, shown.pk)


@require_POST
def preview(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse | StreamingHttpResponse:
    """What the glass would show under the form's recipe; nothing is kept.

    The picture goes first: it is what the maker looks at while a hand moves. What is measured of it follows. The page's
    history is left alone: a preview must not tell an old tab of a newer revision, or the tab would overwrite it unknowingly.
    """
    build, shown = own_picture(request, build_id, picture_id)
    recipe = recipe_from_post(request.POST, shown.record, _colors(build))
    device = build.to_device()
    made = first_pixels(shown, recipe, device)
    glass = inline_png(png_of_glass(made.pixels, device.passport, device.turn))
    told = {"glass": glass, "original": original_address(shown, recipe, device), "fields": point_fields(recipe)}

    def context() -> dict[str, Any]:
        rest = station_context(build, shown, recipe, passing=True, device=device, made=made)
        return {**rest, "with_form": False, "kept": False, "glass_url": glass}

    return live_response(request, told, "pictures/partials/live.html", context)


@require_POST
def save(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Keep the form's recipe as a new revision."""
    build, shown = own_picture(request, build_id, picture_id)
    recipe = recipe_from_post(request.POST, shown.record, _colors(build))
    # Carried out before it is kept: a recipe that cannot be is refused here.
    report_of(shown, recipe, build.to_device(), wait=False)
    shown = services.save_recipe(picture=shown, base=base_of(request), recipe=recipe)
    if not request.htmx:
        return redirect("picture", build.pk, shown.pk)
    return _live(request, build, shown, recipe)


@require_POST
def step(request: HttpRequest, build_id: int, picture_id: int, direction: str) -> HttpResponse:
    """Undo or redo."""
    build, shown = own_picture(request, build_id, picture_id)
    act = documents.undo if direction == "undo" else documents.redo
    shown = act(shown, base=base_of(request))
    if not request.htmx:
        return redirect("picture", build.pk, shown.pk)
    return _live(request, build, shown, shown.record, with_form=True)


@require_POST
def fix(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Apply a finding's fix on the recipe."""
    build, shown = own_picture(request, build_id, picture_id)
    recipe = shown.record.with_changes(**changes_of(request))
    return _keep(request, build, shown, recipe, with_form=True)


def _keep(request: HttpRequest, build: Build, shown: Picture, recipe: Recipe, *, with_form: bool = False) -> HttpResponse:
    """Carry a changed recipe out, keep it, and answer with what it changes."""
    report_of(shown, recipe, build.to_device(), wait=False)
    shown = services.save_recipe(picture=shown, base=base_of(request), recipe=recipe)
    if not request.htmx:
        return redirect("picture", build.pk, shown.pk)
    return _live(request, build, shown, recipe, with_form=with_form)


@require_POST
def touch(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Set the pixels of a stroke, take them off, or take all of them off."""
    build, shown = own_picture(request, build_id, picture_id)
    recipe = shown.record
    runs = touch_up.changed(recipe.pixel_edits, request.POST, build.to_device())
    return _keep(request, build, shown, recipe.with_changes(pixel_edits=[list(run) for run in runs]))


@require_POST
def region(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """Add a region, change one, or take one away."""
    build, shown = own_picture(request, build_id, picture_id)
    recipe = shown.record
    regions = touch_up.regions(recipe.regions, request.POST, build.to_device())
    return _keep(request, build, shown, recipe.with_changes(regions=regions))


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """Bring pictures into the build; the page goes to the last of them."""
    build = own_build(request, build_id)
    uploads = request.FILES.getlist("picture")
    if not uploads:
        raise BadValueError("no file came with this; drop a picture file, or choose one")
    added = None
    for upload in uploads:
        data = read_upload(upload)
        original = keep_picture(data=data, file_name=upload.name, owner=request.user)
        if len(uploads) == 1 and frame_count(data) > 1:
            return go_to(request, f"{reverse('moving-picture', args=[build.pk])}?original={original.pk}")
        added = services.add_picture(build=build, original=original, file_name=upload.name)
    return go_to(request, reverse("picture", args=[build.pk, added.pk]))


def _recipe_shown(request: HttpRequest, shown: Picture) -> Recipe:
    """The recipe of the revision in an address."""
    revision = shown.revisions.filter(pk=row_id(request.GET.get("revision"))).first()
    if revision is None:
        raise Http404("no such revision of this picture")
    return shown.read(revision.description)


def glass(request: HttpRequest, build_id: int, picture_id: int, key: str) -> HttpResponse:
    """The picture on the glass; its address holds its key, so it never grows old."""
    build, shown = own_picture(request, build_id, picture_id)
    recipe, device = _recipe_shown(request, shown), build.to_device()
    report = report_of(shown, recipe, device, wait=False)
    check_key(key, report.key)
    return image(glass_png(report, device))


def original_fitted(request: HttpRequest, build_id: int, picture_id: int, key: str) -> HttpResponse:
    """The original, cut and fitted, for comparison."""
    build, shown = own_picture(request, build_id, picture_id)
    recipe, device = decode_recipe(request.GET.get("recipe", "")), build.to_device()
    check_key(key, original_key(shown.original_id, recipe, device))
    return image(original_png(shown, recipe, device))


def source(request: HttpRequest, build_id: int, picture_id: int) -> HttpResponse:
    """The whole original, small enough to cut on."""
    _, shown = own_picture(request, build_id, picture_id)
    return image(source_png(shown))


def take(request: HttpRequest, build_id: int, picture_id: int, ending: str) -> HttpResponse:
    """A file of the saved picture, read back and compared before it is given out."""
    build, shown = own_picture(request, build_id, picture_id)
    if ending not in EXPORTERS:
        raise Http404("no such kind of file")
    device, recipe = build.to_device(), shown.record
    result = export_result(shown, recipe, device, report_of(shown, recipe, device))
    return attachment(export(result, ending), f"{identifier(shown.name)}.{ending}", EXPORTERS[ending].media_type)
