"""Captures, arrays, set-ups, colours and touch through their pages: read, refused with nothing lost, taken over."""

import io
import re

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from mosaic.cards.registry import CARDS, painted
from mosaic.conversion.pipeline import pack
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from tests.reading import kept, single
from workshop.bringup.documents import TouchReadingsDocument
from workshop.bringup.subjects import card_key
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.pictures.documents import Picture
from workshop.scenario.photo import CORNERS, WHITES, patch_photo
from workshop.stations.overview import overview_of

COLORS = ("#222021", "#dcdbd2", "#a52a22", "#d6ad24")


@pytest.fixture
def counter(maker):
    return start_build(owner=maker, name="Counter", panel="mono-oled-128x64", board="small", link_kind="i2c")


@pytest.fixture
def board(maker):
    return start_build(owner=maker, name="Board", panel="epaper-296x128-four-colour", board="low-power", link_kind="spi")


@pytest.fixture
def desk(maker):
    return start_build(owner=maker, name="Desk", panel="tft-320x240-touch", board="wireless", link_kind="spi")


def text_of(response) -> str:
    return response.content.decode()


def letter_bytes() -> bytes:
    panel = catalogue()["mono-oled-128x64"]
    return pack(painted(CARDS["letter"], panel, Orientation()), panel, Orientation())


class TestCaptures:
    def test_each_build_begins_with_an_example_of_its_own(self, signed_in, counter, board, desk):
        for build in (counter, board, desk):
            page = signed_in.get(reverse("bringup-replay", args=[build.pk]))
            assert page.status_code == 200
            assert page.context["result"].misuse or build is counter
            if page.context["result"].ratio:
                assert page.context["result"].ratio == pytest.approx(1.35, abs=0.08)

    def test_a_pasted_capture_is_played_and_marked(self, signed_in, counter):
        text = "reset,\nC,20 00\nC,21 10 05\nD,FF\n"
        page = text_of(signed_in.post(reverse("bringup-replay", args=[counter.pk]), {"text": text}))
        assert "is reversed: it ends before it begins" in page
        assert re.search(r'is-wrong"><span class="fm-fig">4</span><code>D,FF</code>', page)
        assert "C,21 10 05" in page

    def test_damage_comes_back_with_its_lines_and_what_was_pasted(self, signed_in, counter):
        answer = signed_in.post(reverse("bringup-replay", args=[counter.pk]), {"text": "C,2A\nwhat,is,this\n", "after": "1"})
        assert answer.status_code == 422
        assert "<b>Line 2</b>: &#x27;what&#x27; is no kind" in text_of(answer)
        assert "what,is,this" in text_of(answer)
        assert " checked" in text_of(answer)

    def test_files_that_are_no_text(self, signed_in, counter):
        upload = SimpleUploadedFile("a.csv", b"\x00\x01\x02" * 100)
        answer = signed_in.post(reverse("bringup-replay", args=[counter.pk]), {"file": upload})
        assert answer.status_code == 422
        assert "is no text" in text_of(answer)


class TestArrays:
    def post(self, client, build, **data):
        return client.post(reverse("bringup-arrays", args=[build.pk]), data)

    def test_an_array_of_this_panel_comes_first_and_becomes_a_picture(self, signed_in, counter):
        data = letter_bytes()
        page = self.post(signed_in, counter, text="{" + ", ".join(f"0x{b:02X}" for b in data) + "}")
        first = page.context["thumbs"][0].guess.candidate
        assert first.name == "this panel"
        answer = signed_in.post(reverse("bringup-take-array", args=[counter.pk]), {"kept": page.context["kept"], "number": "0"})
        picture = kept(counter, Picture).get()
        assert answer.url == reverse("picture", args=[counter.pk, picture.pk])
        assert signed_in.get(reverse("take", args=[counter.pk, picture.pk, "bin"])).content == data

    def test_a_raw_file_of_a_panel_that_lies_on_its_side(self, signed_in, build):
        panel = catalogue()["epaper-296x128-black-white"]
        data = pack(painted(CARDS["letter"], panel, Orientation(90)), panel, Orientation(90))
        page = self.post(signed_in, build, file=SimpleUploadedFile("letter.bin", data))
        assert page.context["thumbs"][0].size == (296, 128)
        signed_in.post(reverse("bringup-take-array", args=[build.pk]), {"kept": page.context["kept"], "number": "0"})
        picture = kept(build, Picture).get()
        assert signed_in.get(reverse("take", args=[build.pk, picture.pk, "bin"])).content == data

    @pytest.mark.parametrize(
        ("text", "words"), [("{1, 2, x}", "Line 1"), ("", "holds 0 numbers"), ("{" + "1," * 1021 + "}", "name its width")]
    )
    def test_what_cannot_be_read_comes_back(self, signed_in, counter, text, words):
        answer = self.post(signed_in, counter, text=text)
        assert answer.status_code == 422
        assert words in text_of(answer)
        assert text[:20] in text_of(answer)

    @pytest.mark.parametrize("data", [{}, {"kept": "AAAA", "number": "0"}, {"kept": "eJwDAAAAAAE=", "number": "99"}])
    def test_forged_choices_are_refused(self, signed_in, counter, data):
        assert signed_in.post(reverse("bringup-take-array", args=[counter.pk]), data).status_code == 422
        assert not kept(counter, Picture).exists()


