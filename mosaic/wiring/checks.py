"""What to measure before and at the first power, computed from a pin plan, with what is to be expected.

Bounds of resistance and level are typical: a continuity tester's beep, a high level of 0.7 of the rail.
"""

import math
from dataclasses import dataclass
from typing import Literal

from mosaic.boards.board import Board
from mosaic.panels.passport import Passport
from mosaic.panels.supply import LINK_NAMES
from mosaic.wiring.plan import TIED, PinPlan, pin_of
from mosaic.wiring.proposal import PANEL_LOGIC_V, SAME_RAIL_V
from mosaic.wiring.pullups import in_parallel
from mosaic.wiring.signals import Signal, signals_of

When = Literal["without power", "board alone", "first power"]
CONTINUITY_OHM = 2.0
SHORT_OHM = 500.0
HIGH_SHARE = 0.7
RAIL_TOLERANCE = 0.05
PULL_UP_TOLERANCE = 0.15
LEAST_MA = 0.1


@dataclass(frozen=True)
class Check:
    """One measurement: where the probes go, and between which values the reading should lie.

    `high` None is no upper bound.
    """

    id: str
    when: When
    where: str
    unit: Literal["ohm", "V", "mA"]
    low: float
    high: float | None
    why: str

    def holds(self, reading: float) -> bool:
        return reading >= self.low and (self.high is None or reading <= self.high)

    @property
    def expected(self) -> str:
        """In words: "at most 2 ohm", "3.0 to 5.0 V".

        >>> Check("x", "without power", "", "ohm", 0.0, 2.0, "").expected
        'at most 2 ohm'
        """
        if self.high is None:
            return f"at least {_plain(self.low)} {self.unit}"
        if self.low <= 0:
            return f"at most {_plain(self.high)} {self.unit}"
        return f"{_plain(self.low)} to {_plain(self.high)} {self.unit}"


def _plain(value: float) -> str:
    return f"{value:,.0f}" if value >= 100 else f"{value:.3g}"


def checks_of(passport: Passport, board: Board, link_kind: str, plan: PinPlan) -> tuple[Check, ...]:
    """The check sheet, in the order in which it is worked through."""
    signals = signals_of(passport, link_kind)
    supplies = [s for s in signals if s.need == "supply"]
    return (
        *(_not_shorted(s, signals) for s in supplies),
        *(_continuity(s, plan) for s in signals if _is_wired(s, plan)),
        *(_tied(s, signals, plan) for s in signals if plan.to_of(s.label) in TIED),
        *_straps(passport, link_kind),
        *_pull_ups(signals, link_kind, plan),
        *(_rail(s, passport, board, plan) for s in supplies if _is_wired(s, plan)),
        *(_at_rest(s, board, plan) for s in signals if s.function in ("select", "reset") and _is_wired(s, plan)),
        _first_current(passport, board),
    )


def _is_wired(signal: Signal, plan: PinPlan) -> bool:
    return plan.to_of(signal.label) not in ("", *TIED)


def _not_shorted(signal: Signal, signals: tuple[Signal, ...]) -> Check:
    ground = next((s.label for s in signals if s.need == "ground"), "GND")
    why = "A short between the rails heats whatever feeds it."
    return Check(
        f"short-{signal.label}", "without power", f"{signal.label} to {ground}, at the panel", "ohm", SHORT_OHM, None, why
    )


def _continuity(signal: Signal, plan: PinPlan) -> Check:
    where = f"{signal.label} of the panel to {plan.to_of(signal.label)} of the board"
    return Check(f"wire-{signal.label}", "without power", where, "ohm", 0.0, CONTINUITY_OHM, "The wire, and both its ends.")


def _tied(signal: Signal, signals: tuple[Signal, ...], plan: PinPlan) -> Check:
    is_low = plan.to_of(signal.label) == "tied low"
    end = next((s.label for s in signals if s.need == ("ground" if is_low else "supply")), "GND" if is_low else "VCC")
    where = f"{signal.label} of the panel to {end}"
    return Check(f"wire-{signal.label}", "without power", where, "ohm", 0.0, CONTINUITY_OHM, "It has to rest there for good.")


def _straps(passport: Passport, link_kind: str) -> list[Check]:
    """A module that can do several links is told which one by its straps."""
    if len(passport.links) < 2:
        return []
    where = f"Across each strap that chooses {LINK_NAMES[link_kind]}"
    return [
        Check(
            "straps",
            "without power",
            where,
            "ohm",
            0.0,
            CONTINUITY_OHM,
            "Open or bridged wrongly, the module waits on another link.",
        )
    ]


def _pull_ups(signals: tuple[Signal, ...], link_kind: str, plan: PinPlan) -> list[Check]:
    ohm = in_parallel(plan.panel_pull_up_ohm, plan.pull_up_ohm, *(device.pull_up_ohm for device in plan.devices))
    if link_kind != "i2c" or math.isinf(ohm):
        return []
    low, high = ohm * (1 - PULL_UP_TOLERANCE), ohm * (1 + PULL_UP_TOLERANCE)
    return [
        Check(
            f"pull-up-{s.label}", "without power", f"{s.label} to the rail of {plan.pull_up_rail_v:g} V", "ohm", low, high,
            "All pull-ups of the bus in parallel.",
        )
        for s in signals if s.need == "bus"
    ]  # fmt: skip


def _rail(signal: Signal, passport: Passport, board: Board, plan: PinPlan) -> Check:
    pin = pin_of(board, plan.to_of(signal.label))
    volts = pin.volts if pin and pin.volts else passport.power.supply_v
    low, high = volts * (1 - RAIL_TOLERANCE), volts * (1 + RAIL_TOLERANCE)
    where = f"{plan.to_of(signal.label)} to GND, with the panel unplugged"
    return Check(f"rail-{signal.label}", "board alone", where, "V", low, high, "What the panel will be fed with.")


def _at_rest(signal: Signal, board: Board, plan: PinPlan) -> Check:
    """Select and reset are low-active: at rest both are high, behind a shifter at the panel's level."""
    rail = PANEL_LOGIC_V if plan.shifter or board.logic_v <= PANEL_LOGIC_V + SAME_RAIL_V else board.logic_v
    where = f"{signal.label} to GND, program running and idle"
    why = "Low at rest, the panel would be held in reset, or listen to everything."
    return Check(f"rest-{signal.label}", "board alone", where, "V", rail * HIGH_SHARE, rail * (1 + RAIL_TOLERANCE), why)


def _first_current(passport: Passport, board: Board) -> Check:
    power = passport.power
    most = power.base_ma + power.full_on_ma + power.backlight_ma + board.active_ma
    why = "Far more is a short or a wrong rail: switch off at once. Typical currents of panel and board."
    return Check("first-current", "first power", "In the supply line, panel plugged in", "mA", LEAST_MA, most * 1.5, why)
