"""What a board was measured to do, as it is kept: factors, and the lines that they come from."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.device.device import Device
from mosaic.refresh.measuring.fitting import Fitted
from mosaic.refresh.pace import TYPICAL, Pace

Positive = Annotated[float, Meta(ge=0, le=1_000_000_000)]


@dataclass(frozen=True)
class Line:
    """A line: what was timed, us as expected by what is typical, as measured, and as the factors have it."""

    words: Annotated[str, Meta(max_length=200)]
    expected_us: Positive
    measured_us: Positive
    fitted_us: Positive

    @property
    def against_typical(self) -> float:
        return self.measured_us / self.expected_us if self.expected_us else 0.0

    @property
    def off(self) -> str:
        """By how much the measured time differs from what the factors say."""
        return f"{self.measured_us / self.fitted_us - 1:+.1%}" if self.fitted_us else ""


@dataclass(frozen=True)
class Benchmark:
    """What a board was measured to do, on which link; and whether figures count with it."""

    run: Positive
    pixel: Positive
    wire: Positive
    window_us: Positive
    board: Annotated[str, Meta(max_length=80)]
    link: Annotated[str, Meta(max_length=20)]
    clock_hz: Annotated[int, Meta(ge=1)]
    lines: Annotated[tuple[Line, ...], Meta(max_length=400)] = ()
    left_out: Annotated[tuple[Annotated[str, Meta(max_length=300)], ...], Meta(max_length=2000)] = ()
    is_taken: bool = True
    form: Literal[1] = 1

    def pace_for(self, device: Device) -> Pace:
        """The pace of a device: on another board what is typical; on another link or clock only drawing is as measured."""
        if not self.is_taken or self.board != device.board.slug:
            return TYPICAL
        if (self.link, self.clock_hz) != (device.link_kind, device.clock_hz):
            return Pace(self.run, self.pixel, is_measured=True)
        return Pace(self.run, self.pixel, self.wire, self.window_us, is_measured=True)

    @property
    def pace(self) -> Pace:
        return Pace(self.run, self.pixel, self.wire, self.window_us, is_measured=True)


def benchmark_of(found: Fitted, device: Device) -> Benchmark:
    """What is kept of a board's answers."""
    pace = found.pace
    lines = tuple(Line(one.row.words[:200], one.row.us, one.measured_us, one.fitted_us) for one in found.timed)
    return Benchmark(
        pace.run, pace.pixel, pace.wire, pace.window_us, device.board.slug, device.link_kind, device.clock_hz, lines,
        tuple(words[:300] for words in found.left_out),
    )  # fmt: skip
