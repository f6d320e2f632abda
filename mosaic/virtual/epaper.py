"""An e-paper controller with two one-bit RAM planes, addressed in bytes of eight pixels."""

import numpy as np

from mosaic.virtual.base import window_walk
from mosaic.virtual.updating import UpdatingGlass

X_UP, Y_UP, DOWN_FIRST = 0x01, 0x02, 0x04
CHANGED_ONLY = 0x08
"""Bit of the update setting that drives only pixels in which the two RAM planes differ."""


class ByteWindowEpaper(UpdatingGlass):
    """E-paper controller whose glass changes only on an update; operands come as data.

    On glass of one plane the second RAM holds the picture before: an update of changed pixels
    compares the two, and drives nothing where they are alike.
    """

    OPERANDS = {0x01: 3, 0x10: 1, 0x11: 1, 0x18: 1, 0x21: 2, 0x22: 1, 0x3C: 1, 0x44: 2, 0x45: 4, 0x4E: 1, 0x4F: 2}
    # Voltages, soft start, sensors, waveform, option bytes, borders.
    SETTINGS = frozenset({
        0x03, 0x04, 0x08, 0x09, 0x0A, 0x0C, 0x0F, 0x14, 0x15, 0x1A, 0x1B, 0x1C, 0x28, 0x29, 0x2A, 0x2B, 0x2C, 0x2D, 0x2E, 0x2F,
        0x30, 0x31, 0x32, 0x34, 0x35, 0x36, 0x37, 0x38, 0x39, 0x3A, 0x3B, 0x3F, 0x41, 0x46, 0x47, 0x74, 0x7E, 0x7F,
    })  # fmt: skip
    WRITE_PLANES = {0x24: 0, 0x26: 1}

    def power_up(self) -> None:
        super().power_up()
        ram = self.passport.ram
        self.row_bytes = -(-ram.width_px // 8)
        self.ram = np.random.default_rng(7).integers(0, 256, (2, ram.height_px, self.row_bytes), np.uint8)
        self.across, self.down = (0, self.row_bytes - 1), (0, ram.height_px - 1)
        self.counter = (0, 0)
        self.entry = X_UP | Y_UP
        self.control = 0
        if not hasattr(self, "shown"):
            self.shown = np.zeros((2, ram.height_px, self.row_bytes), np.uint8)

    def takes_data(self) -> bool:
        return self.command in self.WRITE_PLANES

    def execute(self, command: int, operands: list[int]) -> None:
        if self.asleep:
            self.report("asleep", f"command {command:02X} in deep sleep; only a reset wakes it")
        elif command == 0x44:
            self.across = (operands[0], operands[1])
        elif command == 0x45:
            self.down = (operands[0] | operands[1] << 8, operands[2] | operands[3] << 8)
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
        elif not self.knows(command) and command not in self.WRITE_PLANES:
            self.report("unknown", f"command {command:02X} is not known to this controller")

    def _update(self) -> None:
        if not self.control:
            self.report("unpowered", "update without an update setting")
        partial = bool(self.control & CHANGED_ONLY) and len(self.passport.sequences.write) == 1
        self.begin_update(self.mode_of(partial=partial))
        if partial:
            driven = self.ram[0] ^ self.ram[1]
            self.shown = np.stack([self.shown[0] & ~driven | self.ram[0] & driven, self.ram[1]])
        else:
            self.shown = self.ram.copy()

    def write(self, data: np.ndarray) -> None:
        if self.asleep:
            self.report("asleep", f"{len(data):,} data bytes in deep sleep; only a reset wakes it")
            return
        x_up, y_up = bool(self.entry & X_UP), bool(self.entry & Y_UP)
        across = self.across if x_up else self.across[::-1]
        down = self.down if y_up else self.down[::-1]
        if not self.holds_window("window of bytes, rows", across, down, (self.row_bytes, self.ram.shape[1])):
            return
        x, y = self.counter
        if not (across[0] <= x <= across[1] and down[0] <= y <= down[1]):
            self.report("outside", f"counters {x}, {y} outside the window")
            return
        columns, rows = across[1] - across[0] + 1, down[1] - down[0] + 1
        # Steps from the corner at which counting begins.
        left, above = (x - across[0] if x_up else across[1] - x), (y - down[0] if y_up else down[1] - y)
        if self.entry & DOWN_FIRST:
            start = left * rows + above
            row, column = window_walk(start, len(data) + 1, rows, columns)
        else:
            start = above * columns + left
            column, row = window_walk(start, len(data) + 1, columns, rows)
        at_x = across[0] + column if x_up else across[1] - column
        at_y = down[0] + row if y_up else down[1] - row
        self.ram[self.WRITE_PLANES[self.command], at_y[:-1], at_x[:-1]] = data
        self.counter = (int(at_x[-1]), int(at_y[-1]))

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
                self.report("bad-value", f"x range {start}-{end} does not begin and end on bytes of 8 pixels")
            operands = [start // 8, end // 8]
        elif command == 0x4E:
            operands = [(operands[0] | operands[1] << 8) // 8]
        super().execute(command, operands)
