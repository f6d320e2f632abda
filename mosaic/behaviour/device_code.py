"""What binds the screens of a build to its behaviour in C: values from the device's state, and each screen by its number."""

from collections.abc import Sequence
from dataclasses import dataclass

from mosaic.behaviour.machine import Machine
from mosaic.screens.code_values import names_of
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import Design
from mosaic.screens.sheet import sheet_of
from mosaic.source_text import comment


@dataclass(frozen=True)
class ScreenCode:
    """A screen in code: its number, the name of its function, and whether it follows values."""

    number: int
    name: str
    is_dynamic: bool


def screen_code(number: int, rendered: Rendered, title: str) -> ScreenCode:
    sheet = sheet_of(rendered, title)
    return ScreenCode(number, sheet.name, sheet.is_dynamic)


def device_header(title: str) -> str:
    """device.h: what a program calls after each step."""
    return f"""/* {comment(title)}: its screens by number, with values from its behaviour.

       screen_values before, now;
       screen_values_begin(&now);                       texts and past readings are the program's own to fill in
       ...
       behave_step(s, ...);
       before = now;
       device_values(s, &now);
       count = device_changes(s->screen, &before, &now, boxes, 16);
       for each box: draw_surface part = update_within(&surface, &box); device_draw(s->screen, &part, &now); send it.
   After an effect BEHAVE_SCREEN the whole new screen is drawn: at once, or step by step as change.h says. */
#ifndef DEVICE_H
#define DEVICE_H

#include "behaviour.h"
#include "draw.h"
#include "update.h"
#include "values.h"

#ifdef __cplusplus
extern "C" {{
#endif

/* Numbers, times and words as they are now; texts are left as they stand, but for whether they are known. */
void device_values(const behave_state *s, screen_values *v);
void device_draw(int32_t screen, const draw_surface *s, const screen_values *v);
/* The windows that differ between two moments of one screen, at most `room` of them; gives their count. */
int32_t device_changes(int32_t screen, const screen_values *before, const screen_values *now, update_box *boxes, int32_t room);

#ifdef __cplusplus
}}
#endif

#endif
"""


def device_source(machine: Machine, design: Design, screens: Sequence[ScreenCode], title: str) -> str:
    """device.c; screens that cannot be drawn draw nothing."""
    names = names_of(design)
    filled = []
    for number, value in enumerate(machine.values):
        name = names.of(value)
        if value.is_number:
            filled.append(f"    v->{name} = s->values[{number}].raw;")
        filled.append(f"    v->{name}_is = s->values[{number}].is;")
    draws = "\n".join(f"        case {one.number}: {one.name}(s{', v' if one.is_dynamic else ''}); break;" for one in screens)
    changes = "\n".join(
        f"        case {one.number}: return {one.name}_changes(before, now, boxes, room);" for one in screens if one.is_dynamic
    )
    includes = "\n".join(f'#include "{one.name}.h"' for one in screens)
    values = "\n".join(filled) or "    (void)s;"
    return f"""/* {comment(title)}: see device.h. */
#include "device.h"

{includes}

void device_values(const behave_state *s, screen_values *v) {{
{values}
    v->tick = (int32_t)(s->now / 100u % 864000u);
}}

void device_draw(int32_t screen, const draw_surface *s, const screen_values *v) {{
    (void)s;
    (void)v;
    switch (screen) {{
{draws}
        default: break;
    }}
}}

int32_t device_changes(int32_t screen, const screen_values *before, const screen_values *now, update_box *boxes, int32_t room) {{
    (void)before;
    (void)now;
    (void)boxes;
    (void)room;
    switch (screen) {{
{changes}
        default: return 0;
    }}
}}
"""
