"""The state in which a screen is looked at: one that follows from its values, or one set by hand."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from django.urls import reverse

from mosaic.device.device import Device
from mosaic.screens import moments
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Screen
from mosaic.values.states import State
from mosaic.values.value import Reading
from workshop.builds.models import Build
from workshop.screens.documents import ScreenDocument, design_of
from workshop.screens.reports import drawn, key_of, plan_of, states_of


@dataclass(frozen=True)
class Look:
    """A state by its key, and readings set by hand as they were typed, by the values' ids."""

    key: str = ""
    typed: Mapping[str, str] = field(default_factory=dict)


TYPICAL = Look()


def look_of(values: Any) -> Look:
    """What a page or a form asked for."""
    key = values.get("state", "")
    typed = {name[5:]: values[name] for name in values if name.startswith("hand_")} if key == "hand" else {}
    return Look(key, typed)


def state_of(build: Build, screen: Screen, device: Device, look: Look, key: str = "") -> State:
    """The state; the typical one where there is no such.

    Raises
    ------
    BadValueError
        A reading set by hand cannot be read.
    """
    if look.key == "hand":
        values = {value.id: value for value in design_of(build).values}
        readings: dict[str, Reading] = {
            ident: values[ident].raw_of(typed) for ident, typed in look.typed.items() if ident in values
        }
        return moments.by_hand(plan_of(build, screen, device, key), readings)
    if look.key in ("", "typical"):  # while something is dragged nothing more is wanted
        return moments.typical_state(plan_of(build, screen, device, key))
    found = states_of(build, screen, device, key)
    return next((one for one in found if one.key == look.key), found[0])


def looked_at(build: Build, screen: Screen, device: Device, look: Look) -> Rendered:
    """A screen drawn as it is looked at; raises as `state_of` and `plan_of`."""
    key = key_of(build, screen, device)
    return drawn(build, screen, device, state_of(build, screen, device, look, key), key)


def glass_url(build: Build, shown: ScreenDocument, key: str, look: Look) -> str:
    """Where the picture of the glass is; nothing for what was set by hand, which comes along with the answer."""
    query = f"?revision={shown.head_id}" + (f"&state={look.key}" if look.key and look.key != "hand" else "")
    return reverse("screen-glass", args=[build.pk, shown.pk, key]) + query


def states_context(
    build: Build, shown: ScreenDocument, screen: Screen, device: Device, rendered: Rendered | None, look: Look, key: str
) -> dict[str, Any]:
    """What the tray of states needs."""
    states = states_of(build, screen, device, key) if rendered else []
    here = rendered.kit.state if rendered else None
    height = device.size[1]
    by_hand = []
    if rendered is not None and here is not None:
        for ident in rendered.plan.values:
            value = rendered.kit.values[ident]
            raw = rendered.kit.settled_state.readings[ident]
            slides = value.is_number and not value.named and value.kind == "number"
            by_hand.append((value, value.plain(raw) if raw is not None else "", raw if isinstance(raw, int) else 0, slides))
    return {
        "states": [(number, state, number * height) for number, state in enumerate(states)],
        "state": here,
        "states_height": height * len(states),
        "states_url": reverse("screen-states", args=[build.pk, shown.pk, key]) + f"?revision={shown.head_id}" if rendered else "",
        "by_hand": by_hand,
    }