class TestSetups:
    def test_differences_are_in_words_and_both_are_run(self, signed_in, counter):
        page = signed_in.get(reverse("bringup-setups", args=[counter.pk]))
        assert page.context["marked"] >= 2
        assert "multiplex ratio: 32 rows" in text_of(page)
        assert page.context["shown"]["here"][0] != page.context["shown"]["there"][0]

    def test_chosen_commands_go_into_the_passport(self, signed_in, counter):
        there = "0xAE, 0xA8, 0x1F, 0xA1, 0xC8, 0x81, 0xCF, 0xAF"
        data = {"there": there, "take": ["A8", "81"], "revision": counter.revision}
        page = text_of(signed_in.post(reverse("bringup-take-setups", args=[counter.pk]), data, follow=True))
        assert "has now: multiplex ratio: 32 rows, contrast: 207 of 255" in page
        counter.refresh_from_db()
        setup = counter.passport["sequences"]["setup"]
        assert "c A8 1F" in setup
        assert "c 81 CF" in setup
        assert "c A0" in setup

    def test_wrong_lines_are_told_for_their_side(self, signed_in, counter):
        answer = signed_in.post(reverse("bringup-setups", args=[counter.pk]), {"here": "c AE\nc QQ", "there": "0xAE, 0xE9"})
        assert answer.status_code == 422
        page = text_of(answer)
        assert "In use, <b>line 2</b>" in page
        assert "Found, <b>line 1</b>: E9 is no command" in page
        assert "0xAE, 0xE9" in page

    def test_a_text_beyond_the_limit_is_not_cut(self, signed_in, counter, monkeypatch):
        monkeypatch.setattr("workshop.bringup.pasted.not_too_long.__defaults__", (100,))
        answer = signed_in.post(reverse("bringup-setups", args=[counter.pk]), {"here": "c AE\n" * 30, "there": "c AE"})
        assert "150 characters; up to 100 are read" in text_of(answer)
        assert text_of(answer).count("c AE\n") >= 29

    @pytest.mark.parametrize("take", [[], ["ZZ"]])
    def test_nothing_to_take(self, signed_in, counter, take):
        data = {"there": "0xAE, 0xAF", "take": take, "revision": counter.revision}
        assert signed_in.post(reverse("bringup-take-setups", args=[counter.pk]), data).status_code == 422


