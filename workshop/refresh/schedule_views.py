"""The day of a build on a time line: as it is kept, and as it would be otherwise."""

from dataclasses import dataclass, replace
from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.forms import from_record, to_record
from mosaic.numbers import whole_of
from mosaic.refresh.costs import Wire
from mosaic.refresh.day.judging import Tearing, proposals, tearing
from mosaic.refresh.day.program import DAY_MIN, Program
from mosaic.refresh.day.summary import DayFigures, Shown
from mosaic.values.value import seconds_of
from workshop.answers import go_to
from workshop.builds.models import Build
from workshop.builds.pages import changes_of, own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.jobs import services as jobs
from workshop.jobs.views import shown as job_shown
from workshop.refresh.documents import ScheduleDocument, wire_of
from workshop.refresh.schedule_services import (
    DAY,
    LENGTHS,
    MOST_AT_ONCE,
    asked_of,
    kept_program,
    known_day,
    readings_in,
    with_changes,
    without_gone,
)  # fmt: skip
from workshop.refresh.tabs import tabs_of
from workshop.stations.exchange import living
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of
from workshop.stations.station import Living

LANES = {"read": 0, "draw": 0, "send": 1, "refresh": 2, "input": 3}
SHOWN_EVENTS = 60
SCALES = (0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0)
"""Shares of the time that a full bar may stand for."""


@dataclass(frozen=True)
class Column:
    """A schedule and its day; None where a worker still has to run it."""

    title: str
    program: Program
    day: DayFigures | None
    tearing: Tearing | None


def _minute_of(typed: str, what: str) -> int:
    seconds = seconds_of(typed.strip(), "time")
    if seconds is None:
        raise BadValueError(f"{what} is {typed.strip()[:20]!r}; a time such as 22:00 is accepted")
    return seconds // 60 % DAY_MIN


def program_from(values: QueryDict, life: Living, kept: Program) -> Program:
    """The schedule that was filled in.

    Raises
    ------
    BadValueError
        Something of it cannot be; the text says what is accepted.
    """
    every = []
    for value in life.machine.values:
        typed = values.get(f"every_{value.id}", "").strip()
        if value.origin.by == "source" and typed:
            ms = whole_of(typed, f"the interval of {value.name}, in ms,", 1, 86_400_000)
            if ms != value.source.every_ms:
                every.append((value.id, ms))
    plain = {
        **from_record(kept), "every": [list(one) for one in every], "splits": "splits" in values,
        "sends_itself": "sends_itself" in values, "two_buffers": "two_buffers" in values,
        "least_ms": whole_of(values.get("least_ms") or "0", "the least time between drawings, in ms,", 0, 86_400_000),
        "night_from_min": _minute_of(values.get("night_from") or "22:00", "the beginning of the night"),
        "night_to_min": _minute_of(values.get("night_to") or "6:00", "the end of the night"),
        "night_slower": whole_of(values.get("night_slower") or "1", "how many times as rarely", 1, 1000),
        "refresh": whole_of(values.get("refresh") or "0", "the way to refresh", 0, 31),
    }  # fmt: skip
    return to_record(plain, Program, "the schedule")


def _length(values: QueryDict, life: Living, program: Program) -> tuple[str, int, str]:
    """(what was asked for, ms, reference of a kept run): a day where it is short enough to be run at once, else an hour."""
    asked = values.get("length", "")
    runs = {ref: happened for ref, _, happened in life.runs}
    if asked in runs:
        last = runs[asked][-1][0] if runs[asked] else 0
        return asked, max(1000, min(LENGTHS["day"], last + 1000)), asked
    if asked in LENGTHS:
        return asked, LENGTHS[asked], ""
    for name in ("day", "hour", "minute"):
        if readings_in(life, program, LENGTHS[name]) <= MOST_AT_ONCE:
            return name, LENGTHS[name], ""
    return "minute", LENGTHS["minute"], ""


