"""How long a cell lasts: how the build is fed, what takes how much, and what another interval or another cell would bring."""

from dataclasses import dataclass, replace
from math import floor, log10
from typing import Any

from django.http import HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.forms import from_record, to_record
from mosaic.numbers import decimal
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import Balance, balance, curve
from mosaic.refresh.energy.cells import CELLS, CellKind
from mosaic.refresh.energy.plan import MOST_LOADS, OWN, EnergyPlan, cell_of, rhythm_of, states_of
from workshop.answers import go_to
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.refresh.documents import EnergyDocument, wire_of
from workshop.refresh.schedule_services import LENGTHS, MOST_AT_ONCE, kept_program, known_day, readings_in, without_gone
from workshop.refresh.tabs import tabs_of
from workshop.stations.exchange import living
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

INTERVALS_S = (60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400, 28_800, 86_400)
EMPTY_ROWS = 2
LEFT, RIGHT, TOP, BOTTOM = 60, 940, 14, 206


@dataclass(frozen=True)
class Curve:
    """Runtime over the interval, drawn: the path, the marks of both axes, where idling takes as much as updating."""

    path: str
    across: list[tuple[float, str]]
    up: list[tuple[float, str]]
    crossing: tuple[float, str, bool] | None
    here: tuple[float, float, str] | None


def usual_plan(device: Device) -> EnergyPlan:
    return EnergyPlan(sleeps=device.passport.technology == "epaper")


def plan_of(build: Build, device: Device) -> EnergyPlan:
    """How the build is fed."""
    row = shelf.single(build, EnergyDocument)
    return row.record if row else usual_plan(device)


def _number(values: QueryDict, field: str, what: str) -> float:
    found = decimal(values.get(field, "").strip() or "0")
    if found is None:
        raise BadValueError(f"{what} is {values.get(field, '')[:20]!r}; a number such as 3.3 is accepted")
    return float(found)


def plan_from(values: QueryDict, kept: EnergyPlan) -> EnergyPlan:
    """How the build is fed, as it was filled in.

    Raises
    ------
    BadValueError, BadDescriptionError
        Something of it cannot be.
    """
    loads = []
    for number in range(MOST_LOADS):
        name = values.get(f"load_name_{number}", "").strip()
        if name:
            ma = _number(values, f"load_ma_{number}", f"the current of {name}, in mA,")
            loads.append({"name": name[:40], "ma": ma, "when": values.get(f"load_when_{number}", "awake")})
    share = _number(values, "efficiency", "the efficiency, in %,")
    kind = values.get("regulator", kept.regulator.kind)
    regulator = {
        **from_record(kept.regulator), "kind": kind,
        "out_v": _number(values, "out_v", "the voltage of the load, in V,"),
        "quiescent_ua": _number(values, "quiescent_ua", "the quiescent current, in µA,"),
    }  # fmt: skip
    if kind == "switching" and share != 100 * max(part for _, part in kept.regulator.efficiency):
        regulator["efficiency"] = [[0.0, share / 100]]
    cell = values.get("cell", OWN)
    if cell != OWN and cell not in CELLS:
        raise BadValueError(f"{cell[:20]!r} is no kind of cell; choose one of those offered")
    plain = {
        "cell": cell, "regulator": regulator, "sleeps": "sleeps" in values, "waits_awake": "waits_awake" in values,
        "is_cold": "is_cold" in values, "loads": loads,
    }  # fmt: skip
    return to_record(plain, EnergyPlan, "how the build is fed")


def day_to_reckon(build: Build, device: Device) -> tuple[DayFigures | None, str]:
    """The longest stretch of the schedule that a page can wait for, and what it is called."""
    life = living(build, device)
    if life is None:
        return None, ""
    program = without_gone(kept_program(build, device), life)
    wire = wire_of(build, device)
    day = known_day(build, life, wire, program, LENGTHS["day"], "")
    if day is not None:
        return day, "a day"
    name = next((one for one in ("hour", "minute") if readings_in(life, program, LENGTHS[one]) <= MOST_AT_ONCE), "minute")
    return known_day(build, life, wire, program, LENGTHS[name], ""), {"hour": "an hour", "minute": "a minute"}[name]


def _reckoned(plan: EnergyPlan, cell: CellKind, day: DayFigures, device: Device, build: Build, light: float) -> Balance:
    states = states_of(day, device, kept_program(build, device), plan, light)
    return balance(states, plan.regulator, cell, cold=plan.is_cold)


def _on(plan: EnergyPlan, cell: CellKind, day: DayFigures, device: Device, build: Build, light: float) -> tuple[Balance, bool]:
    """The same on another cell; through a switching regulator, and then True, where a linear one would not do."""
    is_short = bool(plan.regulator.why_not(cell.volts))
    other = replace(plan, regulator=replace(plan.regulator, kind="switching")) if is_short else plan
    return _reckoned(other, cell, day, device, build, light), is_short


