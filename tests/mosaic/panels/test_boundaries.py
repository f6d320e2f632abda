"""Panels at their boundaries: what an empty description says, the last pixel of a window, the oldest form of a passport."""

from dataclasses import fields

import pytest

from mosaic.errors import BadValueError
from mosaic.forms import from_record, to_record
from mosaic.panels.evidence import Evidence
from mosaic.panels.loader import catalogue
from mosaic.panels.mounting import Rect as Box
from mosaic.panels.sending import Sending
from mosaic.panels.supply import LinkOption
from mosaic.panels.upgrade import upgraded
from mosaic.panels.windows import Rect, check_window


def test_nothing_is_known_where_nothing_is_told():
    assert not any(getattr(Evidence(), f.name) for f in fields(Evidence))
    assert LinkOption("spi", 8_000_000, 4_000_000).max_read_clock_hz == 0
    assert to_record(from_record(Sending()), Sending, "sending") == Sending()


def test_a_box_on_a_drawing():
    box = Box(10, 20, 30, 8)
    assert (box.right, box.bottom, box.middle) == (40, 28, (25, 24))


@pytest.mark.parametrize(("family", "rows", "pins"), [
    ("page-oled", 32, "sequential"), ("page-oled", 33, None), ("window-tft", 32, None),
])  # fmt: skip
def test_how_the_rows_of_an_old_passport_are_wired(family, rows, pins):
    old = {"form": 1, "controller": {"family": family}, "glass": {"height_px": rows}}
    assert upgraded(old)["controller"].get("row_pins") == pins


@pytest.mark.parametrize(("rect", "message"), [
    (Rect(127, 159, 1, 1), ""), (Rect(0, 0, 128, 160), ""), (Rect(0, 0, 129, 1), "not on 128 × 160"), (Rect(0, 0, 1, 161), "not on"),
    (Rect(0, 0, 0, 1), "a window of 0 × 1"), (Rect(0, 0, 1, 0), "a window of 1 × 0"), (Rect(-1, 0, 1, 1), "at -1, 0"), (Rect(0, -1, 1, 1), "at 0, -1"),
])  # fmt: skip
def test_windows_at_the_edge_of_the_glass(rect, message):
    check = lambda: check_window(rect, catalogue()["tft-128x160-16bit"], 0)  # noqa: E731
    if not message:
        return check()
    with pytest.raises(BadValueError, match=message):
        check()
