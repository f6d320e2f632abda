"""The map of a serial panel's memory: places by themselves and by hand, as a ribbon, as CSV."""

from dataclasses import dataclass, replace
from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.forms import from_record, to_record
from mosaic.serial.memory import DIRECTIONS, KINDS, MemoryMap, automatic, from_csv, ribbon, to_csv
from workshop.answers import attachment, go_to
from workshop.builds.pages import changes_of
from workshop.documents.originals import read_upload
from workshop.documents.pages import base_of
from workshop.screens.documents import design_of
from workshop.screens.files import runtime_file
from workshop.screens.serial.pages import context_of, own_serial
from workshop.screens.serial.services import map_files, plan_of, save_plan, with_changes
from workshop.stations.overview import overview_of

ROW, LEFT, WIDTH = 34, 64, 880
MOST_CSV = 1 << 20
FIELDS = ("start", "kind", "decimals", "scale", "bytes", "bit", "direction", "every_ms")
CODE = ("panel_map.h", "panel_map.py", "line.h", "line.c", "line.py")


@dataclass(frozen=True)
class Cell:
    """A stretch of the ribbon as it is drawn."""

    x: float
    y: int
    width: float
    words: str
    address: str
    kind: str


def cells_of(memory: MemoryMap, names: dict[str, str]) -> tuple[list[Cell], list[tuple[int, str]], int]:
    """The ribbon in rows of 16 units; long gaps are one row. Gives the cells, (y, address) of each row, and the height."""
    per_row, cells, rows, y = 16, [], [], 0
    row_start: int | None = None
    for one in ribbon(memory):
        start, left = one.start, one.count
        if not one.entries and one.count > per_row:
            y += ROW if row_start is not None else 0
            rows.append((y, ""))
            cells.append(Cell(LEFT, y, WIDTH, f"{one.count:,} free", "", "is-gap"))
            row_start, y = None, y + ROW
            continue
        while left > 0:
            begin = start // per_row * per_row
            if row_start is None or begin != row_start:
                y += ROW if row_start is not None else 0
                row_start = begin
                rows.append((y, f"{begin:04X}"))
            count = min(left, begin + per_row - start)
            words = ", ".join(names.get(entry.value, "gone") for entry in one.entries)
            kind = "is-overlap" if one.overlaps else "is-free" if not one.entries else f"is-{one.entries[0].kind}"
            cells.append(
                Cell(
                    LEFT + WIDTH * (start - begin) / per_row,
                    y,
                    WIDTH * count / per_row,
                    words if start == one.start else "",
                    f"{start:04X}",
                    kind,
                )
            )
            start, left = start + count, left - count
    return cells, rows, y + ROW


def _page(request: HttpRequest, build, wrong: MosaicError | None = None, typed: QueryDict | None = None) -> HttpResponse:
    _, context = context_of(build, "serial", wrong)
    memory, values = plan_of(build).memory, design_of(build).values
    names = {value.id: value.name for value in values}
    cells, rows, height = cells_of(memory, names)
    shown = []
    for value in values:
        entry = memory.entry(value.id)
        if entry is None and not value.is_given:
            continue
        told = dict.fromkeys(FIELDS, "") if entry is None else {
            **{name: getattr(entry, name) for name in FIELDS}, "start": f"{entry.start:04X}"
        }  # fmt: skip
        if typed is not None:
            told |= {name: typed.get(f"{name}_{value.id}", told[name]) for name in FIELDS}
        low, high = (value.plain(raw) for raw in value.bounds) if value.is_number else ("", "")
        shown.append((value, told, entry, f"{low} to {high} {value.unit}".strip() if low else f"up to {value.most_bytes} B"))
    context |= {
        "memory": memory, "cells": cells, "rows": rows, "height": height, "entries": shown, "kinds": KINDS,
        "directions": DIRECTIONS, "code": CODE, "first": f"{memory.first:04X}",
    }  # fmt: skip
    return render(request, "screens/serial/map.html", context, status=422 if wrong else 200)


def serial_map(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_serial(request, build_id))


