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
from mosaic.wiring.proposal import propose
from mosaic.wiring.signals import signals_of

SOFT_CYCLES = 20
"""Cycles of a small processor for one bit that a program sets and clocks by itself. Typical: 10 to 40 by how it is written."""


BUS_CLOCKS_HZ = (100_000, 400_000, 1_000_000)
"""The clocks that two-wire links are made for."""
HALVINGS = 4
"""Boards halve a clock of theirs again and again; so many steps below the highest are told."""
NOT_BY_ITSELF = ("rgb", "uart")
"""Links that are fed in another way than by a block of bytes that is sent and forgotten."""


@dataclass(frozen=True)
class LinkSpeed:
    """A frame on a link.

    Attributes
    ----------
    kind, clock_hz : of the link. by_program : the program itself makes the clock, on any pins.
    frame : its cost. factor : how many times as long as on the link at hand. lines : what is wired, besides supply and ground.
    pins : how many of the board's it takes. hurdles : what stands in the way of wiring it, in words.
    is_here : the build's own link and clock. why_not : why the two do not have it in common; "" where they do.
    """

    kind: str
    clock_hz: int
    frame: Cost
    factor: float
    lines: tuple[str, ...]
    pins: int
    hurdles: tuple[str, ...] = ()
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
    if option.kind == "i2c":
        between = [one for one in BUS_CLOCKS_HZ if one < highest]
    elif option.kind in NOT_BY_ITSELF:  # a scan or a line has the rate that both ends were made for
        between = []
    else:
        between = [highest >> step for step in range(1, HALVINGS + 1)]
    return sorted({usual, highest, *mine, *between} - {0})


def _wiring(device: Device, kind: str) -> tuple[int, tuple[str, ...]]:
    """How many pins of the board a link takes, and what stands in its way."""
    proposal = propose(device.passport, device.board, kind)
    lines = _lines(device, kind)
    used = {wire.to for wire in proposal.plan.wires if wire.to and wire.signal in lines} - {"tied low", "tied high"}
    return len(used), proposal.hurdles


def link_speeds(device: Device) -> list[LinkSpeed]:
    """A frame on every link of the panel, at each clock, and by a program where that is possible."""
    here = Wire(device, device.link).frame()
    own_ms = Fraction(here.setup_ms + here.data_ms + here.gap_ms)
    found: list[LinkSpeed] = []

    wired: dict[str, tuple[int, tuple[str, ...]]] = {}

    def add(kind: str, clock: int, frame: Cost, **more: Any) -> None:
        ms = frame.setup_ms + frame.data_ms + frame.gap_ms
        if kind not in wired:
            wired[kind] = _wiring(device, kind)
        found.append(LinkSpeed(kind, clock, frame, float(ms / own_ms), _lines(device, kind), *wired[kind], **more))

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
