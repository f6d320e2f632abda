"""What a reader sees while bytes are on the wire: a transmission played into a panel in virtual time.

Nothing here waits. Each moment has its exact time, the sum of what the link takes for the bytes
before it, of the pauses that were sent, and of the time the panel was busy.
"""

from dataclasses import dataclass
from fractions import Fraction

import numpy as np
import numpy.typing as npt

from mosaic.links import Link
from mosaic.narrowing import needed
from mosaic.panels.geometry import Turn
from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import Part
from mosaic.virtual.base import VirtualController
from mosaic.virtual.misuse import Misuse
from mosaic.virtual.panel import shown_pixels
from mosaic.virtual.updating import UpdatingGlass

MOST_SLICES = 32
"""In about so many slices the bytes of a transmission are shown."""
SLICE_UNIT = 12
"""Slices end on whole pixels of every depth: a multiple of one, two and three bytes, and of pairs."""
FLASHES = ((Fraction(1, 8), "dark"), (Fraction(3, 8), "light"), (Fraction(5, 8), "dark"), (Fraction(7, 8), "light"))
"""Shares of a flashing update's time, and how the glass is driven from then on. Typical; panels differ."""
SHOWN_BYTES = 8


@dataclass(frozen=True)
class Moment:
    """A point in virtual time and what stands on the glass from then on.

    `picture` is a number in the film's pictures; `byte_count` and `clocks` are counted from the
    film's start; `misuse` is what happened in the step that ends here.
    """

    at_s: Fraction
    part: str
    words: str
    picture: int
    byte_count: int
    clocks: int
    misuse: tuple[Misuse, ...] = ()


@dataclass(frozen=True, eq=False)
class Film:
    """Moments in order, the pictures (H, W) or (H, W, 3) they show, and all misuse."""

    moments: tuple[Moment, ...]
    pictures: tuple[npt.NDArray[np.uint8], ...]
    misuse: tuple[Misuse, ...]

    @property
    def total_s(self) -> Fraction:
        """Exact time from the first to the last moment."""
        return self.moments[-1].at_s

    @property
    def byte_count(self) -> int:
        return self.moments[-1].byte_count

    @property
    def clocks(self) -> int:
        return self.moments[-1].clocks


def film_of(panel: VirtualController, parts: tuple[Part, ...], link: Link, turn: Turn, *, slices: int = MOST_SLICES) -> Film:
    """Play parts into a panel, as it stands, at the speed of a link.

    Parameters
    ----------
    panel : the virtual panel; it has taken all of it afterwards
    link : gives the exact clocks and gaps of each transaction
    turn : how the reader sees the glass
    slices : in about so many the bytes are shown
    """
    return _Camera(panel, link, turn).run(parts, slices)


def played_s(panel: VirtualController, parts: tuple[Part, ...], link: Link) -> Fraction:
    """Play parts into a panel and give the exact time in seconds: bytes on the wire, pauses, and waiting until idle."""
    start = panel.now_ms
    for part in parts:
        done: list[Transaction] = []
        before = Fraction(0)
        for transaction in part.transactions:
            done.append(transaction)
            after = Fraction(link.clocks(tuple(done)), link.clock_hz) + link.gaps_s(tuple(done))
            panel.take(transaction, (after - before) * 1000)
            before = after
    return (panel.now_ms - start) / 1000


