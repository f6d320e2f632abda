"""A small colour controller whose windows are given in single bytes."""

import numpy as np

from mosaic.virtual.base import DISPLAY, displayed
from mosaic.virtual.window import BGR, MIRROR_X, MIRROR_Y, WindowTft

DEPTH_OF = {0: 8, 1: 16, 2: 18, 3: 18}


class ByteWindowOled(WindowTft):
    """Colour OLED controller with one-byte coordinates; operands come as data."""

    OPERANDS = {
        0x15: 2, 0x75: 2, 0xA0: 1, 0xA1: 1, 0xA2: 1, 0xAB: 1, 0xB1: 1, 0xB3: 1, 0xB4: 3, 0xB6: 1, 0xBE: 1, 0xC1: 3, 0xC7: 1,
        0xCA: 1, 0xFD: 1,
    }  # fmt: skip
    SETTINGS = frozenset({0x96, 0x9E, 0x9F, 0xAD, 0xB2, 0xB5, 0xB8, 0xB9, 0xBB, 0xD1, 0xE3})
    WRITE = 0x5C
    OFF, ON = 0xAE, 0xAF

    def power_up(self) -> None:
        super().power_up()
        self.asleep = False
        self.start_line = self.shift = 0
        self.rows_driven = self.passport.ram.height_px
        self.locked = True
        self.display = "normal"

    def execute(self, command: int, operands: list[int]) -> None:
        if command == 0xFD:
            self.locked = operands[0] not in (0x12, 0xB1)
        elif self.locked:
            self.report("locked", f"command {command:02X} while commands are locked")
        elif command == 0x15:
            self.window = (operands[0], operands[1], *self.window[2:])
        elif command == 0x75:
            self.window = (*self.window[:2], operands[0], operands[1])
        elif command == self.WRITE:
            self.step, self.rest = 0, np.zeros(0, np.uint8)
        elif command == 0xA0:
            self._remap(operands[0])
        elif command == 0xA1:
            self.start_line = operands[0]
        elif command == 0xA2:
            self.shift = operands[0]
        elif command == 0xCA:
            self.rows_driven = operands[0] + 1
        elif command in DISPLAY:
            self.display = DISPLAY[command]
        elif command in (self.OFF, self.ON):
            self.is_on = command == self.ON
        elif not self.knows(command):
            self.report("unknown", f"command {command:02X} is not known to this controller")

    def _remap(self, value: int) -> None:
        """Scan directions, channel order and depth in one byte."""
        self.access = (MIRROR_X if value & 0x02 else 0) | (0 if value & 0x10 else MIRROR_Y) | (BGR if value & 0x04 else 0)
        self.bits = DEPTH_OF[value >> 6]
        self.down_first = bool(value & 0x01)

    def glass(self) -> np.ndarray:
        """(H, W, 3) 8-bit values; black while off."""
        glass, ram = self.passport.glass, self.passport.ram
        y = np.arange(glass.height_px)
        line = (y + ram.offset_y + self.start_line + self.shift) % ram.height_px
        part = self.ram[line][:, ram.offset_x : ram.offset_x + glass.width_px].copy()
        part[y >= self.rows_driven] = 0
        if not self.is_on:
            return np.zeros_like(part)
        if self.passport.controller.bgr_glass:
            part = part[..., ::-1]
        return displayed(part, self.display, 255, inverted_glass=self.passport.controller.inverted_glass)
