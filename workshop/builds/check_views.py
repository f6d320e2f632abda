"""Before power: the check sheet with its readings, and the wiring card on paper and as CSV."""

import csv
import io
from dataclasses import dataclass
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from mosaic.device.device import Device
from mosaic.wiring.checks import Check, checks_of
from mosaic.wiring.plan import pin_of
from mosaic.wiring.signals import signals_of
from workshop.builds import services
from workshop.builds.models import Build
from workshop.builds.pages import frame_context, own_build
from workshop.builds.wiring_drawing import draw_wiring

LARGEST_READING = 1e9


@dataclass(frozen=True)
class CheckLine:
    """A check with its reading: as typed, what is wrong with it, and whether it holds."""

    check: Check
    text: str
    day: str
    problem: str = ""
    holds: bool | None = None


def _checks(device: Device) -> tuple[Check, ...]:
    assert device.wiring is not None
    return checks_of(device.passport, device.board, device.link_kind, device.wiring)


def _line(check: Check, build: Build, typed: dict[str, str], problems: dict[str, str]) -> CheckLine:
    kept = build.readings.get(check.id, {})
    text = typed.get(check.id, f"{kept['value']:g}" if kept else "")
    holds = check.holds(kept["value"]) if kept else None
    return CheckLine(check, text, kept.get("day", ""), problems.get(check.id, ""), holds)


def _number(text: str) -> float:
    value = float(text.replace(",", "."))
    if not abs(value) <= LARGEST_READING:
        raise ValueError(text)
    return value


def check_sheet(request: HttpRequest, build_id: int) -> HttpResponse:
    """The check sheet; a post keeps the readings that are numbers, and says which are not."""
    build = own_build(request, build_id)
    overview = services.overview_of(build)
    checks = _checks(overview.device)
    typed, problems = {}, {}
    if request.method == "POST":
        typed = {check.id: request.POST.get(check.id, "").strip() for check in checks}
        readings: dict[str, float | None] = {}
        for name, text in typed.items():
            try:
                readings[name] = _number(text) if text else None
            except ValueError:
                problems[name] = f"{text[:30]!r} is no number; write it like 3.28"
        services.keep_readings(build=build, readings=readings)
        build.refresh_from_db()
        if not problems:
            messages.success(request, "The readings were kept.")
            return redirect("check-sheet", build.pk)
    lines = [_line(check, build, typed, problems) for check in checks]
    context = {**frame_context(overview, "panel"), "lines": lines, "problems": problems}
    return render(request, "builds/check_sheet.html", context, status=422 if problems else 200)


def _rows(device: Device) -> list[dict[str, Any]]:
    """The plan pin by pin."""
    assert device.wiring is not None
    rows = []
    for number, signal in enumerate(signals_of(device.passport, device.link_kind), 1):
        to = device.wiring.to_of(signal.label)
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
    overview = services.overview_of(build)
    device = overview.device
    assert device.wiring is not None
    signals = signals_of(device.passport, device.link_kind)
    context = {
        **frame_context(overview, "panel"),
        "drawing": draw_wiring(device.wiring, signals, device.board),
        "rows": _rows(device),
        "pin_plan": device.wiring,
        "setup": device.setup,
        "lines": [_line(check, build, {}, {}) for check in _checks(device)],
        "findings": [f for f in overview.device_findings if f["id"].startswith("wiring.")],
    }
    return render(request, "builds/wiring_card.html", context)


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
