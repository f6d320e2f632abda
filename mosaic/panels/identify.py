"""Which panel is it? Passports ranked by what can be seen or read of an unknown one, with reasons.

Each rule weighs one clue against one passport and says in words what speaks for or against.
Passports of one way of being driven make a family; a family stands as high as its best member.
"""

from collections.abc import Callable
from dataclasses import dataclass

from mosaic.panels.evidence import Evidence, color_kind
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import parse
from mosaic.panels.supply import LINK_NAMES
from mosaic.pixels.formats import DirectFormat


@dataclass(frozen=True)
class Reason:
    """What one clue says of one panel: points for it, or against it where they are below 0."""

    points: float
    words: str


@dataclass(frozen=True)
class Standing:
    """A passport with everything that speaks for and against it."""

    passport: Passport
    reasons: tuple[Reason, ...]

    @property
    def points(self) -> float:
        return sum(reason.points for reason in self.reasons)

    @property
    def pros(self) -> tuple[Reason, ...]:
        return tuple(r for r in self.reasons if r.points > 0)

    @property
    def cons(self) -> tuple[Reason, ...]:
        return tuple(r for r in self.reasons if r.points < 0)


@dataclass(frozen=True)
class Family:
    """Passports that are driven in one way: a controller, its commands, its RAM."""

    key: tuple[object, ...]
    name: str
    standings: tuple[Standing, ...]

    @property
    def best(self) -> Standing:
        return self.standings[0]


FAMILY_NAMES = {
    "page-oled": "page-column OLED controller with windows",
    "page-only-oled": "page-column OLED controller without windows",
    "grey-oled": "grey OLED controller, columns in fours",
    "pair-grey-oled": "grey OLED controller, columns in pairs",
    "byte-window-oled": "colour OLED controller with one-byte windows",
    "window-tft": "window TFT controller",
    "quad-window": "AMOLED controller behind quad SPI headers",
    "scanned-rgb": "RGB glass without memory",
    "drawing-tft": "controller that draws by itself",
    "serial-canvas": "serial panel with its own computer",
    "byte-window-epaper": "e-paper controller with windows of 8 pixels",
    "wide-window-epaper": "e-paper controller with two-byte windows",
    "frame-epaper": "e-paper controller for whole frames",
}


def family_key(passport: Passport) -> tuple[object, ...]:
    """What tells one way of driving from another: controller, how windows are set, size of the RAM, planes."""
    sequences = passport.sequences
    own_ram = (passport.ram.width_px, passport.ram.height_px) if passport.technology != "epaper" else ()
    return (passport.controller.family, sequences.per, len(sequences.write), passport.format.bits, own_ram)


def family_name(passport: Passport) -> str:
    """The family in words."""
    name = FAMILY_NAMES.get(passport.controller.family, passport.controller.family)
    if passport.technology == "epaper":
        planes = len(passport.sequences.write)
        bits = passport.format.bits
        return f"{name}, {planes} planes" if planes > 1 else f"{name}, {bits} bit{'s' if bits > 1 else ''} a pixel"
    if passport.controller.family == "scanned-rgb":
        return f"{name}, {passport.ram.width_px} × {passport.ram.height_px}"
    return f"{name}, {passport.ram.width_px} × {passport.ram.height_px} RAM"


def _technology(e: Evidence, p: Passport) -> Reason | None:
    if not e.technology:
        return None
    if e.technology == p.technology:
        return Reason(4, f"is {_TECHNOLOGY[p.technology]}")
    return Reason(-8, f"is {_TECHNOLOGY[p.technology]}, not {_TECHNOLOGY[e.technology]}")


_TECHNOLOGY = {"oled": "OLED", "tft": "TFT", "epaper": "e-paper"}


