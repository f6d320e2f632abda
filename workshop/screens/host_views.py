"""Drawings and pages whose frames a host computes: their text, how they are reduced, and what they look like in each state."""

from dataclasses import replace
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.hosted.page import MOST_TEXT, HostPage, filled, values_named
from mosaic.hosted.rendering import check_text, frame_of
from mosaic.panels.appearance import colors_of
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.values.states import State, derived
from workshop.answers import attachment, go_to, inline_png
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.screens.documents import HostPageDocument, design_of
from workshop.screens.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

KINDS = [("drawing", "a drawing in SVG"), ("page", "a page in HTML with CSS")]
FIRST = {
    "drawing": '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {w} {h}">\n  <rect width="{w}" height="{h}" fill="white"/>\n'
    '  <text x="{x}" y="{y}" font-size="{y}">Slipway</text>\n</svg>\n',
    "page": "<style>h1 {{ font-size: {y}px; margin: {x}px }}</style>\n<h1>Slipway</h1>\n",
}
CRISP = Recipe(method="threshold")
"""Letters and lines are sharpest without any mixing."""
ENDINGS = {"drawing": "svg", "page": "html"}


def pages(request: HttpRequest, build_id: int) -> HttpResponse:
    """The build's drawings and pages: the first of them, or the way to begin one."""
    build = own_build(request, build_id)
    first = next(iter(shelf.of_kind(build, HostPageDocument)), None)
    if first is not None:
        return redirect("host-page", build.pk, first.pk)
    context = {**frame_context(overview_of(build), "screens"), "tabs": tabs_of(build, "host-pages"), "kinds": KINDS}
    return render(request, "screens/host_empty.html", context)


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """A new one, with a first word on it."""
    build = own_build(request, build_id)
    kind = request.POST.get("kind", "drawing")
    if kind not in FIRST:
        raise BadValueError(f"{kind[:20]!r} is no kind; {', '.join(FIRST)} are accepted")
    width, height = build.to_device().size
    text = FIRST[kind].format(w=width, h=height, x=width // 16, y=height // 3)
    name = request.POST.get("name", "").strip()[:80] or f"Page {len(shelf.of_kind(build, HostPageDocument)) + 1}"
    row = documents.add(HostPageDocument, build=build, name=name, record=HostPage(kind, text, CRISP))  # type: ignore[arg-type]
    return go_to(request, reverse("host-page", args=[build.pk, row.pk]))


def _own(request: HttpRequest, build_id: int, page_id: int) -> tuple[Build, HostPageDocument]:
    build = own_build(request, build_id)
    return build, shelf.own(build, HostPageDocument, page_id)


def _filled_in(values: Any, before: HostPage) -> HostPage:
    """A page as the form has it; raises `MosaicError` where it cannot be rendered from itself alone."""
    text, method = values.get("text", before.text), values.get("method", before.recipe.method)
    if len(text) > MOST_TEXT:
        raise BadValueError(f"the text has {len(text):,} characters; up to {MOST_TEXT:,} are accepted")
    recipe = replace(before.recipe, method=METHODS[method].name)
    return replace(before, text=text.replace("\r\n", "\n"), recipe=recipe)


def _states(build: Build, page: HostPage) -> list[State]:
    return derived(values_named(page.text, {value.name: value for value in design_of(build).values}))


def _frame(build: Build, page: HostPage, state: State) -> bytes:
    """PNG of a page in a state, in the panel's colours."""
    device = build.to_device()
    shown = filled(page.text, {value.name: value for value in design_of(build).values}, state)
    return encode_png(colors_of(frame_of(page, shown, device), device.passport, device.turn))


def page(request: HttpRequest, build_id: int, page_id: int) -> HttpResponse:
    """One of them; posted, as it would be with what was typed, and nothing is kept."""
    build, row = _own(request, build_id, page_id)
    overview = overview_of(build)
    record = _filled_in(request.POST, row.record) if request.method == "POST" else row.record
    states = _states(build, record)
    asked = (request.POST if request.method == "POST" else request.GET).get("state", "")
    state = next((one for one in states if one.key == asked), states[0])
    glass, problem = "", ""
    try:
        glass = inline_png(_frame(build, record, state))
    except MosaicError as error:
        problem = str(error)
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "host-pages"), "document": row, "page": record,
        "glass": glass,
        "problem": problem, "states": states, "state": state, "methods": list(METHODS.values()), "kinds": KINDS,
        "others": shelf.of_kind(build, HostPageDocument), "values": design_of(build).values, "most": MOST_TEXT,
        "kind_words": dict(KINDS)[record.kind], "kept": record == row.record, "ending": ENDINGS[record.kind],
        "width": overview.device.size[0], "height": overview.device.size[1],
    }  # fmt: skip
    return render(request, "screens/host_page.html", context)


@require_POST
def change(request: HttpRequest, build_id: int, page_id: int) -> HttpResponse:
    """Keep what was typed."""
    _, row = _own(request, build_id, page_id)
    record = _filled_in(request.POST, row.record)
    check_text(record.kind, record.text)
    documents.save(row, base=base_of(request), record=record)
    return redirect("host-page", build_id, page_id)


def take(request: HttpRequest, build_id: int, page_id: int) -> HttpResponse:
    """Its text, for `mosaic render`."""
    _, row = _own(request, build_id, page_id)
    ending = ENDINGS[row.record.kind]
    media = {"svg": "image/svg+xml", "html": "text/html"}[ending]
    return attachment(row.record.text.encode(), f"{row.name}.{ending}", media)
