"""Station 2 through its pages: stages, the virtual panel, test cards, the fault finder, drills."""

import csv
import io
import json
import re

import numpy as np
import pytest
from django.urls import reverse
from PIL import Image

from mosaic.conversion.pipeline import unpack
from mosaic.faults.registry import FAULTS
from mosaic.panels.appearance import colors_of
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from tests.reading import single
from workshop.bringup.documents import StageNotesDocument
from workshop.bringup.models import DrillAnswer
from workshop.bringup.services import ANSWERS_KEPT, answer_drill, drill_record
from workshop.bringup.snapshots import snapshot_key
from workshop.bringup.subjects import card_key
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.stations.overview import overview_of


@pytest.fixture
def counter(maker):
    return start_build(owner=maker, name="Counter", panel="mono-oled-128x64", board="small", link_kind="i2c")


@pytest.fixture
def barometer_build(maker):
    return start_build(owner=maker, name="Barometer", panel="tft-240x240-round", board="low-power", link_kind="spi")


def text_of(response) -> str:
    return response.content.decode()


def pixels_of(client, address) -> np.ndarray:
    answer = client.get(address)
    assert answer["Content-Type"] == "image/png"
    return np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB"))


def addresses(page, pattern):
    return [found.replace("&amp;", "&") for found in re.findall(pattern, page)]


class TestStages:
    def test_the_first_one_open_is_laid_out(self, signed_in, counter):
        page = text_of(signed_in.get(reverse("bringup-stages", args=[counter.pk])))
        assert "1. Power and rails" in page
        assert "expected 3 to 5 V" in page

    def test_a_tick_with_its_reading_leads_on_and_tells_what_was_proved(self, signed_in, counter):
        page = text_of(
            signed_in.post(reverse("bringup-keep", args=[counter.pk, "power"]), {"done": "1", "reading": "3,31"}, follow=True)
        )
        assert "2. Answer on the bus" in page
        assert "has proved: The panel has its supply." in page
        counter.refresh_from_db()
        assert single(counter, StageNotesDocument).stages["power"].reading == 3.31
        assert single(counter, StageNotesDocument).stages["power"].done is True

    def test_a_reading_out_of_bounds_is_told_and_hexadecimal_is_read(self, signed_in, counter):
        signed_in.post(reverse("bringup-keep", args=[counter.pk, "answer"]), {"done": "0", "reading": "0x3D"})
        page = text_of(signed_in.get(reverse("bringup-stages", args=[counter.pk]) + "?stage=answer"))
        assert "is not what is expected" in page
        counter.refresh_from_db()
        assert single(counter, StageNotesDocument).stages["answer"].reading == 61

    def test_a_reading_that_is_no_number_comes_back_as_typed(self, signed_in, counter):
        answer = signed_in.post(reverse("bringup-keep", args=[counter.pk, "power"]), {"done": "1", "reading": "about three"})
        assert answer.status_code == 422
        assert "&#x27;about three&#x27; is no number; 3 to 5 V is expected" in text_of(answer)
        assert 'value="about three"' in text_of(answer)
        counter.refresh_from_db()
        assert single(counter, StageNotesDocument) is None

    def test_stages_that_do_not_apply_say_why(self, signed_in, maker):
        build = start_build(owner=maker, name="b", panel="epaper-296x128-four-colour", board="low-power", link_kind="spi")
        page = text_of(signed_in.get(reverse("bringup-stages", args=[build.pk]) + "?stage=offset"))
        assert "This panel takes whole frames: there is no address to be off by." in page
        assert "0 of 6 done" in page

    @pytest.mark.parametrize("shows", ["off", "set-up", "frame", "columns", "picture", "part"])
    def test_what_must_be_seen_is_drawn_by_the_virtual_panel(self, signed_in, barometer_build, shows):
        shot = pixels_of(
            signed_in,
            reverse(
                "bringup-snapshot",
                args=[barometer_build.pk, shows, snapshot_key(barometer_build, barometer_build.to_device(), shows)],
            ),
        )
        assert shot.shape == (240, 240, 3)
        assert (shot != shot[0, 0]).any() == (shows != "off")

    def test_new_parts_begin_anew(self, signed_in, counter):
        signed_in.post(reverse("bringup-keep", args=[counter.pk, "power"]), {"done": "1", "reading": "3.3"})
        signed_in.post(
            reverse("exchange-parts", args=[counter.pk]),
            {"panel": "tft-240x240-round", "board": "low-power", "link_kind": "spi", "sure": "1"},
        )
        counter.refresh_from_db()
        assert single(counter, StageNotesDocument) is None


