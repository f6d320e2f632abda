"""The sentence of an element: its blanks as fields of a form, and what was filled in as an element again."""

import re
from dataclasses import replace
from string import Formatter
from typing import Any

from django import forms

from mosaic.errors import BadValueError
from mosaic.screens.colors import names_of
from mosaic.screens.kinds import KINDS
from mosaic.screens.kit import Kit
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import MOST_PAST, Anchor, Element, Ground, Guide, Screen, Size
from mosaic.values.notation import check, renamed
from mosaic.values.value import Value
from workshop.look.fields import blank, select
from workshop.screens.follow_rows import FollowRow

ACROSS = [("start", "left edge"), ("middle", "middle"), ("end", "right edge")]
DOWN = [("start", "upper edge"), ("middle", "middle"), ("end", "lower edge"), ("base", "base line")]
SIZES = [("own", "as it is by itself"), ("pixels", "in pixels"), ("as", "as"), ("until", "up to")]
OVERFLOW = [
    ("reach", "reach out"), ("dashes", "show dashes"), ("clip", "cut it off"), ("largest", "show the largest that fits"),
    ("scroll", "let it run"),
]  # fmt: skip
ALIGN = [("start", "left"), ("middle", "centred"), ("end", "right")]
YES_NO = {
    "filled": [("1", "filled"), ("", "outline only")],
    "opaque": [("1", "with its background"), ("", "its ink only")],
    "rising": [("", "falling to the right"), ("1", "rising to the right")],
    "labels": [("", "without numbers"), ("1", "with numbers")],
}
NUMBERS = {
    "gap": (-1, 4096, "pixels between"),
    "number": (0, 9999, "number"),
    "turn": (-3600, 3600, "turn in degrees"),
    "thickness": (1, 256, "thickness in pixels"),
    "radius": (0, 4096, "radius in pixels"),
    "start": (-3600, 3600, "first direction in degrees"),
    "span": (-3600, 3600, "span in degrees"),
    "low": (-(10**6), 10**6, "lowest"),
    "high": (-(10**6), 10**6, "highest"),
    "value": (-(10**6), 10**6, "value that stands in"),
    "ticks": (0, 60, "ticks"),
    "count": (2, MOST_PAST, "readings"),
}
OWN_COLOR = "own"
SCALED = ("low", "high", "value")
"""Numbers that are written as the value writes them that they go with."""
COLORS = ("color", "second")
PAIR = re.compile(r"(-?\d{1,5})\s*[,;]\s*(-?\d{1,5})")


def whole(label: str, least: int, top: int) -> forms.IntegerField:
    widget = forms.NumberInput(attrs=blank(label, inputmode="numeric"))
    return forms.IntegerField(label=label, min_value=least, max_value=top, widget=widget)


def text(label: str, most: int, **more: Any) -> forms.CharField:
    widget = forms.TextInput(attrs=blank(label, autocomplete="off", spellcheck="false", **more))
    return forms.CharField(label=label, required=False, max_length=most, widget=widget, strip=False)


def points_in_words(points: tuple[tuple[int, int], ...]) -> str:
    return "  ".join(f"{x},{y}" for x, y in points)


def points_of(written: str) -> tuple[tuple[int, int], ...]:
    """Points as they are written, "0,12 20,0"; raises `BadValueError` where something else stands between them."""
    if PAIR.sub("", written).strip():
        raise BadValueError("points are written as x,y with a space between two of them: 0,12 20,0 40,8")
    return tuple((int(x), int(y)) for x, y in PAIR.findall(written))


