"""Packing a lettering for flash: the pixels of every glyph, and an index that holds only what differs.

Pixels lie cropped to their ink or in cells of one size; along rows (each row in whole bytes), down pages
(a byte holds eight bits of one column, and columns follow one another across the page) or down columns
(each column in whole bytes); the first pixel of a byte in its high or its low end; as they are, or as
runs: the level in the high bits of a byte, the count less one in the rest.
Glyphs with the same bytes share them.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np
import numpy.typing as npt

from mosaic.lettering.characters import ranges_of
from mosaic.lettering.glyph import Glyph, Lettering, LevelArray
from mosaic.lettering.plan import Box, GlyphCompression, Order, PlanOrder
from mosaic.pixels.formats import DirectFormat, IndexedFormat

FIELDS = ("offset", "width", "height", "left", "top", "advance")
ORDERS: dict[Order, tuple[Literal["rows", "pages", "columns"], bool]] = {
    "rows": ("rows", True),
    "rows-low": ("rows", False),
    "pages": ("pages", False),
    "pages-high": ("pages", True),
    "columns": ("columns", True),
    "columns-low": ("columns", False),
}
"""Where bytes run, and whether the first pixel of a byte lies in its high end."""
SIZED_ORDERS: tuple[Order, ...] = ("rows", "pages", "columns")
"""One for each direction: which end comes first changes no size."""
WAYS: tuple[tuple[Box, Order, GlyphCompression], ...] = tuple(
    (box, order, compression) for box in ("cropped", "cell") for order in SIZED_ORDERS for compression in ("plain", "runs")
)


def integer_type(values: Sequence[int]) -> tuple[str, int]:
    """The smallest C99 type that holds all values, and its bytes.

    >>> integer_type([0, 255]), integer_type([-1, 4]), integer_type([70000])
    (('uint8_t', 1), ('int8_t', 1), ('uint32_t', 4))
    """
    low, high = min(values, default=0), max(values, default=0)
    for size in (1, 2):
        bits = 8 * size
        if low >= 0 and high < 1 << bits:
            return f"uint{bits}_t", size
        if low >= -(1 << bits - 1) and high < 1 << bits - 1:
            return f"int{bits}_t", size
    return ("uint32_t" if low >= 0 else "int32_t"), 4


@dataclass(frozen=True)
class Table:
    """A table of C structures: its columns by name, those that are the same in every row left out of it.

    `columns` are in the order in which they lie in the structure, larger types first, so that none is padded within.
    """

    columns: dict[str, tuple[int, ...]]
    constants: dict[str, int]
    rows: int

    @classmethod
    def of(cls, columns: dict[str, tuple[int, ...]], *, keep_all: bool = False) -> "Table":
        constant = {} if keep_all else {name: v[0] for name, v in columns.items() if len(set(v)) == 1}
        rest = {name: values for name, values in columns.items() if name not in constant}
        by_size = sorted(rest, key=lambda name: -integer_type(rest[name])[1])
        return cls({name: rest[name] for name in by_size}, constant, len(next(iter(columns.values()))))

    @cached_property
    def row_bytes(self) -> int:
        """Size of one structure: its fields, filled up to a multiple of the largest."""
        sizes = [integer_type(values)[1] for values in self.columns.values()]
        return -(-sum(sizes) // max(sizes)) * max(sizes) if sizes else 0

    @property
    def byte_count(self) -> int:
        return self.row_bytes * self.rows


@dataclass(frozen=True, eq=False)
class Packed:
    """A lettering as its bytes.

    Attributes
    ----------
    pixels : of all glyphs. sizes : bytes of each glyph; those that share another's count too.
    glyphs : `FIELDS` of every glyph by number. ranges : first code point, count, number of its first glyph.
    pairs : kerning, by numbers of glyphs.
    """

    lettering: Lettering
    box: Box
    order: Order
    compression: GlyphCompression
    pixels: bytes
    sizes: tuple[int, ...]
    shared: tuple[bool, ...]
    index: dict[str, tuple[int, ...]]
    glyphs: Table
    ranges: Table
    pairs: Table | None

    @property
    def index_bytes(self) -> int:
        return self.glyphs.byte_count + self.ranges.byte_count

    @property
    def kerning_bytes(self) -> int:
        return self.pairs.byte_count if self.pairs else 0

    @property
    def flash_bytes(self) -> int:
        """Pixels, index and kerning; without the reader's code."""
        return len(self.pixels) + self.index_bytes + self.kerning_bytes

    @property
    def along(self) -> str:
        """Where bytes run: rows, pages or columns."""
        return ORDERS[self.order][0]

    @property
    def high_first(self) -> bool:
        """Whether the first pixel of a byte lies in its high end."""
        return ORDERS[self.order][1]

    @property
    def page_rows(self) -> int:
        """Rows that are finished column by column before the next ones begin."""
        if self.along == "columns":
            return max([1, *self.index["height"]])
        return 8 // self.lettering.bits if self.along == "pages" else 1


