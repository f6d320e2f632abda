"""A complete C program for the live feed: set-up and one picture of stripes, over the feed's own transport.

It is what a maker begins from: every command stands in it, and the picture is made by two values a run of bytes, so that
it stays short on glass of any size.
"""

import numpy as np

from mosaic.conversion.pipeline import pack
from mosaic.panels.geometry import Turn, seen_size
from mosaic.panels.passport import Passport
from mosaic.panels.sequence import Transaction
from mosaic.panels.wire import Part, frame_parts, setup_part
from mosaic.source_text import comment

STRIPES = 8
_HEAD = """/* {about}
 * cc -std=c99 program.c panel_feed.c -o program && ./program */
#include "panel_feed.h"

/* Bytes of a picture: stripes of two values; six bytes hold whole pixels of 12, 16, 18 and 24 bits. */
static void stripes(size_t count, uint8_t dark, uint8_t light)
{{
    uint8_t line[64];
    size_t step = (count / {stripes}u + 5u) / 6u * 6u, sent = 0, i;
    while (sent < count) {{
        size_t part = count - sent < sizeof line ? count - sent : sizeof line;
        for (i = 0; i < part; i++)
            line[i] = (sent + i) / step % 2u ? light : dark;
        panel_data(line, part);
        sent += part;
    }}
}}

#define COMMAND(...) do {{ const uint8_t b[] = {{__VA_ARGS__}}; panel_command(b, sizeof b); }} while (0)
#define DATA(...) do {{ const uint8_t b[] = {{__VA_ARGS__}}; panel_data(b, sizeof b); }} while (0)
"""


def _of_one(passport: Passport, turn: Turn, lit: bool) -> tuple[Part, ...]:
    """A frame of the panel's darkest or its lightest value."""
    width, height = seen_size(passport, turn)
    palette = passport.palette
    if palette is None:
        pixels = np.full((height, width, 3), 255 if lit else 0, np.uint8)
    else:
        pixels = np.full((height, width), palette.lightest if lit else palette.darkest, np.uint8)
    return frame_parts(passport, turn, pack(pixels, passport, turn))


def _call(sent: Transaction, light: Transaction | None = None) -> str:
    if sent.kind == "delay":
        return f"    panel_delay({max(1, round(sent.wait_ms))});"
    if sent.kind in ("reset", "busy"):
        return f"    panel_{sent.kind}();"
    if sent.is_pixels and light is not None:
        return f"    stripes({len(sent.data)}u, 0x{sent.data[0]:02X}, 0x{light.data[0]:02X});"
    told = ", ".join(f"0x{byte:02X}" for byte in sent.data)
    return f"    {'COMMAND' if sent.kind == 'command' else 'DATA'}({told});"


def feed_program(passport: Passport, turn: Turn, port: int, token: str, name: str) -> bytes:
    """program.c: opens the feed at `port` with `token`, sets the panel up and draws stripes; C99, with panel_feed.c beside it."""
    setup = [_call(sent) for sent in setup_part(passport, turn).transactions]
    dark, light = _of_one(passport, turn, False), _of_one(passport, turn, True)
    pairs = zip(
        (sent for part in dark for sent in part.transactions), (sent for part in light for sent in part.transactions), strict=True
    )
    frame = [_call(sent, other) for sent, other in pairs]
    lines = [
        _HEAD.format(about=f"{comment(name)}: {comment(passport.name)}", stripes=STRIPES),
        "static void set_up(void)\n{", *setup, "}\n",
        "static void draw(void)\n{", *frame, "}\n",
        "int main(void)\n{",
        f'    if (panel_feed_open({port}, "{token}") != 0)\n        return 1;',
        "    set_up();\n    draw();",
        "    panel_busy();\n    return panel_feed_close() == 0 ? 0 : 2;\n}\n",
    ]  # fmt: skip
    return "\n".join(lines).encode()
