"""A grey controller: two pixels a byte, columns addressed in groups of four pixels."""

import numpy as np

from mosaic.virtual.base import DISPLAY, VirtualController, displayed, window_walk


class GreyOled(VirtualController):
    """Four-bit grey OLED controller; operands come as data."""

    OPERANDS = {0x15: 2, 0x75: 2, 0xA0: 2, 0xA1: 1, 0xA2: 1, 0xB3: 1, 0xC1: 1, 0xC7: 1, 0xCA: 1, 0xFD: 1}
    SETTINGS = frozenset({0xA9, 0xAB, 0xB1, 0xB2, 0xB4, 0xB5, 0xB6, 0xB8, 0xB9, 0xBB, 0xBE, 0xD1, 0xD5, 0xE3})
    DISPLAY = DISPLAY
    WRITE = 0x5C

    def power_up(self) -> None:
        super().power_up()
        ram = self.passport.ram
        self.ram = np.random.default_rng(7).integers(0, 16, (ram.height_px, ram.width_px), np.uint8)
        self.window = (0, ram.width_px // 4 - 1, 0, ram.height_px - 1)
        self.step = 0
        self.start_line = self.shift = 0
        self.rows_driven = 128
        self.high_nibble_first = self.down_first = self.mirrored = self.upside_down = False
        self.locked = True
        self.display = "normal"

    def takes_data(self) -> bool:
        return self.command == self.WRITE

    def execute(self, command: int, operands: list[int]) -> None:
        if command == 0xFD:
            self.locked = operands[0] != 0x12
        elif self.locked:
            self.report("locked", f"command {command:02X} while commands are locked")
        elif command == 0x15:
            self.window = (operands[0], operands[1], *self.window[2:])
        elif command == 0x75:
            self.window = (*self.window[:2], operands[0], operands[1])
        elif command == self.WRITE:
            self.step = 0
        elif command == 0xA0:
            self._remap(operands[0], down_first=0x01, columns=0x02, nibbles=0x04, upside_down=0x10, upright_value=0x10)
        elif command == 0xA1:
            self.start_line = operands[0]
        elif command == 0xA2:
            self.shift = operands[0]
        elif command == 0xCA:
            self.rows_driven = operands[0] + 1
        elif command in self.DISPLAY:
            self.display = self.DISPLAY[command]
        elif command in (0xAE, 0xAF):
            self.is_on = command == 0xAF
        elif not self.knows(command):
            self.report("unknown", f"command {command:02X} is not known to this controller")

    def _remap(self, value: int, *, down_first: int, columns: int, nibbles: int, upside_down: int, upright_value: int) -> None:
        """Scan directions in one byte; each is told by the bit it has in this controller."""
        self.down_first, self.mirrored = bool(value & down_first), bool(value & columns)
        self.high_nibble_first = bool(value & nibbles)
        self.upside_down = value & upside_down != upright_value

    def write(self, data: np.ndarray) -> None:
        g0, g1, y0, y1 = self.window
        ram_height, ram_width = self.ram.shape
        if self.holds_window("window of groups of columns, rows", (g0, g1), (y0, y1), (ram_width // 4, ram_height)):
            self._walk(4 * g0, y0, 2 * (g1 - g0 + 1), y1 - y0 + 1, data)

    def _walk(self, x0: int, y0: int, pairs: int, rows: int, data: np.ndarray) -> None:
        """Lay bytes of two pixels into a window of `pairs` bytes a row, along its rows or down its columns."""
        if self.down_first:
            row, pair = window_walk(self.step, len(data), rows, pairs)
        else:
            pair, row = window_walk(self.step, len(data), pairs, rows)
        self._lay(y0 + row, x0 + 2 * pair, data)
        self.step = (self.step + len(data)) % (pairs * rows)

    def _lay(self, row: np.ndarray, column: np.ndarray, data: np.ndarray) -> None:
        """Put two pixels a byte at (row, column) and the column right of it."""
        left, right = (data >> 4, data & 15) if self.high_nibble_first else (data & 15, data >> 4)
        if self.mirrored:
            column = self.ram.shape[1] - 1 - column
        self.ram[row, column] = left
        self.ram[row, column - 1 if self.mirrored else column + 1] = right

    def glass(self) -> np.ndarray:
        """(H, W) level 0 to 15."""
        glass, ram = self.passport.glass, self.passport.ram
        y = np.arange(glass.height_px)
        y = glass.height_px - 1 - y if self.upside_down else y
        line = (y + ram.offset_y + self.start_line + self.shift) % ram.height_px
        shown = self.ram[line][:, ram.offset_x : ram.offset_x + glass.width_px].copy()
        shown[y >= self.rows_driven] = 0
        if not self.is_on:
            return np.zeros_like(shown)
        return displayed(shown, self.display, 15, inverted_glass=self.passport.controller.inverted_glass)


class PairGreyOled(GreyOled):
    """Four-bit grey OLED controller that counts columns in pairs of pixels; operands are sent as commands.

    It has no memory write command: whatever comes as data goes to the RAM.
    """

    OPERANDS = {
        0x15: 2, 0x75: 2, 0x81: 1, 0xA0: 1, 0xA1: 1, 0xA2: 1, 0xA8: 1, 0xAB: 1, 0xB1: 1, 0xB3: 1, 0xB6: 1, 0xBC: 1, 0xBE: 1,
        0xD5: 1, 0xFD: 1,
    }  # fmt: skip
    OPERANDS_ARE_COMMANDS = True
    DISPLAY = {0xA4: "normal", 0xA5: "all on", 0xA6: "all off", 0xA7: "inverted"}
    OF_THE_OTHERS = (GreyOled.WRITE, 0xCA)
    """What controllers that count in fours have and these do not: a memory write command, another one for the rows driven."""

    def power_up(self) -> None:
        super().power_up()
        ram = self.passport.ram
        self.window = (0, ram.width_px // 2 - 1, 0, ram.height_px - 1)
        self.locked = False

    def takes_data(self) -> bool:
        return True

    def execute(self, command: int, operands: list[int]) -> None:
        if command in (0x15, 0x75):
            super().execute(command, operands)
            self.step = 0
        elif command == 0xA0:
            self._remap(operands[0], down_first=0x04, columns=0x01, nibbles=0x02, upside_down=0x10, upright_value=0x00)
        elif command == 0xA8:
            self.rows_driven = operands[0] + 1
        elif command == 0xFD:
            self.locked = operands[0] != 0x12
        elif command in self.OF_THE_OTHERS:
            self.report("unknown", f"command {command:02X} is not known to this controller")
        else:
            super().execute(command, operands)

    def write(self, data: np.ndarray) -> None:
        p0, p1, y0, y1 = self.window
        ram_height, ram_width = self.ram.shape
        if self.holds_window("window of pairs of columns, rows", (p0, p1), (y0, y1), (ram_width // 2, ram_height)):
            self._walk(2 * p0, y0, p1 - p0 + 1, y1 - y0 + 1, data)
