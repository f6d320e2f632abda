"""What commands mean, in words, for each family of controllers: for reading set-up sequences that somebody found."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from mosaic.virtual.page import PageOled
from mosaic.virtual.panel import FAMILIES

Topic = Literal[
    "power", "rows", "offset", "scan direction", "addressing", "depth", "inversion", "charge pump", "brightness", "timing",
    "window", "pixels", "update", "size", "lock",
]  # fmt: skip
MARKED: tuple[Topic, ...] = ("offset", "scan direction", "rows", "depth", "inversion", "charge pump", "addressing", "size")
"""Topics whose differences change where a picture lands or how it looks."""
Operands = list[int]


@dataclass(frozen=True)
class Word:
    """A command: what it is about, and what its operands say."""

    topic: Topic
    name: str
    say: Callable[[Operands], str] | None = None


def _rows(count: int) -> str:
    return "1 row" if count == 1 else f"{count} rows"


def _rows_less_one(o: Operands) -> str:
    return _rows(o[0] + 1)


def _by_rows(o: Operands) -> str:
    return f"by {_rows(o[0])}" if o[0] else "by none"


def _access(o: Operands) -> str:
    """Memory access control: mirrors, exchanged axes, order of channels."""
    parts = [
        words
        for bit, words in (
            (0x80, "rows from below"),
            (0x40, "columns from the right"),
            (0x20, "axes exchanged"),
            (0x08, "blue first"),
        )
        if o[0] & bit
    ]
    return ", ".join(parts) or "upright, red first"


def _depth(o: Operands) -> str:
    return {3: "12 bits a pixel", 5: "16 bits a pixel", 6: "18 bits a pixel"}.get(o[0] & 7, "no known depth")


def _two(o: Operands) -> str:
    return f"{o[0] << 8 | o[1]} to {o[2] << 8 | o[3]}"


def _low_first(o: Operands) -> str:
    return f"{o[0] | o[1] << 8} to {o[2] | o[3] << 8}"


def _range(o: Operands) -> str:
    return f"{o[0]} to {o[1]}"


def _entry(o: Operands) -> str:
    across, down = "up" if o[0] & 1 else "down", "up" if o[0] & 2 else "down"
    return f"x counts {across}, y counts {down}{', down first' if o[0] & 4 else ''}"


def _byte_window_remap(o: Operands) -> str:
    depth = {0: "8 bits", 1: "16 bits", 2: "18 bits", 3: "18 bits"}[o[0] >> 6]
    mirrored = ", columns from the right" if o[0] & 2 else ""
    return f"{depth} a pixel, {'blue' if o[0] & 4 else 'red'} first{mirrored}{', down first' if o[0] & 1 else ''}"


def _remap(down: int, columns: int, nibbles: int) -> Callable[[Operands], str]:
    def say(o: Operands) -> str:
        first = "high" if o[0] & nibbles else "low"
        return (
            f"{first} nibble first{', columns from the right' if o[0] & columns else ''}{', down first' if o[0] & down else ''}"
        )

    return say


_PAGE: dict[int, Word] = {
    0x20: Word("addressing", "addressing mode", lambda o: ("across, then pages", "down, then columns", "within a page")[min(o[0] & 3, 2)]),
    0x21: Word("window", "columns", _range), 0x22: Word("window", "pages", _range),
    0x81: Word("brightness", "contrast", lambda o: f"{o[0]} of 255"),
    0x8D: Word("charge pump", "charge pump", lambda o: "on" if o[0] & 4 else "off"),
    0xAD: Word("charge pump", "converter", lambda o: "on" if o[0] & 1 else "off"),
    0xA8: Word("rows", "multiplex ratio", _rows_less_one), 0xD3: Word("offset", "vertical shift", _by_rows),
    0xD5: Word("timing", "clock divider and oscillator"), 0xD9: Word("timing", "pre-charge period"),
    0xDA: Word("rows", "COM pins", lambda o: "alternating" if o[0] & 0x10 else "one after the other"),
    0xDB: Word("brightness", "deselect level"), 0xDC: Word("offset", "start line", _by_rows),
    0xA0: Word("scan direction", "column 0 on the left"), 0xA1: Word("scan direction", "column 0 on the right"),
    0xC0: Word("scan direction", "row 0 on top"), 0xC8: Word("scan direction", "row 0 below"),
    0xA4: Word("power", "show what the RAM holds"), 0xA5: Word("power", "all pixels on"),
    0xA6: Word("inversion", "1 is lit"), 0xA7: Word("inversion", "1 is dark"),
    0xAE: Word("power", "display off"), 0xAF: Word("power", "display on"),
    **{code: Word("offset", f"start at RAM row {code - 0x40}") for code in range(0x40, 0x80)},
    **{code: Word("window", f"page {code - 0xB0}") for code in range(0xB0, 0xC0)},
    **{code: Word("window", f"column, low nibble {code:X}") for code in range(16)},
    **{code: Word("window", f"column, high nibble {code - 16:X}") for code in range(16, 32)},
}  # fmt: skip
_GREY: dict[int, Word] = {
    0x15: Word("window", "columns, in groups of 4", _range), 0x75: Word("window", "rows", _range), 0x5C: Word("pixels", "memory write"),
    0xA0: Word("scan direction", "scan order", _remap(0x01, 0x02, 0x04)), 0xA1: Word("offset", "start line", _by_rows),
    0xA2: Word("offset", "vertical shift", _by_rows), 0xB3: Word("timing", "clock divider and oscillator"),
    0xC1: Word("brightness", "segment current", lambda o: f"{o[0]} of 255"), 0xC7: Word("brightness", "master current"),
    0xCA: Word("rows", "multiplex ratio", _rows_less_one), 0xFD: Word("lock", "command lock", lambda o: "open" if o[0] in (0x12, 0xB1) else "shut"),
    0xA4: Word("power", "all pixels off"), 0xA5: Word("power", "all pixels on"),
    0xA6: Word("inversion", "as the RAM holds it"), 0xA7: Word("inversion", "inverted"),
    0xAE: Word("power", "display off"), 0xAF: Word("power", "display on"),
}  # fmt: skip
_PAIR: dict[int, Word] = {
    **{code: word for code, word in _GREY.items() if code not in (0x5C, 0xC1, 0xC7, 0xCA)},
    0x15: Word("window", "columns, in pairs", _range), 0xA0: Word("scan direction", "scan order", _remap(0x04, 0x01, 0x02)),
    0xA8: Word("rows", "multiplex ratio", _rows_less_one), 0x81: Word("brightness", "contrast", lambda o: f"{o[0]} of 255"),
    0xAB: Word("power", "internal regulator"), 0xA4: Word("inversion", "as the RAM holds it"), 0xA6: Word("power", "all pixels off"),
    0xB1: Word("timing", "phase lengths"),
}  # fmt: skip
_BYTE_WINDOW: dict[int, Word] = {
    **_GREY, 0x15: Word("window", "columns", _range), 0xA0: Word("scan direction", "scan order and depth", _byte_window_remap),
    0xC1: Word("brightness", "contrast of red, green and blue"), 0xB1: Word("timing", "phase lengths"),
}  # fmt: skip
_WINDOW: dict[int, Word] = {
    0x01: Word("power", "software reset"), 0x10: Word("power", "sleep"), 0x11: Word("power", "leave sleep"),
    0x12: Word("power", "partial mode"), 0x13: Word("power", "normal mode"), 0x20: Word("inversion", "no inversion"), 0x21: Word("inversion", "inversion"),
    0x28: Word("power", "display off"), 0x29: Word("power", "display on"), 0x2A: Word("window", "columns", _two), 0x2B: Word("window", "rows", _two),
    0x2C: Word("pixels", "memory write"), 0x3C: Word("pixels", "memory write, going on"), 0x36: Word("scan direction", "memory access", _access),
    0x38: Word("power", "all colours"), 0x39: Word("power", "eight colours"), 0x3A: Word("depth", "pixel format", _depth),
    0x51: Word("brightness", "brightness", lambda o: f"{o[0]} of 255"), 0x53: Word("brightness", "brightness control"),
}  # fmt: skip
_PAPER: dict[int, Word] = {
    0x01: Word("rows", "rows driven", lambda o: _rows((o[0] | o[1] << 8) + 1)), 0x0C: Word("power", "soft start"),
    0x10: Word("power", "deep sleep"), 0x11: Word("scan direction", "data entry", _entry), 0x12: Word("power", "software reset"),
    0x18: Word("timing", "temperature sensor"), 0x20: Word("update", "start the update"), 0x21: Word("inversion", "how planes are shown"),
    0x22: Word("update", "what an update does"), 0x24: Word("pixels", "write the first plane"), 0x26: Word("pixels", "write the second plane"),
    0x2C: Word("brightness", "common voltage"), 0x3C: Word("brightness", "border"), 0x44: Word("window", "x range, in bytes", _range),
    0x45: Word("window", "y range", _low_first), 0x4E: Word("window", "x counter"), 0x4F: Word("window", "y counter"),
}  # fmt: skip
_FRAME: dict[int, Word] = {
    0x00: Word("scan direction", "panel setting"), 0x02: Word("power", "drive voltages off"), 0x04: Word("power", "drive voltages on"),
    0x07: Word("power", "deep sleep"), 0x10: Word("pixels", "write the first plane"), 0x12: Word("update", "refresh"),
    0x13: Word("pixels", "write the second plane"), 0x50: Word("inversion", "border and data polarity"),
    0x61: Word("size", "resolution", lambda o: f"{o[0] << 8 | o[1]} × {o[2] << 8 | o[3]}"),
}  # fmt: skip
_PAGE_ONLY = {code: word for code, word in _PAGE.items() if code not in PageOled.WINDOWS_AND_SCROLLS}
_SCANNED = {code: _WINDOW[code] for code in (0x11, 0x28, 0x29, 0x3A)}
VOCABULARY: dict[str, dict[int, Word]] = {
    "page-oled": _PAGE, "page-only-oled": _PAGE_ONLY, "grey-oled": _GREY, "pair-grey-oled": _PAIR, "byte-window-oled": _BYTE_WINDOW,
    "window-tft": _WINDOW, "quad-window": _WINDOW, "scanned-rgb": _SCANNED, "byte-window-epaper": _PAPER, "wide-window-epaper": _PAPER,
    "frame-epaper": _FRAME,
}  # fmt: skip


@dataclass(frozen=True)
class Spoken:
    """A command in words."""

    code: int
    operands: tuple[int, ...]
    topic: Topic | None
    words: str

    @property
    def hex(self) -> str:
        return " ".join(f"{byte:02X}" for byte in (self.code, *self.operands))


def operand_count(family: str, code: int) -> int | None:
    """How many operands a command takes; None if the family does not know it."""
    controller = FAMILIES[family][1]
    if code in controller.OPERANDS:
        return controller.OPERANDS[code]
    return 0 if code in VOCABULARY.get(family, {}) else None


def spoken(family: str, code: int, operands: tuple[int, ...]) -> Spoken:
    """What a command says; an unknown one says so."""
    word = VOCABULARY.get(family, {}).get(code)
    if word is None:
        return Spoken(code, operands, None, "not known to this controller")
    wanted = operand_count(family, code) or 0
    if len(operands) < wanted:
        return Spoken(code, operands, word.topic, f"{word.name}: {len(operands)} of {wanted} operands")
    said = word.say(list(operands)) if word.say and operands else ""
    return Spoken(code, operands, word.topic, f"{word.name}: {said}" if said else word.name)
