"""The files of a lettering: C with its index and a reader, Python, a PNG sheet, metrics in JSON, BDF."""

import io
import json
import zipfile
from collections.abc import Callable
from typing import Any

import numpy as np
from PIL import Image

from mosaic.errors import BadValueError
from mosaic.exports.code import python_bytes
from mosaic.lettering.bdf import write_bdf
from mosaic.lettering.c_reader import c_header
from mosaic.lettering.glyph import Lettering
from mosaic.lettering.packing import FIELDS, Packed
from mosaic.source_text import comment, identifier
from mosaic.tables import PLAIN, TableStyle

SHEET_COLUMNS = 16
_PYTHON_READER = '''

def {w}_glyph(code):
    """(width, height, left, top, advance) and the levels, row by row, of a code point; None where there is none."""
    if code not in {w}_index:
        return None
    offset, width, height, left, top, advance = {w}_index[code]
    levels, run, level = bytearray(width * height), 0, 0
    for page in range(0, height, {w}_page):
        for column in range(width):
            for row in range(page, min(page + {w}_page, height)):
                {level}
                levels[row * width + column] = level
    return (width, height, left, top, advance), levels


def {w}_draw(text, x, y, put):
    """Call put(x, y, level) for every pixel with ink of a line whose pen begins at x, its baseline at y; the pen's last x."""
    last = None
    for character in text:
        code = ord(character)
        found = {w}_glyph(code)
        if found is None:
            continue
        (width, height, left, top, advance), levels = found
        x += {w}_kerning.get((last, code), 0)
        for i in range(width * height):
            if levels[i]:
                put(x + left + i % width, y - top + i // width, levels[i])
        x, last = x + advance, code
    return x
'''
_PLACES = {
    "rows": ("column", "row * ((width * {w}_bits + 7) // 8) + column * {w}_bits // 8"),
    "pages": ("row", "row * {w}_bits // 8 * width + column"),
    "columns": ("row", "column * ((height * {w}_bits + 7) // 8) + row * {w}_bits // 8"),
}
"""What counts the bits of a byte, and where the byte lies behind the glyph's first."""
_PLAIN = "level = {w}_pixels[offset + {place}] >> ({shift}) & {w}_full"
_RUNS = (
    "if not run:\n                    byte, offset = {w}_pixels[offset], offset + 1\n"
    "                    level, run = byte >> (8 - {w}_bits), (byte & (0xFF >> {w}_bits)) + 1\n                run -= 1"
)


def _level(packed: Packed, w: str) -> str:
    """The lines that read the level of one pixel."""
    if packed.compression == "runs":
        return _RUNS.format(w=w)
    counted, place = _PLACES[packed.along]
    shift = f"8 - {w}_bits - {counted} * {w}_bits % 8" if packed.high_first else f"{counted} * {w}_bits % 8"
    return _PLAIN.format(w=w, place=place.format(w=w), shift=shift)


def python_source(packed: Packed) -> bytes:
    """A Python module: pixels, index, kerning, and functions that read and draw."""
    lettering = packed.lettering
    w = identifier(lettering.name, "lettering")
    rows = zip(*(packed.index[name] for name in FIELDS), strict=True)
    table = "".join(f"    {g.code}: {row!r},\n" for g, row in zip(lettering.glyphs, rows, strict=True))
    pairs = "".join(f"    {pair!r}: {by},\n" for pair, by in sorted(lettering.kerning.items()))
    level = _level(packed, w)
    return (
        f"# {comment(lettering.name)}: {len(lettering.glyphs)} glyphs, {lettering.bits} bit a pixel\n"
        f"{w}_bits, {w}_full, {w}_page = {lettering.bits}, {lettering.full}, {packed.page_rows}\n"
        f"{w}_ascent, {w}_descent = {lettering.ascent}, {lettering.descent}\n"
        f"# code point: ({', '.join(FIELDS)})\n{w}_index = {{\n{table}}}\n"
        f"# (first, second): pixels by which the second moves\n{w}_kerning = {{\n{pairs}}}\n"
        f"{python_bytes(f'{w}_pixels', packed.pixels)}{_PYTHON_READER.format(w=w, level=level)}"
    ).encode()


