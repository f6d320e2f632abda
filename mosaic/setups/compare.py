"""Two sequences side by side, command by command, and taking single commands from one into a passport."""

import re
from dataclasses import dataclass, replace

from mosaic.conversion.program import Setting
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.narrowing import needed
from mosaic.panels.geometry import Orientation
from mosaic.panels.passport import ROTATIONS
from mosaic.setups.read import Sequence
from mosaic.virtual.panel import FAMILIES
from mosaic.virtual.vocabulary import MARKED, Spoken, Topic

OPPOSITES: tuple[tuple[int, ...], ...] = (
    (0xA0, 0xA1),
    (0xC0, 0xC8),
    (0xA6, 0xA7),
    (0xA4, 0xA5),
    (0xAE, 0xAF),
    (0x20, 0x21),
    (0x28, 0x29),
    (0x10, 0x11),
)
"""Commands without operands of which only the last one counts."""
BGR = 0x08


@dataclass(frozen=True)
class Pair:
    """A command in both sequences, or in one of them."""

    key: str
    topic: Topic | None
    here: Spoken | None
    there: Spoken | None

    @property
    def differs(self) -> bool:
        return self.here is None or self.there is None or self.here.hex != self.there.hex

    @property
    def is_marked(self) -> bool:
        """A difference that changes where a picture lands or how it looks."""
        return self.differs and self.topic in MARKED


def _key(family: str, said: Spoken) -> str:
    """What a command sets: its code, or the group of opposites it belongs to."""
    if not said.operands and not (family == "page-oled" and said.code in (0x20, 0x21)):
        for group in OPPOSITES:
            if said.code in group:
                return "/".join(f"{code:02X}" for code in group)
        if said.topic == "offset" and family in ("page-oled", "page-only-oled") and 0x40 <= said.code < 0x80:
            return "40"
    return f"{said.code:02X}"


def compared(here: Sequence, there: Sequence, family: str) -> list[Pair]:
    """All commands of both, in the order of the first, then those that only the second has; the last of each counts."""
    sides: list[dict[str, Spoken]] = []
    for sequence in (here, there):
        held: dict[str, Spoken] = {}
        for said in sequence.commands:
            if said.topic in ("pixels", "window", "update"):
                continue
            held[_key(family, said)] = said
        sides.append(held)
    keys = [*sides[0], *(key for key in sides[1] if key not in sides[0])]
    pairs = []
    for key in keys:
        one, other = sides[0].get(key), sides[1].get(key)
        either = one or other
        pairs.append(Pair(key, either.topic if either else None, one, other))
    return pairs


def taken_over(setting: Setting, pair: Pair) -> Setting:
    """The setting with one command as the other sequence has it.

    Raises
    ------
    BadValueError
        The command cannot stand in this passport.
    """
    passport = setting.passport
    family = passport.controller.family
    if pair.there is None:
        text = _without(passport.sequences.setup, pair, family)
    elif family == "window-tft" and pair.key == "36" and passport.controller.turned_by == "controller":
        return _turned_as(setting, pair.there.operands[0])
    elif pair.here is None:
        text = _with_line(passport.sequences.setup, pair.there, family)
    else:
        text = _replaced(passport.sequences.setup, pair, family)
    try:
        return replace(setting, passport=replace(passport, sequences=replace(passport.sequences, setup=text)))
    except BadDescriptionError as error:
        raise BadValueError(f"{pair.there.hex if pair.there else pair.key} cannot stand in this set-up: {error}") from error


def _turned_as(setting: Setting, code: int) -> Setting:
    """How the controller is told to turn is how the build lies; the order of channels is the glass's."""
    passport, controller = setting.passport, setting.passport.controller
    for mirrored, codes in ((False, controller.turn_codes), (True, controller.mirror_codes)):
        for rotation, own in zip(ROTATIONS, codes, strict=True):
            if own & ~BGR == code & ~BGR:
                if own & BGR != code & BGR:
                    changed = [tuple(value ^ BGR for value in some) for some in (controller.turn_codes, controller.mirror_codes)]
                    controller = replace(
                        controller, turn_codes=changed[0], mirror_codes=changed[1], bgr_glass=not controller.bgr_glass
                    )
                return replace(setting, passport=replace(passport, controller=controller), turn=Orientation(rotation, mirrored))
    raise BadValueError(f"memory access {code:02X} is none of this panel's eight orientations")


def _line_of(said: Spoken, family: str) -> str:
    """The command in the notation of passports."""
    operands = " ".join(f"{byte:02X}" for byte in said.operands)
    code = f"02 00 {said.code:02X} 00" if family == "quad-window" else f"{said.code:02X}"
    middle = "" if not operands else f" {operands}" if FAMILIES[family][1].OPERANDS_ARE_COMMANDS else f" d {operands}"
    return f"c {code}{middle}"


def _pattern(said: Spoken, family: str) -> re.Pattern[str]:
    code = f"02 00 {said.code:02X} 00" if family == "quad-window" else f"{said.code:02X}"
    return re.compile(rf"^[ \t]*c {code}(?=\s|$)[^#\n]*", re.M)


def _replaced(text: str, pair: Pair, family: str) -> str:
    here, there = needed(pair.here, "the passport's own step"), needed(pair.there, "the step to take over")
    line = _line_of(there, family)
    changed, count = _pattern(here, family).subn(f"{line}  ", text, count=1)
    if not count:
        raise BadValueError(f"{here.hex} does not stand in the passport's set-up as a line of its own")
    # What was said in words behind it was said of the old value.
    return re.sub(rf"^({re.escape(line)})  .*$", rf"\1  # {there.words}", changed, count=1, flags=re.M)


def _without(text: str, pair: Pair, family: str) -> str:
    here = needed(pair.here, "the passport's own step")
    changed, count = re.subn(_pattern(here, family).pattern + r".*\n?", "", text, count=1, flags=re.M)
    if not count:
        raise BadValueError(f"{here.hex} does not stand in the passport's set-up as a line of its own")
    return changed


def _with_line(text: str, said: Spoken, family: str) -> str:
    """A line more, before the display is switched on."""
    line = f"{_line_of(said, family)}  # {said.words}\n"
    on = re.search(r"^[ \t]*c (?:AF|29|02 00 29 00|04)(?=\s|$).*$", text, re.M)
    return text[: on.start()] + line + text[on.start() :] if on else text.rstrip("\n") + "\n" + line