class ElementForm(forms.Form):
    """An element's blanks: those of its kind, of its place and of its size. Made with the screen and what it was drawn with."""

    def __init__(self, data: Any, *, element: Element, screen: Screen, context: "Choices") -> None:
        super().__init__(data)
        self.element, self.screen, self.choices = element, screen, context
        self.scale = context.scale_of(element)
        for name in KINDS[element.kind].blanks:
            self.fields.update(self._fields_of(name))
        others = [(e.id, context.called(e)) for e in screen.elements if e.id != element.id]
        places = [("glass", "the glass"), ("safe", "the safe area"), *context.zones]
        for axis, upright, lines, words in (("x", True, ACROSS, "across"), ("y", False, DOWN, "down")):
            guides = [(g.id, f"the guide {g.name or g.id}") for g in screen.guides if g.upright == upright]
            targets = [*places, *guides, *others]
            self.fields[f"{axis}_at"] = select(f"its line {words}", lines)
            self.fields[f"{axis}_plus"] = whole(f"pixels {words}", -4096, 4096)
            self.fields[f"{axis}_of"] = select(f"line {words} of what it is placed by", lines)
            self.fields[f"{axis}_to"] = select(f"placed {words} by", targets)
            size = "width" if axis == "x" else "height"
            self.fields[f"{size}_by"] = select(f"{size} by", SIZES)
            self.fields[f"{size}_pixels"] = whole(f"{size} in pixels", 0, 4096)
            self.fields[f"{size}_to"] = select(f"{size} taken from", [*targets])
            self.fields[f"{size}_of"] = select(f"line that the {size} reaches to", lines)
            self.fields[f"{size}_plus"] = whole(f"pixels added to the {size}", -4096, 4096)
        self.follows = [FollowRow(self, number, follow) for number, follow in enumerate(element.follows)]
        self.fields["name"] = text("name", 60, placeholder="no name")
        self.fields["shown"] = forms.BooleanField(label="shown", required=False)
        if context.styles:
            self.fields["style"] = forms.ChoiceField(
                label="style",
                required=False,
                choices=[("", "no style"), *context.styles],
                widget=forms.Select(attrs=blank("style")),
            )
        if data is None:
            self.initial = self._initial()

    def _fields_of(self, name: str) -> dict[str, forms.Field]:
        e, c = self.element, self.choices
        if name in YES_NO:
            widget = forms.Select(attrs=blank(name))
            return {name: forms.ChoiceField(label=name, required=False, choices=YES_NO[name], widget=widget)}
        if name in SCALED and self.scale is not None:
            return {name: text(f"{NUMBERS[name][2]} of {self.scale.name}", 24, size=6)}
        if name in NUMBERS:
            least, top, label = NUMBERS[name]
            return {name: whole(label, least, top)}
        if name in COLORS:
            label = "colour" if name == "color" else "colour beneath"
            first = [("", "the style’s colour" if c.styles else "ink")] if name == "color" else [("", "what lies there")]
            widget = forms.Select(attrs=blank(label))
            swatch = forms.TextInput(attrs={"type": "color", "class": "fm-swatch", "aria-label": f"own {label}"})
            return {
                name: forms.ChoiceField(label=label, required=False, choices=[*first, *c.colors], widget=widget),
                f"{name}_own": forms.CharField(label=f"own {label}", required=False, max_length=7, widget=swatch),
            }
        if name == "text":
            if e.kind in ("block", "list"):
                area = forms.Textarea(attrs=blank("text", rows=3, spellcheck="false"))
                return {name: forms.CharField(label="text", required=False, max_length=2000, widget=area, strip=False)}
            return {name: text("text", 2000)}
        if name == "points":
            return {name: text("points", 600, size=18)}
        if name == "tile":
            return {name: text("tile", 80, size=10)}
        if name == "shape":
            return {name: text("how it is written", 24, size=6, placeholder="as it is")}
        if name == "members":
            return {name: text("what it holds", 4000, size=14)}
        options = {
            "lettering": c.letterings,
            "align": ALIGN,
            "of": [("", "no value yet"), *c.values],
            "overflow": OVERFLOW,
            "source": c.sources,
            "cell": c.cells_of(e.source),
            "part": c.parts,
        }[name]
        widget = forms.Select(attrs=blank(name))
        return {name: forms.ChoiceField(label=name, required=False, choices=options, widget=widget)}

    def _initial(self) -> dict[str, Any]:
        e = self.element
        found: dict[str, Any] = {name: getattr(e, name) for name in self.fields if hasattr(e, name)}
        for name in YES_NO:
            found[name] = "1" if getattr(e, name) else ""
        for name in COLORS:
            value = getattr(e, name)
            found[f"{name}_own"] = value if value.startswith("#") else "#808080"
            found[name] = OWN_COLOR if value.startswith("#") else value
        if self.scale is not None:
            found |= {name: self.scale.plain(getattr(e, name)) for name in SCALED}
        found["text"] = renamed(e.text, self.choices.names)
        for row in self.follows:
            found |= row.initial()
        found |= {"points": points_in_words(e.points), "tile": "/".join(e.tile), "members": " ".join(e.members)}
        for axis, anchor in (("x", e.x), ("y", e.y)):
            found |= {f"{axis}_at": anchor.at, f"{axis}_plus": anchor.plus, f"{axis}_of": anchor.of, f"{axis}_to": anchor.to}
        for name, size in (("width", e.width), ("height", e.height)):
            found |= {f"{name}_{part}": getattr(size, part) for part in ("by", "pixels", "to", "of", "plus")}
        return found

    def changes(self) -> dict[str, Any]:
        """Fields of the element as they were filled in; of a valid form. Raises `BadValueError` for points and the like."""
        v, found = self.cleaned_data, {}
        for name in KINDS[self.element.kind].blanks:
            found[name] = self._value(name, v)
        for axis in ("x", "y"):
            found[axis] = Anchor(v[f"{axis}_at"], v[f"{axis}_to"], v[f"{axis}_of"], v[f"{axis}_plus"])
        for name in ("width", "height"):
            found[name] = Size(*(v[f"{name}_{part}"] for part in ("by", "pixels", "to", "of", "plus")))
        found["follows"] = tuple(row.follow(v) for row in self.follows)
        return found | {"name": v["name"].strip(), "shown": v["shown"], "style": v.get("style", self.element.style)}

    def _value(self, name: str, v: dict[str, Any]) -> Any:
        value = v[name]
        if name in SCALED and self.scale is not None:
            raw = self.scale.raw_of(value)
            if not isinstance(raw, int):
                raise BadValueError(f"the {NUMBERS[name][2]} of {self.scale.name} is left out; a number is accepted")
            return raw
        if name in YES_NO:
            return value == "1"
        if name in COLORS:
            return v[f"{name}_own"] if value == OWN_COLOR else value
        if name == "points":
            return points_of(value)
        if name == "tile":
            return tuple(row for row in value.strip().split("/") if row)
        if name == "members":
            return tuple(value.replace(",", " ").split())
        if name != "text":
            return value.strip() if name == "shape" else value
        return self.choices.with_ids("\n".join(value.splitlines()))

    def applied(self) -> Screen:
        """The screen with the element as it was filled in; raises `MosaicError` where that cannot be."""
        fields = self.changes()
        elements = tuple(replace(e, **fields) if e.id == self.element.id else e for e in self.screen.elements)
        return replace(self.screen, elements=elements)

    def sentence(self) -> list[tuple[str, Any, Any]]:
        """The kind's sentence as (words, field, swatch): words before a blank, the blank or None, its colour of one's own."""
        found = []
        for words, name, _, _ in Formatter().parse(KINDS[self.element.kind].sentence):
            own = self[f"{name}_own"] if name in COLORS else None
            found.append((words, self[name] if name else None, own))
        return found


