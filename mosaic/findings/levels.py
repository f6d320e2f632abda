"""Findings on levels and loads: voltages, addresses, pull-ups, currents, and clocks that are too fast."""

from dataclasses import replace

from mosaic.boards.board import highest_clock_hz
from mosaic.findings import Finding, Fix
from mosaic.findings.wired import Wired, mend, on_a_plan, told
from mosaic.wiring.plan import TIED, PinPlan
from mosaic.wiring.proposal import PANEL_LOGIC_V, SAME_RAIL_V, panel_ma, supply_pin
from mosaic.wiring.pullups import in_parallel, most_capacitance_pf, pull_up_range, to_add

LARGEST_7BIT = 0x77
USUAL_ADDRESSES = (0x3C, 0x3D, 0x3A, 0x3B)
FASTEST_I2C_HZ = 1_000_000
OWN_SUPPLY = "Feed the panel from a supply of its own, with common ground."


@on_a_plan
def levels_apart(w: Wired) -> list[Finding]:
    """5 V into 3.3 V inputs, RS-232 into logic, and a bus pulled up too high."""
    found, board_v = [], w.board.logic_v
    if board_v > PANEL_LOGIC_V and not w.plan.shifter and w.device.link_kind != "i2c":
        why = f"Its inputs take {PANEL_LOGIC_V:g} V. {board_v:g} V drives current into their protection, in time through it."
        fix = mend("Put a level shifter in between", replace(w.plan, shifter=True))
        what = f"The board's {board_v:g} V go into the panel's {PANEL_LOGIC_V:g} V inputs"
        found.append(told("level-too-high", "must fix", what, why, fix))
    if w.device.link_kind == "uart" and w.plan.serial_level == "rs-232":
        why = "RS-232 swings negative and up to 15 V; a converter makes logic of it."
        fix = mend("Put a converter in between", replace(w.plan, serial_level="logic"))
        found.append(told("rs-232", "must fix", "RS-232 levels go to logic pins", why, fix))
    if w.device.link_kind == "i2c" and w.plan.pull_up_rail_v > PANEL_LOGIC_V + SAME_RAIL_V:
        why = "The rail of the pull-ups sets the level of the bus; open-drain lines pulled to 3.3 V need no shifter."
        fix = mend("Pull the bus up to 3.3 V", replace(w.plan, pull_up_rail_v=PANEL_LOGIC_V))
        found.append(told("pull-up-rail", "must fix", f"The bus is pulled up to {w.plan.pull_up_rail_v:g} V", why, fix))
    return found


@on_a_plan
def rails_out_of_order(w: Wired) -> list[Finding]:
    """Rails brought up in another order than the panel wants."""
    wanted = tuple(rail.name for rail in w.device.passport.rails)
    if len(wanted) < 2 or not w.plan.rail_order or w.plan.rail_order == wanted:
        return []
    order = ", then ".join(wanted)
    why = f"Drive voltages without logic latch the controller up. It wants {order}, and the reverse when it is switched off."
    what = f"Rails come up as {', then '.join(w.plan.rail_order)}"
    return [told("rail-order", "must fix", what, why, mend(f"Bring up {order}", replace(w.plan, rail_order=())))]


@on_a_plan
def light_on_at_power_up(w: Wired) -> list[Finding]:
    """A low-active light is on until the program drives its pin high."""
    light = next((signal for signal in w.signals if signal.function == "backlight"), None)
    if light is None or not w.plan.backlight_low_active or w.plan.backlight_held_off:
        return []
    what = f"{light.label} is low-active: the light is on from power-up until the program runs"
    why = "Pins float or are low at power-up; on a cell that current counts at every start, and the first picture flashes."
    fix = mend("Hold it off with 10,000 ohm to the rail", replace(w.plan, backlight_held_off=True))
    return [told("on-at-power-up", "worth fixing", what, why, fix)]


