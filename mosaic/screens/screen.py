"""A screen as it is described: elements in drawing order, placed by constraints, over a ground."""

from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError
from mosaic.values.maps import Map
from mosaic.values.states import Moment, Never
from mosaic.values.value import Value, ValueId

MOST_ELEMENTS, MOST_TEXT, MOST_GUIDES, MOST_POINTS, MOST_PARTS = 300, 2000, 40, 32, 40
MOST_VALUES, MOST_FOLLOWS, MOST_PAST = 60, 12, 512
ElementId = Annotated[str, Meta(pattern="^[a-z][a-z0-9]{0,11}$", description="a short name such as e4")]
Ref = Annotated[str, Meta(pattern="^([a-z]+-[0-9]{1,18})?$", description="the reference of a document such as lettering-4")]
Target = Annotated[str, Meta(pattern="^[a-z][a-z0-9]{0,11}$", description='"glass", "safe", a guide or an element, such as e4')]
ColorName = Annotated[
    str, Meta(max_length=40, description='"ink", "ground", a colour of the panel by its name, one such as "#a02c26", or nothing')
]  # fmt: skip
Pixels = Annotated[int, Meta(ge=0, le=4096)]
Offset = Annotated[int, Meta(ge=-4096, le=4096)]
Degrees = Annotated[int, Meta(ge=-3600, le=3600)]
RESERVED = {"glass", "safe", "ground", *(f"zone{number}" for number in range(1, 10))}
"""Names that no guide and no element can have."""
Reading = Annotated[int, Meta(ge=-1_000_000, le=1_000_000)]
Words = Annotated[str, Meta(max_length=60)]
TileRow = Annotated[str, Meta(pattern="^[#.]{1,8}$", description="1 to 8 of # and .")]
Tile = Annotated[tuple[TileRow, ...], Meta(max_length=8)]
Line = Literal["start", "middle", "end", "base"]
"""Of a box: its left or upper edge, its middle, its right or lower edge; of texts also the line that letters stand on."""
KindName = Literal[
    "text", "value", "block", "picture", "cell", "turned", "line", "polyline", "rectangle", "rounded", "circle", "ellipse",
    "triangle", "polygon", "arc", "bar", "gauge", "needle", "list", "switch", "button", "pattern", "sparkline", "plot",
    "group", "row", "column", "part",
]  # fmt: skip
Followed = Literal[
    "x", "y", "width", "height", "color", "second", "shown", "value", "number", "turn", "start", "span", "radius", "thickness",
]  # fmt: skip
"""Fields of an element that may follow a value."""
Overflow = Literal["reach", "dashes", "clip", "largest", "scroll"]


@dataclass(frozen=True)
class Anchor:
    """One line of an element's box lies so many pixels behind a line of something else, to the right or downwards."""

    at: Line = "start"
    to: Target = "glass"
    of: Line = "start"
    plus: Offset = 0


@dataclass(frozen=True)
class Size:
    """How wide or high an element is: as it is by itself, in pixels, as something else is, or until a line of that."""

    by: Literal["own", "pixels", "as", "until"] = "own"
    pixels: Pixels = 0
    to: Target = "glass"
    of: Line = "end"
    plus: Offset = 0


@dataclass(frozen=True)
class Guide:
    """A line over the whole glass that elements stand on: upright at a column, or level at a row."""

    id: ElementId
    name: Words = ""
    upright: bool = True
    of: Literal["start", "middle", "end"] = "start"
    plus: Offset = 0


@dataclass(frozen=True)
class Follow:
    """A number or colour of an element follows a value through a map; where the value is absent the element's own stands."""

    what: Followed
    value: ValueId
    map: Map = field(default=Map())

    def __post_init__(self) -> None:
        is_color = self.what in ("color", "second")
        if self.map.by == "bands":
            return
        if is_color != bool(self.map.colors) or (is_color and self.map.by not in ("steps", "ramp")):
            accepted = "steps or a ramp of colours" if is_color else "the value itself, a line, a table or steps of numbers"
            raise BadDescriptionError(f"{self.what} follows a value by {accepted}", path="$.map")
        if not is_color and self.map.by == "ramp":
            raise BadDescriptionError("a ramp is one of colours", path="$.map.by")


