"""Time of quad SPI: a header on one line, then pixels on four, two clocks a byte."""

from dataclasses import dataclass
from fractions import Fraction

from mosaic.errors import BadValueError
from mosaic.panels.sequence import Transaction


@dataclass(frozen=True)
class QspiLink:
    """A quad SPI link; each transfer opens with a command and address header on one line.

    `select_ns` is the cost of each transfer, for releasing and taking the select line.
    """

    clock_hz: int
    select_ns: int = 0

    def __post_init__(self) -> None:
        if self.clock_hz < 1:
            raise BadValueError(f"clock {self.clock_hz} Hz is not above 0; usual are 20000000 to 80000000")

    def clocks(self, transactions: tuple[Transaction, ...]) -> int:
        """8 clocks a byte for headers and operands, 2 for pixels."""
        return sum(len(t.data) * (2 if t.is_pixels else 8) for t in transactions)

    def gaps_s(self, transactions: tuple[Transaction, ...]) -> Fraction:
        """One pause for each header."""
        return sum(1 for t in transactions if t.kind == "command") * self.select_ns * Fraction(1, 10**9)