class TestVirtualPanel:
    def film(self, client, build, query=""):
        page = text_of(client.get(reverse("bringup-virtual", args=[build.pk]) + query))
        return page, json.loads(re.search(r'id="film-data"[^>]*>(.*?)</script>', page)[1])

    def test_the_last_picture_is_the_build_s_own(self, signed_in, build, picture):
        _, film = self.film(signed_in, build)
        overview_of(build)
        picture.refresh_from_db()
        last = pixels_of(signed_in, film["pictures"][film["moments"][-1]["picture"]])
        answer = signed_in.get(reverse("take", args=[build.pk, picture.pk, "bin"]))
        panel = catalogue()["epaper-296x128-black-white"]
        assert np.array_equal(last, colors_of(unpack(answer.content, panel, 90), panel, 90))

    def test_time_and_bytes_by_hand(self, signed_in, counter):
        _, film = self.film(signed_in, counter, "?on=card-frame&before=card-letter")
        # Begun on a standing picture: 1,024 bytes and two windows of 3 command bytes each.
        assert film["moments"][-1]["bytes"] == 1030
        assert film["total"] == film["moments"][-1]["time"]
        limit = counter.to_device().board.i2c_transaction_bytes
        count = -(-1024 // (limit - 1))
        assert film["moments"][-1]["clocks"] == (1024 + 2 * count) * 9 + 2 * count + 2 * 47

    def test_only_what_changes_is_sent(self, signed_in, counter):
        _, film = self.film(signed_in, counter, "?on=card-frame&before=card-letter&part=changes")
        assert film["moments"][-1]["bytes"] <= 1030
        page, film = self.film(signed_in, counter, "?on=card-frame&before=card-frame&part=changes")
        assert "The two pictures are alike" in page

    def test_a_slip_is_told_with_its_place(self, signed_in, barometer_build):
        page, film = self.film(signed_in, barometer_build, "?on=card-frame&mistake=byte-less")
        assert "1 byte left over of a pixel of 16 bits" in page
        assert sum(len(m["misuse"]) for m in film["moments"]) == 1

    @pytest.mark.parametrize(
        "query", ["?on=picture-999999", "?on=card-zones", "?mistake=nothing", "?fault=array.padding", "?before=x"]
    )
    def test_a_wrong_address_is_answered_in_words(self, signed_in, barometer_build, query):
        answer = signed_in.get(reverse("bringup-virtual", args=[barometer_build.pk]) + query)
        assert answer.status_code == 422
        assert "fm-notice" in text_of(answer)
        assert "film-data" in text_of(answer)


class TestCards:
    def test_bytes_picture_and_wire_agree(self, signed_in, counter):
        raw = signed_in.get(reverse("bringup-card-file", args=[counter.pk, "letter", "bin"])).content
        png = pixels_of(
            signed_in, reverse("bringup-card-png", args=[counter.pk, "letter", card_key(counter.to_device(), "letter")])
        )
        panel = catalogue()["mono-oled-128x64"]
        assert np.array_equal(png, colors_of(unpack(raw, panel, 0), panel, 0))
        rows = list(csv.DictReader(io.StringIO(text_of(signed_in.get(
            reverse("bringup-card-file", args=[counter.pk, "letter", "wire.csv"])
        )))))  # fmt: skip
        assert rows[0]["kind"] == "reset"
        assert bytes.fromhex("".join(row["bytes"] for row in rows if row["kind"] == "D")) == raw

    def test_a_ruler_read_on_the_bench_sets_the_offset(self, signed_in, counter):
        answer = signed_in.post(
            reverse("bringup-offset", args=[counter.pk, "columns"]),
            {"number": "20", "before": "18", "revision": counter.revision}, follow=True,
        )  # fmt: skip
        assert "The glass begins at column 2 now" in text_of(answer)
        counter.refresh_from_db()
        assert (counter.passport["ram"]["offset_x"], counter.passport["ram"]["width_px"]) == (2, 132)

    @pytest.mark.parametrize(
        ("number", "before", "words"),
        [("20", "", "Both are whole numbers"), ("x", "1", "Both are whole numbers"), ("20", "21", "is below 0")],
    )
    def test_a_wrong_reading_comes_back_as_typed(self, signed_in, counter, number, before, words):
        data = {"number": number, "before": before, "revision": counter.revision}
        answer = signed_in.post(reverse("bringup-offset", args=[counter.pk, "columns"]), data)
        assert answer.status_code == 422
        assert words in text_of(answer)
        assert f'name="number" value="{number}"' in text_of(answer)
        counter.refresh_from_db()
        assert counter.passport["ram"]["offset_x"] == 0

    def test_an_old_tab_does_not_overwrite(self, signed_in, counter):
        data = {"number": "20", "before": "18", "revision": counter.revision - 1}
        assert signed_in.post(reverse("bringup-offset", args=[counter.pk, "columns"]), data).status_code == 409

    def test_cards_of_other_panels_are_not_found(self, signed_in, counter):
        assert signed_in.get(reverse("bringup-card", args=[counter.pk, "zones"])).status_code == 404
        assert signed_in.get(reverse("bringup-card-file", args=[counter.pk, "frame", "exe"])).status_code == 404


class TestFaultFinder:
    def test_the_wall_shows_what_the_core_renders(self, signed_in, counter):
        page = text_of(signed_in.get(reverse("bringup-faults", args=[counter.pk]) + "?on=card-letter"))
        right = pixels_of(signed_in, addresses(page, r'src="([^"]*faults/right/[^"]*)"')[0])
        tiles = {
            name: address
            for address in addresses(page, r'src="([^"]*/faults/[a-z-]+\.[^"]*)"')
            for name in [address.split("/")[5]]
        }
        assert len(tiles) >= 18
        assert np.array_equal(pixels_of(signed_in, tiles["panel.mirror-x"]), right[:, ::-1])
        assert np.array_equal(pixels_of(signed_in, tiles["panel.half-turn"]), right[::-1, ::-1])

    def test_a_chosen_one_is_explained(self, signed_in, counter):
        page = text_of(signed_in.get(reverse("bringup-faults", args=[counter.pk]) + "?on=card-letter&fault=set-up.addressing"))
        assert "lets the counters run down" in page
        assert "The set-up in this build drives the panel as it should" in page
        part = text_of(
            signed_in.get(reverse("bringup-faults", args=[counter.pk]) + "?fault=panel.mirror-x", headers={"HX-Request": "true"})
        )
        assert part.lstrip().startswith('<section id="chosen"')

    def test_look_alikes_are_told(self, signed_in, counter):
        alike = reverse("bringup-alike", args=[counter.pk])
        assert "No card tells them apart" in text_of(signed_in.get(alike + "?on=card-letter&fault=array.polarity"))
        assert "Nobody sees it on this picture" not in text_of(signed_in.get(alike + "?on=card-letter&fault=panel.mirror-x"))

    def test_unseen_faults_name_the_card_that_shows_them(self, signed_in, barometer_build):
        alike = reverse("bringup-alike", args=[barometer_build.pk]) + "?on=card-letter&fault=panel.channels"
        page = text_of(signed_in.get(alike))
        assert "Nobody sees it on this picture" in page
        assert "The test card Colours shows it" in page

    def mend(self, client, build, name, **more):
        build.refresh_from_db()
        return client.post(reverse("bringup-mend", args=[build.pk, name]), {"revision": build.revision, **more}, follow=True)

    def test_mending_changes_the_build_and_mending_again_undoes_it(self, signed_in, counter):
        before = Build.objects.values("passport", "rotation", "mirrored", "sending").get(pk=counter.pk)
        for name in ("panel.mirror-x", "array.bit-order", "panel.inversion"):
            assert "mended in" in text_of(self.mend(signed_in, counter, name))
        counter.refresh_from_db()
        assert counter.mirrored is True
        assert counter.sending["array"]["first"] == "msb"
        assert counter.passport["controller"]["inverted_glass"] is True
        for name in ("panel.mirror-x", "array.bit-order", "panel.inversion"):
            self.mend(signed_in, counter, name)
        assert Build.objects.values("passport", "rotation", "mirrored", "sending").get(pk=counter.pk) == before

    def test_an_offset_is_mended_by_its_amount(self, signed_in, barometer_build):
        self.mend(signed_in, barometer_build, "panel.row-offset", by="80")
        barometer_build.refresh_from_db()
        assert barometer_build.passport["ram"]["offset_y"] == 80
        answer = self.mend(signed_in, barometer_build, "panel.row-offset", by="1")
        assert answer.status_code == 422
        assert "has no room for it" in text_of(answer)

    @pytest.mark.parametrize("name", ["set-up.height", "program.start-byte", "array.byte-order"])
    def test_what_is_not_mended_here_is_refused_in_words(self, signed_in, counter, name):
        assert self.mend(signed_in, counter, name).status_code == 422

    def test_a_fault_of_the_program_is_noted_and_stands_as_a_finding_until_it_is_mended(self, signed_in, counter):
        counter.refresh_from_db()
        page = signed_in.post(
            reverse("bringup-note", args=[counter.pk, "program.start-byte"]), {"revision": counter.revision}, follow=True
        )
        assert "The program: first byte left out" in text_of(page)
        counter.refresh_from_db()
        overview = overview_of(counter)
        (finding,) = [f for f in overview.findings_on("bringup-stages") if f["id"] == "sending.start-byte"]
        assert "The program: first byte" not in text_of(signed_in.get(reverse("build-panel", args=[counter.pk])))
        signed_in.post(reverse("fix-build", args=[counter.pk]), {"changes": json.dumps(finding["fix"]["changes"])})
        counter.refresh_from_db()
        assert counter.to_device().sending == Sending()

    def test_files_follow_the_form_of_arrays(self, signed_in, build, picture):
        before = signed_in.get(reverse("take", args=[build.pk, picture.pk, "bin"])).content
        self.mend(signed_in, build, "array.bit-order")
        after = signed_in.get(reverse("take", args=[build.pk, picture.pk, "bin"])).content
        table = bytes(int(f"{value:08b}"[::-1], 2) for value in range(256))
        assert after == before.translate(table)
        assert b"left pixel at the low end" in signed_in.get(reverse("take", args=[build.pk, picture.pk, "h"])).content

    def test_questions_lead_to_a_cause(self, signed_in, counter):
        questions = reverse("bringup-questions", args=[counter.pk])
        assert "What does the glass do?" in text_of(signed_in.get(questions))
        assert "Nobody drives the backlight" in text_of(signed_in.get(questions + "?path=0.1.0.0"))
        assert signed_in.get(questions + "?path=0.99.x&from=nowhere").status_code == 200


class TestDrills:
    def test_an_answer_is_judged_and_kept(self, signed_in, counter, maker):
        page = signed_in.get(reverse("bringup-drills", args=[counter.pk]) + "?number=5")
        made = page.context["made_name"]
        assert FAULTS[made].why not in text_of(page)
        wrong = next(name for name, _, is_right in page.context["choices"] if not is_right)
        data = {"number": "5", "weak": page.context["weak"]}
        answered = text_of(signed_in.post(reverse("bringup-answer", args=[counter.pk]), {**data, "named": wrong}))
        assert f"It was: {FAULTS[made].name.lower()}" in answered
        assert f"taken for {FAULTS[wrong].name.lower()}, 1 time" in answered
        answered = text_of(signed_in.post(reverse("bringup-answer", args=[counter.pk]), {**data, "named": made}))
        assert "Right:" in answered
        assert list(maker.drill_answers.values_list("made", "named")) == [(made, wrong), (made, made)]
        signed_in.post(reverse("bringup-forget", args=[counter.pk]))
        assert not maker.drill_answers.exists()

    def test_the_picture_s_address_does_not_tell_the_answer(self, signed_in, counter):
        page = signed_in.get(reverse("bringup-drills", args=[counter.pk]) + "?number=5")
        assert page.context["made_name"] not in page.context["drill_url"]
        assert pixels_of(signed_in, page.context["drill_url"]).size

    @pytest.mark.parametrize(
        "data", [{"number": "x", "named": "panel.mirror-x"}, {"number": "5", "named": ""}, {"number": "5", "named": "y"}]
    )
    def test_wrong_answers_are_told(self, signed_in, counter, data):
        assert signed_in.post(reverse("bringup-answer", args=[counter.pk]), data).status_code == 422
        assert not DrillAnswer.objects.exists()

    def test_only_so_many_answers_are_kept(self, maker):
        DrillAnswer.objects.bulk_create(
            DrillAnswer(owner=maker, panel="p", made="panel.mirror-x", named="panel.mirror-x") for _ in range(ANSWERS_KEPT)
        )
        answer_drill(owner=maker, panel="p", made="panel.mirror-x", named="panel.mirror-y")
        record = drill_record(maker)
        assert record.tried == ANSWERS_KEPT
        assert record.confused == (("panel.mirror-x", "panel.mirror-y", 1),)
