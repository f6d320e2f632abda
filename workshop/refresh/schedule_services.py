"""Days of a build: run at once where they are short, by a worker where they are long, and kept."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import msgspec
from django.urls import reverse

from mosaic.device.budget import Need, basis_of
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.findings.schedule import day_findings
from mosaic.forms import from_record, to_record
from mosaic.refresh.buffers import second_buffer_bytes
from mosaic.refresh.costs import Wire
from mosaic.refresh.day.engine import Day, run_day
from mosaic.refresh.day.program import Program, usual_program
from mosaic.refresh.day.running import whole_day, with_screens
from mosaic.refresh.day.scene import DeviceScene
from mosaic.refresh.day.summary import DayFigures, figures_of
from mosaic.refresh.windows.comparing import wasted_share
from mosaic.screens.rendering import drawn_in
from workshop.builds.models import Build
from workshop.documents.keys import digest, panel_part
from workshop.jobs.kinds import JobKind
from workshop.jobs.models import Job
from workshop.jobs.progress import Made, Progress
from workshop.memory import ByteCache
from workshop.refresh.documents import program_of, wire_of, wire_part
from workshop.stations.exchange import living, shown_screens
from workshop.stations.station import Item, Living

LENGTHS = {"minute": 60_000, "hour": 3_600_000, "day": 86_400_000}
MOST_AT_ONCE = 12_000
"""Readings and ticks that a page waits for; more are a worker's."""
MOST_LOOKED_AT = 4
QUICK_MS, QUICK_STEPS = 600_000, 60
DAY = "day"
_days = ByteCache("days", 8 * 2**20)


def kept_program(build: Build, device: Device) -> Program:
    """The build's schedule."""
    return program_of(build) or usual_program(device)


