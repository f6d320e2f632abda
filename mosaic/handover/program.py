"""What is generated round the runtime so that a build is a program: its numbers, its stand-ins on a PC, its states."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from mosaic.color.srgb import parse_hex
from mosaic.device.device import Device
from mosaic.exports.touch import touch_c
from mosaic.handover.project import Part, Project
from mosaic.narrowing import needed
from mosaic.panels.geometry import to_seen
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.code_c import quoted
from mosaic.screens.code_values import names_of, plotted
from mosaic.screens.rendering import Rendered
from mosaic.screens.sheet import sheet_of
from mosaic.source_text import comment, distinct, identifier
from mosaic.values.courses import reader
from mosaic.values.states import State

MOST_READINGS = 240
"""Readings of a value's stand-in that a PC goes through before it begins anew."""


def project_header(project: Project) -> str:
    """project.h: how many of everything there are, and what the schedule asks."""
    machine, program = project.machine, project.program
    names, past = names_of(project.design), plotted(project.plans.values())
    cases = []
    for number, value in enumerate(machine.values):
        if value.id in past:
            name = names.of(value)
            call = f"draw_remember(v->{name}_past, {past[value.id]}, v->{name}_held, raw)"
            cases.append(f"        case {number}: v->{name}_held = {call}; break;")
    listed = "\n".join(cases)
    cleaning = program.cleaning
    fitted = project.touch_fit is not None
    place = (
        "    int32_t x, y;\n    touch_place(*a, *b, &x, &y);\n    *a = x;\n    *b = y;"
        if fitted
        else "    (void)a; /* no touch panel was measured at Bring-up: pixels are taken as they come */\n    (void)b;"
    )
    include = '\n#if !defined(BOARD_TOUCHES_ARE_PIXELS)\n#include "touch_fit.h"\n#endif' if fitted else ""
    return f"""/* {comment(project.name)}: numbers of this build. */
#ifndef PROJECT_H
#define PROJECT_H

#include "draw.h"
#include "values.h"{include}

#define PROJECT_BUTTONS {len(machine.behaviour.buttons)}
#define PROJECT_ENCODERS {len(machine.behaviour.encoders)}
#define PROJECT_VALUES {len(machine.values)}
/* From one drawing to the next at least, by the schedule. */
#ifndef PROJECT_LEAST_MS
#define PROJECT_LEAST_MS {program.least_ms}u
#endif
/* A full update before each partial one, or in place of the one that follows so many; 0 for never. */
#define PROJECT_CLEAN_EACH {int(cleaning.each)}
#define PROJECT_CLEAN_AFTER {cleaning.after}

/* Readings that screens plot are kept. */
static inline void project_remember(int32_t value, int32_t raw, screen_values *v) {{
    (void)raw;
    (void)v;
    switch (value) {{
{listed}
        default: break;
    }}
}}

/* What the touch panel reads becomes pixels. */
static inline void project_touch(int32_t *a, int32_t *b) {{
#ifdef BOARD_TOUCHES_ARE_PIXELS
    (void)a;
    (void)b;
#else
{place}
#endif
}}

#endif
"""


def touch_header(project: Project) -> str:
    """touch_fit.h; "" where the touch panel was not measured."""
    fitted = project.touch_fit
    return touch_c(fitted, *project.device.size, project.name) if fitted is not None else ""


def readings_of(project: Project) -> list[tuple[int, list[int]]]:
    """Of each value of the machine (ms from one reading to the next, what its stand-in gives); none where nothing is read."""
    found = []
    for value in project.machine.values:
        known: list[int] = []
        every = max(1, value.source.every_ms or value.stand_in.every_ms)
        if value.origin.by == "source" and value.is_number:
            given = reader(value)
            known = [raw for at in range(MOST_READINGS) if isinstance(raw := given(at * every), int)]
            known = known[:1] if len(set(known)) == 1 else known
        found.append((every, known))
    return found


