"""From the load back to the cell: what a regulator draws for what it gives."""

from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.errors import BadDescriptionError, BadValueError

HOURS_A_MONTH = 730.5
"""A twelfth of 365.25 days."""
Volts = Annotated[float, Meta(ge=0, le=60)]
MOST_POINTS = 8


@dataclass(frozen=True)
class Regulator:
    """What stands between the cell and the load.

    Attributes
    ----------
    kind : "none": the cell feeds the load; "linear": the load's current goes through, whatever the voltages are; "switching":
        power goes through, less what is lost.
    out_v : that it gives. quiescent_ua : that it draws by itself. drop_v : that a linear one, or a diode before it, needs between
        the cell and the load.
    efficiency : (mA of load, share of the power that comes out), ascending; straight between them, held at the ends.
    """

    kind: Literal["none", "linear", "switching"] = "linear"
    out_v: Volts = 3.3
    quiescent_ua: Annotated[float, Meta(ge=0, le=100_000)] = 5.0
    drop_v: Volts = 0.15
    efficiency: Annotated[tuple[tuple[float, float], ...], Meta(max_length=MOST_POINTS)] = ((0.01, 0.5), (1.0, 0.8), (50.0, 0.88))

    def __post_init__(self) -> None:
        loads = [load for load, _ in self.efficiency]
        if self.kind == "switching" and (not loads or sorted(set(loads)) != loads or loads[0] < 0):
            raise BadDescriptionError("efficiencies stand by ascending load, from 0 mA on, one or more", path="$.efficiency")
        for load, share in self.efficiency:
            if not 0 < share <= 1:
                raise BadDescriptionError(
                    f"an efficiency of {share:.0%} at {load:g} mA cannot be; more than 0 and up to 100 % is accepted",
                    path="$.efficiency",
                )

    def efficiency_at(self, load_ma: float) -> float:
        """The share of the power that comes out at a load, for a switching one.

        >>> Regulator("switching", efficiency=((0.0, 0.5), (10.0, 0.9))).efficiency_at(5.0)
        0.7
        """
        points = self.efficiency
        if load_ma <= points[0][0]:
            return points[0][1]
        for (low, a), (high, b) in pairwise(points):
            if load_ma <= high:
                return a + (b - a) * (load_ma - low) / (high - low)
        return points[-1][1]

    def input_ma(self, load_ma: float, cell_v: float) -> float:
        """The current from the cell, in mA, for a load at `out_v`.

        Linear: the load's own and the quiescent one. Switching: power over efficiency at the cell's voltage, and the quiescent
        one.

        Raises
        ------
        BadValueError
            The load is negative, or the cell has no voltage.
        """
        if load_ma < 0 or cell_v <= 0:
            raise BadValueError(
                f"a load of {load_ma:g} mA from {cell_v:g} V cannot be; 0 mA and more from above 0 V are accepted"
            )
        if self.kind == "none":
            return load_ma
        if self.kind == "linear":
            return load_ma + self.quiescent_ua / 1000
        return self.out_v * load_ma / (self.efficiency_at(load_ma) * cell_v) + self.quiescent_ua / 1000

    def least_in_v(self) -> float:
        """The lowest voltage that it works from: of a switching one, that steps up or down, none is known here."""
        return self.out_v + self.drop_v if self.kind == "linear" else 0.0

    def why_not(self, cell_v: float) -> str:
        """Why it cannot work from a voltage; "" where it can."""
        if self.kind == "linear" and cell_v < self.out_v + self.drop_v:
            return (
                f"a linear regulator needs {self.out_v + self.drop_v:.2f} V for {self.out_v:g} V, and the cell gives {cell_v:g} V"
            )
        return ""


@dataclass(frozen=True)
class Wall:
    """A supply from the wall: the share of the power that it passes on, and what it draws with nothing connected. Typical."""

    efficiency: Annotated[float, Meta(gt=0, le=1)] = 0.75
    idle_mw: Annotated[float, Meta(ge=0, le=10_000)] = 75.0

    def wh_a_day(self, load_ma: float, volts: float) -> float:
        """Wh from the wall in a day for a mean load."""
        return 24 * (load_ma * volts / 1000 / self.efficiency + self.idle_mw / 1000)
