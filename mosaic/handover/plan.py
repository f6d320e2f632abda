"""What a build costs, from its file alone: budgets, its worst step, a stretch of its schedule, and how long its cell lasts."""

from dataclasses import dataclass

from mosaic.animation.files import figures
from mosaic.behaviour.tables import tables_bytes
from mosaic.device.budget import Budget, Content, Need, basis_of, budgets
from mosaic.errors import MosaicError
from mosaic.handover.project import Project
from mosaic.panels.wire import frame_parts
from mosaic.refresh.buffers import second_buffer_bytes
from mosaic.refresh.costs import Wire
from mosaic.refresh.day.running import whole_day
from mosaic.refresh.day.scene import DeviceScene
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import Balance
from mosaic.refresh.energy.light import channel_levels, white_share
from mosaic.refresh.energy.plan import EnergyPlan, cell_of, day_mwh, reckoned, usual_plan
from mosaic.refresh.pace import TYPICAL
from mosaic.screens.sheet import CALL_BYTES, sheet_of
from mosaic.strips.files import index

LENGTHS = (86_400_000, 3_600_000, 600_000)
MOST_READINGS = 400_000
"""Readings that a stretch of the schedule may have: a build that reads more often is looked at for an hour, or ten minutes."""


@dataclass(frozen=True, eq=False)
class BuildPlan:
    """What a build costs. `day` and `energy` are None where there is no screen, `mwh` by state of the device."""

    budgets: tuple[Budget, ...]
    day: DayFigures | None
    energy: Balance | None
    supply: EnergyPlan
    mwh: dict[str, float]


def wire_of(project: Project) -> Wire:
    """The build's link, at the pace of its board as far as that was measured."""
    device, measured = project.device, project.single("benchmark")
    return Wire(device, device.link, measured.pace_for(device) if measured else TYPICAL)


def needs_of(project: Project) -> tuple[list[Need], float]:
    """What pictures, cells, letterings, screens and behaviour take of the flash; and the most light of what is shown, 0..1."""
    found, light = [], 0.0
    passport = project.device.passport

    def place(part) -> str:  # type: ignore[no-untyped-def]
        return "files" if project.place(part) == "file" else "arrays"

    for part in project.of("picture"):
        try:
            result = project.picture(part)
        except MosaicError:
            continue
        code = result.compression.code_bytes if result.compression else 0
        found.append(Need(place(part), "pictures", len(result.stored) + len(result.mask or b"") + code))  # type: ignore[arg-type]
        light = max(light, white_share(channel_levels(result.pixels, passport)))
    for kind, noun in (("strip", "strips"), ("figure", "segmented figures"), ("animation", "animations")):
        for part in project.of(kind):
            try:
                size = (
                    figures(project.animation(part), project.device)["bytes"] if kind == "animation"
                    else sum(row[-1] for row in index(project.cells(part.ref), project.device))
                )  # fmt: skip
            except MosaicError:
                continue
            found.append(Need(place(part), noun, size))  # type: ignore[arg-type]
    for part in project.of("lettering"):
        try:
            found.append(Need("arrays", "lettering", project.packed(part).flash_bytes))
        except MosaicError:
            continue
    for part in project.of("screen"):
        if part.ref in project.plans:
            rendered = project.rendered(part)
            images = sheet_of(rendered, part.name).images.values()
            found.append(Need("arrays", "screens", sum(len(image.data) + len(image.mask) for image in images)))
            found.append(Need("arrays", "drawing of screens", CALL_BYTES * len(rendered.calls), "typical"))
            light = max(light, white_share(channel_levels(rendered.pixels, passport)))
    if project.of("behaviour"):
        found.append(Need("arrays", "tables of behaviour", tables_bytes(project.machine)))
    return found, light


def _day(project: Project) -> DayFigures | None:
    """The longest stretch of the schedule that is soon run."""
    if not project.plans:
        return None
    machine, program = project.machine, project.program
    own = dict(program.every)
    every = [own.get(value.id, value.source.every_ms) for value in machine.values if value.origin.by == "source"]
    length = next((one for one in LENGTHS if sum(one // max(1, ms) for ms in every) <= MOST_READINGS), LENGTHS[-1])
    names = {part.ref: part.name for part in project.of("screen")}
    scene = DeviceScene(machine, project.plans, names, wire_of(project), program.refresh)
    return whole_day(machine, scene, program, length, modes=project.device.passport.refresh)


def plan_of(project: Project) -> BuildPlan:
    """Everything that a build costs."""
    device, program = project.device, project.program
    needs, light = needs_of(project)
    day = _day(project)
    supply = project.single("energy") or usual_plan(device)
    energy, mwh = None, dict[str, float]()
    if day is not None:
        if day.worst is not None:
            measured = wire_of(project).pace.is_measured
            needs.append(Need("frame", f"drawing {day.worst.name}", day.worst.draw_ms, "measured" if measured else "typical"))
            needs.append(Need("frame", "sending it", day.worst.link_ms))
            if device.passport.refresh:
                mode = device.passport.refresh[min(program.refresh, len(device.passport.refresh) - 1)]
                needs.append(Need("frame", f"refresh, {mode.name}", day.worst.refresh_ms, basis_of(mode.basis)))
        cell = cell_of(supply, device)
        energy = reckoned(supply, cell, day, device, program)
        mwh = day_mwh(energy, cell)
        basis = "measured" if supply.measured is not None else "typical"
        needs += [Need("energy", name, value, basis) for name, value in mwh.items()]  # type: ignore[arg-type]
    second = second_buffer_bytes(device, program)
    if second:
        needs.append(Need("RAM", "second full buffer", second))
    frame = frame_parts(device.passport, device.turn, bytes(device.passport.frame_bytes))
    return BuildPlan(budgets(device, Content(tuple(needs), frame, light)), day, energy, supply, mwh)
