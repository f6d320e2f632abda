"""Pages of the workshop and of a build as a whole."""

import json
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.db.models import prefetch_related_objects
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.boards import board as boards
from mosaic.errors import BadValueError, MosaicError
from workshop.builds import services
from workshop.builds.bench import Piece, lay_out
from workshop.builds.forms import SheetForm
from workshop.builds.models import Build
from workshop.builds.pages import frame_context, own_build, stones_of
from workshop.errors import message_of
from workshop.pictures.services import keep_original, read_upload
from workshop.pictures.station import glass_address

BUILDS_A_PAGE = 4
NEEDS_SHOWN = 4


def workshop(request: HttpRequest) -> HttpResponse:
    """Builds on the bench, and what needs attention."""
    page = Paginator(request.user.builds.all(), BUILDS_A_PAGE).get_page(request.GET.get("page"))
    return render(request, "builds/workshop.html", _workshop_context(page))


def _workshop_context(page) -> dict:
    builds = list(page.object_list)
    prefetch_related_objects(builds, "pictures__head", "letterings__head")
    overviews = [
        services.overview_of(build, pictures=list(build.pictures.all()), letterings=list(build.letterings.all()))
        for build in builds
    ]
    bench = lay_out([_piece(o) for o in overviews])
    needs = [(o, place, finding) for o in overviews for place, finding in _with_place(o)]
    needs.sort(key=lambda need: need[2]["severity"] != "must fix")
    return {
        "page": page,
        "cards": [(o, stones_of(o, "")) for o in overviews],
        "bench": bench,
        "needs": needs[:NEEDS_SHOWN],
        "more_needs": max(0, len(needs) - NEEDS_SHOWN),
        "must_fix": sum(o.must_fix for o in overviews),
        "worth_fixing": sum(o.worth_fixing for o in overviews),
    }


def _piece(overview: services.Overview) -> Piece:
    build, device = overview.build, overview.device
    return Piece(build.pk, build.name, device.passport, device.turn, _first_glass(overview), reverse("build", args=[build.pk]))


@dataclass(frozen=True)
class Place:
    """Where a finding is looked at: the picture's or the lettering's page, its name, its station."""

    url: str
    name: str
    station: str


def _with_place(overview: services.Overview) -> list[tuple[Place | None, dict[str, Any]]]:
    """Every finding with its place; those on the device are mended where they stand."""
    found: list[tuple[Place | None, dict[str, Any]]] = [(None, finding) for finding in overview.device_findings]
    for kept, page, station in (
        (overview.picture_findings, "picture", "Pictures"),
        (overview.lettering_findings, "lettering", "Lettering"),
    ):
        found += [(Place(reverse(page, args=[row.build_id, row.pk]), row.name, station), finding) for row, finding in kept]
    return found


def _first_glass(overview: services.Overview) -> str:
    if not overview.pictures:
        return ""
    picture = overview.pictures[0]
    return glass_address(picture, picture.derived["glass_key"])


@require_POST
def drop(request: HttpRequest) -> HttpResponse:
    """A picture dropped on the workshop: keep it, then ask for panel, board and link."""
    upload = request.FILES.get("picture")
    if upload is None:
        raise BadValueError("no file came with this; drop a picture file, or choose one")
    original = keep_original(data=read_upload(upload), file_name=upload.name, owner=request.user)
    target = f"{reverse('new-build')}?original={original.pk}"
    response = HttpResponse(status=204) if request.htmx else redirect(target)
    if request.htmx:
        response["HX-Redirect"] = target
    return response


def open_build(request: HttpRequest, build_id: int) -> HttpResponse:
    """A build's own address leads to the station where its work is."""
    return redirect("pictures", own_build(request, build_id).pk)


def sheet(request: HttpRequest, build_id: int) -> HttpResponse:
    """What the build is made of and what is asked of it."""
    build = own_build(request, build_id)
    form = SheetForm(request.POST or None, instance=build, initial={"revision": build.revision})
    if request.method == "POST" and form.is_valid():
        form.save()
        messages.success(request, "Saved. All figures were computed anew.")
        return redirect("sheet", build.pk)
    if form.errors:
        build.refresh_from_db()
    overview = services.overview_of(build)
    highest = boards.highest_clock_hz(overview.device.board, overview.device.passport.link(build.link_kind))
    context = {**frame_context(overview, "sheet"), "form": form, "highest_clock": highest}
    return render(request, "builds/sheet.html", context, status=422 if form.errors else 200)


@require_POST
def fix_build(request: HttpRequest, build_id: int) -> HttpResponse:
    """Carry out a finding's fix on the device."""
    build = own_build(request, build_id)
    try:
        changes = json.loads(request.POST.get("changes", ""))
        services.change_build(build=build, changes=changes)
    except (ValueError, AttributeError) as error:
        text = message_of(error) if isinstance(error, MosaicError) else "this fix is malformed; load the page again"
        raise BadValueError(text) from error
    # Only ever back to a page of this build or to the workshop: never to an address from outside.
    if request.POST.get("back") == "workshop":
        return redirect("workshop")
    back = request.POST.get("back")
    return redirect(back if back in ("mounting", "wiring", "bringup-stages", "bringup-faults") else "build-panel", build.pk)


@require_POST
def delete_build(request: HttpRequest, build_id: int) -> HttpResponse:
    """Remove a build; its name has to be typed."""
    build = own_build(request, build_id)
    if request.POST.get("name", "").strip() != build.name:
        raise BadValueError(f"to remove this build, type its name: {build.name}")
    Build.objects.filter(pk=build.pk).delete()
    messages.success(request, f"{build.name} was removed.")
    return redirect("workshop")
