"""What a day shows to be wrong, and what would help: rates that can be kept, tearing, touches that are answered late."""

from dataclasses import dataclass
from math import ceil

from mosaic.device.device import Device
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures, SourceFigures

MOVES_A_SECOND = 5
"""Drawings a second from which on something moves."""
SCAN_HZ = 60
"""How often panels with a memory of their own show it. Typical."""
USUAL_MS = (
    10,
    20,
    50,
    100,
    200,
    250,
    500,
    1000,
    2000,
    5000,
    10_000,
    15_000,
    30_000,
    60_000,
    120_000,
    300_000,
    600_000,
    900_000,
    1_200_000,
    1_800_000,
    3_600_000,
)


@dataclass(frozen=True)
class Proposal:
    """A rate that can be kept, instead of one that cannot."""

    ident: str
    name: str
    every_ms: int
    instead_ms: int


def usual_ms(least: float) -> int:
    """The shortest interval a maker would choose that is no shorter.

    >>> usual_ms(100), usual_ms(101), usual_ms(4_000_000)
    (100, 200, 7200000)
    """
    return next((one for one in USUAL_MS if one >= least), ceil(least / 3_600_000) * 3_600_000)


def proposals(day: DayFigures, program: Program) -> list[Proposal]:
    """For each source that misses readings an interval that it keeps: the longest round there was, and a usual figure."""
    found = []
    for one in day.sources:
        if one.missed:
            found.append(
                Proposal(one.ident, one.name, one.every_ms, usual_ms(max(one.latest_ms + one.every_ms, _own_ms(one, program))))
            )
    return found


def _own_ms(one: SourceFigures, program: Program) -> float:
    return 0.0 if program.splits else float(one.blocks_ms)


def has_sync_line(device: Device) -> bool:
    """Whether the panel tells when a scan begins."""
    return any(pin.function == "sync" for pin in device.passport.module.pins) and device.passport.scan is None


@dataclass(frozen=True)
class Tearing:
    """Whether a picture can be seen half old and half new: "none", "safe", "likely"; and why, in words."""

    state: str
    words: str


def tearing(device: Device, day: DayFigures) -> Tearing:
    """Whether a day's worst step is seen to tear.

    Without the panel's sync line it can show whenever something moves, at any speed; with it a write that begins just behind the
    scan is safe while it takes less than two scans.
    """
    if device.passport.refresh:
        return Tearing("none", "An e-paper shows what it was sent as a whole.")
    moves = day.steps / max(0.001, day.length_ms / 1000)
    if device.passport.scan is not None:
        if moves < MOVES_A_SECOND:
            return Tearing(
                "safe", "The panel is scanned out of the frame that is drawn into; so little moves that it is hardly seen."
            )
        return Tearing(
            "likely", "The panel is scanned out of the frame that is drawn into: with two frames in turn it does not tear."
        )
    longest = day.worst.link_ms if day.worst is not None else 0.0
    two_scans = 2000 / SCAN_HZ
    if has_sync_line(device):
        if longest < two_scans:
            words = f"Begun as the sync line rises it is safe: {longest:.1f} ms on the link are less than two scans"
            return Tearing("safe", f"{words}, {two_scans:.1f} ms (typical).")
        words = f"Even begun as the sync line rises, {longest:.1f} ms on the link are not less than two scans"
        return Tearing("likely", f"{words}, {two_scans:.1f} ms (typical).")
    if moves < MOVES_A_SECOND:
        return Tearing("safe", f"{moves:.2g} drawings a second: nothing moves, and a tear would stand for one scan only.")
    return Tearing("likely", f"{moves:.0f} drawings a second without a sync line: a tear can show at any speed of the link.")
