"""A screen as C99: tables, a call an element, and the surfaces that its panel takes."""

from collections.abc import Sequence

from mosaic.drawing.surface import byte_layout
from mosaic.exports.code import hex_lines
from mosaic.panels.geometry import Orientation
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.calls import Call
from mosaic.screens.code_values import names_of
from mosaic.screens.reckoning import LARGEST, Writer, needed, room_of, shared, words_in, written
from mosaic.screens.rendering import Rendered
from mosaic.screens.sheet import Block, Sheet, is_table, sheet_of
from mosaic.screens.symbols import Question, Symbol, Way, Whole
from mosaic.screens.updates import link_of
from mosaic.screens.words import Words, piece_text
from mosaic.source_text import comment
from mosaic.values.notation import FORMS, Field
from mosaic.values.states import State


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


class CWriter(Writer):
    """Sums and calls in C; `v` are the values, `s` the surface."""

    def op(self, number: Symbol) -> str:
        parts, op = number.parts, number.op
        match op:
            case "raw":
                return f"v->{self.names.of(parts[0])}"
            case "known":
                return f"(v->{self.names.of(parts[0])}_is != VALUE_ABSENT)"
            case "tick":
                return "v->tick"
            case "map":
                map_, raw = parts
                return f"map_{map_.by}({self.sum(raw)}, {self.sheet.map(map_.points)}, {len(map_.points)})"
            case "width":
                words, font = parts
                return f"draw_width({self.local[words.source]}, &{self.sheet.font(font).name})"
            case "if":
                return f"({self.sum(parts[0])} ? {self.sum(parts[1])} : {self.sum(parts[2])})"
            case "//":
                return f"map_floor({self.sum(parts[0])}, {parts[1]})"
            case "least" | "most":
                return f"map_{op}({self.sum(parts[0])}, {self.sum(parts[1])})"
            case "across" | "along":
                return f"draw_{op}({self.sum(parts[0])})"
        wide = "(int64_t)" if max(-number.low, number.high) > LARGEST else ""
        return f"({wide}{self.sum(parts[0])} {op} {self.sum(parts[1])})"

    def numbers(self, given: tuple[Whole, ...]) -> str:
        return ", ".join(self.sum(number) for number in given)

    def ink(self, color: Whole) -> str:
        """A colour as the last thing that a call is given."""
        found = self.color(color)
        return f"(uint32_t){self.sum(found)}" if isinstance(found, Symbol) else f"{found}u"

    def call(self, call: Call, on: str) -> str:
        """One call of the runtime."""
        given, name, sheet = call.given, f"draw_{call.name}", self.sheet
        if call.name == "text":
            x, base, words, font, colors = given
            shown = quoted(words) if isinstance(words, str) else self.local[words.source]
            return f"{name}({on}, {self.numbers((x, base))}, {shown}, &{sheet.font(font).name}, {sheet.table(colors)});"
        if call.name in ("picture", "turned"):
            *first, image = given
            table = sheet.image(image)
            at = self.numbers(tuple(first))
            return f"{name}({on}, {at}, {table.width}, {table.height}, {table.name}, {sheet.table(image.colors)});"
        if call.name == "values":
            x, y, image = given
            table = sheet.image(image)
            mask = f"{table.name}_mask" if table.mask else "0"
            at = self.numbers((x, y))
            return f"{name}({on}, {at}, {table.width}, {table.height}, {table.name}, {table.value_bytes}, {mask});"
        if call.name == "pattern":
            *first, tile, color, ground = given
            tile_name, wide, high = sheet.tile(tile)
            colors = self.numbers((self.color(color), self.color(ground)))
            return f"{name}({on}, {self.numbers(tuple(first))}, {tile_name}, {wide}, {high}, {colors});"
        if call.name == "polygon":
            points, color = given
            known = all(isinstance(v, int) for point in points for v in point)
            flat = ", ".join(str(v) if isinstance(v, int) else f"(int16_t){self.sum(v)}" for point in points for v in point)
            at = f"{'static ' if known else ''}const int16_t at[] = {{{flat}}};"
            return f"{{ {at} {name}({on}, at, {len(points)}, {self.ink(color)}); }}"
        if call.name == "plot":
            *first, past, color = given
            kept = self.names.of(past.value)
            return f"{name}({on}, {self.numbers(tuple(first))}, v->{kept}_past, v->{kept}_held, {past.count}, {self.ink(color)});"
        *first, color = given
        return f"{name}({on}, {self.numbers(tuple(first))}, {self.ink(color)});"

    def calls(self, calls: Sequence[Call]) -> list[str]:
        """Lines of calls, those inside of a box on a surface of which only that can be drawn on."""
        lines, on, depth = [], "s", ""
        for call in calls:
            if call.name == "within":
                lines.append(f"{{ const draw_surface inner = draw_within(s, {self.numbers(call.given)});")
                on, depth = "&inner", "  "
            elif call.name == "beyond":
                lines.append("}")
                on, depth = "s", ""
            else:
                lines.append(f"{depth}{self.call(call, on)}")
        return lines

    def ask(self, question: Question, yes: list[str], no: list[str]) -> list[str]:
        """A question, and what follows from its answers."""
        asked = f"{self.sum(question.left)} {question.op} {self.sum(question.right)}"
        if not yes:
            return [f"if (!({asked})) {{", *(f"    {line}" for line in no), "}"]
        rest = ["} else {", *(f"    {line}" for line in no), "}"] if no else ["}"]
        return [f"if ({asked}) {{", *(f"    {line}" for line in yes), *rest]

    def composed(self, words: Words, name: str) -> list[str]:
        """A text put together in a buffer."""
        lines = [f"char {name}[{room_of(words)}], *{name}_end = {name};"]
        for piece in words.pieces:
            if isinstance(piece, str):
                lines.append(self._plain(name, piece_text(piece, State())))
                continue
            value = self.names.of(piece.value)
            shown = [f"{name}_end += {self._shown(piece, f'{name}_end')};"]
            if piece.unit and piece.value.unit and piece.value.kind == "number":
                shown.append(self._plain(name, f" {piece.value.unit}"))
            lines.append(f"if (v->{value}_is == VALUE_ABSENT) {{ {self._plain(name, piece.value.absent)} }}")
            if piece.value.stale:
                lines.append(f"else if (v->{value}_is == VALUE_STALE) {{ {self._plain(name, piece.value.stale)} }}")
            lines.append(f"else {{ {' '.join(shown)} }}")
        return lines

    def _plain(self, name: str, text: str) -> str:
        return f"{name}_end += show_words({name}_end, {quoted(text)}, {len(text.encode())});"

    def _shown(self, piece: Field, to: str) -> str:
        value, raw = piece.value, f"v->{self.names.of(piece.value)}"
        if value.kind == "text":
            return f"show_words({to}, {raw}, {value.most_bytes})"
        if value.named:
            listed = self.sheet.words_of(value.named)
            most = max(len(word.encode()) for word in value.named)
            return f"show_words({to}, {listed}[map_least(map_most({raw}, 0), {len(value.named) - 1})], {most})"
        if value.kind == "time":
            if piece.form.endswith("am"):
                return f"show_clock_12({to}, {raw}, {int(piece.form != 'h am')})"
            return f"show_clock({to}, {raw}, {int(piece.form.startswith('hh'))}, {int(piece.form.endswith('ss'))})"
        if value.kind in FORMS:
            return f"show_{value.kind}({to}, {raw}, {FORMS[value.kind].index(piece.form)})"
        form = piece.number
        plus, fill = (f"'{mark}'" if mark else "0" for mark in (form.plus, form.fill))
        return f"show_number({to}, {raw}, {value.decimals}, {form.decimals}, {plus}, {fill}, {form.width})"

    def spot(self, ways: Sequence[Way]) -> list[str]:
        """Everything that one element needs, in a scope of its own."""
        self.local = {}
        reckoned: list[tuple[str, list[str]]] = []
        for number, words in enumerate(words_in(ways), 1):
            self.local[words.source] = f"t{number}"
            reckoned.append((f"t{number}", self.composed(words, f"t{number}")))
        for number, one in enumerate(shared(ways), 1):
            kind = "int64_t" if max(-one.low, one.high) > LARGEST else "int32_t"
            reckoned.append((f"n{number}", [f"const {kind} n{number} = {self.op(one)};"]))
            self.local[one.key] = f"n{number}"
        return needed(reckoned, written(ways, self.ask, self.calls))


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


