"""Random windows of random pictures, on every panel that takes them: nothing else may change."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.conversion.pipeline import pack
from mosaic.errors import BadValueError
from mosaic.panels.geometry import Orientation, to_host
from mosaic.panels.loader import catalogue
from mosaic.panels.windows import Rect, addressable, changed_rect, host_size, rect_from_host, rect_to_host
from mosaic.panels.wire import frame_parts, setup_part, window_parts
from mosaic.virtual.panel import shown_pixels, virtual_panel
from tests.mosaic.virtual.test_virtual import random_picture

TAKE_PARTS = [p for p in catalogue().values() if not p.grid.whole_frames and p.scan is None]
SMALL = [p for p in TAKE_PARTS if p.glass.width_px * p.glass.height_px <= 80_000]


def packed(host_part, panel, lies):
    return pack(host_part, panel, lies if panel.controller.turned_by == "controller" else 0)


def drive_window(panel, lies, before, after, rect):
    """(shown, misuse): a frame of one picture, then a window of another over it."""
    virtual = virtual_panel(panel)
    for part in (setup_part(panel, lies), *frame_parts(panel, lies, pack(before, panel, lies))):
        virtual.play(part.transactions)
    old, new = (to_host(picture, panel, lies) for picture in (before, after))
    for part in window_parts(panel, lies, rect, packed(rect.of(new), panel, lies), packed(rect.of(old), panel, lies)):
        virtual.play(part.transactions)
    virtual.finish()
    return shown_pixels(virtual, lies), virtual.misuse


@pytest.mark.parametrize("panel", TAKE_PARTS, ids=lambda p: p.slug)
def test_a_window_changes_what_it_covers_and_nothing_else(panel):
    rng = np.random.default_rng(3)
    for rotation, mirrored in ((0, False), (90, True)):
        lies = Orientation(rotation, mirrored)
        before, after = random_picture(panel, lies, 1), random_picture(panel, lies, 2)
        width, height = host_size(panel, lies)
        x, y = int(rng.integers(0, width)), int(rng.integers(0, height))
        wanted = Rect(x, y, int(rng.integers(1, width - x + 1)), int(rng.integers(1, height - y + 1)))
        rect = addressable(wanted, panel, lies)
        assert rect.x <= wanted.x
        assert rect.right >= wanted.right
        shown, misuse = drive_window(panel, lies, before, after, rect)
        meant = before.copy()
        seen = rect_from_host(rect, panel, lies)
        seen.of(meant)[:] = seen.of(after)
        assert np.array_equal(shown, meant), (lies, rect)
        assert misuse == []
        assert rect_to_host(seen, panel, lies) == rect


@settings(max_examples=60)
@given(data=st.data())
def test_any_window_on_any_small_panel_at_any_orientation(data):
    panel = data.draw(st.sampled_from(SMALL))
    lies = Orientation(data.draw(st.sampled_from((0, 90, 180, 270))), data.draw(st.booleans()))
    width, height = host_size(panel, lies)
    x, y = data.draw(st.integers(0, width - 1)), data.draw(st.integers(0, height - 1))
    wanted = Rect(x, y, data.draw(st.integers(1, width - x)), data.draw(st.integers(1, height - y)))
    rect = addressable(wanted, panel, lies)
    seeds = data.draw(st.tuples(st.integers(0, 99), st.integers(100, 199)))
    before, after = (random_picture(panel, lies, seed) for seed in seeds)
    shown, misuse = drive_window(panel, lies, before, after, rect)
    meant = before.copy()
    seen = rect_from_host(rect, panel, lies)
    seen.of(meant)[:] = seen.of(after)
    assert np.array_equal(shown, meant)
    assert misuse == []


@pytest.mark.parametrize(
    ("slug", "rect", "grown"),
    [
        ("mono-oled-128x64", Rect(5, 3, 10, 10), Rect(5, 0, 10, 16)),  # whole pages
        ("epaper-296x128-black-white", Rect(9, 7, 8, 5), Rect(8, 7, 16, 5)),  # bytes of 8 pixels
        ("grey-oled-256x64", Rect(1, 1, 2, 2), Rect(0, 1, 4, 2)),  # groups of four
        ("amoled-466x466-round", Rect(3, 3, 2, 2), Rect(2, 2, 4, 4)),  # pairs, from an even offset
        ("tft-240x240-round", Rect(7, 9, 3, 4), Rect(7, 9, 3, 4)),  # anything
        ("epaper-296x128-four-colour", Rect(7, 9, 3, 4), Rect(0, 0, 128, 296)),  # whole frames
    ],
)
def test_windows_grow_to_the_panels_grid(slug, rect, grown):
    assert addressable(rect, catalogue()[slug], 0) == grown


def test_windows_off_the_grid_or_the_glass_are_refused():
    panel = catalogue()["mono-oled-128x64"]
    for rect in (Rect(0, 4, 8, 8), Rect(120, 0, 16, 8), Rect(0, 0, 0, 8), Rect(-1, 0, 8, 8)):
        with pytest.raises(BadValueError):
            window_parts(panel, 0, rect, bytes(8))


def test_the_rectangle_of_what_changes():
    before, after = np.zeros((9, 9), np.uint8), np.zeros((9, 9), np.uint8)
    assert changed_rect(before, after) is None
    after[2, 3] = after[5, 6] = 1
    assert changed_rect(before, after) == Rect(3, 2, 4, 4)
