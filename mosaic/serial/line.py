"""What the line carries: bytes and milliseconds a second of each value, both ways, against its rate; lag of a touch; clocks."""

from collections.abc import Iterable
from dataclasses import dataclass

from mosaic.serial.frames import Message, encode
from mosaic.serial.memory import Entry, MemoryMap
from mosaic.serial.template import Act, Template
from mosaic.values.value import Value

BITS = 10
"""Of a byte: start, eight, stop. One more with parity."""
WORST_ERROR = 0.025
"""By how much the clocks of both ends may differ in all; 2 to 3 %, typical."""
ANSWER_MS = 10.0
"""Until a panel answers what it was asked. Typical."""


@dataclass(frozen=True)
class LineUse:
    """A value on the line: its frames a second, bytes of one to the panel and from it, ms a second on each way."""

    entry: Entry
    name: str
    a_second: float
    out_bytes: int
    in_bytes: int
    out_ms: float
    in_ms: float

    @property
    def ms(self) -> float:
        return self.out_ms + self.in_ms


@dataclass(frozen=True)
class Budget:
    """What all values take of a second, in ms each way; the longest frame, in ms; what is left over."""

    uses: tuple[LineUse, ...]
    out_ms: float
    in_ms: float
    longest_ms: float

    @property
    def share(self) -> float:
        """Of the busier way."""
        return max(self.out_ms, self.in_ms) / 1000


def byte_ms(baud: int, *, parity: bool = False) -> float:
    """ms of a byte.

    >>> round(8 * byte_ms(115_200), 3)
    0.694
    """
    return 1000 * (BITS + parity) / baud


def frame_bytes(act: Act, size: int, template: Template) -> int:
    """Bytes of a frame whose payload has a size, with no byte escaped."""
    return len(encode(Message(act, 0, b"\x01" * size if template.framing != "terminator" else b"\x00" * size), template))


def budget(
    known: MemoryMap,
    values: Iterable[Value],
    template: Template,
    baud: int,
    *,
    polls: bool = False,
    parity: bool = False,
    every: dict[str, int] | None = None,
) -> Budget:
    """The line's budget.

    Parameters
    ----------
    polls : values from the panel are asked for, again and again; otherwise the panel tells them by itself.
    every : ms from reading to reading by value, where the schedule has them otherwise.
    """
    by_id, rates = {value.id: value for value in values}, every or {}
    one_ms = byte_ms(baud, parity=parity)
    uses = []
    for entry in known.entries:
        value = by_id.get(entry.value)
        if value is None:
            continue
        ms = entry.every_ms or rates.get(entry.value) or value.source.every_ms
        a_second = 1000 / max(1, ms)
        out_bytes = in_bytes = 0
        if entry.direction != "from the panel":
            out_bytes += frame_bytes("write", entry.size, template)
        if entry.direction != "to the panel":
            in_bytes += frame_bytes("answer", entry.size, template)
            out_bytes += frame_bytes("read", 1, template) if polls else 0
        uses.append(
            LineUse(entry, value.name, a_second, out_bytes, in_bytes, out_bytes * one_ms * a_second, in_bytes * one_ms * a_second)
        )
    uses.sort(key=lambda one: -one.ms)
    longest = max([max(one.out_bytes, one.in_bytes) for one in uses], default=0) * one_ms
    return Budget(tuple(uses), sum(one.out_ms for one in uses), sum(one.in_ms for one in uses), longest)


def touch_lag_ms(found: Budget, template: Template, baud: int, *, polls: bool = False, parity: bool = False) -> float:
    """From a touch to the program at worst: what is on the line has to end, and the frame has to come; a panel that is polled is
    asked once for everything before."""
    frame = frame_bytes("touch", 2, template) * byte_ms(baud, parity=parity)
    waiting = (
        sum(one.out_bytes + one.in_bytes for one in found.uses) * byte_ms(baud, parity=parity) if polls else found.longest_ms
    )
    return waiting + frame + (ANSWER_MS if polls else 0.0)


def clock_error(baud: int, clock_hz: float, divider: int = 16) -> float:
    """By how much a rate is missed that is made by dividing a clock by whole numbers, as a share.

    >>> round(clock_error(115_200, 16_000_000, 8), 4), clock_error(1_000_000, 16_000_000)
    (0.0212, 0.0)
    """
    steps = max(1, round(clock_hz / (divider * baud)))
    return abs(clock_hz / (divider * steps) / baud - 1)


def slower(found: Budget, limit: float = 0.7) -> list[tuple[LineUse, float]]:
    """Which values to slow down until the busier way is within a share of the time, and to how many a second each; the ones that
    take most first."""
    out, into, told = found.out_ms, found.in_ms, []
    for one in found.uses:
        over = max(out, into) - 1000 * limit
        if over <= 0:
            break
        busier = one.out_ms if out >= into else one.in_ms
        if busier <= 0:
            continue
        keep = max(0.1, 1 - over / busier)
        told.append((one, one.a_second * keep))
        out -= one.out_ms * (1 - keep)
        into -= one.in_ms * (1 - keep)
    return told