def _resolution(e: Evidence, p: Passport) -> Reason | None:
    if not (e.width_px and e.height_px):
        return None
    given, own = {e.width_px, e.height_px}, (p.glass.width_px, p.glass.height_px)
    if sorted((e.width_px, e.height_px)) == sorted(own):
        return Reason(6, f"has {e.width_px} × {e.height_px} pixels")
    near = "only one side agrees" if given & set(own) else "neither side agrees"
    return Reason(-6 if given & set(own) else -9, f"has {own[0]} × {own[1]} pixels: {near}")


def _colors(e: Evidence, p: Passport) -> Reason | None:
    if not e.colors:
        return None
    own = color_kind(p)
    if own == e.colors:
        return Reason(4, f"shows {p.colors_in_words}")
    # Sellers call a two-zone panel by one of its colours, and four greys black and white.
    related = {e.colors, own} in ({"one", "two zones"}, {"one", "greys"})
    return Reason(-2 if related else -6, f"shows {p.colors_in_words}")


def _diagonal(e: Evidence, p: Passport) -> Reason | None:
    if not e.diagonal_inch:
        return None
    own = p.glass.diagonal_inch
    off = abs(own - e.diagonal_inch) / e.diagonal_inch
    words = f"measures {own:.2f} inch across"
    return Reason(3 if off < 0.035 else 1.5 if off < 0.08 else -3 if off < 0.2 else -5, words)


def _shape(e: Evidence, p: Passport) -> Reason | None:
    if not e.shape:
        return Reason(-2, f"is {p.glass.shape}, which a seller would say") if p.glass.shape == "round" else None
    if e.shape == p.glass.shape:
        return Reason(3, f"is {p.glass.shape}")
    return Reason(-4, f"is {'rectangular' if p.glass.shape == 'rect' else p.glass.shape}")


def _links(e: Evidence, p: Passport) -> Reason | None:
    if not e.links:
        return None
    own = {"spi" if kind in ("spi3", "spi-flagged") else kind for kind in (o.kind for o in p.links)}
    lacking = [kind for kind in e.links if kind not in own]
    if not lacking:
        return Reason(2, f"speaks {' and '.join(LINK_NAMES[kind] for kind in e.links)}")
    return Reason(
        -1 if len(lacking) < len(e.links) else -4, f"does not speak {' or '.join(LINK_NAMES[kind] for kind in lacking)}"
    )


def _yes_no(name: str, is_so: Callable[[Passport], bool], yes: str, no: str) -> Callable[[Evidence, Passport], Reason | None]:
    """A rule for a clue that is so or is not; unsaid, it counts a little against what a seller would boast of."""

    def rule(e: Evidence, p: Passport) -> Reason | None:
        said, own = getattr(e, name), is_so(p)
        if said is None:
            return Reason(-1.5, f"{yes}, which nothing says") if own else None
        if said == own:
            return Reason(3, yes) if own else Reason(0.5, no)
        return Reason(-4, yes if own else no)

    return rule


def _bits(e: Evidence, p: Passport) -> Reason | None:
    if not e.bits:
        return None
    if e.bits == p.format.bits:
        return Reason(1.5, f"takes {e.bits} bits a pixel")
    # Sellers print the glass's depth, not that of the link: 16 and 18 bits are often exchanged.
    both_deep = isinstance(p.format, DirectFormat) and {e.bits, p.format.bits} == {16, 18}
    return Reason(-0.5 if both_deep else -2, f"takes {p.format.bits} bits a pixel")


def _ram(e: Evidence, p: Passport) -> Reason | None:
    if not e.ram_width:
        return None
    own = (p.ram.width_px, p.ram.height_px)
    same = e.ram_width in own if not e.ram_height else sorted((e.ram_width, e.ram_height)) == sorted(own)
    return Reason(5 if same else -4, f"has a RAM of {own[0]} × {own[1]}")


