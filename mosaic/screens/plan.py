"""What a screen comes down to whatever its values are: where all stands, which calls draw it in which case, what lies beneath.

From a plan each state is drawn, and code is written.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.device.device import Device
from mosaic.drawing.surface import Surface, Values, new_surface
from mosaic.panels.geometry import seen_zones
from mosaic.panels.mounting import seen_pixels
from mosaic.screens.calls import Call, Image, Past, draw
from mosaic.screens.colors import color_value
from mosaic.screens.elements import Site, tile_of
from mosaic.screens.following import moves, resolved
from mosaic.screens.gradient import gradient_calls
from mosaic.screens.kinds import calls_of, natural_of
from mosaic.screens.kit import Kit, beneath, image_of, key_of, text_of
from mosaic.screens.placing import Box, place, safe_box
from mosaic.screens.reach import reach_of
from mosaic.screens.screen import Element, Ground, Part, Screen
from mosaic.screens.symbols import Symbol, Way, bounds, branches
from mosaic.screens.words import Words
from mosaic.values.notation import fields_in

GROUND = "ground"
"""Whose the calls of the background are."""
UNKNOWN = -1
"""Of a pixel whose colour follows values."""
Place = tuple[str, str]
"""An element of the screen, and one inside of the shared part that it shows, or ""."""


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


def part_boxes(part: Part, box: Box, kit: Kit) -> dict[str, Box]:
    """Where the elements of a shared part stand, whose own box is their glass."""
    elements = tuple(resolved(one, kit)[0] for one in part.elements)
    return place(elements, {"glass": box, "safe": box}, lambda one: natural_of(one, kit))


def values_in(element: Element) -> list[str]:
    """Ids of the values that an element follows or shows."""
    found = [follow.value for follow in element.follows] + ([element.of] if element.of else [])
    return list(dict.fromkeys([*found, *(name for name, _ in fields_in(text_of(element)))]))


@dataclass(frozen=True, eq=False)
class Spot:
    """One element that is drawn: of the screen, or inside of the shared part that the screen's element shows.

    Attributes
    ----------
    owner : of the screen. element : what is drawn. ways : lists of calls, or None where it is not shown.
    ground : the one colour that lies in its box whatever the values are. under : the same of its owner's box.
    """

    owner: Element
    element: Element
    place: Place
    box: Box
    ways: tuple[Way, ...]
    ground: int | None
    under: int | None

    @cached_property
    def is_dynamic(self) -> bool:
        """Whether anything of it depends on values."""
        return len(self.ways) > 1 or any(not is_constant(call) for call in self.ways[0].result or ())

    def calls_in(self, kit: Kit, box: Box) -> list[Call] | None:
        """What draws it in the state of a kit; None where it is not shown."""
        if not self.is_dynamic:
            return self.ways[0].result
        element, shown = resolved(self.element, kit)
        if not (shown and resolved(self.owner, kit)[1]):
            return None
        return _owned(calls_of(element, Site(box, self.ground), kit), self.owner)


def _owned(calls: list[Call], owner: Element) -> list[Call]:
    return [Call(call.name, call.given, owner.id) for call in calls]


def is_constant(call: Call) -> bool:
    """Whether a call is the same whatever the values are."""
    return not any(_varies(given) for given in call.given)


def _varies(given: Any) -> bool:
    if isinstance(given, tuple):
        return any(_varies(one) for one in given)
    return isinstance(given, (Symbol, Words, Past))


@dataclass(frozen=True, eq=False)
class Plan:
    """A screen on its panel, before values are known. `base` is the glass with everything up to the first that follows values."""

    screen: Screen
    device: Device
    kit: Kit
    areas: dict[str, Box]
    ground: tuple[Call, ...]
    places: Mapping[Place, Box]
    spots: tuple[Spot, ...]
    base: Values
    leading: int

    @cached_property
    def is_moving(self) -> bool:
        """Whether anything's place or size follows values."""
        return _is_moving(self.screen, self.kit)

    def places_in(self, kit: Kit) -> Mapping[Place, Box]:
        """Where everything stands in the state of a kit."""
        return places_of(self.screen, self.areas, kit) if self.is_moving else self.places

    @cached_property
    def fixed_traces(self) -> dict[str, npt.NDArray[np.bool_]]:
        """Which pixels elements reach that follow no value, as they are asked for: the same in every state."""
        return {}

    @cached_property
    def values(self) -> tuple[str, ...]:
        """Ids of the values that the screen shows or follows, as the design has them in order."""
        used = {ident for spot in self.spots for ident in values_in(spot.element)}
        used |= {value.origin.of for value in self.kit.design.values if value.id in used and value.origin.by == "band"}
        return tuple(value.id for value in self.kit.design.values if value.id in used)


