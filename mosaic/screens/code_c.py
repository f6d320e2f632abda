"""A screen as C99: tables, a call an element, and the surfaces that its panel takes."""

from mosaic.drawing.surface import byte_layout
from mosaic.exports.code import hex_lines
from mosaic.panels.geometry import Orientation
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.calls import Call
from mosaic.screens.rendering import Rendered
from mosaic.screens.sheet import Block, Sheet, is_table, sheet_of
from mosaic.source_text import comment


def turn_number(rendered: Rendered) -> int:
    """How a surface's bytes lie, as the runtimes are told: 0 where the controller turns, or nothing is turned."""
    device = rendered.device
    turn: Orientation = device.turn
    if device.passport.controller.turned_by == "controller":
        return 0
    return (turn.index + 4 if turn.index else 8) if turn.mirrored else turn.index


def quoted(text: str) -> str:
    """A C string literal of a text in UTF-8."""
    out = ""
    for byte in text.encode():
        out += chr(byte) if 32 <= byte < 127 and chr(byte) not in '"\\?' else f"\\{byte:03o}"
    return f'"{out}"'


def _numbers(values: tuple[int, ...]) -> str:
    return ", ".join(str(value) for value in values)


def call_line(call: Call, sheet: Sheet) -> str:
    """One call of the runtime."""
    given, name = call.given, f"draw_{call.name}"
    if call.name == "text":
        x, base, words, font, colors = given
        return f"{name}(s, {x}, {base}, {quoted(words)}, &{sheet.font(font).name}, {sheet.table(colors)});"
    if call.name in ("picture", "turned"):
        *first, image = given
        table = sheet.image(image)
        at = _numbers(tuple(first))
        return f"{name}(s, {at}, {table.width}, {table.height}, {table.name}, {sheet.table(image.colors)});"
    if call.name == "values":
        x, y, image = given
        table = sheet.image(image)
        mask = f"{table.name}_mask" if table.mask else "0"
        return f"{name}(s, {x}, {y}, {table.width}, {table.height}, {table.name}, {table.value_bytes}, {mask});"
    if call.name == "pattern":
        *first, tile, color, ground = given
        tile_name, wide, high = sheet.tile(tile)
        colors = f"{sheet.value(color)}, {sheet.value(ground)}"
        return f"{name}(s, {_numbers(tuple(first))}, {tile_name}, {wide}, {high}, {colors});"
    if call.name == "polygon":
        points, color = given
        flat = _numbers(tuple(v for point in points for v in point))
        return f"{{ static const int16_t at[] = {{{flat}}}; {name}(s, at, {len(points)}, {sheet.value(color)}u); }}"
    *first, color = given
    return f"{name}(s, {_numbers(tuple(first))}, {sheet.value(color)}u);"


def _table_of(block: Block, sheet: Sheet) -> str:
    """Boxes of a ground: a table, and a loop over it."""
    rows, tiles = [], []
    for call in block.calls:
        if call.name == "fill":
            *at, color = call.given
            rows.append(f"{{{_numbers(tuple(at))}, -1, {sheet.value(color)}, -1}}")
            continue
        *at, tile, color, ground = call.given
        name, _, _ = sheet.tile(tile)
        if name not in tiles:
            tiles.append(name)
        rows.append(f"{{{_numbers(tuple(at))}, {tiles.index(name)}, {sheet.value(color)}, {sheet.value(ground)}}}")
    body = ",\n".join(f"        {row}" for row in rows)
    sizes = {name: (width, len(data)) for (data, width), name in sheet.tiles.items()}
    wide, high = sizes[tiles[0]] if tiles else (1, 1)
    lines = [
        f"static void {block.name}(const draw_surface *s) {{",
        "    static const struct { int16_t x, y, w, h, tile; int32_t color, ground; } boxes[] = {", f"{body},", "    };",
    ]  # fmt: skip
    if tiles:
        lines.append(f"    static const uint8_t *const tiles[] = {{{', '.join(tiles)}}};")
    lines.append(f"    for (int32_t i = 0; i < {len(rows)}; i++) {{")
    area = "boxes[i].x, boxes[i].y, boxes[i].w, boxes[i].h"
    lines.append(f"        if (boxes[i].tile < 0) draw_fill(s, {area}, (uint32_t)boxes[i].color);")
    if tiles:
        lines.append(
            f"        else draw_pattern(s, {area}, tiles[boxes[i].tile], {wide}, {high}, boxes[i].color, boxes[i].ground);"
        )
    return "\n".join([*lines, "    }", "}"])


def _function(block: Block, sheet: Sheet) -> str:
    body = "\n".join(f"    {call_line(call, sheet)}" for call in block.calls)
    return f"static void {block.name}(const draw_surface *s) {{\n{body}\n}}"


