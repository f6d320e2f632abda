"""`mosaic plan`: what a build costs, from its build file: budgets, its worst step, a stretch of its schedule, its cell."""

import argparse
import json
from pathlib import Path
from typing import Any

from mosaic.build_file import read
from mosaic.handover.plan import BuildPlan, plan_of
from mosaic.handover.project import Project


def add_commands(commands: Any) -> None:
    parser = commands.add_parser("plan", help="budgets, schedule and energy of a build")
    parser.add_argument("file", metavar="BUILD.zip", help="a build file, as it is downloaded from the build sheet")
    parser.add_argument("--json", action="store_true", help="all of it as one JSON object")
    parser.set_defaults(run=run)


def told(plan: BuildPlan) -> dict[str, Any]:
    """A plan as plain values; units are in the names, times in ms, energy in mWh of a day."""
    budgets = [
        {"name": one.slug, "unit": one.unit, "value": round(one.value, 3), "limit": one.limit, "state": one.state,
         "parts": [{"name": part.name, "value": round(part.value, 3), "basis": part.basis} for part in one.parts]}
        for one in plan.budgets
    ]  # fmt: skip
    found: dict[str, Any] = {"budgets": budgets}
    day = plan.day
    if day is not None:
        worst = day.worst
        found["schedule"] = {
            "length_ms": day.length_ms, "drawings": day.steps, "bytes": day.sent_bytes, "windows": day.windows,
            "merged": day.merged,
            "sources": [{"name": one.name, "reads": one.reads, "missed": one.missed} for one in day.sources],
        }  # fmt: skip
        if worst is not None:
            found["worst_step"] = {
                "name": worst.name, "draw_ms": round(worst.draw_ms, 3), "link_ms": round(worst.link_ms, 3),
                "refresh_ms": round(worst.refresh_ms, 3),
            }  # fmt: skip
    if plan.energy is not None:
        days = None if plan.supply.is_wall else round(plan.energy.days, 1)
        found["energy"] = {
            "mwh_a_day": round(sum(plan.mwh.values()), 3),
            "average_ma": round(plan.energy.average_ma, 5),
            "days": days,
        }
    return found


def run(arguments: argparse.Namespace) -> None:
    plan = plan_of(Project(read(Path(arguments.file).read_bytes())))
    plain = told(plan)
    if arguments.json:
        print(json.dumps(plain))
        return
    for one in plan.budgets:
        limit = f" of {one.limit:,.6g}" if one.limit else ""
        print(f"{one.name}: {one.value:,.6g}{limit} {one.unit}" + ("" if one.state in ("sound", "none") else f", {one.state}"))
    if "worst_step" in plain:
        worst = plain["worst_step"]
        print(f"worst step: {worst['name']}: drawn in {worst['draw_ms']:g} ms, sent in {worst['link_ms']:g} ms")
    if "schedule" in plain:
        schedule = plain["schedule"]
        print(f"in {schedule['length_ms'] / 3_600_000:g} h: {schedule['drawings']:,} drawings, {schedule['bytes']:,} B sent")
    if plain.get("energy", {}).get("days") is not None:
        days = plain["energy"]["days"]
        print(f"the cell lasts {days:,g} {'day' if days == 1 else 'days'} (typical)")
