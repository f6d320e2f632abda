"""Pins in somebody's program: constants in many ways of writing, matched to a panel's lines and a board's pins."""

import re
from dataclasses import dataclass

from mosaic.boards.board import Board
from mosaic.source_text import without_block_comments
from mosaic.wiring.plan import PinPlan
from mosaic.wiring.signals import Signal

LONGEST, LONGEST_LINE = 200_000, 300
"""Characters of a program, and of a line of it, that are looked at."""

# Ways of writing a constant; each gives a name and what stands for the pin.
_VALUE = r"(?P<value>0x[0-9a-fA-F]+|[A-Za-z_]*\d+|[A-Z][A-Z0-9_]*)"
_WAYS = tuple(
    re.compile(pattern, re.M)
    for pattern in (
        rf"^\s*#\s*define\s+(?P<name>\w+)\s+\(?\s*{_VALUE}\s*\)?",  # #define PANEL_CS 5, (5), GPIO_NUM_5
        rf"(?:-D\s*)(?P<name>\w+)\s*=\s*{_VALUE}",  # -D PANEL_CS=5
        rf"\b(?P<name>\w+)\s*=\s*(?:[\w.]+\.)?(?:Pin|DigitalInOut|OutputDevice|DigitalOut)\s*\(\s*[\"']?(?:[\w.]+\.)?{_VALUE}",  # cs = Pin(5), Pin("GP5")
        rf"\b(?P<name>\w+)\s*(?::\s*[\w:<>]{{1,40}}\s*)?=\s*(?:[A-Za-z_]\w*\s*\.\s*)*\(?\s*[\"']?{_VALUE}[\"']?\s*\)?\s*(?:[;,}}#\r\n]|//|/\*|$)",  # const int cs = 5; CS = 5
        rf"^\s*[\"']?(?P<name>\w+)[\"']?\s*:\s*[\"']?{_VALUE}[\"']?\s*,?\s*(?:#.*)?$",  # cs_pin: GPIO5, "cs": 5
        rf"^\s*\.(?P<name>\w+)\s*=\s*{_VALUE}",  # .pin_cs = 5,
        rf"\b(?P<name>\w+)\s*\{{\s*{_VALUE}\s*\}}\s*;",  # constexpr int cs{5};
        rf"^\s*(?:set|let|export)\s+(?P<name>\w+)\s*=?\s*{_VALUE}",  # set CS 5
    )
)  # fmt: skip

# Words in a constant's name, and the function they stand for; the first that fits decides.
_WORDS = (
    (r"(?:^|_)(?:t|touch|tp|ts)_?(?:cs|ss)(?:_|$)|touchcs", ("touch", "T_CS")),
    (r"(?:^|_)(?:t|touch|tp|ts)_?(?:irq|int)(?:_|$)|touchirq", ("touch", "T_IRQ")),
    (r"(?:^|_)busy(?:_|$)|busy", ("busy", "")),
    (r"(?:^|_)(?:bl|blk|led|backlight|light)(?:_|$)|backlight", ("backlight", "")),
    (r"(?:^|_)(?:rst|reset|res)(?:_|$)|reset", ("reset", "")),
    (r"(?:^|_)(?:dc|rs|a0|cd|d_c)(?:_|$)", ("data/command", "")),
    (r"(?:^|_)(?:cs|ss|sel|select|ce)(?:_|$)", ("select", "")),
    (r"(?:^|_)(?:miso|sdo|do)(?:_|$)", ("data out", "")),
    (r"(?:^|_)(?:mosi|din|sdi|sda|copi|di)(?:_|$)", ("data", "")),
    (r"(?:^|_)(?:sck|sclk|clk|scl|clock)(?:_|$)", ("clock", "")),
    (r"(?:^|_)(?:tx|txd)(?:_|$)", ("receive", "")),  # the board's transmitter goes to the panel's receiver
    (r"(?:^|_)(?:rx|rxd)(?:_|$)", ("transmit", "")),
)
_PREFIXES = ("", "D", "GP", "GPIO", "IO", "P", "PIN", "GPIO_NUM_", "PIN_", "G")


@dataclass(frozen=True)
class Constant:
    """A constant of a program: its name, what was written for the pin, and what both stand for here.

    `signal` is the panel's line, "" where the name says none; `pin` the board's pin, "" where it has none such.
    """

    line: int
    name: str
    written: str
    signal: str
    pin: str


def read_program(text: str, signals: tuple[Signal, ...], board: Board) -> tuple[Constant, ...]:
    """Constants of a program that stand for pins, in the order of their lines; each name counts once.

    >>> from mosaic.boards.board import catalogue as boards
    >>> from mosaic.panels.loader import catalogue as panels
    >>> from mosaic.wiring.signals import signals_of
    >>> lines = signals_of(panels()["tft-240x240-round"], "spi")
    >>> [(c.signal, c.pin) for c in read_program("#define TFT_CS 5", lines, boards()["wireless"])]
    [('CS', '5')]
    """
    plain = without_block_comments(text[:LONGEST])
    found: dict[str, Constant] = {}
    for number, line in enumerate(plain.splitlines(), 1):
        for match in (match for way in _WAYS for match in way.finditer(line[:LONGEST_LINE])):
            name, written = match["name"], match["value"]
            signal = signal_of(name, signals)
            if signal and name not in found:
                found[name] = Constant(number, name, written, signal, pin_named(written, board))
    return tuple(found.values())


def signal_of(name: str, signals: tuple[Signal, ...]) -> str:
    """The panel's line that a constant's name speaks of; "" where it speaks of none."""
    # csPin and PIN_CS are the same words.
    words = re.sub(r"(?<=[a-z0-9])(?=[A-Z])", "_", name).lower()
    for pattern, (function, label) in _WORDS:
        if re.search(pattern, words):
            fitting = [s for s in signals if s.function == function or (function == "data" and s.function == "data in")]
            return next((s.label for s in fitting if not label or s.label == label), "")
    return ""


def pin_named(written: str, board: Board) -> str:
    """The board's pin that a program means by this; "" where the board has none such.

    A name counts as it is; a number, or a number behind one of the usual prefixes, is looked for
    among the board's numbered pins.
    """
    names = {pin.name.upper(): pin.name for pin in board.pins}
    text = written.upper()
    if text in names:
        return names[text]
    number = str(int(text, 16)) if text.startswith("0X") else (re.search(r"\d+$", text) or [""])[0]
    prefix = text[: -len(number)] if number and not text.startswith("0X") else ""
    digits = number.lstrip("0") or "0"
    if not number or prefix not in _PREFIXES:
        return ""
    return next((names[p + digits] for p in _PREFIXES if p + digits in names), "")


def differences(constants: tuple[Constant, ...], plan: PinPlan) -> list[Constant]:
    """Constants that say otherwise than the plan."""
    return [c for c in constants if c.pin and plan.to_of(c.signal) != c.pin]
