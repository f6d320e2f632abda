"""How a build is fed, and what its day takes, as the pages and the budgets need them."""

from dataclasses import replace
from math import isfinite

from django.urls import reverse

from mosaic.device.budget import Basis, Need
from mosaic.device.device import Device
from mosaic.findings.paper import long_findings
from mosaic.findings.schedule import DaySubject
from mosaic.forms import from_record
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import Balance
from mosaic.refresh.energy.cells import CellKind
from mosaic.refresh.energy.plan import ASLEEP, EnergyPlan, cell_of, day_mwh, reckoned, rhythm_of, usual_plan
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.refresh.documents import EnergyDocument, wire_of
from workshop.refresh.schedule_services import LENGTHS, MOST_AT_ONCE, kept_program, known_day, readings_in, without_gone
from workshop.stations.exchange import living
from workshop.stations.station import Item


def plan_of(build: Build, device: Device) -> EnergyPlan:
    """How the build is fed."""
    row = shelf.single(build, EnergyDocument)
    return row.record if row else usual_plan(device)


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


def on_cell(plan: EnergyPlan, cell: CellKind, day: DayFigures, device: Device, program: Program) -> tuple[Balance, bool]:
    """The same on another cell; through a switching regulator, and then True, where a linear one would not do."""
    is_short = bool(plan.regulator.why_not(cell.volts - plan.diode_v))
    other = replace(plan, regulator=replace(plan.regulator, kind="switching")) if is_short else plan
    return reckoned(other, cell, day, device, program), is_short


def long_item(build: Build, device: Device) -> Item | None:
    """What a whole day adds to a build: its energy in mWh from what feeds it, by state, and findings; None without a schedule."""
    day, _ = day_to_reckon(build, device)
    if day is None:
        return None
    plan, program = plan_of(build, device), kept_program(build, device)
    cell = cell_of(plan, device)
    found = reckoned(plan, cell, day, device, program)
    basis: Basis = "measured" if plan.measured is not None else "typical"
    needs = day_mwh(found, cell)
    total = sum(needs.values())
    lasts = 0.0 if plan.is_wall else found.days
    subject = DaySubject(device, day, program, 0.0, plan.celsius, total, needs.get(ASLEEP, 0.0), lasts)
    findings = tuple(from_record(finding) for finding in long_findings(subject))
    url = reverse("paper" if device.passport.refresh else "energy", args=[build.pk])
    words = f"{total:,.1f} mWh a day"
    return Item(
        "energy-0", "Energy", url, tuple(Need("energy", n, mwh, basis) for n, mwh in needs.items()), findings, summary=words
    )


def predicted(build: Build, device: Device) -> dict[str, float]:
    """What a meter or a watch would show: ms of a full refresh, mA asleep and mAh an update from the cell, days that it lasts."""
    found = {"refresh-time": device.passport.refresh[0].time_ms} if device.passport.refresh else {}
    day, _ = day_to_reckon(build, device)
    if day is None:
        return found
    plan, program = replace(plan_of(build, device), measured=None), kept_program(build, device)
    taken = reckoned(plan, cell_of(plan, device), day, device, program)
    rhythm = rhythm_of(taken, day, plan)
    found["charge"] = rhythm.update_mc / 3600
    if plan.sleeps:
        found["idle-current"] = rhythm.idle_ma
    if not plan.is_wall and isfinite(taken.days):
        found["runtime"] = taken.days
    return found