def cell_of(lettering: Lettering) -> tuple[int, int, int]:
    """(left, width, height) of the one cell that holds every glyph and its advance."""
    left = min([0, *(g.left for g in lettering.glyphs if g.width)])
    right = max([1, *(max(g.right, g.advance) for g in lettering.glyphs)])
    return left, right - left, lettering.line_height


def pack(lettering: Lettering, box: Box = "cropped", order: Order = "rows", compression: GlyphCompression = "plain") -> Packed:
    """The bytes of a lettering, and its index."""
    placed = placed_in(lettering, box)
    per_byte = 8 // lettering.bits
    pixels, known = bytearray(), dict[bytes, int]()
    sizes, shared, offsets = list[int](), list[bool](), list[int]()
    for glyph in placed:
        data = _runs(glyph.levels, lettering.bits, order) if compression == "runs" else _plain(glyph.levels, per_byte, order)
        # In cells that lie one behind the other no offset has to be kept, so nothing is shared there.
        shares = data in known and not (box == "cell" and compression == "plain")
        offsets.append(known.setdefault(data, len(pixels)) if shares or data not in known else len(pixels))
        shared.append(shares and bool(data))
        sizes.append(len(data))
        if not shares:
            pixels += data
    columns = {
        "offset": tuple(offsets), "width": tuple(g.width for g in placed), "height": tuple(g.height for g in placed),
        "left": tuple(g.left for g in placed), "top": tuple(g.top for g in placed), "advance": tuple(g.advance for g in placed),
    }  # fmt: skip
    table = {
        name: values for name, values in columns.items() if not (name == "offset" and box == "cell" and compression == "plain")
    }
    return Packed(
        lettering, box, order, compression, bytes(pixels), tuple(sizes), tuple(shared), columns, Table.of(table),
        _ranges(lettering), _pairs(lettering),
    )  # fmt: skip


def placed_in(lettering: Lettering, box: Box) -> list[Glyph]:
    """Every glyph as it is packed: cropped, or within the one cell."""
    if box == "cropped":
        return list(lettering.glyphs)
    left, width, height = cell_of(lettering)
    found = []
    for glyph in lettering.glyphs:
        levels = np.zeros((height, width), np.uint8)
        x, y = glyph.left - left, lettering.ascent - glyph.top
        if glyph.width:
            levels[y : y + glyph.height, x : x + glyph.width] = glyph.levels
        found.append(Glyph(glyph.code, levels, left, lettering.ascent, glyph.advance))
    return found


def _ranges(lettering: Lettering) -> Table:
    found = ranges_of(tuple(glyph.code for glyph in lettering.glyphs))
    numbers = np.cumsum([0, *(count for _, count in found)])[:-1]
    columns = {
        "first": tuple(first for first, _ in found),
        "count": tuple(count for _, count in found),
        "glyph": tuple(int(number) for number in numbers),
    }
    return Table.of(columns, keep_all=True)


def _pairs(lettering: Lettering) -> Table | None:
    number = {glyph.code: i for i, glyph in enumerate(lettering.glyphs)}
    rows = sorted((number[a], number[b], by) for (a, b), by in lettering.kerning.items() if a in number and b in number)
    if not rows:
        return None
    first, second, by = (tuple(column) for column in zip(*rows, strict=True))
    return Table.of({"first": first, "second": second, "by": by}, keep_all=True)


