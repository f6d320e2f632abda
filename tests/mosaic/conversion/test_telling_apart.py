"""Parting two panels by one transmission, driving passports, and the screen panels are compared on."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.conversion.demo_screen import paint, shown_on
from mosaic.conversion.driving import drive
from mosaic.conversion.telling_apart import framed_f, in_words, part
from mosaic.errors import BadDescriptionError
from mosaic.panels.geometry import Orientation, seen_size
from mosaic.panels.loader import catalogue

C = catalogue()


class TestParting:
    def test_the_two_common_oleds(self):
        trial = part(C["mono-oled-128x64"], C["mono-oled-128x64-132"])
        assert trial.tells_them_apart
        assert trial.sender.slug == "mono-oled-128x64"
        assert trial.first_words == "the F stands whole, in its frame"
        assert "noise" in trial.second_words

    def test_panels_that_take_the_same(self):
        trial = part(C["tft-240x240-square"], C["tft-240x240-round"])
        assert not trial.tells_them_apart

    @pytest.mark.parametrize("slug", C)
    def test_the_picture_looks_different_however_it_is_turned(self, slug):
        picture = framed_f(C[slug])
        assert picture.shape[:2] == seen_size(C[slug], C[slug].rotation)[::-1]
        for change in (picture[::-1], picture[:, ::-1], picture[::-1, ::-1], np.roll(picture, 1, 0), np.roll(picture, 1, 1)):
            assert not np.array_equal(change, picture)


class TestWords:
    oled, tft = C["mono-oled-128x64"], C["tft-320x240-touch"]
    meant = framed_f(oled)

    @pytest.mark.parametrize(
        ("change", "words"),
        [
            (lambda a: a, "the F stands whole, in its frame"),
            (lambda a: a * 0, "stays dark, or all one colour"),
            (lambda a: a[:, ::-1], "mirrored left to right"),
            (lambda a: a[::-1], "upside down"),
            (lambda a: a[::-1, ::-1], "turned by half"),
            (lambda a: 1 - a, "light and dark exchanged"),
            (lambda a: np.roll(a, 2, axis=1), "shifted right by 2 columns, with a strip of noise at one edge"),
            (lambda a: np.roll(a, -3, axis=1), "shifted left by 3 columns, with a strip of noise at one edge"),
            (lambda a: np.roll(a, 1, axis=0), "shifted down by 1 row, with a strip of noise at one edge"),
            (lambda a: a[:32], "the picture is cut off, torn or noise: sizes differ"),
        ],
    )
    def test_simple_causes_are_named(self, change, words):
        assert in_words(self.meant, np.ascontiguousarray(change(self.meant)), self.oled) == words

    def test_noise_is_called_so(self):
        noise = np.random.default_rng(1).integers(0, 2, self.meant.shape, np.uint8)
        assert in_words(self.meant, noise, self.oled).startswith("noise or stripes over 5")

    def test_colours(self):
        meant = framed_f(self.tft)
        assert in_words(meant, np.ascontiguousarray(meant[..., ::-1]), self.tft) == "red and blue exchanged"
        assert in_words(meant, 255 - meant, self.tft) == "light and dark exchanged"

    def test_an_epaper_that_takes_nothing(self):
        paper = C["epaper-200x200-black-white"]
        assert in_words(framed_f(paper), np.zeros((200, 200), np.uint8), paper) == "nothing changes"


class TestDriving:
    oled = C["mono-oled-128x64"]

    def test_what_runs(self):
        assert drive(self.oled).verified
        assert drive(C["tft-135x240"], Orientation(270, True)).verified

    def test_a_wrong_offset_is_seen(self):
        wrong = C["two-zone-oled-128x64"]
        assert not drive(replace(wrong, sequences=replace(wrong.sequences, setup="reset\nc AF"))).misuse
        dark = drive(replace(wrong, sequences=replace(wrong.sequences, setup="reset\nc AE")))
        assert not dark.verified
        assert dark.wrong_pixels > 300

    @pytest.mark.parametrize(
        ("change", "path"),
        [
            (lambda p: replace(p, controller=replace(p.controller, family="woven")), "$.controller.family"),
            (lambda p: replace(p, sequences=replace(p.sequences, setup="reset\nc {turn}")), "$.sequences"),
            (
                lambda p: replace(p, sequences=replace(p.sequences, per="page", window="c {B0+page:u16}\nc {width:hi}{")),
                "$.sequences",
            ),
        ],
    )
    def test_what_cannot_be_carried_out(self, change, path):
        with pytest.raises(BadDescriptionError) as caught:
            drive(change(self.oled))
        told = caught.value.path or caught.value.problems[0].path
        assert told.startswith(path)


class TestScreen:
    @pytest.mark.parametrize("slug", ["mono-oled-96x16", "tft-240x240-round", "epaper-296x128-four-colour", "grey-oled-96x96"])
    def test_it_is_packed_and_proved_like_any_picture(self, slug):
        panel = C[slug]
        shown = shown_on(panel, panel.rotation)
        assert shown.proof.verified
        assert shown.colors_used >= 2

    def test_glass_of_two_colours_gets_no_grey_edges(self):
        crisp = paint(128, 64, dark=True, crisp=True).rgb
        assert {tuple(c) for c in crisp.reshape(-1, 3)} <= {
            (8, 12, 16), (240, 244, 240), (90, 150, 170), (206, 44, 36), (240, 196, 20), (46, 140, 74), (40, 84, 190),
        }  # fmt: skip

    def test_on_round_glass_everything_stands_within_the_disc(self):
        screen = paint(240, 240, dark=True, round_glass=True).rgb
        y, x = np.mgrid[0 : screen.shape[0], 0 : screen.shape[1]]
        outside = (x / screen.shape[1] - 0.5) ** 2 + (y / screen.shape[0] - 0.5) ** 2 > 0.25
        assert (screen[outside] == (8, 12, 16)).all()
