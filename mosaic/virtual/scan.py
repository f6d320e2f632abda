"""A panel without memory: it shows the scan that is being sent, and nothing once it stops."""

import numpy as np

from mosaic.virtual.base import VirtualController, values_of_words


class ScannedRgb(VirtualController):
    """Parallel RGB glass, sixteen bits a pixel, low byte first as they lie in the board's memory.

    Nothing is addressed: a scan begins at the upper left with the signal for it, and takes as many pixels as the glass
    has. More or fewer make the picture roll.
    """

    OPERANDS = {0x3A: 1}
    SLEEP_OUT, ON, OFF, BEGIN = 0x11, 0x29, 0x28, 0x00

    def power_up(self) -> None:
        super().power_up()
        glass = self.passport.glass
        self.shown = np.zeros((glass.height_px, glass.width_px, 3), np.uint8)
        self.scanned, self.count = np.zeros(glass.height_px * glass.width_px * 2, np.uint8), 0

    def takes_data(self) -> bool:
        return True

    def execute(self, command: int, operands: list[int]) -> None:
        if command in (self.ON, self.OFF):
            self.is_on = command == self.ON
        elif command not in (self.SLEEP_OUT, self.BEGIN, *self.OPERANDS):
            self.report("unknown", f"command {command:02X} is not known to this panel")

    def write(self, data: np.ndarray) -> None:
        """Pixels of one scan, in however many runs of data they come."""
        begin, end = self.count, min(self.count + len(data), len(self.scanned))
        self.count += len(data)
        if begin < end:
            self.scanned[begin:end] = data[: end - begin]
            low, high = self.scanned[begin // 2 * 2 : end // 2 * 2].reshape(-1, 2).T
            self.shown.reshape(-1, 3)[begin // 2 : end // 2] = values_of_words(high, low)

    def leave(self) -> None:
        """The scan is over: the next one begins, or nothing more comes."""
        if self.count and self.count != len(self.scanned):
            wanted = len(self.scanned)
            self.report("size", f"a scan of {self.count:,} bytes, the glass takes {wanted:,}: the picture rolls")
            self.scanned[min(self.count, wanted) :] = 0
            low, high = self.scanned.reshape(-1, 2).T
            self.shown = values_of_words(high, low).reshape(self.shown.shape)
        self.count = 0

    def glass(self) -> np.ndarray:
        """(H, W, 3) 8-bit values; black while off."""
        return self.shown.copy() if self.is_on else np.zeros_like(self.shown)