def reached_by(calls: Iterable[Call], size: tuple[int, int]) -> npt.NDArray[np.bool_]:
    """(H, W): which pixels of a glass calls reach."""
    scratch = Surface(np.full((size[1], size[0]), UNKNOWN, np.int32))
    draw(scratch, calls)
    return scratch.values >= 0


def _parts(screen: Screen, kit: Kit) -> list[tuple[Element, Part | None]]:
    return [(e, kit.design.part(e.part) if e.kind == "part" else None) for e in screen.elements]


def _is_moving(screen: Screen, kit: Kit) -> bool:
    return any(moves(e) or (part is not None and any(map(moves, part.elements))) for e, part in _parts(screen, kit))


def places_of(screen: Screen, areas: Mapping[str, Box], kit: Kit) -> dict[Place, Box]:
    """Boxes of all elements, and of those inside of shared parts."""
    elements = tuple(resolved(one, kit)[0] for one in screen.elements)
    boxes = place(elements, areas, lambda element: natural_of(element, kit), screen.guides)
    found = {(ident, ""): box for ident, box in boxes.items()}
    for element, part in _parts(screen, kit):
        if part is not None:
            inner = part_boxes(part, boxes[element.id], kit)
            found |= {(element.id, ident): box for ident, box in inner.items()}
    return found


def _hull(box: Box) -> Box:
    """The box that holds another wherever it stands."""
    (x0, x1), (y0, y1), (_, w), (_, h) = (bounds(number) for number in (box.x, box.y, box.width, box.height))
    return Box(x0, y0, x1 - x0 + w, y1 - y0 + h, y1 - y0 + h)


def _beneath(known: Surface, box: Box) -> int | None:
    found = beneath(known, _hull(box))
    return None if found == UNKNOWN else found


def _same(first: Call, second: Call) -> bool:
    if first.name != second.name or len(first.given) != len(second.given):
        return False
    return all(a is b or (isinstance(a, (int, str)) and a == b) for a, b in zip(first.given, second.given, strict=True))


def _lay_dynamic(known: Surface, spot: Spot, kit: Kit) -> None:
    """Draw what an element draws first in every case, and forget the colours that the rest of it can reach."""
    results = [way.result for way in spot.ways]
    always = 0
    if all(result is not None for result in results):
        first = results[0]
        while all(always < len(r) and is_constant(r[always]) and _same(r[always], first[always]) for r in results):
            always += 1
        draw(known, first[:always])
    for result in results:
        within: tuple[int, int, int, int] | None = None
        for call in (result or [])[always:]:
            if call.name == "within":
                x, y, w, h = (bounds(number) for number in call.given)
                within = (x[0], y[0], x[1] + w[1], y[1] + h[1])
            elif call.name == "beyond":
                within = None
            else:
                left, top, right, bottom = within or reach_of(call, kit.widest)
                known.values[max(0, top) : max(0, bottom), max(0, left) : max(0, right)] = UNKNOWN


def planned(screen: Screen, device: Device, kit: Kit) -> Plan:
    """Everything about a screen that does not need values.

    Raises
    ------
    PlacingError
        Its constraints cannot be followed.
    BadValueError
        A colour is none of this panel, something lies too far off, or a value is followed in too many ways.
    """
    areas = areas_of(device)
    symbolic = replace(kit, state=None)
    places = places_of(screen, areas, symbolic if _is_moving(screen, kit) else kit)
    width, height = device.size
    known = new_surface(width, height)
    ground = tuple(ground_calls(screen.ground, device, kit))
    draw(known, ground)
    spots: list[Spot] = []
    base, leading = known.values, 0
    for owner, part in _parts(screen, kit):
        under = _beneath(known, places[owner.id, ""])
        whole = resolved(owner, symbolic)[1]
        for element in part.elements if part is not None else (owner,):
            at = (owner.id, element.id if part is not None else "")
            box = places[at]
            site = Site(box, _beneath(known, box))

            def rule(element: Element = element, owner: Element = owner, site: Site = site, whole: Any = whole) -> Any:
                drawn, shown = resolved(element, symbolic)
                if not (shown and whole):
                    return None
                return _owned(calls_of(drawn, site, symbolic), owner)

            spot = Spot(owner, element, at, box, tuple(branches(rule)), site.ground, under)
            if not spot.is_dynamic:
                draw(known, spot.ways[0].result or ())
                if leading == len(spots):
                    leading += 1
            else:
                if base is known.values:
                    base = known.values.copy()
                _lay_dynamic(known, spot, kit)
            spots.append(spot)
    return Plan(screen, device, kit, areas, ground, places, tuple(spots), base, leading)
