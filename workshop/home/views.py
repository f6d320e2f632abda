"""Pages of the workshop and of a build as a whole."""

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.forms import model_to_dict
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.boards import board as boards
from mosaic.device.bands import unit_name
from mosaic.errors import BadValueError
from workshop.builds import services
from workshop.builds.models import Build
from workshop.builds.pages import changes_of, own_build, revision_of
from workshop.documents.models import Original
from workshop.home.file_views import examples
from workshop.home.forms import SheetForm
from workshop.look.conflicts import differing, is_stale
from workshop.panels.bench import Exhibit, lay_out
from workshop.removal import tell_removed
from workshop.stations import stations
from workshop.stations.frame import frame_context, stones_of
from workshop.stations.overview import Overview, overview_of, read_ahead

BUILDS_A_PAGE = 4
NEEDS_SHOWN = 4


def workshop(request: HttpRequest) -> HttpResponse:
    """Builds on the bench, and what needs attention."""
    page = Paginator(request.user.builds.all(), BUILDS_A_PAGE).get_page(request.GET.get("page"))
    context = {**_workshop_context(page), "examples": examples()}
    context["shows_path"] = not context["cards"] or request.user.username == settings.DEMO_USERNAME
    return render(request, "home/workshop.html", context)


def _workshop_context(page) -> dict:
    builds = list(page.object_list)
    read_ahead(builds)
    overviews = [overview_of(build) for build in builds]
    needs = [(overview, placed) for overview in overviews for placed in overview.findings]
    needs.sort(key=lambda need: need[1].finding["severity"] != "must fix")
    return {
        "page": page,
        "cards": [(o, stones_of(o, "")) for o in overviews],
        "bench": lay_out([_exhibit(o) for o in overviews]),
        "needs": needs[:NEEDS_SHOWN],
        "more_needs": max(0, len(needs) - NEEDS_SHOWN),
        "must_fix": sum(o.must_fix for o in overviews),
        "worth_fixing": sum(o.worth_fixing for o in overviews),
    }


def _exhibit(overview: Overview) -> Exhibit:
    build, device = overview.build, overview.device
    return Exhibit(build.pk, build.name, device.passport, device.turn, overview.first_glass, reverse("build", args=[build.pk]))


@require_POST
def drop(request: HttpRequest) -> HttpResponse:
    """A picture dropped on the workshop: keep it, then ask for panel, board and link."""
    upload = request.FILES.get("picture")
    if upload is None:
        raise BadValueError("no file came with this; drop a picture file, or choose one")
    original = _kept(upload, request.user)
    target = f"{reverse('new-build')}?original={original.pk}"
    response = HttpResponse(status=204) if request.htmx else redirect(target)
    if request.htmx:
        response["HX-Redirect"] = target
    return response


def _kept(upload, owner) -> Original:
    """The file, kept by the first station that can do something with it."""
    for station in stations():
        original = station.keep_upload(upload, owner)
        if original is not None:
            return original
    raise BadValueError(f"{upload.name} is nothing that a build can begin with; drop a picture file")


def open_build(request: HttpRequest, build_id: int) -> HttpResponse:
    """A build's own address leads to the last station in which work has begun, as far as it is made of documents."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    worked = [station for station in stations() if overview.by_station[station.slug]]
    with_glass = [station for station in worked if any(item.image_url for item in overview.by_station[station.slug])]
    return redirect((with_glass or worked or list(stations()))[0].home, build.pk)


def sheet(request: HttpRequest, build_id: int) -> HttpResponse:
    """What the build is made of and what is asked of it."""
    build = own_build(request, build_id)
    conflict: dict[str, Any] = {}
    status = 200
    with transaction.atomic():
        row = Build.objects.select_for_update().get(pk=build.pk)
        before = model_to_dict(row)
        form = SheetForm(request.POST or None, instance=row, initial={"revision": row.revision})
        if request.method == "POST" and form.is_valid():
            if not is_stale(form, before["revision"]):
                form.save()
                messages.success(request, "Saved. All figures are new.")
                return redirect("sheet", build.pk)
            conflict = {"differing": differing(form, before), "theirs_url": reverse("sheet", args=[build.pk])}
            status = 409
    status = 422 if form.errors else status
    overview = overview_of(build)
    highest = boards.highest_clock_hz(overview.device.board, overview.device.passport.link(build.link_kind))
    context = {**frame_context(overview, "sheet"), "form": form, "highest_clock": highest, **conflict}
    context["band_unit"] = unit_name(overview.device.passport)
    return render(request, "home/sheet.html", context, status=status)


@require_POST
def fix_build(request: HttpRequest, build_id: int) -> HttpResponse:
    """Apply a finding's fix on the device."""
    build = own_build(request, build_id)
    services.change_build(build=build, changes=changes_of(request), revision=revision_of(request))
    # Only ever back to a page of this build or to the workshop: never to an address from outside.
    if request.POST.get("back") == "workshop":
        return redirect("workshop")
    back = request.POST.get("back")
    pages = {page for station in stations() for page, _ in station.device_rules}
    return redirect(back if back in pages else stations()[0].home, build.pk)


@require_POST
def delete_build(request: HttpRequest, build_id: int) -> HttpResponse:
    """Delete a build; its name has to be typed."""
    build = own_build(request, build_id)
    if request.POST.get("name", "").strip() != build.name:
        raise BadValueError(f"to delete this build, type its name: {build.name}")
    build.remove()
    tell_removed(request, build)
    return redirect("workshop")
