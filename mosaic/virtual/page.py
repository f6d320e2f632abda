"""A page-column controller: one byte is eight pixels of a column, pages are bands of eight rows."""

import numpy as np

from mosaic.quantities import how_many
from mosaic.virtual.base import VirtualController, window_walk

HORIZONTAL, VERTICAL, PAGE = 0, 1, 2


class PageOled(VirtualController):
    """One-bit OLED controller with and without window commands. Operands are sent as commands."""

    OPERANDS = {
        0x20: 1, 0x21: 2, 0x22: 2, 0x81: 1, 0x8D: 1, 0xAD: 1, 0xA8: 1, 0xD3: 1, 0xD5: 1, 0xD9: 1, 0xDA: 1, 0xDB: 1, 0xDC: 1,
        0x23: 1, 0x26: 6, 0x27: 6, 0x29: 5, 0x2A: 5, 0xA3: 2, 0xD6: 1, 0xD8: 1,
    }  # fmt: skip
    # Scrolling on and off, nothing, pump voltage, read-modify-write.
    SETTINGS = frozenset({0x2E, 0x2F, *range(0x30, 0x34), 0xE0, 0xE3, 0xEE})
    WINDOWS_AND_SCROLLS = (0x20, 0x21, 0x22, 0x23, 0x26, 0x27, 0x29, 0x2A, 0x8D, 0xA3, 0xD6)
    OPERANDS_ARE_COMMANDS = True

    def power_up(self) -> None:
        super().power_up()
        self.columns = self.passport.ram.width_px
        self.pages = self.passport.ram.height_px // 8
        # Controllers of more than 64 rows count them in seven bits and set the first one by a command of its own.
        self.is_tall = self.pages > 8
        self.row_bits = 0x7F if self.is_tall else 0x3F
        # A real RAM wakes up with noise; a fixed seed keeps results repeatable.
        self.ram = np.random.default_rng(7).integers(0, 256, (self.pages, self.columns), np.uint8)
        self.mode = PAGE
        self.window = (0, self.columns - 1, 0, self.pages - 1)
        self.column_at, self.page_at = 0, 0  # where the next byte lands in the window
        self.page, self.column = 0, 0  # and in page mode
        self.multiplex = self.pages * 8
        self.start_line = self.shift = 0
        self.mirrored = self.upside_down = self.inverted = self.all_on = False
        self.alternating_pins = True

    def takes_data(self) -> bool:
        return True

    def execute(self, command: int, operands: list[int]) -> None:
        if command in self.OPERANDS:
            self._execute_with_operands(command, operands)
        elif command <= 0x0F:
            self.column = (self.column & 0xF0) | command
        elif command <= 0x1F:
            self.column = (self.column & 0x0F) | (command & 0x0F) << 4
        elif 0x40 <= command <= 0x7F and not self.is_tall:
            self.start_line = command & 0x3F
        elif 0xB0 <= command <= 0xBF:
            self.page = command & 0x0F
        else:
            self._switch(command)

    def _execute_with_operands(self, command: int, operands: list[int]) -> None:
        if command == 0x20:
            self.mode = operands[0] & 3
        elif command == 0x21:
            self.window = (operands[0], operands[1], *self.window[2:])
            self.column_at = operands[0]
        elif command == 0x22:
            self.window = (*self.window[:2], operands[0], operands[1])
            self.page_at = operands[0]
        elif command == 0xA8:
            self.multiplex = (operands[0] & self.row_bits) + 1
        elif command == 0xD3:
            self.shift = operands[0] & self.row_bits
        elif command == 0xDA:
            self.alternating_pins = bool(operands[0] & 0x10)
        elif command == 0xDC and self.is_tall:
            self.start_line = operands[0] & self.row_bits
        elif command == 0xDC:
            self.report("unknown", "command DC is not known to controllers of 64 rows")

    def _switch(self, command: int) -> None:
        if command in (0xA0, 0xA1):
            self.mirrored = command == 0xA1
        elif command in (0xC0, 0xC8):
            self.upside_down = command == 0xC8
        elif command in (0xA6, 0xA7):
            self.inverted = command == 0xA7
        elif command in (0xA4, 0xA5):
            self.all_on = command == 0xA5
        elif command in (0xAE, 0xAF):
            self.is_on = command == 0xAF
        elif not self.knows(command):
            self.report("unknown", f"command {command:02X} is not known to this controller")

    def write(self, data: np.ndarray) -> None:
        if self.mode == PAGE:
            self._write_line(data)
            return
        x0, x1, p0, p1 = self.window
        if not self.holds_window("window of columns and pages", (x0, x1), (p0, p1), (self.columns, self.pages)):
            return
        wide, high = x1 - x0 + 1, p1 - p0 + 1
        # A counter that a window has left behind goes on from its edge.
        across, down = min(max(self.column_at - x0, 0), wide - 1), min(max(self.page_at - p0, 0), high - 1)
        step = down * wide + across if self.mode == HORIZONTAL else across * high + down
        if self.mode == HORIZONTAL:
            column, page = window_walk(step, len(data) + 1, wide, high)
        else:
            page, column = window_walk(step, len(data) + 1, high, wide)
        self.ram[p0 + page[:-1], x0 + column[:-1]] = data
        self.column_at, self.page_at = x0 + int(column[-1]), p0 + int(page[-1])

    def _write_line(self, data: np.ndarray) -> None:
        """Bytes of one page; past its last column they begin it again, or are lost, as the family does."""
        columns = self.column + np.arange(len(data))
        over = int((columns >= self.columns).sum())
        returns = self.passport.controller.line_end == "returns"
        if over:
            what = "laid at its beginning" if returns else "lost"
            self.report("outside", f"{how_many(over, 'byte')} past column {self.columns - 1} of page {self.page}: {what}")
        if self.page < self.pages:
            kept = columns % self.columns if returns else columns[columns < self.columns]
            self.ram[self.page, kept] = data[: len(kept)]
        end = self.column + len(data)
        self.column = end % self.columns if returns else min(self.columns, end)

    def glass(self) -> np.ndarray:
        """(H, W) 0 dark, 1 lit."""
        glass, ram = self.passport.glass, self.passport.ram
        if not self.is_on:
            return np.zeros((glass.height_px, glass.width_px), np.uint8)
        y = np.arange(glass.height_px)
        scanned = self._scanned_at(y)
        line = (scanned + ram.offset_y + self.start_line + self.shift) % (self.pages * 8)
        x = np.arange(glass.width_px) + ram.offset_x
        segment = self.columns - 1 - x if self.mirrored else x
        lit = (self.ram[(line // 8)[:, None], segment[None, :]] >> (line % 8)[:, None].astype(np.uint8)) & 1
        lit[(scanned < 0) | (scanned >= self.multiplex)] = 0
        if self.all_on:
            lit[:] = 1
        return lit ^ 1 if self.inverted != self.passport.controller.inverted_glass else lit

    def _scanned_at(self, y: np.ndarray) -> np.ndarray:
        """At which step of the scan each row of glass is driven.

        Set up for alternating pins, the controller drives its outputs 0, 32, 1, 33 and so on; for
        sequential ones 0, 1, 2. Set up the other way than the glass is wired, halves of the picture
        lie between each other, and on glass of half the rows every other row stays dark.
        """
        if self.upside_down:
            y = self.multiplex - 1 - y
        wired_alternating = self.passport.controller.row_pins == "alternating"
        if self.alternating_pins == wired_alternating:
            return y
        half = max(64, self.pages * 8) // 2
        return y // 2 + y % 2 * half if wired_alternating else np.where(y < half, 2 * y, 2 * (y - half) + 1)


class PageOnlyOled(PageOled):
    """The same without window commands: column and page are set for every page.

    What another controller takes as a window's operands, this one takes as commands of their own.
    """

    OPERANDS = {command: count for command, count in PageOled.OPERANDS.items() if command not in PageOled.WINDOWS_AND_SCROLLS}
