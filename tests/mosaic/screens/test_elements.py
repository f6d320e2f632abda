"""What each kind of element draws: hand-drawn maps on small glasses, and its rules."""

import numpy as np
import pytest

from mosaic.drawing.surface import new_surface
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.forms import from_record, to_record
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.calls import Font
from mosaic.screens.colors import color_value, snapped
from mosaic.screens.elements import polar, share_of, wrapped
from mosaic.screens.gradient import gradient_calls
from mosaic.screens.kinds import KINDS
from mosaic.screens.kit import Kit, beneath, image_of
from mosaic.screens.placing import Box
from mosaic.screens.rendering import render
from mosaic.screens.screen import Anchor, Design, Element, Ground, KindName, Part, Screen, Size, Style
from tests.mosaic.screens.made_up import all_kinds, device, kit_of

BOARD = device("mono-oled-128x64")


def tiny(bits: int = 1) -> Font:
    """Letters of 2 x 3 with an advance of 3, on a line of 4 with 3 above."""
    full = (1 << bits) - 1
    glyphs = tuple(Glyph(ord(c), np.full((3, 2), full, np.uint8), 0, 3, 3) for c in "abIO")
    return Font(
        "tiny",
        Lettering(
            "Tiny", (Glyph(32, np.zeros((0, 0), np.uint8), 0, 0, 2), *sorted(glyphs, key=lambda g: g.code)), 3, 1, bits, {}, 3
        ),
    )


def map_of(kind: str, columns: int, rows: int, kit: Kit | None = None, **fields) -> str:
    """The upper left pixels of a screen with one element at 1, 1: # where it is lit."""
    element = Element("e1", kind, x=Anchor(plus=1), y=Anchor(plus=1), **fields)
    kit = kit or Kit(BOARD.passport, {"lettering-1": tiny()})
    values = render(Screen((element,)), BOARD, kit).pixels[:rows, :columns]
    return "\n".join("".join("#" if v else "." for v in row) for row in values)


def px(count):
    return Size("pixels", count)


@pytest.mark.parametrize(
    ("kind", "fields", "drawn"),
    [
        ("text", {"text": "a b"}, "........./.##...##./.##...##./.##...##./........."),
        ("text", {"text": "a", "width": px(6), "align": "end"}, "........./....##.../....##.../....##.../........."),
        ("text", {"text": "a", "color": "ground", "second": "ink"}, "........./...#...../...#...../...#...../.###....."),
        ("rectangle", {"width": px(4), "height": px(3)}, "........./.####..../.####..../.####..../........."),
        ("rectangle", {"width": px(4), "height": px(3), "filled": False}, "........./.####..../.#..#..../.####..../........."),
        ("line", {"width": px(4), "height": px(4)}, "........./.#......./..#....../...#...../....#...."),
        ("line", {"width": px(4), "height": px(4), "rising": True}, "........./....#..../...#...../..#....../.#......."),
        ("bar", {"width": px(8), "height": px(2), "value": 50}, "........./.####..../.####..../........./........."),
        ("bar", {"width": px(2), "height": px(4), "value": 75}, "........./........./.##....../.##....../.##......"),
        ("circle", {"radius": 2}, "........./..###..../.#####.../.#####.../.#####.../..###..../........."),
        ("circle", {"radius": 2, "filled": False}, "........./..###..../.#...#.../.#...#.../.#...#.../..###..../........."),
        ("pattern", {"width": px(4), "height": px(3)}, "........./.#.#...../..#.#..../.#.#...../........."),
        ("polygon", {"points": ((0, 0), (4, 0), (0, 4))}, "........./.###...../.##....../.#......./........."),
        ("polyline", {"points": ((0, 0), (3, 0), (3, 3))}, "........./.####..../....#..../....#..../....#...."),
        ("triangle", {"width": px(5), "height": px(3), "turn": 180}, "........./.#####.../..###..../...#...../........."),
        ("triangle", {"width": px(4), "height": px(2)}, "........./..#....../.###...../........./........."),
        ("triangle", {"width": px(3), "height": px(5), "turn": 270}, "........./...#...../..##...../.###...../..##...../...#....."),
        ("triangle", {"width": px(3), "height": px(5), "turn": 90}, "........./.#......./.##....../.###...../.##....../.#......."),
        ("arc", {"width": px(3), "height": px(3), "thickness": 1, "start": 0, "span": 91}, "........./..##...../...#...../........./........."),
    ],
)  # fmt: skip
def test_maps_drawn_by_hand(kind, fields, drawn):
    assert map_of(kind, 9, drawn.count("/") + 1, **fields).replace("\n", "/") == drawn


