"""Screens that follow values: core, C and Python draw the same in every state, and send the same windows from one to the next."""

import ctypes
import subprocess

import numpy as np
import pytest

from mosaic.panels.geometry import to_host
from mosaic.panels.windows import check_window, host_size
from mosaic.screens.code_c import c_header, c_source
from mosaic.screens.code_python import python_source, run_python, values_for_python
from mosaic.screens.code_values import c_values, names_of, plotted
from mosaic.screens.plan import planned
from mosaic.screens.rendering import drawn_in
from mosaic.screens.updates import changes, link_of
from tests.mosaic.drawing.test_three_renderers import AREA, SOURCES, WARNINGS
from tests.mosaic.screens.living import DESIGN, living, lot
from tests.mosaic.screens.made_up import device, kit_of

PLACES = [("mono-oled-128x64", 0), ("epaper-296x128-four-colour", 90), ("tft-240x240-round", 180), ("tft-320x240-touch", 0)]
MISSING = -(2**31)


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


def given_to_c(rendered, kind):
    """The values of a state as C has them."""
    values, names, state = kind(), names_of(rendered.kit.design), rendered.kit.settled_state
    for value in rendered.kit.values.values():
        raw, name = state.readings[value.id], names.of(value)
        setattr(values, f"{name}_is", 1 if raw is None else 2 if value.id in state.stale else 0)
        if raw is not None:
            setattr(values, name, raw.encode() if isinstance(raw, str) else raw)
    for ident, count in plotted([rendered.plan]).items():
        past = rendered.kit.past(rendered.kit.values[ident], count).readings
        name = names.by_id[ident]
        getattr(values, f"{name}_past")[: len(past)] = [MISSING if raw is None else raw for raw in past]
        setattr(values, f"{name}_held", len(past))
    values.tick = rendered.kit.tick()
    return values


def compiled(rendered, folder):
    past = plotted([rendered.plan])
    (folder / "values.h").write_text(c_values(rendered.kit.design, past, "Tide board"))
    (folder / "tide.h").write_text(c_header(rendered, "Tide"))
    (folder / "tide.c").write_text(c_source(rendered, "Tide"))
    (folder / "more.c").write_text(
        '#include "tide.h"\nvoid direct(void (*a)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t), const screen_values *v, const update_box *b) {\n'
        "    draw_surface s = tide_direct(a, 0);\n    if (b) s = update_within(&s, b);\n    tide(&s, v);\n}\n"
    )
    sources = [
        str(folder / "tide.c"),
        str(folder / "more.c"),
        *(str(SOURCES / f"{name}.c") for name in ("draw", "maps", "show", "update")),
    ]
    words = ["-I", str(SOURCES), "-I", str(folder), "-shared", "-fPIC", *WARNINGS]
    subprocess.run(["gcc", "-std=c99", "-O1", *words, *sources, "-o", str(folder / "tide.so")], check=True)
    subprocess.run(["g++", "-x", "c++", *words[:4], *WARNINGS, "-c", sources[0], "-o", str(folder / "tide.o")], check=True)
    return ctypes.CDLL(str(folder / "tide.so")), fields_of(rendered.kit.design, past)


def meant(rendered):
    """(H, W) of what a board sends, as the bytes lie."""
    host = to_host(rendered.pixels, rendered.device.passport, rendered.device.turn).astype(np.int64)
    return host if host.ndim == 2 else host[..., 0] >> 3 << 11 | host[..., 1] >> 2 << 5 | host[..., 2] >> 3


@pytest.fixture(scope="module", params=PLACES, ids=lambda place: place[0])
def plan(request):
    dev = device(*request.param)
    palette = dev.passport.palette
    return planned(living(*(palette.names[:2] if palette else ("#f0e0c0", "#203040"))), dev, kit_of(dev, DESIGN, bits=2))


def test_every_state_is_drawn_alike_by_core_c_and_python_and_every_step_leaves_the_glass_as_a_whole_frame_does(plan, tmp_path):
    states = [drawn_in(plan, lot(seed, plan.kit)) for seed in range(60)]
    module, (library, kind) = run_python(python_source(states[0], "Tide")), compiled(states[0], tmp_path)
    width, height = host_size(plan.device.passport, plan.device.turn)
    frame, glass = np.full((height, width), -1, np.int64), np.full((height, width), -1, np.int64)

    def take(context, x, y, w, h, color):
        frame[y : y + h, x : x + w] = color

    held, boxes, link = AREA(take), (Box * 16)(), link_of(plan.device)
    library.tide_changes.restype = ctypes.c_int32
    before = None
    for number, state in enumerate(states):
        values, given = values_for_python(state), given_to_c(state, kind)
        frame[:] = -1
        library.direct(held, ctypes.byref(given), None)
        assert np.array_equal(frame, meant(state)), number
        frame[:] = -1
        if number % 4 == 0:  # the slowest of the three
            module["tide"](module["direct"](lambda x, y, w, h, c: take(None, x, y, w, h, c)), values)
            assert np.array_equal(frame, meant(state)), number
        if before is None:
            glass[:] = meant(state)
        else:
            old, old_values, old_given = before
            windows = changes(old, state, link)
            count = library.tide_changes(ctypes.byref(old_given), ctypes.byref(given), boxes, 16)
            assert [(b.x, b.y, b.w, b.h) for b in boxes[:count]] == [(w.x, w.y, w.width, w.height) for w in windows]
            if number % 8 == 0:
                assert module["changes"](old_values, values) == [(w.x, w.y, w.width, w.height) for w in windows]
            for window, box in zip(windows, boxes, strict=False):
                check_window(window, plan.device.passport, plan.device.turn)
                frame[:] = -1
                library.direct(held, ctypes.byref(given), ctypes.byref(box))
                inside = np.s_[window.y : window.bottom, window.x : window.right]
                assert (frame[inside] >= 0).all()
                assert (frame >= 0).sum() == window.pixels
                glass[inside] = frame[inside]
            assert np.array_equal(glass, meant(state)), number
        before = state, values, given
