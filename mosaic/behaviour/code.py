"""The behaviour of a build as tables in C and Python, with the names by which its program speaks of it."""

from collections.abc import Mapping, Sequence

from mosaic.behaviour.machine import Machine
from mosaic.behaviour.names import code_names, value_names
from mosaic.behaviour.tables import HIGHEST, LOWEST, Row, Tables, as_python
from mosaic.exports.touch import SHIFT, fixed
from mosaic.source_text import comment
from mosaic.touch.fit import Fit


def _rows(kind: str, name: str, rows: Sequence[Row]) -> str:
    """A table; C has no empty ones, so one without rows has a row of nothing."""
    listed = [f"    {{{', '.join(map(_number, row))}}}" for row in rows] or ["    {0}"]
    body = ",\n".join(listed)
    return f"static const behave_{kind} {name}[{len(listed)}] = {{\n{body}\n}};"


def _number(number: int) -> str:
    return {LOWEST: "INT32_MIN", HIGHEST: "INT32_MAX"}.get(number, str(number))


def c_header(machine: Machine, screen_names: Mapping[str, str], title: str) -> str:
    """behaviour.h: names, and the functions that begin a device."""
    enums = code_names(machine, screen_names).c_enums()
    return f"""/* {comment(title)}: what it does. The numbers of events never change; those of screens, values, inputs and outputs
   are their places in the build.

       behave_state *s = behaviour_begin(milliseconds);
       behave_step(s, milliseconds, BEHAVE_PIN, BUTTON_..., level, 0);     for each input, whenever it is read
       behave_step(s, milliseconds, BEHAVE_TOUCH, 0, x, y);                 while a finger is felt; touch_fit.h gives x and y
       behave_step(s, milliseconds, BEHAVE_TIME, 0, 0, 0);                 at least every 20 ms
       for (int32_t i = 0; i < s->effect_count; i++) ... s->effects[i]    after each step
*/
#ifndef BEHAVIOUR_H
#define BEHAVIOUR_H

#include "behave.h"
#ifdef __cplusplus
extern "C" {{
#endif

{enums}

/* Begins anew; there is one device. */
behave_state *behaviour_begin(uint32_t now);

#ifdef __cplusplus
}}
#endif

#endif
"""


def c_source(machine: Machine, title: str) -> str:
    """behaviour.c: the tables of the device and the arrays of its state."""
    tables = Tables(machine)
    encoders = ", ".join(map(str, tables.encoders)) or "0"
    sizes = [
        ("behave_known", "values", len(tables.values)), ("int32_t", "ring", tables.ring),
        ("behave_pressed", "buttons", len(tables.buttons)), ("behave_turned", "encoders", len(tables.encoders)),
        ("behave_switched", "outputs", len(tables.outputs)), ("behave_timer", "timers", len(tables.rules)),
    ]  # fmt: skip
    arrays = "\n".join(f"static {kind} {name}_now[{max(1, count)}];" for kind, name, count in sizes)
    parts = [
        _rows("area", "areas", tables.areas), _rows("value", "values", tables.values), _rows("band", "bands", tables.bands),
        _rows("button", "buttons", tables.buttons),
        f"static const uint8_t encoders[{max(1, len(tables.encoders))}] = {{{encoders}}};",
        _rows("output", "outputs", tables.outputs), _rows("rule", "rules", tables.rules),
        _rows("action", "actions", tables.actions),
    ]  # fmt: skip
    counts = ", ".join(
        str(len(rows)) for rows in (tables.areas, tables.values, tables.buttons, tables.encoders, tables.outputs, tables.rules)
    )
    listed = "\n".join(parts)
    return f"""/* {comment(title)}: see behaviour.h. */
#include "behaviour.h"

{listed}

static const behave_device device = {{
    areas, values, bands, buttons, encoders, outputs, rules, actions, {{{", ".join(map(str, tables.touch))}}},
    {counts}, {len(machine.screens)}, {machine.start}
}};

{arrays}
static behave_state state;

behave_state *behaviour_begin(uint32_t now) {{
    state.d = &device;
    state.values = values_now;
    state.ring = ring_now;
    state.buttons = buttons_now;
    state.encoders = encoders_now;
    state.outputs = outputs_now;
    state.timers = timers_now;
    behave_begin(&state, now);
    return &state;
}}
"""


def _fitted(fitted: tuple[Fit, tuple[int, int]] | None) -> str:
    """The fit of a touch panel, for touch_place of behave.py."""
    if fitted is None:
        return ""
    found, size = fitted
    return (
        f"\n# Raw touches become pixels by touch_place(TOUCH_FIT, raw_x, raw_y).\nTOUCH_FIT = {(*fixed(found), *size, SHIFT)}\n"
    )


def python_source(
    machine: Machine, screen_names: Mapping[str, str], title: str, fitted: tuple[Fit, tuple[int, int]] | None = None
) -> str:
    """behaviour.py: the same as plain Python; with the fit of the touch panel and the size of its glass, where there is one."""
    lines = []
    for name, rows in as_python(Tables(machine)).items():
        if isinstance(rows, list) and rows:
            body = "\n".join(f"        {row!r}," for row in rows)
            lines.append(f'    "{name}": [\n{body}\n    ],')
        else:
            lines.append(f'    "{name}": {rows!r},')
    names = code_names(machine, screen_names).python_constants()
    listed = "\n".join(lines)
    known = value_names(machine)
    numbers = [(known[value.id], number) for number, value in enumerate(machine.values) if value.is_number]
    return f"""# {comment(title)}: what it does. The numbers of events never change; those of screens, values, inputs and outputs
# are their places in the build.
#
#   s = behave_begin(DEVICE, milliseconds)
#   for what, of, level, change, side, steps in behave_step(DEVICE, s, milliseconds, PIN, BUTTON_..., level, 0): ...
{names}
{_fitted(fitted)}
DEVICE = {{
{listed}
}}


# Puts the values of a state into a dict by the names that screens know; texts are the program's own.
def values_into(s, v):
    for name, number in {numbers!r}:
        raw, is_ = s["values"][number][:2]
        v[name] = raw if is_ != 1 else None
        v[name + "_stale"] = is_ == 2
    v["tick"] = s["now"] // 100 % 864000
"""
