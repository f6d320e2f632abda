"""A trace of a current: brought, read by a worker, laid beside the schedule, and taken into the build as measured."""

from dataclasses import replace
from math import floor, log10
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.numbers import decimal
from mosaic.refresh.energy.measured import Measured
from mosaic.refresh.trace.columns import columns_of
from mosaic.refresh.trace.finding import Found
from mosaic.refresh.trace.matching import amps, beside, matching_kind, measured_of
from mosaic.refresh.trace.reading import HEAD_LINES
from workshop.answers import go_to
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.jobs import services as jobs
from workshop.jobs.views import shown as job_shown
from workshop.journal import services as journal
from workshop.refresh.documents import EnergyDocument
from workshop.refresh.energy_services import plan_of
from workshop.refresh.tabs import tabs_of
from workshop.refresh.trace_services import MOST_BYTES, TRACE, expected_of, found_in, keep_file
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

LEFT, RIGHT, TOP, BOTTOM = 70, 950, 10, 190


def _page(request: HttpRequest, build: Build, wrong: str = "", typed: str = "") -> HttpResponse:
    overview = overview_of(build)
    device = overview.device
    row, plan = shelf.single(build, EnergyDocument), plan_of(build, device)
    job = jobs.latest(build=build, kind=TRACE)
    context: dict[str, Any] = {
        **frame_context(overview, "refresh"), "tabs": tabs_of(build, device, "trace"), "wrong": wrong, "typed": typed,
        "base": row.head_id if row else 0, "fed": plan, "most_mb": MOST_BYTES >> 20,
    }  # fmt: skip
    if job is not None and (not job.is_over or job.state == "failed"):
        context |= job_shown(job)
    known = found_in(build)
    if known is not None:
        found, name = known
        expected = expected_of(build, device)
        context |= {
            "found": found, "name": name, "expected": expected, "beside": beside(found, expected) if expected else [],
            "kind": matching_kind(found, expected) if expected else None, "drawing": _drawing(found),
            "levels": [(amps(one.ma), one.share) for one in found.levels], "average": amps(found.average_ma),
            "idle": amps(found.idle_ma), "drift": amps(abs(found.drift_ma)), "noise": amps(found.noise_ma),
        }  # fmt: skip
    return render(request, "refresh/trace.html", context, status=422 if wrong else 200)


def _drawing(found: Found) -> dict[str, Any]:
    """The trace as a band between its lowest and highest currents, upwards on a scale of ratios."""
    highest = max((high for _, _, high in found.drawn), default=1.0)
    least = max(highest / 1e6, min(found.idle_ma / 3 if found.idle_ma > 0 else highest / 1e4, highest / 10))
    low, high = floor(log10(least)), log10(max(highest, least * 1.01))

    def up(ma: float) -> float:
        return round(BOTTOM - (BOTTOM - TOP) * (log10(max(ma, 10.0**low)) - low) / (high - low), 1)

    def across(s: float) -> float:
        return round(LEFT + (RIGHT - LEFT) * s / found.length_s, 1)

    over = [f"{across(s)} {up(top)}" for s, _, top in found.drawn]
    under = [f"{across(s)} {up(bottom)}" for s, bottom, _ in reversed(found.drawn)]
    return {
        "path": f"M{' L'.join([*over, *under])}Z",
        "up": [(up(10.0**power), amps(10.0**power)) for power in range(low, floor(high) + 1)],
        "idle": up(found.idle_ma) if found.idle_ma > 0 else None,
        "across": [(across(found.length_s * n / 4), f"{found.length_s * n / 4:,.4g} s") for n in range(5)],
    }


def trace(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


@require_POST
def bring(request: HttpRequest, build_id: int) -> HttpResponse:
    """A trace is brought; its first lines are looked at at once, the rest by a worker."""
    build = own_build(request, build_id)
    typed = request.POST.get("step_ms", "")
    upload = request.FILES.get("trace")
    try:
        if upload is None:
            raise BadValueError("no file was chosen; a CSV of times and currents is accepted")
        step = decimal(typed.strip() or "0")
        if step is None or not 0 <= step <= 3_600_000:
            raise BadValueError(f"{typed[:20]!r} from row to row is no time; a number of ms, such as 0.5, is accepted")
        head = upload.read(1 << 16)
        upload.seek(0)
        if b"\x00" in head:
            raise BadValueError("this file is not text; a CSV of times and currents is accepted")
        columns_of(head.decode("utf-8", "replace").replace("\r\n", "\n").split("\n")[:HEAD_LINES], step_s=float(step) / 1000)
        file = keep_file(build=build, name=upload.name or "trace", step_s=float(step) / 1000, parts=upload.chunks(1 << 20))
    except MosaicError as error:
        return _page(request, build, str(error), typed)
    jobs.start(build=build, owner=request.user, kind=TRACE, total=max(1, file.byte_count >> 10), asked={"file": file.pk})
    return go_to(request, reverse("trace", args=[build.pk]))


@require_POST
def take(request: HttpRequest, build_id: int) -> HttpResponse:
    """What was measured is taken into the build, or what is typical again."""
    build = own_build(request, build_id)
    device = build.to_device()
    plan = plan_of(build, device)
    if "leave" in request.POST:
        plan = replace(plan, measured=None)
    else:
        known, expected = found_in(build), expected_of(build, device)
        if known is None:
            raise BadValueError("no trace has been read yet; bring one first")
        found, name = known
        kind = matching_kind(found, expected) if expected else None
        plan = replace(plan, measured=measured_of(found, kind, name))
    documents.save_single(EnergyDocument, build=build, base=base_of(request), record=plan)
    if plan.measured is not None:
        _note(build, plan.measured, request.path)
    return go_to(request, reverse("trace", args=[build.pk]))


def _note(build: Build, found: Measured, page: str) -> None:
    """Two lines for the log: what flows with nothing to do, and what an update takes."""
    at = {"instrument": "a trace of the current", "conditions": found.source, "page": page, "subject": "Trace"}
    journal.note(build, "measurement", "", quantity="idle-current", value=found.idle_ma, **at)
    if found.event_mc:
        journal.note(build, "measurement", "", quantity="charge", value=found.event_mc / 3600, **at)