class TestColours:
    def bring(self, client, build, data=None):
        upload = SimpleUploadedFile("card.jpg", data or patch_photo(COLORS))
        return client.post(reverse("bringup-bring-photo", args=[build.pk]), {"photo": upload}, follow=True)

    def points(self, client, build, corners=CORNERS, whites=WHITES, reflectance="88"):
        named = [("corner", corners), ("paper", whites)]
        text = "\n".join(f"{name} {x}, {y}" for name, points in named for x, y in points)
        return client.post(reverse("bringup-points", args=[build.pk]), {"points": text, "reflectance": reflectance}, follow=True)

    def test_from_a_photo_to_the_palette_and_every_picture(self, signed_in, board, picture):
        assert "Nothing has been measured yet" in text_of(self.bring(signed_in, board))
        page = self.points(signed_in, board)
        assert [row["name"] for row in page.context["rows"]] == ["black", "white", "red", "yellow"]
        board.refresh_from_db()
        page = signed_in.post(reverse("bringup-take-colors", args=[board.pk]), {"revision": board.revision}, follow=True)
        assert "The measured colours are in the passport" in text_of(page)
        board.refresh_from_db()
        measured = board.passport["palette"]["measured"]
        assert all(0 <= value < 2 for value in board.passport["palette"]["uncertainty"])
        assert "by photo, ±" in text_of(signed_in.get(reverse("build-panel", args=[board.pk])))
        for text, meant in zip(measured, COLORS, strict=True):
            assert max(abs(int(text[i : i + 2], 16) - int(meant[i : i + 2], 16)) for i in (1, 3, 5)) <= 4
        overview_of(board)
        still = signed_in.get(
            reverse("bringup-card-png", args=[board.pk, "colours", card_key(board.to_device(), "colours")])
        ).content
        shown = np.asarray(Image.open(io.BytesIO(still)).convert("RGB")).reshape(-1, 3)
        assert {f"#{r:02x}{g:02x}{b:02x}" for r, g, b in np.unique(shown, axis=0)} == set(measured)

    @pytest.mark.parametrize(
        ("more", "words"),
        [
            ({"corners": CORNERS[:3]}, "3 corners are set"), ({"whites": WHITES[:2]}, "click three or more"),
            ({"reflectance": "10"}, "no white reference"), ({"reflectance": "bright"}, "80 to 95 % are usual"),
            ({"corners": [[0, 0], [9, 9], [9, 0], [0, 9]]}, "no four-sided figure"),
        ],
    )  # fmt: skip
    def test_wrong_points_come_back(self, signed_in, board, more, words):
        self.bring(signed_in, board)
        answer = self.points(signed_in, board, **more)
        assert answer.status_code == 422
        assert words in text_of(answer).lower()
        x, y = more.get("corners", CORNERS)[0]
        assert f"corner {x}, {y}\n" in text_of(answer)

    def test_a_line_that_is_no_point_is_named(self, signed_in, board):
        self.bring(signed_in, board)
        data = {"points": "corner 1, 2\nedge 3, 4", "reflectance": "88"}
        answer = signed_in.post(reverse("bringup-points", args=[board.pk]), data)
        assert answer.status_code == 422
        assert "line 2: &#x27;edge 3, 4&#x27; is no point" in text_of(answer).lower()

    def test_no_photo_and_no_palette(self, signed_in, board, desk):
        assert self.points(signed_in, board).status_code == 422
        assert self.bring(signed_in, board, b"no picture").status_code == 422
        assert signed_in.get(reverse("bringup-colors", args=[desk.pk])).status_code == 404


class TestTouch:
    good = "441 402\n3702 388\n3688 3655\n430 3671\n2071 2026\n"

    def test_readings_are_fitted_kept_and_given_as_c(self, signed_in, desk):
        page = signed_in.post(reverse("bringup-touch", args=[desk.pk]), {"readings": self.good}, follow=True)
        assert page.context["fit"].worst_px < 1
        assert len(page.context["rotations"]) == 4
        assert "Good for targets of 9 mm" in text_of(page)
        header = text_of(signed_in.get(reverse("bringup-touch-h", args=[desk.pk])))
        assert "static inline void touch_place" in header
        assert "320 x 240 pixels" in header

    @pytest.mark.parametrize(
        ("text", "words"),
        [
            ("441 402\n12", "Line 2: 1 number(s)"),
            ("1 1\n2 2\n3 3\n4 4\n5 5", "lie in a line"),
            ("", "0 readings"),
            ("9 9\n" * 1001, "4,004 characters; up to 4,000"),
        ],
    )
    def test_what_gives_no_fit_comes_back(self, signed_in, desk, text, words):
        answer = signed_in.post(reverse("bringup-touch", args=[desk.pk]), {"readings": text})
        assert answer.status_code == 422
        assert words in text_of(answer)
        assert text in text_of(answer)
        assert single(Build.objects.get(pk=desk.pk), TouchReadingsDocument) is None

    def test_panels_without_touch_have_no_such_page(self, signed_in, counter):
        assert signed_in.get(reverse("bringup-touch", args=[counter.pk])).status_code == 404
        assert "Touch</a>" not in text_of(signed_in.get(reverse("bringup-stages", args=[counter.pk])))


@pytest.mark.parametrize("headers", [{}, {"HX-Request": "true"}])
def test_more_text_than_is_taken_at_once_is_answered_in_words(signed_in, counter, settings, headers):
    settings.DATA_UPLOAD_MAX_MEMORY_SIZE = 1024 * 1024
    answer = signed_in.post(reverse("bringup-arrays", args=[counter.pk]), {"text": "0x00, " * 200_000}, headers=headers)
    assert answer.status_code == 400
    assert "more than the 1 MiB that are taken at once" in text_of(answer)
    assert "typed is still in the page" in text_of(answer)
    assert signed_in.get(reverse("bringup-arrays", args=[counter.pk])).status_code == 200
