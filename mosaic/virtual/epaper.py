"""An e-paper controller with two one-bit RAM planes, addressed in bytes of eight pixels."""

import numpy as np

from mosaic.virtual.base import VirtualController, window_walk


class ByteWindowEpaper(VirtualController):
    """E-paper controller whose glass changes only on an update; operands come as data."""

    OPERANDS = {0x01: 3, 0x10: 1, 0x11: 1, 0x18: 1, 0x21: 2, 0x22: 1, 0x3C: 1, 0x44: 2, 0x45: 4, 0x4E: 1, 0x4F: 2}
    WRITE_PLANES = {0x24: 0, 0x26: 1}

    def power_up(self) -> None:
        super().power_up()
        ram = self.passport.ram
        self.row_bytes = -(-ram.width_px // 8)
        self.ram = np.random.default_rng(7).integers(0, 256, (2, ram.height_px, self.row_bytes), np.uint8)
        self.window = (0, self.row_bytes - 1, 0, ram.height_px - 1)
        self.counter = (0, 0)
        self.entry = 0x03
        self.control = 0
        self.asleep = False
        if not hasattr(self, "shown"):
            self.shown = np.zeros((2, ram.height_px, self.row_bytes), np.uint8)

    def takes_data(self) -> bool:
        return self.command in self.WRITE_PLANES

    def execute(self, command: int, operands: list[int]) -> None:
        if self.asleep:
            self.misuse.append(f"command {command:02X} in deep sleep; only a reset wakes it")
        elif command == 0x44:
            self.window = (operands[0], operands[1], *self.window[2:])
        elif command == 0x45:
            self.window = (*self.window[:2], operands[0] | operands[1] << 8, operands[2] | operands[3] << 8)
        elif command == 0x4E:
            self.counter = (operands[0], self.counter[1])
        elif command == 0x4F:
            self.counter = (self.counter[0], operands[0] | operands[1] << 8)
        elif command == 0x11:
            self.entry = operands[0]
        elif command == 0x22:
            self.control = operands[0]
        elif command == 0x20:
            self._update()
        elif command == 0x10:
            self.asleep = bool(operands[0])
        elif command == 0x12:
            self.power_up()
        elif command not in self.OPERANDS and command not in self.WRITE_PLANES:
            self.misuse.append(f"command {command:02X} is not known to this controller")

    def _update(self) -> None:
        if not self.control:
            self.misuse.append("update without an update setting")
        self.shown = self.ram.copy()

    def write(self, data: np.ndarray) -> None:
        b0, b1, y0, y1 = self.window
        x, y = self.counter
        if b1 < b0 or y1 < y0 or b1 >= self.row_bytes or y1 >= self.ram.shape[1]:
            self.misuse.append(f"window of bytes {b0}-{b1}, rows {y0}-{y1} lies outside the RAM or is reversed")
            return
        if not (b0 <= x <= b1 and y0 <= y <= y1) or self.entry & 3 != 3:
            self.misuse.append(f"counters {x}, {y} outside the window, or counting down")
            return
        columns, rows = b1 - b0 + 1, y1 - y0 + 1
        start = (y - y0) * columns + (x - b0)
        column, row = window_walk(start, len(data), columns, rows)
        self.ram[self.WRITE_PLANES[self.command], y0 + row, b0 + column] = data
        end = (start + len(data)) % (columns * rows)
        self.counter = (b0 + end % columns, y0 + end // columns)

    def glass(self) -> np.ndarray:
        """(H, W) number made of the planes' bits, first plane highest; one plane where one is used."""
        glass, ram = self.passport.glass, self.passport.ram
        bits = (self.shown[..., None] >> np.arange(7, -1, -1, dtype=np.uint8)) & 1
        bits = bits.reshape(2, ram.height_px, -1)
        rows = slice(ram.offset_y, ram.offset_y + glass.height_px)
        columns = slice(ram.offset_x, ram.offset_x + glass.width_px)
        first, second = bits[0, rows, columns], bits[1, rows, columns]
        return first << 1 | second if len(self.passport.sequences.write) == 2 else first


class WideWindowEpaper(ByteWindowEpaper):
    """The same with x in pixels of two bytes, for glass wider than a byte of bytes can say."""

    OPERANDS = {**ByteWindowEpaper.OPERANDS, 0x44: 4, 0x4E: 2, 0x0C: 5, 0x2C: 1}

    def execute(self, command: int, operands: list[int]) -> None:
        if command == 0x44:
            start, end = operands[0] | operands[1] << 8, operands[2] | operands[3] << 8
            if start % 8 or end % 8 != 7:
                self.misuse.append(f"x range {start}-{end} does not begin and end on bytes of 8 pixels")
            operands = [start // 8, end // 8]
        elif command == 0x4E:
            operands = [(operands[0] | operands[1] << 8) // 8]
        super().execute(command, operands)
