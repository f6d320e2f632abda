"""Faults of what is believed of the panel: how it lies, where the glass begins in its RAM, how it is wired."""

from collections.abc import Callable
from dataclasses import replace

from mosaic.cards.ruler import PAGE_FAMILIES, has_addresses
from mosaic.conversion.program import Setting
from mosaic.faults.arrays import has_bgr_setting
from mosaic.faults.commands import exchanged, value_after, with_value
from mosaic.faults.fault import Fault, fault
from mosaic.panels.glass import Ram
from mosaic.panels.passport import Controller

BGR = 0x08
BGR_OF_BYTE_WINDOW = 0x04
ALTERNATING = 0x10
INVERSION: dict[str, tuple[str, str]] = {
    "page-oled": ("A6", "A7"), "page-only-oled": ("A6", "A7"), "grey-oled": ("A6", "A7"), "pair-grey-oled": ("A4", "A7"),
    "byte-window-oled": ("A6", "A7"), "window-tft": ("20", "21"), "quad-window": ("02 00 20 00", "02 00 21 00"),
}  # fmt: skip
"""Commands that show the RAM as it is, and inverted, by controller family."""
TURN_MEND = "Let the build lie so; pictures are turned again."
LETTER = "Send the test card Letter: the F must stand upright before you."


def _setup(setting: Setting, text: str, **controller: object) -> Setting:
    """The setting with another set-up, and facts of its controller's wiring changed."""
    passport = setting.passport
    return replace(
        setting,
        passport=replace(
            passport,
            sequences=replace(passport.sequences, setup=text),
            controller=replace(passport.controller, **controller),  # type: ignore[arg-type]
        ),
    )


def _invert(setting: Setting) -> Setting:
    passport = setting.passport
    text = exchanged(passport.sequences.setup, *INVERSION[passport.controller.family])
    return _setup(setting, text or "", inverted_glass=not passport.controller.inverted_glass)


def _can_invert(setting: Setting) -> bool:
    commands = INVERSION.get(setting.passport.controller.family)
    return commands is not None and exchanged(setting.passport.sequences.setup, *commands) is not None


def _exchange_channels(setting: Setting) -> Setting:
    passport, controller = setting.passport, setting.passport.controller
    text, codes = passport.sequences.setup, (controller.turn_codes, controller.mirror_codes)
    if controller.family == "byte-window-oled":
        text = with_value(text, "A0 d", lambda value: value ^ BGR_OF_BYTE_WINDOW)
    elif controller.family == "quad-window":
        text = with_value(text, "02 00 36 00 d", lambda value: value ^ BGR)
    else:
        codes = (tuple(code ^ BGR for code in codes[0]), tuple(code ^ BGR for code in codes[1]))
        text = with_value(text, "36 d", lambda value: value ^ BGR)
    return _setup(setting, text, bgr_glass=not controller.bgr_glass, turn_codes=codes[0], mirror_codes=codes[1])


def _exchange_row_pins(setting: Setting) -> Setting:
    passport: Controller = setting.passport.controller
    text = with_value(setting.passport.sequences.setup, "DA", lambda value: value ^ ALTERNATING)
    return _setup(setting, text, row_pins="sequential" if passport.row_pins == "alternating" else "alternating")


def _has_row_pins(setting: Setting) -> bool:
    passport = setting.passport
    return passport.controller.family in PAGE_FAMILIES and value_after(passport.sequences.setup, "DA") is not None


def _turned(degrees: int) -> Callable[[Setting, int], Setting]:
    return lambda setting, amount: replace(setting, turn=setting.turn.turned(degrees))


def _mirror_across(setting: Setting) -> Setting:
    return replace(setting, turn=setting.turn.mirrored_across())


def _mirror_down(setting: Setting) -> Setting:
    return replace(setting, turn=setting.turn.mirrored_down())


def moved_ram(setting: Setting, axis: int, amount: int) -> Ram | None:
    """The RAM with the glass `amount` further in along the native axis (0 x, 1 y); None if there is no room for it.

    A page controller whose columns all lie before the glass is taken to have as many more on either side.
    """
    passport = setting.passport
    glass, ram, grid = passport.glass, passport.ram, passport.grid
    offset, size, whole = (
        (ram.offset_x, glass.width_px, ram.width_px) if axis == 0 else (ram.offset_y, glass.height_px, ram.height_px)
    )
    step = grid.x_px if axis == 0 else grid.y_px
    at = offset + amount
    if axis == 0 and passport.controller.family in PAGE_FAMILIES and whole == size and at > 0:
        whole = size + 2 * at
    if not 0 <= at <= whole - size or amount % step:
        return None
    return replace(ram, width_px=whole, offset_x=at) if axis == 0 else replace(ram, height_px=whole, offset_y=at)


