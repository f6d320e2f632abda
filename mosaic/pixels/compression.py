"""Compressing packed bytes for keeping: ways, what each costs to undo, and the code that undoes it.

Each way is undone byte by byte as the bytes go to the panel, so none needs RAM for a frame.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numba import njit

from mosaic.errors import BadValueError
from mosaic.registry import Registry

LONGEST_PACKBITS, LONGEST_RUN = 128, 255


@dataclass(frozen=True)
class Compression:
    """One way: `compress` and `expand` are each other's inverse; `pieces` counts what a decoder decides.

    `c_body` is the body of a C function that hands each byte of `from`, `count` long, to `put`, reading by `TABLE_READ`;
    `code_bytes` is the flash it takes, typical.
    """

    name: str
    title: str
    compress: Callable[[bytes], bytes]
    expand: Callable[[bytes], bytes]
    pieces: Callable[[bytes], int]
    c_body: str
    python_body: str
    code_bytes: int


@njit(cache=True, nogil=True)
def _run_end(data, at, longest):
    """First place behind the run of equal bytes at `at`, no further than `longest` on."""
    end = at + 1
    while end < data.shape[0] and end - at < longest and data[end] == data[at]:
        end += 1
    return end


@njit(cache=True, nogil=True)
def _write_runs(data, out):
    at, written = 0, 0
    while at < data.shape[0]:
        end = _run_end(data, at, LONGEST_RUN)
        out[written], out[written + 1] = end - at, data[at]
        written += 2
        at = end
    return written


def _compress_runs(data: bytes) -> bytes:
    out = np.empty(2 * len(data), np.uint8)
    return out[: _write_runs(np.frombuffer(data, np.uint8), out)].tobytes()


def _expand_runs(data: bytes) -> bytes:
    if len(data) % 2:
        raise BadValueError(f"{len(data)} bytes of run-length data; they come in pairs of a count and a byte")
    pairs = np.frombuffer(data, np.uint8).reshape(-1, 2)
    return np.repeat(pairs[:, 1], pairs[:, 0]).tobytes()


@njit(cache=True, nogil=True)
def _write_packbits(data, out):
    at, written, plain = 0, 0, 0  # `plain` bytes before `at` wait to be written as they are
    while True:
        last = at >= data.shape[0]
        end = at if last else _run_end(data, at, LONGEST_PACKBITS)
        # A run of two inside plain bytes costs as much as it saves; only at a beginning it is worth it.
        worth = not last and (end - at >= 3 or (end - at == 2 and plain == 0))
        if last or worth or plain + end - at > LONGEST_PACKBITS:
            if plain:
                out[written] = plain - 1
                out[written + 1 : written + 1 + plain] = data[at - plain : at]
                written += 1 + plain
                plain, worth = 0, end - at >= 2
            if last:
                return written
        if worth:
            out[written], out[written + 1] = 257 - (end - at), data[at]
            written += 2
        else:
            plain += end - at
        at = end


def _compress_packbits(data: bytes) -> bytes:
    # At worst each 128 bytes take one more.
    out = np.empty(len(data) + len(data) // LONGEST_PACKBITS + 2, np.uint8)
    return out[: _write_packbits(np.frombuffer(data, np.uint8), out)].tobytes()


@njit(cache=True, nogil=True)
def _read_packbits(data, out):
    """Bytes written to `out` (only counted where it is empty), pieces, and the place at which the data breaks off, or -1."""
    at, written, pieces = 0, 0, 0
    while at < data.shape[0]:
        head = int(data[at])
        if head == 128:
            at += 1
            continue
        count, taken = (head + 1, head + 1) if head < 128 else (257 - head, 1)
        if at + 1 + taken > data.shape[0]:
            return written, pieces, at
        if out.shape[0]:
            if head < 128:
                out[written : written + count] = data[at + 1 : at + 1 + count]
            else:
                out[written : written + count] = data[at + 1]
        written += count
        pieces += 1
        at += 1 + taken
    return written, pieces, -1


def _expand_packbits(data: bytes) -> bytes:
    packed = np.frombuffer(data, np.uint8)
    length, _, broken = _read_packbits(packed, np.empty(0, np.uint8))
    if broken >= 0:
        raise BadValueError(f"the PackBits data of {len(data)} bytes breaks off within the piece at byte {broken}")
    out = np.empty(length, np.uint8)
    _read_packbits(packed, out)
    return out.tobytes()


def _packbits_pieces(data: bytes) -> int:
    return int(_read_packbits(np.frombuffer(data, np.uint8), np.empty(0, np.uint8))[1])


NONE = Compression(
    "none", "uncompressed", bytes, bytes, lambda data: 0,
    "for (; count; count--, from++) put(TABLE_READ(from), with);",
    "return data",
    0,
)  # fmt: skip
PACKBITS = Compression(
    "packbits", "PackBits", _compress_packbits, _expand_packbits, _packbits_pieces,
    """const uint8_t *end = from + count;
    while (from < end) {
        uint8_t head = TABLE_READ(from);
        from++;
        uint8_t n = head < 128 ? (uint8_t)(head + 1) : (uint8_t)(257 - head);
        if (head == 128) continue;
        while (n--) put(TABLE_READ(from), with), from += head < 128;
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
RUN_LENGTH = Compression(
    "run-length", "run length", _compress_runs, _expand_runs, lambda data: len(data) // 2,
    """for (; count >= 2; count -= 2, from += 2) {
        uint8_t n = TABLE_READ(from);
        while (n--) put(TABLE_READ(from + 1), with);
    }""",
    """return b"".join(data[i + 1 : i + 2] * data[i] for i in range(0, len(data), 2))""",
    50,
)  # fmt: skip

COMPRESSIONS: Registry[Compression] = Registry("compression", (NONE, PACKBITS, RUN_LENGTH), lambda compression: compression.name)


@dataclass(frozen=True)
class CompressedSize:
    """What one way makes of some bytes: what is kept, and what its decoder does."""

    compression: Compression
    byte_count: int
    pieces: int


def compressed_sizes(data: bytes) -> tuple[CompressedSize, ...]:
    """Every way's size of these bytes, in the registry's order."""
    made = ((way, way.compress(data)) for way in COMPRESSIONS.values())
    return tuple(CompressedSize(way, len(compressed), way.pieces(compressed)) for way, compressed in made)
