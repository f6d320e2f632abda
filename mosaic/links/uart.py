"""Time of bytes over a serial port: start bit, eight data bits, stop bit, with or without parity."""

from dataclasses import dataclass
from fractions import Fraction

from mosaic.errors import BadValueError
from mosaic.panels.sequence import Transaction


@dataclass(frozen=True)
class UartLink:
    """A serial port; its clock is the rate of bits (baud).

    `reply_ms` is the time for which the board waits after each message, for panels that answer.
    """

    clock_hz: int
    parity: bool = False
    reply_ms: int = 0

    def __post_init__(self) -> None:
        if self.clock_hz < 1:
            raise BadValueError(f"a rate of {self.clock_hz} bits a second is not above 0; usual are 9600 to 921600")

    def clocks(self, transactions: tuple[Transaction, ...]) -> int:
        """Bit times of all bytes: 10 a byte, 11 with parity."""
        return sum(len(t.data) for t in transactions) * (11 if self.parity else 10)

    def gaps_s(self, transactions: tuple[Transaction, ...]) -> Fraction:
        """Waits for answers, one for each message that has begun."""
        return sum(1 for t in transactions if t.kind == "command") * Fraction(self.reply_ms, 1000)
