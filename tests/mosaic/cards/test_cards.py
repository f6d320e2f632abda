"""Test cards: whole on every panel, and rulers that give back an offset nobody knew."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.cards.letters import FACES, Face, face_that_fits
from mosaic.cards.registry import CARDS, cards_of, painted
from mosaic.cards.ruler import has_addresses, offset_from_reading, reading_of
from mosaic.conversion.program import Setting, shown
from mosaic.errors import BadValueError
from mosaic.panels.geometry import Orientation, host_view, seen_size
from mosaic.panels.loader import catalogue

PANELS = list(catalogue().values())
RULED = [p for p in PANELS if has_addresses(p) and p.glass.width_px * p.glass.height_px <= 160_000]


def setting_of(panel, lies=None):
    return Setting(panel, lies or Orientation(panel.rotation))


@pytest.mark.parametrize("panel", PANELS, ids=lambda p: p.slug)
def test_every_card_stands_on_its_panel_as_it_was_painted(panel):
    setting = setting_of(panel)
    for card in cards_of(panel):
        pixels = painted(card, panel, setting.turn)
        assert (pixels != pixels[0, 0]).any(), card.slug  # something is to be seen
        if not card.whole_ram:
            assert pixels.shape[1::-1] == seen_size(panel, setting.turn)
            assert np.array_equal(shown(pixels, setting, setting)[0], pixels), card.slug


def test_cards_come_where_they_say_something():
    assert [c.slug for c in cards_of(catalogue()["epaper-296x128-four-colour"])] == [
        "frame", "letter", "checks", "steps", "colours", "patches",
    ]  # fmt: skip
    two_zone = {c.slug for c in cards_of(catalogue()["two-zone-oled-128x64"])}
    assert {"zones", "columns", "rows"} <= two_zone
    assert "ramps" not in two_zone
    assert {"rings", "ramps"} <= {c.slug for c in cards_of(catalogue()["tft-240x240-round"])}


def test_the_frame_is_one_pixel_wide_and_closed():
    panel = catalogue()["mono-oled-128x64"]
    card = painted(CARDS["frame"], panel, 0)
    assert card[[0, -1]].all()
    assert card[:, [0, -1]].all()
    assert not card[1, 1:-1].any()
    assert not card[1:-1, 1].any()


def test_letters_by_their_pixels():
    assert ["".join(".#"[v] for v in row) for row in Face(True).draw("1-").astype(int)] == [
        ".#.....", "##.....", ".#..###", ".#.....", "###....",
    ]  # fmt: skip
    assert Face(False, 2).draw("F").shape == (14, 10)
    assert face_that_fits("WIDE", 3, 5, 0.1) is None


def digits_at(marked, x, y):
    """The number that stands at a place of a ruler, read by laying every number of every face over it."""
    best = None
    for face in FACES:
        for value in range(0, 1000, 10):
            glyphs = face.draw(str(value))
            part = marked[y : y + glyphs.shape[0], x : x + glyphs.shape[1]]
            if part.shape == glyphs.shape and np.array_equal(part, glyphs) and (best is None or glyphs.size > best[0]):
                best = (glyphs.size, value)
    return best and best[1]


def first_address(marked):
    """What a maker reads: the first mark with a number, less the places before it."""
    height, width = marked.shape
    for x in range(width):
        for y in np.flatnonzero(marked[: height - 14, x]):
            if marked[y : y + 8, x].all():  # a mark that runs through its band
                value = digits_at(marked, x + 2, int(y) + 7)
                if value is not None:
                    return value - x
    return None


def ink_of(panel, seen):
    """Which pixels a ruler's marks and numbers are."""
    if seen.ndim == 3:
        return (seen == seen.max()).all(axis=2)
    return seen == (panel.palette.darkest if panel.technology == "epaper" else panel.palette.lightest)


@pytest.mark.parametrize("panel", RULED, ids=lambda p: p.slug)
def test_a_ruler_gives_back_a_seeded_offset(panel):
    """The maker believes one offset, the module has another; what is read off the glass is what the module has."""
    glass, ram = panel.glass, panel.ram
    spare = ram.width_px - glass.width_px
    step = panel.grid.x_px
    seeded = (spare // 3 or min(spare, step)) // step * step
    truth = replace(panel, ram=replace(ram, offset_x=seeded))
    believed = replace(panel, ram=replace(ram, offset_x=0))
    for lies in (Orientation(0), Orientation(180)):
        if reading_of(believed, lies, "columns").edge != "left":
            continue  # counted from the other edge; those are the cases worked out by hand below
        card = painted(CARDS["columns"], believed, lies)
        seen, _ = shown(card, setting_of(believed, lies), setting_of(truth, lies), whole_ram=True)
        column = first_address(ink_of(panel, seen))
        assert column is not None, lies
        row = host_view(panel, lies).offset_y
        assert offset_from_reading(believed, lies, column, row).offset_x == seeded, lies


@pytest.mark.parametrize(
    ("slug", "rotation", "mirrored", "read", "offset"),
    [
        # 240 x 240 in 240 x 320 at row 0: upright the first row is 0, turned over it is 80.
        ("tft-240x240-round", 0, False, (0, 0), (0, 0)),
        ("tft-240x240-round", 180, False, (0, 80), (0, 0)),
        ("tft-240x240-round", 90, False, (80, 0), (0, 0)),
        # 128 x 128 in 132 x 162 at (2, 3); mirrored axes count 2 and 31.
        ("tft-128x128", 0, False, (2, 3), (2, 3)),
        ("tft-128x128", 180, False, (2, 31), (2, 3)),
        ("tft-128x128", 90, False, (31, 2), (2, 3)),
        # 135 in 240 at 52, mirrored 53.
        ("tft-135x240", 0, False, (52, 40), (52, 40)),
        ("tft-135x240", 180, False, (53, 40), (52, 40)),
        ("tft-135x240", 0, True, (53, 40), (52, 40)),
        # The picture is turned, not the controller: addresses are the native ones whichever way it lies.
        ("two-zone-oled-128x64", 180, False, (2, 0), (2, 0)),
    ],
)
def test_offsets_by_hand(slug, rotation, mirrored, read, offset):
    panel = catalogue()[slug]
    ram = offset_from_reading(panel, Orientation(rotation, mirrored), *read)
    assert (ram.offset_x, ram.offset_y) == offset


def test_a_page_panel_may_have_more_columns_than_was_known():
    ram = offset_from_reading(catalogue()["mono-oled-128x64"], Orientation(), 2, 0)
    assert (ram.width_px, ram.offset_x) == (132, 2)


@pytest.mark.parametrize(("column", "row"), [(-1, 0), (0, 300), (9, 0)])
def test_impossible_readings_are_refused_in_words(column, row):
    with pytest.raises(BadValueError, match=r"below 0|cannot begin"):
        offset_from_reading(catalogue()["tft-240x240-round"], Orientation(), column, row)
