"""A screen for another panel: lengths, colours and areas worked by hand."""

import pytest

from mosaic.screens.adapting import Adapting, lettering_scale
from mosaic.screens.screen import Anchor, Design, Element, Follow, Ground, Guide, Part, Screen, Size, Style
from mosaic.values.maps import Map
from tests.mosaic.screens.made_up import device

SMALL, SQUARE, ZONES = device(), device("epaper-200x200-three-colour"), device("two-zone-oled-128x64")
# From 128 x 64 to 200 x 200 pixels: 1.5625 times across, 3.125 times down.


def test_lengths_grow_with_the_glass_each_along_its_own_direction():
    adapting = Adapting(SMALL, SQUARE, "glass")
    element = adapting.element(Element(
        "e1", "polyline", x=Anchor("start", "glass", "start", 8), y=Anchor("end", "glass", "end", -8), width=Size("pixels", pixels=64),
        height=Size("pixels", pixels=1), radius=4, thickness=1, gap=2, points=((0, 0), (64, 8)),
    ))  # fmt: skip
    assert (element.x.plus, element.y.plus) == (13, -25)  # 12.5 rounds away from 0
    assert (element.width.pixels, element.height.pixels) == (100, 3)
    assert (element.radius, element.thickness, element.gap) == (6, 2, 3)  # by the smaller: 6.25, 1.5625, 3.125
    assert element.points == ((0, 0), (100, 25))


def test_what_is_nothing_stays_nothing_and_what_is_something_stays_at_least_one_pixel():
    shrinking = Adapting(SQUARE, SMALL, "glass")
    before = Element(
        "e1", "rectangle", width=Size("pixels", pixels=1), height=Size("pixels", pixels=1), radius=1, thickness=1, gap=-1
    )
    after = shrinking.element(before)
    assert (after.width.pixels, after.height.pixels, after.radius, after.thickness, after.gap) == (1, 1, 1, 1, -1)
    open_ = shrinking.element(Element("e2", "rectangle", radius=0))
    assert (open_.radius, open_.width.pixels) == (0, 0)


def test_lengths_in_millimetres_and_in_pixels():
    mm = Adapting(SMALL, SQUARE, "mm")
    guide = mm.guide(Guide("g1", upright=True, plus=100))
    assert guide.plus == 123  # 100 columns of 0.16984 mm are 16.984 mm, and 123.07 columns of 0.138 mm
    assert Adapting(SMALL, SQUARE, "pixels").guide(Guide("g1", upright=False, plus=100)).plus == 100
    assert lettering_scale(SMALL, SQUARE) == pytest.approx(0.1696875 / 0.138)


def test_a_part_as_wide_as_the_glass_stays_so():
    part = Adapting(SMALL, SQUARE, "pixels").part(Part("p1", "Foot", 128, 14))
    assert (part.width, part.height) == (200, 14)
    assert Adapting(SMALL, SQUARE, "glass").part(Part("p1", "Foot", 127, 14)).width == 198  # 198.4


def test_colours_keep_their_name_where_the_panel_has_it_and_their_look_where_not():
    to_mono = Adapting(SQUARE, SMALL, "glass")
    assert [to_mono.color(name) for name in ("ink", "", "#a02c26")] == ["ink", "", "#a02c26"]
    assert to_mono.color("red") == SQUARE.passport.palette.measured[2]
    assert Adapting(SMALL, ZONES, "glass").color("lit") == "lit"
    design = to_mono.design(Design((Style("s1", "Loud", "red", "white"),)))
    assert design.styles[0].color == to_mono.color("red")
    assert design.styles[0].second == to_mono.color("white")
    assert to_mono.ground(Ground(color="red")).color == to_mono.color("red")


def test_areas_that_the_panel_lacks_become_the_safe_area():
    screen = Screen(elements=(Element("e1", "text", x=Anchor("start", "zone1", "start"), text="Ebb"),))
    for new, expected in ((SQUARE, "safe"), (ZONES, "zone1")):
        assert Adapting(ZONES, new, "glass").screen(screen).elements[0].x.to == expected


def test_maps_of_lengths_grow_and_those_of_colours_and_numbers_do_not():
    adapting = Adapting(SMALL, SQUARE, "glass")

    def points(what, follow_map):
        return adapting.follow(Follow(what, "v1", follow_map)).map

    line = Map("line", ((0, 0), (100, 64)))
    assert points("width", line).points == ((0, 0), (100, 100))
    assert points("y", line).points == ((0, 0), (100, 200))
    assert points("number", line) == line
