"""How a build is fed, as the maker says it, and the states and events that its day comes to."""

from dataclasses import dataclass, field, replace
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.refresh.day.program import DAY_MIN, Program
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import HOURS_A_DAY, Balance, Event, Rhythm, State, balance
from mosaic.refresh.energy.cells import CELLS, CellKind
from mosaic.refresh.energy.light import CHANNELS, white_share
from mosaic.refresh.energy.measured import Measured
from mosaic.refresh.energy.supply import Regulator, Wall
from mosaic.refresh.energy.topping import Topping

MOST_LOADS = 12
OWN = "own"
"""The cell that the build's sheet describes."""
WALLS = {"usb": "USB, 5 V", "mains": "a supply from the wall, 5 V"}
"""What feeds a build without a cell."""
WALL_V = 5.0
BETWEEN_MA = {"awake": ("the panel awake", 0.02), "powered": ("the panel’s high voltages", 3.0)}
"""What an e-paper takes between updates that is not put to sleep: its controller, or its pumps too (1 to 5 mA). Typical."""
Share = Annotated[float, Meta(ge=0, le=1)]
When = Literal["always", "awake", "asleep", "update", "hour", "day"]
PER_S = {"hour": 3600.0, "day": 86_400.0}


@dataclass(frozen=True)
class Load:
    """Something else that draws: a radio, a sensor.

    `when`: "always", while the board is "awake" or "asleep"; or for `seconds` so many `times` an "update", an "hour" or a "day".
    """

    name: Annotated[str, Meta(min_length=1, max_length=40)]
    ma: Annotated[float, Meta(ge=0, le=10_000)]
    when: When = "awake"
    seconds: Annotated[float, Meta(ge=0, le=86_400)] = 0.0
    times: Annotated[float, Meta(ge=0, le=100_000)] = 1.0

    @property
    def is_event(self) -> bool:
        return self.when in ("update", "hour", "day")


@dataclass(frozen=True)
class EnergyPlan:
    """How a build is fed.

    Attributes
    ----------
    cell : a kind of cell, "own" for the one of the build's sheet, "usb" or "mains" for none.
    regulator : between cell and load. diode_v : that a diode or a switch before it takes. wall : the supply without a cell.
    usable_share, end_v, self_discharge : of the cell where they are not as usual: down to `end_v` a cell; share a month.
    celsius : where the cell lies.
    sleeps : the board sleeps where it has nothing to do. waits_awake : it waits for an e-paper's refresh awake.
    light, night_light : duty of the backlight, or contrast of an OLED, by day and in the schedule's night.
    channels : what red, green and blue take of the current of white. loads : what else draws. topping : what charges the cell.
    measured : what a meter has shown, which then stands in place of what is worked out.
    """

    cell: Annotated[str, Meta(max_length=40)] = OWN
    regulator: Regulator = field(default=Regulator())
    diode_v: Annotated[float, Meta(ge=0, le=5)] = 0.0
    wall: Wall = field(default=Wall())
    usable_share: Annotated[float, Meta(gt=0, le=1)] | None = None
    end_v: Annotated[float, Meta(gt=0, le=60)] | None = None
    self_discharge: Share | None = None
    celsius: Annotated[float, Meta(ge=-40, le=85)] = 20.0
    sleeps: bool = True
    waits_awake: bool = True
    light: Share = 1.0
    night_light: Share = 1.0
    channels: tuple[Share, Share, Share] = CHANNELS
    loads: Annotated[tuple[Load, ...], Meta(max_length=MOST_LOADS)] = ()
    topping: Topping = field(default=Topping())
    measured: Measured | None = None
    form: Literal[1] = 1

    @property
    def is_wall(self) -> bool:
        """Whether nothing runs empty."""
        return self.cell in WALLS


