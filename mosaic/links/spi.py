"""Time of SPI transactions: 8 clocks a byte with a data/command line, 9 without."""

from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import Literal

from mosaic.errors import BadValueError
from mosaic.panels.sequence import Transaction

NANO = Fraction(1, 10**9)


@dataclass(frozen=True)
class SpiLink:
    """An SPI link.

    Attributes
    ----------
    clock_hz : int
        Clock of the bus.
    wires : 3 or 4
        With 3 the data/command flag is the first of nine bits; with 4 it has a line of its own.
    byte_gap_ns : int
        Pause between two bytes, also of runs that follow each other; 0 with DMA.
    switch_ns : int
        Fixed cost whenever the data/command line or chip select changes.
    prefix_bytes : int
        Bytes sent before each run of command or data bytes, where they say which of them it is.
    """

    clock_hz: int
    wires: Literal[3, 4] = 4
    byte_gap_ns: int = 0
    switch_ns: int = 0
    prefix_bytes: int = 0

    def __post_init__(self) -> None:
        if self.clock_hz < 1:
            raise BadValueError(f"clock {self.clock_hz} Hz is not above 0; usual are 4000000 to 40000000")

    def clocks(self, transactions: tuple[Transaction, ...]) -> int:
        """Clocks of all bytes."""
        sent = sum(len(t.data) + self.prefix_bytes for t in transactions if t.data)
        return sent * (8 if self.wires == 4 else 9)

    def gaps_s(self, transactions: tuple[Transaction, ...]) -> Fraction:
        """Seconds of pauses between bytes and of switching between command and data."""
        sent = [t for t in transactions if t.data]
        between = max(0, sum(len(t.data) + self.prefix_bytes for t in sent) - 1)
        switches = sum(1 for a, b in pairwise(sent) if a.kind != b.kind) + (1 if sent else 0)
        return (between * self.byte_gap_ns + switches * self.switch_ns) * NANO
