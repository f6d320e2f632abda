"""A whole device in C: inputs in, and after every step the glass that the core shows, by the windows that were sent."""

import ctypes
import random
import subprocess
from pathlib import Path

import numpy as np
import pytest

from mosaic import firmware
from mosaic.behaviour.behaviour import Action, Area, Behaviour, Button, Event, Output, Rule, TouchFeel, Trigger
from mosaic.behaviour.code import c_header as behaviour_h
from mosaic.behaviour.code import c_source as behaviour_c
from mosaic.behaviour.code import python_source
from mosaic.behaviour.device_code import device_header, device_source, screen_code
from mosaic.behaviour.living import Life, born
from mosaic.behaviour.machine import machine_of
from mosaic.behaviour.state import Happening
from mosaic.behaviour.step import begin, step
from mosaic.firmware import behave
from mosaic.screens.code_c import c_header, c_source
from mosaic.screens.code_python import values_for_python
from mosaic.screens.code_values import c_values
from mosaic.screens.plan import planned
from mosaic.screens.rendering import drawn_in, render
from mosaic.screens.screen import Anchor, Design, Element, Follow, Screen, Size, Style
from mosaic.touch.fit import Fit
from mosaic.values.bands import Band, Bands
from mosaic.values.maps import Map
from mosaic.values.value import Origin, Value
from tests.mosaic.drawing.test_three_renderers import AREA, WARNINGS
from tests.mosaic.screens.compiling import sent_values
from tests.mosaic.screens.made_up import PART, device, kit_of

RUNTIME = Path(firmware.__file__).parent
DESIGN = Design(
    (Style("s1", "Quiet", "ink"),), (PART,), "screen-1",
    values=(
        Value("v1", "tide", decimals=1, low=0, high=68, unit="m", max_age_s=1, stale="old",
              bands=Bands((Band(None, 20, "ebb"), Band(20, 50, "half", outputs=(("o1", True),)), Band(50, None, "flood", blink_ms=600)), 3)),
        Value("v2", "state", "word", words=("ebb", "half", "flood"), absent="?", origin=Origin("band", "v1")),
        Value("v3", "colon", "yes/no", origin=Origin("blink", on_ms=300, off_ms=200)),
        Value("v4", "page", low=1, high=9, origin=Origin("rules", first=2)),
        Value("v5", "lamp", "yes/no", words=("off", "on"), origin=Origin("rules")),
    ),
)  # fmt: skip
SCREENS = {
    "Tide": Screen((
        Element("e1", "text", x=Anchor(plus=4), y=Anchor(plus=2), text="{v1} m {v2}"),
        Element("e2", "bar", x=Anchor(plus=4), y=Anchor(plus=40), width=Size("pixels", 90), height=Size("pixels", 8), high=68,
                follows=(Follow("value", "v1"),)),
        Element("e3", "circle", x=Anchor(plus=104), y=Anchor(plus=20), radius=6, follows=(Follow("shown", "v3"),)),
    )),
    "Page": Screen((
        Element("e1", "text", x=Anchor(plus=4), y=Anchor(plus=2), text="page {v4} {v5}"),
        Element("e2", "rectangle", x=Anchor(plus=2), y=Anchor(plus=30), width=Size("pixels", 20), height=Size("pixels", 20),
                follows=(Follow("x", "v4", Map("line", ((1, 2), (9, 100)))),)),
    )),
    "Still": Screen((Element("e1", "rounded", x=Anchor(plus=9), y=Anchor(plus=9), width=Size("pixels", 70), height=Size("pixels", 30)),)),
}  # fmt: skip
PROBE = """
#include "device.h"
#include "tide.h"
static behave_state *s;
static screen_values before, now;
static void all(const draw_surface *surface) { device_draw(s->screen, surface, &now); }
int32_t start(void) { s = behaviour_begin(0); screen_values_begin(&now); device_values(s, &now); return s->screen; }
int32_t go(uint32_t ms, int32_t what, int32_t of, int32_t a, int32_t b) {
    behave_step(s, ms, what, of, a, b);
    before = now;
    device_values(s, &now);
    return s->screen;
}
int32_t draw_all(void (*area)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t)) {
    const draw_surface surface = tide_direct(area, 0);
    all(&surface);
    return 1;
}
int32_t draw_changes(void (*area)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t)) {
    const draw_surface surface = tide_direct(area, 0);
    update_box boxes[16];
    const int32_t count = device_changes(s->screen, &before, &now, boxes, 16);
    for (int32_t i = 0; i < count; i++) { const draw_surface part = update_within(&surface, boxes + i); all(&part); }
    return count;
}
"""


def _rules():
    tells = Action("event", "x1")
    return (
        Rule("r1", Trigger("release", "a1"), (Action("screen", "screen-2"), tells), "screen-1"),
        Rule("r2", Trigger("button pressed", "b1"), (Action("add", "v4", 1, wrap=True),)),
        Rule("r3", Trigger("swipe left"), (Action("screen", "screen-3"),), "screen-2"),
        Rule("r4", Trigger("quiet", ms=700), (Action("screen", "screen-1"),)),
        Rule("r5", Trigger("button held", "b1", ms=300), (Action("output", "o1", 2),)),
    )


