"""Pressing packed bytes for keeping: ways, what each costs to undo, and the code that undoes it.

Each way is undone byte by byte as the bytes go to the panel, so none needs RAM for a frame.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.registry import Registry

LONGEST_PACKBITS, LONGEST_RUN = 128, 255


@dataclass(frozen=True)
class Pressing:
    """One way: `press` and `expand` are each other's inverse; `pieces` counts what a decoder decides.

    `c_body` is the body of a C function that hands each byte of `from`, `count` long, to `put`;
    `code_bytes` is the flash it takes, typical.
    """

    name: str
    title: str
    press: Callable[[bytes], bytes]
    expand: Callable[[bytes], bytes]
    pieces: Callable[[bytes], int]
    c_body: str
    python_body: str
    code_bytes: int


def _runs(data: bytes) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64], npt.NDArray[np.uint8]]:
    """First places, lengths and values of runs of equal bytes."""
    values = np.frombuffer(data, np.uint8)
    first = np.flatnonzero(np.concatenate([[True], values[1:] != values[:-1]])) if len(values) else np.empty(0, np.int64)
    return first, np.diff(np.append(first, len(values))), values[first]


def _press_runs(data: bytes) -> bytes:
    out = bytearray()
    for length, value in zip(*_runs(data)[1:], strict=True):
        left = int(length)
        while left:
            take = min(left, LONGEST_RUN)
            out += bytes((take, int(value)))
            left -= take
    return bytes(out)


def _expand_runs(data: bytes) -> bytes:
    if len(data) % 2:
        raise BadValueError(f"{len(data)} bytes of run-length data; they come in pairs of a count and a byte")
    return b"".join(data[i + 1 : i + 2] * data[i] for i in range(0, len(data), 2))


def _press_packbits(data: bytes) -> bytes:
    out, plain = bytearray(), bytearray()

    def flush() -> None:
        for at in range(0, len(plain), LONGEST_PACKBITS):
            part = plain[at : at + LONGEST_PACKBITS]
            out.append(len(part) - 1)
            out.extend(part)
        plain.clear()

    for length, value in zip(*_runs(data)[1:], strict=True):
        left = int(length)
        # A run of two inside plain bytes costs as much as it saves; only at a beginning it is worth it.
        if left < 3 and (plain or left == 1):
            plain.extend([int(value)] * left)
            continue
        flush()
        while left:
            take = min(left, LONGEST_PACKBITS)
            if take == 1:
                plain.append(int(value))
            else:
                out += bytes((257 - take, int(value)))
            left -= take
    flush()
    return bytes(out)


def _packbits_pieces(data: bytes):
    """(count, is a run, place of its bytes) of every piece."""
    at = 0
    while at < len(data):
        head = data[at]
        count = head + 1 if head < 128 else 257 - head
        if head != 128:
            if at + 1 + (count if head < 128 else 1) > len(data):
                raise BadValueError(f"the PackBits data of {len(data)} bytes breaks off within the piece at byte {at}")
            yield count, head > 128, at + 1
        at += 1 + (0 if head == 128 else count if head < 128 else 1)


def _expand_packbits(data: bytes) -> bytes:
    return b"".join(data[at : at + 1] * n if run else data[at : at + n] for n, run, at in _packbits_pieces(data))


NONE = Pressing(
    "none", "as they are", bytes, bytes, lambda data: 0,
    "while (count--) put(*from++, with);",
    "return data",
    0,
)  # fmt: skip
PACKBITS = Pressing(
    "packbits", "PackBits", _press_packbits, _expand_packbits, lambda data: sum(1 for _ in _packbits_pieces(data)),
    """const uint8_t *end = from + count;
    while (from < end) {
        uint8_t head = *from++;
        uint8_t n = head < 128 ? (uint8_t)(head + 1) : (uint8_t)(257 - head);
        if (head == 128) continue;
        while (n--) put(*from, with), from += head < 128;
        if (head > 128) from++;
    }""",
    """out, at = bytearray(), 0
    while at < len(data):
        head = data[at]
        if head < 128:
            out += data[at + 1 : at + 2 + head]
            at += 2 + head
        else:
            if head > 128:
                out += data[at + 1 : at + 2] * (257 - head)
            at += 2 if head > 128 else 1
    return bytes(out)""",
    90,
)  # fmt: skip
RUN_LENGTH = Pressing(
    "run-length", "run-length", _press_runs, _expand_runs, lambda data: len(data) // 2,
    """for (; count >= 2; count -= 2, from += 2) {
        uint8_t n = from[0];
        while (n--) put(from[1], with);
    }""",
    """return b"".join(data[i + 1 : i + 2] * data[i] for i in range(0, len(data), 2))""",
    50,
)  # fmt: skip

PRESSINGS: Registry[Pressing] = Registry("pressing", (NONE, PACKBITS, RUN_LENGTH), lambda pressing: pressing.name)


@dataclass(frozen=True)
class PressedSize:
    """What one way makes of some bytes: what is kept, and what its decoder does."""

    pressing: Pressing
    byte_count: int
    pieces: int

    @property
    def kept_bytes(self) -> int:
        """Bytes with the decoder's own code, which is typical."""
        return self.byte_count + self.pressing.code_bytes


def pressed_sizes(data: bytes) -> tuple[PressedSize, ...]:
    """Every way's size of these bytes, in the registry's order."""
    made = ((way, way.press(data)) for way in PRESSINGS.values())
    return tuple(PressedSize(way, len(pressed), way.pieces(pressed)) for way, pressed in made)