def _move(axis: int, sign: int) -> Callable[[Setting, int], Setting]:
    def move(setting: Setting, amount: int) -> Setting:
        ram = moved_ram(setting, axis, sign * amount)
        return replace(setting, passport=replace(setting.passport, ram=ram)) if ram else setting

    return move


def _likely_move(axis: int) -> Callable[[Setting], int]:
    """How far the glass is likely to lie elsewhere: at the RAM's beginning, in its middle, at its end; 0 for nowhere."""

    def likely(setting: Setting) -> int:
        passport = setting.passport
        offset = passport.ram.offset_x if axis == 0 else passport.ram.offset_y
        glass, ram = (
            (passport.glass.width_px, passport.ram.width_px) if axis == 0 else (passport.glass.height_px, passport.ram.height_px)
        )
        spare = ram - glass
        usual = 2 if axis == 0 and passport.controller.family in PAGE_FAMILIES else 0
        candidates = (-offset, spare // 2 - offset, spare - offset, usual)
        return next((by for by in candidates if by and moved_ram(setting, axis, by)), 0)

    return likely


def _addressed(setting: Setting) -> bool:
    return has_addresses(setting.passport)


def _offset(axis: int, name: str, unit: str) -> Fault:
    return Fault(
        f"{unit[:-1]}-offset", f"Glass begins at another {unit[:-1]}", "panel",
        f"The picture is shifted by some {unit}, with a strip of noise at one edge.",
        f"The controller has more {unit} of RAM than the glass; where the glass begins differs from module to module.",
        f"Send the {name} and read the first number.",
        "Set the offset in the passport; windows and set-up follow.",
        _move(axis, 1), _move(axis, -1), _addressed, _likely_move(axis), unit,
    )  # fmt: skip


def _quarter(slug: str, name: str, degrees: int) -> Fault:
    return Fault(
        slug, name, "panel", "The picture lies on its side.", "The panel scans upright, or the module is mounted otherwise.",
        LETTER, TURN_MEND, _turned(degrees), _turned(-degrees),
    )  # fmt: skip


FAULTS: tuple[Fault, ...] = (
    fault(
        "mirror-x", "Mirrored left to right", "panel", "Letters read as in a mirror.", _mirror_across,
        why="Columns are counted from the other side, or the glass is seen from behind.", make_sure=LETTER, mend=TURN_MEND,
    ),
    fault(
        "mirror-y", "Mirrored top to bottom", "panel", "The picture stands on its head, and mirrored.", _mirror_down,
        why="Rows are counted from the other end.", make_sure=LETTER, mend=TURN_MEND,
    ),
    fault(
        "half-turn", "Turned by half", "panel", "The picture stands on its head.",
        lambda s: replace(s, turn=s.turn.turned(180)),
        why="The module is mounted with its connector on the other side.", make_sure=LETTER, mend=TURN_MEND,
    ),
    _quarter("turned-right", "Turned a quarter to the right", 90),
    _quarter("turned-left", "Turned a quarter to the left", 270),
    _offset(0, "column ruler", "columns"),
    _offset(1, "row ruler", "rows"),
    fault(
        "channels", "Red and blue exchanged", "panel", "Faces are blue and skies orange; greens and greys are right.",
        _exchange_channels, why="The controller is told the order of channels, and the glass may be wired the other way.",
        make_sure="Send the test card Colours: names and colours must agree.",
        mend="Tell the controller the other order in its set-up.", applies=has_bgr_setting,
    ),
    fault(
        "inversion", "Glass inverts", "panel", "The picture is its own negative, and black is white.", _invert,
        why="Some glass shows the opposite of what is sent until the controller's inversion is switched.",
        make_sure="Send the test card Ramps or Frame: its background must be what the card shows.",
        mend="Switch the inversion in the set-up.", applies=_can_invert,
    ),
    fault(
        "row-pins", "Rows wired otherwise", "panel",
        "Rows of the upper and lower half lie between each other; on low glass every other row stays dark.",
        _exchange_row_pins, why="Rows are wired to the drivers alternating or one after the other, and the set-up says which.",
        make_sure="Send the test card Squares: the largest squares must be square.",
        mend="Set the other arrangement of COM pins.", applies=_has_row_pins,
    ),
)  # fmt: skip
