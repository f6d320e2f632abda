"""Panels at their boundaries: what an empty description says, the last pixel of a window, the oldest form of a passport."""

from dataclasses import fields, replace

import numpy as np
import pytest

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.forms import from_record, to_record
from mosaic.panels.appearance import colors_of
from mosaic.panels.evidence import Evidence, color_kind, read_words
from mosaic.panels.geometry import Orientation, glass_mask, zone_bands
from mosaic.panels.glass import Ram, WindowGrid, area_corner_mm, module_problems
from mosaic.panels.identify import Family, Reason, Standing, runner_up
from mosaic.panels.loader import catalogue
from mosaic.panels.mounting import Opening, fitting_opening, mounting_plan
from mosaic.panels.mounting import Rect as Box
from mosaic.panels.passport import Passport
from mosaic.panels.reading import capital_height_mm, judged, legibility_of, own_contrast
from mosaic.panels.sending import Sending
from mosaic.panels.sequence import expand, parse
from mosaic.panels.supply import DrawCommand, LinkOption
from mosaic.panels.upgrade import upgraded
from mosaic.panels.windows import Rect, addressable, changed_rect, check_window, rect_from_host, rect_to_host
from mosaic.panels.wire import data_parts, window_values
from mosaic.pixels.formats import IndexedFormat, Plane

PANELS = catalogue()


def test_nothing_is_known_where_nothing_is_told():
    assert not any(getattr(Evidence(), f.name) for f in fields(Evidence))
    assert LinkOption("spi", 8_000_000, 4_000_000).max_read_clock_hz == 0
    assert DrawCommand("line", 5).pixels_per_us == 0
    assert to_record(from_record(Sending()), Sending, "sending") == Sending()
    assert next(f.default for f in fields(Passport) if f.name == "operating_c") == (-20, 70)


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
    check = lambda: check_window(rect, PANELS["tft-128x160-16bit"], 0)  # noqa: E731
    if not message:
        return check()
    with pytest.raises(BadValueError, match=message):
        check()


@pytest.mark.parametrize(("slug", "turn", "rect", "sent"), [
    ("tft-128x160-16bit", 90, Rect(3, 4, 10, 20), Rect(3, 4, 10, 20)),  # the controller turns
    ("mono-oled-128x64", 180, Rect(3, 4, 10, 20), Rect(115, 40, 10, 20)), ("epaper-296x128-black-white", 90, Rect(3, 4, 10, 20), Rect(4, 283, 20, 10)),
    ("epaper-296x128-black-white", 270, Rect(3, 4, 10, 20), Rect(104, 3, 20, 10)),
])  # fmt: skip
def test_a_window_before_the_reader_and_as_it_is_sent(slug, turn, rect, sent):
    assert rect_to_host(rect, PANELS[slug], turn) == sent
    assert rect_from_host(sent, PANELS[slug], turn) == rect


@pytest.mark.parametrize(("slug", "offset", "rect", "sent"), [
    ("mono-oled-128x64", 0, Rect(5, 7, 2, 2), Rect(5, 0, 2, 16)), ("mono-oled-128x64", 0, Rect(5, 8, 2, 8), Rect(5, 8, 2, 8)),
    ("grey-oled-256x64", 2, Rect(0, 3, 2, 1), Rect(0, 3, 2, 1)), ("grey-oled-256x64", 2, Rect(1, 3, 2, 1), Rect(0, 3, 6, 1)),
    ("grey-oled-256x64", 2, Rect(254, 0, 2, 1), Rect(254, 0, 2, 1)), ("grey-oled-256x64", 1, Rect(255, 0, 1, 1), Rect(255, 0, 1, 1)),
    ("epaper-800x480-seven-colour", 0, Rect(5, 7, 2, 2), Rect(0, 0, 800, 480)),
])  # fmt: skip
def test_the_least_window_on_the_grid_of_the_memory(slug, offset, rect, sent):
    """The glass may begin between two steps of the grid."""
    panel = PANELS[slug]
    ram = panel.ram if not offset else Ram(480, 128, offset, 0)
    assert addressable(rect, replace(panel, ram=ram), 0) == sent


def test_what_a_window_is_sent_as():
    """Glass 80 x 160 that begins at 26, 1 of its memory; planes of e-paper one after the other."""
    values = window_values(PANELS["tft-80x160"], 0, Rect(3, 4, 10, 20))
    assert {key: values[key] for key in ("width", "height", "x0", "x1", "y0", "y1")} == {
        "width": 80, "height": 160, "x0": 29, "x1": 38, "y0": 5, "y1": 24,
    }  # fmt: skip
    paper = PANELS["epaper-200x200-three-colour"]
    parts = data_parts(paper, window_values(paper, 0), bytes([1]) * 5000 + bytes([2]) * 5000)
    sent = [max(part.transactions, key=lambda one: len(one.data)).data for part in parts if part.name.startswith("send")]
    assert sent == [bytes([1]) * 5000, bytes([2]) * 5000]


