"""How fast a board really is against what is typical: drawing a run and a pixel, a byte on the link, setting a window."""

from dataclasses import dataclass
from fractions import Fraction

from mosaic.device.device import Device
from mosaic.pixels.formats import DirectFormat, IndexedFormat
from mosaic.screens.work import RUN_CYCLES, Work, cycles


@dataclass(frozen=True)
class Pace:
    """Factors of what is typical, or computed.

    Attributes
    ----------
    run, pixel : of the cycles for a run and for a pixel of drawing.
    wire : of the time on the link; above 1 where there are gaps that nobody knew of. window_us : more for each window.
    is_measured : whether it comes from the maker's own board.
    """

    run: float = 1.0
    pixel: float = 1.0
    wire: float = 1.0
    window_us: float = 0.0
    is_measured: bool = False

    @property
    def basis(self) -> str:
        return "measured" if self.is_measured else "typical"

    @property
    def exact_wire(self) -> Fraction:
        return Fraction(self.wire).limit_denominator(1_000_000)


TYPICAL = Pace()


def pixel_cycles(fmt: IndexedFormat | DirectFormat) -> int:
    """Typical cycles for a pixel of a format, drawn into a buffer."""
    return cycles(Work(1, 0), fmt)


def work_ms(work: Work, device: Device, pace: Pace = TYPICAL) -> float:
    """ms of drawing into a buffer; typical, or measured."""
    spent = work.runs * RUN_CYCLES * pace.run + work.pixels * pixel_cycles(device.passport.format) * pace.pixel
    return spent / (device.board.cpu_mhz * 1000)


def runs_ms(runs: int, device: Device, pace: Pace = TYPICAL) -> float:
    """ms of finding runs, without laying pixels."""
    return runs * RUN_CYCLES * pace.run / (device.board.cpu_mhz * 1000)
