"""What a real device would have ignored, or worse: kinds of misuse, and where one happened."""

from collections.abc import Iterable
from dataclasses import dataclass

KINDS = {
    "no-reset": "reset missing",
    "before-set-up": "data before set-up",
    "unfinished": "a command left without its operands",
    "unknown": "a command that is not known",
    "stray-data": "data that nothing takes",
    "bad-value": "a value that stands for nothing",
    "reversed": "a window that ends before it begins",
    "outside": "outside the RAM",
    "half-pixel": "bytes that make no whole pixel",
    "locked": "commands while they are locked",
    "too-soon": "no pause where one is needed",
    "busy": "sent while the glass is changing",
    "asleep": "sent in deep sleep",
    "unpowered": "an update without its voltages or its setting",
    "size": "a frame of another size",
}
"""Each kind with its words."""


@dataclass(frozen=True)
class Misuse:
    """One misuse, and its place in what was sent.

    `transaction` counts from 1 since the panel was made, waits and resets among them; `byte`
    is the byte of that transaction, from 1, 0 where the whole of it is meant.
    """

    kind: str
    text: str
    transaction: int
    byte: int

    def __str__(self) -> str:
        at = f"transaction {self.transaction}" + (f", byte {self.byte}" if self.byte else "")
        return f"{self.text} ({at})"


LAST = ("unknown", "stray-data")
"""Kinds that harm least: what a controller does not know it passes over. They stand behind the others."""


def counted(texts: Iterable[tuple[str, str]]) -> list[tuple[int, int]]:
    """(number of the first, how many) of each different text, of (kind, text) in their order; the ones that harm least last."""
    first: dict[tuple[str, str], list[int]] = {}
    for number, told in enumerate(texts):
        first.setdefault(told, [number, 0])[1] += 1
    ranked = sorted(first.items(), key=lambda item: (item[0][0] in LAST, item[1][0]))
    return [(number, count) for _, (number, count) in ranked]
