"""What of an element follows a value: a row of blanks, its map written out point by point, and drawn."""

import re
from typing import TYPE_CHECKING, Any

from django import forms

from mosaic.errors import BadValueError
from mosaic.numbers import whole_of
from mosaic.screens.colors import color_value, shown_hex
from mosaic.screens.kinds import KINDS
from mosaic.screens.screen import Follow
from mosaic.values.maps import Map, mapped
from mosaic.values.value import Value
from workshop.look.fields import blank, select

if TYPE_CHECKING:
    from workshop.screens.forms import ElementForm

CALLED = {
    "x": "place across", "y": "place down", "width": "width", "height": "height", "color": "colour", "second": "colour beneath",
    "shown": "being shown", "value": "reading", "number": "number", "turn": "turn", "start": "first direction", "span": "span",
    "radius": "radius", "thickness": "thickness",
}  # fmt: skip
"""What can follow values, in words."""
NUMBERS_BY = [
    ("itself", "as it is"),
    ("line", "in a line through"),
    ("table", "from point to point of"),
    ("steps", "in steps at"),
]
COLORS_BY = [("steps", "in steps at"), ("ramp", "blended through")]
BY_BANDS = [("bands", "as its bands say")]
POINT = re.compile(r"\s*([^=]+?)\s*=\s*(\S+)\s*")
COLUMNS = 61


def followable(element: Any) -> list[tuple[str, str]]:
    """What of an element can follow a value and does not yet."""
    blanks = {*KINDS[element.kind].blanks, "x", "y", "width", "height", "shown"} - {f.what for f in element.follows}
    return [(name, words) for name, words in CALLED.items() if name in blanks]


