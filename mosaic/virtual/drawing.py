"""A controller that draws by itself: registers for a window, lines, rectangles and circles."""

import numpy as np

from mosaic.virtual.base import VirtualController, values_of_words, window_walk

START, FILLED, RECTANGLE = 0x80, 0x20, 0x10


class DrawingTft(VirtualController):
    """Register-addressed colour controller with its own drawing unit; 16 bits a pixel, high byte first.

    Each register is a command with one operand. 30 to 37 are the window (left, top, right,
    bottom; low byte first), 46 to 49 the write cursor, 91 to 98 the two corners of a shape, 63
    to 65 its colour in five, six and five bits; writing 90 starts drawing.
    """

    WRITE = 0x02
    OPERANDS = {
        **dict.fromkeys((1, 16, 18, 64, 96, 97, 98, 99, 100, 101, 136, 137, 138, 144), 1),
        **dict.fromkeys((*range(20, 32), *range(48, 56), *range(70, 74), *range(145, 158)), 1),
    }  # fmt: skip

    def power_up(self) -> None:
        super().power_up()
        ram = self.passport.ram
        self.ram = np.random.default_rng(7).integers(0, 256, (ram.height_px, ram.width_px, 3), np.uint8)
        self.registers = dict.fromkeys(self.OPERANDS, 0)
        self.step = 0
        self.rest = np.zeros(0, np.uint8)

    def takes_data(self) -> bool:
        return self.command == self.WRITE

    def word(self, register: int) -> int:
        """The value of two registers, low byte first."""
        return self.registers[register] | self.registers[register + 1] << 8

    def execute(self, command: int, operands: list[int]) -> None:
        if command == self.WRITE:
            self._begin_writing()
        elif command in self.OPERANDS:
            self.registers[command] = operands[0]
            if command == 0x01:
                self.is_on = bool(operands[0] & 0x80)
            elif command == 0x90 and operands[0] & START:
                self._draw(operands[0])
        else:
            self.report("unknown", f"register {command:02X} is not known to this controller")

    def _begin_writing(self) -> None:
        x0, y0, x1 = self.word(0x30), self.word(0x32), self.word(0x34)
        self.step = (self.word(0x48) - y0) * (x1 - x0 + 1) + self.word(0x46) - x0
        self.rest = np.zeros(0, np.uint8)

    def write(self, data: np.ndarray) -> None:
        if not self.registers[0x10] & 0x0C:
            self.report("bad-value", "pixels of two bytes while the depth is set to one")
            return
        data = np.concatenate([self.rest, data])
        whole = len(data) // 2 * 2
        high, low = data[:whole].reshape(-1, 2).T
        self.rest = data[whole:]
        values = values_of_words(high, low)
        x0, y0, x1, y1 = (self.word(r) for r in (0x30, 0x32, 0x34, 0x36))
        if not self.holds_window("window", (x0, x1), (y0, y1), (self.ram.shape[1], self.ram.shape[0])):
            return
        if self.step < 0:
            self.report("outside", f"the write cursor lies before the window {x0}-{x1}, {y0}-{y1}")
            return
        column, row = window_walk(self.step, len(values), x1 - x0 + 1, y1 - y0 + 1)
        self.ram[y0 + row, x0 + column] = values
        self.step += len(values)

    def color(self) -> np.ndarray:
        """(3,) 8-bit values of the drawing colour."""
        r, g, b = self.registers[0x63] & 31, self.registers[0x64] & 63, self.registers[0x65] & 31
        return np.array([r << 3 | r >> 2, g << 2 | g >> 4, b << 3 | b >> 2], np.uint8)

    def _draw(self, control: int) -> None:
        """A line, or with its bit set a rectangle, filled or not, between the two corners."""
        x0, y0, x1, y1 = (self.word(r) for r in (0x91, 0x93, 0x95, 0x97))
        if max(x0, x1) >= self.ram.shape[1] or max(y0, y1) >= self.ram.shape[0]:
            self.report("outside", f"a shape from {x0}, {y0} to {x1}, {y1} leaves the RAM")
            return
        if control & RECTANGLE:
            left, right, top, bottom = min(x0, x1), max(x0, x1), min(y0, y1), max(y0, y1)
            shape = self.ram[top : bottom + 1, left : right + 1]
            if control & FILLED:
                shape[:] = self.color()
            else:
                shape[[0, -1]] = self.color()
                shape[:, [0, -1]] = self.color()
            return
        steps = max(abs(x1 - x0), abs(y1 - y0)) + 1
        x, y = np.linspace(x0, x1, steps).round().astype(int), np.linspace(y0, y1, steps).round().astype(int)
        self.ram[y, x] = self.color()

    def glass(self) -> np.ndarray:
        """(H, W, 3) 8-bit values; black while off."""
        glass, ram = self.passport.glass, self.passport.ram
        part = self.ram[ram.offset_y : ram.offset_y + glass.height_px, ram.offset_x : ram.offset_x + glass.width_px]
        return part.copy() if self.is_on else np.zeros_like(part)
