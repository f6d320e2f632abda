"""Before power: the check sheet with its readings, and the wiring card on paper and as CSV."""

import csv
import io
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from mosaic.device.device import Device
from mosaic.device.notes import Reading, Readings
from mosaic.narrowing import needed
from mosaic.numbers import decimal
from mosaic.wiring.checks import Check
from mosaic.wiring.parts import extra_parts
from mosaic.wiring.plan import pin_of
from mosaic.wiring.signals import signals_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.builds.services import base_of_single
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.documents.services import save_single
from workshop.errors import ConflictError, message_of
from workshop.journal import services as journal
from workshop.panelwork.documents import ReadingsDocument, device_checks
from workshop.panelwork.wiring_drawing import draw_wiring
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

LARGEST_READING = 1e9


@dataclass(frozen=True)
class CheckLine:
    """A check with its reading: as typed, what is wrong with it, and whether it holds."""

    check: Check
    text: str
    day: str
    problem: str = ""
    holds: bool | None = None


def _line(check: Check, build: Build, typed: dict[str, str], problems: dict[str, str]) -> CheckLine:
    kept = _kept(build).get(check.id)
    text = typed.get(check.id, f"{kept.value:g}" if kept else "")
    holds = check.holds(kept.value) if kept else None
    return CheckLine(check, text, kept.day if kept else "", problems.get(check.id, ""), holds)


def _kept(build: Build) -> dict[str, Reading]:
    row = shelf.single(build, ReadingsDocument)
    return row.record.readings if row else {}


def _keep(build: Build, typed: dict[str, float | None], base: int) -> None:
    """Readings with their days; None takes one away, and others stay as they are."""
    kept, today = dict(_kept(build)), timezone.localdate().isoformat()
    for name, value in typed.items():
        if value is None:
            kept.pop(name, None)
        elif name not in kept or kept[name].value != value:
            kept[name] = Reading(value, today)
    before = dict(_kept(build))
    save_single(ReadingsDocument, build=build, base=base, record=Readings(kept))
    _note(build, {name: now.value for name, now in kept.items() if before.get(name) != now})


def _note(build: Build, taken: dict[str, float]) -> None:
    """A line for the log with the readings that are new, and whether all of them are as they should be."""
    checks = [check for check in device_checks(build.to_device()) if check.id in taken]
    if checks:
        said = "; ".join(f"{check.where}: {taken[check.id]:g} {check.unit}, expected {check.expected}" for check in checks)
        holds = all(check.holds(taken[check.id]) for check in checks)
        journal.note(build, "trial", f"Check sheet. {said}.", worked=holds, subject="Check sheet")


def check_sheet(request: HttpRequest, build_id: int) -> HttpResponse:
    """The check sheet; a post keeps the readings that are numbers, and says which are not."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    checks = device_checks(overview.device)
    typed, problems, conflict, status = {}, {}, "", 422
    if request.method == "POST":
        typed = {check.id: request.POST.get(check.id, "").strip() for check in checks}
        readings: dict[str, float | None] = {}
        for name, text in typed.items():
            number = decimal(text, -LARGEST_READING, LARGEST_READING)
            if number is not None or not text:
                readings[name] = number
            else:
                problems[name] = f"{text[:30]!r} is no number; write it like 3.28"
        try:
            _keep(build, readings, base_of(request))
        except ConflictError as error:
            conflict, status = message_of(error), 409
        if not (problems or conflict):
            messages.success(request, "The readings were saved.")
            return redirect("check-sheet", build.pk)
    lines = [_line(check, build, typed, problems) for check in checks]
    context = {
        **frame_context(overview, "panel"),
        "lines": lines,
        "problems": problems,
        "conflict": conflict,
        "base": base_of_single(build, ReadingsDocument),
        "document": shelf.single(build, ReadingsDocument),
    }
    return render(request, "panelwork/check_sheet.html", context, status=status if problems or conflict else 200)


def _rows(device: Device) -> list[dict[str, Any]]:
    """The plan pin by pin."""
    plan, rows = needed(device.wiring, "a pin plan"), []
    for number, signal in enumerate(signals_of(device.passport, device.link_kind), 1):
        to = plan.to_of(signal.label)
        pin = pin_of(device.board, to)
        rows.append({
            "number": number, "panel": signal.label, "does": signal.function, "board": to or "nowhere",
            "roles": ", ".join(pin.roles) if pin else "",
            "mind": " ".join(filter(None, (signal.note, pin.caution if pin else ""))),
        })  # fmt: skip
    return rows


def card(request: HttpRequest, build_id: int) -> HttpResponse:
    """The wiring card for the printer."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    plan = needed(device.wiring, "a pin plan")
    signals = signals_of(device.passport, device.link_kind)
    context = {
        **frame_context(overview, "panel"),
        "drawing": draw_wiring(plan, signals, device.board),
        "rows": _rows(device),
        "pin_plan": device.wiring,
        "setup_card": device.setup_card,
        "lines": [_line(check, build, {}, {}) for check in device_checks(device)],
        "parts": extra_parts(plan, signals, device.board, device.link_kind),
        "findings": overview.findings_on("wiring"),
    }
    return render(request, "panelwork/wiring_card.html", context)


def card_csv(request: HttpRequest, build_id: int) -> HttpResponse:
    """The plan pin by pin, for a spreadsheet."""
    build = own_build(request, build_id)
    out = io.StringIO()
    rows = _rows(build.to_device())
    writer = csv.DictWriter(out, list(rows[0]))
    writer.writeheader()
    # A cell that a spreadsheet would take for a formula is led by an apostrophe.
    writer.writerows({k: f"'{v}" if str(v)[:1] in ("=", "+", "-", "@") else v for k, v in row.items()} for row in rows)
    response = HttpResponse(out.getvalue(), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="wiring.csv"'
    return response
