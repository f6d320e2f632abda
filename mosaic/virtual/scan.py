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
        self.scanned = np.zeros(0, np.uint8)

    def takes_data(self) -> bool:
        return True

    def execute(self, command: int, operands: list[int]) -> None:
        if command in (self.ON, self.OFF):
            self.is_on = command == self.ON
        elif command not in (self.SLEEP_OUT, self.BEGIN, *self.OPERANDS):
            self.report("unknown", f"command {command:02X} is not known to this panel")

    def write(self, data: np.ndarray) -> None:
        """Pixels of one scan, in however many runs of data they come."""
        self.scanned = np.concatenate([self.scanned, data])
        wanted = self.shown.shape[0] * self.shown.shape[1] * 2
        upto = min(len(self.scanned), wanted) // 2
        low, high = self.scanned[: 2 * upto].reshape(-1, 2).T
        self.shown.reshape(-1, 3)[:upto] = values_of_words(high, low)

    def leave(self) -> None:
        """The scan is over: the next one begins, or nothing more comes."""
        if not len(self.scanned):
            return
        wanted = self.shown.shape[0] * self.shown.shape[1] * 2
        if len(self.scanned) != wanted:
            self.report("size", f"a scan of {len(self.scanned):,} bytes, the glass takes {wanted:,}: the picture rolls")
            low, high = np.resize(np.pad(self.scanned, (0, max(0, wanted - len(self.scanned)))), wanted).reshape(-1, 2).T
            self.shown = values_of_words(high, low).reshape(self.shown.shape)
        self.scanned = np.zeros(0, np.uint8)

    def glass(self) -> np.ndarray:
        """(H, W, 3) 8-bit values; black while off."""
        return self.shown.copy() if self.is_on else np.zeros_like(self.shown)
