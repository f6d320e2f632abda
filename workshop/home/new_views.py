"""Starting a build: from nothing, from a template, or from another build."""

from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import redirect, render

from mosaic.errors import MosaicError
from mosaic.exports.result import file_title
from mosaic.links.kinds import KINDS
from mosaic.narrowing import needed
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.documents.models import Upload
from workshop.documents.pages import upload_of
from workshop.errors import message_of
from workshop.home.forms import NewBuildForm
from workshop.home.origins import TEMPLATES, Origin, origin_of, start_from
from workshop.panels.parts import board_entries, panel_of
from workshop.panels.shelf import TECHNOLOGIES, Card, shelf_page
from workshop.stations import stations

CARDS_SHOWN = 18
BUILDS_OFFERED = 50


def new_build(request: HttpRequest) -> HttpResponse:
    """Pick panel, board and link, or what comes along; with a picture that was dropped before, or without."""
    upload = upload_of(request)
    origin = origin_of(request.user, request.POST.get("from") or request.GET.get("from") or "")
    searched = "find" in request.POST or "page" in request.POST  # without scripts: the shelf is asked, and nothing is made
    typed = {name: request.POST[name] for name in NewBuildForm.base_fields if name in request.POST}
    form = NewBuildForm(
        None if searched else request.POST or None,
        initial=typed if searched else _first_values(request, upload, origin), user=request.user, origin=origin,
    )  # fmt: skip
    if request.method == "POST" and not searched and form.is_valid():
        try:
            build = _made(request, form, origin)
        except MosaicError as error:
            form.add_error(None, message_of(error))
        else:
            if upload:
                for station in stations():
                    station.begin_with(build, upload.original, upload.name)
            return redirect("build", build.pk)
    context = {
        "form": form,
        "upload": upload,
        "origin": origin,
        **_shelf_context(request.POST or request.GET, request.user, form),
    }
    return render(request, "home/new.html", context | _offers(request), status=422 if form.errors else 200)


def _first_values(request: HttpRequest, upload: Upload | None, origin: Origin | None) -> dict[str, Any]:
    first = {"panel": request.GET.get("panel", ""), "board": request.GET.get("board", "")}
    if upload:
        first |= {"original": upload.original_id, "name": file_title(upload.name)}
    if origin:
        first |= {"along_parts": True, "along_wishes": True, "along_contents": False}
    return first


def _made(request: HttpRequest, form: NewBuildForm, origin: Origin | None) -> Build:
    name, parts = form.cleaned_data["name"], form.parts()
    if origin is None:
        return start_build(owner=request.user, name=name, **needed(parts, "a panel and a board"))
    along = form.cleaned_data
    return start_from(
        owner=request.user, origin=origin, name=name, parts=parts, wishes=along["along_wishes"], contents=along["along_contents"]
    )


def _offers(request: HttpRequest) -> dict[str, Any]:
    builds = request.user.builds.order_by("-changed").only("name", "owner")[:BUILDS_OFFERED]
    return {
        "templates": TEMPLATES.values(),
        "own_builds": [(f"build-{build.pk}", build.name) for build in builds],
        "boards": board_entries(request.user),
        "kinds": KINDS.values(),
    }


def shelf_part(request: HttpRequest) -> HttpResponse:
    """The panels to choose from, searched; the chosen one stays in front."""
    form = NewBuildForm(initial={"panel": request.GET.get("panel", "")}, user=request.user)
    return render(request, "home/partials/shelf.html", {"form": form, **_shelf_context(request.GET, request.user, form)})


def _shelf_context(asked: QueryDict, user, form: NewBuildForm) -> dict[str, Any]:
    chosen = form["panel"].value() or ""
    query, technology = asked.get("q", "")[:120], asked.get("technology", "")
    technology = technology if technology in dict(TECHNOLOGIES) else ""
    page = shelf_page(user, query, technology, asked.get("page"), a_page=CARDS_SHOWN)
    entry = panel_of(user, chosen) if chosen else None
    cards = [card for card in page.object_list if card.entry.ref != chosen]
    return {
        "chosen": chosen,
        "cards": [*([Card(entry, "Chosen")] if entry else []), *cards],
        "shelf": page,
        "query": query,
        "technology": technology,
        "technologies": TECHNOLOGIES,
    }
