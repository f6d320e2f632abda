"""What every virtual controller shares: taking transactions, reading operands, reporting misuse."""

from collections.abc import Iterable

import numpy as np
import numpy.typing as npt

from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction

GlassArray = npt.NDArray[np.uint8]


class VirtualController:
    """A controller with its RAM, from power-up on.

    A subclass names the commands that take operands in `OPERANDS` and carries them out in
    `execute`; bytes that follow a memory write command arrive in `write`.

    Attributes
    ----------
    misuse : list of str
        What a real device would have ignored, or worse, in the order in which it happened.
    byte_count : int
        Bytes taken so far.
    """

    OPERANDS: dict[int, int] = {}
    OPERANDS_ARE_COMMANDS = False

    def __init__(self, passport: Passport) -> None:
        self.passport = passport
        self.misuse: list[str] = []
        self.byte_count = 0
        self.was_reset = False
        self.power_up()

    def power_up(self) -> None:
        """Registers and RAM after power-up and after reset."""
        self.command = -1
        self.operands: list[int] = []
        self.is_on = False

    def execute(self, command: int, operands: list[int]) -> None:
        """Carry out a command whose operands are complete."""
        raise NotImplementedError

    def write(self, data: npt.NDArray[np.uint8]) -> None:
        """Take bytes of picture data at the address counters."""
        raise NotImplementedError

    def takes_data(self) -> bool:
        """Whether data bytes now go to the memory."""
        raise NotImplementedError

    def glass(self) -> GlassArray:
        """(H, W, 3) uint8 native: the numbers or channel values that stand behind each visible pixel."""
        raise NotImplementedError

    def play(self, transactions: Iterable[Transaction]) -> None:
        """Take everything that is sent, in order."""
        for transaction in transactions:
            self.take(transaction)

    def take(self, transaction: Transaction) -> None:
        """Take one transaction."""
        if transaction.kind == "reset":
            self.was_reset = True
            self.power_up()
        elif transaction.kind == "command":
            self.byte_count += len(transaction.data)
            for byte in transaction.data:
                self._take_command(byte)
        elif transaction.kind == "data":
            self.byte_count += len(transaction.data)
            self._take_data(transaction.data)

    def _take_command(self, byte: int) -> None:
        if not self.was_reset:
            self.misuse.append(f"command {byte:02X} before any reset")
        if self.OPERANDS_ARE_COMMANDS and len(self.operands) < self._wanted():
            self._take_operand(byte)
            return
        if len(self.operands) < self._wanted():
            self.misuse.append(f"command {self.command:02X} left with {len(self.operands)} of {self._wanted()} operands")
        self.command, self.operands = byte, []
        if not self._wanted():
            self.execute(byte, [])

    def _take_data(self, data: bytes) -> None:
        missing = max(0, self._wanted() - len(self.operands)) if not self.OPERANDS_ARE_COMMANDS else 0
        for byte in data[:missing]:
            self._take_operand(byte)
        rest = data[missing:]
        if not rest:
            return
        if self.takes_data():
            self.write(np.frombuffer(rest, np.uint8))
        else:
            self.misuse.append(f"{len(rest):,} data bytes after command {self.command:02X}, which takes none")

    def _take_operand(self, byte: int) -> None:
        self.operands.append(byte)
        if len(self.operands) == self._wanted():
            self.execute(self.command, self.operands)

    def _wanted(self) -> int:
        return self.OPERANDS.get(self.command, 0)


def window_walk(start: int, count: int, columns: int, rows: int) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """(column, row) counters of `count` steps through a window, x first, beginning at step `start`.

    The counters wrap from the window's last cell to its first.
    """
    cell = (start + np.arange(count, dtype=np.int64)) % (columns * rows)
    return cell % columns, cell // columns


def values_of_words(high: npt.NDArray[np.uint8], low: npt.NDArray[np.uint8]) -> npt.NDArray[np.uint8]:
    """(N, 3) 8-bit values of pixels in 5-6-5 bits; low bits repeat the high ones, as the glass shows them."""
    r, g, b = high >> 3, (high & 7) << 3 | low >> 5, low & 31
    return np.stack([r << 3 | r >> 2, g << 2 | g >> 4, b << 3 | b >> 2], axis=-1)
