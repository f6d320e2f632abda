"""Time of a parallel bus: one write cycle for one byte, or for two on sixteen lines."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from mosaic.errors import BadValueError
from mosaic.panels.sequence import Transaction


@dataclass(frozen=True)
class ParallelLink:
    """An 8- or 16-bit bus; its clock is the rate of write cycles."""

    clock_hz: int
    width_bits: Literal[8, 16] = 8

    def __post_init__(self) -> None:
        if self.clock_hz < 1:
            raise BadValueError(f"{self.clock_hz} write cycles a second is not above 0; usual are 1000000 to 20000000")

    def clocks(self, transactions: tuple[Transaction, ...]) -> int:
        """Write cycles: a byte each for commands and operands, on 16 lines two bytes of pixels each."""
        return sum(self._cycles(t) for t in transactions)

    def _cycles(self, transaction: Transaction) -> int:
        count = len(transaction.data)
        if self.width_bits == 16 and transaction.is_pixels:
            return -(-count // 2)
        return count

    def gaps_s(self, transactions: tuple[Transaction, ...]) -> Fraction:
        """The data/command line changes within a cycle."""
        return Fraction(0)
