"""Elements with the numbers that follow values put in: whole numbers in a state, symbols where code is to reckon them."""

from dataclasses import replace
from typing import Any

from mosaic.screens.kit import Kit
from mosaic.screens.screen import Element
from mosaic.screens.symbols import Whole, least, most

FAR = 4096
LIMITS: dict[str, tuple[int, int]] = {
    "value": (-1_000_000_000, 1_000_000_000), "number": (0, 9999), "turn": (-3600, 3600), "start": (-3600, 3600),
    "span": (-3600, 3600), "radius": (0, FAR), "thickness": (1, 256),
}  # fmt: skip
"""Of numbers of elements, whatever their maps give."""


def _held(number: Whole, low: int, high: int) -> Any:
    return least(most(number, low), high)


def resolved(element: Element, kit: Kit) -> tuple[Element, Any]:
    """The element as it is drawn, and whether it is shown: a truth, or a question where that depends on a value."""
    change: dict[str, Any] = {}
    shown: Any = element.shown
    for follow in element.follows:
        name = follow.what
        if name in ("x", "y"):
            anchor = getattr(element, name)
            change[name] = replace(anchor, plus=_held(kit.followed(follow, anchor.plus), -FAR, FAR))
        elif name in ("width", "height"):
            size = getattr(element, name)
            own = size.pixels if size.by == "pixels" else 0
            change[name] = replace(size, by="pixels", pixels=_held(kit.followed(follow, own), 0, FAR))
        elif name == "shown":
            shown = kit.followed(follow, int(element.shown)) != 0
        elif name in LIMITS:
            change[name] = _held(kit.followed(follow, getattr(element, name)), *LIMITS[name])
    return (replace(element, **change) if change else element), shown


def moves(element: Element) -> bool:
    """Whether where an element stands, or how large it is, follows a value."""
    return any(follow.what in ("x", "y", "width", "height", "radius") for follow in element.follows)
