"""Faults of the set-up sequence: one wrong value in it."""

from collections.abc import Callable
from dataclasses import replace

from mosaic.conversion.program import Setting
from mosaic.faults.commands import exchanged, value_after, with_value
from mosaic.faults.fault import Fault, fault
from mosaic.narrowing import needed_kind
from mosaic.pixels.formats import DirectFormat

ROWS = {
    "page-oled": "A8", "page-only-oled": "A8", "pair-grey-oled": "A8", "grey-oled": "CA d", "byte-window-oled": "CA d",
}  # fmt: skip
"""The command that says how many rows are driven, less one."""
START = {"page-oled": "40", "page-only-oled": "40", "grey-oled": "A1 d", "pair-grey-oled": "A1", "byte-window-oled": "A1 d"}
"""The command that says at which row of RAM showing begins."""
DOWN_FIRST = {
    "page-oled": ("20", 0x01), "grey-oled": ("A0 d", 0x01), "pair-grey-oled": ("A0", 0x04), "byte-window-oled": ("A0 d", 0x01),
    "byte-window-epaper": ("11 d", 0x04), "wide-window-epaper": ("11 d", 0x04),
}  # fmt: skip
"""The command with the bit by which counters run down before they run across."""
COUNTING = {family: command for family, (command, _) in DOWN_FIRST.items()}
RESOLUTION = ("61 d {width:u16} {height:u16}", "61 d {height:u16} {width:u16}")
DEPTH = {"window-tft": "3A d", "quad-window": "02 00 3A 00 d", "byte-window-oled": "A0 d"}
"""The command that says how many bits a pixel has."""
DEPTH_CODES = {12: 3, 16: 5, 18: 6}
BYTE_WINDOW_DEPTH = 0xC0
SETUP_MEND = "Take the set-up from here into the program, line by line."


def _with_setup(setting: Setting, text: str) -> Setting:
    passport = setting.passport
    return replace(setting, passport=replace(passport, sequences=replace(passport.sequences, setup=text)))


def _has(commands: dict[str, str]) -> Callable[[Setting], bool]:
    def has(setting: Setting) -> bool:
        command = commands.get(setting.passport.controller.family)
        return command is not None and value_after(setting.passport.sequences.setup, command) is not None

    return has


def _half_the_rows(setting: Setting) -> Setting:
    passport = setting.passport
    right = passport.glass.height_px - 1
    wrong = passport.glass.height_px // 2 - 1
    text = with_value(
        passport.sequences.setup, ROWS[passport.controller.family], lambda value: wrong if value == right else right
    )
    return _with_setup(setting, text)


def _rolls(setting: Setting) -> bool:
    family, text = setting.passport.controller.family, setting.passport.sequences.setup
    command = START.get(family)
    if command == "40":
        return exchanged(text, *_start_lines(setting)) is not None
    return command is not None and value_after(text, command) is not None


def _start_lines(setting: Setting) -> tuple[str, str]:
    """Two single commands: showing begins at row 0, and half a glass further down."""
    return "40", f"{0x40 + setting.passport.glass.height_px // 2 % 64:02X}"


def _roll(setting: Setting) -> Setting:
    passport = setting.passport
    command = START[passport.controller.family]
    if command == "40":
        return _with_setup(setting, exchanged(passport.sequences.setup, *_start_lines(setting)) or "")
    half = passport.glass.height_px // 2
    return _with_setup(setting, with_value(passport.sequences.setup, command, lambda value: 0 if value == half else half))


def _addressing(setting: Setting) -> Setting:
    passport = setting.passport
    command, bit = DOWN_FIRST[passport.controller.family]
    return _with_setup(setting, with_value(passport.sequences.setup, command, lambda value: value ^ bit))


def _exchange_resolution(setting: Setting) -> Setting:
    text = setting.passport.sequences.setup
    one, other = RESOLUTION if RESOLUTION[0] in text else RESOLUTION[::-1]
    return _with_setup(setting, text.replace(one, other))


def _has_resolution(setting: Setting) -> bool:
    passport = setting.passport
    is_oblong = passport.glass.width_px != passport.glass.height_px
    return is_oblong and any(words in passport.sequences.setup for words in RESOLUTION)


def _depth(setting: Setting) -> Setting:
    passport = setting.passport
    command = DEPTH[passport.controller.family]
    if passport.controller.family == "byte-window-oled":
        return _with_setup(setting, with_value(passport.sequences.setup, command, lambda value: value ^ BYTE_WINDOW_DEPTH))
    bits = needed_kind(passport.format, DirectFormat, "a format of channels").bits
    right, wrong = DEPTH_CODES[bits], DEPTH_CODES[18 if bits == 16 else 16]
    return _with_setup(
        setting, with_value(passport.sequences.setup, command, lambda value: wrong if value & 7 == right else right)
    )


FAULTS: tuple[Fault, ...] = (
    fault(
        "height", "Set up for half the rows", "set-up", "Only one half of the glass shows anything; the rest stays dark.",
        _half_the_rows, why="The set-up of a panel of another height drives another number of rows.",
        make_sure="Send the test card Frame: its line must run along all four edges.", mend=SETUP_MEND, applies=_has(ROWS),
    ),
    fault(
        "rolled", "Showing begins further down", "set-up",
        "The picture is rolled: its lower half is on top, its upper half below.",
        _roll, why="The start line in the set-up is not 0, or a scroll was left switched on.",
        make_sure="Send the test card Frame: the corners 1 and 2 must be on top.", mend=SETUP_MEND, applies=_rolls,
    ),
    fault(
        "addressing", "Bytes follow down the columns", "set-up",
        "The picture is torn to crumbs of eight pixels, spread over the glass in a regular order.",
        _addressing, why="A bit of the set-up lets the counters run down before they run across.",
        make_sure="Send the test card Steps and compare it with this rendering.", mend=SETUP_MEND, applies=_has(COUNTING),
    ),
    fault(
        "resolution", "Width and height exchanged in the set-up", "set-up",
        "The picture is sheared, and part of the glass stays empty.",
        _exchange_resolution, why="The panel scans upright, and its resolution was given lying down.",
        make_sure="Send the test card Frame: its line must run along all four edges.", mend=SETUP_MEND, applies=_has_resolution,
    ),
    fault(
        "depth", "Set up for another depth of colour", "set-up",
        "The picture is drawn wider or narrower than it is, in wrong colours, and ends too early or too late.",
        _depth, why="The set-up says how many bits a pixel has; the bytes are packed for another number.",
        make_sure="Send the test card Ramps: every ramp must rise evenly.", mend=SETUP_MEND, applies=_has(DEPTH),
    ),
)  # fmt: skip
