"""Each rule on screens: a screen that has the finding, the last one that has it not, and the fix that takes it away."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.findings import screens as rules
from mosaic.findings.rules import SCREEN_RULES, screen_findings
from mosaic.findings.subjects import ScreenSubject
from mosaic.panels.mounting import Opening
from mosaic.screens.kit import Kit
from mosaic.screens.rendering import render
from mosaic.screens.screen import Anchor, Element, Ground, Screen, Size
from mosaic.strips.cells import Cell
from tests.mosaic.screens.made_up import device, kit_of
from workshop.screens.acts import Asked, carried_out

BOARD = device("mono-oled-128x64")
ROUND = device("tft-240x240-round")
ZONES = device("two-zone-oled-128x64")
COLOR = device("tft-320x240-touch")


def subject(screen, dev=BOARD, kit=None):
    return ScreenSubject(dev, render(screen, dev, kit or kit_of(dev)))


def at(kind, x=0, y=0, ident="e1", **more):
    return Element(ident, kind, x=Anchor(plus=x), y=Anchor(plus=y), **more)


def px(count):
    return Size("pixels", count)


def fixed(found, screen, dev, kit=None):
    """The screen after a finding's fix, as the page carries it out."""
    changes = found.fix.changes
    ids = (changes["ids"],) if "ids" in changes else ()
    asked = Asked(screen, render(screen, dev, kit or kit_of(dev)), ids, {**changes})
    return carried_out(changes["act"], asked).screen


def mended(rule, screen, dev=BOARD, kit=None):
    found = rule(subject(screen, dev, kit))
    assert len(found) == 1, found
    assert not rule(subject(fixed(found[0], screen, dev, kit), dev, kit))
    return found[0]


class TestOutside:
    @pytest.mark.parametrize(
        ("x", "y", "sides"),
        [
            (-1, 0, "1 px beyond the left"),
            (89, 0, "1 px beyond the right"),
            (0, -2, "2 px beyond the top"),
            (0, 41, "1 px beyond the bottom"),
        ],
    )
    def test_partly(self, x, y, sides):
        found = mended(rules.outside_the_glass, Screen((at("rectangle", x, y),)))
        assert sides in found.what
        assert found.severity == "worth fixing"

    @pytest.mark.parametrize(
        ("x", "y", "severity"),
        [(-40, 0, "must fix"), (-39, 0, "worth fixing"), (128, 0, "must fix"), (0, 64, "must fix"), (0, -24, "must fix")],
    )
    def test_wholly(self, x, y, severity):
        assert mended(rules.outside_the_glass, Screen((at("rectangle", x, y),))).severity == severity

    def test_touching_the_edges_is_inside(self):
        assert not rules.outside_the_glass(subject(Screen((at("rectangle", 88, 40),))))

    def test_what_is_larger_than_the_glass_has_no_such_fix(self):
        found = rules.outside_the_glass(subject(Screen((at("rectangle", width=px(129)),))))
        assert found[0].fix is None


def test_under_the_round_edge_and_behind_the_bezel():
    corner = Screen((at("rectangle", 20, 20),))
    found = mended(rules.under_round_edge_or_bezel, corner, ROUND)
    assert "under the edge of the glass" in found.what
    assert not rules.under_round_edge_or_bezel(subject(Screen((at("rectangle", 100, 100),)), ROUND))
    glass = BOARD.passport.glass
    opening = Opening(0, 0, glass.outline_width_mm, glass.outline_height_mm / 2)
    behind = replace(BOARD, opening=opening)
    assert "behind the bezel" in mended(rules.under_round_edge_or_bezel, Screen((at("rectangle", 0, 38),)), behind).what


