"""A pin plan: what is wired to what, what else is on the bus, and what lies in between."""

from dataclasses import dataclass, field, replace
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.boards.board import Board, BoardPin
from mosaic.errors import BadValueError
from mosaic.panels.glass import Positive

TIED = ("tied high", "tied low")


@dataclass(frozen=True)
class Wire:
    """One line of the panel (or of a bus device, as `device.label`) and the board's pin it goes to.

    `to` is the name of a board's pin, "tied high", "tied low" or "" for nothing.
    """

    signal: str
    to: str = ""


@dataclass(frozen=True)
class BusDevice:
    """Another device on the same bus: told apart by its address on I2C, by a select line on SPI.

    `pull_up_ohm` are resistors on its module from each line to the rail of `rail_v`; 0 for none.
    `address` is as it is printed; `address_form` says whether it is the 7-bit one or shifted left.
    `select` is the board's pin that selects it on SPI.
    """

    name: str
    address: Annotated[int, Meta(ge=0, le=255)] = 0
    address_form: Literal["7-bit", "8-bit"] = "7-bit"
    pull_up_ohm: Annotated[float, Meta(ge=0)] = 0.0
    rail_v: Positive = 3.3
    current_ma: Annotated[float, Meta(ge=0)] = 0.0
    select: str = ""

    @property
    def seven_bit(self) -> int:
        """The address as it is sent: without the bit for reading or writing."""
        return self.address >> 1 if self.address_form == "8-bit" else self.address


@dataclass(frozen=True)
class PinPlan:
    """The wiring of one build.

    Attributes
    ----------
    wires : one for each signal of the panel, in the panel's order
    devices : what else is on the bus
    address : the panel's own I2C address as printed, and its form
    shifter : level shifter between board and panel
    pull_up_ohm : resistors added by the maker, to the rail of `pull_up_rail_v`; 0 for none
    panel_pull_up_ohm : resistors on the panel's own module; 0 for none
    bus_pf : capacitance of the bus, typical for short wires
    serial_level : what the other end of a serial panel's line carries
    rail_order : the order in which the maker brings rails up; empty for that of the passport
    backlight_low_active, backlight_held_off : a light that is on while its pin is low, and whether a resistor holds it off
    straps_moved : the module's straps have been moved to this link
    program : constants of somebody's program, as pasted, to be compared with the plan
    """

    wires: tuple[Wire, ...] = ()
    devices: tuple[BusDevice, ...] = ()
    address: Annotated[int, Meta(ge=0, le=255)] = 0x3C
    address_form: Literal["7-bit", "8-bit"] = "7-bit"
    shifter: bool = False
    pull_up_ohm: Annotated[float, Meta(ge=0)] = 0.0
    pull_up_rail_v: Positive = 3.3
    panel_pull_up_ohm: Annotated[float, Meta(ge=0)] = 4700.0
    bus_pf: Positive = 50.0
    serial_level: Literal["logic", "rs-232"] = "logic"
    rail_order: tuple[str, ...] = ()
    backlight_low_active: bool = False
    backlight_held_off: bool = False
    straps_moved: bool = False
    program: Annotated[str, Meta(max_length=20_000)] = ""
    form: Literal[1] = field(default=1)

    @property
    def seven_bit(self) -> int:
        """The panel's address as it is sent."""
        return self.address >> 1 if self.address_form == "8-bit" else self.address

    def to_of(self, signal: str) -> str:
        """Where a signal goes; "" where it goes nowhere."""
        return next((wire.to for wire in self.wires if wire.signal == signal), "")

    def with_wire(self, signal: str, to: str) -> "PinPlan":
        """The plan with one signal taken elsewhere."""
        kept = tuple(Wire(signal, to) if wire.signal == signal else wire for wire in self.wires)
        return replace(self, wires=kept if any(w.signal == signal for w in kept) else (*kept, Wire(signal, to)))


def pin_of(board: Board, name: str) -> BoardPin | None:
    """The board's pin of this name; None where it has none."""
    return next((pin for pin in board.pins if pin.name == name), None)


def check_names(plan: PinPlan, board: Board) -> None:
    """Refuse a plan that names pins the board does not have.

    Raises
    ------
    BadValueError
        A wire goes to a pin of no such name; the text lists the board's.
    """
    known = {pin.name for pin in board.pins} | {"", *TIED}
    for device in plan.devices:
        if device.select not in known:
            raise BadValueError(f"{device.name} is selected by {device.select!r}, which this board has not")
    for wire in plan.wires:
        if wire.to not in known:
            names = ", ".join(pin.name for pin in board.pins)
            raise BadValueError(f"{wire.signal} goes to {wire.to!r}, which this board has not; its pins are {names}")