def made(slug):
    dev = device(slug)
    kit = kit_of(dev, DESIGN)
    plans = {f"screen-{n}": planned(screen, dev, kit) for n, screen in enumerate(SCREENS.values(), 1)}
    behaviour = Behaviour((Area("a1", "Tide", "screen-1", "e1", 4),), _rules(), (Button("b1", "next"),), (), (Output("o1", "lamp", shows="v5"),),
                          (Event("x1", 1, "page shown"),), TouchFeel(samples=1, swipe_px=20))  # fmt: skip
    return dev, kit, plans, machine_of(behaviour, DESIGN, plans, dev.size)


def compiled(slug, folder):
    dev, kit, plans, machine = made(slug)
    codes = []
    (folder / "values.h").write_text(c_values(DESIGN, {}, "Slip"))
    for number, (name, screen) in enumerate(SCREENS.items()):
        rendered = render(screen, dev, kit)
        codes.append(screen_code(number, rendered, name))
        (folder / f"{name.lower()}.h").write_text(c_header(rendered, name))
        (folder / f"{name.lower()}.c").write_text(c_source(rendered, name))
    (folder / "behaviour.h").write_text(behaviour_h(machine, {ref: ref for ref in machine.screens}, "Slip"))
    (folder / "behaviour.c").write_text(behaviour_c(machine, "Slip"))
    (folder / "device.h").write_text(device_header("Slip"))
    (folder / "device.c").write_text(device_source(machine, DESIGN, codes, "Slip"))
    (folder / "probe.c").write_text(PROBE)
    runtime = [str(RUNTIME / f"{name}.c") for name in ("draw", "maps", "show", "update", "behave")]
    own = [str(folder / f"{name}.c") for name in ("tide", "page", "still", "behaviour", "device", "probe")]
    words = ["gcc", "-std=c99", "-O1", "-shared", "-fPIC", *WARNINGS, f"-I{RUNTIME}", f"-I{folder}", *runtime, *own]
    subprocess.run([*words, "-o", str(folder / "slip.so")], check=True, capture_output=True)
    return plans, machine, ctypes.CDLL(str(folder / "slip.so"))


def happenings(seed, size):
    dice, now = random.Random(seed), 0
    for _ in range(70):
        kind = dice.randrange(5)
        if kind == 0:
            x, y = dice.choice(((10, 8), (60, 40), (size[0] - 5, size[1] - 5)))
            step_x = dice.choice((0, 0, -9))
            for n in range(dice.choice((2, 5))):
                now += 10
                yield now, Happening("touch", 0, max(0, x + n * step_x), y)
            now += 50
            yield now, Happening("time")
        elif kind == 1:
            for level in (0, 1):
                now += dice.choice((40, 400))
                yield now, Happening("pin", 0, level)
        elif kind == 2:
            now += dice.choice((20, 200))
            yield now, Happening("reading", 0, dice.randrange(0, 69))
        else:
            now += dice.choice((50, 130, 600))
            yield now, Happening("time")


@pytest.mark.parametrize("slug", ["mono-oled-128x64", "tft-320x240-touch", "epaper-296x128-four-colour"])
def test_after_every_step_the_glass_is_the_cores(slug, tmp_path):
    plans, machine, library = compiled(slug, tmp_path)
    refs = machine.screens
    state, _ = begin(machine)
    shown = library.start()
    rendered = drawn_in(plans[refs[shown]], born(machine).shown())
    frame = np.full(sent_values(rendered).shape, -1, np.int64)

    def take(context, x, y, w, h, color):
        frame[y : y + h, x : x + w] = color

    area = AREA(take)
    library.draw_all(area)
    seen, sent = {shown}, 0
    for now, happening in happenings(4, plans[refs[0]].device.size):
        state, _ = step(machine, state, happening, now)
        what = ("time", "touch", "pin", "lines", "reading", "wake").index(happening.what)
        screen = library.go(now, what, happening.of, happening.a, happening.b)
        assert screen == state.screen
        sent += library.draw_all(area) if screen != shown else library.draw_changes(area)
        shown = screen
        seen.add(screen)
        meant = drawn_in(plans[refs[screen]], Life(machine, state).shown())
        assert np.array_equal(frame, sent_values(meant)), now
    assert seen == {0, 1, 2}
    assert sent > 30


def test_values_in_python_are_those_that_screens_know():
    _, _, plans, machine = made("mono-oled-128x64")
    known = {}
    exec(python_source(machine, {ref: ref for ref in machine.screens}, "Slip"), known)
    state, in_python = begin(machine)[0], behave.behave_begin(known["DEVICE"], 0)
    state, _ = step(machine, state, Happening("reading", 0, 33), 400)
    behave.behave_step(known["DEVICE"], in_python, 400, behave.READING, 0, 33, 0)
    values = {}
    known["values_into"](in_python, values)
    meant = values_for_python(drawn_in(plans["screen-1"], Life(machine, state).shown()))
    assert values == meant


def test_raw_touches_become_pixels_in_python():
    """A panel whose raw axes are exchanged, x mirrored: x = 100 - raw_y / 10, y = raw_x / 20; kept on a glass of 128 x 64."""
    fitted = Fit(((0.0, -0.1, 100.0), (0.05, 0.0, 0.0)), (0.0,) * 5)
    _, _, _, machine = made("mono-oled-128x64")
    known = {}
    exec(python_source(machine, {ref: ref for ref in machine.screens}, "Slip", (fitted, (128, 64))), known)
    placed = [behave.touch_place(known["TOUCH_FIT"], *raw) for raw in ((400, 300), (0, 0), (2000, 0), (200, 2000), (410, 304))]
    assert placed == [(70, 20), (100, 0), (100, 63), (0, 10), (70, 21)]