def function_of(block: Block, writer: CWriter) -> str:
    lines: list[str] = []
    for ways in block.spots:
        inner = writer.spot(ways)
        lines += ["{", *(f"    {line}" for line in inner), "}"] if len(block.spots) > 1 and block.is_dynamic else inner
    values = ", const screen_values *v" if block.is_dynamic else ""
    body = "\n".join(f"    {line}" for line in lines)
    return f"static void {block.name}(const draw_surface *s{values}) {{\n{body}\n}}"


def data_of(sheet: Sheet) -> str:
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
    for points, name in sheet.maps.items():
        listed = ", ".join(f"{{{at}, {gives}}}" for at, gives in points)
        out.append(f"static const map_point {name}[{len(points)}] = {{{listed}}};")
    for words, name in sheet.words.items():
        out.append(f"static const char *const {name}[{len(words)}] = {{{', '.join(map(quoted, words))}}};")
    return "\n".join(out)


def _changes(sheet: Sheet) -> str:
    """What finds the windows that differ between two moments."""
    dynamic = [block for block in sheet.blocks if block.is_dynamic]
    name, link = sheet.name, link_of(sheet.rendered.device)
    cases = "\n".join(f"        case {number}: {block.name}(s, v); break;" for number, block in enumerate(dynamic))
    numbers = f"{link.grid_x}, {link.grid_y}, {link.offset_x}, {link.offset_y}, {int(link.whole)}, {link.setup}, {link.bits}"
    return f"""static void {name}_element(const draw_surface *s, const void *values, int32_t number) {{
    const screen_values *v = (const screen_values *)values;
    switch (number) {{
{cases}
        default: break;
    }}
}}

int32_t {name}_changes(const screen_values *before, const screen_values *now, update_box *boxes, int32_t room) {{
    static const update_link link = {{{numbers}}};
    const draw_surface s = {name}_direct(0, 0);
    return update_boxes(&s, &link, {name}_element, {len(dynamic)}, before, now, boxes, room);
}}"""