def test_hidden_wholly_by_others():
    over = Screen((at("text", 4, 4, text="Ebb"), at("rectangle", ident="e2", width=px(60), height=px(30))))
    found = mended(rules.hidden_by_others, over)
    assert "“Ebb” is hidden wholly by the rectangle e2" in found.what
    partly = Screen((over.elements[0], at("rectangle", ident="e2", width=px(10), height=px(30))))
    assert not rules.hidden_by_others(subject(partly))


def test_text_over_text():
    texts = Screen((at("text", 4, 4, text="Ebb"), at("text", 6, 6, "e2", text="Flood")))
    found = mended(rules.text_over_text, texts)
    assert found.severity == "must fix"
    assert not rules.text_over_text(subject(Screen((at("text", 4, 4, text="Ebb"), at("text", 60, 4, "e2", text="Flood")))))


def test_across_the_zones():
    rows = next(zone.rows for zone in ZONES.passport.zones)
    crossing = Screen((at("rectangle", 4, rows - 1, height=px(2)),))
    mended(rules.across_the_zones, crossing, ZONES)
    assert not rules.across_the_zones(subject(Screen((at("rectangle", 4, rows - 2, height=px(2)),)), ZONES))
    assert not rules.across_the_zones(subject(crossing, BOARD))
    for width, height, told in ((128, 64, []), (128, 63, [False]), (127, 64, [False]), (127, 48, [True]), (127, 49, [False])):
        found = rules.across_the_zones(subject(Screen((at("rectangle", width=px(width), height=px(height)),)), ZONES))
        assert [one.fix is not None for one in found] == told, height  # the larger zone has 48 rows


def test_a_glyph_that_is_missing():
    found = mended(rules.glyphs_missing, Screen((at("text", text="Ebb 漢字"),)))
    assert "2 characters of “Ebb 漢字” not in the lettering: 漢 字" in found.what
    assert not rules.glyphs_missing(subject(Screen((at("text", text="Ebb"),))))


def test_what_is_not_there_any_more():
    found = mended(rules.lettering_gone, Screen((at("text", text="Ebb", lettering="lettering-9"),)))
    assert "names a lettering that is not there any more" in found.what
    assert "names no picture" in mended(rules.lettering_gone, Screen((at("picture"),))).what
    assert "a picture that is not there any more" in mended(rules.lettering_gone, Screen((at("cell", source="strip-9"),))).what
    assert "a shared part that is not there" in mended(rules.lettering_gone, Screen((at("part", part="p7"),))).what
    bare = Kit(BOARD.passport)
    assert "names no lettering" in mended(rules.lettering_gone, Screen((at("text", text="Ebb"),)), BOARD, bare).what
    whole = (at("text", text="Ebb"), at("cell", source="strip-1", ident="e2"), at("part", part="p1", ident="e3"))
    assert not rules.lettering_gone(subject(Screen(whole)))


def test_capitals_under_the_floor():
    small = Screen((at("text", text="Ebb", lettering="lettering-1"),))
    far = replace(BOARD, viewing_distance_mm=460.0)
    found = mended(rules.capitals_too_small, small, far)
    assert found.fix.changes["lettering"] == "lettering-2"
    near = replace(BOARD, viewing_distance_mm=250.0)
    assert not rules.capitals_too_small(subject(small, near))


def test_contrast_to_what_lies_beneath():
    grey = Screen((at("text", 4, 4, text="Ebb", color="#404040"),), ground=Ground("color", "#202020"))
    found = mended(rules.contrast_too_low, grey, COLOR)
    assert "a contrast of 1." in found.what
    assert found.fix.changes["color"] == "ink"
    assert not rules.contrast_too_low(subject(Screen((at("text", 4, 4, text="Ebb"),)), COLOR))


