"""panel.h and panel.c: set-up, windows and frames of a panel as its passport has them, over the seven functions of a board."""

import re
from math import ceil

from mosaic.device.device import Device
from mosaic.drawing.surface import byte_layout
from mosaic.panels.geometry import turn_code
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import PLANE, Step, parse
from mosaic.panels.windows import host_size
from mosaic.panels.wire import setup_part, window_values
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.updates import link_of
from mosaic.source_text import comment

TOKEN = re.compile(r"\{(?:([0-9A-F]{1,2})\+)?([a-z][a-z0-9_]*)(?:/([1-9][0-9]{0,4}))?(?::(u8|u16|u16le|low|high|lo|hi))?\}")


def _bytes_of(token: str) -> list[str]:
    """The bytes of a token as C; values of a window stand in variables of their names."""
    match = TOKEN.fullmatch(token)
    if match is None:
        return [f"0x{token}"]
    base, name, divisor, kind = match.groups()
    value = f"{name} / {divisor}" if divisor else name
    value = {"lo": f"(({value}) & 15)", "hi": f"(({value}) >> 4)", "low": f"(({value}) & 255)", "high": f"(({value}) >> 8)"}.get(
        kind or "", f"({value})"
    )
    value = f"(0x{base} + {value})" if base else value
    if (kind or "").startswith("u16"):
        both = [f"(uint8_t)({value} >> 8)", f"(uint8_t)({value} & 255)"]
        return both[::-1] if kind == "u16le" else both
    return [f"(uint8_t){value}"]


def _lines(steps: tuple[Step, ...] | list[Step]) -> list[str]:
    """Calls of the board for steps without a plane."""
    out = []
    for step in steps:
        note = f" /* {comment(step.note)} */" if step.note else ""
        if step.kind == "reset":
            out.append(f"    board_reset();{note}")
        elif step.kind == "delay":
            out.append(f"    board_delay({max(1, round(step.wait_ms))}u);{note}")
        elif step.kind == "busy":
            out.append(f"    wait();{note}")
        else:
            told = ", ".join(byte for token in step.tokens for byte in _bytes_of(token))
            kind = 1 if step.kind == "command" else 0
            out.append(f"    {{ const uint8_t b[] = {{{told}}}; told({kind}, b, sizeof b); }}{note}")
    return out


def _split(text: str) -> tuple[list[str], list[str]]:
    """Calls before the bytes of a plane, the transaction with them begun, and calls behind it."""
    steps = parse(text)
    at = next(number for number, step in enumerate(steps) if PLANE in step.tokens)
    tokens = steps[at].tokens
    place = tokens.index(PLANE)
    begun = [f"    board_select({1 if steps[at].kind == 'command' else 0});"]
    head, tail = tokens[:place], tokens[place + 1 :]
    for some, where in ((head, begun), (tail, ended := list[str]())):
        if some:
            told = ", ".join(byte for token in some for byte in _bytes_of(token))
            where.append(f"    {{ const uint8_t b[] = {{{told}}}; board_write(b, sizeof b); }}")
    return [*_lines(steps[:at]), *begun], [*ended, *_lines(steps[at + 1 :])]


def _variables(body: list[str], passport: Passport, turn: int) -> list[str]:
    """Declarations of what a function's calls name."""
    text = "\n".join(body)
    given = {
        "width": "PANEL_WIDTH", "height": "PANEL_HEIGHT", "turn": str(turn),
        "x0": "PANEL_LEFT + box->x", "x1": "PANEL_LEFT + box->x + box->w - 1",
        "y0": "PANEL_TOP + box->y", "y1": "PANEL_TOP + box->y + box->h - 1",
    }  # fmt: skip
    found = [f"    const int32_t {name} = {value};" for name, value in given.items() if re.search(rf"\b{name}\b", text)]
    return found if "box->" in "".join(found) else ["    (void)box;", *found]