def sheet_cells(lettering: Lettering) -> tuple[int, int, list[tuple[int, int]]]:
    """(width, height) of a sheet of all glyphs in their order, and the pen's place on the baseline of each."""
    left = min([0, *(g.left for g in lettering.glyphs)])
    wide = max([1, *(max(g.advance, g.right) for g in lettering.glyphs)]) - left + 2
    high = lettering.line_height + 2
    count = len(lettering.glyphs)
    columns = min(SHEET_COLUMNS, max(1, count))
    pens = [(i % columns * wide + 1 - left, i // columns * high + 1 + lettering.ascent) for i in range(count)]
    return columns * wide, -(-count // columns) * high, pens


def sheet_levels(lettering: Lettering) -> np.ndarray:
    """(H, W) levels of `sheet_cells`."""
    width, height, pens = sheet_cells(lettering)
    sheet = np.zeros((height, width), np.uint8)
    for glyph, (x, y) in zip(lettering.glyphs, pens, strict=True):
        sheet[y - glyph.top : y - glyph.bottom, x + glyph.left : x + glyph.right] = glyph.levels
    return sheet


def png_sheet(packed: Packed) -> bytes:
    """All glyphs in a grid, dark on light, in order of their code points."""
    sheet = sheet_levels(packed.lettering)
    out = io.BytesIO()
    Image.fromarray((255 - sheet.astype(np.uint16) * 255 // packed.lettering.full).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def metrics(packed: Packed) -> bytes:
    """JSON: the line, every glyph's metrics, where it lies in the pixels and on the sheet, and kerning."""
    lettering = packed.lettering
    _, _, pens = sheet_cells(lettering)
    glyphs = [
        {"character": chr(g.code), "code": g.code}
        | {name: packed.index[name][i] for name in FIELDS}
        | {"bytes": packed.sizes[i], "sheet_pen": list(pens[i])}
        for i, g in enumerate(lettering.glyphs)
    ]
    value: dict[str, Any] = {
        "form": 2, "name": lettering.name, "bits": lettering.bits, "ascent": lettering.ascent, "descent": lettering.descent,
        "capital": lettering.capital, "x_height": lettering.x_height, "box": packed.box, "order": packed.order,
        "compression": packed.compression, "pixel_bytes": len(packed.pixels), "index_bytes": packed.index_bytes,
        "kerning_bytes": packed.kerning_bytes, "flash_bytes": packed.flash_bytes, "glyphs": glyphs,
        "kerning": [[first, second, by] for (first, second), by in sorted(lettering.kerning.items())],
    }  # fmt: skip
    return json.dumps(value, indent=2).encode() + b"\n"


WRITERS: dict[str, Callable[[Packed, TableStyle], bytes]] = {
    "h": c_header,
    "py": lambda packed, tables: python_source(packed),
    "bdf": lambda packed, tables: write_bdf(packed.lettering),
    "png": lambda packed, tables: png_sheet(packed),
    "json": lambda packed, tables: metrics(packed),
}
"""By ending. A new kind of file is one entry here."""


def written(packed: Packed, ending: str, tables: TableStyle = PLAIN) -> bytes:
    """A file of this ending; C keeps and reads its tables by `tables`.

    Raises
    ------
    BadValueError
        There is no such kind.
    """
    if ending not in WRITERS:
        raise BadValueError(f"lettering is not written as .{ending}; .{', .'.join(WRITERS)} are")
    return WRITERS[ending](packed, tables)


def zip_of(packed: Packed, description: dict[str, Any], tables: TableStyle = PLAIN) -> bytes:
    """All files, and the description they come of."""
    word = identifier(packed.lettering.name, "lettering")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for ending in WRITERS:
            archive.writestr(f"{word}.{ending}", written(packed, ending, tables))
        archive.writestr(f"{word}-lettering.json", json.dumps(description, indent=2))
    return out.getvalue()
