"""Screens that follow values: core, C and Python draw the same in every state, and send the same windows from one to the next."""

import numpy as np
import pytest

from mosaic.panels.loader import catalogue
from mosaic.panels.windows import check_window
from mosaic.screens.code_python import python_source, run_python, values_for_python
from mosaic.screens.plan import planned
from mosaic.screens.rendering import drawn_in
from mosaic.screens.screen import Screen
from mosaic.screens.updates import changes, link_of
from tests.mosaic.screens.compiling import CScreen, bands_of, sent_values
from tests.mosaic.screens.living import DESIGN, living, lot
from tests.mosaic.screens.made_up import device, kit_of
from tests.mosaic.screens.stepping import steps_leave_the_glass_whole

PLACES = [
    ("mono-oled-128x64", 0),
    ("epaper-296x128-four-colour", 90),
    ("tft-240x240-round", 180),
    ("tft-320x240-touch", 0),
    ("epaper-250x122-three-colour", 90),
]


@pytest.fixture(scope="module", params=PLACES, ids=lambda place: place[0])
def plan(request):
    dev = device(*request.param)
    palette = dev.passport.palette
    return planned(living(*(palette.names[:2] if palette else ("#f0e0c0", "#203040"))), dev, kit_of(dev, DESIGN, bits=2))


def test_every_state_is_drawn_alike_and_every_step_leaves_the_glass_as_a_whole_frame_does(plan, tmp_path):
    states = [drawn_in(plan, lot(seed, plan.kit)) for seed in range(60)]
    module, code, link = run_python(python_source(states[0], "Tide")), CScreen(states[0], tmp_path), link_of(plan.device)
    glass = sent_values(states[0])
    for number, state in enumerate(states):
        meant, values = sent_values(state), values_for_python(state)
        assert np.array_equal(code.frame(state), meant), number
        if number % 4 == 0:  # the slowest of the three
            frame = np.full(meant.shape, -1)
            module["tide"](
                module["direct"](lambda x, y, w, h, c, to=frame: to.__setitem__(np.s_[y : y + h, x : x + w], c)), values
            )
            assert np.array_equal(frame, meant), number
        if not number:
            continue
        before = states[number - 1]
        windows = changes(before, state, link)
        boxes = [(w.x, w.y, w.width, w.height) for w in windows]
        assert code.changes(before, state) == boxes, number
        if number % 8 == 0:
            assert module["changes"](values_for_python(before), values) == boxes
        for window, box in zip(windows, boxes, strict=True):
            check_window(window, plan.device.passport, plan.device.turn)
            frame, inside = code.frame(state, box), np.s_[window.y : window.bottom, window.x : window.right]
            assert (frame[inside] >= 0).all()
            assert (frame >= 0).sum() == window.pixels
            glass[inside] = frame[inside]
        assert np.array_equal(glass, meant), number


def test_a_state_is_drawn_in_bands_too(plan, tmp_path):
    state = drawn_in(plan, lot(7, plan.kit))
    code = CScreen(state, tmp_path)
    for rows in bands_of(state):
        assert code.packed(state, rows) == state.packed


LARGEST_PX = 300_000
"""Forms of larger panels alone are drawn in `tests.mosaic.drawing` at a size of their own."""


def smallest_of_each_kind() -> list[str]:
    """The smallest panel of each form of bytes and each grid of windows; the others differ from it by size alone."""
    kinds = {}
    for slug, passport in sorted(catalogue().items(), key=lambda item: item[1].glass.width_px * item[1].glass.height_px):
        if passport.glass.width_px * passport.glass.height_px <= LARGEST_PX:
            kinds.setdefault((passport.format, passport.grid), slug)
    return sorted(kinds.values())


@pytest.mark.parametrize("slug", smallest_of_each_kind())
def test_on_each_kind_of_panel_steps_leave_the_glass_whole(slug, tmp_path):
    dev = device(slug)
    palette = dev.passport.palette
    screen = living(*(palette.names[:2] if palette else ("#f0e0c0", "#203040")))
    few = Screen(tuple(element for element in screen.elements if element.id in ("e1", "e6", "e8", "e12", "e14", "e15", "e19")))
    plan = planned(few, dev, kit_of(dev, DESIGN))
    steps_leave_the_glass_whole(drawn_in(plan, lot(0, plan.kit)), tmp_path)
