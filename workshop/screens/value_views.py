"""Values of a build: what they are, where they come from, and what stands in for them."""

from dataclasses import replace
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.behaviour.banding import with_value
from mosaic.errors import BadValueError
from mosaic.values.courses import reading_at
from mosaic.values.records import columns_of, replayed_of
from mosaic.values.value import Value
from workshop.answers import go_to
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.look.fields import problems_in_words
from workshop.screens.documents import DesignDocument, design_of
from workshop.screens.tabs import tabs_of
from workshop.screens.value_forms import ValueForm
from workshop.screens.value_services import new_value, save_design, users_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

POINTS, WIDE, HIGH = 241, 240, 60
LARGEST_FILE = 8 * 2**20


def course_of(value: Value) -> dict[str, Any] | None:
    """The stand-in's course drawn: two minutes, or one round of it, or all that is replayed."""
    stand = value.stand_in
    if not value.is_number:
        return None
    length = 120_000
    if stand.by in ("ramp", "sine"):
        length = 2000 * stand.period_s
    elif stand.by == "replay" and stand.replayed:
        length = max(1000, stand.replayed[-1][0])
    elif stand.by in ("walk", "list", "clock"):
        length = max(120_000, 60 * stand.every_ms)
    low, high = value.bounds
    span = max(1, high - low)
    pieces: list[list[str]] = [[]]
    for number in range(POINTS):
        raw = reading_at(value, length * number // (POINTS - 1))
        if not isinstance(raw, int):
            pieces.append([])
            continue
        pieces[-1].append(f"{number * WIDE / (POINTS - 1):.1f},{HIGH - HIGH * (raw - low) / span:.1f}")
    seconds = length / 1000
    spoken = f"{seconds:g} s" if seconds < 600 else f"{seconds / 3600:.1f} h"
    return {
        "lines": [" ".join(piece) for piece in pieces if piece],
        "low": value.plain(low),
        "high": value.plain(high),
        "length": spoken,
    }


def values(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    row, record = shelf.single(build, DesignDocument), design_of(build)
    chosen = request.GET.get("v", "")
    rows = []
    for value in record.values:
        source = value.source
        known = None
        if source.known is not None and value.is_number:
            given = source.value_of(source.known[0])
            known = (
                source.known[0],
                value.plain(given),
                value.plain(source.known[1]),
                abs(given - source.known[1]) <= value.step,
            )
        form = ValueForm(value=value, prefix=value.id)
        rows.append((value, form, users_of(build, value.id), course_of(value), known, value.id == chosen))
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "values"), "document": row,
        "base": row.head_id if row else 0,
        "design": record, "rows": rows, "kinds": ValueForm.base_fields["kind"].choices,
    }  # fmt: skip
    return render(request, "screens/values.html", context)


def _back(request: HttpRequest, build: Build, ident: str) -> HttpResponse:
    return go_to(request, reverse("values", args=[build.pk]) + (f"?v={ident}#{ident}" if ident else ""))


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """A new value."""
    build = own_build(request, build_id)
    design = design_of(build)
    name = request.POST.get("name", "").strip()
    if not name:
        raise BadValueError("the value has no name yet; one such as tide is accepted")
    if any(mark in name for mark in "{}:|.") or len(name) > 40:
        raise BadValueError(f"{name[:40]!r} cannot be written in a text; up to 40 characters, none of {{ }} : | . are accepted")
    value = new_value(design, name, request.POST.get("kind", "number"))
    save_design(build, with_value(design, value), base_of(request))
    return _back(request, build, value.id)


@require_POST
def change(request: HttpRequest, build_id: int, ident: str) -> HttpResponse:
    """Keep what was filled in of one value; a file of readings along with it."""
    build = own_build(request, build_id)
    design = design_of(build)
    value = _own(design.value(ident))
    form = ValueForm(request.POST, value=value, prefix=ident)
    if not form.is_valid():
        raise BadValueError(problems_in_words(form))
    filled = form.filled()
    file = request.FILES.get("file")
    if file is not None:
        filled = _replayed(filled, file, request.POST.get("column", ""))
    save_design(build, with_value(design, filled), base_of(request))
    return _back(request, build, ident)


def _replayed(value: Value, file: Any, column: str) -> Value:
    if file.size > LARGEST_FILE:
        raise BadValueError(
            f"{file.name} has {file.size / 2**20:.0f} MiB; up to {LARGEST_FILE // 2**20} MiB of readings are accepted"
        )
    table = columns_of(file.read())
    readings = replayed_of(table, value, column)
    return replace(value, stand_in=replace(value.stand_in, by="replay", replayed=readings))


def _own(value: Value | None) -> Value:
    if value is None:
        raise Http404("no such value")
    return value


@require_POST
def remove(request: HttpRequest, build_id: int, ident: str) -> HttpResponse:
    """Take a value away; what showed it says so in a finding, and Undo brings it back."""
    build = own_build(request, build_id)
    design = design_of(build)
    _own(design.value(ident))
    users = users_of(build, ident)
    if users and request.POST.get("sure") != "1":
        return redirect(reverse("values", args=[build.pk]) + f"?v={ident}&leave=1#{ident}")
    left = tuple(value for value in design.values if value.id != ident)
    never = tuple(pair for pair in design.never if ident not in (pair.first, pair.second))
    save_design(build, replace(design, values=left, never=never), base_of(request))
    return _back(request, build, "")
