"""Kinds of cells, with figures that are typical of their chemistry and size."""

from dataclasses import dataclass
from itertools import pairwise

from mosaic.refresh.energy.supply import HOURS_A_MONTH
from mosaic.registry import Registry

LITHIUM = (
    "Lithium cells burn when they are shorted, pierced, overcharged or charged below 0 °C: use one with its own protection, and a"
    " charger made for it. Follow the maker's sheet and local rules."
)
COIN = "Keep coin cells from children: swallowed, one burns the gullet within hours. A pulse of 10 mA makes its voltage sag."
PRIMARY = "It cannot be charged: do not try. Remove it when it is empty, for it leaks."


USUAL_C, COLD_C, LEAST_COLD = 20.0, -10.0, 0.1
CURVES: dict[str, tuple[tuple[float, float], ...]] = {
    "alkaline": ((0.0, 1.58), (0.1, 1.42), (0.3, 1.3), (0.5, 1.22), (0.7, 1.12), (0.85, 1.0), (0.95, 0.9), (1.0, 0.8)),
    "lithium, not charged": ((0.0, 1.75), (0.05, 1.6), (0.5, 1.5), (0.85, 1.4), (0.95, 1.1), (1.0, 0.9)),
    "nickel-metal": ((0.0, 1.4), (0.1, 1.3), (0.5, 1.25), (0.85, 1.2), (0.95, 1.0), (1.0, 0.9)),
    "coin": ((0.0, 3.2), (0.05, 3.0), (0.7, 2.9), (0.9, 2.6), (1.0, 2.0)),
    "lithium, charged": ((0.0, 4.2), (0.1, 4.05), (0.3, 3.85), (0.5, 3.72), (0.7, 3.62), (0.85, 3.5), (0.95, 3.3), (1.0, 3.0)),
}
"""By chemistry (share that has been drawn, voltage of a cell) at small currents and 20 °C. Typical."""


def drawn_at(chemistry: str, volts: float) -> float:
    """The share of a charge that has been drawn when the voltage of a cell has fallen so far; straight between the points.

    >>> drawn_at("coin", 2.6), drawn_at("coin", 3.5), drawn_at("coin", 1.0)
    (0.9, 0.0, 1.0)
    """
    points = CURVES[chemistry]
    if volts >= points[0][1]:
        return points[0][0]
    for (a, high), (b, low) in pairwise(points):
        if volts >= low:
            return a + (b - a) * (high - volts) / (high - low)
    return 1.0


@dataclass(frozen=True)
class CellKind:
    """A kind of cell. All figures are typical.

    Attributes
    ----------
    nominal_v, capacity_mah : as printed on it. end_v : at which it counts as empty.
    usable_share : of the capacity down to `end_v` at small currents. cold_share : of that at -10 °C.
    pulse_ma : of what more its voltage sags too far. self_discharge : share of the capacity a month.
    chemistry : of `CURVES`. count : in series.
    """

    slug: str
    name: str
    nominal_v: float
    capacity_mah: float
    end_v: float
    usable_share: float
    pulse_ma: float
    self_discharge: float
    cold_share: float
    caution: str
    count: int = 1
    chemistry: str = "lithium, charged"

    @property
    def volts(self) -> float:
        """Of all in series."""
        return self.nominal_v * self.count

    @property
    def self_discharge_ma(self) -> float:
        """The current that self-discharge comes to, in mA."""
        return self.capacity_mah * self.self_discharge / HOURS_A_MONTH

    @property
    def full_v(self) -> float:
        """Of all in series, fresh or charged."""
        return CURVES[self.chemistry][0][1] * self.count

    def share_until(self, least_v: float) -> float:
        """The share of the capacity that can be drawn before all in series fall below a voltage, or are empty."""
        own = drawn_at(self.chemistry, self.end_v)
        return self.usable_share * min(1.0, drawn_at(self.chemistry, max(self.end_v, least_v / self.count)) / own) if own else 0.0

    def share_at(self, celsius: float) -> float:
        """What a temperature leaves of that: all at 20 °C and above, straight to `cold_share` at -10 °C and on.

        >>> CELLS["pouch-500"].share_at(20), round(CELLS["pouch-500"].share_at(-10), 2), round(CELLS["pouch-500"].share_at(5), 2)
        (1.0, 0.7, 0.85)
        """
        lost = (1 - self.cold_share) * (USUAL_C - celsius) / (USUAL_C - COLD_C)
        return min(1.0, max(LEAST_COLD, 1 - lost))

    def usable_mah(self, *, celsius: float = USUAL_C, least_v: float = 0.0) -> float:
        """mAh that can be drawn at a temperature while the load needs a voltage."""
        return self.capacity_mah * self.share_until(least_v) * self.share_at(celsius)


CELLS: Registry[CellKind] = Registry(
    "cell",
    (
            CellKind("alkaline-aaa", "2 alkaline cells, AAA", 1.5, 1000, 1.0, 0.8, 300, 0.003, 0.45, PRIMARY, 2, "alkaline"),
            CellKind("alkaline-aa", "2 alkaline cells, AA", 1.5, 2500, 1.0, 0.8, 600, 0.003, 0.45, PRIMARY, 2, "alkaline"),
            CellKind("alkaline-d", "2 alkaline cells, D", 1.5, 14_000, 1.0, 0.8, 1500, 0.003, 0.5, PRIMARY, 2, "alkaline"),
            CellKind("lithium-aa", "2 lithium cells, AA, that cannot be charged", 1.5, 3000, 1.1, 0.95, 1500, 0.001, 0.85,
                     PRIMARY, 2, "lithium, not charged"),
            CellKind("nimh-aa", "2 nickel-metal cells, AA, of low self-discharge", 1.2, 2000, 1.0, 0.9, 2000, 0.02, 0.6,
                     "Charge them in a charger made for them.", 2, "nickel-metal"),
            CellKind("coin-20", "coin cell, 20 mm across, 3.2 mm thick", 3.0, 220, 2.0, 0.85, 10, 0.001, 0.6, COIN,
                     chemistry="coin"),
            CellKind("coin-24", "coin cell, 24 mm across, 5 mm thick", 3.0, 600, 2.0, 0.85, 15, 0.001, 0.6, COIN,
                     chemistry="coin"),
            CellKind("pouch-500", "lithium pouch, 500 mAh", 3.7, 500, 3.3, 0.8, 500, 0.025, 0.7, LITHIUM),
            CellKind("pouch-1200", "lithium pouch, 1,200 mAh", 3.7, 1200, 3.3, 0.8, 1200, 0.025, 0.7, LITHIUM),
            CellKind("pouch-2500", "lithium pouch, 2,500 mAh", 3.7, 2500, 3.3, 0.8, 2500, 0.025, 0.7, LITHIUM),
            CellKind("round-18", "lithium cell, 18 mm across, 65 mm long", 3.6, 3000, 3.0, 0.9, 3000, 0.025, 0.7, LITHIUM),
    ),
    lambda one: one.slug,
)  # fmt: skip