class Choices:
    """What the blanks of a screen's elements offer."""

    def __init__(
        self,
        rendered: Rendered | None,
        build_items: dict[str, list[Any]],
        design: Any,
        passport: Any,
        zones: int,
        kit: Kit | None = None,
    ) -> None:
        self.letterings = [("", "the first lettering"), *((i.ref, i.name) for i in build_items["lettering"])]
        self.sources = [("", "nothing yet"), *((i.ref, i.name) for i in build_items["cells"] + build_items["pixels"])]
        self.pictures = [("", "none yet"), *((i.ref, i.name) for i in build_items["pixels"])]
        self._cells = {ref: [cell.name for cell in cells] for ref, cells in (kit.cells if kit else {}).items()}
        self.parts = [("", "none yet"), *((part.id, part.name or part.id) for part in design.parts)]
        self.styles = [(style.id, style.name or style.id) for style in design.styles]
        self.kit = kit or Kit(passport, design=design)
        self.by_id: dict[str, Value] = {value.id: value for value in design.values}
        self.values = [(value.id, value.name) for value in design.values]
        self.names = {value.id: value.name for value in design.values}
        self.called = self.kit.called
        self.colors = [*((name, name) for name in names_of(passport)), (OWN_COLOR, "this colour:")]
        self.zones = [(f"zone{n}", f"zone {n}") for n in range(1, zones + 1)]

    def scale_of(self, element: Element) -> Value | None:
        """The value in whose terms an element's lowest and highest are."""
        if element.kind in ("sparkline", "plot"):
            return self.by_id.get(element.of)
        return self.by_id.get(next((follow.value for follow in element.follows if follow.what == "value"), ""))

    def with_ids(self, text: str) -> str:
        """A text with the ids of values in place of their names; raises `BadValueError` where one is not known."""
        by_name = {value.name: value for value in self.by_id.values()}
        check(text, by_name)
        return renamed(text, {value.name: value.id for value in self.by_id.values()})

    def cells_of(self, ref: str) -> list[tuple[str, str]]:
        """The names of a source's cells; the whole of it where it has none."""
        names = self._cells.get(ref)
        return [(name, name) for name in names] if names else [("", "the whole")]


