"""What every virtual controller shares: taking transactions, reading operands, time, reporting misuse."""

from collections.abc import Iterable
from fractions import Fraction

import numpy as np
import numpy.typing as npt

from mosaic.errors import UnknownNameError
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction
from mosaic.virtual.misuse import KINDS, Misuse

NO_TIME = Fraction(0)
GlassArray = npt.NDArray[np.uint8]


class VirtualController:
    """A controller with its RAM, from power-up on.

    A subclass names the commands that take operands in `OPERANDS` and carries them out in
    `execute`; bytes that follow a memory write command arrive in `write`.

    Attributes
    ----------
    misuse : list of Misuse
        What a real device would have ignored, or worse, in the order in which it happened.
    byte_count : int
        Bytes taken so far.
    now_ms : Fraction
        Time since power-up: waits that were sent, and what `take` was told of the wire. Exact.
    busy_until_ms : Fraction
        When the panel will be idle again.
    """

    OPERANDS: dict[int, int] = {}
    OPERANDS_ARE_COMMANDS = False
    SETTINGS: frozenset[int] = frozenset()
    """Commands of the family that set voltages, timing, tone and the like, which the shown picture does not depend on; with
    however many operands."""

    def __init__(self, passport: Passport) -> None:
        self.passport = passport
        self.misuse: list[Misuse] = []
        self.byte_count = 0
        self.was_reset = not self._has_reset()
        self.now_ms = self.busy_until_ms = Fraction(0)
        self.transaction_count = 0
        self._byte = 0
        self._told_busy = False
        self.power_up()

    def power_up(self) -> None:
        """Registers and RAM after power-up and after reset."""
        self.command = -1
        self.operands: list[int] = []
        self.is_on = False

    def execute(self, command: int, operands: list[int]) -> None:
        """Apply a command whose operands are complete."""
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

    def leave(self) -> None:
        """The command so far is done with: the next one comes, or nothing more."""

    def report(self, kind: str, text: str) -> None:
        """Note a misuse of one of `misuse.KINDS` at the place reached so far."""
        if kind not in KINDS:
            raise UnknownNameError(f"misuse of kind {kind!r}; kinds are {', '.join(KINDS)}")
        self.misuse.append(Misuse(kind, text, self.transaction_count, self._byte))

    def holds_window(self, what: str, across: tuple[int, int], down: tuple[int, int], size: tuple[int, int]) -> bool:
        """Whether a window from first to last (column, row) lies in a RAM of `size` (columns, rows); tells what does not."""
        words = f"{what} {across[0]}-{across[1]}, {down[0]}-{down[1]}"
        if across[1] < across[0] or down[1] < down[0]:
            self.report("reversed", f"{words} is reversed: it ends before it begins")
            return False
        if across[1] >= size[0] or down[1] >= size[1]:
            self.report("outside", f"{words} lies outside the RAM of {size[0]} by {size[1]}")
            return False
        return True

    @property
    def is_busy(self) -> bool:
        return self.now_ms < self.busy_until_ms

    def play(self, transactions: Iterable[Transaction]) -> None:
        """Take everything that is sent, in order."""
        for transaction in transactions:
            self.take(transaction)

    def take(self, transaction: Transaction, wire_ms: Fraction = NO_TIME) -> None:
        """Take one transaction, which is on the wire for `wire_ms`."""
        self.take_slice(transaction, 0, len(transaction.data), wire_ms)

    def take_slice(self, transaction: Transaction, start: int, stop: int, wire_ms: Fraction) -> None:
        """Take bytes `start` to `stop` of a transaction, slice by slice until its end; only data comes in slices."""
        if start == 0:
            self.transaction_count += 1
            self._byte = 0
        if transaction.kind == "reset":
            self.was_reset = True
            self.busy_until_ms = self.now_ms
            self.power_up()
        elif transaction.kind == "delay":
            self.now_ms += Fraction(transaction.wait_ms)
        elif transaction.kind == "busy":
            self.now_ms = max(self.now_ms, self.busy_until_ms)
        else:
            self._check_idle()
            self.byte_count += stop - start
            self.now_ms += wire_ms
            self._take_bytes(transaction, start, stop)

    def finish(self) -> None:
        """Nothing more is sent."""
        self.leave()

    def _take_bytes(self, transaction: Transaction, start: int, stop: int) -> None:
        if transaction.kind == "command":
            for byte in transaction.data:
                self._byte += 1
                self._take_command(byte)
        else:
            self._take_data(transaction.data[start:stop])

    def _check_idle(self) -> None:
        if self.is_busy and not self._told_busy:
            left = self.busy_until_ms - self.now_ms
            self.report("busy", f"sent while the panel is busy, for {float(left):,.0f} ms more; wait for its busy line")
        self._told_busy = self.is_busy

    def _take_command(self, byte: int) -> None:
        if not self.was_reset:
            self.report("no-reset", f"command {byte:02X} before any reset")
            self.was_reset = True  # said once
        if self.OPERANDS_ARE_COMMANDS and len(self.operands) < self._wanted():
            self._take_operand(byte)
            return
        self.leave()
        if len(self.operands) < self._wanted():
            text = f"command {self.command:02X} left with {len(self.operands)} of {self._wanted()} operands"
            self.report("unfinished", text)
        self.command, self.operands = byte, []
        if not self._wanted():
            self.execute(byte, [])

    def _take_data(self, data: bytes) -> None:
        if self.command < 0 and data:
            self.report("before-set-up", f"{len(data):,} data bytes before any set-up")
        missing = max(0, self._wanted() - len(self.operands)) if not self.OPERANDS_ARE_COMMANDS else 0
        for byte in data[:missing]:
            self._byte += 1
            self._take_operand(byte)
        rest = data[missing:]
        if not rest:
            return
        self._byte += 1
        if self.takes_data():
            self.write(np.frombuffer(rest, np.uint8))
            self._byte += len(rest) - 1
        elif self.command >= 0 and self.command not in self.SETTINGS:
            self.report("stray-data", f"{len(rest):,} data bytes after command {self.command:02X}, which takes none")

    def knows(self, command: int) -> bool:
        """Whether a command that changes nothing here is one of the family's."""
        return command in self.OPERANDS or command in self.SETTINGS

    def _has_reset(self) -> bool:
        """Whether the module has a reset line; one whose pins are not known may have."""
        pins = self.passport.module.pins
        return not pins or any(pin.function == "reset" for pin in pins)

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


DISPLAY = {0xA4: "all off", 0xA5: "all on", 0xA6: "normal", 0xA7: "inverted"}
"""Display settings as most grey and colour OLEDs number them."""


def displayed(shown: GlassArray, how: str, most: int, *, inverted_glass: bool) -> GlassArray:
    """What a display setting makes of levels 0 to `most`: "normal", "all on", "all off" or "inverted"."""
    if how in ("all on", "all off"):
        return np.full_like(shown, most if (how == "all on") != inverted_glass else 0)
    return most - shown if (how == "inverted") != inverted_glass else shown


def values_of_words(high: npt.NDArray[np.uint8], low: npt.NDArray[np.uint8]) -> npt.NDArray[np.uint8]:
    """(N, 3) 8-bit values of pixels in 5-6-5 bits; low bits repeat the high ones, as the glass shows them."""
    r, g, b = high >> 3, (high & 7) << 3 | low >> 5, low & 31
    return np.stack([r << 3 | r >> 2, g << 2 | g >> 4, b << 3 | b >> 2], axis=-1)
