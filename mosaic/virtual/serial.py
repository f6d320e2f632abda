"""A panel with a computer of its own, told by messages over a serial port what to show."""

import numpy as np

from mosaic.virtual.base import VirtualController, values_of_words, window_walk

START = 0x7E
WAKE, LIGHT, WINDOW, PIXELS, CLEAR = 0x01, 0x05, 0x10, 0x11, 0x12


class SerialCanvas(VirtualController):
    """Messages of a start byte, a code and operands; pixels of 16 bits, high byte first.

    The codes stand for those of a panel's own manual, which differ from maker to maker.
    """

    OPERANDS = {WAKE: 1, LIGHT: 1, WINDOW: 8, CLEAR: 2}

    def power_up(self) -> None:
        super().power_up()
        ram = self.passport.ram
        self.ram = np.random.default_rng(7).integers(0, 256, (ram.height_px, ram.width_px, 3), np.uint8)
        self.window = (0, 0, ram.width_px - 1, ram.height_px - 1)
        self.step = 0
        self.light = 0
        self.started = False
        self.rest = np.zeros(0, np.uint8)

    def takes_data(self) -> bool:
        return self.command == PIXELS

    def _take_command(self, byte: int) -> None:
        """A message begins with its start byte; the byte behind it is the code."""
        if byte == START and not self.started:
            self.started = True
        elif self.started:
            self.started = False
            super()._take_command(byte)
        else:
            self.report("bad-value", f"byte {byte:02X} outside a message; messages begin with {START:02X}")

    def execute(self, command: int, operands: list[int]) -> None:
        if command == WAKE:
            self.is_on = bool(operands[0])
        elif command == LIGHT:
            self.light = operands[0]
        elif command == WINDOW:
            a, b, c, d = (operands[i] << 8 | operands[i + 1] for i in range(0, 8, 2))
            self.window = (a, b, c, d)
            self.step = 0
        elif command == CLEAR:
            self.ram[:] = _values(np.array([operands], np.uint8))
        elif command != PIXELS:
            self.report("unknown", f"message {command:02X} is not known to this panel")

    def leave(self) -> None:
        if len(self.rest):
            self.report("half-pixel", "the bytes sent make no whole pixels of 16 bits: half a pixel is left")
            self.rest = np.zeros(0, np.uint8)

    def write(self, data: np.ndarray) -> None:
        x0, y0, x1, y1 = self.window
        data = np.concatenate([self.rest, data])
        whole = len(data) // 2 * 2
        data, self.rest = data[:whole], data[whole:]
        if not self.holds_window("window", (x0, x1), (y0, y1), (self.ram.shape[1], self.ram.shape[0])):
            return
        column, row = window_walk(self.step, len(data) // 2, x1 - x0 + 1, y1 - y0 + 1)
        self.ram[y0 + row, x0 + column] = _values(data.reshape(-1, 2))
        self.step += len(data) // 2

    def glass(self) -> np.ndarray:
        """(H, W, 3) 8-bit values; black while off or without light."""
        glass, ram = self.passport.glass, self.passport.ram
        part = self.ram[ram.offset_y : ram.offset_y + glass.height_px, ram.offset_x : ram.offset_x + glass.width_px]
        return part.copy() if self.is_on and self.light else np.zeros_like(part)


def _values(pairs: np.ndarray) -> np.ndarray:
    """(N, 3) 8-bit values of (N, 2) bytes."""
    return values_of_words(*pairs.T)