@on_a_plan
def address_in_its_8_bit_form(w: Wired) -> list[Finding]:
    """An address as boards print it: shifted left by one."""
    if w.device.link_kind != "i2c":
        return []
    plan, found = w.plan, []
    if plan.address_form == "7-bit" and plan.address > LARGEST_7BIT:
        found.append(_shifted(plan.address, replace(plan, address=plan.address >> 1)))
    for number, other in enumerate(plan.devices):
        if other.address_form == "7-bit" and other.address > LARGEST_7BIT:
            right = replace(other, address=other.address >> 1)
            found.append(
                _shifted(other.address, replace(plan, devices=(*plan.devices[:number], right, *plan.devices[number + 1 :])))
            )
    return found


def _shifted(printed: int, mended: PinPlan) -> Finding:
    right = printed >> 1
    why = f"0x{printed:02X} is 0x{right:02X} shifted left by one, as boards print it. Sent so, no device answers."
    return told("address-8-bit", "must fix", f"0x{printed:02X} is no 7-bit address", why, mend(f"Use 0x{right:02X}", mended))


@on_a_plan
def addresses_clash(w: Wired) -> list[Finding]:
    """Two devices of one address on one bus."""
    if w.device.link_kind != "i2c":
        return []
    plan, found = w.plan, []
    taken = {plan.seven_bit: w.device.passport.name}
    everything = {plan.seven_bit, *(device.seven_bit for device in plan.devices)}
    for other in plan.devices:
        if other.seven_bit in taken:
            free = next((address for address in USUAL_ADDRESSES if address not in everything), None)
            fix = (
                mend(f"Move the panel to 0x{free:02X} by its strap", replace(plan, address=free, address_form="7-bit"))
                if free
                else None
            )
            what = f"{other.name} and {taken[other.seven_bit]} both answer to 0x{other.seven_bit:02X}"
            found.append(told("address-clash", "must fix", what, "Both pull the line at once; neither is understood.", fix))
        taken.setdefault(other.seven_bit, other.name)
    return found


@on_a_plan
def pull_ups(w: Wired) -> list[Finding]:
    """Pull-ups too weak, too strong, or such that no value would do."""
    plan, clock_hz = w.plan, w.device.clock_hz
    if w.device.link_kind != "i2c" or clock_hz > FASTEST_I2C_HZ:
        return []
    wanted = pull_up_range(clock_hz, plan.pull_up_rail_v, plan.bus_pf)
    clock, span = f"{clock_hz / 1000:g} kHz", f"{wanted.least_ohm:,.0f} to {wanted.most_ohm:,.0f} ohm"
    if not wanted.has_solution or plan.bus_pf > most_capacitance_pf(clock_hz):
        slower = next((hz for hz in (400_000, 100_000) if hz < clock_hz), None)
        fix = Fix(f"Clock the bus at {slower / 1000:g} kHz", "device", {"clock_hz": slower}) if slower else None
        why = (
            f"With {plan.bus_pf:g} pF at {clock} it would have to be {span}; a bus may have {most_capacitance_pf(clock_hz):g} pF."
        )
        return [told("pull-ups-none", "must fix", "No pull-up suits this bus", why, fix)]
    modules = in_parallel(plan.panel_pull_up_ohm, *(device.pull_up_ohm for device in plan.devices))
    present = in_parallel(modules, plan.pull_up_ohm) if modules != float("inf") else in_parallel(plan.pull_up_ohm)
    if wanted.holds(present):
        return []
    words = "by nothing" if present == float("inf") else f"by {present:,.0f} ohm in all"
    if present > wanted.most_ohm:
        add = to_add(modules, wanted)
        fix = mend(f"Add {add:,} ohm to each line", replace(plan, pull_up_ohm=float(add))) if add else None
        why = f"Lines rise too slowly for {clock}, which wants {span}."
        return [told("pull-ups-weak", "must fix", f"The bus is pulled up {words}", why, fix)]
    fix = mend("Take your own resistors out", replace(plan, pull_up_ohm=0.0)) if wanted.holds(modules) else None
    why = f"Drivers cannot pull it low enough; {clock} wants {span}. Take resistors off modules."
    return [told("pull-ups-strong", "must fix", f"The bus is pulled up {words}", why, fix)]