@dataclass(frozen=True)
class Element:
    """One thing on a screen. What of its fields its kind uses, `mosaic.screens.kinds` says.

    Attributes
    ----------
    id : by which others refer to it, and which never changes. name : what it is called in lists and in code.
    x, y, width, height : where it stands. style : of the design, for what is left open here.
    color, second : its own colour, and the one beneath or beside it; "" is the style's, or none.
    source : document whose cells or pixels it shows. cell : by name. number : by number, from 0.
    points : corners, from the upper left one of its box. tile : rows of # and .
    low, high, value : of bars, gauges and plots; raw where they follow a value. of : the value that is shown or plotted.
    shape : how it is written, as behind the colon in texts. count : readings of a plot.
    overflow : what a text does that is wider than its box. follows : what follows values.
    members : of groups, rows and columns. gap : -1 spreads them evenly.
    """

    id: ElementId
    kind: KindName
    name: Words = ""
    x: Anchor = Anchor()
    y: Anchor = Anchor()
    width: Size = Size()
    height: Size = Size()
    style: Annotated[str, Meta(max_length=12)] = ""
    color: ColorName = ""
    second: ColorName = ""
    text: Annotated[str, Meta(max_length=MOST_TEXT)] = ""
    lettering: Ref = ""
    align: Literal["start", "middle", "end"] = "start"
    source: Ref = ""
    cell: Words = ""
    number: Annotated[int, Meta(ge=0, le=9999)] = 0
    opaque: bool = True
    turn: Degrees = 0
    points: Annotated[tuple[tuple[Offset, Offset], ...], Meta(max_length=MOST_POINTS)] = ()
    filled: bool = True
    rising: bool = False
    thickness: Annotated[int, Meta(ge=1, le=256)] = 1
    radius: Pixels = 6
    start: Degrees = 225
    span: Degrees = 270
    low: Reading = 0
    high: Reading = 100
    value: Reading = 60
    ticks: Annotated[int, Meta(ge=0, le=60)] = 0
    labels: bool = False
    tile: Tile = ("#.", ".#")
    gap: Annotated[int, Meta(ge=-1, le=4096)] = 4
    members: Annotated[tuple[ElementId, ...], Meta(max_length=MOST_ELEMENTS)] = ()
    part: Annotated[str, Meta(max_length=12)] = ""
    shown: bool = True
    of: Annotated[str, Meta(pattern="^([a-z][a-z0-9]{0,11})?$", description="the id of a value, or nothing")] = ""
    shape: Annotated[str, Meta(max_length=24)] = ""
    count: Annotated[int, Meta(ge=2, le=MOST_PAST)] = 60
    overflow: Overflow = "reach"
    follows: Annotated[tuple[Follow, ...], Meta(max_length=MOST_FOLLOWS)] = ()

    def __post_init__(self) -> None:
        named = [follow.what for follow in self.follows]
        if len(set(named)) < len(named):
            raise BadDescriptionError("one number follows one value; one is named twice", path="$.follows")
        if self.high == self.low:
            raise BadDescriptionError(f"lowest and highest are both {self.low}; they have to differ", path="$.high")
        if len({len(row) for row in self.tile}) != 1:
            raise BadDescriptionError("the rows of a tile are equally long, 1 to 8 of # and .", path="$.tile")


@dataclass(frozen=True)
class Ground:
    """What lies under everything: one colour, a pattern, a picture of the panel's own size, or a gradient.

    `mask` mixes neighbouring colours of a gradient by a pattern, so that the steps are not seen.
    """

    by: Literal["color", "pattern", "picture", "gradient"] = "color"
    color: ColorName = "ground"
    second: ColorName = "ink"
    tile: Tile = ("#.", ".#")
    source: Ref = ""
    upright: bool = True
    mask: bool = False


