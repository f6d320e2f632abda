"""How far measurements are from predictions: one factor with its spread, and what does not belong to it."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from statistics import median

TOO_FAR = 3.5
"""From so many times the usual distance from the median on, a ratio is an outlier (Iglewicz and Hoaglin 1993)."""
NORMAL = 1.4826
"""A median distance times this is a standard deviation, where errors are normal."""
LEAST_SPREAD = 0.02
"""Ratios that lie closer together than meters can tell are not told apart."""


@dataclass(frozen=True)
class Pair:
    """A measurement and what was predicted when it was taken, both in one unit; `key` names it."""

    key: int
    measured: float
    predicted: float

    @property
    def ratio(self) -> float:
        return self.measured / self.predicted


@dataclass(frozen=True)
class Factor:
    """What predictions are to be multiplied with.

    Attributes
    ----------
    factor : by least squares through the origin, sum of p m over sum of p². spread : standard error of it; None with one pair.
    low, high : the factor less and plus twice its spread. used, outliers : keys of pairs.
    """

    factor: float
    spread: float | None
    used: tuple[int, ...]
    outliers: tuple[int, ...]

    @property
    def low(self) -> float:
        return self.factor - 2 * (self.spread or 0.0)

    @property
    def high(self) -> float:
        return self.factor + 2 * (self.spread or 0.0)


def outliers_of(pairs: Sequence[Pair]) -> tuple[int, ...]:
    """Keys of pairs whose ratio lies far from the others'; none among fewer than four."""
    if len(pairs) < 4:
        return ()
    ratios = [pair.ratio for pair in pairs]
    middle = median(ratios)
    usual = max(NORMAL * median(abs(ratio - middle) for ratio in ratios), LEAST_SPREAD * abs(middle))
    return tuple(pair.key for pair in pairs if abs(pair.ratio - middle) > TOO_FAR * usual)


def factor_of(pairs: Sequence[Pair]) -> Factor | None:
    """The factor of measurements; None where there is none that has a prediction.

    >>> found = factor_of([Pair(1, 11.0, 10.0), Pair(2, 22.0, 20.0)])
    >>> round(found.factor, 6), found.spread
    (1.1, 0.0)
    """
    usable = [pair for pair in pairs if pair.predicted > 0]
    if not usable:
        return None
    far = outliers_of(usable)
    kept = [pair for pair in usable if pair.key not in far]
    squares = sum(pair.predicted**2 for pair in kept)
    factor = sum(pair.predicted * pair.measured for pair in kept) / squares
    spread = None
    if len(kept) > 1:
        rest = sum((pair.measured - factor * pair.predicted) ** 2 for pair in kept)
        spread = sqrt(rest / (len(kept) - 1) / squares)
        spread = 0.0 if spread < 1e-12 else spread
    return Factor(factor, spread, tuple(pair.key for pair in kept), far)
