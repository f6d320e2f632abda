"""Code of a screen compiled with gcc and g++, without a warning, and what it draws; the same of its Python."""

import ctypes
import functools
import subprocess
import tempfile
from pathlib import Path

import numpy as np

from mosaic.panels.geometry import to_host
from mosaic.panels.windows import host_size
from mosaic.pixels.formats import IndexedFormat
from mosaic.screens.code_c import c_header, c_source
from mosaic.screens.code_values import c_values, names_of, plotted
from mosaic.screens.sheet import sheet_of
from tests.mosaic.drawing.test_three_renderers import AREA, SOURCES, WARNINGS, CSurface

MISSING = -(2**31)
FLAGS = ["-std=c99", "-O1", "-fPIC", *WARNINGS]


@functools.cache
def runtime() -> tuple[tempfile.TemporaryDirectory, list[str]]:
    """The runtime's object files, compiled once for all screens, and the folder that goes with the process."""
    folder = tempfile.TemporaryDirectory()
    sources = [str(SOURCES / f"{name}.c") for name in ("draw", "maps", "show", "update")]
    subprocess.run(["gcc", *FLAGS, "-c", *sources], cwd=folder.name, check=True)
    return folder, sorted(map(str, Path(folder.name).glob("*.o")))


class Box(ctypes.Structure):
    _fields_ = [(name, ctypes.c_int32) for name in ("x", "y", "w", "h")]


def fields_of(design, past) -> type[ctypes.Structure]:
    """The C struct of all values."""
    names, fields = names_of(design), []
    for value in design.values:
        name = names.of(value)
        fields += [(name, ctypes.c_char_p if value.kind == "text" else ctypes.c_int32), (f"{name}_is", ctypes.c_uint8)]
        if value.id in past:
            fields += [(f"{name}_past", ctypes.c_int32 * past[value.id]), (f"{name}_held", ctypes.c_int32)]
    return type("Values", (ctypes.Structure,), {"_fields_": [*fields, ("tick", ctypes.c_int32)]})


