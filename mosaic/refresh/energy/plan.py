"""How a build is fed, as the maker says it, and the states that its day comes to."""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.device.device import Device
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import HOURS_A_DAY, Balance, Rhythm, State
from mosaic.refresh.energy.cells import CELLS, CellKind
from mosaic.refresh.energy.supply import Regulator

MOST_LOADS = 12
OWN = "own"
"""The cell that the build's sheet describes."""


@dataclass(frozen=True)
class Load:
    """Something else that draws: a radio, a sensor. `when`: "always", while the board is "awake", or while it is "asleep"."""

    name: Annotated[str, Meta(min_length=1, max_length=40)]
    ma: Annotated[float, Meta(ge=0, le=10_000)]
    when: Literal["always", "awake", "asleep"] = "awake"


@dataclass(frozen=True)
class EnergyPlan:
    """How a build is fed.

    Attributes
    ----------
    cell : a kind of cell, or "own" for the one of the build's sheet. regulator : between cell and load.
    sleeps : the board sleeps where it has nothing to do. waits_awake : it waits for an e-paper's refresh awake.
    is_cold : reckoned for -10 °C. loads : what else draws.
    """

    cell: Annotated[str, Meta(max_length=40)] = OWN
    regulator: Regulator = field(default=Regulator())
    sleeps: bool = True
    waits_awake: bool = True
    is_cold: bool = False
    loads: Annotated[tuple[Load, ...], Meta(max_length=MOST_LOADS)] = ()
    form: Literal[1] = 1


def cell_of(plan: EnergyPlan, device: Device) -> CellKind:
    """The cell: one of the catalogue, or the build's own."""
    if plan.cell in CELLS:
        return CELLS[plan.cell]
    supply, like = device.supply, CELLS["pouch-1200"]
    return CellKind(
        OWN, f"your own cell, {supply.capacity_mah:,.0f} mAh", supply.cell_v, supply.capacity_mah, like.end_v,
        supply.usable_share,
        supply.capacity_mah, like.self_discharge, like.cold_share, like.caution,
    )  # fmt: skip


def _panel(device: Device, light_share: float, *, asleep: bool) -> list[tuple[str, float]]:
    power = device.passport.power
    if asleep:
        return [("the panel asleep", power.sleep_ua / 1000)]
    light = power.full_on_ma * light_share + power.backlight_ma
    return [("the panel’s controller", power.base_ma), ("light", light)] if light else [("the panel’s controller", power.base_ma)]


def refresh_ma(device: Device, program: Program) -> float:
    """The mean current of an e-paper while it refreshes, in mA: its energy over its time and voltage."""
    modes = device.passport.refresh
    mode = modes[min(program.refresh, len(modes) - 1)]
    return mode.energy_mj / (mode.time_ms / 1000) / device.passport.power.supply_v


def states_of(day: DayFigures, device: Device, program: Program, plan: EnergyPlan, light_share: float) -> list[State]:
    """The states of a device by its day: at work, refreshing, with nothing to do, switched off for the rest of the day."""
    board, is_paper = device.board, bool(device.passport.refresh)
    busy, refreshing = day.share("busy_ms"), day.share("refresh_ms") if is_paper else 0.0
    refreshing = min(refreshing, 1 - busy)
    idle = max(0.0, 1 - busy - refreshing)
    on = 1.0 if is_paper else min(1.0, device.on_hours_per_day / HOURS_A_DAY)
    awake = [("the board awake", board.active_ma)]
    asleep = [("the board asleep", board.sleep_ua / 1000)]

    def also(when: str) -> list[tuple[str, float]]:
        return [(one.name, one.ma) for one in plan.loads if one.when in ("always", when)]

    def state(name: str, share: float, loads: list[tuple[str, float]], when: str) -> State:
        return State(name, share, (*loads, *also(when)))

    lit = _panel(device, light_share, asleep=is_paper)
    found = [state("reading, drawing and sending", on * busy, [*awake, *lit], "awake")]
    if refreshing:
        waits = awake if plan.waits_awake else asleep
        panel = [("the panel refreshes", refresh_ma(device, program))]
        found.append(state("the panel refreshes", refreshing, [*waits, *panel], "awake" if plan.waits_awake else "asleep"))
    if plan.sleeps:
        found.append(state("nothing to do, asleep", on * idle, [*asleep, *lit], "asleep"))
    else:
        found.append(state("nothing to do, awake", on * idle, [*awake, *lit], "awake"))
    if on < 1:
        found.append(state("switched off", 1 - on, [*asleep, *_panel(device, 0.0, asleep=True)], "asleep"))
    return found


def rhythm_of(found: Balance, day: DayFigures) -> Rhythm:
    """What a drawing takes more than doing nothing, and what doing nothing takes, both from the cell."""
    idle = next(ma for state, ma in found.states if state.name.startswith("nothing to do"))
    seconds = day.length_ms / 1000
    more = sum(state.share * (ma - idle) for state, ma in found.states if not state.name.startswith(("nothing", "switched")))
    return Rhythm(idle, max(0.0, more * seconds / max(1, day.steps)))
