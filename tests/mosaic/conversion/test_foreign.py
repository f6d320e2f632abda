"""Bytes from elsewhere as pictures: colours, direction and the candidates, against bytes written by hand."""

from mosaic.conversion.foreign import OWN_NAME, candidates_of, picture_of
from mosaic.imports.foreign import Found
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.pixels.formats import DirectFormat, IndexedFormat, Plane
from mosaic.pixels.guess import Candidate

MONO = catalogue()["mono-oled-128x64"]
GREY_FOUR = IndexedFormat(2, "row", "msb", "rows", (Plane("p", (0, 1, 2, 3)),))
UPRIGHT = Orientation()


def test_codes_of_another_form_are_even_steps_of_grey():
    picture = picture_of(bytes([0b00011011]), Candidate(4, 1, GREY_FOUR), MONO, UPRIGHT)
    assert picture.tolist() == [[[0] * 3, [85] * 3, [170] * 3, [255] * 3]]


def test_codes_of_the_panel_s_form_have_its_measured_colours():
    panel = catalogue()["epaper-296x128-four-colour"]
    plane = panel.format.planes[0]
    shown = picture_of(bytes([0b00011011]), Candidate(4, 1, GREY_FOUR), panel, UPRIGHT)
    by_code = dict(zip(plane.codes, panel.palette.measured_rgb.tolist(), strict=True))
    assert shown[0].tolist() == [by_code[code] for code in (0, 1, 2, 3)]


def test_high_byte_first_and_low_byte_first():
    # 0xF800 is full red in 5-6-5; read the other way round it is 0x00F8: green 7 of 63, blue 24 of 31.
    big, little = (
        picture_of(b"\xf8\x00", Candidate(1, 1, DirectFormat(16, byte_order=o)), MONO, UPRIGHT) for o in ("big", "little")
    )
    assert big.tolist() == [[[255, 0, 0]]]
    assert little.tolist() == [[[0, 28, 198]]]


def test_the_own_panel_comes_first_and_stands_upright():
    panel = catalogue()["epaper-296x128-black-white"]
    data = bytes([0x80]) + bytes(128 * 296 // 8 - 1)
    own = candidates_of(Found(data, "", None), panel, Orientation(90))[0]
    assert own.name == OWN_NAME
    picture = picture_of(data, own, panel, Orientation(90))
    assert picture.shape == (128, 296, 3)
    marked = (picture != picture[64, 148]).any(axis=-1)
    assert marked.sum() == 1
    assert {(0, 0), (0, 295), (127, 0), (127, 295)} & {tuple(map(int, p)) for p in zip(*marked.nonzero(), strict=True)}


def test_a_number_of_bytes_that_no_panel_has():
    assert candidates_of(Found(bytes(8), "", None), MONO, UPRIGHT)