def turned_code(device: Device) -> int:
    """What `{turn}` stands for in sequences: 0 where the controller does not turn."""
    return turn_code(device.passport, device.turn) if device.passport.controller.turned_by == "controller" else 0


def _function(head: str, body: list[str], device: Device) -> str:
    return "\n".join([f"{head} {{", *_variables(body, device.passport, turned_code(device)), *body, "}"])


def band_rows(device: Device) -> int:
    """Rows of the buffer that the program draws into; all of them where bytes lie column after column."""
    fmt, (_, height) = device.passport.format, host_size(device.passport, device.turn)
    if isinstance(fmt, IndexedFormat) and fmt.follow == "columns":
        return height
    unit = _unit(device.passport)
    units = ceil(height / unit)
    return ceil(units / max(1, device.buffer_bands)) * unit


def _unit(passport: Passport) -> int:
    fmt = passport.format
    return max(fmt.pixels_per_byte, fmt.align_bits // fmt.bits) if isinstance(fmt, IndexedFormat) and fmt.along == "column" else 1


def is_direct(device: Device) -> bool:
    """Whether the program draws without a buffer: it is asked to, and the panel takes whole bytes a pixel."""
    fmt = device.passport.format
    return device.buffer_bands == 0 and not isinstance(fmt, IndexedFormat) and fmt.bits != 12 and not link_of(device).whole


def panel_header(device: Device, title: str, turn: int) -> str:
    """panel.h. `turn` : how a surface's bytes lie, as the drawing runtime is told."""
    passport, fmt = device.passport, device.passport.format
    width, height = host_size(passport, device.turn)
    seen_width, seen_height = device.size
    lay, link = byte_layout(fmt, width, height), link_of(device)
    values = window_values(passport, device.turn)
    sequences, rows = passport.sequences, band_rows(device)
    codes, table = "0", ""
    if isinstance(fmt, IndexedFormat):
        numbers = ", ".join(str(code) for plane in lay.codes for code in plane)
        table, codes = f"    static const uint8_t codes[] = {{{numbers}}};\n", "codes"
        unit, step = fmt.align_bits // 8, fmt.align_bits // fmt.bits
        down = "rows" if fmt.along == "row" else f"(rows + {step - 1}) / {step}" + (f" * {unit}" if unit > 1 else "")
        across = fmt.grid(width, height)[1]
        ax, ay = (down, "1") if fmt.follow == "columns" else ("1", str(across))
        plane, planes, colors = f"({down}) * {across}", len(lay.codes), len(lay.codes[0])
        size = fmt.plane_bytes(width, rows) * planes
    else:
        ax, ay, plane, planes, colors = "1", str(lay.ay), f"{lay.ay} * rows", 0, 0
        size = -(-rows * width * fmt.bits // 8)
    direct = is_direct(device)
    return f"""/* {comment(title)}, for: {comment(passport.name)}
 * {seen_width} x {seen_height} pixels as the reader sees them; {comment(fmt.describe())}. */
#ifndef PANEL_H
#define PANEL_H

#include "change.h"
#include "draw.h"
#include "update.h"

#ifdef __cplusplus
extern "C" {{
#endif

/* As the bytes lie, where the glass begins in the panel's memory, and as the reader sees it. */
#define PANEL_WIDTH {width}
#define PANEL_HEIGHT {height}
#define PANEL_LEFT {int(values["x0"])}
#define PANEL_TOP {int(values["y0"])}
#define PANEL_SEEN_WIDTH {seen_width}
#define PANEL_SEEN_HEIGHT {seen_height}
#define PANEL_PLANES {max(1, planes)}
/* Drawn in bands of so many rows, in so many bytes; DIRECT: without a buffer. */
#define PANEL_BAND {rows}
#define PANEL_BUFFER {1 if direct else size}
#define PANEL_DIRECT {int(direct)}
/* Whether the glass changes on a command only, and whether that may be for a part of it. */
#define PANEL_SHOWS {int(bool(sequences.show))}
#define PANEL_SHOWS_PARTS {int(bool(sequences.show_part and sequences.write_before))}
/* Whether it is set up anew before each update: showing a frame has switched its drive voltages off. */
#define PANEL_BEGINS_ANEW {int(bool(sequences.show and link.whole))}

/* From reset until the panel takes pictures. */
void panel_begin(void);
/* A window of a plane is opened, its rows are put from bands, and it is closed. before: the picture before, where it is taken. */
void panel_open(int32_t plane, const update_box *box, int32_t before);
void panel_put(const draw_surface *band, int32_t plane, const update_box *part);
void panel_close(int32_t plane, const update_box *box, int32_t before);
/* The glass shows what was sent. */
void panel_show(const update_box *box);
void panel_show_part(const update_box *box);

/* Rows from `top` on in a buffer. */
static inline draw_surface panel_surface(uint8_t *buf, int32_t top, int32_t rows) {{
{table}    draw_surface s = {{buf, {width}, rows, top, {lay.bits}, {lay.sx}, {lay.sy}, {int(lay.msb)}, {planes}, {colors}, {turn},
                      {seen_width}, {seen_height}, {ax}, {ay}, {plane}, {codes}, 0, 0, 0, 0, 0, 0, 0, 0}};
    return s;
}}
/* Without a buffer: each box of one colour is sent as a window. */
draw_surface panel_direct(void);

/* The smallest window that holds a box that the reader sees. */
update_box panel_box(const change_box *seen);

#define PANEL_GRID_X {link.grid_x}
#define PANEL_GRID_Y {link.grid_y}
#define PANEL_WHOLE {int(link.whole)}

#ifdef __cplusplus
}}
#endif

#endif
"""


def _opened(device: Device) -> tuple[str, str]:
    """panel_open and panel_close: of panels that take pages there is nothing to open."""
    sequences, cases, ends = device.passport.sequences, list[str](), list[str]()
    writes = list(sequences.write)
    window = _lines(parse(sequences.window)) if sequences.window else []
    if sequences.per == "page":
        return (
            "void panel_open(int32_t plane, const update_box *box, int32_t before) {\n    (void)plane;\n    (void)box;\n"
            "    (void)before;\n}",
            "void panel_close(int32_t plane, const update_box *box, int32_t before) {\n    (void)plane;\n    (void)box;\n"
            "    (void)before;\n}",
        )
    behind = []
    if sequences.write_before:
        first, last = _split(sequences.write_before)
        cases += ["    if (before) {", *(f"    {line}" for line in first), "        return;", "    }"]
        behind += ["    if (before) {", *(f"    {line}" for line in last), "        return;", "    }"]
    for number, write in enumerate(writes):
        first, last = _split(write)
        cases += [f"    if (plane == {number}) {{", *(f"    {line}" for line in first), "    }"]
        ends += [f"    if (plane == {number}) {{", *(f"    {line}" for line in last), "    }"] if last else []
    head = "    (void)plane;\n    (void)before;"
    opened = _function("void panel_open(int32_t plane, const update_box *box, int32_t before)", [head, *window, *cases], device)
    closed = _function("void panel_close(int32_t plane, const update_box *box, int32_t before)", [head, *behind, *ends], device)
    return opened, closed


def _put(device: Device) -> str:
    """panel_put: the bytes of a window's rows, in the order in which the panel takes them."""
    fmt, sequences = device.passport.format, device.passport.sequences
    width, height = host_size(device.passport, device.turn)
    lay = byte_layout(fmt, width, height)
    head = "void panel_put(const draw_surface *band, int32_t plane, const update_box *part)"
    if not isinstance(fmt, IndexedFormat):
        if fmt.bits == 12:
            return f"""{head} {{
    /* Two pixels are three bytes, also across the ends of rows. */
    static uint8_t waiting, is_half;
    uint8_t line[48];
    uint32_t count = 0;
    (void)plane;
    for (int32_t y = part->y; y < part->y + part->h; y++) {{
        for (int32_t x = part->x; x < part->x + part->w; x++) {{
            const int32_t at = (y - band->top) * PANEL_WIDTH + x;
            const uint8_t *from = band->buf + at / 2 * 3;
            const uint32_t c = at % 2 ? ((from[1] & 15u) << 8 | from[2]) : ((uint32_t)from[0] << 4 | from[1] >> 4);
            if (is_half) {{
                line[count++] = (uint8_t)(waiting << 4 | c >> 8);
                line[count++] = (uint8_t)(c & 255u);
            }} else {{
                line[count++] = (uint8_t)(c >> 4);
                waiting = (uint8_t)(c & 15u);
            }}
            is_half = (uint8_t)!is_half;
            if (count > sizeof line - 2) {{ board_write(line, count); count = 0; }}
        }}
    }}
    if (part->y + part->h == putting_until && is_half) {{ line[count++] = (uint8_t)(waiting << 4); is_half = 0; }}
    if (count) board_write(line, count);
}}"""
        size = -(-fmt.bits // 8)
        return f"""{head} {{
    (void)plane;
    for (int32_t y = part->y; y < part->y + part->h; y++)
        board_write(band->buf + ((y - band->top) * PANEL_WIDTH + part->x) * {size}, (uint32_t)part->w * {size}u);
}}"""
    first_x, last_x = f"part->x >> {lay.sx}", f"(part->x + part->w + {(1 << lay.sx) - 1}) >> {lay.sx}"
    first_y, last_y = f"(part->y - band->top) >> {lay.sy}", f"(part->y + part->h - band->top + {(1 << lay.sy) - 1}) >> {lay.sy}"
    begin = f"""{head} {{
    const uint8_t *from = band->buf + plane * band->plane_bytes;
    const int32_t left = {first_x}, right = {last_x}, first = {first_y}, last = {last_y};"""
    if sequences.per == "page":
        first_part, last_part = _split(sequences.write[0])
        inner = [*_lines(parse(sequences.window)), *first_part]
        told = {
            "page": f"(PANEL_TOP + part->y) / {1 << lay.sy} + y - first", "x0": "PANEL_LEFT + part->x",
            "x1": "PANEL_LEFT + part->x + part->w - 1", "y0": "PANEL_TOP + part->y",
            "y1": "PANEL_TOP + part->y + part->h - 1", "width": "PANEL_WIDTH", "height": "PANEL_HEIGHT",
        }  # fmt: skip
        text = "\n".join([*inner, *last_part])
        known = [f"        const int32_t {n} = {v};" for n, v in told.items() if re.search(rf"\b{n}\b", text)]
        calls = "\n".join([*known, *(f"    {line}" for line in inner)])
        tail = "\n".join(f"    {line}" for line in last_part)
        return f"""{begin}
    for (int32_t y = first; y < last; y++) {{
{calls}
        board_write(from + y * band->ay + left, (uint32_t)(right - left));
{tail}
    }}
}}"""
    if fmt.follow == "columns":
        return f"""{begin}
    for (int32_t x = left; x < right; x++) board_write(from + x * band->ax + first, (uint32_t)(last - first));
}}"""
    return f"""{begin}
    for (int32_t y = first; y < last; y++) board_write(from + y * band->ay + left, (uint32_t)(right - left));
}}"""


def _boxed(device: Device) -> str:
    """panel_box: turned as the surface is, and out to the panel's grid."""
    link = link_of(device)
    if link.whole:
        return (
            "update_box panel_box(const change_box *seen) {\n    const update_box all = {0, 0, PANEL_WIDTH, PANEL_HEIGHT};\n"
            "    (void)seen;\n    return all;\n}"
        )
    gx, gy, ox, oy = link.grid_x, link.grid_y, link.offset_x, link.offset_y
    return f"""update_box panel_box(const change_box *seen) {{
    const draw_surface whole = panel_direct(), part = draw_within(&whole, seen->x, seen->y, seen->w, seen->h);
    int32_t left = (part.clip_x + {ox}) / {gx} * {gx} - {ox}, top = (part.clip_y + {oy}) / {gy} * {gy} - {oy};
    int32_t right = (part.clip_right + {ox + gx - 1}) / {gx} * {gx} - {ox};
    int32_t bottom = (part.clip_bottom + {oy + gy - 1}) / {gy} * {gy} - {oy};
    update_box box;
    if (left < 0) left = 0;
    if (top < 0) top = 0;
    if (right > PANEL_WIDTH) right = PANEL_WIDTH;
    if (bottom > PANEL_HEIGHT) bottom = PANEL_HEIGHT;
    box.x = left;
    box.y = top;
    box.w = right - left;
    box.h = bottom - top;
    return box;
}}"""


def _direct(device: Device, turn: int) -> str:
    width, height = host_size(device.passport, device.turn)
    seen_width, seen_height = device.size
    fmt = device.passport.format
    size = 2 if isinstance(fmt, IndexedFormat) else -(-fmt.bits // 8)
    shifts = "".join(f"            line[i * {size} + {n}] = (uint8_t)(c >> {8 * (size - 1 - n)} & 255u);\n" for n in range(size))
    area = f"""static void area(void *context, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c) {{
    const update_box box = {{x, y, w, h}};
    uint8_t line[16 * {size}];
    int32_t left = w * h;
    (void)context;
    for (int32_t i = 0; i < 16; i++) {{
{shifts}    }}
    panel_open(0, &box, 0);
    while (left > 0) {{
        const int32_t some = left < 16 ? left : 16;
        board_write(line, (uint32_t)some * {size}u);
        left -= some;
    }}
    panel_close(0, &box, 0);
}}

"""
    given = "area" if is_direct(device) else "0"
    return f"""{area if is_direct(device) else ""}draw_surface panel_direct(void) {{
    draw_surface s = {{0, {width}, {height}, 0, 0, 0, 0, 0, 0, 0, {turn}, {seen_width}, {seen_height}, 0, 0, 0, 0, {given}, 0,
                      0, 0, 0, 0, 0, 0}};
    return s;
}}"""


def panel_source(device: Device, title: str, turn: int) -> str:
    """panel.c."""
    passport = device.passport
    sequences = passport.sequences
    setup = [
        Step(sent.kind, tuple(f"{byte:02X}" for byte in sent.data), sent.wait_ms, sent.note)
        for sent in setup_part(passport, device.turn).transactions
    ]
    opened, closed = _opened(device)
    show = _function("void panel_show(const update_box *box)", _lines(parse(sequences.show)), device)
    part = _function("void panel_show_part(const update_box *box)", _lines(parse(sequences.show_part or sequences.show)), device)
    waits = any("wait();" in text for text in (opened, closed, show, part, *_lines(setup)))
    wait = """static void wait(void) {
    int32_t is_busy = 0, none = 0;
    while (board_input(BOARD_BUSY, 0, &is_busy, &none) && is_busy) board_delay(1);
}

"""
    told = """static void told(int32_t is_command, const uint8_t *bytes, uint32_t count) {
    board_select(is_command);
    board_write(bytes, count);
}

"""
    put = _put(device)
    if "putting_until" in put:  # the end of the window decides over the last half byte
        opened = opened.replace(" {\n", " {\n    putting_until = box->y + box->h;\n", 1)
    state = "static int32_t putting_until;\n\n" if "putting_until" in put else ""
    uses = "told(" in "".join((opened, closed, show, part, put, *_lines(setup)))
    pieces = [
        "\n".join(["void panel_begin(void) {", *_lines(setup), "}"]), opened, put, closed, show, part, _boxed(device),
        _direct(device, turn),
    ]  # fmt: skip
    body = "\n\n".join(pieces)
    return (
        f'/* {comment(title)}: see panel.h. */\n#include "panel.h"\n\n#include "board.h"\n\n'
        f"{state}{wait if waits else ''}{told if uses else ''}{body}\n"
    )
