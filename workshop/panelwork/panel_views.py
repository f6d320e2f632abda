"""Station 1: the build's panel, board and link, how it lies, and how it is mounted."""

import base64
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.boards.board import shared_links
from mosaic.errors import BadValueError
from mosaic.exports.rasters import png_of_glass
from mosaic.forms import from_record
from mosaic.links.kinds import KINDS
from mosaic.numbers import whole
from mosaic.panels.geometry import Orientation
from mosaic.panels.mounting import MARGIN_MM, fitting_opening, hidden_pixels, mounting_plan
from mosaic.panels.reading import COMFORTABLE_ARCMIN, legibility_of, letters_of
from workshop.answers import FOR_EVER
from workshop.builds import exchange as parts
from workshop.builds import services
from workshop.builds.models import Build
from workshop.builds.pages import own_build, revision_of
from workshop.panels.parts import board_entries, panel_choices
from workshop.panels.passport_page import orientation_from, passport_context
from workshop.panels.shown import screen_key, screen_png
from workshop.panelwork.forms import OpeningForm
from workshop.stations.exchange import pixels_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import Overview, overview_of


def panel(request: HttpRequest, build_id: int) -> HttpResponse:
    """What the build is made of; turning is looked at first and kept by a button."""
    build = own_build(request, build_id)
    return render(request, "panelwork/panel.html", _station(request, build))


def turned(request: HttpRequest, build_id: int) -> HttpResponse:
    """The drawing at another orientation; nothing is kept."""
    build = own_build(request, build_id)
    return render(request, "panels/partials/turned.html" if request.htmx else "panelwork/panel.html", _station(request, build))


def _station(request: HttpRequest, build: Build) -> dict[str, Any]:
    overview = overview_of(build)
    device = overview.device
    lies = orientation_from(request, device.passport) if "turn" in request.GET else device.turn
    return {
        **frame_context(overview, "panel"),
        **passport_context(device.passport, lies),
        "screen_url": _screen_url(build, overview, lies),
        "turn_url": reverse("build-turned", args=[build.pk]),
        "keep_url": reverse("lay-build", args=[build.pk]),
        "lies_as_kept": lies == device.turn,
        "drifts": services.drifts_of(build),
        "shared": [(option.kind, KINDS[option.kind].name) for option in shared_links(device.board, device.passport.links)],
        "panel_choices": panel_choices(request.user),
        "board_choices": [(entry.ref, entry.board.name) for entry in board_entries(request.user)],
        "letters": letters_of(device.passport, device.turn, device.viewing_distance_mm),
        "comfortable": letters_of(device.passport, device.turn, device.viewing_distance_mm, COMFORTABLE_ARCMIN),
        "findings": overview.device_findings_at("panel"),
        "legibility": legibility_of(device.passport, device.light_lux),
    }


def _screen_url(build: Build, overview: Overview, lies: Orientation) -> str:
    """The build's own first picture as it lies; the demo screen where there is none, or while turning is tried."""
    device = overview.device
    if overview.first_glass and lies == device.turn:
        return overview.first_glass
    key = screen_key(device.passport, lies)
    return reverse("build-screen", args=[build.pk, key]) + f"?turn={lies.rotation}&mirrored={int(lies.mirrored)}"


def screen(request: HttpRequest, build_id: int, key: str) -> HttpResponse:
    """The demo screen on the build's panel; its address holds its key, so it never grows old."""
    passport = own_build(request, build_id).to_device().passport
    lies = orientation_from(request, passport)
    response = HttpResponse(screen_png(passport, lies), content_type="image/png")
    response["Cache-Control"] = FOR_EVER if screen_key(passport, lies) == key else "no-store"
    return response


