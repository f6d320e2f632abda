"""Drawing code in three ways of writing comes back as screens whose pixels are those of the calls."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.drawing import shapes
from mosaic.drawing.surface import new_surface
from mosaic.errors import BadValueError
from mosaic.screens.from_calls import Meaning, guessed, screen_from
from mosaic.screens.rendering import render
from mosaic.screens.source_calls import LONGEST, read_calls
from tests.mosaic.screens.made_up import device, kit_of

INK, GROUND = 1, 0


def drawn_by(draw):
    surface = new_surface(128, 64)
    draw(surface)
    return surface.values


def text_at(s, x, base, words):
    shapes.text(s, x, base, words, kit_of(device()).letterings["lettering-1"].lettering, (None, INK))


C_ALL_IN_ONE = """
#define LEFT 4
#define WIDE (128 - 2 * LEFT)
void quay(void) {                 /* everything is given with each call */
    wipeGlass();
    strokeLine(LEFT, 12, LEFT + WIDE - 1, 12, 1);
    fillBox(10, 20, 30, 8, 1);
    edgeBox(50, 20, 30, 8, 1);
    label(LEFT, 10, "Slip \\"A\\"", 1);
}
"""
C_WITH_A_PEN = """
penTo(3, 3); lineTo(40, 9); lineTo(9, 40); // a pen that goes on
ink(0); penTo(0, 0); lineTo(5, 0);
ink(1);
cursorAt(20, 60); printText("Ebb");
"""
PYTHON_WITH_BRACKETS = """
W = 100
d.rectangle((2, 3, W - 1, 40), fill=None, outline=1)
d.oval_ellipse((10, 8, 50, 30), fill=1)
d.text((60, 20), "Tide", fill=1)
"""
PIECES = [
    (C_ALL_IN_ONE, {}, lambda s: (
        shapes.line(s, 4, 12, 123, 12, 1, INK), shapes.fill(s, 10, 20, 30, 8, INK), shapes.frame(s, 50, 20, 30, 8, 1, INK),
        text_at(s, 4, 10, 'Slip "A"'))),
    (C_WITH_A_PEN, {}, lambda s: (
        shapes.line(s, 3, 3, 40, 9, 1, INK), shapes.line(s, 40, 9, 9, 40, 1, INK), shapes.line(s, 0, 0, 5, 0, 1, GROUND), text_at(s, 20, 60, "Ebb"))),
    (PYTHON_WITH_BRACKETS, {}, lambda s: (
        shapes.frame(s, 2, 3, 98, 38, 1, INK), shapes.ellipse(s, 10, 8, 41, 23, INK), text_at(s, 60, 20, "Tide"))),
    ("auto panel = Panel();\npanel->fillCircle(64, 32, 20, 1);\npanel->drawCircle(64, 32, 25, 1);", {}, lambda s: (
        shapes.disc(s, 64, 32, 20, INK), shapes.ring(s, 64, 32, 25, 1, INK))),
    ("hLine(5, 6, 20, 1); vLine(7, 8, 30, 1); dot(100, 60, 1);", {}, lambda s: (
        shapes.line(s, 5, 6, 24, 6, 1, INK), shapes.line(s, 7, 8, 7, 37, 1, INK), shapes.fill(s, 100, 60, 1, 1, INK))),
    ("roundBoxFilled(4, 4, 60, 30, 8, 1);\nroundBox(70, 4, 50, 30, 6, 1);", {}, lambda s: (
        shapes.rounded(s, 4, 4, 60, 30, 8, INK), shapes.rounded(s, 70, 4, 50, 30, 6, INK, outlined=True))),
    ("fillTriangle(10, 50, 40, 5, 70, 50, 1);", {}, lambda s: shapes.polygon(s, [(10, 50), (40, 5), (70, 50)], INK)),
    ("shape(5, 6, 50, 40, 1);", {"shape": Meaning("rectangle", "x, y, x, y of the opposite corner")}, lambda s: shapes.fill(s, 5, 6, 46, 35, INK)),
    ("say(30, 8, \"Oars\", 1);", {"say": Meaning("text", "x, y and a text", y_is="start")}, lambda s: text_at(
        s, 30, 8 + kit_of(device()).letterings["lettering-1"].lettering.ascent, "Oars")),
    ("blob(20, 20, 60, 30, 1); clearAll(); fillBox(1, 2, 3, 4, 1); fillBox(10 % 4, 0x10, 7 / 2, 1 << 2, 1);", {"blob": Meaning("ellipse")}, lambda s: (
        shapes.fill(s, 1, 2, 3, 4, INK), shapes.fill(s, 2, 16, 3, 4, INK))),
]  # fmt: skip


@pytest.mark.parametrize(("source", "told", "draw"), PIECES, ids=range(len(PIECES)))
def test_ten_pieces_of_code_come_back_with_the_pixels_of_their_calls(source, told, draw):
    found = read_calls(source)
    meanings = {name: guessed(name, [call for call in found.calls if call.name == name]) for name in found.names} | told
    made = screen_from(found, meanings, device().passport)
    assert made.unread == []
    rendered = render(made.screen, device(), kit_of(device()))
    assert np.array_equal(rendered.surface.values, drawn_by(draw))


def test_what_cannot_be_read_is_told_by_its_line():
    source = "#define TWICE(a) (2 * (a))\nfillBox(1, 2, 3, 4);\nfor (int i = 0; i < 9; i++) {\n    fillBox(i * 3, 0, 2, 2);\n}\nfillBox(1, 2);\nfillBox(1, 2"
    found = read_calls(source)
    made = screen_from(found, {"fillBox": Meaning("rectangle")}, device().passport)
    assert [(one.line, one.why) for one in made.unread] == [
        (1, "macros with parameters are not carried out"), (4, "not all of its numbers are known: i * 3"),
        (6, "it has 2 numbers; 4 are needed: x, y, w, h"), (7, "its parentheses do not close"),
    ]  # fmt: skip
    assert len(made.screen.elements) == 1


def test_arrays_of_the_same_text_are_pictures():
    found = read_calls(
        "static const uint8_t oar[2] = {0x81, 0x42};\nputImage(9, 8, oar, 8, 2, 1);\nputImage(9, 8, oar, 8, 3, 1);"
    )
    made = screen_from(found, {"putImage": guessed("putImage", list(found.calls))}, device().passport)
    assert made.pictures == {"oar": (8, 2)}
    assert [(e.kind, e.cell, e.x.plus, e.y.plus) for e in made.screen.elements] == [("picture", "oar", 9, 8)]
    assert made.unread[0].why == "oar has 2 bytes; 8 x 3 pixels of 1 bit take 3"


@pytest.mark.parametrize(("number", "expected"), [(0xF800, "#ff0000"), (0x07E0, "#00ff00"), (0, "#000000"), (0xFFFF, "#ffffff")])
def test_sixteen_bit_colours_are_colours_of_a_panel_of_that_depth(number, expected):
    found = read_calls(f"fillBox(0, 0, 4, 4, {number});")
    made = screen_from(found, {"fillBox": Meaning("rectangle")}, device("tft-320x240-touch").passport)
    assert made.screen.elements[0].color == expected


def test_colours_go_by_the_panel_s_own_names():
    found = read_calls("fillBox(0, 0, 4, 4, EP_RED);")
    made = screen_from(found, {"fillBox": Meaning("rectangle")}, device("epaper-296x128-four-colour").passport)
    assert made.screen.elements[0].color == "red"


@pytest.mark.parametrize("hostile", [
    "(" * 5000, "f(" * 3000, "a=b(" + "1+" * 3000 + "1);", '"' * 999, "x(" + "9" * 400 + ");", "f(1<<99999);", "f(2**9**9**9)", "\\" * 500 + "(", "f(0x,,);",
    "/*" * 999, "f((((((((((1))))))))));", "é(1,2)", "f(\"\\xff\\377\\n\");",
])  # fmt: skip
def test_no_text_stops_the_reader(hostile):
    found = read_calls(hostile)
    meanings = {name: guessed(name, [call for call in found.calls if call.name == name]) for name in found.names}
    screen_from(found, meanings, device().passport)


def test_a_text_that_is_too_long_is_refused():
    with pytest.raises(BadValueError, match="up to 400,000 are accepted"):
        read_calls("x" * (LONGEST + 1))
    with pytest.raises(BadValueError, match="more than 4,000 calls"):
        read_calls("f(1);" * 4001)
    with pytest.raises(BadValueError, match="cannot mean 'boat'"):
        replace(Meaning(), kind="boat")
