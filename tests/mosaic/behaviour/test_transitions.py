"""Changes of screens: the same glass after each step in core, C and Python, and what they cost."""

import ctypes
import subprocess
from pathlib import Path

import numpy as np
import pytest

from mosaic import firmware
from mosaic.behaviour.behaviour import CHANGES, SIDES
from mosaic.behaviour.transitions import allowed, cost_of, frames, strip
from mosaic.firmware import change, draw
from mosaic.panels.windows import Rect
from tests.mosaic.drawing.test_three_renderers import AREA, WARNINGS
from tests.mosaic.screens.made_up import device as device_of

RUNTIME, WIDTH, HEIGHT = Path(firmware.__file__).parent, 37, 23
SCENE = """
#include "change.h"
static void scene(const draw_surface *s) {
    draw_fill(s, -5, -5, 60, 40, 3);
    draw_disc(s, 12, 9, 7, 5);
    draw_line(s, 0, 20, 36, 2, 3, 7);
    draw_rounded(s, 20, 8, 14, 12, 4, 9);
}
static draw_surface glass(void (*area)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t)) {
    draw_surface s = {0, WIDTH, HEIGHT, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, area, 0, 0, 0, 0, 0, 0, 0};
    return s;
}
void step(void (*area)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t), int32_t how, int32_t side, int32_t n, int32_t steps) {
    const draw_surface s = glass(area);
    const change_box b = change_strip(how, side, n, steps, WIDTH, HEIGHT);
    const draw_surface part = draw_within(&s, b.x, b.y, b.w, b.h);
    if (how == CHANGE_WIPE) { scene(&part); return; }
    change_move move;
    const draw_surface moved = change_moved(&move, &part, side, &b, WIDTH, HEIGHT);
    scene(&moved);
}
void whole(void (*area)(void *, int32_t, int32_t, int32_t, int32_t, uint32_t)) { const draw_surface s = glass(area); scene(&s); }
"""


def scene(s) -> None:
    draw.fill(s, -5, -5, 60, 40, 3)
    draw.disc(s, 12, 9, 7, 5)
    draw.line(s, 0, 20, 36, 2, 3, 7)
    draw.rounded(s, 20, 8, 14, 12, 4, 9)


@pytest.fixture(scope="module")
def library(tmp_path_factory):
    folder = tmp_path_factory.mktemp("change")
    (folder / "scene.c").write_text(SCENE)
    files = [str(RUNTIME / "draw.c"), str(RUNTIME / "change.c"), str(folder / "scene.c")]
    words = [
        "gcc",
        "-std=c99",
        "-O1",
        "-shared",
        "-fPIC",
        f"-DWIDTH={WIDTH}",
        f"-DHEIGHT={HEIGHT}",
        *WARNINGS,
        f"-I{RUNTIME}",
        *files,
        "-o",
        str(folder / "change.so"),
    ]
    subprocess.run(words, check=True, capture_output=True)
    return ctypes.CDLL(str(folder / "change.so"))


def onto(frame):
    def area(x, y, w, h, c):
        frame[y : y + h, x : x + w] = c

    return area


@pytest.mark.parametrize("how", ["wipe", "slide"])
@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("steps", [2, 5, 8])
def test_each_step_leaves_the_same_glass_in_all_three(how, side, steps, library):
    before, now = np.full((HEIGHT, WIDTH), 1, np.int32), np.zeros((HEIGHT, WIDTH), np.int32)
    scene(draw.direct(onto(now), WIDTH, HEIGHT))
    meant, in_python, in_c = frames(before, now, how, side, steps), before.copy(), before.copy()
    assert len(meant) == steps
    for number in range(1, steps + 1):
        box = change.strip(CHANGES.index(how), SIDES.index(side), number, steps, WIDTH, HEIGHT)
        whole = strip(how, side, number, steps, (WIDTH, HEIGHT))
        assert box == (whole.x, whole.y, whole.width, whole.height)
        part = draw.within(draw.direct(onto(in_python), WIDTH, HEIGHT), *box)
        scene(part if how == "wipe" else change.moved(draw, part, SIDES.index(side), box, WIDTH, HEIGHT))

        def take(context, x, y, w, h, c):
            in_c[y : y + h, x : x + w] = c

        library.step(AREA(take), CHANGES.index(how), SIDES.index(side), number, steps)
        assert np.array_equal(in_python, meant[number - 1]), number
        assert np.array_equal(in_c, meant[number - 1]), number
    assert np.array_equal(meant[-1], now)


def test_the_leading_edge_of_what_slides_in_comes_first():
    now = np.arange(8, dtype=np.int32)[None, :].repeat(2, axis=0)
    before = np.full((2, 8), 9, np.int32)
    assert [frame[0].tolist() for frame in frames(before, now, "slide", "left", 4)] == [
        [9, 9, 9, 9, 9, 9, 0, 1], [9, 9, 9, 9, 0, 1, 2, 3], [9, 9, 0, 1, 2, 3, 4, 5], [0, 1, 2, 3, 4, 5, 6, 7],
    ]  # fmt: skip
    assert frames(before, now, "slide", "right", 4)[0][0].tolist() == [6, 7, 9, 9, 9, 9, 9, 9]
    assert [frame[0].tolist() for frame in frames(before, now, "wipe", "left", 2)] == [
        [9, 9, 9, 9, 4, 5, 6, 7], [0, 1, 2, 3, 4, 5, 6, 7],
    ]  # fmt: skip


def test_a_wipe_sends_a_frame_and_a_slide_more_than_half_of_every_one():
    """In four steps a slide sends 1/4, 2/4, 3/4 and 4/4 of a frame: two and a half."""
    device = device_of("tft-320x240-touch")
    frame = 320 * 240 * 2
    assert cost_of(device, "cut", "left", 8).sent_bytes == frame
    assert (cost_of(device, "wipe", "left", 4).windows, cost_of(device, "wipe", "left", 4).sent_bytes) == (4, frame)
    assert cost_of(device, "slide", "up", 4).sent_bytes == frame * 10 // 4
    assert cost_of(device, "slide", "up", 4).link_ms > 2.5 * cost_of(device, "cut", "up", 4).link_ms - 1


def test_epaper_only_takes_cuts():
    device = device_of("epaper-296x128-four-colour")
    assert allowed(device, "cut")
    assert not allowed(device, "wipe")
    assert cost_of(device, "slide", "left", 8) == cost_of(device, "cut", "left", 8)


def test_strips_cover_the_glass_once():
    for side in SIDES:
        boxes = [strip("wipe", side, step, 5, (37, 23)) for step in range(1, 6)]
        assert sum(box.pixels for box in boxes) == 37 * 23
        assert strip("slide", side, 5, 5, (37, 23)) == Rect(0, 0, 37, 23)