def test_colours_that_become_others():
    paper = device("epaper-296x128-four-colour")
    found = mended(rules.colors_change, Screen((at("rectangle", color="#3060c0"), at("bar", ident="e2", color="#3060c0"))), paper)
    assert "the rectangle e1, the bar e2" in found.what
    assert mended(rules.colors_change, Screen((at("rectangle", color="#0c1c24"),)), COLOR).fix.changes["shown"] == "#081c21"
    assert not rules.colors_change(subject(Screen((at("bar", color="red"),)), paper))
    assert not rules.colors_change(subject(Screen((at("rectangle", color="#081c21"),)), COLOR))
    # (57, 101, 53) becomes (57, 101, 49), (106, 21, 94) becomes (107, 20, 90): 2.27 and 2.44 of CIELAB.
    assert not rules.colors_change(subject(Screen((at("rectangle", color="#396535"),)), COLOR))
    assert rules.colors_change(subject(Screen((at("rectangle", color="#6a155e"),)), COLOR))


def test_a_thin_line_on_a_mixture():
    mixed = Ground("pattern", "ground", "ink")
    line = at("line", 4, 8, color="ink", width=px(60), height=px(1))
    assert mended(rules.thin_light_lines, Screen((line,), ground=mixed)).fix.changes["thickness"] == 3
    assert not rules.thin_light_lines(subject(Screen((line,))))
    assert not rules.thin_light_lines(subject(Screen((replace(line, thickness=2),), ground=mixed)))
    sparse = Ground("pattern", "ground", "ink", tile=("#.......",))
    assert not rules.thin_light_lines(subject(Screen((line,), ground=sparse)))


def test_a_picture_drawn_with_its_ground_over_a_neighbour():
    wide = np.zeros((9, 12), np.uint8)
    wide[:, :4] = 1
    kit = kit_of(BOARD)
    cells = (Cell("mark", wide, wide > 0, 0, 9, 12),)
    kit = Kit(BOARD.passport, kit.letterings, {"strip-1": cells}, {}, kit.names, kit.design)
    over = Screen((at("rectangle", 14, 4, width=px(30)), at("cell", 6, 4, "e2", source="strip-1")))
    found = rules.opaque_over_neighbours(subject(over, BOARD, kit))
    assert "drawn with its background over the rectangle e1: 36 pixels are covered" in found[0].what
    assert not rules.opaque_over_neighbours(subject(fixed(found[0], over, BOARD, kit), BOARD, kit))
    # What covers nine tenths of the glass is a ground: of 8,192 pixels 7,372. 58 rows of 128 do, 57 do not.
    for rows, is_neighbour in ((57, True), (58, False)):
        ground = at("rectangle", width=px(128), height=px(rows))
        behind = Screen((ground, at("cell", 6, 4, "e2", source="strip-1")))
        assert bool(rules.opaque_over_neighbours(subject(behind, BOARD, kit))) is is_neighbour
    beside = Screen((at("rectangle", 18, 4, width=px(30)), at("cell", 6, 4, "e2", source="strip-1")))
    assert not rules.opaque_over_neighbours(subject(beside, BOARD, kit))


def test_all_rules_run_over_a_sound_screen_and_find_nothing():
    sound = Screen((at("text", 4, 2, text="Ebb", lettering="lettering-2"), at("rectangle", 4, 34, "e2")))
    assert screen_findings(subject(sound, replace(BOARD, viewing_distance_mm=300.0))) == []
    assert len(SCREEN_RULES) == 26


def test_bytes_that_would_show_another_picture_are_found(monkeypatch):
    """A wrong bit order in the packer: the virtual panel shows something else."""
    dev = device("mono-oled-128x64")
    sound = subject(Screen((at("text", 4, 2, text="Ebb"),)), dev)
    assert rules.not_shown_as_meant(sound) == []
    wrong = subject(Screen((at("text", 4, 2, text="Ebb"),)), dev)
    wrong.rendered.__dict__["packed"] = bytes(int(f"{byte:08b}"[::-1], 2) for byte in sound.rendered.packed)
    found = rules.not_shown_as_meant(wrong)
    assert found[0].severity == "must fix"
    assert "pixels differ on the virtual panel" in found[0].what