def _checked(elements: tuple[Element, ...], what: str) -> None:
    ids = [element.id for element in elements]
    twice = next((one for one in ids if ids.count(one) > 1), None) if len(set(ids)) < len(ids) else None
    if twice:
        raise BadDescriptionError(f"two {what} are called {twice}; each has an id of its own", path="$.elements")
    known, taken = set(ids), set()
    for number, element in enumerate(elements):
        for member in element.members:
            if member not in known or member == element.id:
                raise BadDescriptionError(f"{member} is no other element", path=f"$.elements[{number}].members")
            if member in taken:
                raise BadDescriptionError(f"{member} stands in two groups", path=f"$.elements[{number}].members")
            taken.add(member)


@dataclass(frozen=True)
class Screen:
    """One screen: what lies over what, from the first to the last."""

    elements: Annotated[tuple[Element, ...], Meta(max_length=MOST_ELEMENTS)] = ()
    guides: Annotated[tuple[Guide, ...], Meta(max_length=MOST_GUIDES)] = ()
    ground: Ground = Ground()
    form: Literal[1] = 1

    def __post_init__(self) -> None:
        _checked(self.elements, "elements")
        ids = [guide.id for guide in self.guides] + [element.id for element in self.elements]
        if len(set(ids)) < len(ids) or RESERVED & set(ids):
            raise BadDescriptionError(
                "guides and elements have ids of their own, none of them glass, safe or ground", path="$.guides"
            )

    def element(self, ident: str) -> Element | None:
        return next((element for element in self.elements if element.id == ident), None)


@dataclass(frozen=True)
class Style:
    """A look that elements share: changed here, it changes everywhere."""

    id: ElementId
    name: Words = ""
    color: ColorName = "ink"
    second: ColorName = ""
    lettering: Ref = ""


@dataclass(frozen=True)
class Part:
    """Elements that stand on several screens and change on all of them at once; "glass" means the part's own box."""

    id: ElementId
    name: Words = ""
    width: Annotated[int, Meta(ge=1, le=4096)] = 64
    height: Annotated[int, Meta(ge=1, le=4096)] = 16
    elements: Annotated[tuple[Element, ...], Meta(max_length=MOST_ELEMENTS)] = ()

    def __post_init__(self) -> None:
        _checked(self.elements, "elements of a part")
        inner = next((element for element in self.elements if element.kind == "part"), None)
        if inner:
            raise BadDescriptionError(f"{inner.id} is a shared part itself; a part holds none", path="$.elements")


@dataclass(frozen=True)
class Design:
    """What the screens of a build share: looks, parts, values, and the states of these that matter."""

    styles: Annotated[tuple[Style, ...], Meta(max_length=MOST_PARTS)] = ()
    parts: Annotated[tuple[Part, ...], Meta(max_length=MOST_PARTS)] = ()
    start: Ref = ""
    values: Annotated[tuple[Value, ...], Meta(max_length=MOST_VALUES)] = ()
    moments: Annotated[tuple[Moment, ...], Meta(max_length=MOST_PARTS)] = ()
    never: Annotated[tuple[Never, ...], Meta(max_length=MOST_PARTS)] = ()
    form: Literal[1] = 1

    def __post_init__(self) -> None:
        ids = [one.id for group in (self.styles, self.parts, self.values, self.moments) for one in group]
        if len(set(ids)) < len(ids):
            raise BadDescriptionError("styles, parts, values and states have ids of their own", path="$.styles")
        names = [value.name.strip().lower() for value in self.values]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise BadDescriptionError(f"two values are called {twice}; each has a name of its own", path="$.values")

    def value(self, ident: str) -> Value | None:
        return next((value for value in self.values if value.id == ident), None)

    def style(self, ident: str) -> Style | None:
        return next((style for style in self.styles if style.id == ident), None)

    def part(self, ident: str) -> Part | None:
        return next((part for part in self.parts if part.id == ident), None)


def new_id(taken: Any, letter: str = "e") -> str:
    """The first id that is not taken: "e1", "e2" and so on."""
    number = 1
    while f"{letter}{number}" in taken:
        number += 1
    return f"{letter}{number}"


def refs_in(elements: tuple[Element, ...], ground: Ground | None = None) -> set[str]:
    """References to documents in elements and a ground."""
    found = {ref for element in elements for ref in (element.lettering, element.source)}
    return (found | ({ground.source} if ground else set())) - {""}