# What a label printed beside a pin tells of its function.
FUNCTIONS_OF_LABEL = {
    "BUSY": "busy", "BL": "backlight", "BLK": "backlight", "LED": "backlight", "TE": "sync", "HSYNC": "sync", "VSYNC": "sync",
    "DE": "sync", "PCLK": "sync", "T_IRQ": "touch", "T_CS": "touch", "T_CLK": "touch", "TX": "transmit", "RX": "receive",
    "VCOM": "rail", "PREVGH": "rail", "GDR": "rail", "RESE": "rail", "VCOMH": "rail",
    "BS0": "strap", "BS1": "strap", "BS2": "strap",
    "IM0": "strap", "IM1": "strap", "IM2": "strap",
}  # fmt: skip


def _labels(e: Evidence, p: Passport) -> Reason | None:
    if not e.labels:
        return None
    own = {pin.label.upper().rstrip("#") for pin in p.module.pins}
    functions = {pin.function for pin in p.module.pins}
    strange = [x for x in e.labels if x in FUNCTIONS_OF_LABEL and FUNCTIONS_OF_LABEL[x] not in functions]
    if strange:
        return Reason(-2.0 * len(strange), f"has no pin for {', '.join(strange)}")
    same = [x for x in e.labels if x in own]
    return Reason(3 * len(same) / len(e.labels), f"prints {', '.join(same)} beside its pins") if same else None


def commands_of(passport: Passport) -> frozenset[int]:
    """First bytes of all commands in a passport's sequences, without those that hold a value."""
    sequences = passport.sequences
    texts = [sequences.setup, sequences.window, *sequences.write, sequences.show]
    steps = [step for text in texts for step in parse(text) if step.kind == "command"]
    return frozenset(int(step.tokens[0], 16) for step in steps if "{" not in step.tokens[0])


def _commands(e: Evidence, p: Passport) -> Reason | None:
    if not e.commands:
        return None
    own = commands_of(p)
    known = [f"{c:02X}" for c in e.commands if c in own]
    share = len(known) / len(e.commands)
    if share >= 0.5:
        return Reason(6 * share, f"is sent {', '.join(known)}")
    return Reason(-4 * (1 - share), f"is not sent {', '.join(f'{c:02X}' for c in e.commands if c not in own)}")


def _has_touch(p: Passport) -> bool:
    return any(pin.function == "touch" for pin in p.module.pins)


RULES: tuple[Callable[[Evidence, Passport], Reason | None], ...] = (
    _technology,
    _resolution,
    _colors,
    _diagonal,
    _shape,
    _links,
    _yes_no("transparent", lambda p: p.glass.transparent, "is transparent", "is not transparent"),
    _yes_no("bare", lambda p: p.module.bare, "is bare glass", "is a module"),
    _yes_no("draws_itself", lambda p: bool(p.drawing), "draws by itself", "does not draw by itself"),
    _yes_no("touch", _has_touch, "has touch pins", "has no touch pins"),
    _bits,
    _ram,
    _labels,
    _commands,
)


def weigh(evidence: Evidence, passport: Passport) -> Standing:
    """Everything the clues say of one passport."""
    return Standing(passport, tuple(reason for rule in RULES if (reason := rule(evidence, passport)) is not None))


def runner_up(families: list[Family]) -> Standing:
    """The panel next to the likeliest: of the same family or of another; at equal points of another."""
    first, other = families[0], families[1].best
    same = first.standings[1] if len(first.standings) > 1 else other
    return same if same.points > other.points else other


def rank(evidence: Evidence, passports: list[Passport]) -> list[Family]:
    """Families from the likeliest down; in a family passports from the likeliest down. Equals keep their order."""
    families: dict[tuple[object, ...], list[Standing]] = {}
    for passport in passports:
        families.setdefault(family_key(passport), []).append(weigh(evidence, passport))
    ranked = [
        Family(key, family_name(standings[0].passport), tuple(sorted(standings, key=lambda s: -s.points)))
        for key, standings in families.items()
    ]
    return sorted(ranked, key=lambda family: -family.best.points)