def test_where_two_pictures_differ():
    before = np.zeros((9, 12, 3), np.uint8)
    after = before.copy()
    assert changed_rect(before, after) is None
    after[2, 5, 1] = after[7, 8, 2] = 1
    assert changed_rect(before, after) == Rect(5, 2, 4, 6)
    assert changed_rect(before[..., 0], after[..., 1]) == Rect(5, 2, 1, 1)


def test_colours_that_are_colours_already_stay():
    rgb = np.full((64, 128, 3), 7, np.uint8)
    assert colors_of(rgb, PANELS["mono-oled-128x64"], 0) is rgb


@pytest.mark.parametrize(("slug", "kind"), [
    ("mono-oled-128x64", "one"), ("two-zone-oled-128x64", "two zones"), ("grey-oled-128x128", "greys"), ("epaper-296x128-four-grey", "greys"),
    ("epaper-200x200-three-colour", "three"), ("epaper-296x128-four-colour", "four"), ("epaper-800x480-six-colour", "six"),
    ("epaper-600x448-seven-colour", "seven"), ("tft-128x128", "many"),
])  # fmt: skip
def test_colours_as_a_seller_counts_them(slug, kind):
    assert color_kind(PANELS[slug]) == kind


@pytest.mark.parametrize(("radius", "is_seen"), [(4.9, True), (5.0, True), (5.1, False)])
def test_the_outermost_pixel_of_a_rounded_corner(radius, is_seen):
    """Pixels of 4 x 2 mm: the first one's centre lies 3 and 4 mm beyond that of a circle of 5 mm."""
    panel = PANELS["tft-172x320-rounded"]
    glass = replace(
        panel.glass,
        width_px=10,
        height_px=20,
        width_mm=40.0,
        height_mm=40.0,
        outline_width_mm=60.0,
        outline_height_mm=60.0,
        corner_mm=radius,
    )
    mask = glass_mask(replace(panel, glass=glass, module=type(panel.module)()))
    assert {bool(mask[y, x]) for y in (0, 19) for x in (0, 9)} == {is_seen}
    assert mask.sum() == 200 - (0 if is_seen else 4)


@pytest.mark.parametrize(("grid", "words"), [
    (WindowGrid(), "any rectangle"), (WindowGrid(2, 1), "x in steps of 2 px"), (WindowGrid(1, 2), "y in steps of 2 px"),
    (WindowGrid(8, 2), "x in steps of 8 px and y in steps of 2 px"), (WindowGrid(8, 1, True), "whole frames only"),
])  # fmt: skip
def test_a_grid_in_words(grid, words):
    assert grid.in_words() == words


@pytest.mark.parametrize(("contrast", "white", "verdict"), [
    (4.5, 10, "text"), (4.49, 10, "large text only"), (4.5, 9.9, "large text only"), (3.0, 2, "large text only"), (2.99, 10, "not readable"),
    (100, 2, "large text only"), (100, 1.9, "not readable"),
])  # fmt: skip
def test_how_much_contrast_and_light_a_text_needs(contrast, white, verdict):
    assert judged(contrast, white, "").verdict == verdict


@pytest.mark.parametrize(("slug", "ratio"), [("tft-128x128", 700), ("color-oled-128x128", 10_000)])
def test_contrast_of_panels_whose_colours_are_not_listed(slug, ratio):
    assert own_contrast(PANELS[slug]) == ratio


def test_arrays_in_another_form_than_the_panels():
    panel = PANELS["mono-oled-128x64"]
    rows = IndexedFormat(1, "row", "msb", "rows", (Plane("", (0, 1)),))
    assert Sending().described(panel) is panel
    assert Sending(array=panel.format).described(panel) is panel
    assert Sending(array=rows).described(panel).format == rows
    for form in (IndexedFormat(2, "row", "msb", "rows", (Plane("", (0, 1, 2, 3)),)), PANELS["tft-128x128"].format):
        with pytest.raises(BadDescriptionError, match="does not go with the panel's colours"):
            Sending(array=form).array_format(panel)


def test_settings_of_an_old_passport_are_mirrored_along_the_readers_x():
    old = {"form": 1, "controller": {"turn_codes": [0x00, 0x60, 0xC0, 0xA0]}}
    assert upgraded(old)["controller"]["mirror_codes"] == [0x40, 0xE0, 0x80, 0x20]


@pytest.mark.parametrize(
    ("words", "bits"),
    [("4096 colours", 12), ("RGB444", 12), ("65K", 16), ("RGB 565", 16), ("262K", 18), ("18-bit", 18), ("TFT", 0)],
)
def test_depths_in_a_sellers_words(words, bits):
    assert read_words(words).bits == bits


@pytest.mark.parametrize(("lies", "words"), [
    (Orientation(0), "as it scans"), (Orientation(90), "turned 90° clockwise"), (Orientation(0, True), "mirrored"),
    (Orientation(270, True), "turned 270° clockwise, mirrored"),
])  # fmt: skip
def test_how_a_panel_lies_in_words(lies, words):
    assert lies.in_words() == words