def test_the_list_of_kinds_is_that_of_the_record():
    assert list(KINDS) == list(KindName.__args__)
    fields = set(Element.__dataclass_fields__)
    for kind in KINDS.values():
        assert set(kind.blanks) <= fields, kind.name
        assert set(kind.first) <= fields, kind.name


@pytest.mark.parametrize(
    ("low", "high", "value", "share"),
    [(0, 100, 50, 5), (0, 100, 0, 0), (0, 100, 100, 10), (0, 100, -9, 0), (0, 100, 999, 10), (0, 20, 1, 1), (100, 0, 25, 8), (-10, 10, 0, 5), (0, 40, 1, 0), (0, 100, 5, 1)],
)  # fmt: skip
def test_shares_are_rounded_half_away_from_zero_and_held_within(low, high, value, share):
    assert share_of(Element("e1", "bar", low=low, high=high, value=value), 10) == share


@pytest.mark.parametrize(
    ("degrees", "at"),
    [(0, (50, 40)), (90, (60, 50)), (180, (50, 60)), (270, (40, 50)), (45, (57, 43)), (-45, (43, 43)), (30, (55, 41))],
)
def test_places_round_a_middle(degrees, at):
    assert polar(50, 50, degrees, 10) == at


def test_a_gauge_fills_as_far_as_its_value_reaches():
    base = {"width": px(41), "height": px(41), "thickness": 4}
    areas = []
    for value in (0, 50, 100):
        element = Element("e1", "gauge", value=value, start=0, span=360, **base)
        areas.append(int(render(Screen((element,)), BOARD, kit_of(BOARD)).pixels.sum()))
    assert areas[0] == 0
    assert abs(areas[1] * 2 - areas[2]) <= 8
    tickless = map_of("needle", 50, 50, width=px(41), height=px(41))
    assert tickless != map_of("needle", 50, 50, width=px(41), height=px(41), value=61)


def test_ticks_stand_at_equal_steps_with_their_numbers():
    element = Element("e1", "needle", width=px(60), height=px(60), ticks=3, labels=True, low=950, high=1050, start=270, span=180)
    rendered = render(Screen((element,)), BOARD, kit_of(BOARD))
    calls = rendered.drawn[0].calls
    assert [call.given[2] for call in calls if call.name == "text"] == ["950", "1000", "1050"]
    ends = [call.given[:2] for call in calls if call.name == "line"][:3]
    assert ends == [(0, 29), (29, 0), (58, 29)]


def test_words_are_broken_where_the_width_ends():
    font = tiny()
    assert wrapped(font, "aa b aa", 11, kit_of(device())) == ["aa b", "aa"]
    assert wrapped(font, "aa b aa", 10, kit_of(device())) == ["aa", "b", "aa"]
    assert wrapped(font, "aaaa b", 5, kit_of(device())) == ["aaaa", "b"]
    assert wrapped(font, "a\n\nb", 50, kit_of(device())) == ["a", "", "b"]


def test_a_list_shows_the_chosen_line_in_exchanged_colours():
    drawn = map_of("list", 14, 11, text="a\nb", number=1, gap=1, width=px(12))
    rows = drawn.split("\n")
    assert rows[1] == ".....##......."
    assert rows[6] == ".####..######."
    assert rows[9] == ".############."


def test_a_button_and_a_switch_change_with_what_they_are_told():
    filled, outline = (map_of("button", 30, 14, text="a", filled=f, radius=2) for f in (True, False))
    assert filled.count("#") > outline.count("#")
    assert filled.split("\n")[6][9:11] == ".."
    assert outline.split("\n")[6][9:11] == "##"
    on, off = (map_of("switch", 40, 22, value=v, high=1) for v in (1, 0))
    assert on.count("#") > off.count("#")
    assert map_of("switch", 40, 22, value=1, high=2) == off


