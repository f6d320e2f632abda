"""Findings on pins: lines left open, shared, or taken to pins that do not suit them."""

from dataclasses import replace

from mosaic.findings import Finding, Fix, Severity
from mosaic.findings.wired import Wired, mend, on_a_plan, told
from mosaic.wiring.program import differences, read_program
from mosaic.wiring.proposal import SHARED, free_pin, propose, supply_pin
from mosaic.wiring.signals import Signal

SOFTWARE_SLOWER = (5, 20)
"""How many times slower a bus on ordinary pins is, typical (from, to)."""

WHY_OPEN = {
    "reset": "Without a reset the controller wakes in any state, and set-up commands may be lost.",
    "select": "A panel that is never selected takes nothing.",
    "data/command": "Commands and pictures are told apart by this line; without it neither arrives.",
    "busy": "Without it the program has to guess when a refresh ends, and cuts it short in the cold.",
    "backlight": "A dark panel is most often a backlight that nobody drives.",
    "touch": "Touches are never noticed.",
    "ground": "Levels have no common ground.",
    "supply": "It has no supply.",
}


@on_a_plan
def cannot_work(w: Wired) -> list[Finding]:
    """Panel and board do not go together on this link at all."""
    hurdles = propose(w.device.passport, w.board, w.device.link_kind).hurdles
    why = "Choose another board, link or panel."
    return [told("cannot-work", "must fix", f"It cannot be wired: {hurdle}", why) for hurdle in hurdles]


@on_a_plan
def lines_left_open(w: Wired) -> list[Finding]:
    """A line that has to go somewhere goes nowhere."""
    return [_open(w, signal) for signal in w.signals if not w.plan.to_of(signal.label) and _is_asked_for(signal)]


def _is_asked_for(signal: Signal) -> bool:
    """Of what may be left open, only a touch chip's interrupt is asked for."""
    return signal.need not in ("may", "rail", "none") or signal.label.upper() == "T_IRQ"


def _open(w: Wired, signal: Signal) -> Finding:
    supply = supply_pin(w.device.passport, w.board)
    if signal.need == "supply" and supply is None:
        rail = w.device.passport.rails[0] if w.device.passport.rails else None
        volts = f"{rail.min_v:g} to {rail.max_v:g} V" if rail else f"{w.device.passport.power.supply_v:g} V"
        what = f"{signal.label} needs {volts}, which this board does not give"
        return told("supply-missing", "worth fixing", what, "Feed the panel from a supply of its own, with common ground.")
    if signal.need == "tie":
        why_open = {"select": "Left open it floats, and the panel listens or not by chance."}
        why_open["data/command"] = "Left open it floats, and with it the last bit of the address."
        return told(
            f"open-{signal.function.replace('/', '-')}", "must fix", f"{signal.label} ({signal.function}) goes nowhere",
            why_open[signal.function], w.taken_to(signal, "tied low"),
        )  # fmt: skip
    severity: Severity = "worth fixing" if signal.need == "may" else "must fix"
    fix: Fix | None
    if signal.need == "supply":
        fix = w.taken_to(signal, supply.name) if supply else None
    else:
        fix = w.taken_to(signal, "GND") if signal.need == "ground" else w.moved(signal)
    why = WHY_OPEN.get(signal.function, "The bus needs every one of its lines.")
    what = f"{signal.label} ({signal.function}) goes nowhere"
    return told(f"open-{signal.function.replace('/', '-').replace(' ', '-')}", severity, what, why, fix)


@on_a_plan
def pins_used_twice(w: Wired) -> list[Finding]:
    """Two lines on one pin, other than those of a touch chip that share the bus."""
    holders: dict[str, Signal] = {}
    found = []
    for signal in w.signals:
        pin = w.pin(signal)
        if pin is None or set(pin.roles) & {"power", "ground"} or signal.label.upper() in SHARED:
            continue
        first = holders.setdefault(pin.name, signal)
        if first is not signal:
            what = f"{first.label} and {signal.label} are both on {pin.name}"
            found.append(told("pin-twice", "must fix", what, "Each undoes what the other says.", w.moved(signal)))
    return found


@on_a_plan
def pins_that_do_not_suit(w: Wired) -> list[Finding]:
    """Input-only pins asked to drive, pins that are not free, and boot straps."""
    found = []
    for signal in w.signals:
        pin = w.pin(signal)
        if pin is None or signal.need in ("supply", "ground"):
            continue
        if "input only" in pin.roles and not signal.is_input:
            what = f"{pin.name} cannot drive {signal.label}: it is input only"
            found.append(told("input-only", "must fix", what, pin.caution, w.moved(signal)))
        elif set(pin.roles) & {"flash", "power", "ground"}:
            what = f"{pin.name} is not free for {signal.label}"
            found.append(told("pin-taken", "must fix", what, pin.caution or "It is a supply.", w.moved(signal)))
        elif "boot strap" in pin.roles:
            what = f"{signal.label} is on {pin.name}, a boot strap"
            found.append(told("boot-strap", "worth fixing", what, pin.caution, w.moved(signal)))
    return found


