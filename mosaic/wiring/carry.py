"""What of a pin plan still applies when panel, board or link are exchanged for others."""

from dataclasses import replace

from mosaic.boards.board import Board
from mosaic.wiring.plan import TIED, BusDevice, PinPlan, Wire
from mosaic.wiring.proposal import SHARED, free_pin
from mosaic.wiring.signals import Signal


def _bus(link_kind: str) -> str:
    return link_kind.split("-")[0]


def carry(
    plan: PinPlan,
    was: tuple[Signal, ...],
    now: tuple[Signal, ...],
    parts: tuple[Board, Board],
    links: tuple[str, str],
    proposed: PinPlan,
) -> tuple[PinPlan, tuple[str, ...]]:
    """The plan for other parts, and in words what of it does not apply any more.

    A line stays where it is if the panel still has it, by label and function, and the board has the same pin; other lines go
    where the proposal takes them, or to a free pin where a line that stays is there already.

    Parameters
    ----------
    plan : the plan as it was for the signals `was`
    now : the signals of the panel on the link, from now on
    parts : the board before and from now on
    links : kinds of link before and from now on
    proposed : the proposal for panel, board and link from now on
    """
    board = parts[1]
    pins = {pin.name for pin in set(parts[0].pins) & set(board.pins)} | {"", *TIED}
    known = {(signal.label, signal.function) for signal in was}
    stays = {s.label: plan.to_of(s.label) for s in now if (s.label, s.function) in known and plan.to_of(s.label) in pins}
    fed = {signal.label for signal in was if signal.need in ("supply", "ground")}  # proposals know these as well
    moved = (wire for wire in plan.wires if wire.to and wire.signal not in fed)
    lost = [f"{wire.signal} on {wire.to}" for wire in moved if stays.get(wire.signal) != wire.to]
    devices, gone = _devices(plan, pins, same_bus=_bus(links[0]) == _bus(links[1]))
    wires = tuple(Wire(s.label, stays.get(s.label, "")) for s in now)
    carried = replace(plan, wires=wires, devices=devices, shifter=proposed.shifter or plan.shifter)
    supplies = {pin.name for pin in board.pins if set(pin.roles) & {"power", "ground"}}
    for signal in now:
        if signal.label not in stays:
            to = proposed.to_of(signal.label)
            taken = {wire.to for wire in carried.wires} | {device.select for device in devices}
            is_free = to not in taken or to in supplies or to in TIED or signal.label.upper() in SHARED
            carried = carried.with_wire(signal.label, to if is_free else free_pin(carried, board, signal))
    return carried, (*lost, *gone)


def _devices(plan: PinPlan, pins: set[str], *, same_bus: bool) -> tuple[tuple[BusDevice, ...], list[str]]:
    """Other devices of the bus that stay, and those that go, by name; a select line on a pin that is gone is left open."""
    if not same_bus:
        return (), [device.name for device in plan.devices]
    return tuple(d if d.select in pins else replace(d, select="") for d in plan.devices), []