class CScreen:
    """A screen as a library."""

    def __init__(self, rendered, folder):
        self.passport, self.turn = rendered.device.passport, rendered.device.turn
        self.dynamic, self.past = sheet_of(rendered, "Tide").is_dynamic, plotted([rendered.plan])
        self.kind = fields_of(rendered.kit.design, self.past)
        call = "tide(s, v)" if self.dynamic else "tide(s)"
        within = (
            "if (b) { draw_surface part = update_within(s, b); s = &part; CALL; return; }".replace("CALL", call)
            if self.dynamic
            else ""
        )
        (folder / "values.h").write_text(c_values(rendered.kit.design, self.past, "Tide board"))
        (folder / "tide.h").write_text(c_header(rendered, "Tide"))
        (folder / "tide.c").write_text(c_source(rendered, "Tide"))
        (folder / "more.c").write_text(f"""#include "tide.h"
#include "update.h"
#include "values.h"
draw_surface given(uint8_t *b, int32_t t, int32_t r) {{ return tide_surface(b, t, r); }}
draw_surface none(void (*a)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t)) {{ return tide_direct(a, 0); }}
int32_t size(int32_t rows) {{ return (int32_t)TIDE_BYTES(rows); }}
void run(const draw_surface *s, const screen_values *v, const update_box *b) {{ (void)v; (void)b; {within} {call}; }}
""")
        words = ["-I", str(SOURCES), "-I", str(folder), *FLAGS]
        subprocess.run(["gcc", *words, "-shared", "tide.c", "more.c", *runtime()[1], "-o", "tide.so"], cwd=folder, check=True)
        subprocess.run(["g++", "-x", "c++", *words[:4], *WARNINGS, "-fsyntax-only", "tide.c"], cwd=folder, check=True)
        self.library = ctypes.CDLL(str(folder / "tide.so"))
        self.library.given.restype = self.library.none.restype = CSurface
        self.library.none.argtypes = [AREA]

    def values(self, rendered):
        """The values of a state as C has them."""
        values, names, state = self.kind(), names_of(rendered.kit.design), rendered.kit.settled_state
        for value in rendered.kit.values.values():
            raw, name = state.readings[value.id], names.of(value)
            setattr(values, f"{name}_is", 1 if raw is None else 2 if value.id in state.stale else 0)
            if raw is not None:
                setattr(values, name, raw.encode() if isinstance(raw, str) else raw)
        for ident, count in self.past.items():
            past = rendered.kit.past(rendered.kit.values[ident], count).readings
            name = names.by_id[ident]
            getattr(values, f"{name}_past")[: len(past)] = [MISSING if raw is None else raw for raw in past]
            setattr(values, f"{name}_held", len(past))
        values.tick = rendered.kit.tick()
        return values

    def packed(self, rendered, rows: int) -> bytes:
        """The bytes of a state, drawn in bands of so many rows."""
        values, height = self.values(rendered), host_size(self.passport, self.turn)[1]
        fmt = self.passport.format
        planes = [b""] * (len(fmt.planes) if isinstance(fmt, IndexedFormat) else 1)
        for top in range(0, height, rows):
            held = min(rows, height - top)
            buffer = (ctypes.c_uint8 * self.library.size(held))()
            self.library.run(ctypes.byref(self.library.given(buffer, top, held)), ctypes.byref(values), None)
            # A band holds its part of each plane, one after the other.
            size = len(buffer) // len(planes)
            planes = [plane + bytes(buffer[number * size : (number + 1) * size]) for number, plane in enumerate(planes)]
        return b"".join(planes)

    def frame(self, rendered, box=None):
        """(H, W) of what is sent of a state without a buffer, or of one window of it; -1 where nothing is."""
        width, height = host_size(self.passport, self.turn)
        frame = np.full((height, width), -1, np.int64)

        def take(context, x, y, w, h, color):
            frame[y : y + h, x : x + w] = color

        held = AREA(take)
        surface = self.library.none(held)
        self.library.run(ctypes.byref(surface), ctypes.byref(self.values(rendered)), ctypes.byref(Box(*box)) if box else None)
        return frame

    def changes(self, before, now) -> list[tuple[int, int, int, int]]:
        """The windows that differ between two states."""
        boxes = (Box * 16)()
        count = self.library.tide_changes(ctypes.byref(self.values(before)), ctypes.byref(self.values(now)), boxes, 16)
        return [(b.x, b.y, b.w, b.h) for b in boxes[:count]]


def sent_values(rendered):
    """(H, W) of what a board without a buffer sends of the whole frame, as the bytes lie."""
    fmt = rendered.device.passport.format
    host = to_host(rendered.pixels, rendered.device.passport, rendered.device.turn).astype(np.int64)
    if host.ndim == 2:
        return host
    r, g, b = host[..., 0], host[..., 1], host[..., 2]
    if fmt.bits == 16:
        value = r >> 3 << 11 | g >> 2 << 5 | b >> 3
        return value >> 8 | (value & 255) << 8 if fmt.byte_order == "little" else value
    if fmt.bits == 12:
        return r >> 4 << 8 | g >> 4 << 4 | b >> 4
    return r << 16 | g << 8 | b if fmt.bits == 24 else r >> 2 << 18 | g >> 2 << 10 | b >> 2 << 2


def bands_of(rendered) -> list[int]:
    """Heights of bands that its bytes can be cut into: the bytes of one follow those of the one before."""
    fmt, (_, height) = rendered.device.passport.format, host_size(rendered.device.passport, rendered.device.turn)
    unit = fmt.pixels_per_byte if isinstance(fmt, IndexedFormat) and fmt.along == "column" else 1
    return sorted({height, *(rows for rows in (1, 8, 16) if rows % unit == 0)}) if fmt.follow != "columns" else [height]
