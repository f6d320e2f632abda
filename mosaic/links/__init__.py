"""Links between board and panel, and the exact time that bytes take on them."""

from dataclasses import dataclass
from fractions import Fraction
from typing import Protocol

from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import Part


class Link(Protocol):
    """A wire with a clock. `clocks` counts what a run of transactions takes; gaps are in seconds."""

    @property
    def clock_hz(self) -> int: ...

    def clocks(self, transactions: tuple[Transaction, ...]) -> int: ...

    def gaps_s(self, transactions: tuple[Transaction, ...]) -> Fraction: ...


@dataclass(frozen=True)
class WireStep:
    """A named stretch on the wire. Exact; rounding happens where a person reads it."""

    name: str
    byte_count: int
    clocks: int
    time_s: Fraction


def wire_steps(parts: tuple[Part, ...], link: Link) -> tuple[WireStep, ...]:
    """The time of each part on this link; waits for the panel are not counted here."""
    return tuple(
        WireStep(
            part.name,
            part.byte_count,
            link.clocks(part.transactions),
            Fraction(link.clocks(part.transactions), link.clock_hz) + link.gaps_s(part.transactions),
        )
        for part in parts
    )


def total_s(steps: tuple[WireStep, ...]) -> Fraction:
    """Sum of the steps' times in seconds, exact."""
    return sum((step.time_s for step in steps), Fraction(0))
