"""Station 1 of a build, its mounting card, and builds that start from others."""

import json
import re
import xml.etree.ElementTree as ET

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from mosaic.device.notes import Readings
from mosaic.panels.loader import catalogue
from tests.conftest import gradient, png_of
from tests.reading import kept, single
from workshop.builds.models import Build
from workshop.builds.services import drifts_of, start_build
from workshop.documents.services import save_single
from workshop.home.origins import TEMPLATES
from workshop.lettering.documents import Lettering, TextsDocument
from workshop.panels.parts import panel_of
from workshop.panels.services import change_passport, make_mine
from workshop.panelwork.documents import ReadingsDocument
from workshop.pictures.documents import Picture

SVG = "{http://www.w3.org/2000/svg}"


def text_of(response) -> str:
    return response.content.decode()


class TestStation:
    def test_turning_is_looked_at_first_and_then_kept(self, signed_in, picture):
        build = picture.build
        address = reverse("build-turned", args=[build.pk])
        looked = text_of(signed_in.get(address, {"turn": 180, "mirrored": 1}, HTTP_HX_REQUEST="true"))
        assert "Use this orientation" in looked
        assert Build.objects.get().rotation == 90
        signed_in.post(reverse("lay-build", args=[build.pk]), {"rotation": "180", "mirrored": "1"})
        kept = Build.objects.get()
        assert (kept.rotation, kept.mirrored, kept.revision) == (180, True, 2)
        page = signed_in.get(reverse("picture", args=[build.pk, picture.pk]))
        assert page.context["device"].size == (128, 296)
        assert page.context["proof"].verified
        assert "Use this orientation" not in text_of(signed_in.get(reverse("build-panel", args=[build.pk])))

    @pytest.mark.parametrize("rotation", ["45", "", "x", "-90"])
    def test_no_such_turn(self, signed_in, build, rotation):
        assert signed_in.post(reverse("lay-build", args=[build.pk]), {"rotation": rotation}).status_code == 422

    def test_exchanging_parts_keeps_the_pictures(self, signed_in, picture):
        build = picture.build
        chosen = {"panel": "mono-oled-128x64", "board": "small", "link_kind": "i2c"}
        signed_in.post(reverse("exchange-parts", args=[build.pk]), chosen)
        build = Build.objects.get()
        assert (build.passport_slug, build.board_slug, build.link_kind, build.clock_hz) == (
            "mono-oled-128x64",
            "small",
            "i2c",
            400_000,
        )
        page = signed_in.get(reverse("picture", args=[build.pk, picture.pk]))
        assert page.context["proof"].byte_count == 1024

    @pytest.mark.parametrize(
        ("change", "message"),
        [
            ({"panel": "none"}, "there is no panel named"),
            ({"board": "none"}, "there is no board named"),
            ({"panel": "amoled-466x466-round"}, "none of the panel&#x27;s links (quad SPI)"),
        ],
    )
    def test_parts_that_do_not_go_together(self, signed_in, build, change, message):
        post = {"panel": build.passport_slug, "board": "small", "link_kind": "spi", **change}
        answer = signed_in.post(reverse("exchange-parts", args=[build.pk]), post)
        assert answer.status_code == 422
        assert message.lower() in text_of(answer).lower()
        assert Build.objects.get().board_slug == "low-power"

    def test_findings_are_counted_at_their_stations(self, signed_in, maker):
        build = start_build(owner=maker, name="Barometer", panel="tft-240x240-round", board="low-power", link_kind="spi")
        stones = signed_in.get(reverse("build-panel", args=[build.pk])).context["stones"]
        assert [s.number for s in stones] == list(range(1, len(stones) + 1))
        assert {s.number: s.words for s in stones if s.words != "not begun"} == {1: "here", 6: "1 must fix"}

    def test_legibility_is_that_of_its_place(self, signed_in, build):
        Build.objects.update(light_lux=1)
        assert signed_in.get(reverse("build-panel", args=[build.pk])).context["legibility"].verdict == "not readable"


