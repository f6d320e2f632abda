"""The program in plain Python: the screens bound to the behaviour, stand-ins for a PC, states as pictures."""

from collections.abc import Mapping, Sequence

import numpy as np

from mosaic.behaviour.device_code import ScreenCode
from mosaic.color.srgb import parse_hex
from mosaic.handover.program import Look, readings_of
from mosaic.handover.project import Project
from mosaic.narrowing import needed
from mosaic.panels.geometry import to_seen
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.code_python import values_for_python
from mosaic.screens.code_values import names_of, plotted
from mosaic.screens.sheet import sheet_of
from mosaic.source_text import comment


def device_python(project: Project, codes: Sequence[ScreenCode]) -> str:
    """device.py: screens by number, how many of everything there are, and what the schedule asks."""
    machine, program = project.machine, project.program
    names, past = names_of(project.design), plotted(project.plans.values())
    rooms = {number: (names.of(value), past[value.id]) for number, value in enumerate(machine.values) if value.id in past}
    values: dict[str, object] = {names.of(value): "" if value.kind == "text" else None for value in project.design.values}
    begin: dict[str, object] = {**values, **{f"{name}_stale": False for name in values}, "tick": 0}
    imports = "\n".join(f"import {one.name}" for one in codes)
    paints = "\n".join(
        f"    if screen == {one.number}:\n        {one.name}.{one.name}(s{', v' if one.is_dynamic else ''})" for one in codes
    )
    differs = "\n".join(
        f"    if screen == {one.number}:\n        return {one.name}.changes(before, now)" for one in codes if one.is_dynamic
    )
    touch = "behave.touch_place(behaviour.TOUCH_FIT, x, y)" if project.touch_fit is not None else "(x, y)"
    cleaning = program.cleaning
    return f'''# {comment(project.name)}: its screens by number, and numbers of this build.
import behave
import behaviour
{imports}

BUTTONS, ENCODERS, VALUES = {len(machine.behaviour.buttons)}, {len(machine.behaviour.encoders)}, {len(machine.values)}
LEAST_MS = {program.least_ms}  # from one drawing to the next at least, by the schedule
CLEAN_EACH, CLEAN_AFTER = {cleaning.each}, {cleaning.after}  # a full update before each partial one, or after so many
ROOMS = {rooms!r}  # of values that screens plot: the name, and how many readings are kept


def begin(v):
    """No value has a reading yet."""
    v.update({begin!r})
    for name, _ in ROOMS.values():
        v[name + "_past"] = []


def paint(screen, s, v):
    """A screen on a surface."""
{paints}


def changes(screen, before, now):
    """The windows that differ between two moments of one screen."""
{differs}
    return []


def remember(v, value, raw):
    """Readings that screens plot are kept."""
    if value in ROOMS:
        name, room = ROOMS[value]
        v[name + "_past"] = [*v[name + "_past"], raw][-room:]


def touch(x, y):
    """What the touch panel reads becomes pixels."""
    return {touch}


__all__ = ["behave", "behaviour"]
'''


def readings_python(project: Project) -> str:
    """readings.py: what the stand-ins of values give, for a PC."""
    rows = ",\n".join(f"    ({every}, {tuple(known)!r})" for every, known in readings_of(project))
    return f"""# {comment(project.name)}: of each value, from one reading to the next in ms, and what its stand-in gives.
READINGS = [
{rows}
]
"""


def _colors(project: Project) -> str:
    """color_of: the measured colour of what the runtime is given for a pixel."""
    device = project.device
    fmt = device.passport.format
    if isinstance(fmt, DirectFormat):
        swap = "    c = c >> 8 | (c & 255) << 8\n" if fmt.bits == 16 and fmt.byte_order == "little" else ""
        sizes, padded, shift, lines = fmt.channel_bits, fmt.bits == 18, 0, []
        for name, bits in reversed(list(zip(("red", "green", "blue"), sizes, strict=True))):
            lines.append(f"    {name} = c >> {shift + (2 if padded else 0)} & {(1 << bits) - 1}")
            shift += 8 if padded else bits
        wide = ", ".join(
            name if bits == 8 else f"{name} << {8 - bits} | {name} >> {max(0, 2 * bits - 8)}"
            for name, bits in zip(("red", "green", "blue"), sizes, strict=True)
        )
        body = "\n".join(lines)
        return f"def color_of(c, x, y):\n{swap}{body}\n    return {wide}\n"
    palette = needed(device.passport.palette, "a palette of the panel")
    tables = [[tuple(int(v) for v in row) for row in palette.measured_rgb]]
    boxes, glass = [], device.passport.glass
    for number, zone in enumerate(device.passport.zones, 1):
        tables.append([parse_hex(text) for text in zone.measured])
        inside = np.zeros((glass.height_px, glass.width_px), bool)
        inside[zone.first_row : zone.first_row + zone.rows] = True
        rows, columns = np.nonzero(to_seen(inside, device.turn))
        boxes.append(
            f"    if {columns.min()} <= x <= {columns.max()} and {rows.min()} <= y <= {rows.max()}:\n        zone = {number}"
        )
    zones = "\n".join(["    zone = 0", *boxes])
    return f"COLORS = {tables!r}\n\n\ndef color_of(c, x, y):\n{zones}\n    return COLORS[zone][c]\n"


def states_python(project: Project, looks: Sequence[Look], codes: Mapping[str, str]) -> str:
    """states.py: every screen in every state as states/SCREEN/STATE.ppm. `codes` : by a screen's folder its module."""
    width, height = project.device.size
    rows = []
    for look in looks:
        dynamic = sheet_of(look.rendered, codes[look.screen]).is_dynamic
        values = dict(sorted(values_for_python(look.rendered).items())) if dynamic else None
        rows.append(f"    ({look.screen!r}, {look.state!r}, {codes[look.screen]}.{codes[look.screen]}, {values!r}),")
    imports = "\n".join(f"import {name}" for name in sorted(set(codes.values())))
    listed = "\n".join(rows)
    return f'''# {comment(project.name)}: every screen in every state, as states/SCREEN/STATE.ppm, in measured colours.
import os

{imports}
import panel

WIDTH, HEIGHT = {width}, {height}

{_colors(project)}

STATES = [
{listed}
]


def picture(paint, values):
    """The pixels of a screen, three bytes each."""
    out = bytearray(WIDTH * HEIGHT * 3)

    def area(x, y, w, h, c):
        for row in range(y, y + h):
            for column in range(x, x + w):
                at = (row * WIDTH + column) * 3
                out[at : at + 3] = bytes(color_of(c, column, row))

    s = panel.direct(area)
    s[1], s[2], s[12] = WIDTH, HEIGHT, 0  # as the reader sees it
    paint(s, *([values] if values is not None else []))
    return out


def main():
    for screen, state, paint, values in STATES:
        folder = os.path.join("states", screen)
        os.makedirs(folder, exist_ok=True)
        with open(os.path.join(folder, state + ".ppm"), "wb") as file:
            file.write(b"P6\\n%d %d\\n255\\n" % (WIDTH, HEIGHT) + picture(paint, values))


main()
'''