def first_map(what: str, value: Value, element: Any) -> Map:
    """What a map begins as."""
    low, high = value.bounds
    if value.origin.by == "band" and what in ("color", "second", "number"):
        return Map("bands")
    if what in ("value", "number") or (what == "shown" and value.named):
        return Map()
    if what in ("color", "second"):
        own = getattr(element, what) or ("ink" if what == "color" else "ground")
        return Map(
            "steps", ((low, 0), ((low + high) // 2 if high > low + 1 else high, 0)), (own, "ground" if own == "ink" else "ink")
        )
    if what == "shown":
        return Map("steps", ((low, 0), (max(low + 1, (low + high) // 2), 1)))
    ends = {
        "turn": (0, 360), "start": (0, 360), "span": (0, 360), "thickness": (1, 8), "radius": (2, 20),
        "x": (element.x.plus, element.x.plus + 24), "y": (element.y.plus, element.y.plus + 24),
    }.get(what, (0, 40))  # fmt: skip
    return Map("line", ((low, ends[0]), (max(low + 1, high), ends[1])))


class FollowRow:
    """One row: its blanks in the form, and back."""

    def __init__(self, form: "ElementForm", number: int, follow: Follow) -> None:
        self.form, self.number, self.given = form, number, follow
        self.value = form.choices.by_id.get(follow.value)
        self.words = CALLED[follow.what]
        name = self.name
        form.fields[f"{name}_value"] = select(f"value that its {self.words} follows", self._values())
        self.is_color = follow.what in ("color", "second")
        ways = [*(COLORS_BY if self.is_color else NUMBERS_BY)]
        if follow.map.by == "bands" or (self.value is not None and self.value.origin.by == "band"):
            ways += BY_BANDS
        form.fields[f"{name}_by"] = select(f"how its {self.words} follows", ways)
        widget = forms.TextInput(attrs=blank(f"points of its {self.words}", autocomplete="off", spellcheck="false", size=22))
        form.fields[f"{name}_points"] = forms.CharField(
            label=f"points of its {self.words}", required=False, max_length=900, widget=widget
        )

    @property
    def name(self) -> str:
        return f"follow_{self.given.what}"

    def _values(self) -> list[tuple[str, str]]:
        known = [(value.id, value.name) for value in self.form.choices.by_id.values() if value.is_number]
        return known if self.value is not None else [(self.given.value, "a value that is gone"), *known]

    def field(self, part: str) -> Any:
        return self.form[f"{self.name}_{part}"]

    @property
    def value_field(self) -> Any:
        return self.field("value")

    @property
    def by_field(self) -> Any:
        return self.field("by")

    @property
    def points_field(self) -> Any:
        return self.field("points")

    def initial(self) -> dict[str, Any]:
        """What stands in its blanks at first."""
        map_ = self.given.map
        gives = map_.colors or tuple(out for _, out in map_.points)
        told = [f"{self._plain(at)}={str(out).replace(' ', '_')}" for (at, _), out in zip(map_.points, gives, strict=True)]
        return {f"{self.name}_value": self.given.value, f"{self.name}_by": map_.by, f"{self.name}_points": "  ".join(told)}

    def _plain(self, raw: int) -> str:
        return self.value.plain(raw).replace(" ", "_") if self.value is not None else str(raw)

    def follow(self, filled: dict[str, Any]) -> Follow:
        """As it was filled in; raises `MosaicError` in words."""
        value = self.form.choices.by_id.get(filled[f"{self.name}_value"])
        by = filled[f"{self.name}_by"]
        if value is None:
            return self.given
        if by == "bands":
            return Follow(self.given.what, value.id, Map("bands"))
        points = self._points(filled[f"{self.name}_points"], value, colors=self.is_color)
        if self.is_color:
            return Follow(
                self.given.what, value.id, Map(by, tuple((at, 0) for at, _ in points), tuple(str(c) for _, c in points))
            )
        return Follow(self.given.what, value.id, Map(by, tuple((at, int(out)) for at, out in points)))

    def _points(self, written: str, value: Value, *, colors: bool) -> list[tuple[int, Any]]:
        found: list[tuple[int, Any]] = []
        for pair in written.split():
            match = POINT.fullmatch(pair)
            if match is None:
                such = f"{self._plain(value.bounds[0])}={'ink' if colors else 0}"
                raise BadValueError(
                    f"points of its {self.words}: {pair[:24]!r} is none; reading=number such as {such} is accepted"
                )
            raw = value.raw_of(match[1].replace("_", " "))
            if not isinstance(raw, int):
                raise BadValueError(f"points of its {self.words}: {match[1][:24]!r} is no reading of {value.name}")
            if colors:
                shade = match[2].replace("_", " ")
                color_value(shade, self.form.choices.kit.passport)
                found.append((raw, shade))
            else:
                found.append((raw, whole_of(match[2], f"points of its {self.words}: the number", -(10**9), 10**9)))
        return sorted(found)

    @property
    def curve(self) -> dict[str, Any] | None:
        """The map drawn in a box of 120 x 40: a path, its points, and what the ends are."""
        map_, value = self.given.map, self.value
        if self.is_color or value is None or map_.by == "bands":
            return None
        low, high = value.bounds
        ends = [*(at for at, _ in map_.points), low, high]
        left, right = min(ends), max(ends)
        if left == right:
            return None
        places = sorted({left + (right - left) * n // (COLUMNS - 1) for n in range(COLUMNS)} | set(ends))
        outs = [mapped(map_, at) for at in places]
        bottom, top = min(outs), max(outs)
        span = max(1, top - bottom)

        def spot(at: int, out: int) -> tuple[float, float]:
            return round(120 * (at - left) / (right - left), 1), round(40 - 40 * (out - bottom) / span, 1)

        corners, before = [], None
        for at, out in zip(places, outs, strict=True):
            x, y = spot(at, out)
            if map_.by == "steps" and before is not None:
                corners.append((x, before))
            corners.append((x, y))
            before = y
        return {
            "path": " ".join(f"{x},{y}" for x, y in corners), "points": [spot(at, out) for at, out in map_.points],
            "left": value.plain(left), "right": value.plain(right), "bottom": bottom, "top": top,
            "raw": [left, right, bottom, top], "at": [at for at, _ in map_.points], "scale": value.scale,
        }  # fmt: skip

    @property
    def colors(self) -> list[tuple[str, str]]:
        """Of a map of colours: (reading, colour as the page shows it)."""
        passport = self.form.choices.kit.passport
        map_ = self.given.map
        return (
            [
                (self._plain(at), shown_hex(color_value(name, passport), passport))
                for (at, _), name in zip(map_.points, map_.colors, strict=True)
            ]
            if map_.colors
            else []
        )