def schedule(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    life = living(build, device)
    context: dict[str, Any] = {
        **frame_context(overview, "refresh"),
        "tabs": tabs_of(build, overview.device, "schedule"),
        "life": life,
    }
    row = shelf.single(build, ScheduleDocument)
    context |= {
        "base": row.head_id if row else 0,
        "document": row,
        "findings": overview.findings_of("schedule-0"),
        "on_device": overview.findings_on("schedule"),
    }
    if life is None:
        return render(request, "refresh/schedule.html", context)
    kept = without_gone(kept_program(build, device), life)
    tried, wrong, status = kept, "", 200
    if "try" in request.GET:
        try:
            tried = program_from(request.GET, life, kept)
        except MosaicError as error:
            wrong, status = str(error), 422
    name, length, ref = _length(request.GET, life, tried)
    wire = wire_of(build, device)
    columns = [_column("as kept", build, life, wire, kept, length, ref)]
    if tried != kept:
        columns.append(_column("as filled in", build, life, wire, tried, length, ref))
    for subject, column in enumerate(columns):
        if column.day is None:
            job = jobs.start(
                build=build, owner=request.user, kind=DAY, subject=subject, total=length // 1000,
                asked=asked_of(life, wire, column.program, length, ref),
            )  # fmt: skip
            context |= job_shown(job)
    shown = next((one for one in reversed(columns) if one.day is not None), None)
    context |= {
        "columns": columns, "basis": wire.pace.basis, "tried": tried, "is_other": tried != kept,
        "wrong": wrong, "length": name, "run": ref,
        "sources": _source_rows(life, tried, request.GET), "typed": request.GET if wrong else None,
        "shown": shown, "line": _time_line(shown.day) if shown and shown.day else None,
        "lanes": _lanes(shown.day) if shown and shown.day else None,
        "proposals": proposals(shown.day, shown.program) if shown and shown.day else [],
        "modes": list(enumerate(device.passport.refresh)),
        "per_minute": _per_minute(shown.day) if shown and shown.day else [],
    }  # fmt: skip
    return render(request, "refresh/schedule.html", context, status=status)


def _column(title: str, build: Build, life: Living, wire: Wire, program: Program, length: int, ref: str) -> Column:
    day = known_day(build, life, wire, program, length, ref)
    return Column(title, program, day, tearing(wire.device, day) if day is not None else None)


def _source_rows(life: Living, program: Program, typed: QueryDict) -> list[tuple[Any, str]]:
    own = dict(program.every)
    return [
        (value, typed.get(f"every_{value.id}") or str(own.get(value.id, value.source.every_ms)))
        for value in life.machine.values if value.origin.by == "source"
    ]  # fmt: skip


def _per_minute(day: DayFigures) -> list[tuple[str, float, float, float]]:
    """Of each element: changes, bytes and ms on the link in a minute."""
    minutes = max(day.length_ms, 1) / 60_000
    return [(one.name, one.changes / minutes, one.sent_bytes / minutes, one.link_ms / minutes) for one in day.elements[:20]]


def _time_line(day: DayFigures) -> dict[str, Any]:
    """Bars of each stretch: (x, width, [(kind, y, height)], link, refresh, whether night), and what a full bar stands for."""
    most = max(max(one.busy_ms, one.link_ms) / one.length_ms for one in day.stretches)
    scale = next(share for share in SCALES if share >= min(most, 1.0))
    bars = []
    for one in day.stretches:
        x, width = 960 * one.begin_ms / day.length_ms, 960 * one.length_ms / day.length_ms
        parts, top = [], 60.0
        for kind, ms in (("read", one.read_ms), ("draw", one.draw_ms), ("wait", one.wait_ms)):
            height = 60 * ms / one.length_ms / scale
            top -= height
            parts.append((kind, round(top, 2), round(height, 2)))
        bars.append((
            round(x, 2), round(width, 2), parts, round(18 * one.link_ms / one.length_ms / scale, 2),
            round(18 * one.refresh_ms / one.length_ms, 2), one.is_night,
        ))  # fmt: skip
    marks = [(round(960 * n / 8, 1), _moment(day.length_ms * n / 8)) for n in range(9)]
    return {"bars": bars, "marks": marks, "scale": f"{100 * scale:g}"}


def _moment(ms: float) -> str:
    seconds = ms / 1000
    if seconds >= 3600:
        return f"{seconds / 3600:.3g} h"
    return f"{seconds / 60:.3g} min" if seconds >= 60 else f"{seconds:.3g} s"


def _lanes(day: DayFigures) -> dict[str, Any]:
    """The first events on lanes: the program, the link, the panel, somebody's hands."""
    events = day.events[:SHOWN_EVENTS]
    end = max((one.end_ms for one in events), default=0.0) or 1.0
    shown: list[tuple[float, float, int, Shown]] = []
    for one in events:
        x = 960 * one.begin_ms / end
        shown.append((round(x, 2), round(max(1.5, 960 * (one.end_ms - one.begin_ms) / end), 2), LANES[one.what], one))
    return {"events": shown, "marks": [(round(960 * n / 8, 1), _moment(end * n / 8)) for n in range(9)], "count": len(events)}


def _back(build: Build, asked: str) -> str:
    return reverse("schedule", args=[build.pk]) + (f"?length={asked}" if asked.replace("-", "").isalnum() else "")


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep what was filled in as the build's schedule."""
    build = own_build(request, build_id)
    device = build.to_device()
    life = living(build, device)
    if life is None:
        raise BadValueError("there is no screen yet; a schedule follows from screens")
    program = program_from(request.POST, life, kept_program(build, device))
    documents.save_single(ScheduleDocument, build=build, base=base_of(request), record=program)
    return go_to(request, _back(build, request.POST.get("length", "")))


@require_POST
def fix(request: HttpRequest, build_id: int) -> HttpResponse:
    """What a finding proposes, done to the build's schedule."""
    build = own_build(request, build_id)
    device = build.to_device()
    program = with_changes(kept_program(build, device), changes_of(request))
    life = living(build, device)
    program = without_gone(program, life) if life is not None else replace(program, every=())
    documents.save_single(ScheduleDocument, build=build, base=base_of(request), record=program)
    if request.POST.get("back") == "paper":
        return go_to(request, reverse("paper", args=[build.pk]))
    return go_to(request, _back(build, request.POST.get("length", "")))