class TestDrift:
    def test_a_changed_passport_is_offered_not_taken(self, signed_in, maker):
        row = make_mine(owner=maker, entry=panel_of(maker, "mono-oled-128x64"))
        build = start_build(owner=maker, name="b", panel=row.ref, board="small", link_kind="i2c")
        assert not drifts_of(build)
        plain = {
            **row.passport,
            "power": {**row.passport["power"], "full_on_ma": 21.0},
            "owned": {**row.passport["owned"], "notes": "x"},
        }
        change_passport(row=row, plain=plain, revision=1)
        (drift,) = drifts_of(build)
        assert drift.differences == (("power.full_on_ma", 24.0, 21.0),)
        assert "power.full_on_ma" in text_of(signed_in.get(reverse("build-panel", args=[build.pk])))
        assert Build.objects.get().to_device().passport.power.full_on_ma == 24.0
        signed_in.post(reverse("take-over", args=[build.pk]), {"part": "panel"})
        assert Build.objects.get().to_device().passport.power.full_on_ma == 21.0
        assert not drifts_of(Build.objects.get())

    def test_nonsense_is_refused(self, signed_in, build):
        assert signed_in.post(reverse("take-over", args=[build.pk]), {"part": "owner"}).status_code == 422


class TestMounting:
    def mm(self, text: str) -> float:
        assert text.endswith("mm")
        return float(text[:-2])

    @pytest.mark.parametrize("kind", ["mounting-template", "mounting-cut-out"])
    @pytest.mark.parametrize("rotation", [0, 90])
    def test_the_drawing_measures_true(self, signed_in, picture, kind, rotation):
        Build.objects.update(rotation=rotation)
        answer = signed_in.get(reverse(kind, args=[picture.build_id]))
        assert answer["Content-Type"].startswith("image/svg+xml")
        root = ET.fromstring(answer.content)
        x, y, width, height = map(float, root.get("viewBox").split())
        # One unit of the drawing is one millimetre, on both axes.
        assert self.mm(root.get("width")) == pytest.approx(width)
        assert self.mm(root.get("height")) == pytest.approx(height)
        rects = {r.get("class"): r for r in root.iter(f"{SVG}rect") if r.get("class")}
        outline = (89.5, 38.0) if rotation else (38.0, 89.5)
        assert (float(rects["outline"].get("width")), float(rects["outline"].get("height"))) == outline
        area = {name: float(rects["area"].get(name)) for name in ("x", "y", "width", "height")}
        # Glass of 29.06 x 66.9 mm at (4.47, 5.6); turned clockwise its left edge lies 89.5 - 5.6 - 66.9 = 17 mm in.
        expected = (
            {"x": 17.0, "y": 4.47, "width": 66.9, "height": 29.06}
            if rotation
            else {"x": 4.47, "y": 5.6, "width": 29.06, "height": 66.9}
        )
        assert area == pytest.approx(expected)
        holes = {(float(c.get("cx")), float(c.get("cy")), float(c.get("r"))) for c in root.iter(f"{SVG}circle")}
        assert len(holes) == 4
        assert (2.6, 2.6, 1.25) in holes
        assert x <= 0 and y <= 0 and x + width >= outline[0]  # noqa: PT018
        if kind == "mounting-cut-out":
            (image,) = root.iter(f"{SVG}image")
            assert {n: float(image.get(n)) for n in area} == pytest.approx(area)
            assert image.get("href").startswith("data:image/png;base64,")

    def test_the_line_to_measure_by_is_fifty_millimetres(self, signed_in, build):
        root = ET.fromstring(signed_in.get(reverse("mounting-template", args=[build.pk])).content)
        line = next(p for p in root.iter(f"{SVG}path") if p.get("id") == "fifty")
        assert re.search(r"h50m", line.get("d"))
        page = text_of(signed_in.get(reverse("mounting-print", args=[build.pk])))
        assert 'width="60mm" height="8mm" viewBox="-5 0 60 8"' in page

    def test_an_opening_is_kept_and_what_it_hides_is_told(self, signed_in, build):
        address = reverse("mounting", args=[build.pk])
        typed = {"x_mm": "17.5", "y_mm": "4", "width_mm": "67", "height_mm": "30", "corner_mm": "0"}
        page = text_of(signed_in.post(address, typed, follow=True))
        assert "384" in page
        assert "3 columns at the left" in page
        finding = signed_in.get(address).context["findings"][0]
        fix = {"changes": json.dumps(finding["fix"]["changes"]), "back": "mounting"}
        assert signed_in.post(reverse("fix-build", args=[build.pk]), fix).url == address
        assert not signed_in.get(address).context["findings"]
        signed_in.post(address, {"no_bezel": "1"})
        assert Build.objects.get().opening is None

    def test_wrong_openings(self, signed_in, build):
        typed = {"x_mm": "left", "y_mm": "4", "width_mm": "0", "height_mm": "30", "corner_mm": "0"}
        answer = signed_in.post(reverse("mounting", args=[build.pk]), typed)
        assert answer.status_code == 422
        assert 'value="left"' in text_of(answer)
        assert "Width, mm" in text_of(answer)
        forged = {"changes": '{"opening": {"x_mm": "a"}}'}
        assert signed_in.post(reverse("fix-build", args=[build.pk]), forged).status_code == 422
        assert Build.objects.get().opening is None


