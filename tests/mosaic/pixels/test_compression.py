"""Compressed bytes worked by hand, piece by piece."""

import pytest

from mosaic.errors import BadValueError
from mosaic.pixels.compression import COMPRESSIONS, compressed_sizes

PACKBITS, RUNS = COMPRESSIONS["packbits"], COMPRESSIONS["run-length"]
DIFFERENT = bytes(range(129))


@pytest.mark.parametrize(
    ("plain", "packed", "pieces"),
    [
        (b"", b"", 0),
        (b"A", b"\x00A", 1),
        (b"AA", b"\xffA", 1),
        (b"AAA", b"\xfeA", 1),
        (b"ABB", b"\x02ABB", 1),  # a run of two behind another byte saves nothing
        (b"ABBB", b"\x00A\xfeB", 2),
        (b"AAB", b"\xffA\x00B", 2),
        (b"AABB", b"\xffA\xffB", 2),
        (b"ABBCCC", b"\x02ABB\xfeC", 2),
        (b"A" * 128, b"\x81A", 1),
        (b"A" * 129, b"\x81A\x00A", 2),
        (DIFFERENT[:128], b"\x7f" + DIFFERENT[:128], 1),
        (DIFFERENT, b"\x7f" + DIFFERENT[:128] + b"\x00\x80", 2),
        (DIFFERENT[:127] + b"zz", b"\x7e" + DIFFERENT[:127] + b"\xffz", 2),  # they would make 129
        (DIFFERENT[:126] + b"zz", b"\x7f" + DIFFERENT[:126] + b"zz", 1),
    ],
)
def test_packbits(plain, packed, pieces):
    assert PACKBITS.compress(plain) == packed
    assert PACKBITS.expand(packed) == plain
    assert PACKBITS.pieces(packed) == pieces


@pytest.mark.parametrize(
    ("packed", "plain", "pieces"),
    [
        (b"\x80", b"", 0),  # a head of 128 says nothing
        (b"\x80\x00A\x80", b"A", 1),
        (b"\x00A\x00B", b"AB", 2),
    ],
)
def test_packbits_of_others(packed, plain, pieces):
    assert PACKBITS.expand(packed) == plain
    assert PACKBITS.pieces(packed) == pieces


@pytest.mark.parametrize(("packed", "at"), [(b"\x00", 0), (b"\xff", 0), (b"\x01A", 0), (b"\x00A\x02BC", 2), (b"\x00A\x81", 2)])
def test_packbits_that_breaks_off(packed, at):
    with pytest.raises(BadValueError, match=f"of {len(packed)} bytes breaks off within the piece at byte {at}$"):
        PACKBITS.expand(packed)


@pytest.mark.parametrize(
    ("plain", "packed"),
    [
        (b"", b""), (b"A", b"\x01A"), (b"AAB", b"\x02A\x01B"), (b"A" * 255, b"\xffA"), (b"A" * 256, b"\xffA\x01A"),
        (b"A" * 511, b"\xffA\xffA\x01A"),
    ],
)  # fmt: skip
def test_runs(plain, packed):
    assert RUNS.compress(plain) == packed
    assert RUNS.expand(packed) == plain
    assert RUNS.pieces(packed) == len(packed) // 2
    assert RUNS.expand(b"\x00Z" + packed) == plain
    with pytest.raises(BadValueError, match="pairs of a count and a byte"):
        RUNS.expand(packed + b"\x01")


def test_sizes_of_all_ways():
    sizes = {size.compression.name: (size.byte_count, size.pieces) for size in compressed_sizes(b"AAAB")}
    assert sizes == {"none": (4, 0), "packbits": (4, 2), "run-length": (4, 2)}