def cell_of(plan: EnergyPlan, device: Device) -> CellKind:
    """What feeds the build: a cell of the catalogue, its own, or 5 V that do not run empty; with what was said of it."""
    if plan.is_wall:
        return CellKind(plan.cell, WALLS[plan.cell], WALL_V, 1e9, 0.0, 1.0, 1e9, 0.0, 1.0, "", chemistry="lithium, charged")
    if plan.cell in CELLS:
        found = CELLS[plan.cell]
    else:
        supply, like = device.supply, CELLS["pouch-1200"]
        found = CellKind(
            OWN, f"your own cell, {supply.capacity_mah:,.0f} mAh", supply.cell_v, supply.capacity_mah, like.end_v,
            supply.usable_share, supply.capacity_mah, like.self_discharge, like.cold_share, like.caution,
        )  # fmt: skip
    return with_said(found, plan)


def with_said(cell: CellKind, plan: EnergyPlan) -> CellKind:
    """A cell with what the maker has said of it: a share that he states holds down to the voltage at which it is empty."""
    if plan.end_v is not None:
        share = cell.share_until(plan.end_v * cell.count) if plan.end_v > cell.end_v else cell.usable_share
        cell = replace(cell, end_v=plan.end_v, usable_share=share)
    if plan.usable_share is not None:
        cell = replace(cell, usable_share=plan.usable_share)
    return cell if plan.self_discharge is None else replace(cell, self_discharge=plan.self_discharge)


def checked(plan: EnergyPlan, device: Device) -> EnergyPlan:
    """The plan, if its cell can give anything.

    Raises
    ------
    BadValueError
        It is empty at a voltage that it does not have when it is full.
    """
    cell = cell_of(plan, device)
    if plan.end_v is not None and not plan.is_wall and cell.end_v * cell.count >= cell.full_v:
        full = cell.full_v / cell.count
        raise BadValueError(
            f"an end voltage of {plan.end_v:g} V is not below the {full:g} V of a full cell; lower ones are accepted"
        )
    return plan


def night_share(program: Program) -> float:
    """The share of a day that is the schedule's night.

    >>> night_share(Program(night_from_min=1320, night_to_min=360))
    0.3333333333333333
    """
    return (program.night_to_min - program.night_from_min) % DAY_MIN / DAY_MIN


def light_ma(day: DayFigures, device: Device, program: Program, plan: EnergyPlan) -> float:
    """What light takes while the device is on, in mA at the panel's voltage: a backlight by its duty; an OLED by what its screens
    show, each for as long as it stood."""
    power, dark = device.passport.power, night_share(program)
    duty = (plan.light * (1 - dark) + plan.night_light * dark) * day.mean_light
    known = [one for one in day.screens if one.light]
    total = sum(one.ms for one in known)
    mean = sum(one.ms * white_share(one.light, plan.channels) for one in known) / total if total else 0.0
    return duty * (power.backlight_ma + power.full_on_ma * mean)


def refresh_ma(day: DayFigures, device: Device, program: Program) -> float:
    """The mean current of an e-paper while it refreshes, in mA: energy over time and voltage, each way as often as it was."""
    modes = device.passport.refresh
    taken = day.refreshed or ((min(program.refresh, len(modes) - 1), 1),)
    energy_mj = sum(count * modes[mode].energy_mj for mode, count in taken)
    seconds = sum(count * modes[mode].time_ms for mode, count in taken) / 1000
    return energy_mj / seconds / device.passport.power.supply_v if seconds else 0.0