class GroundForm(forms.Form):
    """What lies under everything."""

    ground_by = select(
        "background by", [("color", "one colour"), ("pattern", "a pattern"), ("picture", "a picture"), ("gradient", "a gradient")]
    )
    ground_tile = text("tile of the background", 80, size=10)
    ground_upright = forms.ChoiceField(
        label="way of the gradient",
        required=False,
        choices=[("1", "from top to bottom"), ("", "from left to right")],
        widget=forms.Select(attrs=blank("way of the gradient")),
    )
    ground_mask = forms.ChoiceField(
        label="steps of the gradient",
        required=False,
        choices=[("", "in steps of one colour"), ("1", "mixed by a pattern")],
        widget=forms.Select(attrs=blank("steps of the gradient")),
    )

    def __init__(self, data: Any, *, ground: Ground, choices: "Choices") -> None:
        super().__init__(data)
        for name, label in (("color", "colour of the background"), ("second", "second colour of the background")):
            widget = forms.Select(attrs=blank(label))
            swatch = forms.TextInput(attrs={"type": "color", "class": "fm-swatch", "aria-label": f"own {label}"})
            self.fields[f"ground_{name}"] = forms.ChoiceField(label=label, choices=choices.colors, widget=widget)
            self.fields[f"ground_{name}_own"] = forms.CharField(label=f"own {label}", required=False, max_length=7, widget=swatch)
        pictures = [(ref, name) for ref, name in choices.pictures]
        widget = forms.Select(attrs=blank("picture of the background"))
        self.fields["ground_source"] = forms.ChoiceField(label="picture", required=False, choices=pictures, widget=widget)
        if data is None:
            self.initial = {
                "ground_by": ground.by,
                "ground_tile": "/".join(ground.tile),
                "ground_upright": "1" if ground.upright else "",
                "ground_mask": "1" if ground.mask else "",
                "ground_source": ground.source,
            }
            for name in COLORS:
                value = getattr(ground, name)
                own = value.startswith("#")
                self.initial |= {f"ground_{name}": OWN_COLOR if own else value, f"ground_{name}_own": value if own else "#808080"}

    def ground(self) -> Ground:
        """As it was filled in; of a valid form."""
        v = self.cleaned_data
        color, second = (v[f"ground_{n}_own"] if v[f"ground_{n}"] == OWN_COLOR else v[f"ground_{n}"] for n in COLORS)
        tile = tuple(row for row in v["ground_tile"].strip().split("/") if row) or ("#.", ".#")
        return Ground(
            v["ground_by"], color, second, tile, v["ground_source"], v["ground_upright"] == "1", v["ground_mask"] == "1"
        )


def guide_words(guide: Guide) -> str:
    """Where a guide stands."""
    way = {"start": "left" if guide.upright else "upper", "middle": "middle", "end": "right" if guide.upright else "lower"}[
        guide.of
    ]
    return f"{guide.plus} px from the {way}{' edge' if guide.of != 'middle' else ''}"