@on_a_plan
def bus_on_ordinary_pins(w: Wired) -> list[Finding]:
    """A bus line on a pin that does not carry it in hardware, and what that costs."""
    send_ms = w.subject.budget("frame").parts[0].value
    low, high = (factor * send_ms for factor in SOFTWARE_SLOWER)
    why = f"The program has to toggle it: a frame then takes {low:,.0f} to {high:,.0f} ms instead of {send_ms:,.1f} ms (typical)."
    found = []
    for signal in w.signals:
        pin = w.pin(signal)
        if signal.need == "bus" and w.device.link_kind != "uart" and pin and not set(signal.roles) & set(pin.roles):
            what = f"{signal.label} is on {pin.name}, which is no hardware {' or '.join(signal.roles)}"
            found.append(told("software-bus", "worth fixing", what, why, w.moved(signal)))
    return found


@on_a_plan
def serial_lines_not_crossed(w: Wired) -> list[Finding]:
    """The panel's receiver has to hear the board's transmitter, and the other way round."""
    lines = {signal.function: signal for signal in w.signals}
    if w.device.link_kind != "uart" or not {"receive", "transmit"} <= lines.keys():
        return []
    listens, speaks = lines["receive"], lines["transmit"]
    pin = w.pin(listens)
    if pin is None or "transmit" in pin.roles or "receive" not in pin.roles:
        return []
    swapped = {listens.label: w.plan.to_of(speaks.label), speaks.label: w.plan.to_of(listens.label)}
    wires = tuple(replace(wire, to=swapped.get(wire.signal, wire.to)) for wire in w.plan.wires)
    what = f"{listens.label} of the panel is on {pin.name}, where the board listens too"
    why = "Both listen and neither is heard. Name both ends by what they do: transmit goes to receive."
    return [told("not-crossed", "must fix", what, why, mend("Cross the two lines", replace(w.plan, wires=wires)))]


@on_a_plan
def select_tied_on_a_shared_bus(w: Wired) -> list[Finding]:
    """A panel that is always selected takes what is meant for others on its bus."""
    select = next((s for s in w.signals if s.function == "select"), None)
    others = [s.label for s in w.signals if s.function == "touch" and w.plan.to_of(s.label)]
    if select is None or w.plan.to_of(select.label) != "tied low" or not (others or w.plan.devices):
        return []
    what = f"{select.label} is tied low, but the bus has others on it"
    why = "Always selected, the panel takes what is meant for the others as commands of its own."
    return [told("select-tied", "must fix", what, why, w.moved(select))]


@on_a_plan
def devices_not_selected(w: Wired) -> list[Finding]:
    """On SPI each device needs a select line of its own."""
    if not w.device.link_kind.startswith("spi"):
        return []
    taken = {wire.to: wire.signal for wire in w.plan.wires if wire.to}
    found = []
    for number, device in enumerate(w.plan.devices):
        other = taken.get(device.select)
        if device.select and other is None:
            taken[device.select] = device.name
            continue
        what = f"{device.name} and {other} are both on {device.select}" if device.select else f"{device.name} has no select line"
        free = free_pin(w.plan, w.board, Signal(device.name, "select", "must"))
        moved = (*w.plan.devices[:number], replace(device, select=free), *w.plan.devices[number + 1 :])
        fix = mend(f"Select {device.name} by {free}", replace(w.plan, devices=moved)) if free else None
        found.append(told("device-select", "must fix", what, "Without a line of its own it talks into the pictures.", fix))
    return found


@on_a_plan
def program_says_otherwise(w: Wired) -> list[Finding]:
    """A constant of the program names another pin than the plan."""
    constants = read_program(w.plan.program, w.signals, w.board)
    found = []
    for constant in differences(constants, w.plan):
        planned = w.plan.to_of(constant.signal) or "nowhere"
        what = f"The program has {constant.signal} on {constant.pin}, the plan on {planned}"
        why = f"Line {constant.line} says {constant.name} is {constant.written}: wired by the plan, it drives an empty pin."
        fix = mend(f"Plan {constant.signal} on {constant.pin}", w.plan.with_wire(constant.signal, constant.pin))
        found.append(told("program-differs", "must fix", what, why, fix))
    return found


@on_a_plan
def straps_to_move(w: Wired) -> list[Finding]:
    """The module is made up for another link than this one."""
    pins = w.device.passport.module.pins
    done = mend("Done: the straps are moved", replace(w.plan, straps_moved=True), "the finding goes")
    if w.plan.straps_moved or not pins or len(w.device.passport.links) < 2:
        return []
    if w.device.link_kind == "i2c" and any(pin.function == "select" for pin in pins):
        why = "Move its straps to I2C, tie select low, tie data/command to choose the address, and still drive reset."
        return [told("straps", "worth fixing", "This module is made up for SPI", why, done)]
    printed = {pin.label for pin in pins}
    lacking = [s.label for s in w.signals if s.need in ("bus", "must") and s.label not in printed]
    if not lacking:
        return []
    why = "Move its straps to this link and find these lines on it; a module without them does the other link only."
    return [told("straps", "worth fixing", f"This module has no pins labelled {', '.join(lacking)}", why, done)]