@on_a_plan
def supply_current(w: Wired) -> list[Finding]:
    """What hangs on the regulator takes more than it gives."""
    board = w.board
    supplies = [w.pin(signal) for signal in w.signals if signal.need == "supply"]
    on_rail = any(pin is not None and abs(pin.volts - board.logic_v) < SAME_RAIL_V for pin in supplies)
    panel = panel_ma(w.device.passport) if on_rail else 0.0
    total = panel + board.active_ma + sum(device.current_ma for device in w.plan.devices)
    if total <= board.regulator_ma:
        return []
    what = f"The regulator would have to give {total:,.0f} mA"
    why = (
        f"Of these the panel takes {panel:,.0f} and the board {board.active_ma:,.0f} mA (typical); it gives"
        f" {board.regulator_ma:,.0f} mA. It heats up, the rail sags, the board restarts. {OWN_SUPPLY}"
    )
    strong = next((pin for pin in board.pins if pin.volts >= 4.5 and _takes(w, pin.volts)), None)
    signal = next((s for s in w.signals if s.need == "supply"), None)
    return [told("regulator", "must fix", what, why, w.taken_to(signal, strong.name) if strong and signal and on_rail else None)]


def _takes(w: Wired, volts: float) -> bool:
    """Whether the panel's first rail takes this voltage."""
    rails = w.device.passport.rails
    return bool(rails) and rails[0].min_v <= volts <= rails[0].max_v


@on_a_plan
def link_faster_than_allowed(w: Wired) -> list[Finding]:
    """The clock is above what panel and board allow together."""
    highest = highest_clock_hz(w.board, w.device.passport.link(w.device.link_kind))
    if not highest or w.device.clock_hz <= highest:
        return []
    fix = Fix(f"Clock the link at {highest / 1e6:g} MHz", "device", {"clock_hz": highest})
    what = f"The link runs at {w.device.clock_hz / 1e6:g} MHz, allowed are {highest / 1e6:g} MHz"
    return [
        told("clock-too-fast", "must fix", what, "Pixels flip or nothing is shown, and it changes with the temperature.", fix)
    ]


@on_a_plan
def supply_pin_too_weak(w: Wired) -> list[Finding]:
    """The panel hangs on a pin that gives less than it takes."""
    signal = next((s for s in w.signals if s.need == "supply"), None)
    pin, takes = w.pin(signal) if signal else None, panel_ma(w.device.passport)
    if signal is None or pin is None or not pin.max_ma or takes <= pin.max_ma:
        return []
    strong = supply_pin(w.device.passport, w.board)
    fix = w.taken_to(signal, strong.name) if strong else None
    what = f"{signal.label} takes up to {takes:,.0f} mA; {pin.name} gives {pin.max_ma:,.0f} mA"
    why = f"The pin's supply sags or is damaged (typical currents).{'' if strong else f' {OWN_SUPPLY}'}"
    return [told("pin-current", "must fix", what, why, fix)]


@on_a_plan
def address_of_another_strap(w: Wired) -> list[Finding]:
    """On I2C the data/command line sets the last bit of the address."""
    line = next((s for s in w.signals if s.need == "tie" and s.function == "data/command"), None)
    tied = w.plan.to_of(line.label) if line else ""
    if w.device.link_kind != "i2c" or line is None or tied not in TIED:
        return []
    meant = w.plan.seven_bit & ~1 | (tied == "tied high")
    if meant == w.plan.seven_bit:
        return []
    asked = f"0x{w.plan.seven_bit:02X}"
    why = f"{line.label} sets the last bit of the address: the panel answers to 0x{meant:02X}, and the program asks {asked}."
    fix = mend(f"Use 0x{meant:02X}", replace(w.plan, address=meant, address_form="7-bit"))
    return [told("address-strap", "must fix", f"{line.label} is {tied}, the plan has {asked}", why, fix)]
