"""Time of I2C transactions: 9 clocks a byte (8 and acknowledge), plus start and stop."""

from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby

from mosaic.errors import BadValueError
from mosaic.panels.sequence import Transaction

CLOCKS_PER_BYTE = 9
LEADING_BYTES = 2  # address byte and control byte open every transaction


@dataclass(frozen=True)
class I2cLink:
    """An I2C link.

    Attributes
    ----------
    clock_hz : int
        Clock of the bus.
    transaction_bytes : int or None
        Most bytes after the address byte that the board sends in one transaction; None for
        no limit. The control byte is one of them.
    start_stop_clocks : int
        Clocks for start and stop together; more where the library is slow.
    single_commands : bool
        Each byte of a command in a transaction of its own, as simple libraries send them; else commands of one byte that
        follow each other, such as page and column, share one, behind one control byte.
    grouped : bool
        False where transactions are those of a capture: each stands as it was.
    """

    clock_hz: int
    transaction_bytes: int | None = None
    start_stop_clocks: int = 2
    single_commands: bool = False
    grouped: bool = True

    def __post_init__(self) -> None:
        if self.clock_hz < 1:
            raise BadValueError(f"clock {self.clock_hz} Hz is not above 0; usual are 100000, 400000 and 1000000")
        if self.transaction_bytes is not None and self.transaction_bytes < 2:
            raise BadValueError(f"a limit of {self.transaction_bytes} bytes leaves no room for data; it is 2 or more")

    def transactions_for(self, byte_count: int) -> int:
        """How many transactions `byte_count` bytes of payload take."""
        if self.transaction_bytes is None:
            return 1
        return -(-byte_count // (self.transaction_bytes - 1))

    def clocks(self, transactions: tuple[Transaction, ...]) -> int:
        """Clocks of all bytes, with address, control, start and stop of each transaction."""
        total = 0
        for payload in self._payloads(transactions):
            count = self.transactions_for(payload)
            total += (payload + count * LEADING_BYTES) * CLOCKS_PER_BYTE + count * self.start_stop_clocks
        return total

    def _payloads(self, transactions: tuple[Transaction, ...]) -> list[int]:
        """Bytes behind each control byte: commands of one byte that follow each other together, or each command byte alone."""
        payloads: list[int] = []
        sent = (t for t in transactions if t.data)
        for (is_command, is_single), run in groupby(sent, key=lambda t: (t.kind == "command", len(t.data) == 1)):
            sizes = [len(t.data) for t in run]
            if is_command and self.grouped and self.single_commands:
                payloads += [1] * sum(sizes)
            elif is_command and self.grouped and is_single:
                payloads.append(sum(sizes))
            else:
                payloads += sizes
        return payloads

    def gaps_s(self, transactions: tuple[Transaction, ...]) -> Fraction:
        """I2C has no gaps of its own here; slow libraries are told by `start_stop_clocks`."""
        return Fraction(0)