def test_a_shared_part_stands_in_its_own_box_and_changes_everywhere():
    part = Part("p1", "Foot", 6, 4, (Element("e1", "rectangle", width=Size("as"), height=Size("as"), filled=False),))
    kit = Kit(BOARD.passport, {}, design=Design((), (part,)))
    assert (
        map_of("part", 9, 6, kit, part="p1").replace("\n", "/") == "........./.######../.#....#../.#....#../.######../........."
    )
    assert "#" not in map_of("part", 9, 6, kit, part="p9")


def test_a_style_is_what_an_element_leaves_open():
    kit = Kit(BOARD.passport, {"lettering-1": tiny()}, design=Design((Style("s1", "Dark", "ground", "ink"),)))
    assert map_of("text", 5, 6, kit, text="a", style="s1").replace("\n", "/") == "...../...#./...#./...#./.###./....."
    assert map_of("text", 5, 6, kit, text="a", style="s1", color="ink", second="ground") == map_of("text", 5, 6, text="a")


def test_a_hidden_element_draws_nothing_and_keeps_its_place():
    first, second = Element("e1", "rectangle", shown=False), Element("e2", "rectangle", x=Anchor("start", "e1", "end"))
    rendered = render(Screen((first, second)), BOARD, kit_of(BOARD))
    assert rendered.pixels[:, :40].sum() == 0
    assert rendered.boxes["e2"].x == 40


class TestColors:
    def test_names_values_and_what_becomes_of_them(self):
        paper, screen = device("epaper-296x128-four-colour").passport, device("tft-240x240-round").passport
        assert [color_value(name, paper) for name in ("black", "white")] == [
            color_value("ink", paper),
            color_value("ground", paper),
        ]
        assert color_value("#fe0000", paper) == paper.palette.names.index("red")
        assert color_value("#123456", screen) == 0x103452
        assert (color_value("ink", screen), color_value("ground", screen)) == (0xFFFFFF, 0)
        with pytest.raises(BadValueError, match="mauve is no colour of this panel; ink, ground, black"):
            color_value("mauve", paper)

    def test_depths(self):
        assert snapped(0x123456, DirectFormat(12)) == 0x113355
        assert snapped(0xABCDEF, DirectFormat(24)) == 0xABCDEF

    def test_levels_are_mixed_over_one_colour_and_decided_over_several(self):
        screen = device("tft-240x240-round")
        kit = Kit(screen.passport, {"lettering-1": tiny(2)})
        font = kit.letterings["lettering-1"]
        known = kit.levels(font, 0xFFFFFF, 0)
        assert known[0] is None
        assert known[3] == 0xFFFFFF
        assert 0 < known[1] < known[2] < 0xFFFFFF
        assert kit.levels(font, 0xFFFFFF, None) == (None, None, 0xFFFFFF, 0xFFFFFF)

    def test_what_lies_beneath_a_box(self):
        surface = new_surface(8, 8)
        assert beneath(surface, Box(2, 2, 3, 3, 5)) == 0
        surface.values[4, 4] = 1
        assert beneath(surface, Box(2, 2, 3, 3, 5)) is None
        assert beneath(surface, Box(2, 2, 2, 2, 4)) == 0
        assert beneath(surface, Box(20, 2, 3, 3, 5)) is None


def test_pictures_of_many_colours_are_kept_as_their_own_values():
    passport = device("tft-240x240-round").passport
    few = np.zeros((2, 4, 3), np.uint8)
    few[0, 0] = 8, 4, 8
    image = image_of("a", few, None, passport)
    assert (image.colors, image.pixels.tolist()) == ((0, 0x080408), [[1, 0, 0, 0], [0, 0, 0, 0]])
    many = np.zeros((18, 18, 3), np.uint8)
    many[..., 0], many[..., 1] = np.indices((18, 18)) * 8
    assert image_of("a", many, None, passport).shape == (18, 18)
    diagonal = image_of("a", many, np.eye(18, dtype=bool), passport)
    assert (len(diagonal.colors), diagonal.colors[0]) == (19, None)