@require_POST
def lay(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep how the panel lies."""
    build = own_build(request, build_id)
    rotation = whole(request.POST.get("rotation"))
    if rotation is None:
        raise BadValueError("this page does not say how far to turn; load it again")
    services.lay_build(
        build=build, rotation=rotation, mirrored=request.POST.get("mirrored") == "1", revision=revision_of(request)
    )
    messages.success(request, "The orientation was saved. All pictures were turned with it.")
    return redirect("build-panel", build.pk)


@require_POST
def exchange(request: HttpRequest, build_id: int) -> HttpResponse:
    """Another panel, board or link. What would be lost is asked about first; a notice leads back."""
    build = own_build(request, build_id)
    chosen = parts.checked_parts(build, request.POST)
    foreseen = parts.foresee(build=build, **chosen)
    if foreseen.lost and request.POST.get("sure") != "1":
        device, overview = foreseen.device, overview_of(build)
        context = {
            **frame_context(overview, "panel"), "chosen": chosen, "lost": foreseen.lost,
            "panel_name": device.passport.name, "board_name": device.board.name, "link_name": KINDS[device.link_kind].name,
        }  # fmt: skip
        return render(request, "panelwork/exchange.html", context)
    made = parts.exchange_parts(build=build, **chosen, revision=revision_of(request))
    if made is None:
        messages.success(request, "These are the parts that the build has. Nothing was changed.")
        return redirect("build-panel", build.pk)
    build.refresh_from_db()
    back = reverse("undo-exchange", args=[build.pk, made.pk])
    messages.success(request, f"Now {build.passport['name']} on {build.board['name']}. All figures are new.", extra_tags=back)
    return redirect("build-panel", build.pk)


@require_POST
def undo_exchange(request: HttpRequest, build_id: int, exchange_id: int) -> HttpResponse:
    """Back to the parts before, with everything that went with them."""
    build = own_build(request, build_id)
    made = build.exchanges.filter(pk=exchange_id).first()
    if made is None:
        raise BadValueError("this exchange was undone already, or another one followed; nothing was changed")
    parts.undo_exchange(exchange=made)
    messages.success(request, "The parts are as they were, with everything that belongs to them.")
    return redirect("build-panel", build.pk)


@require_POST
def take_over(request: HttpRequest, build_id: int) -> HttpResponse:
    """Take what the panel or the board has become over into the build."""
    build = own_build(request, build_id)
    services.take_over(build=build, part=request.POST.get("part", ""), revision=revision_of(request))
    messages.success(request, "Applied. Every figure has been computed again.")
    return redirect("build-panel", build.pk)


def mounting(request: HttpRequest, build_id: int) -> HttpResponse:
    """The mounting card: outline, active area, holes, and the bezel's opening."""
    build = own_build(request, build_id)
    device = build.to_device()
    fitting = fitting_opening(device.passport, device.turn)
    opening = device.opening or fitting
    form = OpeningForm(request.POST or None, initial=from_record(opening))
    if request.method == "POST" and "no_bezel" in request.POST:
        services.set_opening(build=build, opening=None, revision=revision_of(request))
        messages.success(request, "No bezel lies before this panel now.")
        return redirect("mounting", build.pk)
    if request.method == "POST" and form.is_valid():
        services.set_opening(build=build, opening=form.to_opening(), revision=revision_of(request))
        messages.success(request, "The opening was saved.")
        return redirect("mounting", build.pk)
    overview = overview_of(build)
    context = {
        **frame_context(overview, "panel"), **_card(overview), "form": form, "fitting": fitting, "margin": MARGIN_MM,
        "hidden": hidden_pixels(device.passport, device.turn, device.opening) if device.opening else None,
        "findings": overview.findings_on("mounting"),
        "picture": _screen_url(build, overview, device.turn),
    }  # fmt: skip
    return render(request, "panelwork/mounting.html", context, status=422 if form.errors else 200)


def _card(overview: Overview) -> dict[str, Any]:
    """What the drawings of the card need; lengths in mm."""
    device = overview.device
    plan = mounting_plan(device.passport, device.turn)
    opening = device.opening or fitting_opening(device.passport, device.turn)
    left, top = min(0.0, opening.x_mm), min(0.0, opening.y_mm)
    right = max(plan.outline.width, opening.x_mm + opening.width_mm)
    bottom = max(plan.outline.height, opening.y_mm + opening.height_mm)
    edge = 6.0
    return {
        "plan": plan,
        "opening": opening,
        "has_bezel": device.opening is not None,
        "sheet": tuple(round(n, 3) for n in (left - edge, top - edge, right - left + 2 * edge, bottom - top + 2 * edge)),
        "shape": device.passport.glass.shape,
        "corner": device.passport.glass.corner_mm,
        "edges": {
            "left": plan.area.x, "top": plan.area.y, "right": plan.outline.width - plan.area.right,
            "bottom": plan.outline.height - plan.area.bottom,
        },
    }  # fmt: skip


def _picture_uri(overview: Overview) -> str:
    """The build's first picture as it stands on the glass, or the demo screen, inside the address itself."""
    device = overview.device
    first = next(iter(overview.offered("pixels")), None)
    shown = pixels_of(overview.build, device, first.ref) if first else None
    if shown is not None:
        png = png_of_glass(shown.pixels, device.passport, device.turn)
    else:
        png = screen_png(device.passport, device.turn)
    return "data:image/png;base64," + base64.b64encode(png).decode()


def mounting_svg(request: HttpRequest, build_id: int, kind: str) -> HttpResponse:
    """The drawing as a file in millimetres: a template to drill and cut by, or a cut-out with the real picture in it."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    context = {**_card(overview), "build": build, "device": overview.device, "kind": kind}
    if kind == "cut-out":
        context["picture"] = _picture_uri(overview)
    response = render(request, f"panelwork/svg/{kind}.svg", context, content_type="image/svg+xml")
    response["Content-Disposition"] = f'attachment; filename="{kind}.svg"'
    response["Cache-Control"] = "private, no-store"
    return response


def mounting_print(request: HttpRequest, build_id: int) -> HttpResponse:
    """A page for the printer: the template at life size, with a line to check the scale by, and the measures."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    context = {**frame_context(overview, "panel"), **_card(overview), "picture": _picture_uri(overview)}
    return render(request, "panelwork/mounting_print.html", context)
