"""From a description to pixels: placing, calls, the panel's own values, and the proof through the virtual panel."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from mosaic.conversion.pipeline import pack
from mosaic.device.device import Device
from mosaic.drawing.surface import Surface, new_surface
from mosaic.panels.geometry import seen_zones
from mosaic.panels.mounting import seen_pixels
from mosaic.panels.wire import Part as WirePart
from mosaic.panels.wire import frame_parts, setup_part
from mosaic.screens.calls import Call, Image, draw
from mosaic.screens.colors import color_value
from mosaic.screens.elements import Site, tile_of
from mosaic.screens.gradient import gradient_calls
from mosaic.screens.kinds import calls_of, natural_of
from mosaic.screens.kit import Kit, image_of, key_of
from mosaic.screens.placing import Box, place, safe_box
from mosaic.screens.screen import Element, Ground, Part, Screen
from mosaic.virtual.panel import Proof, prove

GROUND = "ground"
"""Whose the calls of the ground are."""


@dataclass(frozen=True, eq=False)
class Drawn:
    """An element where it stands: its box, what draws it, and what lay in its box before."""

    element: Element
    box: Box
    calls: tuple[Call, ...]
    ground: int | None


@dataclass(frozen=True, eq=False)
class Rendered:
    """A screen on its panel.

    Attributes
    ----------
    surface : the glass as its reader sees it. boxes : of all elements, hidden ones too. drawn : in drawing order.
    """

    screen: Screen
    device: Device
    kit: Kit
    surface: Surface
    boxes: dict[str, Box]
    ground: tuple[Call, ...]
    drawn: tuple[Drawn, ...]
    areas: dict[str, Box]

    @property
    def calls(self) -> list[Call]:
        """Everything that draws the screen, in order."""
        return [*self.ground, *(call for one in self.drawn for call in one.calls)]

    @cached_property
    def pixels(self) -> npt.NDArray[np.uint8]:
        """Palette indices (H, W) or RGB (H, W, 3), as the reader sees them."""
        values = self.surface.values
        if self.device.passport.palette is not None:
            return values.astype(np.uint8)
        return np.stack([values >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(np.uint8)

    @cached_property
    def packed(self) -> bytes:
        """The panel's own bytes of a whole frame."""
        return pack(self.pixels, self.device.passport, self.device.turn)

    @cached_property
    def parts(self) -> tuple[WirePart, ...]:
        """What goes over the wire for the whole frame."""
        return frame_parts(self.device.passport, self.device.turn, self.packed)

    @cached_property
    def proof(self) -> Proof:
        """What the virtual panel shows of the bytes, from reset on."""
        passport, turn = self.device.passport, self.device.turn
        return prove(passport, turn, setup_part(passport, turn), self.parts, self.pixels, len(self.packed))

    @cached_property
    def traces(self) -> dict[str, npt.NDArray[np.bool_]]:
        """(H, W) for each element that is drawn: which pixels its calls reach."""
        found, height, width = {}, self.surface.rows, self.surface.width
        for one in self.drawn:
            scratch = Surface(np.full((height, width), -1, np.int32))
            draw(scratch, one.calls)
            found[one.element.id] = scratch.values >= 0
        return found


def areas_of(device: Device) -> dict[str, Box]:
    """What anchors may name besides elements and guides: the glass, its safe area, the zones of a two-zone panel."""
    width, height = device.size
    found = {"glass": Box(0, 0, width, height, height), "safe": _safe_of(device)}
    for number, (x, y, w, h) in enumerate(seen_zones(device.passport, device.turn) if device.passport.zones else (), 1):
        found[f"zone{number}"] = Box(x, y, w, h, y + h)
    return found


_SAFE: dict[tuple[str, tuple[object, ...]], Box] = {}


def _safe_of(device: Device) -> Box:
    """Kept by what it depends on: passports themselves are not hashable."""
    glass = device.passport.glass
    key = (glass.shape, (glass, device.turn, device.opening, device.passport.module))
    if key not in _SAFE:
        if len(_SAFE) > 256:
            _SAFE.clear()
        _SAFE[key] = safe_box(seen_pixels(device.passport, device.turn, device.opening))
    return _SAFE[key]


def ground_calls(ground: Ground, device: Device, kit: Kit) -> list[Call]:
    """What draws the ground."""
    width, height = device.size
    color, second = (color_value(name or "ground", device.passport) for name in (ground.color, ground.second))
    whole = kit.pictures.get(ground.source) if ground.by == "picture" else None
    if whole is not None:
        image = image_of(key_of(kit, ground.source), whole, None, device.passport)
        return [Call("picture" if isinstance(image, Image) else "values", (0, 0, image), GROUND)]
    if ground.by == "pattern":
        return [Call("pattern", (0, 0, width, height, tile_of(ground.tile), second, color), GROUND)]
    if ground.by == "gradient":
        calls = gradient_calls(width, height, color, second, device.passport, upright=ground.upright, mask=ground.mask)
        return [Call(call.name, call.given, GROUND) for call in calls]
    return [Call("fill", (0, 0, width, height, color), GROUND)]


def render(screen: Screen, device: Device, kit: Kit) -> Rendered:
    """Draw a screen.

    Raises
    ------
    PlacingError
        Its constraints cannot be followed.
    BadValueError
        A colour is none of this panel, or something lies too far off.
    """
    areas = areas_of(device)
    boxes = place(screen.elements, areas, lambda element: natural_of(element, kit), screen.guides)
    width, height = device.size
    surface = new_surface(width, height)
    ground = ground_calls(screen.ground, device, kit)
    draw(surface, ground)
    drawn = []
    for element in screen.elements:
        if element.shown:
            one = _drawn(element, boxes[element.id], surface, kit)
            drawn.append(one)
    return Rendered(screen, device, kit, surface, boxes, tuple(ground), tuple(drawn), areas)


def part_boxes(part: Part, box: Box, kit: Kit) -> dict[str, Box]:
    """Where the elements of a shared part stand, whose own box is their glass."""
    return place(part.elements, {"glass": box, "safe": box}, lambda one: natural_of(one, kit))


def _drawn(element: Element, box: Box, surface: Surface, kit: Kit) -> Drawn:
    """Draw one element, a shared part with everything in it."""
    site = Site(box, surface)
    under = site.ground
    part = kit.design.part(element.part) if element.kind == "part" else None
    if part is None:
        calls = calls_of(element, site, kit)
        draw(surface, calls)
        return Drawn(element, box, tuple(calls), under)
    inner = part_boxes(part, box, kit)
    found: list[Call] = []
    for one in part.elements:
        if one.shown:
            found += [Call(c.name, c.given, element.id) for c in _drawn(one, inner[one.id], surface, kit).calls]
    return Drawn(element, box, tuple(found), under)