def readings_in(life: Living, program: Program, length_ms: int) -> int:
    """How many readings and ticks a stretch of time has, about."""
    own = dict(program.every)
    sources = [value for value in life.machine.values if value.origin.by == "source"]
    count = sum(length_ms // max(1, own.get(value.id, value.source.every_ms)) for value in sources)
    ticks = any(spot.element.overflow == "scroll" for plan in life.plans.values() for spot in plan.spots)
    return count + (length_ms // 100 if ticks else 0)


def day_key(life: Living, wire: Wire, program: Program, length_ms: int, run: str) -> str:
    """Key of everything that a day depends on."""
    return digest("day 4", life.key, from_record(program), length_ms, run, *wire_part(wire), *panel_part(wire.device))


def scene_of(life: Living, wire: Wire, program: Program) -> DeviceScene:
    return DeviceScene(life.machine, life.plans, life.names, wire, program.refresh)


Told = Callable[[int, int], None]


def run(life: Living, wire: Wire, program: Program, length_ms: int, ref: str = "", progress: Told | None = None) -> DayFigures:
    """A day, run now."""
    inputs = next((happened for known, _, happened in life.runs if known == ref), ())
    scene, modes = scene_of(life, wire, program), wire.device.passport.refresh
    return whole_day(life.machine, scene, program, length_ms, inputs=inputs, modes=modes, progress=progress)


def known_day(build: Build, life: Living, wire: Wire, program: Program, length_ms: int, ref: str) -> DayFigures | None:
    """A day that is short, or that a worker has run already; None where one still has to."""
    key = day_key(life, wire, program, length_ms, ref)
    if readings_in(life, program, length_ms) <= MOST_AT_ONCE:
        return _days.get_or_make(key, lambda: run(life, wire, program, length_ms, ref), _size)
    found: DayFigures | None = _days.get(key)
    if found is None:
        job = build.jobs.filter(kind=DAY, state=Job.State.DONE, result_name=f"{key}.json").first()
        if job is not None:
            found = to_record(msgspec.json.decode(bytes(job.result)), DayFigures, "the day")
            _days.put(key, found, _size(found))
    return found


def _size(day: DayFigures) -> int:
    return 20_000 + 300 * (len(day.events) + len(day.stretches))


def asked_of(life: Living, wire: Wire, program: Program, length_ms: int, ref: str) -> dict[str, Any]:
    """What a worker is asked for."""
    key = day_key(life, wire, program, length_ms, ref)
    return {"key": key, "program": from_record(program), "length_ms": length_ms, "run": ref}


def make_day(job: Job, progress: Progress) -> Made:
    """Run a long day.

    Raises
    ------
    BadValueError
        The build has changed since, so that its day would be another one.
    """
    device = job.build.to_device()
    life, wire = living(job.build, device), wire_of(job.build, device)
    program = to_record(job.asked["program"], Program, "the schedule")
    length, ref = job.asked["length_ms"], job.asked["run"]
    if life is None or day_key(life, wire, program, length, ref) != job.asked["key"]:
        raise BadValueError("the build was changed before its day was run; look at the schedule again")
    found = run(life, wire, program, length, ref, lambda done, total: progress.step(done // 1000, total // 1000))
    progress.step(length // 1000, length // 1000)
    return Made(msgspec.json.encode(from_record(found)), f"{job.asked['key']}.json", f"{found.steps:,} drawings")


DAYS = JobKind(DAY, "running the day, in seconds", "", "application/json", make_day)


def quick_day(life: Living, wire: Wire, program: Program) -> DayFigures:
    """The first ten minutes, or as many drawings as a page can wait for."""
    scene = scene_of(life, wire, program)
    day: Day = run_day(life.machine, scene, program, QUICK_MS, most_steps=QUICK_STEPS, bins=1, modes=wire.device.passport.refresh)
    with_screens(day, life.machine, scene)
    return figures_of(day, program, life.machine.screens, scene.lights())


def day_at_once(build: Build, life: Living, wire: Wire, program: Program) -> DayFigures:
    """The longest stretch that a page can wait for, which the energy is worked out from too; else a quick look."""
    length = next((LENGTHS[one] for one in ("day", "hour") if readings_in(life, program, LENGTHS[one]) <= MOST_AT_ONCE), None)
    found = known_day(build, life, wire, program, length, "") if length else None
    return found or quick_day(life, wire, program)


def _wasted(build: Build, device: Device) -> float:
    """The share of the pixels sent from the typical state to others that has not changed, of a few screens and states."""
    steps = []
    for screen in shown_screens(build, device)[:MOST_LOOKED_AT]:
        usual = drawn_in(screen.rendered.plan, screen.states[0])
        steps += [(usual, drawn_in(screen.rendered.plan, state)) for state in screen.states[1 : 1 + MOST_LOOKED_AT]]
    return wasted_share(steps)


def schedule_item(build: Build, device: Device) -> Item | None:
    """What the schedule adds to its build: the time of its worst step, and its findings; None where there are no screens."""
    life = living(build, device)
    if life is None:
        return None
    program, wire = without_gone(kept_program(build, device), life), wire_of(build, device)
    key = digest("schedule 5", day_key(life, wire, program, QUICK_MS, ""))

    def made() -> tuple[tuple[Need, ...], tuple[dict[str, Any], ...], str]:
        day = day_at_once(build, life, wire, program)
        wasted = 0.0 if device.passport.grid.whole_frames else _wasted(build, device)
        found = tuple(from_record(finding) for finding in day_findings(device, day, program, wasted))
        worst = day.worst
        if worst is None:
            return (), found, ""
        needs = [
            Need("frame", f"drawing {worst.name}", worst.draw_ms, "measured" if wire.pace.is_measured else "typical"),
            Need("frame", "sending it", worst.link_ms),
        ]
        modes = device.passport.refresh
        if modes:
            mode = modes[min(program.refresh, len(modes) - 1)]
            needs.append(Need("frame", f"refresh, {mode.name}", worst.refresh_ms, basis_of(mode.basis)))
        return tuple(needs), found, f"worst step: {worst.name}"

    second = second_buffer_bytes(device, program)
    needs, found, words = _days.get_or_make(key, made, lambda _: 4000)
    if second:
        needs = (*needs, Need("RAM", "second full buffer", second))
    return Item("schedule-0", "Schedule", reverse("schedule", args=[build.pk]), needs, found, summary=words)


def with_changes(program: Program, changes: dict[str, Any]) -> Program:
    """A schedule with what a fix changes of it.

    Raises
    ------
    BadDescriptionError
        It is none.
    """
    every = {**dict(program.every), **changes.get("every", {})}
    plain = {**from_record(program), **{name: value for name, value in changes.items() if name not in ("every", "cleaning")}}
    plain["cleaning"] = {**from_record(program.cleaning), **changes.get("cleaning", {})}
    return to_record({**plain, "every": [list(one) for one in sorted(every.items())]}, Program, "the schedule")


def without_gone(program: Program, life: Living) -> Program:
    """A schedule without intervals of values that are gone."""
    known = {value.id for value in life.machine.values if value.origin.by == "source"}
    return replace(program, every=tuple(one for one in program.every if one[0] in known))