def _plain(levels: LevelArray, per_byte: int, order: Order) -> bytes:
    if not levels.size:
        return b""
    along, high_first = ORDERS[order]
    lines = levels if along == "rows" else levels.T
    count, length = lines.shape
    filled = np.zeros((count, -(-length // per_byte) * per_byte), np.uint8)
    filled[:, :length] = lines
    shifts = np.arange(per_byte, dtype=np.uint8) * (8 // per_byte)
    packed = (filled.reshape(count, -1, per_byte) << (shifts[::-1] if high_first else shifts)).sum(axis=2).astype(np.uint8)
    return (packed.T if along == "pages" else packed).tobytes()


def _in_order(levels: npt.NDArray[Any], page: int) -> npt.NDArray[Any]:
    """Levels as they follow one another: page by page from the top, in it column by column, in that downwards."""
    if page == 1:
        return levels.ravel()
    parts = [levels[row : row + page].T.ravel() for row in range(0, levels.shape[0], page)]
    return np.concatenate(parts) if parts else levels.ravel()


def _runs(levels: LevelArray, bits: int, order: Order) -> bytes:
    if not levels.size:
        return b""
    along = ORDERS[order][0]
    flat = levels.T.ravel() if along == "columns" else _in_order(levels, 8 // bits if along == "pages" else 1)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(flat)) + 1])
    counts = np.diff(np.concatenate([starts, [flat.size]]))
    longest = 1 << (8 - bits)
    out = bytearray()
    for level, count in zip(flat[starts].tolist(), counts.tolist(), strict=True):
        while count:
            taken = min(count, longest)
            out.append(level << (8 - bits) | (taken - 1))
            count -= taken
    return bytes(out)


def levels_of(packed: Packed, number: int) -> LevelArray:
    """The pixels of a glyph, read back from the bytes: what a program draws."""
    width, height = packed.index["width"][number], packed.index["height"][number]
    if not width * height:
        return np.zeros((height, width), np.uint8)
    data = np.frombuffer(packed.pixels, np.uint8)[packed.index["offset"][number] :]
    bits, page = packed.lettering.bits, packed.page_rows
    if packed.compression == "runs":
        ends = np.cumsum((data & (0xFF >> bits)).astype(np.int64) + 1)
        count = int(np.searchsorted(ends, width * height)) + 1
        flat = np.repeat(data[:count] >> (8 - bits), (data[:count] & (0xFF >> bits)).astype(np.int64) + 1)
        places = _in_order(np.arange(width * height).reshape(height, width), page)
        out = np.zeros(width * height, np.uint8)
        out[places] = flat
        return out.reshape(height, width)
    full = packed.lettering.full
    rows, columns = np.arange(height)[:, None], np.arange(width)[None, :]
    if packed.along == "rows":
        at, shift = rows * ((width * bits + 7) // 8) + columns * bits // 8, columns * bits % 8
    elif packed.along == "pages":
        at, shift = rows * bits // 8 * width + columns, rows * bits % 8
    else:
        at, shift = columns * ((height * bits + 7) // 8) + rows * bits // 8, rows * bits % 8
    return (data[at] >> (8 - bits - shift if packed.high_first else shift)).astype(np.uint8) & full


def order_of(plan_order: PlanOrder, form: IndexedFormat | DirectFormat) -> Order:
    """The order of bytes that a plan asks for, where it may follow the form of a build's arrays.

    Arrays of colours by value say nothing of a glyph's bits: rows, first pixel high.

    >>> order_of("arrays", DirectFormat(16)), order_of("rows-low", DirectFormat(16))
    ('rows', 'rows-low')
    """
    if plan_order != "arrays":
        return plan_order
    if isinstance(form, DirectFormat):
        return "rows"
    wanted = ("rows" if form.along == "row" else "pages" if form.follow == "pages" else "columns", form.first == "msb")
    return next(order for order, way in ORDERS.items() if way == wanted)


def reads_back(packed: Packed) -> bool:
    """Whether every glyph comes out of the bytes as it went in."""
    placed = placed_in(packed.lettering, packed.box)
    return all(np.array_equal(levels_of(packed, number), glyph.levels) for number, glyph in enumerate(placed))
