"""How an OLED ages: light falls with the time for which a pixel is lit, faster where it is brighter.

`L(t) = exp(-(t / tau) ** beta)`, with `t` in hours at full brightness; a pixel at a share `b` of it ages `b ** power` times as
fast. After the half-life at full brightness half is left: `tau = half_life / ln(2) ** (1 / beta)`. Neighbours that differ by
3 % can be told apart. All constants are typical; the law is the stretched exponential that lifetime tests are fitted by.
"""

from dataclasses import dataclass
from math import log
from typing import Annotated, Literal

import numpy as np
import numpy.typing as npt
from msgspec import Meta

Rates = npt.NDArray[np.float64]
"""(H, W, C): hours at full brightness that an hour of the calendar comes to."""
HOURS_A_YEAR = 8766.0
ALIKE = 1e-9
"""Rates whose powers differ by less are the same: it is the rounding of sums."""


@dataclass(frozen=True)
class WearModel:
    """The constants: hours to half the light at full brightness, the exponents, and the share from which a difference is seen."""

    half_life_h: Annotated[float, Meta(gt=0, le=1_000_000)] = 20_000.0
    beta: Annotated[float, Meta(ge=0.3, le=1.5)] = 0.8
    power: Annotated[float, Meta(ge=0.5, le=3)] = 1.5
    visible: Annotated[float, Meta(gt=0, lt=0.5)] = 0.03
    form: Literal[1] = 1

    @property
    def tau_h(self) -> float:
        """Hours at full brightness after which 1/e of the light is left."""
        return float(self.half_life_h / log(2) ** (1 / self.beta))

    def left(self, lit_h: float) -> float:
        """The share of the light that is left after so many hours at full brightness.

        >>> round(WearModel().left(20_000), 3), WearModel().left(0)
        (0.5, 1.0)
        """
        return float(np.exp(-((lit_h / self.tau_h) ** self.beta)))


@dataclass(frozen=True)
class FirstSeen:
    """Where a difference is seen first: hours of the calendar until then, and the pixel that has faded beside its neighbour."""

    hours: float
    x: int
    y: int

    @property
    def years(self) -> float:
        return self.hours / HOURS_A_YEAR


def first_seen(rates: Rates, model: WearModel) -> FirstSeen:
    """When and where two neighbours first differ visibly; infinitely late where all are lit alike.

    Of neighbours with rates a > b the darker has `exp(-(t/tau)^beta (a^beta - b^beta))` of the other's light, so the pair with
    the largest difference of powers is the first one, and its time follows directly.
    """
    powers = rates**model.beta
    best, place = 0.0, (0, 0)
    for axis in (0, 1):
        steps = np.abs(np.diff(powers, axis=axis)).max(axis=2)
        if not steps.size:
            continue
        at = np.unravel_index(int(steps.argmax()), steps.shape)
        if steps[at] > best:
            y, x = int(at[0]), int(at[1])
            other = (y + 1, x) if axis == 0 else (y, x + 1)
            is_first = powers[y, x].max() >= powers[other].max()
            best, place = float(steps[at]), (y, x) if is_first else other
    if best < ALIKE:
        return FirstSeen(float("inf"), 0, 0)
    hours = model.tau_h * (-log(1 - model.visible) / best) ** (1 / model.beta)
    return FirstSeen(hours, place[1], place[0])


def seen_after(rates: Rates, hours: float, model: WearModel) -> npt.NDArray[np.float32]:
    """(H, W, C): what is left of the light of each pixel after some hours of the calendar, lit full."""
    found: npt.NDArray[np.float32] = np.exp(-((rates * hours / model.tau_h) ** model.beta)).astype(np.float32)
    return found
