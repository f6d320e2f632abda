"""A window controller on quad SPI: each transfer opens with a header of four bytes."""

import numpy as np

from mosaic.panels.sequence import Transaction
from mosaic.virtual.window import WindowTft

ONE_LINE, FOUR_LINES = 0x02, 0x32


class QuadWindow(WindowTft):
    """Colour controller behind headers: opcode, 00, command, 00; windows of even start and size only.

    The opcode says whether what follows comes on one line (operands) or on four (pixels).
    """

    OPERANDS = {**WindowTft.OPERANDS, 0x35: 1, 0x44: 2, 0x51: 1, 0x53: 1, 0x63: 1, 0xC4: 1, 0xFE: 1}

    def _take_bytes(self, transaction: Transaction, start: int, stop: int) -> None:
        if transaction.kind != "command":
            super()._take_bytes(transaction, start, stop)
            return
        header = transaction.data
        if len(header) != 4 or header[0] not in (ONE_LINE, FOUR_LINES) or header[1] or header[3]:
            self.report("bad-value", f"header {header.hex(' ')} is not opcode, 00, command, 00")
            return
        if (header[0] == FOUR_LINES) != (header[2] == self.WRITE):
            self.report("bad-value", f"opcode {header[0]:02X} does not go with command {header[2]:02X}")
            return
        self._take_command(header[2])

    def write(self, data: np.ndarray) -> None:
        x0, x1, y0, y1 = self.window
        if x0 % 2 or y0 % 2 or not x1 % 2 or not y1 % 2:
            self.report("bad-value", f"window {x0}-{x1}, {y0}-{y1} does not begin and end on pairs of pixels")
            return
        super().write(data)
