"""What each change of a build would bring: how long it lasts then, the most useful first."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from mosaic.device.device import Device
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import HOURS_A_DAY, Balance, hours_of
from mosaic.refresh.energy.cells import CellKind
from mosaic.refresh.energy.plan import EnergyPlan, reckoned, rhythm_of

WORTH = 1.02
"""What gains less than two in a hundred is not told."""
GOOD_UA, GOOD_SHARE = 1.0, 0.9
"""The quiescent current and the efficiency of good small regulators. Typical."""


@dataclass(frozen=True)
class Gain:
    """A change in words, mA from the cell on average with it, and the days that the cell lasts then."""

    words: str
    average_ma: float
    days: float


def gains_of(plan: EnergyPlan, cell: CellKind, day: DayFigures, device: Device, program: Program) -> list[Gain]:
    """What changes one at a time would bring, those with which it lasts longest first; only what is worth it."""
    now = reckoned(plan, cell, day, device, program)
    found = [*_rarer(plan, now, day), *_otherwise(plan, cell, day, device, program)]
    return sorted((one for one in found if one.average_ma * WORTH < now.average_ma), key=lambda one: one.average_ma)


def _rarer(plan: EnergyPlan, now: Balance, day: DayFigures) -> Iterator[Gain]:
    """Updates half and a quarter as often."""
    if not day.steps:
        return
    rhythm, every_s = rhythm_of(now, day, plan), day.length_ms / 1000 / day.steps
    for times in (2, 4):
        average = now.average_ma - rhythm.update_mc / every_s * (1 - 1 / times)
        days = hours_of(now.usable_mah, average, now.self_discharge_ma) / HOURS_A_DAY
        yield Gain(f"drawing every {_interval(times * every_s)} instead of every {_interval(every_s)}", average, days)


def _interval(seconds: float) -> str:
    """An interval in words.

    >>> _interval(0.5), _interval(90), _interval(300), _interval(7200)
    ('0.5 s', '90 s', '5 min', '2 h')
    """
    if seconds < 120:
        return f"{seconds:.3g} s"
    return f"{seconds / 60:.3g} min" if seconds < 7200 else f"{seconds / 3600:.3g} h"


def _otherwise(plan: EnergyPlan, cell: CellKind, day: DayFigures, device: Device, program: Program) -> Iterator[Gain]:
    if plan.measured is not None:  # what a meter has shown holds for the device as it is
        return

    def with_(words: str, other: EnergyPlan, *, how: Program = program, of: DayFigures = day) -> Gain:
        then = reckoned(other, cell, of, device, how)
        return Gain(words, then.average_ma, then.days)

    power, modes = device.passport.power, device.passport.refresh
    if not plan.sleeps:
        yield with_("putting the board to sleep where it has nothing to do", replace(plan, sleeps=True))
    if modes and plan.waits_awake:
        yield with_("sleeping while the panel refreshes", replace(plan, waits_awake=False))
    if modes and program.cleaning.between != "asleep":
        asleep = replace(program, cleaning=replace(program.cleaning, between="asleep"))
        yield with_("putting the panel to sleep after each update", plan, how=asleep)
    if power.backlight_ma or power.full_on_ma:
        yield with_("half the light", replace(plan, light=plan.light / 2, night_light=plan.night_light / 2))
        yield with_("a tenth of the light by night", replace(plan, night_light=min(plan.night_light, 0.1)))
    regulator = plan.regulator
    if regulator.kind != "none" and regulator.quiescent_ua > GOOD_UA:
        better = replace(regulator, quiescent_ua=GOOD_UA)
        yield with_(
            f"a regulator that draws {GOOD_UA:g} µA by itself instead of {regulator.quiescent_ua:g}",
            replace(plan, regulator=better),
        )
    if regulator.kind != "switching":
        other = replace(regulator, kind="switching", efficiency=((0.0, GOOD_SHARE),))
        yield with_(f"a switching regulator of {GOOD_SHARE:.0%}", replace(plan, regulator=other))
    for number, load in enumerate(plan.loads):
        yield with_(f"leaving out {load.name}", replace(plan, loads=plan.loads[:number] + plan.loads[number + 1 :]))
    total = day.updates
    for number, mode in enumerate(modes):
        if total and any(taken != number for taken, _ in day.refreshed):
            yield with_(f"refreshing always by “{mode.name}”", plan, of=refreshed_by(day, device, number, total))


def refreshed_by(day: DayFigures, device: Device, mode: int, count: int) -> DayFigures:
    """The same day with all its updates refreshed in one way."""
    ms = count * device.passport.refresh[mode].time_ms / len(day.stretches)
    stretches = tuple(replace(one, refresh_ms=min(ms, one.length_ms)) for one in day.stretches)
    return replace(day, stretches=stretches, refreshed=((mode, count),))
