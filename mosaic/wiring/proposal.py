"""An automatic pin plan for a panel on a board, and why there is none where it cannot work."""

from dataclasses import dataclass

from mosaic.boards.board import Board, BoardPin
from mosaic.panels.passport import Passport
from mosaic.panels.supply import LINK_NAMES
from mosaic.wiring.plan import PinPlan, Wire, pin_of
from mosaic.wiring.signals import Signal, signals_of

PANEL_LOGIC_V = 3.3
"""Logic level of all panels here; modules that take 5 V on their supply make 3.3 V of it."""
SAME_RAIL_V = 0.5
"""Voltages nearer than this are one rail."""
# Roles that make a pin worse for plain use, the worst last; such a pin is taken only when nothing better is free.
_GRUDGE = {"analog": 1, "pwm": 0, "transmit": 2, "receive": 2, "i2c data": 2, "i2c clock": 2, "spi clock": 3, "spi data out": 3,
           "spi data in": 3, "spi select": 1, "lamp": 4, "usb": 6, "boot strap": 8}  # fmt: skip
SHARED = {"T_CLK": ("clock",), "T_DIN": ("data", "data in")}
"""Lines of a touch chip that hang on the panel's own bus, and the functions they share."""
_NEVER = ("power", "ground", "flash", "reset")


@dataclass(frozen=True)
class Proposal:
    """A plan, and what stands in the way of it working at all."""

    plan: PinPlan
    hurdles: tuple[str, ...] = ()


def propose(passport: Passport, board: Board, link_kind: str) -> Proposal:
    """Wire every signal: the bus to hardware pins, the rest to free pins without cautions first."""
    hurdles = []
    if not board.max_clock_hz(link_kind):
        hurdles.append(f"this board has no {LINK_NAMES[link_kind]}")
    if passport.module.bare:
        hurdles.append("bare glass cannot be connected directly: it needs a driver board that makes its rails")
    used: set[str] = set()
    wires: dict[str, str] = {}
    signals = signals_of(passport, link_kind)
    for signal in sorted(signals, key=_urgency):
        if signal.need == "tie":
            wires[signal.label] = "tied low"
            continue
        pin = _pin_for(signal, passport, board, link_kind, used, wires)
        if pin is None:
            wires[signal.label] = ""
            if signal.need in ("bus", "must"):
                hurdles.append(f"no pin is left for {signal.label} ({signal.function})")
            continue
        wires[signal.label] = pin.name
        if signal.need not in ("supply", "ground"):
            used.add(pin.name)
    shifter = board.logic_v > PANEL_LOGIC_V and link_kind != "i2c"
    plan = PinPlan(tuple(Wire(s.label, wires[s.label]) for s in signals), shifter=shifter, pull_up_rail_v=PANEL_LOGIC_V)
    return Proposal(plan, tuple(dict.fromkeys(hurdles)))


def _urgency(signal: Signal) -> int:
    """Hardware pins are given out first, luxuries last."""
    return ("bus", "must", "tie", "should", "supply", "ground", "may", "rail", "none").index(signal.need)


def _pin_for(
    signal: Signal, passport: Passport, board: Board, link_kind: str, used: set[str], wires: dict[str, str]
) -> BoardPin | None:
    if signal.need in ("none", "rail"):
        return None
    if signal.need == "ground":
        return next((pin for pin in board.pins if "ground" in pin.roles), None)
    if signal.need == "supply":
        return supply_pin(passport, board)
    shared = SHARED.get(signal.label.upper())
    if shared:
        # A touch chip hangs on the panel's own bus, told apart by its select line.
        other = next((s.label for s in signals_of(passport, link_kind) if s.function in shared), None)
        if other and wires.get(other):
            return pin_of(board, wires[other])
    free = [pin for pin in board.pins if pin.name not in used and not set(pin.roles) & set(_NEVER)]
    if signal.label.upper() == "T_DO":
        listening = [pin for pin in free if "spi data in" in pin.roles]
        if listening:
            return min(listening, key=lambda pin: _bus_order(pin, board, wires))
    if signal.need == "bus":
        fitting = [pin for pin in free if set(signal.roles) & set(pin.roles)]
        return min(fitting, key=lambda pin: _bus_order(pin, board, wires), default=None)
    outputs = [pin for pin in free if signal.is_input or "input only" not in pin.roles]
    return min(outputs, key=lambda pin: grudge(pin, signal), default=None)


def _bus_order(pin: BoardPin, board: Board, wires: dict[str, str]) -> tuple[bool, int]:
    """Pins without cautions first, then those nearest to the bus pins already chosen: they are of one hardware unit."""
    names = [p.name for p in board.pins]
    chosen = [names.index(to) for to in wires.values() if to in names]
    distance = min((abs(names.index(pin.name) - at) for at in chosen), default=0)
    return bool(pin.caution), distance


def grudge(pin: BoardPin, signal: Signal) -> int:
    """How much a pin would be missed elsewhere, or is to be minded; the least is taken."""
    if "input only" in pin.roles:
        return -1 if signal.is_input else 99
    return sum(_GRUDGE.get(role, 0) for role in pin.roles) + (2 if pin.caution else 0)


def panel_ma(passport: Passport) -> float:
    """What a panel takes at most: its electronics, everything lit white, and the full light, in mA."""
    power = passport.power
    return power.base_ma + power.full_on_ma + power.backlight_ma


def supply_pin(passport: Passport, board: Board) -> BoardPin | None:
    """The board's supply that the panel's first rail takes: the lower one, unless its regulator cannot feed both."""
    low, high = (passport.rails[0].min_v, passport.rails[0].max_v) if passport.rails else (passport.power.supply_v,) * 2
    total_ma = panel_ma(passport) + board.active_ma
    fitting = [
        pin for pin in board.pins
        if "power" in pin.roles and pin.volts and low <= pin.volts <= high
        and (total_ma <= board.regulator_ma or abs(pin.volts - board.logic_v) >= SAME_RAIL_V)
        and panel_ma(passport) <= (pin.max_ma or panel_ma(passport))
    ]  # fmt: skip
    return min(fitting, key=lambda pin: pin.volts, default=None)


def free_pin(plan: PinPlan, board: Board, signal: Signal) -> str:
    """The best pin that nothing uses yet, hardware of the bus first; "" where there is none."""
    used = {wire.to for wire in plan.wires} | {device.select for device in plan.devices}
    barred = {*_NEVER, "boot strap"} if signal.need != "bus" else set(_NEVER)
    free = [pin for pin in board.pins if pin.name not in used and not set(pin.roles) & barred]
    free = [pin for pin in free if signal.is_input or "input only" not in pin.roles]
    hardware = [pin for pin in free if set(pin.roles) & set(signal.roles)]
    best = min(hardware or free, key=lambda pin: grudge(pin, signal), default=None)
    return best.name if best else ""
