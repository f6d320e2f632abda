"""Faults: each is seen, each is mended, and what it shows is what a pencil would draw."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.cards.registry import cards_of, painted
from mosaic.conversion.driving import drive
from mosaic.conversion.pipeline import pack
from mosaic.conversion.program import Setting, array_of, carried, recoded, shown
from mosaic.errors import BadDescriptionError
from mosaic.faults.alike import alike, groups
from mosaic.faults.registry import FAULTS, faults_of
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from mosaic.pixels.formats import IndexedFormat, Plane
from mosaic.virtual.panel import FAMILIES, virtual_panel
from tests.mosaic.virtual.test_virtual import random_picture

PANELS = catalogue()
SEEN_ON = [p for p in PANELS.values() if p.glass.width_px * p.glass.height_px <= 130_000] + [
    PANELS[slug]
    for slug in ("drawing-tft-480x272", "rgb-tft-480x480-round", "epaper-960x640-black-white", "amoled-390x390-round")
]


def right(panel):
    return Setting(panel, Orientation(panel.rotation))


def test_the_panels_here_have_every_family_and_every_fault():
    assert {p.controller.family for p in SEEN_ON} | {"serial-canvas"} == set(FAMILIES)
    assert {name for p in SEEN_ON for name, _ in faults_of(right(p))} == set(FAULTS)
    assert len(FAULTS) >= 28


@pytest.mark.parametrize("panel", SEEN_ON, ids=lambda p: p.slug)
def test_every_fault_is_seen_on_some_card_and_its_mend_gives_the_right_picture_again(panel):
    setting = right(panel)
    cards = [(card, painted(card, panel, setting.turn)) for card in cards_of(panel) if not card.whole_ram]
    for name, fault in faults_of(setting):
        believed, truth, amount = fault.bench(setting)
        wrong = [shown(pixels, believed, truth)[0] for _, pixels in cards]
        assert any(
            got.shape != pixels.shape or not np.array_equal(got, pixels) for got, (_, pixels) in zip(wrong, cards, strict=True)
        ), name
        if fault.where == "program":
            truth = fault.mended(truth, amount)
        else:
            believed = fault.mended(believed, amount)
        card = cards[0][0]
        meant = painted(card, panel, truth.turn)
        got, virtual = shown(painted(card, panel, believed.turn), believed, truth)
        assert np.array_equal(got, meant), name
        assert virtual.misuse == [], name


@pytest.mark.parametrize("panel", SEEN_ON[::3], ids=lambda p: p.slug)
def test_what_a_mended_build_believes_drives_its_panel(panel):
    """Mending exchanges two states of a panel, and each is one that the virtual panel can be."""
    for name, fault in faults_of(right(panel)):
        if fault.where in ("array", "panel"):
            mended = fault.mended(right(panel))
            assert drive(mended.passport, mended.turn).verified, name


# ----- by hand, on a glass of 8 x 16 pixels: two pages, or 16 rows of one byte -----

PICTURE = """
########
#......#
#.##...#
#.#....#
#.##...#
#.#....#
#.#..#.#
#....##.
#....#..
#...#...
#..#....
#.#.....
##......
#.......
#.......
########
"""


def rows(text):
    return np.array([[c == "#" for c in line] for line in text.split()], np.uint8)


def small(slug, width, height):
    """A panel of the catalogue with a small glass and as much RAM."""
    panel = PANELS[slug]
    glass = replace(panel.glass, width_px=width, height_px=height)
    ram = replace(panel.ram, width_px=width, height_px=height, offset_x=0, offset_y=0)
    setup = panel.sequences.setup.replace("A8 3F", f"A8 {height - 1:02X}")
    return replace(panel, glass=glass, ram=ram, zones=(), rotation=0, sequences=replace(panel.sequences, setup=setup))


OLED = small("mono-oled-128x64", 8, 16)
PAPER = small("epaper-296x128-black-white", 8, 16)


def hand(change):
    return change(rows(PICTURE))


def pages_flipped(picture):
    out = picture.copy()
    out[:8], out[8:] = picture[7::-1], picture[:7:-1]
    return out


def as_rows_read_as_pages(picture):
    """Row bytes, leftmost pixel highest, laid down as page bytes, topmost pixel lowest: byte 8p + x is row 8p + x."""
    out = np.zeros_like(picture)
    for page in range(2):
        for x in range(8):
            for bit in range(8):
                out[8 * page + bit, x] = picture[8 * page + x, bit]
    return out


BY_HAND = [
    ("panel.mirror-x", OLED, lambda p: p[:, ::-1]),
    ("panel.mirror-y", OLED, lambda p: p[::-1]),
    ("panel.half-turn", OLED, lambda p: p[::-1, ::-1]),
    ("panel.turned-right", OLED, lambda p: np.array([[p[15 - x, y] for x in range(16)] for y in range(8)])),
    ("array.polarity", OLED, lambda p: 1 - p),
    ("panel.inversion", OLED, lambda p: 1 - p),
    ("array.bit-order", OLED, pages_flipped),
    ("array.bit-order", PAPER, lambda p: p[:, ::-1]),  # one byte a row: its pixels mirrored
    ("program.page-order", OLED, lambda p: np.concatenate([p[8:], p[:8]])),
    # One byte is a column of a page: the second page's first column comes to the first page's last, and so on.
    ("program.start-byte", OLED, lambda p: np.concatenate([
        np.concatenate([p[:8, 1:], p[8:, :1]], axis=1), np.concatenate([p[8:, 1:], np.zeros((8, 1), np.uint8)], axis=1),
    ])),
    # One byte is a row: everything moves up by one, and what comes after the array is empty.
    ("program.start-byte", PAPER, lambda p: np.concatenate([p[1:], np.zeros((1, 8), np.uint8)])),
    ("set-up.height", OLED, lambda p: np.concatenate([p[:8], np.zeros((8, 8), np.uint8)])),
    ("set-up.rolled", OLED, lambda p: np.concatenate([p[8:], p[:8]])),
    ("set-up.addressing", OLED, lambda p: np.concatenate([
        # Bytes go down first: bytes 0, 2, 4 ... of the stream (page 0, columns 0, 2, 4, 6, then page 1's) stand on the upper page.
        np.concatenate([p[:8, 0::2], p[8:, 0::2]], axis=1), np.concatenate([p[:8, 1::2], p[8:, 1::2]], axis=1),
    ])),
    ("program.window", OLED, lambda p: np.concatenate([
        # Four columns of each page; bytes 16 of them, twice round: the second page's bytes are written last.
        np.concatenate([p[8:, :4]], axis=1), np.concatenate([p[8:, 4:]], axis=1),
    ])),
]  # fmt: skip


@pytest.mark.parametrize(("name", "panel", "change"), BY_HAND, ids=lambda v: v if isinstance(v, str) else "")
def test_renderings_by_hand(name, panel, change):
    seen = FAULTS[name].rendering(right(panel), rows(PICTURE))  # 1 is lit, or white
    meant = hand(change)
    # A window of half the columns leaves the other half as it was before: noise that is not judged.
    columns = slice(0, 4) if name == "program.window" else slice(None)
    assert np.array_equal(seen[:, columns], meant[:, columns]), f"\n{seen}\n{meant}"


def test_half_a_buffer_leaves_the_noise_of_power_up():
    seen = FAULTS["program.half-buffer"].rendering(right(OLED), rows(PICTURE))
    fresh = virtual_panel(OLED).ram[1]
    noise = (fresh[None, :] >> np.arange(8, dtype=np.uint8)[:, None]) & 1
    assert np.array_equal(seen, np.concatenate([rows(PICTURE)[:8], noise]))


def test_opaque_cells_cover_the_end_of_the_one_before():
    panel = PANELS["mono-oled-128x64"]
    seen = FAULTS["program.opaque-cells"].rendering(right(panel), np.ones((64, 128), np.uint8))
    dark = [x for x in range(128) if not seen[0, x]]
    assert dark == [x for cell in range(10) for x in (12 * cell + 10, 12 * cell + 11)]


def test_rows_wired_otherwise_interleave_two_halves():
    panel = PANELS["mono-oled-128x64"]
    picture = np.zeros((64, 128), np.uint8)
    picture[:32] = 1
    seen = FAULTS["panel.row-pins"].rendering(right(panel), picture)
    # Row k of a panel wired one after the other is scanned at step 2k, past the middle at 2k - 63.
    meant = [picture[2 * k if k < 32 else 2 * (k - 32) + 1, 0] for k in range(64)]
    assert seen[:, 0].tolist() == meant
    low = PANELS["mono-oled-128x32"]
    lit = FAULTS["panel.row-pins"].rendering(right(low), np.ones((32, 128), np.uint8))
    assert lit[:, 0].tolist() == [1, 0] * 16  # every other row stays dark


def test_a_column_offset_shows_a_strip_of_noise():
    panel = PANELS["two-zone-oled-128x64"]
    picture = random_picture(panel, 0)
    seen = FAULTS["panel.column-offset"].rendering(right(panel), picture, amount=-2)
    assert np.array_equal(seen[:, 2:], picture[:, :126])
    assert not np.array_equal(seen[:, :2], picture[:, :2])


def test_colour_faults_by_hand():
    tft = PANELS["tft-320x240-touch"]
    setting = right(tft)
    red = np.zeros((*painted(cards_of(tft)[0], tft, setting.turn).shape[:2], 3), np.uint8)
    red[..., 0] = 255
    blue = FAULTS["panel.channels"].rendering(setting, red)
    assert (blue == [0, 0, 255]).all()
    # F800 with its bytes exchanged is 00F8: green 7 of 63, blue 24 of 31.
    swapped = FAULTS["array.byte-order"].rendering(setting, red)
    assert (swapped == [0, 7 << 2 | 7 >> 4, 24 << 3 | 24 >> 2]).all()
    four = PANELS["epaper-296x128-four-colour"]
    # Its numbers are black 0, white 1, yellow 2, red 3; the list has red third and yellow fourth.
    patches = np.tile(np.arange(4, dtype=np.uint8).repeat(74), (128, 1))
    seen = FAULTS["array.colour-numbers"].rendering(right(four), patches)
    assert np.array_equal(seen, np.array([0, 1, 3, 2], np.uint8)[patches])
    three = PANELS["epaper-800x480-three-colour"]
    # Planes of black, white, red are 0 1 1 and 0 0 1, and red wins: white exchanged is red, inverted red is white.
    for name, meant in (("planes-swapped", [0, 2, 2]), ("plane-inverted", [2, 2, 1])):
        shown_as = [FAULTS[f"array.{name}"].rendering(right(three), np.full((480, 800), i, np.uint8))[0, 0] for i in range(3)]
        assert shown_as == meant


def array_faults(panel):
    return [fault for _, fault in faults_of(right(panel)) if fault.where == "array"]


WITH_FORMS = [p for p in SEEN_ON if p.glass.width_px * p.glass.height_px < 40_000 and array_faults(p)]


class TestArrays:
    """Arrays in the program's own form are carried to what the panel takes."""

    @settings(max_examples=60)
    @given(st.data())
    def test_any_picture_in_any_form(self, data):
        panel = data.draw(st.sampled_from(WITH_FORMS))
        setting = right(panel)
        for fault in data.draw(st.lists(st.sampled_from(array_faults(panel)), min_size=1, max_size=3)):
            if fault.applies(setting):
                setting = fault.mended(setting)
        pixels = random_picture(panel, setting.turn, data.draw(st.integers(0, 999)))
        array = array_of(pixels, setting)
        assert carried(array, panel, setting.turn, Sending(array=setting.sending.array)) == pack(pixels, panel, setting.turn)

    def test_by_hand(self):
        plane = (Plane("pixels", (0, 1)),)
        by_row = IndexedFormat(1, "row", "msb", "rows", plane)
        by_page = IndexedFormat(1, "column", "lsb", "pages", plane)
        # A lit line along the top of 8 x 8 pixels: one full byte, or the lowest bit of each.
        assert recoded(bytes([0xFF, *[0] * 7]), by_row, by_page, (8, 8)) == bytes([1] * 8)
        # Too short an array is read on as nothing.
        assert recoded(b"\xff", by_row, by_page, (8, 8)) == bytes([1] * 8)

    def test_a_form_for_another_panel_is_refused(self):
        form = PANELS["mono-oled-128x64"].format
        with pytest.raises(BadDescriptionError):
            Sending(array=form).array_format(PANELS["tft-240x240-round"])


class TestAlike:
    oled = right(PANELS["mono-oled-128x64"])

    def test_two_faults_that_no_card_parts(self):
        picture = random_picture(self.oled.passport, 0)
        (found,), unseen = alike(["panel.inversion", "array.polarity", "panel.mirror-x"], picture, self.oled)
        assert found.names == ("panel.inversion", "array.polarity")
        assert found.card is None
        assert unseen == []

    def test_alike_on_one_picture_parted_by_a_card(self):
        symmetrical = np.zeros((64, 128), np.uint8)
        symmetrical[20:30, 59:69] = 1
        found, unseen = alike(["panel.mirror-y", "panel.half-turn", "panel.mirror-x"], symmetrical, self.oled)
        assert [(group.names, group.card.slug) for group in found] == [(("panel.mirror-y", "panel.half-turn"), "frame")]
        assert unseen == ["panel.mirror-x"]

    def test_small_differences_do_not_part(self):
        one = np.zeros((50, 50), np.uint8)
        two = one.copy()
        two[0, :10] = 1
        assert groups({"a": one, "b": two}, np.ones_like(one)) == ([["a", "b"]], [])
