"""The kinds of elements. A new one is an entry in `KINDS`, its name in `screen.KindName`, and its test.

A kind says how it is begun and told in a sentence, how large it is by itself, and which calls draw it.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from string import Formatter
from typing import Any

from mosaic.registry import Registry
from mosaic.screens import elements as e
from mosaic.screens.calls import Call
from mosaic.screens.kit import Kit
from mosaic.screens.placing import Natural
from mosaic.screens.screen import Element


@dataclass(frozen=True)
class Kind:
    """A kind of element.

    Attributes
    ----------
    begin : how it is begun, "a text". sentence : how it is told, with its blanks in braces: names of fields.
    natural : its size by itself. calls : what draws it.
    first : fields of a new one. holds : whether it holds members.
    """

    name: str
    begin: str
    sentence: str
    natural: Callable[[Element, Kit], Natural]
    calls: Callable[[Element, e.Site, Kit], e.Given]
    first: dict[str, Any] = field(default_factory=dict)
    holds: bool = False

    @property
    def blanks(self) -> tuple[str, ...]:
        """The fields that its sentence names, in order."""
        return tuple(name for _, name, _, _ in Formatter().parse(self.sentence) if name)


OVER = "{color} over {second}"
RANGE = "{value} between {low} and {high}"
SCALE = "from {start}° over {span}°, with {ticks} ticks, {labels}, in {lettering}"
KINDS: Registry[Kind] = Registry(
    "kind of element",
    (
        Kind(
            "text", "a text", f"Shows {{text}} in {{lettering}}, set {{align}}, too wide: {{overflow}}, {OVER}",
            e.text_size, e.text_calls, {"text": "Slipway"},
        ),
        Kind(
            "value", "a value", f"Shows {{of}} as {{shape}} in {{lettering}}, set {{align}}, too wide: {{overflow}}, {OVER}",
            e.text_size, e.text_calls,
        ),
        Kind(
            "block", "a text over several lines",
            f"Shows {{text}} in {{lettering}}, broken to its width, {{gap}} px between lines, set {{align}}, {OVER}",
            e.block_size, e.block_calls, {"text": "High water at the slip\nat half past six"},
        ),
        Kind("picture", "a picture", "Shows {cell} of {source}, {opaque}", e.picture_size, e.picture_calls),
        Kind("cell", "a picture by number", "Shows number {number} of {source}, {opaque}", e.picture_size, e.picture_calls),
        Kind(
            "turned", "a turned picture", "Shows number {number} of {source}, turned by {turn}° about {points}",
            e.turned_size, e.turned_calls, {"opaque": False},
        ),
        Kind("line", "a line", "Draws a line {thickness} px thick, {rising}, in {color}", e.sized(60, 1), e.line_calls),
        Kind(
            "polyline", "a line of several pieces", "Draws a line {thickness} px thick through {points} in {color}",
            e.points_size, e.polyline_calls, {"points": ((0, 12), (20, 0), (40, 8), (60, 2))},
        ),
        Kind(
            "rectangle", "a rectangle", f"Draws a rectangle, {{filled}}, edge {{thickness}} px, {OVER}",
            e.sized(40, 24), e.rectangle_calls,
        ),
        Kind(
            "rounded", "a rounded rectangle", f"Draws a rectangle with corners of {{radius}} px, {{filled}}, {OVER}",
            e.sized(40, 24), e.rounded_calls,
        ),
        Kind(
            "circle", "a circle", f"Draws a circle of radius {{radius}} px, {{filled}}, edge {{thickness}} px, {OVER}",
            e.circle_size, e.circle_calls, {"radius": 12},
        ),
        Kind("ellipse", "an ellipse", f"Draws an ellipse, {{filled}}, {OVER}", e.sized(40, 24), e.ellipse_calls),
        Kind(
            "triangle", "a triangle", "Draws a triangle, {filled}, its tip turned by {turn}°, edge {thickness} px, in {color}",
            e.sized(24, 20), e.triangle_calls,
        ),
        Kind(
            "polygon", "a polygon", "Draws a polygon, {filled}, edge {thickness} px, with corners at {points} in {color}",
            e.points_size, e.polygon_calls, {"points": ((0, 0), (24, 4), (30, 20), (8, 26))},
        ),
        Kind(
            "arc", "an arc", "Draws an arc from {start}° over {span}°, {filled}, {thickness} px thick, in {color}",
            e.sized(41, 41), e.arc_calls, {"filled": False, "thickness": 4},
        ),
        Kind("bar", "a bar", f"Fills a bar to {RANGE}, {OVER}", e.sized(80, 10), e.bar_calls),
        Kind(
            "gauge", "an arc gauge", f"Fills an arc {{thickness}} px thick to {RANGE}, {SCALE}, {OVER}",
            e.sized(81, 81), e.gauge_calls, {"thickness": 8},
        ),
        Kind(
            "needle", "a needle gauge", f"Points to {RANGE}, {SCALE}, hand {{thickness}} px, {OVER}",
            e.sized(81, 81), e.needle_calls, {"ticks": 11},
        ),
        Kind(
            "list", "a list",
            f"Lists {{text}} in {{lettering}}, number {{number}} chosen, {{gap}} px between lines, set {{align}}, {OVER}",
            e.list_size, e.list_calls, {"text": "Four\nPair\nSingle", "gap": 2},
        ),
        Kind(
            "switch", "a switch", f"Stands on where {{value}} is above the middle of {{low}} and {{high}}, {OVER}",
            e.sized(36, 19), e.switch_calls, {"value": 1, "high": 1},
        ),
        Kind(
            "button", "a button", f"Says {{text}} in {{lettering}} on a button with corners of {{radius}} px, {{filled}}, {OVER}",
            e.button_size, e.button_calls, {"text": "Sign out"},
        ),
        Kind("pattern", "a pattern", f"Fills its box with the tile {{tile}}, {OVER}", e.sized(40, 24), e.pattern_calls),
        Kind(
            "sparkline", "a sparkline",
            f"Draws the last {{count}} readings of {{of}} between {{low}} and {{high}}, {{thickness}} px thick, {OVER}",
            e.sized(60, 20), e.sparkline_calls,
        ),
        Kind(
            "plot", "a plot",
            f"Plots the last {{count}} readings of {{of}} between {{low}} and {{high}}, {{thickness}} px thick,"
            f" with {{ticks}} ticks, {{labels}}, in {{lettering}}, {OVER}",
            e.sized(100, 48), e.plot_calls, {"ticks": 3},
        ),
        Kind("group", "a group", "Holds {members} together", e.sized(0, 0), e.nothing, holds=True),
        Kind("row", "a row", "Stands {members} side by side, {gap} px apart", e.sized(0, 0), e.nothing, holds=True),
        Kind("column", "a column", "Stands {members} one below the other, {gap} px apart", e.sized(0, 0), e.nothing, holds=True),
        Kind("part", "a shared part", "Shows the shared part {part}", e.part_size, e.nothing),
    ),
    lambda kind: kind.name,
)  # fmt: skip


def natural_of(element: Element, kit: Kit) -> Natural:
    """How large an element is by itself."""
    return KINDS[element.kind].natural(element, kit)


def calls_of(element: Element, site: e.Site, kit: Kit) -> list[Call]:
    """What draws an element at its site."""
    return [Call(name, given, element.id) for name, given in KINDS[element.kind].calls(element, site, kit)]
