"""What a pin plan needs besides panel, board and wires: level shifters, resistors, a converter."""

from dataclasses import dataclass

from mosaic.boards.board import Board
from mosaic.wiring.plan import PinPlan, pin_of
from mosaic.wiring.proposal import PANEL_LOGIC_V
from mosaic.wiring.signals import Signal


@dataclass(frozen=True)
class ExtraPart:
    """A part to be had: how many, what, and what for."""

    count: int
    name: str
    why: str


def extra_parts(plan: PinPlan, signals: tuple[Signal, ...], board: Board, link_kind: str) -> tuple[ExtraPart, ...]:
    """The parts of a plan, each with its purpose; none where panel and board are wired directly."""
    wired = [s for s in signals if pin_of(board, plan.to_of(s.label)) and s.need not in ("supply", "ground", "rail", "none")]
    parts = []
    if plan.shifter:
        for lines, way in (
            ([s.label for s in wired if not s.is_input], f"{board.logic_v:g} V to {PANEL_LOGIC_V:g} V"),
            ([s.label for s in wired if s.is_input], f"{PANEL_LOGIC_V:g} V to {board.logic_v:g} V"),
        ):
            if lines:
                name = f"channel{'s' if len(lines) > 1 else ''} of a level shifter, {way}"
                parts.append(ExtraPart(len(lines), name, f"for {', '.join(lines)}"))
    if link_kind == "i2c" and plan.pull_up_ohm:
        why = f"from each bus line to {plan.pull_up_rail_v:g} V"
        parts.append(ExtraPart(2, f"resistors of {plan.pull_up_ohm:,.0f} ohm", why))
    light = next((s for s in signals if s.function == "backlight"), None)
    if light is not None and plan.backlight_held_off:
        why = f"from {light.label} to the rail: the light stays off until the program runs"
        parts.append(ExtraPart(1, "resistor of 10,000 ohm", why))
    if plan.serial_level == "rs-232":
        parts.append(ExtraPart(1, "converter between RS-232 and logic", "for both serial lines"))
    return tuple(parts)