def readings_header(project: Project) -> str:
    """readings.h: what the stand-ins of values give, for a PC."""
    rows, arrays = [], []
    for number, (every, known) in enumerate(readings_of(project)):
        if known:
            arrays.append(f"static const int32_t readings_{number}[{len(known)}] = {{{', '.join(map(str, known))}}};")
        rows.append(f"    {{readings_{number}, {len(known)}, {every}}}" if known else "    {0, 0, 1}")
    tables, listed = "\n".join(arrays), ",\n".join([*rows, "    {0, 0, 1}"])
    return f"""/* {comment(project.name)}: readings of the values' stand-ins, one after the other, and then anew. */
#ifndef READINGS_H
#define READINGS_H

#include <stdint.h>

{tables}
static const struct {{ const int32_t *raw; uint32_t count, every_ms; }} readings_of[] = {{
{listed}
}};

#endif
"""


@dataclass(frozen=True, eq=False)
class Look:
    """A screen in a state: the path of its picture without an ending, and what is drawn."""

    screen: str
    state: str
    rendered: Rendered

    @property
    def path(self) -> str:
        return f"{self.screen}/{self.state}"


def looks_of(project: Project, titles: Mapping[str, str]) -> list[Look]:
    """Every screen that can be drawn in every state; `titles` by reference."""
    found = []
    for part in project.of("screen"):
        if part.ref in project.plans:
            states = project.states(part)
            names = distinct([identifier(state.key, "state") for state in states])
            folder = identifier(titles[part.ref], "screen")
            found += [Look(folder, name, project.rendered(part, state)) for name, state in zip(names, states, strict=True)]
    return found


def _assignments(look: Rendered, past: Mapping[str, int]) -> list[str]:
    """The values of a state in C."""
    kit, names, lines = look.kit, names_of(look.kit.design), list[str]()
    state: State = kit.settled_state
    for value in kit.values.values():
        raw, name = state.readings[value.id], names.of(value)
        lines.append(f"v.{name}_is = {1 if raw is None else 2 if value.id in state.stale else 0};")
        if raw is not None:
            lines.append(f"v.{name} = {quoted(raw) if isinstance(raw, str) else raw};")
    for ident, count in past.items():
        readings, name = kit.past(kit.values[ident], count).readings, names.by_id[ident]
        for place, raw in enumerate(readings or ()):
            lines.append(f"v.{name}_past[{place}] = {'DRAW_MISSING' if raw is None else raw};")
        lines.append(f"v.{name}_held = {len(readings or ())};")
    lines.append(f"v.tick = {kit.tick()};")
    return lines


def _color_table(device: Device) -> str:
    """color_of: the measured colour of what the runtime is given for a pixel."""
    passport, fmt = device.passport, device.passport.format
    if isinstance(fmt, DirectFormat):
        return _direct_colors(fmt)
    palette = needed(passport.palette, "a palette of the panel")
    tables = [tuple(tuple(int(v) for v in row) for row in palette.measured_rgb)]
    boxes = []
    glass = passport.glass
    for number, zone in enumerate(passport.zones, 1):
        tables.append(tuple(parse_hex(text) for text in zone.measured))
        inside = np.zeros((glass.height_px, glass.width_px), bool)
        inside[zone.first_row : zone.first_row + zone.rows] = True
        rows, columns = np.nonzero(to_seen(inside, device.turn))
        boxes.append(
            f"    if (x >= {columns.min()} && x <= {columns.max()} && y >= {rows.min()} && y <= {rows.max()}) zone = {number};"
        )
    listed = ",\n".join("    {" + ", ".join(f"{{{r}, {g}, {b}}}" for r, g, b in table) + "}" for table in tables)
    zones = "\n".join(boxes) or "    (void)x;\n    (void)y;"
    return f"""static const uint8_t colors[{len(tables)}][{len(tables[0])}][3] = {{
{listed}
}};

static void color_of(uint32_t c, int32_t x, int32_t y, uint8_t *rgb) {{
    int32_t zone = 0;
{zones}
    for (int32_t i = 0; i < 3; i++) rgb[i] = colors[zone][c][i];
}}"""