def _data(sheet: Sheet) -> str:
    out = []
    for table in sheet.fonts.values():
        letters = ",\n".join(
            f"    {{0x{v.code:04X}u, {v.at}u, {v.width}, {v.height}, {v.left}, {v.top}, {v.advance}}}" for v in table.letters
        )
        pixels = table.pixels or b"\0"
        out.append(f"static const uint8_t {table.name}_pixels[{len(pixels)}] = {{\n{hex_lines(pixels)}\n}};")
        out.append(f"static const draw_letter {table.name}_letters[{len(table.letters)}] = {{\n{letters}\n}};")
        kerns = "0"
        if table.kerns:
            pairs = ", ".join(f"{{0x{a:04X}u, 0x{b:04X}u, {by}}}" for a, b, by in table.kerns)
            out.append(f"static const draw_kern {table.name}_kerns[{len(table.kerns)}] = {{{pairs}}};")
            kerns = f"{table.name}_kerns"
        out.append(
            f"static const draw_font {table.name} = {{{table.name}_letters, {table.name}_pixels, {kerns},"
            f" {len(table.letters)}, {len(table.kerns)}, {table.bits}}};"
        )
    for image in sheet.images.values():
        out.append(f"static const uint8_t {image.name}[{len(image.data)}] = {{\n{hex_lines(image.data)}\n}};")
        if image.mask:
            out.append(f"static const uint8_t {image.name}_mask[{len(image.mask)}] = {{\n{hex_lines(image.mask)}\n}};")
    for (rows, _), name in sheet.tiles.items():
        out.append(f"static const uint8_t {name}[{len(rows)}] = {{{', '.join(f'0x{b:02X}' for b in rows)}}};")
    for values, name in sheet.colors.items():
        out.append(f"static const int32_t {name}[{len(values)}] = {{{_numbers(values)}}};")
    return "\n".join(out)


def c_source(rendered: Rendered, title: str) -> str:
    """The source file: tables, and a function that draws the screen on whatever surface it is given."""
    sheet = sheet_of(rendered, title)
    functions, lines = [], []
    for block in sheet.blocks:
        lines.append(f"    /* {block.words} */")
        if is_table(block):
            functions.append(_table_of(block, sheet))
            lines.append(f"    {block.name}(s);")
        elif len(block.calls) > 1:
            functions.append(_function(block, sheet))
            lines.append(f"    {block.name}(s);")
        else:
            lines.append(f"    {call_line(block.calls[0], sheet)}")
    data = _data(sheet)
    body = "\n".join(lines)
    parts = [f'/* {comment(title)}: see {sheet.name}.h. */\n#include "{sheet.name}.h"', data, *functions]
    return "\n\n".join(part for part in parts if part) + f"\n\nvoid {sheet.name}(const draw_surface *s) {{\n{body}\n}}\n"


def c_header(rendered: Rendered, title: str) -> str:
    """The header: sizes, and surfaces for a full buffer, a band, or none."""
    sheet, device = sheet_of(rendered, title), rendered.device
    passport, fmt = device.passport, device.passport.format
    width, height = host_size(passport, device.turn)
    seen_width, seen_height = device.size
    lay = byte_layout(fmt, width, height)
    name, upper = sheet.name, sheet.name.upper()
    codes = "0"
    table = ""
    if isinstance(fmt, IndexedFormat):
        numbers = [code for plane in lay.codes for code in plane]
        table = f"    static const uint8_t codes[] = {{{', '.join(map(str, numbers))}}};\n"
        codes = "codes"
        unit, step = fmt.align_bits // 8, fmt.align_bits // fmt.bits
        down = "rows" if fmt.along == "row" else f"(rows + {step - 1}) / {step}" + (f" * {unit}" if unit > 1 else "")
        across = fmt.grid(width, height)[1]
        ax, ay = (down, "1") if fmt.follow == "columns" else ("1", str(across))
        plane, band = f"({down}) * {across}", f"({down.replace('rows', '(rows)')}) * {across}L * {len(lay.codes)}L"
        planes, colors = len(lay.codes), len(lay.codes[0])
    else:
        ax, ay, plane, planes, colors = "1", str(lay.ay), f"{lay.ay} * rows", 0, 0
        band = f"((rows) * {width}L * {fmt.bits}L + 7L) / 8L"
    turn = turn_number(rendered)
    return f"""/* {comment(title)}, for: {comment(passport.name)}
 * {seen_width} x {seen_height} pixels as the reader sees them; {comment(fmt.describe())}.
 *
 * With a full buffer:  static uint8_t frame[{upper}_BYTES({height})];
 *                      draw_surface s = {name}_surface(frame, 0, {height});
 *                      {name}(&s);
 * In bands: the same for each band of rows from `top` on; the bytes of one band follow those of the one before.
 * Without a buffer: {name}_direct takes a function that sets a window and sends so many pixels of one colour.
 */
#ifndef {upper}_H
#define {upper}_H

#include <stddef.h>

#include "draw.h"

#ifdef __cplusplus
extern "C" {{
#endif

#define {upper}_WIDTH {width} /* as the bytes lie */
#define {upper}_HEIGHT {height}
#define {upper}_BYTES(rows) ((size_t)({band}))

/* Rows from `top` on, in {upper}_BYTES(rows) bytes. */
static inline draw_surface {name}_surface(uint8_t *buf, int32_t top, int32_t rows) {{
{table}    draw_surface s = {{buf, {width}, rows, top, {lay.bits}, {lay.sx}, {lay.sy}, {int(lay.msb)}, {planes}, {colors}, {turn},
                      {seen_width}, {seen_height}, {ax}, {ay}, {plane}, {codes}, 0, 0}};
    return s;
}}

/* Without a buffer; colours are given as the panel takes them. */
static inline draw_surface {name}_direct(void (*area)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t), void *with) {{
    draw_surface s = {{0, {width}, {height}, 0, 0, 0, 0, 0, 0, 0, {turn}, {seen_width}, {seen_height}, 0, 0, 0, 0, area, with}};
    return s;
}}

void {name}(const draw_surface *s);

#ifdef __cplusplus
}}
#endif

#endif
"""