@pytest.mark.parametrize(("first", "rows", "bands"), [
    (0, 16, [("top", 0, 16), ("rest", 16, 64)]), (1, 16, [("rest", 0, 1), ("top", 1, 17), ("rest", 17, 64)]), (48, 16, [("rest", 0, 48), ("top", 48, 64)]),
])  # fmt: skip
def test_zones_and_the_rows_between(first, rows, bands):
    panel = PANELS["two-zone-oled-128x64"]
    zone = replace(panel.zones[0], name="top", first_row=first, rows=rows)
    assert zone_bands(replace(panel, zones=(zone,))) == bands
    with pytest.raises(BadDescriptionError, match="rows 49 to 64 are not on 64 rows"):
        replace(panel, zones=(replace(zone, first_row=49),))


@pytest.mark.parametrize(("turn", "hole"), [(0, (2.6, 2.6)), (90, (86.9, 2.6)), (180, (35.4, 86.9)), (270, (2.6, 35.4))])
def test_a_hole_of_a_turned_module(turn, hole):
    """The one at 2.6, 2.6 of 38 x 89.5 mm."""
    x, y, _ = mounting_plan(PANELS["epaper-296x128-black-white"], turn).holes[0]
    assert (x, y) == hole


def test_temperatures_and_light_may_be_at_their_ends():
    panel = PANELS["tft-128x128"]
    assert replace(panel, operating_c=(20, 20)).operating_c == (20, 20)
    with pytest.raises(BadDescriptionError, match="lower temperature comes first"):
        replace(panel, operating_c=(21, 20))
    assert legibility_of(panel, 0).verdict == "text"


def test_round_glass_is_as_round_on_each_side():
    mask = glass_mask(PANELS["tft-240x240-round"])
    for other in (mask[::-1], mask[:, ::-1], mask.T):
        assert np.array_equal(mask, other)


def test_the_smallest_angles_and_distances_that_mean_anything():
    """2 tan(1/120 of a degree) at a metre; a degree at a millimetre."""
    assert capital_height_mm(1, 1000) == pytest.approx(0.29089, abs=1e-5)
    assert capital_height_mm(60, 1) == pytest.approx(0.017454, abs=1e-6)
    for angle, distance in ((0, 1), (1, 0)):
        with pytest.raises(BadValueError):
            capital_height_mm(angle, distance)


@pytest.mark.parametrize(("slug", "corner"), [("tft-172x320-rounded", 3.1), ("tft-240x240-round", 16.7), ("tft-128x128", 0.0)])
def test_the_corners_of_an_opening_that_hides_nothing(slug, corner):
    """Half a millimetre about the glass: corners of 2.6 mm, a circle of 32.4 mm."""
    assert fitting_opening(PANELS[slug], 0).corner_mm == pytest.approx(corner)


@pytest.mark.parametrize(("outline", "count"), [(10.0, 0), (9.9, 1)])
def test_an_area_as_large_as_its_outline(outline, count):
    glass = replace(PANELS["tft-128x128"].glass, width_mm=10.0, outline_width_mm=outline)
    module = replace(PANELS["tft-128x128"].module, area_x_mm=0.0)
    found = [one for one in module_problems(glass, module) if "$.glass.outline_width_mm" in str(one.path)]
    assert len(found) == count


def test_only_a_delay_waits():
    assert [sent.wait_ms for sent in expand("reset\nc AF\nd 01\ndelay 5\nbusy", {})] == [0, 0, 0, 5, 0]
    assert [step.wait_ms for step in parse("reset\nc AF\nd 01\ndelay 5\nbusy")] == [0, 0, 0, 5, 0]


def test_where_nobody_measured_the_area_lies_in_the_middle():
    panel = catalogue()["tft-240x240-round"]
    glass = replace(panel.glass, width_mm=20.0, height_mm=30.0, outline_width_mm=24.0, outline_height_mm=40.0)
    for x, y, corner in ((None, None, (2, 5)), (1.0, None, (1, 5)), (None, 3.0, (2, 3))):
        assert area_corner_mm(glass, replace(panel.module, area_x_mm=x, area_y_mm=y)) == corner
    assert Opening(0, 0, 10, 10).corner_mm == 0


def test_the_panel_next_to_the_likeliest():
    """Of the same family only where it has more points than the best of another."""
    panel = catalogue()["tft-240x240-round"]
    best, same, other = (Standing(panel, (Reason(points, "it is so"),)) for points in (9.0, 5.0, 4.0))
    for points, expected in ((4.0, same), (5.0, None), (6.0, None)):
        beside = Standing(panel, (Reason(points, "it is another"),))
        assert runner_up([Family((), "", (best, same)), Family((), "", (beside,))]) is (expected or beside)
    assert runner_up([Family((), "", (best,)), Family((), "", (other,))]) is other
