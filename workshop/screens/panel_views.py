"""The same screens on another panel, beside the ones that are there; kept as a build of its own, or not at all."""

from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.boards import board as boards
from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.findings import Finding
from mosaic.findings.rules import screen_findings
from mosaic.findings.subjects import ScreenSubject
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.passport import Passport
from mosaic.panels.sending import Sending
from mosaic.screens.adapting import LENGTHS, Adapting, lettering_scale
from mosaic.screens.moments import states_of
from mosaic.screens.plan import planned
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.screens.screen import Design, Screen
from mosaic.wiring.proposal import propose
from workshop.answers import go_to, image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.builds.services import option_of, start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.panels.parts import panel_choices, panel_of
from workshop.screens.documents import DesignDocument, ScreenDocument, design_of
from workshop.screens.reports import kit_of, rendered_of
from workshop.screens.tabs import tabs_of
from workshop.stations import stations
from workshop.stations.exchange import copy_all
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

SIDE_PX = 300
"""Of the larger of two glasses on the page."""


@dataclass(frozen=True, eq=False)
class Moved:
    """One screen on the other panel, or why it cannot be drawn there."""

    row: ScreenDocument
    screen: Screen
    rendered: Rendered | None
    findings: tuple[Finding, ...]
    problem: str = ""


def device_on(device: Device, passport: Passport) -> Device:
    """The device with another panel: the same board, on the first link that both have, at its usual clock.

    Raises
    ------
    BadValueError
        Board and panel have no link in common.
    """
    option = option_of(passport, device.board, device.link_kind)
    return replace(
        device, passport=passport, rotation=passport.rotation, mirrored=False, link_kind=option.kind,
        clock_hz=boards.usual_clock_hz(device.board, option), wiring=propose(passport, device.board, option.kind).plan,
        setup_card=None, sending=Sending(), opening=None,
    )  # fmt: skip


def moved(build: Build, row: ScreenDocument, old: Device, new: Device, lengths: Any) -> Moved:
    """A screen on the other panel."""
    adapting = Adapting(old, new, lengths)
    screen, design = adapting.screen(row.record), adapting.design(design_of(build))
    try:
        kit = kit_of(build, new, screen, design=design, scale=lettering_scale(old, new))
        plan = planned(screen, new, kit)
        looks = tuple(drawn_in(plan, state) for state in states_of(plan))
        return Moved(row, screen, looks[0], tuple(screen_findings(ScreenSubject(new, looks[0], looks))))
    except MosaicError as error:
        return Moved(row, screen, None, (), str(error))


def _asked(request: HttpRequest, build: Build, values: Any) -> tuple[str, Any, Device | None]:
    """(reference of the panel, how lengths change, the device with it)."""
    ref, lengths = values.get("panel", ""), values.get("lengths", "glass")
    if lengths not in LENGTHS:
        raise BadValueError(f"lengths {lengths[:20]!r}; {', '.join(LENGTHS)} are accepted")
    entry = panel_of(request.user, ref) if ref else None
    if ref and entry is None:
        raise BadValueError("there is no such panel; choose one of the list")
    return ref, lengths, device_on(build.to_device(), entry.passport) if entry else None


def another(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    ref, lengths, device = _asked(request, build, request.GET)
    old, pairs = overview.device, []
    if device is not None:
        old_mm, new_mm = seen_size_mm(old.passport, old.turn), seen_size_mm(device.passport, device.turn)
        px_a_mm = SIDE_PX / max(*old_mm, *new_mm)
        for row in shelf.of_kind(build, ScreenDocument):
            one = moved(build, row, old, device, lengths)
            try:
                before = rendered_of(build, row.record, old)
                there = {(f.id, f.where) for f in screen_findings(ScreenSubject(old, before))}
            except MosaicError:
                there = set()
            item = next(item for item in overview.by_station["screens"] if item.ref == row.ref)
            pairs.append({
                "row": row, "item": item, "problem": one.problem,
                "new": [f for f in one.findings if (f.id, f.where) not in there],
                "still": sum((f.id, f.where) in there for f in one.findings), "count": len(one.screen.elements),
                "url": reverse("panel-png", args=[build.pk, ref, lengths, row.pk]) if one.rendered else "",
            })  # fmt: skip
        sizes = {"old": [round(mm * px_a_mm) for mm in old_mm], "new": [round(mm * px_a_mm) for mm in new_mm]}
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "another-panel"), "pairs": pairs, "panel": ref,
        "lengths": lengths, "ways": LENGTHS.items(), "choices": panel_choices(request.user), "other": device,
        "sizes": sizes if device else {}, "scale": lettering_scale(old, device) if device else 1,
    }  # fmt: skip
    return render(request, "screens/another_panel.html", context)


def picture(request: HttpRequest, build_id: int, panel: str, lengths: str, screen_id: int) -> HttpResponse:
    """One screen on the other panel."""
    build = own_build(request, build_id)
    _, lengths, device = _asked(request, build, {"panel": panel, "lengths": lengths})
    row = shelf.own(build, ScreenDocument, screen_id)
    one = moved(build, row, build.to_device(), device, lengths) if device else None
    if one is None or one.rendered is None:
        raise Http404("it cannot be drawn there")
    answer = image(encode_png(colors_of(one.rendered.pixels, device.passport, device.turn)))  # type: ignore[union-attr]
    answer["Cache-Control"] = "no-store"  # it follows from everything the build holds
    return answer


@require_POST
@transaction.atomic
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """The screens on the other panel as a build of its own, with all that they are made of."""
    build = own_build(request, build_id)
    ref, lengths, device = _asked(request, build, request.POST)
    if device is None:
        raise BadValueError("no panel is chosen; choose one of the list")
    name = request.POST.get("name", "").strip()[:80] or f"{build.name} on another panel"
    old = build.to_device()
    made = start_build(
        owner=request.user, name=name, panel=ref, board=build, link_kind=device.link_kind,  # type: ignore[arg-type]
        viewing_distance_mm=build.viewing_distance_mm, supply_kind=build.supply_kind,
    )  # fmt: skip
    copy_all(build, made)
    shelf.forget(made)
    scale = lettering_scale(old, device)
    for station in stations():
        station.rescale(made, scale)
    adapting = Adapting(old, device, lengths)
    _save_adapted(made, adapting)
    return go_to(request, reverse("screens", args=[made.pk]))


def _save_adapted(made: Build, adapting: Adapting) -> None:
    shelf.forget(made)
    row = shelf.single(made, DesignDocument)
    if row is not None:
        design: Design = adapting.design(row.record)
        documents.save(row, base=row.head_id or 0, record=design)
    for screen in shelf.of_kind(made, ScreenDocument):
        documents.save(screen, base=screen.head_id or 0, record=adapting.screen(screen.record))
