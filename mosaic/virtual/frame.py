"""An e-paper controller that takes whole frames of colour numbers."""

from fractions import Fraction

import numpy as np

from mosaic.virtual.updating import UpdatingGlass

VOLTAGES_MS = Fraction(80)
"""How long the drive voltages take to rise or fall, typical."""


class FrameEpaper(UpdatingGlass):
    """Whole-frame e-paper controller, 1, 2 or 4 bits a pixel; operands come as data.

    How many bits a pixel takes is a property of the glass it drives, told by how many colours
    the passport lists; glass of three colours takes two planes of one bit.
    """

    OPERANDS = {0x00: 2, 0x02: 1, 0x07: 1, 0x12: 1, 0x50: 1, 0x61: 4}
    # Power, boosters, waveforms, clock, sensors, intervals, common voltage, partial windows.
    SETTINGS = frozenset({
        0x01, 0x03, 0x05, 0x06, 0x11, 0x15, 0x16, 0x17, *range(0x20, 0x2F), 0x30, *range(0x40, 0x44), 0x4D, 0x51, 0x60, 0x62,
        0x65, 0x70, 0x71, 0x80, 0x81, 0x82, 0x83, 0x84, 0x86, 0x90, 0x91, 0x92, 0xA0, 0xA1, 0xA2, 0xA4, 0xA5, 0xAA, 0xB0, 0xB4,
        0xB5, 0xB6, 0xB7, *range(0xE0, 0xEA), 0xF8,
    })  # fmt: skip
    WRITE = {0x10: 0, 0x13: 1}

    def power_up(self) -> None:
        super().power_up()
        glass = self.passport.glass
        colors = len(self.passport.palette.names) if self.passport.palette else 2
        self.planes = len(self.passport.sequences.write)
        self.bits = 1 if colors == 2 or self.planes == 2 else 2 if colors <= 4 else 4
        self.size = (glass.width_px, glass.height_px)
        self.set_size = (0, 0)
        self.frames = [np.zeros(0, np.uint8)] * 2
        self.powered = False
        if not hasattr(self, "shown"):
            self.shown = np.zeros((glass.height_px, glass.width_px), np.uint8)

    def takes_data(self) -> bool:
        return self.command in self.WRITE

    def execute(self, command: int, operands: list[int]) -> None:
        if self.asleep:
            self.report("asleep", f"command {command:02X} in deep sleep; only a reset wakes it")
        elif command == 0x61:
            self.set_size = (operands[0] << 8 | operands[1], operands[2] << 8 | operands[3])
        elif command == 0x04:
            self.powered = True
            self.busy_until_ms = self.now_ms + VOLTAGES_MS
        elif command == 0x02:
            self.powered = False
            self.busy_until_ms = self.now_ms + VOLTAGES_MS
        elif command in self.WRITE:
            self.frames[self.WRITE[command]] = np.zeros(0, np.uint8)
        elif command == 0x12:
            self._update()
        elif command == 0x07:
            self.asleep = operands[0] == 0xA5
        elif not self.knows(command):
            self.report("unknown", f"command {command:02X} is not known to this controller")

    def write(self, data: np.ndarray) -> None:
        if self.asleep:
            self.report("asleep", f"{len(data):,} data bytes in deep sleep; only a reset wakes it")
            return
        plane = self.WRITE[self.command]
        self.frames[plane] = np.concatenate([self.frames[plane], data])

    def _update(self) -> None:
        if not self.powered:
            self.report("unpowered", "refresh with the drive voltages off")
            return
        if self.set_size != self.size:
            self.report("size", f"resolution set to {self.set_size}, the glass has {self.size}")
        self.begin_update(self.mode_of(partial=False))
        sent = self.frames if self.planes == 2 else [max(self.frames, key=len)]
        numbers = self._numbers(sent[0])
        for frame in sent[1:]:
            numbers = numbers << self.bits | self._numbers(frame)
        self.shown = numbers

    def _numbers(self, sent: np.ndarray) -> np.ndarray:
        """(H, W) numbers of the glass in one plane; what was not sent is 0."""
        width, height = self.set_size
        row_bytes = -(-width * self.bits // 8)
        wanted = row_bytes * height
        if len(sent) != wanted:
            self.report("size", f"{len(sent):,} bytes sent, the frame takes {wanted:,}")
        frame = np.resize(np.pad(sent, (0, max(0, wanted - len(sent)))), wanted)
        frame, each = frame.reshape(height, row_bytes), 8 // self.bits
        numbers = np.empty((height, row_bytes * each), np.uint8)
        for place in range(each):
            numbers[:, place::each] = (frame >> (8 - self.bits * (place + 1))) & ((1 << self.bits) - 1)
        numbers = numbers[: self.size[1], : self.size[0]]
        shown = np.zeros((self.size[1], self.size[0]), np.uint8)
        shown[: numbers.shape[0], : numbers.shape[1]] = numbers
        return shown

    def glass(self) -> np.ndarray:
        """(H, W) colour number of each pixel."""
        return self.shown.copy()
