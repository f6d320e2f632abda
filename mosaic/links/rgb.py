"""Time of a scan: a panel without memory is fed a pixel a clock, porches and all, for ever."""

from dataclasses import dataclass
from fractions import Fraction

from mosaic.errors import BadValueError
from mosaic.panels.sequence import Transaction


@dataclass(frozen=True)
class RgbLink:
    """Parallel RGB; its clock is the pixel clock. `total_pixels` is total width x total height."""

    clock_hz: int
    total_pixels: int

    def __post_init__(self) -> None:
        if self.clock_hz < 1 or self.total_pixels < 1:
            raise BadValueError("a scan needs a pixel clock and totals above 0")

    def clocks(self, transactions: tuple[Transaction, ...]) -> int:
        """Clocks of the scans in these transactions, each with its porches."""
        return sum(self.total_pixels for t in transactions if t.is_pixels)

    def gaps_s(self, transactions: tuple[Transaction, ...]) -> Fraction:
        """Porches are counted as clocks."""
        return Fraction(0)
