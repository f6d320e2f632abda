"""How long a board draws: pixels and runs that an element comes down to, and cycles that the C runtime takes for them."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from mosaic.boards.board import Board
from mosaic.drawing.surface import Surface
from mosaic.pixels.formats import DirectFormat, IndexedFormat
from mosaic.screens.calls import Call, draw

RUN_CYCLES, PIXEL_CYCLES, PLANE_CYCLES, BYTE_CYCLES = 45, 10, 12, 3
"""Of a small 32-bit processor that takes an instruction a cycle, from the loops of `draw.c`: a run's clipping; a pixel's place;
masking it into a plane; storing a byte of it. Typical: within a factor of two, by compiler, memory and cache."""


@dataclass(frozen=True)
class Work:
    """Pixels that are laid, and runs of one colour along a row that they are laid in."""

    pixels: int = 0
    runs: int = 0

    def __add__(self, other: "Work") -> "Work":
        return Work(self.pixels + other.pixels, self.runs + other.runs)


def work_of(calls: Sequence[Call], size: tuple[int, int]) -> Work:
    """What calls lay on a glass, each by itself: what is drawn over is counted too."""
    total, width, height = Work(), *size
    for call in calls:
        if call.name in ("within", "beyond"):
            continue
        scratch = Surface(np.full((height, width), -1, np.int32))
        draw(scratch, [call])
        inked = scratch.values >= 0
        # A run begins where a pixel's colour is another than that on its left.
        before = np.full((height, 1), -1, np.int32)
        begins = inked & (scratch.values != np.hstack([before, scratch.values[:, :-1]]))
        total += Work(int(inked.sum()), int(begins.sum()))
    return total


def cycles(work: Work, fmt: IndexedFormat | DirectFormat) -> int:
    """Cycles for drawing into a buffer."""
    if isinstance(fmt, IndexedFormat):
        each = PIXEL_CYCLES + PLANE_CYCLES * len(fmt.planes)
    else:
        each = PIXEL_CYCLES + BYTE_CYCLES * -(-fmt.bits // 8) + (PLANE_CYCLES if fmt.bits == 12 else 0)
    return work.runs * RUN_CYCLES + work.pixels * each


def board_ms(work: Work, fmt: IndexedFormat | DirectFormat, board: Board) -> float:
    """Milliseconds of drawing on a board; typical."""
    return cycles(work, fmt) / (board.cpu_mhz * 1000)
