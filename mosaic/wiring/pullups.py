"""Pull-up resistors of an I2C bus: the range that both the drivers and the rise time allow.

At least (Vdd - 0.4 V) / I_sink, so that a driver can pull the line low; at most t_rise / (0.8473 C), so that it rises in
time. I_sink is 3 mA up to 400 kHz and 20 mA at 1 MHz; t_rise 1000, 300 and 120 ns (the bus's specification).
"""

from dataclasses import dataclass

from mosaic.errors import BadValueError

LOW_V = 0.4
RISE_FACTOR = 0.8473
# (clock up to, sink current in A, rise time in s, most capacitance in pF)
SPEEDS = ((100_000, 0.003, 1000e-9, 400.0), (400_000, 0.003, 300e-9, 400.0), (1_000_000, 0.020, 120e-9, 550.0))


@dataclass(frozen=True)
class PullUpRange:
    """Resistance from each line to the rail, in ohms; there is no solution where the least is above the most."""

    least_ohm: float
    most_ohm: float

    @property
    def has_solution(self) -> bool:
        return self.least_ohm <= self.most_ohm

    def holds(self, ohm: float) -> bool:
        return self.least_ohm <= ohm <= self.most_ohm


def pull_up_range(clock_hz: int, rail_v: float, bus_pf: float) -> PullUpRange:
    """The range at a clock.

    >>> r = pull_up_range(400_000, 3.3, 100)
    >>> round(r.least_ohm), round(r.most_ohm)
    (967, 3541)

    Raises
    ------
    BadValueError
        The clock is above 1 MHz, or a value is not above 0.
    """
    if not (rail_v > LOW_V and bus_pf > 0 and clock_hz > 0):
        raise BadValueError(f"rail {rail_v} V, bus {bus_pf} pF and clock {clock_hz} Hz must all be above 0")
    speed = next((s for s in SPEEDS if clock_hz <= s[0]), None)
    if speed is None:
        raise BadValueError(f"{clock_hz:,} Hz is above 1 MHz, for which no pull-ups are given")
    _, sink_a, rise_s, _ = speed
    return PullUpRange((rail_v - LOW_V) / sink_a, rise_s / (RISE_FACTOR * bus_pf * 1e-12))


def most_capacitance_pf(clock_hz: int) -> float:
    """Capacitance that a bus may have at a clock."""
    return next((pf for most, _, _, pf in SPEEDS if clock_hz <= most), SPEEDS[-1][3])


def in_parallel(*ohms: float) -> float:
    """Resistance of resistors side by side; those of 0 are not there. Infinite where there are none.

    >>> round(in_parallel(4700, 4700, 10000))
    1903
    """
    conductance = sum(1 / ohm for ohm in ohms if ohm)
    return 1 / conductance if conductance else float("inf")


# Values a maker has in the drawer.
USUAL_OHMS = (1000, 1500, 2200, 2700, 3300, 4700, 6800, 10_000)


def to_add(present_ohm: float, wanted: PullUpRange) -> int | None:
    """A usual resistor that brings what is there into the range; None where none does, 0 where none is needed."""
    if wanted.holds(present_ohm):
        return 0
    fitting = [ohm for ohm in USUAL_OHMS if wanted.holds(in_parallel(present_ohm, ohm) if present_ohm != float("inf") else ohm)]
    return max(fitting, default=None)
