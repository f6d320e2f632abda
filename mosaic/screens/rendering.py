"""From a description to pixels: placing, calls, the panel's own values, and the proof through the virtual panel."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import numpy.typing as npt

from mosaic.conversion.pipeline import pack
from mosaic.device.device import Device
from mosaic.drawing.surface import Surface, Values
from mosaic.panels.passport import Passport
from mosaic.panels.wire import Part as WirePart
from mosaic.panels.wire import frame_parts, setup_part
from mosaic.screens.calls import Call, draw
from mosaic.screens.kit import Kit
from mosaic.screens.placing import Box
from mosaic.screens.plan import Plan, planned, reached_by
from mosaic.screens.screen import Element, Screen
from mosaic.values.states import State
from mosaic.virtual.panel import Proof, prove


@dataclass(frozen=True, eq=False)
class Drawn:
    """An element where it stands: its box, what draws it, the one colour that lies in its box before, whatever the values are.

    `ways` says whether anything of it follows values.
    """

    element: Element
    box: Box
    calls: tuple[Call, ...]
    ground: int | None
    ways: bool = False


@dataclass(frozen=True, eq=False)
class Rendered:
    """A screen on its panel.

    Attributes
    ----------
    surface : the glass as its reader sees it. boxes : of all elements, hidden ones too. drawn : in drawing order.
    kit : with the state that is shown. plan : from which it was drawn.
    """

    screen: Screen
    device: Device
    kit: Kit
    surface: Surface
    boxes: dict[str, Box]
    ground: tuple[Call, ...]
    drawn: tuple[Drawn, ...]
    areas: dict[str, Box]
    plan: Plan

    @property
    def calls(self) -> list[Call]:
        """Everything that draws the screen, in order."""
        return [*self.ground, *(call for one in self.drawn for call in one.calls)]

    @cached_property
    def pixels(self) -> npt.NDArray[np.uint8]:
        """Palette indices (H, W) or RGB (H, W, 3), as the reader sees them."""
        return as_pixels(self.surface.values, self.device.passport)

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
        found, fixed = {}, self.plan.fixed_traces
        for one in self.drawn:
            kept = None if one.ways else fixed.get(one.element.id)
            if kept is None:
                kept = reached_by(one.calls, self.device.size)
                if not one.ways:
                    fixed[one.element.id] = kept
            found[one.element.id] = kept
        return found


def as_pixels(values: Values, passport: Passport) -> npt.NDArray[np.uint8]:
    """Palette indices (H, W), or RGB (H, W, 3), of the values on a surface."""
    if passport.palette is not None:
        return values.astype(np.uint8)
    return np.stack([values >> shift & 255 for shift in (16, 8, 0)], axis=-1).astype(np.uint8)


def render(screen: Screen, device: Device, kit: Kit) -> Rendered:
    """Draw a screen in its typical state; raises as `planned` and `drawn_in`."""
    return drawn_in(planned(screen, device, kit), kit.state or State())


def drawn_in(plan: Plan, state: State) -> Rendered:
    """Draw a planned screen in a state.

    Raises
    ------
    BadValueError
        Something lies too far off.
    """
    kit, device, screen = replace(plan.kit, state=state), plan.device, plan.screen
    places = plan.places_in(kit)
    surface = Surface(plan.base.copy())
    drawn: dict[str, Drawn] = {}
    for number, spot in enumerate(plan.spots):
        calls = spot.calls_in(kit, places[spot.place])
        if calls is None:
            continue
        if number >= plan.leading:
            draw(surface, calls)
        owner, box = spot.owner, places[spot.owner.id, ""]
        before = drawn.get(owner.id, Drawn(owner, box, (), spot.under))
        drawn[owner.id] = replace(before, calls=(*before.calls, *calls), ways=before.ways or spot.is_dynamic)
    boxes = {ident: box for (ident, inner), box in places.items() if not inner}
    return Rendered(screen, device, kit, surface, boxes, plan.ground, tuple(drawn.values()), plan.areas, plan)
