"""A screen for another panel: lengths on its glass, colours that it has, areas that it has. Constraints stay what they are."""

from dataclasses import dataclass, replace
from typing import Literal

from mosaic.device.device import Device
from mosaic.lettering.measure import pitch_mm
from mosaic.panels.passport import Passport
from mosaic.screens.colors import GROUND, INK, color_value, shown_hex
from mosaic.screens.plan import areas_of
from mosaic.screens.screen import Anchor, Design, Element, Follow, Ground, Guide, Part, Screen, Size, Style

Lengths = Literal["glass", "mm", "pixels"]
LENGTHS: dict[Lengths, str] = {
    "glass": "grow with the glass", "mm": "stay as long in mm", "pixels": "stay as many pixels",
}  # fmt: skip
FAR = 4096


@dataclass(frozen=True)
class Scale:
    """By how much lengths grow across and down."""

    x: float
    y: float

    @property
    def both(self) -> float:
        """For lengths that have no direction."""
        return min(self.x, self.y)


def scale_of(old: Device, new: Device, lengths: Lengths) -> Scale:
    """How lengths become others on another panel."""
    if lengths == "pixels":
        return Scale(1.0, 1.0)
    if lengths == "mm":
        before, after = pitch_mm(old), pitch_mm(new)
        return Scale(before[0] / after[0], before[1] / after[1])
    return Scale(new.size[0] / old.size[0], new.size[1] / old.size[1])


def lettering_scale(old: Device, new: Device) -> float:
    """By how many times as many pixels letters have to be high to be as high in mm, at each one's own reading distance."""
    distances = new.viewing_distance_mm / old.viewing_distance_mm
    return pitch_mm(old)[1] / pitch_mm(new)[1] * distances


def _grown(pixels: int, by: float, least: int = -FAR) -> int:
    grown = int(abs(pixels) * by + 0.5)
    return max(least, min(FAR, -grown if pixels < 0 else grown))


class Adapting:
    """What becomes of screens and their design on another panel."""

    def __init__(self, old: Device, new: Device, lengths: Lengths) -> None:
        self.old, self.new, self.scale = old, new, scale_of(old, new, lengths)
        self.areas = set(areas_of(new))

    def color(self, name: str) -> str:
        """A colour's name on the new panel: its own, or as it looked on the old one."""
        if name in ("", INK, GROUND) or name.startswith("#") or _has(self.new.passport, name):
            return name
        return shown_hex(color_value(name, self.old.passport), self.old.passport)

    def _to(self, target: str) -> str:
        return "safe" if target.startswith("zone") and target not in self.areas else target

    def anchor(self, anchor: Anchor, by: float) -> Anchor:
        return replace(anchor, to=self._to(anchor.to), plus=_grown(anchor.plus, by))

    def size(self, size: Size, by: float) -> Size:
        return replace(
            size, to=self._to(size.to), plus=_grown(size.plus, by), pixels=_grown(size.pixels, by, 1 if size.pixels else 0)
        )

    def follow(self, follow: Follow) -> Follow:
        map_, scale = follow.map, self.scale
        by = {"x": scale.x, "width": scale.x, "y": scale.y, "height": scale.y, "radius": scale.both, "thickness": scale.both}
        if map_.colors:
            return replace(follow, map=replace(map_, colors=tuple(map(self.color, map_.colors))))
        if follow.what not in by or map_.by == "itself":
            return follow
        return replace(follow, map=replace(map_, points=tuple((at, _grown(out, by[follow.what])) for at, out in map_.points)))

    def element(self, element: Element) -> Element:
        s = self.scale
        return replace(
            element, x=self.anchor(element.x, s.x), y=self.anchor(element.y, s.y), width=self.size(element.width, s.x),
            height=self.size(element.height, s.y), color=self.color(element.color), second=self.color(element.second),
            radius=_grown(element.radius, s.both, 1 if element.radius else 0),
            thickness=max(1, _grown(element.thickness, s.both)),
            gap=element.gap if element.gap < 0 else _grown(element.gap, s.both),
            points=tuple((_grown(x, s.x), _grown(y, s.y)) for x, y in element.points),
            follows=tuple(map(self.follow, element.follows)),
        )  # fmt: skip

    def guide(self, guide: Guide) -> Guide:
        return replace(guide, plus=_grown(guide.plus, self.scale.x if guide.upright else self.scale.y))

    def ground(self, ground: Ground) -> Ground:
        return replace(ground, color=self.color(ground.color), second=self.color(ground.second))

    def screen(self, screen: Screen) -> Screen:
        """A screen, with every element that it had."""
        return replace(
            screen, elements=tuple(map(self.element, screen.elements)), guides=tuple(map(self.guide, screen.guides)),
            ground=self.ground(screen.ground),
        )  # fmt: skip

    def part(self, part: Part) -> Part:
        """A shared part; one as wide or high as the glass stays so."""
        (old_w, old_h), (new_w, new_h) = self.old.size, self.new.size
        width = new_w if part.width == old_w else _grown(part.width, self.scale.x, 1)
        height = new_h if part.height == old_h else _grown(part.height, self.scale.y, 1)
        return replace(part, width=width, height=height, elements=tuple(map(self.element, part.elements)))

    def style(self, style: Style) -> Style:
        return replace(style, color=self.color(style.color), second=self.color(style.second))

    def design(self, design: Design) -> Design:
        """What the screens share."""
        return replace(design, styles=tuple(map(self.style, design.styles)), parts=tuple(map(self.part, design.parts)))


def _has(passport: Passport, name: str) -> bool:
    return passport.palette is not None and name in passport.palette.names
