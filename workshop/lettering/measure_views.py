"""Measuring: the build's texts at their widest, and how much of each face this panel holds."""

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.lettering.measure import Spot, extent_of, face_table, measured, pitch_mm, spots_of
from mosaic.lettering.texts import FieldText, parse_text
from mosaic.numbers import whole
from workshop.answers import check_key, image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.builds.services import base_of_single
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.errors import ConflictError, message_of
from workshop.lettering import services
from workshop.lettering.documents import Lettering, TextsDocument, texts_of, written_texts
from workshop.lettering.pages import all_context, own, report_at
from workshop.lettering.reports import Report, report_of
from workshop.lettering.specimens import colored, line_levels

MOST_SPOT = 4096


def _number(text: str) -> int:
    return whole(text, 1, MOST_SPOT) or 0


def measuring(request: HttpRequest, build_id: int) -> HttpResponse:
    """Texts and faces measured on this panel."""
    build = own_build(request, build_id)
    return render(request, "lettering/measuring.html", _context(request, build, written_texts(build)))


def _context(request: HttpRequest, build: Build, written: str) -> dict[str, Any]:
    context = all_context(build, "measuring")
    device = context["device"]
    letterings = shelf.of_kind(build, Lettering)
    number = request.GET.get("of", "")
    shown = next((row for row in letterings if str(row.pk) == number), letterings[0] if letterings else None)
    width, height = _number(request.GET.get("w", "")), _number(request.GET.get("h", ""))
    typed = request.GET.get("text", "")
    context |= {
        "letterings": letterings, "base": base_of_single(build, TextsDocument),
        "document": shelf.single(build, TextsDocument),
        "written": written, "collected": len(texts_of(build).splitlines()) - len(written_texts(build).splitlines()),
         "shown": shown, "spot_w": width or "", "spot_h": height or "", "typed": typed,
        "face_rows": face_table(device), "distance_m": device.viewing_distance_mm / 1000,
    }  # fmt: skip
    if shown is None:
        return context
    try:
        report = report_of(shown, shown.record, device, texts_of(build))
        tried = parse_text(typed) if typed.strip() else None
    except MosaicError as error:
        return {**context, "problem": message_of(error)}
    spots = spots_of(device, report.glyphs.line_height)
    if width and height:
        spots = (*spots, Spot(f"in your {width} × {height} px", width, height))
    rows = [_row(shown, report, text, device, spots, number) for number, text in enumerate(report.texts)]
    return {
        **context, "report": report, "rows": rows,
        "tried": _row(shown, report, tried, device, spots, None) if tried else None,
    }  # fmt: skip


def _row(
    shown: Lettering, report: Report, text: FieldText, device: Device, spots: tuple[Spot, ...], number: int | None
) -> dict[str, Any]:
    told = measured(text, report.glyphs, device, spots=spots)
    extent = extent_of(report.glyphs, told.extent.text)
    address = ""
    if number is not None:
        address = reverse("measured-line", args=[shown.build_id, shown.pk, number, report.key]) + f"?revision={shown.head_id}"
    across = pitch_mm(device)[0]
    return {
        "measured": told, "extent": extent, "written": text.written, "url": address, "ink_mm": extent.ink_width * across,
        "zoom": 2 if extent.room * 2 <= 420 else 1,
    }  # fmt: skip


@require_POST
def keep_texts(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep what the build's screens show."""
    build = own_build(request, build_id)
    written = request.POST.get("texts", "")
    try:
        services.keep_texts(build=build, written=written, base=base_of(request))
    except (BadValueError, ConflictError) as error:
        context = {**_context(request, build, written), "problem": message_of(error)}
        return render(request, "lettering/measuring.html", context, status=409 if isinstance(error, ConflictError) else 422)
    messages.success(request, "Saved. Every lettering has been measured again.")
    return redirect("measuring", build.pk)


def line_png(request: HttpRequest, build_id: int, lettering_id: int, number: int, key: str) -> HttpResponse:
    """A text of the build at its widest, one pixel each, in the panel's colours."""
    build, shown = own(request, build_id, lettering_id)
    device = build.to_device()
    report = report_at(request, build, shown, device)
    check_key(key, report.key)
    if number >= len(report.texts):
        raise Http404("no such text")
    widest = measured(report.texts[number], report.glyphs, device).extent.text
    plan = report.plan
    return image(colored(line_levels(report.glyphs, widest), report.glyphs, device, plan.ink, plan.ground))
