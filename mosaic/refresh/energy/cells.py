"""Kinds of cells, with figures that are typical of their chemistry and size."""

from dataclasses import dataclass

from mosaic.refresh.energy.supply import HOURS_A_MONTH
from mosaic.registry import Registry

LITHIUM = (
    "Lithium cells burn when they are shorted, pierced, overcharged or charged below 0 °C: use one with its own protection, and a"
    " charger made for it. Follow the maker's sheet and local rules."
)
COIN = "Keep coin cells from children: swallowed, one burns the gullet within hours. A pulse of 10 mA makes its voltage sag."
PRIMARY = "It cannot be charged: do not try. Remove it when it is empty, for it leaks."


@dataclass(frozen=True)
class CellKind:
    """A kind of cell. All figures are typical.

    Attributes
    ----------
    nominal_v, capacity_mah : as printed on it. end_v : at which it counts as empty. count : cells in series.
    usable_share : of the capacity down to `end_v` at small currents. cold_share : of that at -10 °C.
    pulse_ma : of what more its voltage sags too far. self_discharge : share of the capacity a month.
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

    @property
    def volts(self) -> float:
        """Of all in series."""
        return self.nominal_v * self.count

    @property
    def self_discharge_ma(self) -> float:
        """The current that self-discharge comes to, in mA."""
        return self.capacity_mah * self.self_discharge / HOURS_A_MONTH

    def usable_mah(self, *, cold: bool = False) -> float:
        """mAh that can be drawn."""
        return self.capacity_mah * self.usable_share * (self.cold_share if cold else 1.0)


CELLS: Registry[CellKind] = Registry(
    "cell",
    (
            CellKind("alkaline-aaa", "2 alkaline cells, AAA", 1.5, 1000, 1.0, 0.8, 300, 0.003, 0.45, PRIMARY, 2),
            CellKind("alkaline-aa", "2 alkaline cells, AA", 1.5, 2500, 1.0, 0.8, 600, 0.003, 0.45, PRIMARY, 2),
            CellKind("alkaline-d", "2 alkaline cells, D", 1.5, 14_000, 1.0, 0.8, 1500, 0.003, 0.5, PRIMARY, 2),
            CellKind("lithium-aa", "2 lithium cells, AA, that cannot be charged", 1.5, 3000, 1.1, 0.95, 1500, 0.001, 0.85,
                     PRIMARY, 2),
            CellKind("nimh-aa", "2 nickel-metal cells, AA, of low self-discharge", 1.2, 2000, 1.0, 0.9, 2000, 0.02, 0.6,
                     "Charge them in a charger made for them.", 2),
            CellKind("coin-20", "coin cell, 20 mm across, 3.2 mm thick", 3.0, 220, 2.0, 0.85, 10, 0.001, 0.6, COIN),
            CellKind("coin-24", "coin cell, 24 mm across, 5 mm thick", 3.0, 600, 2.0, 0.85, 15, 0.001, 0.6, COIN),
            CellKind("pouch-500", "lithium pouch, 500 mAh", 3.7, 500, 3.3, 0.8, 500, 0.025, 0.7, LITHIUM),
            CellKind("pouch-1200", "lithium pouch, 1,200 mAh", 3.7, 1200, 3.3, 0.8, 1200, 0.025, 0.7, LITHIUM),
            CellKind("pouch-2500", "lithium pouch, 2,500 mAh", 3.7, 2500, 3.3, 0.8, 2500, 0.025, 0.7, LITHIUM),
            CellKind("round-18", "lithium cell, 18 mm across, 65 mm long", 3.6, 3000, 3.0, 0.9, 3000, 0.025, 0.7, LITHIUM),
    ),
    lambda one: one.slug,
)  # fmt: skip
