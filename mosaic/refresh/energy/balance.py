"""What a day takes from the cell: states of the device with their loads, what current each comes to, and how long it lasts."""

from collections.abc import Sequence
from dataclasses import dataclass

from mosaic.errors import BadValueError
from mosaic.refresh.energy.cells import USUAL_C, CellKind
from mosaic.refresh.energy.supply import Regulator

HOURS_A_DAY = 24
LOW_CAPACITY, MORE_LOAD, LESS_LOAD = 0.85, 1.2, 0.8
"""How far typical figures may be off: a cell may hold so much less, and loads draw so much more or less."""


@dataclass(frozen=True)
class State:
    """A state of the device: its share of the time, and what draws how many mA then, at the regulated voltage."""

    name: str
    share: float
    loads: tuple[tuple[str, float], ...]

    def __post_init__(self) -> None:
        wrong = next((f"{name}: {ma:g} mA" for name, ma in self.loads if ma < 0), None)
        if wrong is not None:
            raise BadValueError(f"{wrong} in “{self.name}” is negative; 0 and more are accepted")
        if not 0 <= self.share <= 1 + 1e-9:
            raise BadValueError(f"“{self.name}” takes {self.share:.0%} of the time; 0 to 100 % are accepted")

    @property
    def load_ma(self) -> float:
        return sum(ma for _, ma in self.loads)


@dataclass(frozen=True)
class Event:
    """Something that comes again and again beside what the device does: mA at the regulated voltage, for a share of the time."""

    name: str
    ma: float
    share: float


@dataclass(frozen=True)
class Taken:
    """What one consumer takes from the cell in a day, in mAh, and its share of all."""

    name: str
    mah: float
    share: float


@dataclass(frozen=True)
class Balance:
    """A day of a device on a cell.

    Attributes
    ----------
    states : (state, mA from the cell). average_ma : from the cell, without self-discharge. taken : by consumer, largest first.
    self_discharge_ma : of the cell itself. hours, least_hours, most_hours : until it is empty, and how far typical figures may be
        off. peak_ma : from the cell in the heaviest state. why_not : what makes it impossible; "" for nothing.
    """

    states: tuple[tuple[State, float], ...]
    average_ma: float
    taken: tuple[Taken, ...]
    self_discharge_ma: float
    hours: float
    least_hours: float
    most_hours: float
    peak_ma: float
    usable_mah: float = 0.0
    why_not: str = ""

    @property
    def days(self) -> float:
        return self.hours / HOURS_A_DAY


def hours_of(usable_mah: float, average_ma: float, self_discharge_ma: float = 0.0) -> float:
    """Hours until a charge is used up; infinite where nothing draws.

    >>> round(hours_of(960, 0.45), 1)
    2133.3
    """
    total = average_ma + self_discharge_ma
    return usable_mah / total if total else float("inf")


def balance(
    states: Sequence[State],
    regulator: Regulator,
    cell: CellKind,
    events: Sequence[Event] = (),
    *,
    celsius: float = USUAL_C,
    diode_v: float = 0.0,
) -> Balance:
    """What states that share out all of the time, and events beside them, take from a cell.

    Parameters
    ----------
    celsius : where the cell lies. diode_v : that is lost between cell and regulator.

    Raises
    ------
    BadValueError
        Their shares are not all of the time, or a load is negative.
    """
    total = sum(state.share for state in states)
    if abs(total - 1) > 1e-6:
        raise BadValueError(f"the states take {total:.2%} of the time; together they are all of it")
    found, by_name, average, peak = [], dict[str, float](), 0.0, 0.0
    volts = max(0.1, cell.volts - diode_v)
    quiescent = 0.0 if regulator.kind == "none" else regulator.quiescent_ua / 1000
    for state in states:
        ma = regulator.input_ma(state.load_ma, volts)
        found.append((state, ma))
        average += state.share * ma
        peak = max(peak, ma)
        for name, load in state.loads:
            part = (ma - quiescent) * load / state.load_ma if state.load_ma else 0.0
            by_name[name] = by_name.get(name, 0.0) + HOURS_A_DAY * state.share * part
    for event in events:
        more = regulator.input_ma(event.ma, volts) - quiescent
        average += event.share * more
        by_name[event.name] = by_name.get(event.name, 0.0) + HOURS_A_DAY * event.share * more
    peak += max((regulator.input_ma(event.ma, volts) - quiescent for event in events), default=0.0)
    if quiescent:
        by_name["the regulator by itself"] = HOURS_A_DAY * quiescent
    leak = cell.self_discharge_ma
    by_name["self-discharge"] = HOURS_A_DAY * leak
    day = sum(by_name.values())
    taken = sorted((Taken(name, mah, mah / day if day else 0.0) for name, mah in by_name.items()), key=lambda one: -one.mah)
    needs_v = regulator.least_in_v() + diode_v if regulator.least_in_v() else 0.0
    usable = cell.usable_mah(celsius=celsius, least_v=needs_v)
    why = regulator.why_not(cell.full_v - diode_v)
    if not why and peak > cell.pulse_ma:
        why = f"it draws up to {peak:,.0f} mA, and the cell's voltage sags above {cell.pulse_ma:,.0f} mA (typical)"
    return Balance(
        tuple(found), average, tuple(taken), leak, hours_of(usable, average, leak),
        hours_of(LOW_CAPACITY * usable, MORE_LOAD * average, leak), hours_of(usable, LESS_LOAD * average, leak), peak,
        usable, why,
    )  # fmt: skip


@dataclass(frozen=True)
class Rhythm:
    """A device that sleeps and wakes for updates: mA asleep, and mC that each update takes more, both from the cell."""

    idle_ma: float
    update_mc: float

    def average_ma(self, every_s: float) -> float:
        """mA at one update in so many seconds."""
        return self.idle_ma + self.update_mc / every_s

    @property
    def crossing_s(self) -> float:
        """The interval at which sleeping takes as much as updating; beyond it rarer updates gain little."""
        return self.update_mc / self.idle_ma if self.idle_ma else float("inf")


def curve(rhythm: Rhythm, usable_mah: float, self_discharge_ma: float, intervals_s: Sequence[float]) -> list[tuple[float, float]]:
    """(interval in s, days) for each interval."""
    return [
        (every, hours_of(usable_mah, rhythm.average_ma(every), self_discharge_ma) / HOURS_A_DAY) for every in intervals_s
    ]  # fmt: skip