def states_of(day: DayFigures, device: Device, program: Program, plan: EnergyPlan) -> list[State]:
    """The states of a device by its day: at work, refreshing, with nothing to do, switched off for the rest of the day."""
    board, power, is_paper = device.board, device.passport.power, bool(device.passport.refresh)
    busy, refreshing = day.share("busy_ms"), day.share("refresh_ms") if is_paper else 0.0
    refreshing = min(refreshing, 1 - busy)
    idle = max(0.0, 1 - busy - refreshing)
    on = 1.0 if is_paper else min(1.0, device.on_hours_per_day / HOURS_A_DAY)
    awake, asleep = [("the board awake", board.active_ma)], [("the board asleep", board.sleep_ua / 1000)]
    off = [("the panel asleep", power.sleep_ua / 1000)]
    if not is_paper:
        light = light_ma(day, device, program, plan)
        lit = [("the panel’s controller", power.base_ma), *([("light", light)] if light else [])]
    else:
        lit = [BETWEEN_MA[program.cleaning.between]] if program.cleaning.between in BETWEEN_MA else off

    def state(name: str, share: float, loads: list[tuple[str, float]], when: When) -> State:
        also = [(one.name, one.ma) for one in plan.loads if one.when in ("always", when)]
        return State(name, share, (*loads, *also))

    found = [state("reading, drawing and sending", on * busy, [*awake, *lit], "awake")]
    if refreshing:
        panel = [("the panel refreshes", refresh_ma(day, device, program))]
        when: When = "awake" if plan.waits_awake else "asleep"
        found.append(state("the panel refreshes", refreshing, [*(awake if plan.waits_awake else asleep), *panel], when))
    if plan.sleeps:
        found.append(state("nothing to do, asleep", on * idle, [*asleep, *lit], "asleep"))
    else:
        found.append(state("nothing to do, awake", on * idle, [*awake, *lit], "awake"))
    if on < 1:
        found.append(state("switched off", 1 - on, [*asleep, *off], "asleep"))
    return found


def events_of(day: DayFigures, plan: EnergyPlan) -> list[Event]:
    """Loads that come again and again, as shares of the time."""
    found = []
    for load in plan.loads:
        if load.is_event:
            per_s = day.steps * 1000 / day.length_ms if load.when == "update" else 1 / PER_S[load.when]
            found.append(Event(load.name, load.ma, min(1.0, load.seconds * load.times * per_s)))
    return found


def reckoned(plan: EnergyPlan, cell: CellKind, day: DayFigures, device: Device, program: Program) -> Balance:
    """What a day takes from a cell, by what a meter has shown where it has, and else by the schedule."""
    events = events_of(day, plan)
    if plan.measured is not None:
        states = plan.measured.states()
        return balance(states, Regulator("none"), cell, celsius=plan.celsius)
    states = states_of(day, device, program, plan)
    return balance(states, plan.regulator, cell, events, celsius=plan.celsius, diode_v=plan.diode_v)


def rhythm_of(found: Balance, day: DayFigures, plan: EnergyPlan) -> Rhythm:
    """What a drawing takes more than doing nothing, and what doing nothing takes, both from the cell."""
    if plan.measured is not None:
        return Rhythm(plan.measured.idle_ma, plan.measured.event_mc)
    idle = next(ma for state, ma in found.states if state.name.startswith("nothing to do"))
    seconds = day.length_ms / 1000
    more = found.average_ma - idle * (1 - sum(state.share for state, _ in found.states if state.name == "switched off"))
    more -= sum(state.share * ma for state, ma in found.states if state.name == "switched off")
    return Rhythm(idle, max(0.0, more * seconds / max(1, day.steps)))


ASLEEP = "asleep"
"""The part of the day's energy that is there without any update; rules on intervals know it by this name."""


def usual_plan(device: Device) -> EnergyPlan:
    """Where nobody has said otherwise: an e-paper's board sleeps, and a build on mains has its supply."""
    cell = "mains" if device.supply.kind == "mains" else "own"
    return EnergyPlan(cell, sleeps=device.passport.technology == "epaper")


def day_mwh(found: Balance, cell: CellKind) -> dict[str, float]:
    """Energy of a day from what feeds the device, in mWh, by state; what is more than all states is the loads'."""
    needs: dict[str, float] = {}
    for state, ma in found.states:
        name = ASLEEP if "asleep" in state.name or state.name == "switched off" else state.name
        needs[name] = needs.get(name, 0.0) + HOURS_A_DAY * state.share * ma * cell.volts
    rest = HOURS_A_DAY * found.average_ma * cell.volts - sum(needs.values())
    if rest > 1e-9:
        needs["radio, sensors and the like"] = rest
    return needs
