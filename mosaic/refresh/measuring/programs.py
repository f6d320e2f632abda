"""The list as programs: C99 and plain Python, which time each row on the maker's board and print a line for it."""

from mosaic.refresh.measuring.listing import Listing, Row
from mosaic.screens.code_c import c_header, c_source
from mosaic.screens.code_python import python_source
from mosaic.screens.sheet import sheet_of
from mosaic.source_text import comment

VERSION = 1
FIRST = "drawing-times"
"""What the first line begins with, before the version, the list's key and how many lines follow."""


def _value(row: Row, listing: Listing) -> tuple[str, list[int]]:
    """(shape, numbers) of a primitive with its colour as the panel takes it."""
    sheet = sheet_of(listing.screens[0][1], "m1") if listing.screens else None
    assert row.call is not None
    name, given = row.call
    color = sheet.value(given[-1]) if sheet is not None else given[-1]
    return name, [*given[:-1], color]


def c_measure_header(listing: Listing, title: str) -> str:
    """measure.h: what the maker fills in, and the surfaces of the screens."""
    headers = "\n".join(c_header(rendered, f"m{number}") for number, (_, rendered) in enumerate(listing.screens, 1))
    return f"""/* {comment(title)}: a list of drawings that this board times. Call measure() once; paste what it says. */
#ifndef MEASURE_H
#define MEASURE_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {{
#endif

/* Yours to fill in. A clock that counts microseconds and may come round; a line of text to the screen or the serial line; and a
   window of the panel, set and sent as your program does it, with the last byte out before it comes back. */
uint32_t measure_us(void);
void measure_say(const char *line);
void measure_send(int32_t x, int32_t y, int32_t w, int32_t h, const uint8_t *bytes, uint32_t count);

void measure(void);

#ifdef __cplusplus
}}
#endif

#endif

{headers}"""


def c_measure(listing: Listing, title: str) -> str:
    """measure.c; compile it with draw.c."""
    device, fmt = listing.device, listing.device.passport.format
    sources, tables, timed = [], [], []
    for number, (_, rendered) in enumerate(listing.screens, 1):
        source = c_source(rendered, f"m{number}", separate=True)
        sources.append(source.replace(f'#include "m{number}.h"', ""))
    for row in listing.rows:
        if row.call is not None:
            shape, given = _value(row, listing)
            *numbers, color = given
            listed = ", ".join(map(str, numbers))
            tables.append(f"static void row_{row.name}(const draw_surface *s) {{ draw_{shape}(s, {listed}, {color}u); }}")
            timed.append(f'    draws(&s, "{row.name}", {row.times}, row_{row.name});')
        elif row.window is not None:
            one = row.window
            size = fmt.frame_bytes(one.width, one.height)
            timed.append(f'    sends("{row.name}", {row.times}, {one.x}, {one.y}, {one.width}, {one.height}, {size}u);')
        else:
            timed.append(f'    draws(&s, "{row.name}", {row.times}, {row.block});')
    rows, body, functions = listing.band_rows, "\n".join(timed), "\n".join(tables)
    has_sent = any(row.is_sent for row in listing.rows)
    sends = """
static void sends(const char *name, int32_t times, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t count) {
    const uint32_t begin = measure_us();
    for (int32_t i = 0; i < times; i++) measure_send(x, y, w, h, frame, count);
    says(name, times, measure_us() - begin);
}
""" if has_sent else ""  # fmt: skip
    drawn = "\n".join(sources)
    return f"""/* {comment(title)}: see measure.h. For: {comment(device.passport.name)}, {comment(device.board.name)}. */
#include "measure.h"

#include "draw.h"

{drawn}

{functions}

static uint8_t frame[M1_BYTES({rows})];

static char *number(char *to, uint32_t value) {{
    char digits[10];
    int32_t count = 0;
    do {{
        digits[count++] = (char)('0' + value % 10u);
        value /= 10u;
    }} while (value);
    while (count) *to++ = digits[--count];
    return to;
}}

static void says(const char *name, int32_t times, uint32_t us) {{
    char line[64], *to = line;
    while (*name && to < line + 40) *to++ = *name++;
    *to++ = ' ';
    to = number(to, (uint32_t)times);
    *to++ = ' ';
    to = number(to, us);
    *to = 0;
    measure_say(line);
}}

static void draws(const draw_surface *s, const char *name, int32_t times, void (*draw)(const draw_surface *)) {{
    const uint32_t begin = measure_us();
    for (int32_t i = 0; i < times; i++) draw(s);
    says(name, times, measure_us() - begin);
}}
{sends}
void measure(void) {{
    const draw_surface s = m1_surface(frame, 0, {rows});
    measure_say("{FIRST} {VERSION} {listing.key} {len(listing.rows)}");
{body}
    measure_say("end {len(listing.rows)}");
}}
"""


def python_measure(listing: Listing, title: str) -> str:
    """measure.py, with draw.py beside it."""
    sources, rows = [], []
    for number, (_, rendered) in enumerate(listing.screens, 1):
        source = python_source(rendered, f"m{number}", separate=True)
        sources.append("\n".join(line for line in source.split("\n") if not line.startswith("import ")))
    fmt = listing.device.passport.format
    for row in listing.rows:
        if row.call is not None:
            shape, given = _value(row, listing)
            rows.append(f'    ("{row.name}", {row.times}, lambda s: draw.{shape}(s, {", ".join(map(str, given))})),')
        elif row.window is not None:
            one = row.window
            size = fmt.frame_bytes(one.width, one.height)
            rows.append(f'    ("{row.name}", {row.times}, ({one.x}, {one.y}, {one.width}, {one.height}, {size})),')
        else:
            rows.append(f'    ("{row.name}", {row.times}, {row.block}),')
    drawn, listed = "\n".join(sources), "\n".join(rows)
    return f'''# {comment(title)}: a list of drawings that this board times; paste what it says into the page.
# measure(us, say, send): a clock that counts microseconds; what takes a line of text; and a function that sets a window of the
# panel and sends bytes to it, send(x, y, w, h, bytes), which comes back when the last byte is out.
import draw

{drawn}
ROWS = (
{listed}
)


def measure(us, say, send):
    buf = bytearray(size_of({listing.band_rows}))
    s = surface(buf, 0, {listing.band_rows})
    say("{FIRST} {VERSION} {listing.key} {len(listing.rows)}")
    for name, times, what in ROWS:
        begin = us()
        if isinstance(what, tuple):
            for _ in range(times):
                send(what[0], what[1], what[2], what[3], memoryview(buf)[: what[4]])
        else:
            for _ in range(times):
                what(s)
        say("%s %d %d" % (name, times, us() - begin))
    say("end {len(listing.rows)}")
'''
