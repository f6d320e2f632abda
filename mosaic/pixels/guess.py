"""Guessing the form of packed bytes: the right one is the one under which the picture takes the fewest bits to describe.

Every form is tried on the same bytes. The picture that it makes of them is described pixel by pixel, each from its
neighbours above and to the left, with counts that learn as they go (Krichevsky & Trofimov 1981; neighbourhoods as in
lossless coding of two-level pictures). Wrong orders of bits, bytes, rows or channels break edges and patterns, and
cost bits. Minimum description length: Rissanen 1978. Sizes to try, and forms known to exist, are handed in.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass

import msgspec
import numba
import numpy as np
import numpy.typing as npt

from mosaic.errors import BadValueError
from mosaic.pixels.direct import unpack_direct
from mosaic.pixels.formats import CHANNEL_BITS, DirectFormat, IndexedFormat, PixelFormat, Plane
from mosaic.pixels.indexed import unpack_indexed

MOST_BYTES = 240_000
"""So many bytes are looked at; more say nothing new."""
KNOWN_SHARE, NAMED_SHARE, RARE_SHARE = 0.08, 0.05, -0.06
"""Shares of bits that are forgiven a form known of a panel and a size named in words, and added to rare forms."""
FOREIGN_BITS = 8.0
"""What a number costs that stands for no colour."""


@dataclass(frozen=True)
class Candidate:
    """A size (native) and a form, and how much it is preferred: a share of the bits that it is forgiven."""

    width: int
    height: int
    format: PixelFormat
    preferred: float = 0.0
    name: str = ""


@dataclass(frozen=True)
class Guess:
    """A candidate and what its picture takes: bits for each byte of the data. Fewer is likelier; 8 is noise."""

    candidate: Candidate
    bits_a_byte: float

    @property
    def rank(self) -> float:
        return self.bits_a_byte * (1 - self.candidate.preferred)


def _plain(bits: int) -> tuple[Plane, ...]:
    return (Plane("pixels", tuple(range(1 << bits))),)


def usual_forms() -> list[PixelFormat]:
    """Forms in which arrays are met, whether a panel takes them or not."""
    forms: list[PixelFormat] = []
    for bits in (1, 2, 4):
        for first in ("msb", "lsb"):
            for along, follow in (("row", "rows"), ("column", "pages"), ("column", "columns")):
                if bits == 1 or along == "row":
                    forms.append(IndexedFormat(bits, along, first, follow, _plain(bits)))  # type: ignore[arg-type]
    forms.append(IndexedFormat(8, "row", "msb", "rows", _plain(8)))
    forms += [DirectFormat(16, byte_order=order) for order in ("big", "little")]
    forms += [DirectFormat(bits) for bits in (8, 12, 18, 24)]
    return forms


def candidates_for(
    byte_count: int, sizes: Iterable[tuple[int, int]], known: Iterable[Candidate], named: tuple[int, int] | None = None
) -> list[Candidate]:
    """Everything that takes just so many bytes: known forms first, then usual forms at every size.

    Parameters
    ----------
    sizes : (width, height) to be tried with the usual forms
    known : forms that panels have, with their sizes and names
    named : a size that words around the bytes give
    """
    found: dict[tuple[object, ...], Candidate] = {}
    for candidate in known:
        if candidate.format.frame_bytes(candidate.width, candidate.height) == byte_count:
            found.setdefault((*_structure(candidate), _codes_of(candidate.format)), candidate)
    made = {_structure(candidate) for candidate in found.values()}
    tried = [*sizes, *([named, named[::-1]] if named else [])]
    for width, height in dict.fromkeys(tried):
        for form in usual_forms():
            if form.frame_bytes(width, height) == byte_count:
                preferred = NAMED_SHARE if named in ((width, height), (height, width)) else 0.0
                preferred += RARE_SHARE if _is_rare(form) else 0.0
                candidate = Candidate(width, height, form, preferred)
                if _structure(candidate) not in made:
                    found.setdefault(_structure(candidate), candidate)
    return list(found.values())


def _is_rare(form: PixelFormat) -> bool:
    """Forms that hardly anybody uses: bytes that follow down the columns, eight bits of grey."""
    return isinstance(form, IndexedFormat) and (form.follow == "columns" or form.bits == 8)


def sizes_of_bytes(byte_count: int) -> list[tuple[int, int]]:
    """Plausible sizes of a picture of so many bytes where no panel is known: widths in eights, no more than 4 : 1."""
    sizes = []
    for bits in (1, 2, 4, 8, 16, 24):
        pixels = byte_count * 8 // bits
        for width in range(8, 1025, 8):
            if pixels and pixels % width == 0 and 0.25 <= width * width / pixels <= 4:
                sizes.append((width, pixels // width))
    return sizes


def _structure(candidate: Candidate) -> tuple[object, ...]:
    """What of a candidate makes another picture: codes do not, and padding only where there is some."""
    form = candidate.format
    if isinstance(form, IndexedFormat):
        grid = form.grid(candidate.width, candidate.height)
        return candidate.width, candidate.height, form.bits, form.along, form.first, form.follow, grid, len(form.planes)
    order = form.byte_order if form.bits == 16 else ""
    return candidate.width, candidate.height, "direct", form.bits, form.follow, form.align_bits, order


def _codes_of(form: PixelFormat) -> tuple[tuple[int, ...], ...]:
    """The numbers of its colours: several panels may differ in nothing else."""
    return tuple(plane.codes for plane in form.planes) if isinstance(form, IndexedFormat) else ()


def guess(data: bytes, candidates: list[Candidate]) -> list[Guess]:
    """All candidates, the likeliest first.

    Raises
    ------
    BadValueError
        There is no candidate for so many bytes.
    """
    if not candidates:
        raise BadValueError(f"{len(data):,} bytes are no picture of any size or form known here; name its width and height")
    guesses = [Guess(candidate, description_bits(data, candidate) / len(data)) for candidate in candidates]
    likeliest: dict[tuple[object, ...], Guess] = {}
    for found in sorted(guesses, key=lambda g: (g.rank, g.candidate.width)):
        likeliest.setdefault(_structure(found.candidate), found)
    return list(likeliest.values())


def description_bits(data: bytes, candidate: Candidate) -> float:
    """Bits that the picture takes which this candidate makes of the data, scaled to all of it."""
    form, width, height = candidate.format, candidate.width, candidate.height
    rows = _rows_for(height, len(data))
    if isinstance(form, DirectFormat):
        rgb = unpack_direct(data, width, height, form)
        bits = CHANNEL_BITS[form.bits]
        channels = np.stack([rgb[:rows, :, c] >> (8 - bits[c]) for c in range(3)]).astype(np.int64)
        return _neighbour_bits(channels, np.array(bits), True) * height / rows + _unexplained_bits(data, form)
    codes = raw_codes(data, width, height, form)
    part = np.ascontiguousarray(codes[:rows])
    levels = 1 << form.bits * len(form.planes)
    if levels == 2:
        cost = min(_two_level_bits(part), _patterned_bits(part))
    else:
        channels, depth = part[None].astype(np.int64), np.array([form.bits * len(form.planes)])
        cost = min(_neighbour_bits(channels, depth, True), _neighbour_bits(channels, depth, False))
        if levels == 4:
            cost = min(cost, _four_level_bits(part))
        if len(form.planes) > 1 and form.bits == 1:
            planes = [np.ascontiguousarray(part >> shift & 1) for shift in range(len(form.planes))]
            cost = min(cost, sum(min(_two_level_bits(plane), _patterned_bits(plane)) for plane in planes))
    return float(cost) * height / rows + _foreign_bits(codes, form)


def _rows_for(height: int, byte_count: int) -> int:
    """Of every candidate the same share of the bytes is looked at."""
    return max(1, min(height, height * MOST_BYTES // byte_count))


def raw_codes(data: bytes, width: int, height: int, form: IndexedFormat) -> npt.NDArray[np.uint8]:
    """(H, W) numbers that stand in the bytes, planes side by side in one number."""
    single = msgspec.structs.replace(form, planes=_plain(form.bits))
    size = single.plane_bytes(width, height)
    out = np.zeros((height, width), np.uint8)
    for plane in range(len(form.planes)):
        out <<= form.bits
        out |= unpack_indexed(data[plane * size : (plane + 1) * size], width, height, single)
    return out


def _unexplained_bits(data: bytes, form: DirectFormat) -> float:
    """Bits that a form passes over and that are not empty, as they would be: two in each byte of 18-bit pixels."""
    if form.bits != 18:
        return 0.0
    low = np.frombuffer(data, np.uint8) & 3
    return 2.0 * low.size if low.any() else 0.0


def _foreign_bits(codes: npt.NDArray[np.uint8], form: IndexedFormat) -> float:
    """What numbers cost that stand for no colour of a form whose numbers are known."""
    keys = np.zeros(256, bool)
    for plane_codes in zip(*(plane.codes for plane in form.planes), strict=True):
        number = 0
        for code in plane_codes:
            number = number << form.bits | code
        keys[number] = True
    return FOREIGN_BITS * float((~keys[codes]).sum())


@numba.njit(cache=True)
def _two_level_bits(pixels: npt.NDArray[np.uint8]) -> float:  # pragma: no cover
    """Bits of a two-level picture, each pixel from ten neighbours: two to the left, five above, three above those."""
    height, width = pixels.shape
    counts = np.full((1024, 2), 0.4)
    total = 0.0
    for y in range(height):
        for x in range(width):
            context = 0
            for dy, first, last in ((0, -2, -1), (1, -2, 2), (2, -1, 1)):
                for dx in range(first, last + 1):
                    yy, xx = y - dy, x + dx
                    bit = 0
                    if yy >= 0 and 0 <= xx < width:
                        bit = pixels[yy, xx]
                    context = context << 1 | bit
            value = pixels[y, x]
            total -= math.log2(counts[context, value] / (counts[context, 0] + counts[context, 1]))
            counts[context, value] += 1
    return total


@numba.njit(cache=True)
def _patterned_bits(pixels: npt.NDArray[np.uint8]) -> float:  # pragma: no cover
    """The same for patterns that repeat every two, four or eight pixels: from those neighbours, and the nearest two."""
    height, width = pixels.shape
    counts = np.full((1024, 2), 0.4)
    total = 0.0
    for y in range(height):
        for x in range(width):
            context = 0
            for dy, dx in ((0, -1), (1, 0), (0, -2), (2, 0), (0, -4), (4, 0), (0, -8), (8, 0), (8, 8), (4, 4)):
                yy, xx = y - dy, x + dx
                bit = 0
                if yy >= 0 and 0 <= xx < width:
                    bit = pixels[yy, xx]
                context = context << 1 | bit
            value = pixels[y, x]
            total -= math.log2(counts[context, value] / (counts[context, 0] + counts[context, 1]))
            counts[context, value] += 1
    return total


@numba.njit(cache=True)
def _four_level_bits(pixels: npt.NDArray[np.uint8]) -> float:  # pragma: no cover
    """Bits of a picture of four numbers, each from five neighbours: two to the left, three above."""
    height, width = pixels.shape
    counts = np.full((1024, 4), 0.25)
    sums = np.full(1024, 1.0)
    total = 0.0
    for y in range(height):
        for x in range(width):
            context = 0
            for dy, dx in ((0, -1), (0, -2), (1, -1), (1, 0), (1, 1)):
                yy, xx = y - dy, x + dx
                number = 0
                if yy >= 0 and 0 <= xx < width:
                    number = pixels[yy, xx]
                context = context << 2 | number
            value = pixels[y, x]
            total -= math.log2(counts[context, value] / sums[context])
            counts[context, value] += 1
            sums[context] += 1
    return total


@numba.njit(cache=True)
def _neighbour_bits(channels: npt.NDArray[np.int64], bits: npt.NDArray[np.int64], has_order: bool) -> float:  # pragma: no cover
    """Bits of channels (C, H, W): which of six neighbours a pixel is like, or if none, what it is.

    What is like no neighbour takes, channel by channel, its difference from the median of left, above and their
    gradient in a universal code (Elias 1975: twice the logarithm), so that a wrong order, in which small steps become
    large ones, cannot be learned away; numbers without an order are counted instead.
    """
    count, height, width = channels.shape
    flags = np.full((49, 7), 0.3)
    sums = np.full(49, 0.3 * 7)
    levels = 1
    for k in range(count):
        levels *= 1 << bits[k] if not has_order else 1
    near, scale = min(levels, 16), max(1, levels // 16)
    seen, seen_sums = np.full((near, levels), 1.0 / levels), np.full(near, 1.0)
    steps = ((0, -1), (-1, 0), (-1, -1), (-1, 1), (0, -2), (-2, 0))
    total, last, last_above = 0.0, 0, np.zeros(width, np.int64)
    for y in range(height):
        for x in range(width):
            found = 6
            for place in range(6):
                yy, xx = y + steps[place][0], x + steps[place][1]
                if yy < 0 or xx < 0 or xx >= width:
                    continue
                like = True
                for k in range(count):
                    like = like and channels[k, y, x] == channels[k, yy, xx]
                if like:
                    found = place
                    break
            context = last * 7 + last_above[x]
            total -= math.log2(flags[context, found] / sums[context])
            flags[context, found] += 1
            sums[context] += 1
            last, last_above[x] = found, found
            if found < 6:
                continue
            if not has_order:
                value = channels[0, y, x]
                place = channels[0, y, x - 1] // scale if x else 0
                total -= math.log2(seen[place, value] / seen_sums[place])
                seen[place, value] += 1
                seen_sums[place] += 1
                continue
            for k in range(count):
                a = channels[k, y, x - 1] if x else 0
                b = channels[k, y - 1, x] if y else 0
                c = channels[k, y - 1, x - 1] if x and y else 0
                if c >= max(a, b):
                    likely = min(a, b)
                elif c <= min(a, b):
                    likely = max(a, b)
                else:
                    likely = a + b - c
                difference = abs(channels[k, y, x] - likely)
                cost = 1.0 if difference == 0 else 1.0 + 2.0 * math.log2(difference + 1)
                total += min(cost, bits[k] + 1.0)
    return total
