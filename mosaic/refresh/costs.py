"""What drawing and sending cost: pixels, windows, bytes, clocks, and the time they take, split into its parts."""

from dataclasses import dataclass, field, fields
from fractions import Fraction

from mosaic.device.device import Device
from mosaic.links import Link
from mosaic.panels.windows import Rect, host_size, rect_to_host
from mosaic.panels.wire import Part, window_parts
from mosaic.refresh.direct import Boxes
from mosaic.refresh.pace import TYPICAL, Pace

NOTHING = Fraction(0)


@dataclass(frozen=True)
class Cost:
    """Of some drawing and sending. Bytes and clocks are exact, ms of the wire too; those of drawing are typical.

    `setup_ms` is for setting windows and for commands, `data_ms` for pixels, `gap_ms` for what the board leaves between bytes.
    """

    pixels: int = 0
    windows: int = 0
    setup_bytes: int = 0
    data_bytes: int = 0
    clocks: int = 0
    draw_ms: float = 0.0
    setup_ms: Fraction = NOTHING
    data_ms: Fraction = NOTHING
    gap_ms: Fraction = NOTHING

    def __add__(self, other: "Cost") -> "Cost":
        return Cost(*(getattr(self, one.name) + getattr(other, one.name) for one in fields(self)))

    def times(self, count: int) -> "Cost":
        """So many of it."""
        return Cost(*(getattr(self, one.name) * count for one in fields(self)))

    @property
    def wire_ms(self) -> float:
        """ms on the link."""
        return float(self.setup_ms + self.data_ms + self.gap_ms)

    @property
    def sent_bytes(self) -> int:
        return self.setup_bytes + self.data_bytes


@dataclass
class Wire:
    """What windows cost on a device's link, or on another one, at a board's pace; each size is worked out once."""

    device: Device
    link: Link
    pace: Pace = TYPICAL
    known: dict[tuple[int, int], Cost] = field(default_factory=dict)

    def sent(self, parts: tuple[Part, ...], pixels: int) -> Cost:
        """What parts of a transmission cost."""
        setup_bytes = data_bytes = clocks = data_clocks = 0
        gaps = NOTHING
        for part in parts:
            picture = tuple(one for one in part.transactions if one.is_pixels)
            size = sum(len(one.data) for one in picture)
            data_bytes += size
            setup_bytes += part.byte_count - size
            clocks += self.link.clocks(part.transactions)
            data_clocks += self.link.clocks(picture) if picture else 0
            gaps += self.link.gaps_s(part.transactions)
        tick = Fraction(1000, self.link.clock_hz) * self.pace.exact_wire
        more = Fraction(self.pace.window_us).limit_denominator(1000) / 1000
        return Cost(
            pixels, 1, setup_bytes, data_bytes, clocks, 0.0, (clocks - data_clocks) * tick + more, data_clocks * tick,
            gaps * 1000 * self.pace.exact_wire,
        )  # fmt: skip

    def window(self, window: Rect) -> Cost:
        """A window, as the board addresses it."""
        key = window.width, window.height
        if key not in self.known:
            passport, turn = self.device.passport, self.device.turn
            packed = bytes(passport.format.frame_bytes(*key))
            self.known[key] = self.sent(window_parts(passport, turn, window, packed), window.pixels)
        return self.known[key]

    def boxes(self, boxes: Boxes) -> Cost:
        """Windows of some sizes, told as the reader sees them."""
        total, passport, turn = Cost(), self.device.passport, self.device.turn
        for (width, height), count in boxes.items():
            host = rect_to_host(Rect(0, 0, width, height), passport, turn)
            total += self.window(Rect(0, 0, host.width, host.height)).times(count)
        return total

    def frame(self) -> Cost:
        """A whole frame."""
        return self.window(Rect(0, 0, *host_size(self.device.passport, self.device.turn)))