def c_source(rendered: Rendered, title: str, *, separate: bool = False) -> str:
    """The source file: tables, and a function that draws the screen on whatever surface it is given.

    `separate` makes a function of each element, also of those that are a single call.
    """
    sheet = sheet_of(rendered, title)
    writer = CWriter(sheet, names_of(rendered.kit.design))
    functions, lines = [], []
    for block in sheet.blocks:
        lines.append(f"    /* {block.words} */")
        if is_table(block):
            functions.append(_table_of(block, sheet))
            lines.append(f"    {block.name}(s);")
        elif separate or len(block.calls) > 1 or block.is_dynamic:
            functions.append(function_of(block, writer))
            lines.append(f"    {block.name}(s{', v' if block.is_dynamic else ''});")
        else:
            lines += [f"    {line}" for line in writer.calls(block.calls)]
    values = ", const screen_values *v" if sheet.is_dynamic else ""
    changes = _changes(sheet) if sheet.is_dynamic else ""
    data = data_of(sheet)
    body = "\n".join(lines)
    needed = ['"show.h"', '"maps.h"'] if sheet.is_dynamic else []
    includes = "".join(f"\n#include {file}" for file in [f'"{sheet.name}.h"', *needed])
    parts = [f"/* {comment(title)}: see {sheet.name}.h. */{includes}", data, *functions, changes]
    whole = f"void {sheet.name}(const draw_surface *s{values}) {{\n{body}\n}}\n"
    return "\n\n".join(part for part in parts if part) + f"\n\n{whole}"


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
    values, changes, more = "", "", ""
    if sheet.is_dynamic:
        values, more = ", const screen_values *v", '#include "update.h"\n#include "values.h"\n'
        changes = f"""
/* The windows that differ between two moments, at most `room` of them; gives their count. For each of them:
   draw_surface part = update_within(&s, &box); {name}(&part, &now); and the window is sent from the buffer. */
int32_t {name}_changes(const screen_values *before, const screen_values *now, update_box *boxes, int32_t room);
"""
    call = "(&s, &now)" if sheet.is_dynamic else "(&s)"
    return f"""/* {comment(title)}, for: {comment(passport.name)}
 * {seen_width} x {seen_height} pixels as the reader sees them; {comment(fmt.describe())}.
 *
 * With a full buffer:  static uint8_t frame[{upper}_BYTES({height})];
 *                      draw_surface s = {name}_surface(frame, 0, {height});
 *                      {name}{call};
 * In bands: the same for each band of rows from `top` on; the bytes of one band follow those of the one before.
 * Without a buffer: {name}_direct takes a function that sets a window and sends so many pixels of one colour.
 */
#ifndef {upper}_H
#define {upper}_H

#include <stddef.h>

#include "draw.h"
{more}
#ifdef __cplusplus
extern "C" {{
#endif

#define {upper}_WIDTH {width} /* as the bytes lie */
#define {upper}_HEIGHT {height}
#define {upper}_BYTES(rows) ((size_t)({band}))

/* Rows from `top` on, in {upper}_BYTES(rows) bytes. */
static inline draw_surface {name}_surface(uint8_t *buf, int32_t top, int32_t rows) {{
{table}    draw_surface s = {{buf, {width}, rows, top, {lay.bits}, {lay.sx}, {lay.sy}, {int(lay.msb)}, {planes}, {colors}, {turn},
                      {seen_width}, {seen_height}, {ax}, {ay}, {plane}, {codes}, 0, 0, 0, 0, 0, 0, 0, 0}};
    return s;
}}

/* Without a buffer; colours are given as the panel takes them. */
static inline draw_surface {name}_direct(void (*area)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t), void *with) {{
    draw_surface s = {{0, {width}, {height}, 0, 0, 0, 0, 0, 0, 0, {turn}, {seen_width}, {seen_height}, 0, 0, 0, 0, area, with,
                      0, 0, 0, 0, 0, 0}};
    return s;
}}

void {name}(const draw_surface *s{values});
{changes}
#ifdef __cplusplus
}}
#endif

#endif
"""
