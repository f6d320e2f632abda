"""How long a cell lasts: how the build is fed, what takes how much, and what changes, cells and panels would bring."""

from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.panels.loader import catalogue
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.cells import CELLS
from mosaic.refresh.energy.changes import gains_of
from mosaic.refresh.energy.elsewhere import on_another, one_of_each
from mosaic.refresh.energy.plan import (
    HOURS_A_DAY,
    MOST_LOADS,
    WALL_V,
    WALLS,
    EnergyPlan,
    cell_of,
    checked,
    reckoned,
    rhythm_of,
)
from mosaic.refresh.energy.supply import MOST_POINTS
from mosaic.refresh.energy.topping import least_peak_mw, month_of
from workshop.answers import go_to
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.refresh.documents import EnergyDocument
from workshop.refresh.energy_drawing import curve_of, month_bars
from workshop.refresh.energy_forms import LOAD_FIELDS, POINT_FIELDS, plan_from, row_values, rows_of, values_of
from workshop.refresh.energy_services import day_to_reckon, on_cell, plan_of
from workshop.refresh.schedule_services import kept_program
from workshop.refresh.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

EMPTY_ROWS = 2
SOLAR_MW = (100, 250, 500, 1000, 2000, 3000, 5000, 10_000)
"""Powers of small solar panels that are sold."""


def _page(request: HttpRequest, build: Build, wrong: str = "", typed: QueryDict | None = None) -> HttpResponse:
    overview = overview_of(build)
    device = overview.device
    row = shelf.single(build, EnergyDocument)
    plan = plan_of(build, device)
    day, reckoned_for = day_to_reckon(build, device)
    values = typed.dict() if typed is not None else {**values_of(plan), **row_values(plan)}
    context: dict[str, Any] = {
        **frame_context(overview, "refresh"), "tabs": tabs_of(build, device, "energy"),
        "base": row.head_id if row else 0, "document": row, "fed": plan, "v": values, "wrong": wrong,
        "day": day, "reckoned_for": reckoned_for, "cells": list(CELLS.values()), "walls": WALLS.items(),
        "own": cell_of(EnergyPlan(), device), "loads": rows_of(values, LOAD_FIELDS, MOST_LOADS, EMPTY_ROWS),
        "points": rows_of(values, POINT_FIELDS, MOST_POINTS, EMPTY_ROWS), "is_paper": bool(device.passport.refresh),
        "is_colour": device.passport.technology == "oled" and device.passport.palette is None,
        "findings": overview.findings_on("energy"),
    }  # fmt: skip
    if day is not None:
        context |= _figures(build, device, plan, day)
    return render(request, "refresh/energy.html", context, status=422 if wrong else 200)


def _figures(build: Build, device: Device, plan: EnergyPlan, day: DayFigures) -> dict[str, Any]:
    """What the page tells of a plan."""
    program, cell = kept_program(build, device), cell_of(plan, device)
    found = reckoned(plan, cell, day, device, program)
    rhythm = rhythm_of(found, day, plan)
    others = [(one, *on_cell(plan, one, day, device, program)) for one in CELLS.values()]
    most = max((other.days for _, other, _ in others if not other.why_not), default=1.0) or 1.0
    gains = gains_of(plan, cell, day, device, program)
    day_mah = HOURS_A_DAY * (found.average_ma + found.self_discharge_ma)
    panels = one_of_each(catalogue().values(), device.passport).values()
    elsewhere = [on_another(one, plan, cell, day, device, program) for one in panels]
    context: dict[str, Any] = {
        "cell": cell, "found": found, "most_taken": found.taken[0].mah or 1.0, "day_mah": day_mah,
        "average_mw": found.average_ma * cell.volts, "rhythm": rhythm, "gains": gains,
        "others": [(one, other, is_switching, round(100 * min(other.days / most, 1), 1)) for one, other, is_switching in others],
        "per_charge": day.steps * 86_400_000 / day.length_ms * found.days if day.steps else 0,
        "elsewhere": sorted(elsewhere, key=lambda one: one.balance.average_ma),
        "most_ma": max([found.average_ma, *(one.balance.average_ma for one in elsewhere)]) or 1.0,
    }  # fmt: skip
    if plan.is_wall:
        wh = plan.wall.wh_a_day(found.average_ma, WALL_V)
        return {**context, "wall_wh": wh, "wall_kwh": wh * 365.25 / 1000}
    if plan.sleeps or device.passport.refresh:
        context["curve"] = curve_of(found, rhythm, day)
    if plan.topping.by != "nothing":
        month = month_of(plan.topping, found.usable_mah, day_mah, cell.volts)
        context |= {"month": month, "bars": month_bars(month)}
        if plan.topping.by == "sun" and not month.lasts:
            context["least_mw"] = least_peak_mw(plan.topping, found.usable_mah, day_mah, cell.volts, SOLAR_MW)
    return context


def energy(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep how the build is fed; what cannot be stays in its fields."""
    build = own_build(request, build_id)
    try:
        device = build.to_device()
        plan = checked(plan_from(request.POST.dict(), plan_of(build, device)), device)
    except MosaicError as error:
        return _page(request, build, str(error), request.POST)
    documents.save_single(EnergyDocument, build=build, base=base_of(request), record=plan)
    return go_to(request, reverse("energy", args=[build.pk]))
