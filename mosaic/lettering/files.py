"""The files of a lettering: C with its index and a reader, Python, a PNG sheet, metrics in JSON, BDF."""

import io
import json
from collections.abc import Callable

import numpy as np
from PIL import Image

from mosaic.errors import BadValueError
from mosaic.exports.code import hex_lines, python_bytes
from mosaic.exports.result import identifier
from mosaic.lettering.bdf import write_bdf
from mosaic.lettering.glyph import Glyph, Lettering

SHEET_COLUMNS = 16


def packed(glyph: Glyph, bits: int) -> bytes:
    """A glyph's levels, row by row, leftmost pixel in the high end, each row in whole bytes."""
    if not glyph.width:
        return b""
    per_byte = 8 // bits
    width = -(-glyph.width // per_byte) * per_byte
    levels = np.zeros((glyph.height, width), np.uint8)
    levels[:, : glyph.width] = glyph.levels
    shifts = np.arange(per_byte - 1, -1, -1, dtype=np.uint8) * bits
    return (levels.reshape(glyph.height, -1, per_byte) << shifts).sum(axis=2).astype(np.uint8).tobytes()


def _rows(lettering: Lettering) -> tuple[list[tuple[int, ...]], bytes]:
    """(code, offset, width, height, left, top, advance) of every glyph, and all their bytes."""
    rows, data = [], bytearray()
    for glyph in lettering.glyphs:
        rows.append((glyph.code, len(data), glyph.width, glyph.height, glyph.left, glyph.top, glyph.advance))
        data += packed(glyph, lettering.bits)
    return rows, bytes(data)


def flash_bytes(lettering: Lettering) -> int:
    """Bytes of the pixels and of the index (16 a glyph) in a program, without the reader's code."""
    return len(_rows(lettering)[1]) + 16 * len(lettering.glyphs)


def _name(code: int) -> str:
    """A character as a C comment may hold it."""
    character = chr(code)
    return character if character.isprintable() and character not in "*/\\?" and code < 0x7F else f"U+{code:04X}"


READER = """
/* The glyph of a code point, or 0. */
static inline const struct {w}_glyph *{w}_find(uint32_t code)
{{
    uint32_t low = 0, high = {W}_GLYPHS;
    while (low < high) {{
        uint32_t middle = low + (high - low) / 2;
        if ({w}_glyphs[middle].code < code) low = middle + 1; else high = middle;
    }}
    return low < {W}_GLYPHS && {w}_glyphs[low].code == code ? &{w}_glyphs[low] : 0;
}}

/* Gets each pixel that has ink, and its level, 1 to {W}_FULL. Where glyphs meet, the stronger level should stay. */
typedef void {w}_put(int32_t x, int32_t y, uint8_t level, void *with);

/* Draws one line of UTF-8 with the pen at x and its baseline at y; gives the pen's last place back. */
static inline int32_t {w}_draw(const char *text, int32_t x, int32_t y, {w}_put *put, void *with)
{{
    const uint8_t *at = (const uint8_t *)text;
    while (*at) {{
        uint32_t code = *at++;
        int more = code >= 0xF0 ? 3 : code >= 0xE0 ? 2 : code >= 0xC0 ? 1 : 0;
        if (more) code &= (uint32_t)(0x3F >> more);
        while (more-- && (*at & 0xC0) == 0x80) code = code << 6 | (*at++ & 0x3F);
        const struct {w}_glyph *g = {w}_find(code);
        if (!g) continue;
        uint32_t stride = (uint32_t)(g->width * {W}_BITS + 7) / 8;
        for (uint16_t row = 0; row < g->height; row++)
            for (uint16_t column = 0; column < g->width; column++) {{
                uint32_t bit = (uint32_t)column * {W}_BITS;
                uint8_t byte = {w}_pixels[g->offset + row * stride + bit / 8];
                uint8_t level = (uint8_t)(byte >> (8 - {W}_BITS - bit % 8)) & {W}_FULL;
                if (level) put(x + g->left + column, y - g->top + row, level, with);
            }}
        x += g->advance;
    }}
    return x;
}}
"""


def c_header(lettering: Lettering) -> bytes:
    """A C99 header: pixels, the index by code point, and a reader that draws a line."""
    rows, data = _rows(lettering)
    word = identifier(lettering.name)
    upper = word.upper()
    about = lettering.name.replace("*/", "* /").replace("\\", "/")
    lines = "\n".join(f"    {{{', '.join(str(v) for v in row)}}}, /* {_name(row[0])} */" for row in rows)
    return (
        f"/*\n * {about}: {len(rows)} glyphs, {lettering.bits} bit a pixel, {len(data)} bytes of pixels\n"
        " * Rows of each glyph from the top, leftmost pixel in the high end, each row in whole bytes.\n"
        " * left, top: from the pen to the left edge, from the baseline up to the upper edge.\n */\n"
        f"#ifndef {upper}_H\n#define {upper}_H\n\n#include <stdint.h>\n\n#define {upper}_GLYPHS {len(rows)}u\n"
        f"#define {upper}_BITS {lettering.bits}\n#define {upper}_FULL {(1 << lettering.bits) - 1}\n"
        f"#define {upper}_ASCENT {lettering.ascent}\n#define {upper}_DESCENT {lettering.descent}\n\n"
        f"struct {word}_glyph {{ uint32_t code, offset; uint16_t width, height; int16_t left, top, advance; }};\n\n"
        f"static const struct {word}_glyph {word}_glyphs[{len(rows)}] = {{\n{lines}\n}};\n\n"
        f"static const uint8_t {word}_pixels[{max(1, len(data))}] = {{\n{hex_lines(data or bytes(1))}\n}};\n"
        f"{READER.format(w=word, W=upper)}\n#endif\n"
    ).encode()


def python_source(lettering: Lettering) -> bytes:
    """A Python module: pixels, and the index by code point."""
    rows, data = _rows(lettering)
    word = identifier(lettering.name)
    table = "".join(f"    {row[0]}: {row[1:]!r},\n" for row in rows)
    return (
        f"# {lettering.name.splitlines()[0]}: {len(rows)} glyphs, {lettering.bits} bit a pixel\n"
        f"# code point: (offset, width, height, left, top, advance)\n{word}_bits = {lettering.bits}\n"
        f"{word}_ascent, {word}_descent = {lettering.ascent}, {lettering.descent}\n{word}_glyphs = {{\n{table}}}\n"
        f"{python_bytes(f'{word}_pixels', data)}"
    ).encode()


def png_sheet(lettering: Lettering) -> bytes:
    """All glyphs in a grid on one baseline a row, dark on light, in order of their code points."""
    wide = max(1, max((max(g.advance, g.left + g.width) - min(0, g.left) for g in lettering.glyphs), default=1)) + 2
    high = lettering.line_height + 2
    count = len(lettering.glyphs)
    columns = min(SHEET_COLUMNS, max(1, count))
    sheet = np.zeros((-(-count // columns) * high, columns * wide), np.uint8)
    for number, glyph in enumerate(lettering.glyphs):
        x = number % columns * wide + 1 - min(0, glyph.left) + glyph.left
        y = number // columns * high + 1 + lettering.ascent - glyph.top
        sheet[y : y + glyph.height, x : x + glyph.width] = glyph.levels
    full = (1 << lettering.bits) - 1
    out = io.BytesIO()
    Image.fromarray((255 - sheet.astype(np.uint16) * 255 // full).astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def metrics(lettering: Lettering) -> bytes:
    """JSON: name, line and every glyph's metrics, with where it lies in the pixels."""
    rows, data = _rows(lettering)
    keys = ("code", "offset", "width", "height", "left", "top", "advance")
    value = {
        "form": 1, "name": lettering.name, "bits": lettering.bits, "ascent": lettering.ascent, "descent": lettering.descent,
        "pixel_bytes": len(data), "flash_bytes": flash_bytes(lettering),
        "glyphs": [dict(zip(keys, row, strict=True)) | {"character": chr(row[0])} for row in rows],
    }  # fmt: skip
    return json.dumps(value, indent=2).encode() + b"\n"


WRITERS: dict[str, Callable[[Lettering], bytes]] = {
    "h": c_header, "py": python_source, "bdf": write_bdf, "png": png_sheet, "json": metrics,
}  # fmt: skip


def written(lettering: Lettering, ending: str) -> bytes:
    """A file of this ending.

    Raises
    ------
    BadValueError
        There is no such kind, or it cannot hold the lettering.
    """
    if ending not in WRITERS:
        raise BadValueError(f"lettering is not written as .{ending}; .{', .'.join(WRITERS)} are")
    return WRITERS[ending](lettering)
