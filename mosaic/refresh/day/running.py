"""A stretch of a build's schedule, from the device's start to its figures."""

from collections.abc import Callable, Sequence

from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Happening
from mosaic.panels.supply import RefreshMode
from mosaic.refresh.day.engine import Day, Step, run_day
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.scene import DeviceScene
from mosaic.refresh.day.summary import DayFigures, figures_of

Told = Callable[[int, int], None]


def with_screens(day: Day, machine: Machine, scene: DeviceScene) -> None:
    """Screens that rules show are steps too, though nobody may have touched anything."""
    actions = [action for rule in machine.behaviour.rules for action in rule.actions]
    shown = {machine.screen_numbers[one.to] for one in actions if one.do == "screen" and one.to in machine.screen_numbers}
    if any(one.do in ("go back", "refresh") for one in actions):
        shown.add(machine.start)
    for number in sorted(shown):
        step: Step = scene.whole(number, None)
        if day.worst is None or day.worst is day.first or step.total_ns > day.worst.total_ns:
            day.worst = step


def whole_day(
    machine: Machine, scene: DeviceScene, program: Program, length_ms: int, *,
    inputs: Sequence[tuple[int, Happening]] = (), modes: Sequence[RefreshMode] = (), progress: Told | None = None,
) -> DayFigures:  # fmt: skip
    """Run so many ms of a schedule, with what somebody does meanwhile; `modes` of the panel, where it is an e-paper."""
    day = run_day(machine, scene, program, length_ms, inputs=inputs, modes=modes, progress=progress)
    with_screens(day, machine, scene)
    return figures_of(day, program, machine.screens, scene.lights())
