"""Test cards of a panel: as pictures, bytes, wire stream and C; rulers set the offset."""

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.cards.registry import cards_of
from mosaic.cards.ruler import ram_as_glass, reading_of
from mosaic.conversion.program import Setting, array_of, shown, transmission
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.exports.capture import capture_csv
from mosaic.exports.registry import EXPORTERS, export
from mosaic.exports.result import ExportResult
from mosaic.links import total_s, wire_steps
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import host_view
from mosaic.panels.sending import Sending
from mosaic.reduce.recipe import Recipe
from workshop.answers import check_key, image
from workshop.bringup import services
from workshop.bringup.pages import station_context, whole_number
from workshop.bringup.subjects import Subject, card_key, png_of_values, setting_of, subject_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build, revision_of
from workshop.stations.overview import overview_of

RULERS = {"columns": "first_column", "rows": "first_row"}


def cards(request: HttpRequest, build_id: int, slug: str = "frame") -> HttpResponse:
    """All cards in a row, one of them on the mat."""
    build = own_build(request, build_id)
    return render(request, "bringup/cards.html", _context(build, slug))


def _context(build: Build, slug: str, typed: dict[str, str] | None = None, problem: str = "") -> dict[str, Any]:
    overview = overview_of(build)
    device = overview.device
    available = cards_of(device.passport)
    card = next((card for card in available if card.slug == slug), None)
    if card is None:
        raise Http404("no such card on this panel")
    subject = subject_of(build, device, f"card-{slug}")
    setting = setting_of(device)
    parts = transmission(subject.pixels, setting, _clean(device).sending, whole_ram=subject.whole_ram)
    view = host_view(device.passport, device.turn)
    return {
        **station_context(build, "cards", overview),
        "cards": [(c, _address(build, c.slug, card_key(device, c.slug))) for c in available],
        "card": card,
        "glass_url": _address(build, slug, subject.key),
        "array_bytes": len(array_of(subject.pixels, setting, whole_ram=subject.whole_ram)),
        "wire_bytes": sum(part.byte_count for part in parts),
        "send_ms": float(total_s(wire_steps(parts, device.link)) * 1000),
        "exporters": [e for e in EXPORTERS.values() if not e.problem(device.passport)],
        "is_ruler": slug in RULERS,
        "reading": reading_of(device.passport, device.turn, slug) if slug in RULERS else None,  # type: ignore[arg-type]
        "first": {"columns": view.offset_x, "rows": view.offset_y}.get(slug),
        "typed": typed or {},
        "reading_problem": problem,
    }


def _address(build: Build, slug: str, key: str) -> str:
    return reverse("bringup-card-png", args=[build.pk, slug, key])


def card_png(request: HttpRequest, build_id: int, slug: str, key: str) -> HttpResponse:
    """The card as it stands on the virtual panel."""
    build = own_build(request, build_id)
    device = build.to_device()
    subject, setting = subject_of(build, device, f"card-{slug}"), _clean(device)
    check_key(key, subject.key)
    return image(png_of_values(shown(subject.pixels, setting, setting, whole_ram=subject.whole_ram)[0], setting))


def _clean(device: Device) -> Setting:
    """The device as if nothing were wrong with its program: a card is shown as it must be seen."""
    return replace(setting_of(device), sending=Sending(array=device.sending.array))


def take(request: HttpRequest, build_id: int, slug: str, ending: str) -> HttpResponse:
    """The card as a file; "wire.csv" is everything from reset on, as it goes over the link."""
    build = own_build(request, build_id)
    device = build.to_device()
    subject = subject_of(build, device, f"card-{slug}")
    if ending == "wire.csv":
        parts = transmission(subject.pixels, setting_of(device), Sending(), whole_ram=subject.whole_ram)
        data, media_type = capture_csv(parts, device.link).encode(), "text/csv"
    else:
        if ending not in EXPORTERS:
            raise Http404("no such kind of file")
        data, media_type = export(_result(subject, device), ending), EXPORTERS[ending].media_type
    response = HttpResponse(data, content_type=media_type)
    response["Content-Disposition"] = f'attachment; filename="card_{slug}.{ending}"'
    return response


def _result(subject: Subject, device: Device) -> ExportResult:
    """The card as an exporter is handed a picture; a ruler is one of the whole RAM."""
    passport = ram_as_glass(device.passport) if subject.whole_ram else device.passport
    setting = setting_of(device)
    packed = array_of(subject.pixels, setting, whole_ram=subject.whole_ram)
    passport = setting.sending.described(passport)
    colors = colors_of(subject.pixels, passport, device.turn)
    return ExportResult(subject.name, passport, device.turn, Recipe(), subject.pixels, colors, packed)


@require_POST
def set_offset(request: HttpRequest, build_id: int, slug: str) -> HttpResponse:
    """What was read off a ruler: the first number, and how many columns or rows stand before it."""
    build = own_build(request, build_id)
    if slug not in RULERS:
        raise Http404("not a ruler")
    number, before = whole_number(request, "number"), whole_number(request, "before")
    typed = {name: request.POST.get(name, "") for name in ("number", "before")}
    try:
        if number is None or before is None:
            raise BadValueError("both are whole numbers: the first number on the glass, and how many stand before its mark")
        view = host_view(build.to_device().passport, build.to_device().turn)
        first = {"first_column": view.offset_x, "first_row": view.offset_y}
        first[RULERS[slug]] = number - before
        services.set_offset(build=build, revision=revision_of(request), **first)
    except BadValueError as error:
        return render(request, "bringup/cards.html", _context(build, slug, typed, str(error)), status=422)
    messages.success(request, f"The glass begins at {slug[:-1]} {number - before} now; windows and files follow.")
    return redirect("bringup-card", build.pk, slug)
