"""What is done against burnt-in pictures, each worked out anew on the same day: shifting, dimming, blanking, inverting, another
layout."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
import numpy.typing as npt
from msgspec import Meta

from mosaic.color.srgb import bytes_to_linear
from mosaic.errors import BadValueError
from mosaic.panels.passport import Passport
from mosaic.refresh.wear.model import FirstSeen, Rates, WearModel, first_seen

Levels = npt.NDArray[np.float64]
"""(H, W, C): linear light of a picture, 0..1."""


@dataclass(frozen=True)
class WearPlan:
    """What a build does against wear.

    Attributes
    ----------
    shift_px, shift_min : the picture goes round a square of so many pixels, one further in so many minutes; 0 px for no shift.
    night_light : share of the light in the schedule's night; 0 is dark. light : by day.
    inverts : light and dark are exchanged every other hour. moves_px : every other day everything stands so much lower.
    model : constants of the ageing.
    """

    shift_px: Annotated[int, Meta(ge=0, le=8)] = 0
    shift_min: Annotated[int, Meta(ge=1, le=1440)] = 5
    night_light: Annotated[float, Meta(ge=0, le=1)] = 1.0
    light: Annotated[float, Meta(ge=0, le=1)] = 1.0
    inverts: bool = False
    moves_px: Annotated[int, Meta(ge=0, le=64)] = 0
    model: WearModel = field(default=WearModel())
    form: Literal[1] = 1


def places(shift_px: int) -> list[tuple[int, int]]:
    """The places (right, down) that a shifted picture comes to, in turn: round the edge of a square, one pixel at a time.

    >>> places(1), len(places(2)), places(0)
    ([(0, 0), (1, 0), (1, 1), (0, 1)], 8, [(0, 0)])
    """
    if not shift_px:
        return [(0, 0)]
    corners = [(0, 0), (shift_px, 0), (shift_px, shift_px), (0, shift_px), (0, 0)]
    found = []
    for (x0, y0), (x1, y1) in pairwise(corners):
        for step in range(shift_px):
            found.append((x0 + (x1 > x0) * step - (x1 < x0) * step, y0 + (y1 > y0) * step - (y1 < y0) * step))
    return found


def moved(levels: npt.NDArray[np.float64], right: int, down: int) -> npt.NDArray[np.float64]:
    """The same picture elsewhere; what comes in at the edges is dark."""
    found = np.zeros_like(levels)
    height, width = levels.shape[:2]
    found[down:, right:] = levels[: height - down, : width - right]
    return found


@dataclass(frozen=True, eq=False)
class Lit:
    """A day of a glass, on average over the time for which it is on, each (H, W, C).

    Attributes
    ----------
    levels : linear light, 0..1. worn : light to the power of the ageing; inverted : the same with light and dark exchanged.
    """

    levels: Levels
    worn: Levels
    inverted: Levels


def lit_of(pictures: Iterable[tuple[npt.NDArray[np.uint8], float]], passport: Passport, power: float) -> Lit:
    """The mean of some pictures, each with the share of the time for which it stands, together all of it.

    `pictures` are palette indices (H, W) or RGB (H, W, 3).

    Raises
    ------
    BadValueError
        There is no picture.
    """
    linear = bytes_to_linear(np.arange(256, dtype=np.uint8)) if passport.palette is None else passport.palette.levels()
    table = np.clip(linear.astype(np.float64), 0, 1)
    tables = table, table**power, (1 - table) ** power
    sums: list[Levels] | None = None
    for pixels, share in pictures:
        shown = pixels if pixels.ndim == 3 else pixels[..., None]
        if sums is None:
            sums = [np.zeros(shown.shape) for _ in tables]
        for total, one in zip(sums, tables, strict=True):
            total += share * one[shown]
    if sums is None:
        raise BadValueError("there is no picture whose wear could be told; one or more are accepted")
    return Lit(*sums)


def rates_of(lit: Lit, on_share: float, night_share: float, plan: WearPlan) -> Rates:
    """How fast each pixel ages with what a plan does; `on_share` of the day it is on, `night_share` is the schedule's night."""
    power = plan.model.power
    total = (lit.worn + lit.inverted) / 2 if plan.inverts else lit.worn
    steps = places(plan.shift_px)
    if len(steps) > 1:
        total = sum((moved(total, *step) for step in steps), np.zeros_like(total)) / len(steps)
    if plan.moves_px:
        total = (total + moved(total, 0, plan.moves_px)) / 2
    light = (1 - night_share) * plan.light**power + night_share * min(plan.light, plan.night_light) ** power
    return total * (on_share * light)


@dataclass(frozen=True)
class Remedy:
    """One thing to do, in words, the plan with it, and when a difference is seen first."""

    slug: str
    words: str
    plan: WearPlan
    seen: FirstSeen


def remedies(lit: Lit, on_share: float, night_share: float, plan: WearPlan) -> list[Remedy]:
    """What each remedy by itself would bring beyond what is done already, the best first."""
    tried = [
        ("shift", "Shifting the picture round a square of 2 px", replace(plan, shift_px=max(2, plan.shift_px))),
        ("half", "Half the light", replace(plan, light=plan.light / 2)),
        ("dim", "A fifth of the light by night", replace(plan, night_light=min(plan.night_light, 0.2))),
        ("dark", "Dark by night", replace(plan, night_light=0.0)),
        ("invert", "Light and dark exchanged every other hour", replace(plan, inverts=True)),
        ("layout", "Everything 8 px lower every other day", replace(plan, moves_px=max(8, plan.moves_px))),
    ]
    found = [
        Remedy(slug, words, other, first_seen(rates_of(lit, on_share, night_share, other), plan.model))
        for slug, words, other in tried
        if other != plan
    ]
    return sorted(found, key=lambda one: -one.seen.hours)