def _page(request: HttpRequest, build: Build, wrong: str = "", typed: QueryDict | None = None) -> HttpResponse:
    overview = overview_of(build)
    device = overview.device
    row = shelf.single(build, EnergyDocument)
    plan = plan_of(build, device)
    day, reckoned_for = day_to_reckon(build, device)
    light = max((item.light_share for item in overview.items if item.light_share is not None), default=0.0)
    context: dict[str, Any] = {
        **frame_context(overview, "refresh"), "tabs": tabs_of(build, "energy"),
        "base": row.head_id if row else 0, "document": row,
        "fed": plan, "typed": typed, "wrong": wrong, "day": day, "reckoned_for": reckoned_for, "cells": list(CELLS.values()),
        "own": cell_of(EnergyPlan(), device), "rows": _load_rows(plan), "is_paper": bool(device.passport.refresh),
        "efficiency": round(100 * max(share for _, share in plan.regulator.efficiency), 1),
    }  # fmt: skip
    if day is not None:
        cell = cell_of(plan, device)
        found = _reckoned(plan, cell, day, device, build, light)
        others = [(one, *_on(plan, one, day, device, build, light)) for one in CELLS.values()]
        most = max((other.days for _, other, _ in others if not other.why_not), default=1.0) or 1.0
        context |= {
            "cell": cell, "found": found, "most_taken": found.taken[0].mah or 1.0,
            "others": [
                (one, other, is_switching, round(100 * min(other.days / most, 1), 1)) for one, other, is_switching in others
            ],
            "curve": _curve(found, day, cell, plan) if device.passport.refresh else None,
            "per_charge": day.steps * 86_400_000 / day.length_ms * found.days if day.steps else 0,
        }  # fmt: skip
    return render(request, "refresh/energy.html", context, status=422 if wrong else 200)


def _load_rows(plan: EnergyPlan) -> list[tuple[int, Any]]:
    rows: list[Any] = [*plan.loads, *([None] * EMPTY_ROWS)]
    return list(enumerate(rows[:MOST_LOADS]))


def _nice(least: float) -> float:
    """1, 2, 2.5 or 5 times a power of ten, no less than a number.

    >>> _nice(210), _nice(250), _nice(0.3)
    (250.0, 250.0, 0.5)
    """
    power = 10.0 ** floor(log10(max(least, 1e-6)))
    return next(power * part for part in (1, 2, 2.5, 5, 10) if power * part >= least * (1 - 1e-9))


def _words(seconds: float) -> str:
    if seconds < 3600:
        return f"{seconds / 60:.3g} min"
    return f"{seconds / 3600:.3g} h" if seconds < 86_400 else f"{seconds / 86_400:.3g} d"


def _curve(found: Balance, day: DayFigures, cell: CellKind, plan: EnergyPlan) -> Curve:
    rhythm = rhythm_of(found, day)
    usable = cell.usable_mah(cold=plan.is_cold)
    points = curve(rhythm, usable, cell.self_discharge_ma, INTERVALS_S)
    here_s = day.length_ms / 1000 / max(1, day.steps)
    step = _nice(max(days for _, days in points) / 4)
    most = 4 * step
    places = {every: LEFT + (RIGHT - LEFT) * n / (len(points) - 1) for n, (every, _) in enumerate(points)}

    def across(seconds: float) -> float:
        """Between the marks, on a scale of ratios."""
        for (low, a), (high, b) in zip(places.items(), list(places.items())[1:], strict=False):
            if seconds <= high:
                return round(a + (b - a) * max(0.0, (seconds - low) / (high - low)), 1)
        return RIGHT

    def up(days: float) -> float:
        return round(BOTTOM - (BOTTOM - TOP) * days / most, 1)

    ((_, here_days),) = curve(rhythm, usable, cell.self_discharge_ma, [here_s])
    is_inside = INTERVALS_S[0] <= rhythm.crossing_s <= INTERVALS_S[-1]
    return Curve(
        " ".join(f"{'M' if not n else 'L'}{places[every]:.1f} {up(days)}" for n, (every, days) in enumerate(points)),
        [(round(x, 1), _words(every)) for every, x in places.items()],
        [(up(step * n), f"{step * n:,g}") for n in range(5)],
        (across(rhythm.crossing_s), _words(rhythm.crossing_s), across(rhythm.crossing_s) > (LEFT + RIGHT) / 2)
        if is_inside
        else None,
        (across(here_s), up(here_days), f"{here_days:,.0f} days") if INTERVALS_S[0] <= here_s <= INTERVALS_S[-1] else None,
    )


def energy(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep how the build is fed; what cannot be stays in its fields."""
    build = own_build(request, build_id)
    try:
        plan = plan_from(request.POST, plan_of(build, build.to_device()))
    except MosaicError as error:
        return _page(request, build, str(error), request.POST)
    documents.save_single(EnergyDocument, build=build, base=base_of(request), record=plan)
    return go_to(request, reverse("energy", args=[build.pk]))
