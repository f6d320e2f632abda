"""Offsets and arrays at all eight orientations, against values worked by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.panels.geometry import Orientation, host_view, rect_to_seen, seen_size, to_native, to_seen, turn_code
from mosaic.panels.loader import catalogue

EIGHT = [Orientation(rotation, mirrored) for mirrored in (False, True) for rotation in (0, 90, 180, 270)]
orientations = st.sampled_from(EIGHT)

# (first column, first row) at 0, 90, 180, 270 degrees clockwise, then mirrored left to right at each.
# Mirroring exchanges the column's offset with that of the other end: RAM size - size - offset.
HAND_WORKED = {
    # 240 of 240 columns from 0; 240 of 320 rows from 0, 80 at the other end
    "tft-240x240-square": [(0, 0), (80, 0), (0, 80), (0, 0), (0, 0), (0, 0), (0, 80), (80, 0)],
    # 128 of 132 columns from 2, 2 at the other end; 128 of 162 rows from 3, 31 at the other end
    "tft-128x128": [(2, 3), (31, 2), (2, 31), (3, 2), (2, 3), (3, 2), (2, 31), (31, 2)],
    # 135 of 240 columns from 52, 53 at the other end; 240 of 320 rows from 40, 40 at the other end
    "tft-135x240": [(52, 40), (40, 52), (53, 40), (40, 53), (53, 40), (40, 52), (52, 40), (40, 53)],
    # 80 of 132 columns from 26, 26 at the other end; 160 of 162 rows from 1, 1 at the other end
    "tft-80x160": [(26, 1), (1, 26), (26, 1), (1, 26), (26, 1), (1, 26), (26, 1), (1, 26)],
}


@pytest.mark.parametrize("slug", HAND_WORKED)
def test_offsets(slug):
    views = [host_view(catalogue()[slug], lies) for lies in EIGHT]
    assert [(view.offset_x, view.offset_y) for view in views] == HAND_WORKED[slug]


def test_both_mirrors_are_half_a_turn():
    assert Orientation(0).mirrored_across().mirrored_down() == Orientation(180)
    assert Orientation(90).mirrored_down() == Orientation(270, True)
    panel = catalogue()["tft-128x128"]
    both = Orientation(0).mirrored_across().mirrored_down()
    assert (host_view(panel, both).offset_x, host_view(panel, both).offset_y) == (2, 31)
    down = Orientation(0).mirrored_down()
    assert (host_view(panel, down).offset_x, host_view(panel, down).offset_y) == (2, 31)


@given(orientations, st.integers(1, 5), st.integers(1, 5))
def test_there_and_back(lies, width, height):
    native = np.arange(width * height, dtype=np.uint8).reshape(height, width)
    assert np.array_equal(to_native(to_seen(native, lies), lies), native)


@given(orientations)
def test_turning_and_mirroring_do_to_the_picture_what_they_say(lies):
    native = np.arange(6, dtype=np.uint8).reshape(2, 3)
    seen = to_seen(native, lies)
    assert np.array_equal(to_seen(native, lies.turned(90)), np.rot90(seen, -1))
    assert np.array_equal(to_seen(native, lies.mirrored_across()), seen[:, ::-1])
    assert np.array_equal(to_seen(native, lies.mirrored_down()), seen[::-1])


def test_scan_settings_mirror_the_axis_that_the_reader_sees_across():
    # Bits of the setting: 80 rows mirrored, 40 columns mirrored, 20 axes exchanged.
    panel = catalogue()["tft-320x240-touch"]
    assert [turn_code(panel, lies) for lies in EIGHT] == [0x00, 0xA0, 0xC0, 0x60, 0x40, 0x20, 0x80, 0xE0]


@pytest.mark.parametrize(
    ("lies", "expected"),
    [
        (Orientation(0), (1, 2, 3, 4)),
        (Orientation(90), (14, 1, 4, 3)),
        (Orientation(180), (6, 14, 3, 4)),
        (Orientation(270), (2, 6, 4, 3)),
        (Orientation(0, True), (6, 2, 3, 4)),
        (Orientation(90, True), (2, 1, 4, 3)),
    ],
)
def test_rectangles_turn_with_the_glass(lies, expected):
    assert rect_to_seen((1, 2, 3, 4), (10, 20), lies) == expected


@given(orientations)
def test_sides_change_with_quarter_turns_only(lies):
    assert seen_size(catalogue()["tft-135x240"], lies) == ((240, 135) if lies.rotation in (90, 270) else (135, 240))
