"""From drawing calls of a program to a screen: what each name means, and the elements that draw the same pixels."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from mosaic.errors import BadValueError
from mosaic.panels.passport import Passport
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.screen import Anchor, Element, Ground, Screen, Size
from mosaic.screens.source_calls import Argument, FoundCall, SourceCalls, Unread

ORDERS: dict[str, dict[str, tuple[str, ...]]] = {
    "line": {
        "from x, y to x, y": ("x", "y", "x1", "y1"), "x, y, length across": ("x", "y", "w"), "x, y, length down": ("x", "y", "h"),
    },
    "rectangle": {"x, y, width, height": ("x", "y", "w", "h"), "x, y, x, y of the opposite corner": ("x", "y", "x1", "y1")},
    "rounded": {
        "x, y, width, height, radius": ("x", "y", "w", "h", "r"),
        "x, y, x, y of the opposite corner, radius": ("x", "y", "x1", "y1", "r"),
    },
    "circle": {"x, y of its middle, radius": ("cx", "cy", "r"), "x, y of its corner, width": ("x", "y", "w")},
    "ellipse": {
        "x, y, width, height": ("x", "y", "w", "h"), "x, y of its middle, both radii": ("cx", "cy", "rx", "ry"),
        "x, y, x, y of the opposite corner": ("x", "y", "x1", "y1"),
    },
    "polygon": {"x, y of each corner": ()},
    "pixel": {"x, y": ("x", "y")},
    "text": {"x, y and a text": ("x", "y"), "a text where the pen stands": ()},
    "picture": {"x, y, width, height": ("x", "y", "w", "h")},
    "pen": {"x, y": ("x", "y")},
    "line to": {"x, y": ("x", "y")},
    "colour": {"a colour": ()},
    "clear": {"a colour, or none": ()},
    "nothing": {"not drawn": ()},
}  # fmt: skip
"""What a name can mean, and the orders of its first numbers; a number behind them is a colour."""
FILLABLE = ("rectangle", "rounded", "circle", "ellipse", "polygon")
HINTS = (
    ("nothing", ("begin", "init", "show", "update", "flush", "refresh", "delay", "print_", "log", "open", "close")),
    ("clear", ("clear", "blank", "erase", "wipe")), ("line to", ("lineto", "line_to")),
    ("pen", ("moveto", "move_to", "cursor", "goto", "pen")),
    ("rounded", ("round",)), ("rectangle", ("rect", "box", "frame", "bar", "square")),
    ("circle", ("circle", "disc", "ring", "round")),
    ("ellipse", ("ellipse", "oval")), ("polygon", ("triangle", "polygon", "poly")), ("pixel", ("pixel", "dot", "point", "plot")),
    ("text", ("text", "print", "string", "label", "write")),
    ("picture", ("image", "picture", "bitmap", "icon", "sprite", "blit", "put")),
    ("colour", ("color", "colour", "ink")), ("line", ("line", "rule", "run")),
)  # fmt: skip
"""Plain words in names, and what they mean most often."""
NEEDED = {
    "line": 3, "rectangle": 4, "rounded": 5, "circle": 3, "ellipse": 4, "polygon": 6, "pixel": 2, "pen": 2, "line to": 2,
    "picture": 2,
}  # fmt: skip
"""Numbers without which a name does not mean this."""
ASKED_Y = (("base", "its base line"), ("start", "its upper edge"))


@dataclass(frozen=True)
class Meaning:
    """What a name of a call means: a kind and an order of `ORDERS`; filled or an outline; of texts, what y is."""

    kind: str = "nothing"
    order: str = ""
    filled: bool = True
    y_is: str = "base"

    def __post_init__(self) -> None:
        if self.kind not in ORDERS:
            raise BadValueError(f"a call cannot mean {self.kind[:24]!r}; {', '.join(ORDERS)} are accepted")

    @property
    def roles(self) -> tuple[str, ...]:
        orders = ORDERS[self.kind]
        return orders[self.order] if self.order in orders else next(iter(orders.values()))


def guessed(name: str, calls: Sequence[FoundCall]) -> Meaning:
    """What a name means most likely, from the words in it and from what it is given."""
    word = name.replace("->", ".").replace("::", ".").split(".")[-1].lower()
    first = calls[0]
    kind = next((kind for kind, hints in HINTS if any(hint in word for hint in hints)), "nothing")
    numbers = sum(argument.text is None for argument in first.arguments)
    if any(argument.text is not None for argument in first.arguments) and kind != "nothing":
        kind = "text"
    if kind == "text" and not any(argument.text is not None for argument in first.arguments):
        kind = "nothing"
    if numbers < NEEDED.get(kind, 0):
        kind = "nothing"
    told = any(a.keyword == "fill" and a.name != "None" for a in first.arguments)
    filled = told or any(hint in word for hint in ("fill", "solid", "disc", "bar"))
    orders = list(ORDERS[kind])
    order = orders[0]
    if kind == "line" and (word.startswith("h") or "horiz" in word) and numbers in (3, 4):
        order = orders[1]
    elif kind == "line" and (word.startswith("v") or "vert" in word) and numbers in (3, 4):
        order = orders[2]
    elif kind in ("rectangle", "ellipse") and _corners(calls):
        order = orders[-1]
    elif kind == "text" and numbers < 2:
        order = orders[1]
    return Meaning(kind, order, filled)


def _corners(calls: Sequence[FoundCall]) -> bool:
    """Whether third and fourth numbers look like a corner: given in brackets with the first two, never less than these."""
    given = [call.numbers[:4] for call in calls if len(call.numbers) >= 4]
    told = any(a.keyword for call in calls for a in call.arguments)
    return bool(given) and told and all(n[2] >= n[0] and n[3] >= n[1] for n in given)


@dataclass
class _Pen:
    x: int = 0
    y: int = 0
    color: str = ""


@dataclass
class FromCode:
    """A screen from calls, and what could not be read."""

    screen: Screen
    unread: list[Unread] = field(default_factory=list)
    pictures: dict[str, tuple[int, int]] = field(default_factory=dict)


def color_of(argument: Argument, passport: Passport) -> str:
    """The name of a colour: by its name on the panel, by a 16-bit or 24-bit value, 0 for the ground, else ink."""
    if argument.number is None:
        word = argument.name.split(".")[-1].lower().removeprefix("color_").removeprefix("colour_")
        names = {name.lower(): name for name in (passport.palette.names if passport.palette else ())}
        for candidate, name in names.items():
            if word == candidate or word.endswith(f"_{candidate}"):
                return name
        return {"black": "#000000", "white": "#ffffff", "ground": "ground", "background": "ground"}.get(word, "")
    value = argument.number
    if isinstance(passport.format, DirectFormat) and passport.format.bits == 16 and 0 <= value <= 0xFFFF:
        red, green, blue = value >> 11, value >> 5 & 63, value & 31
        return "#{:02x}{:02x}{:02x}".format(red * 255 // 31, green * 255 // 63, blue * 255 // 31)  # noqa: UP032
    if isinstance(passport.format, DirectFormat) and 0 <= value <= 0xFFFFFF:
        return f"#{value:06x}"
    if passport.palette is not None and len(passport.palette.names) > 2 and 0 <= value < len(passport.palette.names):
        return passport.palette.names[value]
    return "ground" if value == 0 else "ink"


def _at(x: int, y: int) -> dict[str, Any]:
    return {"x": Anchor(plus=x), "y": Anchor(plus=y)}


def _sized(w: int, h: int) -> dict[str, Any]:
    return {"width": Size("pixels", w), "height": Size("pixels", h)}


def _box(given: Mapping[str, int]) -> tuple[int, int, int, int]:
    """x, y, width, height of what was given in one way or another; corners the wrong way round are put right."""
    if "cx" in given:
        rx, ry = given.get("rx", given.get("r", 0)), given.get("ry", given.get("r", 0))
        return given["cx"] - rx, given["cy"] - ry, 2 * rx + 1, 2 * ry + 1
    if "x1" in given:
        x, y = min(given["x"], given["x1"]), min(given["y"], given["y1"])
        return x, y, abs(given["x1"] - given["x"]) + 1, abs(given["y1"] - given["y"]) + 1
    return given["x"], given["y"], given.get("w", 1), given.get("h", given.get("w", 1))


def _fields(call: FoundCall, meaning: Meaning, pen: _Pen, passport: Passport) -> tuple[str, dict[str, Any]] | None:
    """(kind of element, its fields) of a call; None where it draws nothing. Raises `BadValueError` in words."""
    roles, numbers = meaning.roles, call.numbers
    unknown = [argument.written for argument in call.arguments if argument.number is None and argument.text is None]
    if len(numbers) < len(roles) and unknown:
        raise BadValueError(f"not all of its numbers are known: {', '.join(unknown)[:40]}")
    if len(numbers) < len(roles):
        raise BadValueError(f"it has {len(numbers)} numbers; {len(roles)} are needed: {', '.join(roles)}")
    given = dict(zip(roles, numbers, strict=False))
    color = _color(call, meaning, passport) or pen.color
    kind = meaning.kind
    if kind == "pen":
        pen.x, pen.y = given["x"], given["y"]
        return None
    if kind == "colour":
        pen.color = next((color_of(one, passport) for one in call.arguments if one.number is not None or one.name), "")
        return None
    if kind == "line to":
        made = _line(pen.x, pen.y, given["x"], given["y"])
        pen.x, pen.y = given["x"], given["y"]
        return "line", {**made, "color": color}
    if kind == "line":
        x1, y1 = given.get("x1", given["x"] + given.get("w", 1) - 1), given.get("y1", given["y"] + given.get("h", 1) - 1)
        return "line", {**_line(given["x"], given["y"], x1, y1), "color": color}
    if kind == "text":
        words = "".join(argument.text or "" for argument in call.arguments)
        x, y = (given["x"], given["y"]) if given else (pen.x, pen.y)
        return "text", {
            "x": Anchor(plus=x), "y": Anchor("base" if meaning.y_is == "base" else "start", "glass", "start", y),
            "text": words.replace("{", "{{"), "color": color,
        }  # fmt: skip
    if kind == "polygon":
        points = list(zip(numbers[::2], numbers[1::2], strict=False))[: 32 if len(numbers) % 2 == 0 else len(numbers) // 2]
        left, top = min(x for x, _ in points), min(y for _, y in points)
        return "polygon", {
            **_at(left, top), "points": tuple((x - left, y - top) for x, y in points), "filled": meaning.filled, "color": color,
        }  # fmt: skip
    x, y, w, h = _box(given)
    if kind == "pixel":
        return "rectangle", {**_at(x, y), **_sized(1, 1), "color": color}
    if kind == "circle" and "r" in given:
        return "circle", {**_at(x, y), "radius": given["r"], "filled": meaning.filled, "color": color}
    fields: dict[str, Any] = {**_at(x, y), **_sized(max(0, w), max(0, h)), "filled": meaning.filled, "color": color}
    if kind == "rounded":
        fields["radius"] = max(0, given["r"])
    return kind, fields


def _line(x0: int, y0: int, x1: int, y1: int) -> dict[str, Any]:
    left, top = min(x0, x1), min(y0, y1)
    return {**_at(left, top), **_sized(abs(x1 - x0) + 1, abs(y1 - y0) + 1), "rising": (x1 - x0) * (y1 - y0) < 0}


def _color(call: FoundCall, meaning: Meaning, passport: Passport) -> str:
    """The colour that a call is given: by a keyword that says so, or the first number or name behind its places."""
    named = [
        a for a in call.arguments if a.keyword.lower() in ("color", "colour", "fill", "ink", "outline") and a.written != "None"
    ]
    if named:
        return color_of(named[0], passport)
    places = len(meaning.roles) if meaning.kind != "polygon" else len(call.numbers) // 2 * 2
    seen = 0
    for argument in call.arguments:
        if argument.number is not None:
            seen += 1
            if seen > places:
                return color_of(argument, passport)
        elif argument.name and argument.text is None:
            found = color_of(argument, passport)
            if found:
                return found
    return ""


def screen_from(found: SourceCalls, meanings: Mapping[str, Meaning], passport: Passport) -> FromCode:
    """The screen that calls draw, each name by its meaning; what cannot be read stands in `unread` by its line."""
    made = FromCode(Screen(), list(found.unread))
    elements: list[Element] = []
    pen, ground = _Pen(), Ground()
    for call in found.calls:
        meaning = meanings.get(call.name, Meaning())
        if meaning.kind == "nothing":
            continue
        written = f"{call.name}({', '.join(argument.written for argument in call.arguments)})"[:80]
        if meaning.kind == "clear":
            elements, color = [], next((color_of(a, passport) for a in call.arguments if a.number is not None or a.name), "")
            ground = Ground("color", color or "ground")
            continue
        try:
            fields = _picture(call, meaning, found, made) if meaning.kind == "picture" else _fields(call, meaning, pen, passport)
            if fields is None:
                continue
            kind, values = fields
            elements.append(Element(f"e{len(elements) + 1}", kind, name=values.pop("name", ""), **values))  # type: ignore[arg-type]
        except BadValueError as error:
            made.unread.append(Unread(call.line, written, str(error)))
    made.screen = replace(made.screen, elements=tuple(elements[:300]), ground=ground)
    if len(elements) > 300:
        made.unread.append(Unread(0, "", f"{len(elements):,} elements are too many for a screen; the first 300 were taken"))
    made.unread.sort(key=lambda one: one.line)
    return made


def _picture(call: FoundCall, meaning: Meaning, found: SourceCalls, made: FromCode) -> tuple[str, dict[str, Any]]:
    name = next((argument.name for argument in call.arguments if argument.name in found.arrays), "")
    numbers = call.numbers
    if not name or len(numbers) < 4:
        raise BadValueError("a picture is an array of bytes of this text, with x, y, width, height")
    x, y, w, h = numbers[:4]
    size = -(-w // 8) * h
    if w < 1 or h < 1 or size > len(found.arrays[name]):
        raise BadValueError(f"{name} has {len(found.arrays[name]):,} bytes; {w} x {h} pixels of 1 bit take {size:,}")
    made.pictures[name] = (w, h)
    return "picture", {**_at(x, y), "source": "", "cell": name, "name": name, "opaque": False}
