"""Links that panel and board have in common, and those they could have: how fast a frame is on each, and its wiring."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from mosaic.boards.board import highest_clock_hz, link_between, usual_clock_hz
from mosaic.device.device import Device
from mosaic.links.spi import SpiLink
from mosaic.panels.supply import LinkOption
from mosaic.refresh.costs import Cost, Wire
from mosaic.wiring.signals import signals_of

SOFT_CYCLES = 20
"""Cycles of a small processor for one bit that a program sets and clocks by itself. Typical: 10 to 40 by how it is written."""


NOT_BY_ITSELF = ("rgb", "uart")
"""Links that are fed in another way than by a block of bytes that is sent and forgotten."""


@dataclass(frozen=True)
class LinkSpeed:
    """A frame on a link.

    Attributes
    ----------
    kind, clock_hz : of the link. by_program : the program itself makes the clock, on any pins.
    frame : its cost. factor : how many times as long as on the link at hand. lines : what is wired, besides supply and ground.
    is_here : the build's own link and clock. why_not : why the two do not have it in common; "" where they do.
    """

    kind: str
    clock_hz: int
    frame: Cost
    factor: float
    lines: tuple[str, ...]
    by_program: bool = False
    is_here: bool = False
    why_not: str = ""

    @property
    def dma_ms(self) -> float | None:
        """Of a frame that is sent without the program, with no gaps between bytes; None where that cannot be."""
        if self.by_program or self.why_not or self.kind in NOT_BY_ITSELF:
            return None
        return float(self.frame.setup_ms + self.frame.data_ms)


def _lines(device: Device, kind: str) -> tuple[str, ...]:
    signals = signals_of(device.passport, kind)
    return tuple(
        one.label for one in signals if one.function not in ("supply", "ground") and one.need in ("bus", "must", "tie", "should")
    )


def soft_clock_hz(device: Device) -> int:
    """The clock that a program makes by itself."""
    return int(device.board.cpu_mhz * 1_000_000 / SOFT_CYCLES)


def _clocks(device: Device, option: LinkOption) -> Sequence[int]:
    usual, highest = usual_clock_hz(device.board, option), highest_clock_hz(device.board, option)
    mine = [device.clock_hz] if option.kind == device.link_kind else []
    return sorted({usual, highest, *mine} - {0})


def link_speeds(device: Device) -> list[LinkSpeed]:
    """A frame on every link of the panel, at the usual and the highest clock, and by a program where that is possible."""
    here = Wire(device, device.link).frame()
    own_ms = Fraction(here.setup_ms + here.data_ms + here.gap_ms)
    found: list[LinkSpeed] = []

    def add(kind: str, clock: int, frame: Cost, **more: Any) -> None:
        ms = frame.setup_ms + frame.data_ms + frame.gap_ms
        found.append(LinkSpeed(kind, clock, frame, float(ms / own_ms), _lines(device, kind), **more))

    for option in device.passport.links:
        if not device.board.max_clock_hz(option.kind):
            add(option.kind, option.usual_clock_hz, Cost(), why_not="this board does not have it")
            continue
        for clock in _clocks(device, option):
            link = link_between(device.board, option.kind, clock, device.passport.scan)
            is_here = option.kind == device.link_kind and clock == device.clock_hz
            add(option.kind, clock, Wire(device, link).frame(), is_here=is_here)
        if option.kind == "spi":
            clock = min(soft_clock_hz(device), option.max_clock_hz)
            add(option.kind, clock, Wire(device, SpiLink(clock)).frame(), by_program=True)
    return found
