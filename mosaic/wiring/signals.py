"""The signals a panel needs on a link: by the labels printed on its module where they fit, else by plain names."""

import re
from dataclasses import dataclass
from typing import Literal

from mosaic.panels.glass import PanelPin
from mosaic.panels.passport import Passport

Need = Literal["bus", "must", "tie", "should", "may", "supply", "ground", "rail", "none"]
"""What a signal has to be wired to: a hardware pin of the bus; a pin that must be there; one that ought to be; one that
may be left; high or low for good (or a pin); a supply or ground; a further rail; nothing (straps and capacitors)."""


@dataclass(frozen=True)
class Signal:
    """One line of the panel.

    `roles` are those of a board's pin that serve it in hardware; empty where any output (or
    input) does. `is_input` is a line the board reads.
    """

    label: str
    function: str
    need: Need
    roles: tuple[str, ...] = ()
    is_input: bool = False
    note: str = ""


# For each kind of link the functions it carries, with the label used where the module prints none.
_BUS: dict[str, tuple[tuple[str, str, Need, tuple[str, ...]], ...]] = {
    "i2c": (("SCL", "clock", "bus", ("i2c clock",)), ("SDA", "data", "bus", ("i2c data",))),
    "spi": (
        ("SCK", "clock", "bus", ("spi clock",)), ("DIN", "data", "bus", ("spi data out",)), ("CS", "select", "must", ()),
        ("DC", "data/command", "must", ()), ("RST", "reset", "must", ()),
    ),
    "spi3": (
        ("SCK", "clock", "bus", ("spi clock",)), ("DIN", "data", "bus", ("spi data out",)), ("CS", "select", "must", ()),
        ("RST", "reset", "must", ()),
    ),
    "spi-flagged": (
        ("SCK", "clock", "bus", ("spi clock",)), ("MOSI", "data in", "bus", ("spi data out",)),
        ("MISO", "data out", "bus", ("spi data in",)), ("CS", "select", "must", ()), ("RESET", "reset", "must", ()),
    ),
    "qspi": (
        ("CLK", "clock", "must", ()), *((f"D{i}", "data", "must", ()) for i in range(4)), ("CS", "select", "must", ()),
        ("RST", "reset", "must", ()),
    ),
    "parallel8": (
        *((f"D{i}", "data", "must", ()) for i in range(8)), ("WR", "clock", "must", ()), ("CS", "select", "must", ()),
        ("RS", "data/command", "must", ()), ("RST", "reset", "must", ()),
    ),
    "parallel16": (
        *((f"D{i}", "data", "must", ()) for i in range(16)), ("WR", "clock", "must", ()), ("CS", "select", "must", ()),
        ("RS", "data/command", "must", ()), ("RST", "reset", "must", ()),
    ),
    "rgb": (
        ("PCLK", "clock", "must", ()), ("DE", "sync", "must", ()), ("HSYNC", "sync", "must", ()), ("VSYNC", "sync", "must", ()),
        *((f"R{i}", "data", "must", ()) for i in range(3, 8)), *((f"G{i}", "data", "must", ()) for i in range(2, 8)),
        *((f"B{i}", "data", "must", ()) for i in range(3, 8)),
    ),
    "uart": (("RX", "receive", "bus", ("transmit",)), ("TX", "transmit", "bus", ("receive",))),
}  # fmt: skip

_INPUTS = ("busy", "data out", "transmit")
_EXTRAS: dict[str, Need] = {
    "busy": "must", "backlight": "should", "touch": "may", "sync": "may", "other": "may", "supply": "supply", "ground": "ground",
    "rail": "rail", "strap": "none",
}  # fmt: skip
_BESIDE_I2C: dict[str, Need] = {"reset": "must", "select": "tie", "data/command": "tie"}
_RANGE = re.compile(r"([A-Z]+)(\d+)-[A-Z]*(\d+)$")


def signals_of(passport: Passport, link_kind: str) -> tuple[Signal, ...]:
    """Every line of a panel on this link, the bus first; supply and ground last."""
    printed = [pin for given in passport.module.pins for pin in _lines(given)]
    taken: set[int] = set()
    signals = []
    for label, function, need, roles in _BUS[link_kind]:
        at = _printed(printed, taken, function, label)
        if at is not None:
            taken.add(at)
            label = printed[at].label
        note = printed[at].note if at is not None else ""
        signals.append(Signal(label, function, need, roles, function in _INPUTS, note))
    if link_kind == "i2c":
        # A module made up for SPI keeps its other lines: they have to rest somewhere, and reset is driven as ever.
        for i, pin in enumerate(printed):
            if i not in taken and pin.function in _BESIDE_I2C:
                taken.add(i)
                signals.append(Signal(pin.label, pin.function, _BESIDE_I2C[pin.function], (), False, pin.note))
    if passport.technology == "epaper" and not any(pin.function == "busy" for pin in printed):
        signals.append(Signal("BUSY", "busy", "must", (), True))
    signals += [
        Signal(pin.label, pin.function, _EXTRAS[pin.function], (), _reads(pin), pin.note)
        for number, pin in enumerate(printed)
        if number not in taken and pin.function in _EXTRAS and _is_wanted(pin, link_kind)
    ]
    for label, function, need in (("VCC", "supply", "supply"), ("GND", "ground", "ground")):
        if not any(signal.function == function for signal in signals):
            signals.append(Signal(label, function, need))
    return tuple(signals)


def _lines(pin: PanelPin) -> list[PanelPin]:
    """A pin, or the lines that a label such as R3-R7 stands for."""
    match = _RANGE.match(pin.label)
    if not match:
        return [pin]
    return [PanelPin(f"{match[1]}{number}", pin.function, pin.note) for number in range(int(match[2]), int(match[3]) + 1)]


def _printed(printed: list[PanelPin], taken: set[int], function: str, label: str) -> int | None:
    """Which printed pin serves a function: one of the same label first, then the first of that function."""
    fitting = [i for i, pin in enumerate(printed) if i not in taken and pin.function == function]
    if function == "data" and not fitting:
        fitting = [i for i, pin in enumerate(printed) if i not in taken and pin.function == "data in"]
    return next((i for i in fitting if printed[i].label == label), fitting[0] if fitting else None)


def _reads(pin: PanelPin) -> bool:
    return pin.function in _INPUTS or pin.label.upper() in ("T_IRQ", "T_DO", "INT", "TE", "WAIT")


def _is_wanted(pin: PanelPin, link_kind: str) -> bool:
    """Whether a printed pin that is not of the bus is listed: sync lines only where the link does not carry them itself."""
    return pin.function != "sync" or link_kind != "rgb"