class _Camera:
    """Collects moments while the panel takes what is sent."""

    def __init__(self, panel: VirtualController, link: Link, turn: Turn) -> None:
        self.panel, self.link, self.turn = panel, link, turn
        self.pictures = [shown_pixels(panel, turn)]
        self.start_ms = panel.now_ms
        self.told = len(panel.misuse)
        self.first_told = self.told
        self.byte_count = self.clocks = 0
        self.slice_bytes = 1
        self.changes_seen = self._change_count()
        self.moments = [Moment(Fraction(0), "", "before anything is sent", 0, 0, 0)]

    def run(self, parts: tuple[Part, ...], slices: int) -> Film:
        sent = sum(part.byte_count for part in parts)
        self.slice_bytes = max(SLICE_UNIT, -(-sent // slices // SLICE_UNIT) * SLICE_UNIT)
        for part in parts:
            for number, transaction in enumerate(part.transactions):
                self._take(part, number, transaction)
        self.panel.finish()
        if len(self.panel.misuse) > self.told:
            self._note(parts[-1].name, "nothing more is sent")
        return Film(tuple(self.moments), tuple(self.pictures), tuple(self.panel.misuse[self.first_told :]))

    def _take(self, part: Part, number: int, transaction: Transaction) -> None:
        if transaction.kind == "busy":
            self._wait(part, transaction)
            return
        size = len(transaction.data)
        ends = [*range(self.slice_bytes, size, self.slice_bytes), size] if transaction.kind == "data" else [size]
        before = self._wire(part, number, transaction, 0)
        for start, end in zip([0, *ends], ends, strict=False):
            after = self._wire(part, number, transaction, end)
            self.panel.take_slice(transaction, start, end, (after[1] - before[1]) * 1000)
            self.byte_count += end - start
            self.clocks += after[0] - before[0]
            before = after
            self._note(part.name, _words(transaction, end))

    def _wire(self, part: Part, number: int, transaction: Transaction, end: int) -> tuple[int, Fraction]:
        """(clocks, seconds) of the part up to byte `end` of this transaction."""
        cut = Transaction(transaction.kind, transaction.data[:end], 0.0, "", transaction.is_pixels)
        done = part.transactions[:number] if end == 0 and len(transaction.data) else (*part.transactions[:number], cut)
        clocks = self.link.clocks(done)
        return clocks, Fraction(clocks, self.link.clock_hz) + self.link.gaps_s(done)

    def _wait(self, part: Part, transaction: Transaction) -> None:
        """The panel is busy; an update shows what it does meanwhile."""
        panel = self.panel
        start, end = panel.now_ms, max(panel.now_ms, panel.busy_until_ms)
        words = _words(transaction, 0)
        if isinstance(panel, UpdatingGlass) and self._change_count() > self.changes_seen:
            mode = panel.changes[-1].mode
            words = f"the glass changes: {mode.name} update, {mode.time_ms:,.0f} ms ({mode.basis})"
            for share, ground in FLASHES if mode.flashes else ():
                at = (start + (end - start) * share - self.start_ms) / 1000
                self._add(at, part.name, f"{words}; flashing", self._ground(ground))
            self.changes_seen = self._change_count()
        panel.take(transaction)
        self._note(part.name, words)

    def _ground(self, which: str) -> npt.NDArray[np.uint8]:
        palette = needed(self.panel.passport.palette, "a palette")  # glass that is updated has one
        index = palette.darkest if which == "dark" else palette.lightest
        return np.full(self.pictures[0].shape, index, np.uint8)

    def _change_count(self) -> int:
        return len(self.panel.changes) if isinstance(self.panel, UpdatingGlass) else 0

    def _note(self, part: str, words: str) -> None:
        # An update has begun and the glass has not yet changed: it shows what it showed before.
        waiting = self._change_count() > self.changes_seen
        shown = self.pictures[self.moments[-1].picture] if waiting else shown_pixels(self.panel, self.turn)
        self._add((self.panel.now_ms - self.start_ms) / 1000, part, words, shown)

    def _add(self, at_s: Fraction, part: str, words: str, shown: npt.NDArray[np.uint8]) -> None:
        if not np.array_equal(shown, self.pictures[-1]):
            self.pictures.append(shown)
        fresh = tuple(self.panel.misuse[self.told :])
        self.told = len(self.panel.misuse)
        self.moments.append(Moment(at_s, part, words, len(self.pictures) - 1, self.byte_count, self.clocks, fresh))


def _words(transaction: Transaction, end: int) -> str:
    """One line: what is sent, and what it is for."""
    if transaction.kind == "delay":
        text = f"wait {transaction.wait_ms:g} ms"
    elif transaction.kind in ("reset", "busy"):
        text = {"reset": "reset", "busy": "wait until idle"}[transaction.kind]
    elif transaction.is_pixels:
        text = f"{end:,} of {len(transaction.data):,} bytes of pixels"
    else:
        shown = transaction.data[:SHOWN_BYTES].hex(" ").upper()
        text = f"{transaction.kind} {shown}{' …' if len(transaction.data) > SHOWN_BYTES else ''}"
    return f"{text}: {transaction.note}" if transaction.note else text