def _direct_colors(fmt: DirectFormat) -> str:
    """Channels of a pixel's own bytes, high byte first, as eight bits each: their high bits, repeated below."""
    red, green, blue = fmt.channel_bits
    swapped = fmt.bits == 16 and fmt.byte_order == "little"
    order = ("blue", "green", "red") if getattr(fmt, "order", "RGB").upper() == "BGR" else ("red", "green", "blue")
    sizes = dict(zip(("red", "green", "blue"), (red, green, blue), strict=True))
    lines, shift = [], 0
    padded = fmt.bits == 18
    for name in reversed(order):
        bits = sizes[name]
        at = shift + (2 if padded else 0)
        lines.append(f"    {name} = c >> {at} & {(1 << bits) - 1}u;")
        shift += 8 if padded else bits
    spread = "\n".join(
        f"    rgb[{n}] = (uint8_t)({name} << {8 - sizes[name]} | {name} >> {max(0, 2 * sizes[name] - 8)});"
        if sizes[name] < 8 else f"    rgb[{n}] = (uint8_t){name};"
        for n, name in enumerate(("red", "green", "blue"))
    )  # fmt: skip
    body = "\n".join(lines)
    swap = "    c = c >> 8 | (c & 255u) << 8;\n" if swapped else ""
    return f"""static void color_of(uint32_t c, int32_t x, int32_t y, uint8_t *rgb) {{
    uint32_t red, green, blue;
    (void)x;
    (void)y;
{swap}{body}
{spread}
}}"""


def states_source(project: Project, looks: Sequence[Look], codes: Mapping[str, str]) -> str:
    """states.c: every screen in every state as states/SCREEN/STATE.ppm, in the panel's measured colours.

    `codes` : by a screen's folder the name of its function.
    """
    device = project.device
    width, height = device.size
    calls, functions = [], []
    for number, look in enumerate(looks):
        sheet = sheet_of(look.rendered, codes[look.screen])
        values = "\n".join(f"    {line}" for line in _assignments(look.rendered, plotted([look.rendered.plan])))
        head = f"static void state_{number}(const draw_surface *s) {{"
        begin = f"    screen_values v;\n    screen_values_begin(&v);\n{values}\n    {sheet.name}(s, &v);"
        functions.append(f"{head}\n{begin}\n}}" if sheet.is_dynamic else f"{head} {sheet.name}(s); }}")
        calls.append(f'    {{"{look.screen}", "{look.state}", state_{number}}}')
    includes = "\n".join(f'#include "{name}.h"' for name in dict.fromkeys(codes.values()))
    listed = ",\n".join([*calls, "    {0, 0, 0}"])
    made = "\n\n".join(functions)
    return f"""/* {comment(project.name)}: every screen in every state, as states/SCREEN/STATE.ppm. */
#define _POSIX_C_SOURCE 200809L
#include <stdio.h>
#include <sys/stat.h>

#include "draw.h"
#include "panel.h"
#include "values.h"
{includes}

#define WIDTH {width}
#define HEIGHT {height}

static uint8_t picture[WIDTH * HEIGHT * 3];

{_color_table(device)}

static void area(void *context, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c) {{
    (void)context;
    for (int32_t row = y; row < y + h; row++)
        for (int32_t column = x; column < x + w; column++) color_of(c, column, row, picture + (row * WIDTH + column) * 3);
}}

{made}

static const struct {{ const char *screen, *state; void (*draw)(const draw_surface *s); }} states[] = {{
{listed}
}};

int main(void) {{
    mkdir("states", 0777);
    for (int32_t i = 0; states[i].draw; i++) {{
        draw_surface s = panel_direct();
        char path[300];
        FILE *out;
        s.turn = 0;
        s.width = s.seen_width;
        s.rows = s.seen_height;
        s.area = area;
        for (size_t n = 0; n < sizeof picture; n++) picture[n] = 0;
        states[i].draw(&s);
        snprintf(path, sizeof path, "states/%s", states[i].screen);
        mkdir(path, 0777);
        snprintf(path, sizeof path, "states/%s/%s.ppm", states[i].screen, states[i].state);
        out = fopen(path, "wb");
        if (!out) {{
            perror(path);
            return 1;
        }}
        fprintf(out, "P6\\n%d %d\\n255\\n", WIDTH, HEIGHT);
        fwrite(picture, 1, sizeof picture, out);
        if (fclose(out) != 0) {{
            perror(path);
            return 1;
        }}
    }}
    return 0;
}}
"""


def titles_of(screens: Sequence[Part], taken: Sequence[str]) -> dict[str, str]:
    """What screens are called in code, by reference: their names, each once and none that a file of the program has."""
    known = [identifier(part.name, "screen") for part in screens]
    free = distinct([f"screen_{name}" if name in taken else name for name in known], taken)
    return {
        part.ref: part.name if name == identifier(part.name, "screen") else name for part, name in zip(screens, free, strict=True)
    }
