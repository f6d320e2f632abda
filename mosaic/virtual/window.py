"""A window controller, as most TFTs have: any rectangle, memory access control, 12 to 18 bits."""

from fractions import Fraction

import numpy as np

from mosaic.quantities import how_many
from mosaic.virtual.base import VirtualController, values_of_words, window_walk

MIRROR_Y, MIRROR_X, EXCHANGE, BGR = 0x80, 0x40, 0x20, 0x08
DEPTHS = {3: 12, 5: 16, 6: 18}


class WindowTft(VirtualController):
    """Colour controller with frame memory; operands come as data.

    Its RAM holds red, green and blue of each pixel as 8-bit values whose low bits repeat the
    high ones, as the glass would show them.
    """

    OPERANDS = {0x2A: 4, 0x2B: 4, 0x36: 1, 0x3A: 1}
    WRITE, WRITE_ON = 0x2C, 0x3C
    WAKE_MS = Fraction(5)
    """Least pause after leaving sleep before the next command."""
    # Brightness, tearing line, scrolling, partial area, gamma; from B0 on what each maker adds (voltages, rates, tone).
    SETTINGS = frozenset({0x26, 0x30, 0x33, 0x34, 0x35, 0x37, 0x44, 0x51, 0x53, 0x55, 0x5E, *range(0xB0, 0x100)})
    PLAIN = {0x00, 0x3C, 0x01, 0x10, 0x11, 0x12, 0x13, 0x20, 0x21, 0x28, 0x29, 0x2C, 0x38, 0x39}

    def power_up(self) -> None:
        super().power_up()
        ram = self.passport.ram
        self.ram = np.random.default_rng(7).integers(0, 256, (ram.height_px, ram.width_px, 3), np.uint8)
        self.access = 0
        self.bits = 18
        self.window = (0, ram.width_px - 1, 0, ram.height_px - 1)
        self.step = 0
        self.rest = np.zeros(0, np.uint8)
        self.asleep = True
        self.inverted = self.down_first = False
        self.rested_until_ms = self.now_ms

    def takes_data(self) -> bool:
        return self.command in (self.WRITE, self.WRITE_ON)

    def leave(self) -> None:
        # Of 12 bits a last nibble fills its byte up; two of them are a pixel begun.
        if len(self.rest) > (1 if self.bits == 12 else 0):
            self.report("half-pixel", f"{self._left_over()} left over of a pixel of {self.bits} bits")
            self.rest = np.zeros(0, np.uint8)

    def execute(self, command: int, operands: list[int]) -> None:
        if self.now_ms < self.rested_until_ms:
            self.report("too-soon", f"command {command:02X} less than {int(self.WAKE_MS)} ms after leaving sleep")
        if command == 0x2A:
            self.window = (operands[0] << 8 | operands[1], operands[2] << 8 | operands[3], *self.window[2:])
        elif command == 0x2B:
            self.window = (*self.window[:2], operands[0] << 8 | operands[1], operands[2] << 8 | operands[3])
        elif command == self.WRITE:
            self.step, self.rest = 0, np.zeros(0, np.uint8)
        elif command == 0x36:
            self.access = operands[0]
        elif command == 0x3A:
            self._set_depth(operands[0] & 7)
        elif command in (0x10, 0x11):
            self.asleep = command == 0x10
            self.rested_until_ms = self.now_ms + self.WAKE_MS
        elif command in (0x20, 0x21):
            self.inverted = command == 0x21
        elif command in (0x28, 0x29):
            self.is_on = command == 0x29
        elif command == 0x01:
            self.power_up()
        elif command not in self.PLAIN and not self.knows(command):
            self.report("unknown", f"command {command:02X} is not known to this controller")

    def _set_depth(self, code: int) -> None:
        if code in DEPTHS:
            self.bits = DEPTHS[code]
        else:
            self.report("bad-value", f"depth code {code} stands for no depth; 3, 5 and 6 do")

    def _left_over(self) -> str:
        count = 1 if self.bits == 12 else len(self.rest)
        return f"{how_many(count, 'byte')}"

    def write(self, data: np.ndarray) -> None:
        if self.bits == 12:
            data = np.stack([data >> 4, data & 15], axis=-1).ravel()
        pixels, self.rest = self._pixels(np.concatenate([self.rest, data]))
        x0, x1, y0, y1 = self.window
        # The far end may lie outside: what lands there is lost, the rest is kept.
        if not self.holds_window("window", (x0, x1), (y0, y1), (max(x1 + 1, 1), max(y1 + 1, 1))):
            return
        if self.down_first:
            row, column = window_walk(self.step, len(pixels), y1 - y0 + 1, x1 - x0 + 1)
        else:
            column, row = window_walk(self.step, len(pixels), x1 - x0 + 1, y1 - y0 + 1)
        px, py = self._place(x0 + column, y0 + row)
        inside = (px >= 0) & (px < self.ram.shape[1]) & (py >= 0) & (py < self.ram.shape[0])
        if not inside.all():
            self.report("outside", f"{int((~inside).sum()):,} pixels outside the RAM")
        self.ram[py[inside], px[inside]] = pixels[inside]
        self.step += len(pixels)

    def _place(self, x: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """RAM column and row of the board's x and y under the memory access setting."""
        height, width = self.ram.shape[:2]
        if self.access & EXCHANGE:
            x, y = y, x
        if self.access & MIRROR_X:
            x = width - 1 - x
        if self.access & MIRROR_Y:
            y = height - 1 - y
        return x, y

    def _pixels(self, data: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """(N, 3) values of whole pixels in the bytes, and the bytes left over; of 12 bits, nibbles in place of bytes."""
        if self.bits == 12:
            whole = len(data) // 3 * 3
            values = data[:whole].reshape(-1, 3) * np.uint8(17)
        elif self.bits == 16:
            whole = len(data) // 2 * 2
            high, low = data[:whole].reshape(-1, 2).T
            values = values_of_words(high, low)
        else:
            whole = len(data) // 3 * 3
            six = data[:whole].reshape(-1, 3) >> 2
            values = np.bitwise_or(six << 2, six >> 4, dtype=np.uint8)
        if self.access & BGR:
            values = values[:, ::-1]
        return values, data[whole:]

    def glass(self) -> np.ndarray:
        """(H, W, 3) 8-bit values; black while asleep or off."""
        glass, ram = self.passport.glass, self.passport.ram
        part = self.ram[ram.offset_y : ram.offset_y + glass.height_px, ram.offset_x : ram.offset_x + glass.width_px]
        if self.asleep or not self.is_on:
            return np.zeros_like(part)
        if self.passport.controller.bgr_glass:
            part = part[..., ::-1]
        return 255 - part if self.inverted != self.passport.controller.inverted_glass else part.copy()
