"""A capture played into the virtual panel: what the glass would show, what was misused on which line, and how long it took."""

from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np
import numpy.typing as npt

from mosaic.imports.capture import Capture, Captured
from mosaic.links import Link
from mosaic.links.i2c import I2cLink
from mosaic.panels.geometry import Turn
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import setup_part
from mosaic.virtual.misuse import Misuse, counted
from mosaic.virtual.panel import shown_pixels, virtual_panel

FEWEST_PIXEL_BYTES = 16
"""Runs of data that the memory takes count as pixels from so many bytes on; shorter ones are operands."""


@dataclass(frozen=True)
class LineMisuse:
    """A misuse with the line of the capture on which it happened; 0 is before or after all of them."""

    misuse: Misuse
    line: int

    def __str__(self) -> str:
        return f"line {self.line}: {self.misuse.text}" if self.line else self.misuse.text


@dataclass(frozen=True)
class Stretch:
    """A run of pixels, or what stands between two: its lines, bytes, and time as computed and as it was captured."""

    name: str
    first_line: int
    last_line: int
    byte_count: int
    computed_s: Fraction
    captured_s: Fraction | None


@dataclass(frozen=True, eq=False)
class Replay:
    """What became of a capture."""

    shown: npt.NDArray[np.uint8]
    misuse: tuple[LineMisuse, ...]
    stretches: tuple[Stretch, ...]
    byte_count: int
    computed_s: Fraction
    captured_s: Fraction | None

    @property
    def comparable_s(self) -> Fraction:
        """Computed time of those stretches whose captured time is known."""
        return sum((s.computed_s for s in self.stretches if s.captured_s is not None), Fraction(0))

    @property
    def counted(self) -> list[tuple[LineMisuse, int]]:
        """Each misuse once, where it came first, with how often it came; the ones that harm least last."""
        ranked = counted((said.misuse.kind, said.misuse.text) for said in self.misuse)
        return [(self.misuse[number], count) for number, count in ranked]

    @property
    def ratio(self) -> float | None:
        """Captured over computed time, where both are known; None where the capture has no times."""
        captured = sum((s.captured_s for s in self.stretches if s.captured_s is not None), Fraction(0))
        return float(captured / self.comparable_s) if captured and self.comparable_s else None


def replay(capture: Capture, passport: Passport, turn: Turn, link: Link, *, after_setup: bool = False) -> Replay:
    """Play a capture.

    Parameters
    ----------
    after_setup : the panel has been set up as the passport says before the capture begins
    """
    link = replace(link, grouped=False) if isinstance(link, I2cLink) else link  # each transaction stands as it was captured
    panel = virtual_panel(passport)
    if after_setup:
        panel.play(setup_part(passport, turn).transactions)
        panel.finish()
        panel.misuse.clear()
        panel.now_ms = max(panel.now_ms, panel.busy_until_ms)
    told: list[LineMisuse] = []
    sent: list[tuple[Captured, Transaction]] = []
    for captured in capture.sent:
        takes = captured.transaction.kind == "data" and panel.takes_data()
        is_pixels = takes and len(captured.transaction.data) >= FEWEST_PIXEL_BYTES
        transaction = replace(captured.transaction, is_pixels=is_pixels)
        before = len(panel.misuse)
        wire = Fraction(link.clocks((transaction,)), link.clock_hz) + link.gaps_s((transaction,))
        panel.take(transaction, wire * 1000)
        told += [LineMisuse(said, captured.line_of(said.byte)) for said in panel.misuse[before:]]
        sent.append((captured, transaction))
    before = len(panel.misuse)
    panel.finish()
    last = capture.sent[-1].lines[-1][1]
    told += [LineMisuse(said, last) for said in panel.misuse[before:]]
    stretches = _stretches(sent, link)
    # What the link takes is known for every byte; waiting for busy is the panel's, and only the capture knows it.
    computed = sum((s.computed_s for s in stretches), Fraction(0))
    byte_count = sum(s.byte_count for s in stretches)
    return Replay(shown_pixels(panel, turn), tuple(told), stretches, byte_count, computed, capture.duration_s)


def _stretches(sent: list[tuple[Captured, Transaction]], link: Link) -> tuple[Stretch, ...]:
    """Runs of pixels by themselves, and what lies between them together."""
    groups: list[list[tuple[Captured, Transaction]]] = []
    for pair in sent:
        if not groups or pair[1].is_pixels or groups[-1][-1][1].is_pixels:
            groups.append([])
        groups[-1].append(pair)
    starts = [next((c.at_s for c, _ in group if c.at_s is not None), None) for group in groups]
    out = []
    for number, group in enumerate(groups):
        transactions = tuple(t for _, t in group)
        pauses = sum((Fraction(t.wait_ms) for t in transactions), Fraction(0)) / 1000
        wire = Fraction(link.clocks(transactions), link.clock_hz) + link.gaps_s(transactions)
        begun, ended = starts[number], starts[number + 1] if number + 1 < len(groups) else None
        name = "pixels" if transactions[0].is_pixels else "set-up" if number == 0 else "commands"
        out.append(
            Stretch(
                name, group[0][0].lines[0][1], group[-1][0].lines[-1][1], sum(len(t.data) for t in transactions), wire + pauses,
                None if begun is None or ended is None else ended - begun,
            )
        )  # fmt: skip
    return tuple(out)