class TestOrigins:
    def test_another_build_with_its_pictures_and_letterings(self, signed_in, picture, maker):
        first = picture.build
        signed_in.post(reverse("start-lettering", args=[first.pk]), {"face": "sans"})
        signed_in.post(reverse("keep-texts", args=[first.pk]), {"texts": "Tide {0..9} m"})
        Build.objects.update(viewing_distance_mm=1234, mirrored=True, rotation=270)
        page = text_of(signed_in.get(reverse("new-build"), {"from": f"build-{first.pk}"}))
        assert "1 picture, 1 lettering, each as it is now" in page
        post = {
            "name": "Second board",
            "from": f"build-{first.pk}",
            "along_parts": "1",
            "along_wishes": "1",
            "along_contents": "1",
        }
        signed_in.post(reverse("new-build"), post)
        second = Build.objects.get(name="Second board")
        assert [(row.name, row.record.face) for row in kept(second, Lettering).all()] == [("DejaVu Sans", "sans")]
        assert single(second, TextsDocument).lines == "Tide {0..9} m"
        assert (second.viewing_distance_mm, second.mirrored, second.rotation) == (1234, True, 270)
        first.refresh_from_db()
        assert second.passport == first.passport
        copied = kept(second, Picture).get()
        assert copied.original_id == picture.original_id
        assert copied.head_id != picture.head_id
        assert copied.record == picture.record

    def test_what_stays_behind_is_said(self, signed_in, build):
        origin = f"{reverse('new-build')}?from=build-{build.pk}"
        page = " ".join(text_of(signed_in.get(origin)).split())
        assert f"Stays with “{build.name}”: earlier revisions of everything" in page
        save_single(ReadingsDocument, build=build, base=0, record=Readings())
        assert f"Stays with “{build.name}”: {ReadingsDocument.NOUN}, and earlier" in text_of(signed_in.get(origin))
        assert "Stays with" not in text_of(signed_in.get(f"{reverse('new-build')}?from=template-round-gauge"))

    def test_wishes_alone_on_other_parts(self, signed_in, build):
        Build.objects.update(light_lux=4321)
        post = {
            "name": "Other parts", "from": f"build-{build.pk}", "along_wishes": "1", "panel": "mono-oled-128x64", "board": "small",
            "link_kind": "i2c",
        }  # fmt: skip
        signed_in.post(reverse("new-build"), post)
        made = Build.objects.get(name="Other parts")
        assert (made.light_lux, made.passport_slug, kept(made, Picture).count()) == (4321, "mono-oled-128x64", 0)

    @pytest.mark.parametrize("slug", TEMPLATES)
    def test_every_template_makes_a_build_without_findings(self, signed_in, slug):
        assert TEMPLATES[slug].panel in catalogue()
        answer = signed_in.post(
            reverse("new-build"), {"name": "x", "from": f"template-{slug}", "along_parts": "1", "along_wishes": "1"}
        )
        page = signed_in.get(signed_in.get(answer.url).url)
        assert [f["what"] for f in page.context["findings"]] == []

    def test_anothers_build_is_no_origin(self, signed_in, maker, client, db):
        from workshop.accounts.models import User

        other = User.objects.create_user("other", password="a-long-password-2")
        theirs = start_build(owner=other, name="theirs", panel="mono-oled-128x64", board="small", link_kind="i2c")
        post = {"name": "mine", "from": f"build-{theirs.pk}", "along_parts": "1"}
        assert signed_in.post(reverse("new-build"), post).status_code == 422
        assert not maker.builds.exists()

    @pytest.mark.parametrize("query", ['0.96"', "0.96 inch", "0.96in scl", "GND white 128 x 64"])
    def test_inches_pins_and_words_find_panels_as_on_the_shelf(self, signed_in, query):
        found = [card.entry.ref for card in signed_in.get(reverse("new-shelf"), {"q": query}).context["cards"]]
        assert "mono-oled-128x64" in found
        assert not [ref for ref in found if not ref.startswith(("mono-oled-128x", "mono-oled-64x128", "two-zone", "color-oled"))]
        assert [card.entry.ref for card in signed_in.get(reverse("panels"), {"q": query}).context["page"].object_list] == found

    def test_without_scripts_find_and_pages_keep_what_was_typed_and_make_nothing(self, signed_in, maker):
        typed = {"name": "Tide lamp", "board": "small", "panel": "tft-80x160", "q": "epaper", "technology": "epaper"}
        for button in ({"find": "1"}, {"page": "2"}):
            page = signed_in.post(reverse("new-build"), {**typed, **button})
            assert page.status_code == 200
            assert 'value="Tide lamp"' in text_of(page)
            assert {card.passport.technology for card in page.context["cards"][1:]} == {"epaper"}
            assert page.context["cards"][0].entry.ref == "tft-80x160"
        assert page.context["shelf"].number == 2
        assert not maker.builds.exists()

    def test_panels_stand_in_groups_the_usual_ones_first(self, signed_in):
        page = signed_in.get(reverse("new-build"))
        headings = [card.heading for card in page.context["cards"]]
        assert headings[0] == "What most makers have"
        assert "OLED, up to 1 inch" in headings

    def test_identify_keeps_the_dropped_picture(self, signed_in, maker):
        data = SimpleUploadedFile("gate.png", png_of(gradient(40, 30)))
        target = signed_in.post(reverse("drop"), {"picture": data}).url
        original = target.partition("original=")[2]
        page = text_of(signed_in.get(target))
        assert f"{reverse('identify')}?original={original}" in page
        asked = signed_in.get(reverse("identify"), {"original": original})
        assert original in text_of(asked)
        ranked = signed_in.post(reverse("identify"), {"words": "0.96 inch OLED 128x64", "original": original})
        assert f"original={original}" in text_of(ranked).partition("Start a build with it")[0]
        assert "original=" not in text_of(signed_in.post(reverse("identify"), {"words": "0.96 inch OLED", "original": "0" * 64}))

    def test_the_shelf_keeps_what_was_chosen_in_front(self, signed_in):
        part = signed_in.get(reverse("new-shelf"), {"panel": "tft-80x160", "q": "600x448"})
        assert [card.entry.ref for card in part.context["cards"]] == ["tft-80x160", "epaper-600x448-seven-colour"]