def _address(typed: str, what: str) -> int:
    try:
        number = int(typed.strip().removesuffix("h"), 16)
    except ValueError:
        number = -1
    if not 0 <= number <= 0xFFFF:
        raise BadValueError(f"{what} is {typed.strip()[:20]!r}; an address from 0000 to FFFF, in hexadecimal, is accepted")
    return number


def _whole(typed: str, what: str) -> int:
    if not typed.strip().isdecimal() or len(typed.strip()) > 9:
        raise BadValueError(f"{what} is {typed.strip()[:20]!r}; a whole number is accepted")
    return int(typed)


def memory_from(posted: QueryDict, build) -> MemoryMap:
    """The map as it was filled in; a value without an address has none.

    Raises
    ------
    BadValueError, BadDescriptionError
        Something of it cannot be.
    """
    memory, entries = plan_of(build).memory, []
    for value in design_of(build).values:
        typed = posted.get(f"start_{value.id}", "").strip()
        if not typed:
            continue
        known = memory.entry(value.id)
        plain: dict[str, Any] = from_record(known) if known is not None else {"value": value.id}
        plain["start"] = _address(typed, f"the address of {value.name}")
        for name in ("decimals", "scale", "bytes", "bit", "every_ms"):
            if posted.get(f"{name}_{value.id}", "").strip():
                plain[name] = _whole(posted[f"{name}_{value.id}"], f"{name.replace('_ms', ', in ms,')} of {value.name}")
        for name in ("kind", "direction"):
            plain[name] = (
                posted.get(f"{name}_{value.id}") or plain.get(name) or {"kind": "s16", "direction": "to the panel"}[name]
            )
        entries.append(plain)
    plain = {
        **from_record(memory), "entries": entries,
        "unit": posted.get("unit", memory.unit), "words": posted.get("words", memory.words),
        "first": _address(posted.get("first", f"{memory.first:X}"), "the first address"),
        "spacing": _whole(posted.get("spacing", str(memory.spacing)), "the spacing"),
    }  # fmt: skip
    return to_record(plain, MemoryMap, "the map")


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep the map; or place values by themselves, those without an address or all."""
    build = own_serial(request, build_id)
    try:
        memory = memory_from(request.POST, build)
    except MosaicError as error:
        return _page(request, build, error, request.POST)
    plan, base = replace(plan_of(build), memory=memory), base_of(request)
    how = request.POST.get("how", "")
    if how in ("automatic", "anew"):
        plan = replace(plan, memory=automatic(design_of(build).values, memory, anew=how == "anew"))
    save_plan(build, plan, base)
    return go_to(request, reverse("serial", args=[build.pk]))


@require_POST
def fix(request: HttpRequest, build_id: int) -> HttpResponse:
    """What a finding proposes."""
    build = own_serial(request, build_id)
    plan = with_changes(build, changes_of(request), overview_of(build))
    save_plan(build, plan, base_of(request))
    back = request.POST.get("back", "")
    return go_to(request, reverse(back if back.startswith("serial") else "serial", args=[build.pk]))


def table(request: HttpRequest, build_id: int) -> HttpResponse:
    """The map as CSV."""
    build = own_serial(request, build_id)
    return attachment(to_csv(plan_of(build).memory, design_of(build).values), "map.csv", "text/csv; charset=utf-8")


@require_POST
def bring(request: HttpRequest, build_id: int) -> HttpResponse:
    """A CSV in place of the map."""
    build = own_serial(request, build_id)
    try:
        upload = request.FILES.get("table")
        if upload is None:
            raise BadValueError("no file was chosen; a CSV with the columns value and address is accepted")
        text = read_upload(upload, MOST_CSV, "tables").decode("utf-8-sig", "replace")
        memory = from_csv(text, design_of(build).values, plan_of(build).memory)
        save_plan(build, replace(plan_of(build), memory=memory), base_of(request))
    except MosaicError as error:
        return _page(request, build, error)
    return go_to(request, reverse("serial", args=[build.pk]))


def source(request: HttpRequest, build_id: int, wanted: str) -> HttpResponse:
    """The map as code, and the runtime that it needs."""
    build = own_serial(request, build_id)
    made = map_files(build)
    text = made[wanted] if wanted in made else runtime_file(wanted).decode()
    return attachment(text, wanted, "text/plain; charset=utf-8")
