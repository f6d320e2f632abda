"""Shift and dimming as code for the maker's program: where the picture stands, and how bright, at a moment of its clock."""

from mosaic.refresh.day.program import DAY_MIN, Program
from mosaic.refresh.wear.remedies import WearPlan, places

HEADER = """/* Where the picture stands, so that no pixel is lit for ever: {px} px round a square, a step every {minutes} min.
   Set shift_x and shift_y of the surface, and draw the whole screen anew whenever wear_shift gives 1. C99, also C++. */
#ifndef WEAR_H
#define WEAR_H

#include <stdint.h>

#ifdef __cplusplus
extern "C" {{
#endif

/* ms: of the device's clock. x, y: what stands there now; gives 1 where they have changed. */
static inline int32_t wear_shift(uint32_t ms, int32_t *x, int32_t *y) {{
    static const int8_t places[{count}][2] = {{{table}}};
    const int8_t *place = places[ms / {step}u % {count}u];
    const int32_t is_new = *x != place[0] || *y != place[1];
    *x = place[0];
    *y = place[1];
    return is_new;
}}

/* Percent of the light at a second of the day; the night is from {night_from} to {night_to}. */
static inline int32_t wear_light(uint32_t second) {{
    const uint32_t since = (second + {turn}u) % 86400u;
    return since < {night}u ? {dim} : {light};
}}

#ifdef __cplusplus
}}
#endif

#endif
"""
MODULE = '''"""Where the picture stands, so that no pixel is lit for ever: {px} px round a square, a step every {minutes} min.

Set shift_x and shift_y of the surface, and draw the whole screen anew whenever it has changed.
"""

PLACES = ({table})


def wear_shift(ms):
    """(right, down) in pixels at a moment of the device's clock."""
    return PLACES[ms // {step} % {count}]


def wear_light(second):
    """Percent of the light at a second of the day; the night is from {night_from} to {night_to}."""
    return {dim} if (second + {turn}) % 86400 < {night} else {light}
'''


def wear_c(plan: WearPlan, program: Program) -> str:
    """A header for C; `program` says when the night is."""
    table = ", ".join(f"{{{x}, {y}}}" for x, y in places(plan.shift_px))
    return HEADER.format(table=table, **_told(plan, program))


def wear_python(plan: WearPlan, program: Program) -> str:
    """A module of plain Python."""
    steps = places(plan.shift_px)
    table = ", ".join(f"({x}, {y})" for x, y in steps) + ("," if len(steps) == 1 else "")
    return MODULE.format(table=table, **_told(plan, program))


def _told(plan: WearPlan, program: Program) -> dict[str, int | str]:
    begin, end = program.night_from_min, program.night_to_min
    return {
        "px": plan.shift_px, "minutes": plan.shift_min, "count": len(places(plan.shift_px)), "step": plan.shift_min * 60_000,
        "night_from": f"{begin // 60}:{begin % 60:02}", "night_to": f"{end // 60}:{end % 60:02}",
        "turn": (DAY_MIN - begin) * 60, "night": (end - begin) % DAY_MIN * 60,
        "light": round(100 * plan.light), "dim": round(100 * min(plan.light, plan.night_light)),
    }  # fmt: skip