class TestGradient:
    def test_steps_of_the_depth_and_a_mixture_between_them(self):
        passport = device("tft-240x240-round").passport
        plain = gradient_calls(10, 64, 0, 0x180000, passport, upright=True, mask=False)
        assert [call.given[3:] for call in plain] == [(20, 0), (21, 0x080000), (21, 0x100000), (2, 0x180000)]
        mixed = gradient_calls(10, 64, 0, 0x180000, passport, upright=False, mask=True)
        assert mixed[0].name == "fill"
        assert {call.name for call in mixed} == {"fill", "pattern"}
        assert sum(call.given[2] for call in mixed) == 10

    def test_two_colours_of_a_palette_cross_over_in_the_middle(self):
        passport = device("epaper-296x128-four-colour").passport
        hard = gradient_calls(8, 5, 0, 1, passport, upright=True, mask=False)
        assert [call.given for call in hard] == [(0, 0, 8, 3, 0), (0, 3, 8, 2, 1)]
        soft = gradient_calls(8, 17, 0, 1, passport, upright=True, mask=True)
        assert [int(call.given[4].sum()) for call in soft if call.name == "pattern"] == list(range(1, 16))


class TestRecord:
    def test_a_screen_comes_back_as_it_was_written(self):
        screen = all_kinds(BOARD, Ground("gradient", "ink", "ground"))
        assert to_record(from_record(screen), Screen, "screen") == screen

    @pytest.mark.parametrize(
        ("change", "words"),
        [
            ({"elements": [{"id": "e1", "kind": "blimp"}]}, r"elements\[0\].kind: 'blimp' is given; it is \"text\""),
            ({"elements": [{"id": "E1", "kind": "text"}]}, r"elements\[0\].id: 'E1' is given; it is a short name such as e4"),
            ({"elements": [{"id": "e1", "kind": "text", "text": "x" * 2001}]}, r"elements\[0\].text"),
            ({"elements": [{"id": "e1", "kind": "bar", "width": {"by": "pixels", "pixels": 65535}}]}, r"width.pixels: 65535 is given; it is a whole number from 0 to 4096"),
            ({"elements": [{"id": "e1", "kind": "bar", "width": {"by": "pixels", "pixels": -1}}]}, "width.pixels: -1"),
            ({"elements": [{"id": "e1", "kind": "bar", "low": 3, "high": 3}]}, "lowest and highest are both 3"),
            ({"elements": [{"id": "e1", "kind": "bar"}, {"id": "e1", "kind": "bar"}]}, "two elements are called e1"),
            ({"elements": [{"id": "safe", "kind": "bar"}]}, "none of them glass, safe or ground"),
            ({"elements": [{"id": "e1", "kind": "group", "members": ["e9"]}]}, "e9 is no other element"),
            ({"elements": [{"id": "e1", "kind": "pattern", "tile": ["#", "##"]}]}, "rows of a tile are equally long"),
            ({"form": 2}, "form: 2 is given; it is 1"),
            ({"layers": []}, "layers: no such field"),
        ],
    )  # fmt: skip
    def test_what_is_wrong_is_told_by_its_path(self, change, words):
        with pytest.raises(BadDescriptionError, match=words):
            to_record(change, Screen, "screen")

    def test_a_part_holds_no_part(self):
        with pytest.raises(BadDescriptionError, match="a part holds none"):
            Part("p1", elements=(Element("e1", "part", part="p2"),))
        with pytest.raises(BadDescriptionError, match="ids of their own"):
            Design((Style("s1"),), (Part("s1"),))


def test_a_lettering_is_the_elements_own_or_its_styles_or_the_first():
    design = Design(styles=(Style("s1", "large", lettering="lettering-2"), Style("s2", "plain")))
    kit = Kit(BOARD.passport, {"lettering-1": tiny(), "lettering-2": tiny(2), "lettering-3": tiny(4)}, design=design)
    for style, own, bits in (("", "", 1), ("s1", "", 2), ("s1", "lettering-3", 4), ("s2", "", 1), ("s2", "lettering-3", 4)):
        font = kit.font(Element("e1", "text", style=style, lettering=own))
        assert font.lettering.bits == bits, (style, own)
    assert kit.font(Element("e1", "text", lettering="lettering-9")) is None
