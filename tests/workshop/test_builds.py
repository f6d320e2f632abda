"""Workshop, new builds, the sheet, and who may see what."""

import json
import re
from html import unescape

import pytest
from django.urls import reverse

from mosaic.panels.loader import catalogue
from tests.conftest import gradient, png_of
from tests.reading import kept
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.builds.services import change_build, start_build
from workshop.documents.originals import keep_picture
from workshop.panels.bench import Exhibit, lay_out
from workshop.pictures.documents import Picture
from workshop.pictures.services import add_picture
from workshop.stations.overview import overview_of


class TestWorkshop:
    def test_builds_lie_on_the_bench(self, signed_in, picture):
        page = signed_in.get("/").content.decode()
        assert "1 build on the bench" in page
        assert "89.5 mm" in page
        assert page.count("fm-mini") >= 4

    def test_an_empty_workshop_says_how_to_begin(self, signed_in):
        assert "The bench is empty" in signed_in.get("/").content.decode()

    def test_queries_do_not_grow_with_builds(self, signed_in, maker, django_assert_max_num_queries):
        original = keep_picture(data=png_of(gradient()), file_name="a.png", owner=maker)
        for number in range(9):
            build = start_build(owner=maker, name=f"b{number}", panel="mono-oled-128x64", board="small", link_kind="i2c")
            add_picture(build=build, original=original, file_name="a.png")
        assert "9 builds" in signed_in.get("/").content.decode()
        with django_assert_max_num_queries(9):
            signed_in.get("/")
        assert signed_in.get("/?page=3").context["page"].number == 3

    def test_panels_are_drawn_to_one_scale(self, build):
        device = build.to_device()
        other = start_build(owner=build.owner, name="b", panel="mono-oled-128x64", board="small", link_kind="i2c").to_device()
        bench = lay_out([Exhibit(1, "a", device.passport, device.turn), Exhibit(2, "b", other.passport, other.turn)])
        large, small = bench.panels
        assert large.width / small.width == pytest.approx(89.5 / 27.3, rel=0.01)
        assert large.y + large.height == pytest.approx(small.y + small.height, abs=0.2)  # one base line

    def test_fixing_from_the_workshop(self, signed_in, maker):
        build = start_build(owner=maker, name="Barometer", panel="tft-240x240-round", board="low-power", link_kind="spi")
        assert "A full frame does not fit the RAM" in signed_in.get("/").content.decode()
        answer = signed_in.post(reverse("fix-build", args=[build.pk]), {"changes": '{"buffer_bands": 3}', "back": "workshop"})
        assert answer.url == "/"
        assert "A full frame does not fit" not in signed_in.get("/").content.decode()

    @pytest.mark.parametrize(
        "changes", ['{"owner": 1}', '{"buffer_bands": -1}', '{"buffer_bands": "x"}', "[]", "{", '{"clock_hz": 5}']
    )
    def test_forged_fixes_are_refused(self, signed_in, build, changes):
        before = Build.objects.filter(pk=build.pk).values().get()
        answer = signed_in.post(reverse("fix-build", args=[build.pk]), {"changes": changes, "back": "https://elsewhere.example"})
        assert answer.status_code in (302, 422)
        after = Build.objects.filter(pk=build.pk).values().get()
        assert {k: v for k, v in before.items() if k not in ("changed", "revision")} == {
            k: v for k, v in after.items() if k not in ("changed", "revision")
        }
        assert not answer.get("Location", "").startswith("http")


class TestNewBuild:
    good = {"name": "Sign-out panel", "panel": "tft-320x240-touch", "board": "wireless", "link_kind": "spi"}

    def test_a_dropped_picture_comes_along(self, signed_in, upload):
        dropped = signed_in.post(
            reverse("drop"), {"picture": upload(png_of(gradient()), "low-water.png")}, HTTP_HX_REQUEST="true"
        )
        page = signed_in.get(dropped["HX-Redirect"])
        assert "low-water.png, 80 × 60 px, comes along" in page.content.decode()
        original = page.context["upload"].original_id
        made = signed_in.post(reverse("new-build"), {**self.good, "original": original}, follow=True)
        build = Build.objects.get()
        assert (build.name, build.rotation, build.clock_hz) == ("Sign-out panel", 90, 40_000_000)
        assert kept(build, Picture).get().name == "Low water"
        assert made.redirect_chain[-1][0] == f"/builds/{build.pk}/pictures/{kept(build, Picture).get().pk}/"
        assert "verified: 153,600 of 153,600 bytes" in made.content.decode()

    @pytest.mark.parametrize("panel", catalogue())
    def test_every_panel_makes_a_build(self, signed_in, panel):
        chosen = {**self.good, "panel": panel, "board": "wireless-large", "link_kind": ""}
        assert signed_in.post(reverse("new-build"), chosen).status_code == 302
        assert signed_in.get(reverse("build-panel", args=[Build.objects.get().pk])).status_code == 200

    @pytest.mark.parametrize(
        ("change", "message"),
        [
            ({"name": ""}, "required"),
            ({"panel": "none"}, "not on the shelf"),
            ({"link_kind": "i2c"}, "has no I2C; it offers SPI"),
        ],
    )
    def test_wrong_input_comes_back_as_typed(self, signed_in, change, message):
        answer = signed_in.post(reverse("new-build"), {**self.good, **change})
        assert answer.status_code == 422
        page = answer.content.decode()
        assert message in page
        assert 'value="wireless" checked' in page
        assert not Build.objects.exists()

    def test_anothers_upload_cannot_be_taken(self, signed_in, upload, db):
        other = User.objects.create_user("other", password="a-long-password-2")
        original = keep_picture(data=png_of(gradient()), file_name="theirs.png", owner=other)
        signed_in.post(reverse("new-build"), {**self.good, "original": original.pk})
        assert not kept(Build.objects.get(), Picture).exists()

    def test_a_catalogue_change_never_alters_a_build(self, build):
        build.passport["power"]["sleep_ua"] = 99
        build.save()
        assert Build.objects.get().to_device().passport.power.sleep_ua == 99


class TestSheet:
    def data(self, build, **changes):
        fields = (
            "name",
            "place",
            "rotation",
            "clock_hz",
            "buffer_bands",
            "supply_kind",
            "cell_v",
            "capacity_mah",
            "revision",
            "kept_as",
        )
        more = ("viewing_distance_mm", "light_lux", "update_interval_s", "on_hours_per_day")
        return {**{name: getattr(build, name) for name in (*fields, *more)}, **changes}

    def test_turning_the_panel_changes_every_picture(self, signed_in, picture):
        build = picture.build
        answer = signed_in.post(reverse("sheet", args=[build.pk]), self.data(build, rotation=0))
        assert answer.status_code == 302
        device = signed_in.get(reverse("picture", args=[build.pk, picture.pk])).context["device"]
        assert device.size == (128, 296)

    @pytest.mark.parametrize(
        ("change", "message"),
        [
            ({"clock_hz": 99_000_000}, "up to 20 MHz"),
            ({"viewing_distance_mm": "far"}, "Viewing distance, mm: Enter a number"),
            ({"on_hours_per_day": 25}, "less than or equal to 24"),
        ],
    )
    def test_wrong_input_is_told_and_kept(self, signed_in, build, change, message):
        answer = signed_in.post(reverse("sheet", args=[build.pk]), self.data(build, name="New name", **change))
        assert answer.status_code == 422
        page = answer.content.decode()
        assert message in page
        assert 'value="New name"' in page
        assert Build.objects.get().name == "Tide board"

    def test_two_tabs_are_compared_and_either_is_kept(self, signed_in, build):
        address, first = reverse("sheet", args=[build.pk]), self.data(build)
        signed_in.post(address, self.data(build, place="Slipway", light_lux=2000))
        answer = signed_in.post(address, {**first, "place": "Boathouse wall"})
        assert answer.status_code == 409
        page = answer.content.decode()
        assert "None:" not in page
        assert "was changed in another tab" in page
        told = [(row.label, row.mine, row.theirs) for row in answer.context["differing"]]
        assert told == [("Place", "Boathouse wall", "Slipway"), ("Light of the place, lux", "500", "2000")]
        assert Build.objects.get().place == "Slipway"
        mine = {**first, "place": "Boathouse wall", "revision": answer.context["form"]["revision"].value()}
        assert signed_in.post(address, mine).status_code == 302
        assert Build.objects.get().place == "Boathouse wall"

    def test_a_sheet_leaves_alone_what_it_does_not_show(self, signed_in, build):
        data = self.data(build, place="Slipway")
        Build.objects.update(sending={"sent_share": 0.5, "form": 1})
        signed_in.post(reverse("sheet", args=[build.pk]), data)
        assert Build.objects.get().sending == {"sent_share": 0.5, "form": 1}

    def test_a_page_whose_build_is_gone_says_so(self, signed_in, picture):
        Build.objects.all()[0].remove()
        address = reverse("save-recipe", args=[picture.build_id, picture.pk])
        answer = signed_in.post(address, {"base": 1}, HTTP_HX_REQUEST="true")
        assert answer.status_code == 404
        assert answer["HX-Retarget"] == "#notice"
        assert "is no longer there" in answer.content.decode()

    def test_cautions_fit_the_supply(self, signed_in, build):
        page = signed_in.get(reverse("sheet", args=[build.pk])).content.decode()
        assert "Lithium cells" in page
        assert "deep sleep" in page
        Build.objects.update(supply_kind="mains")
        assert "licensed electrician" in signed_in.get(reverse("sheet", args=[build.pk])).content.decode()

    def test_removing_needs_the_name(self, signed_in, build):
        address = reverse("delete-build", args=[build.pk])
        assert signed_in.post(address, {"name": "tide"}).status_code == 422
        assert signed_in.post(address, {"name": "Tide board"}).status_code == 302
        assert not Build.objects.exists()


def test_figures_follow_the_build(picture):
    build = picture.build
    before = {b.slug: b.value for b in overview_of(build).budgets}
    change_build(build=build, changes={"buffer_bands": 4}, revision=build.revision)
    build.refresh_from_db()
    after = {b.slug: b.value for b in overview_of(build).budgets}
    assert before["ram"] - after["ram"] == 4736 * 3 / 4
    assert before["flash"] == after["flash"] == 122_880 + 4_736


class TestAccess:
    def test_nothing_without_signing_in(self, client, picture):
        for name, args in (("workshop", []), ("sheet", [picture.build_id]), ("picture", [picture.build_id, picture.pk])):
            assert "/sign-in/" in client.get(reverse(name, args=args)).url

    def test_forms_need_their_token(self, maker, picture):
        from django.test import Client

        strict = Client(enforce_csrf_checks=True)
        strict.force_login(maker)
        assert strict.post(reverse("delete-document", args=[picture.build_id, picture.pk])).status_code == 403

    def test_pages_carry_a_strict_policy(self, signed_in):
        policy = signed_in.get("/")["Content-Security-Policy"]
        assert "script-src 'self'" in policy
        assert "unsafe-eval" not in policy
        assert "style-src 'self'" in policy.replace("style-src-attr", "")

    def test_sign_in_is_throttled(self, client, maker):
        for _ in range(8):
            client.post(reverse("sign-in"), {"username": "maker", "password": "wrong"})
        answer = client.post(reverse("sign-in"), {"username": "maker", "password": "a-long-password-1"})
        assert answer.status_code == 429
        assert "15 minutes" in answer.content.decode()

    def test_an_account_of_ones_own(self, client, db):
        data = {
            "username": "newcomer",
            "workshop_name": "Boat shed",
            "password1": "winter-tide-77",
            "password2": "winter-tide-77",
        }
        page = client.post(reverse("sign-up"), data, follow=True).content.decode()
        assert "Boat shed" in page
        assert client.post(reverse("sign-up"), {**data, "password2": "x"}).status_code == 422


def test_fixes_in_pages_are_plain_json(signed_in, maker):
    start_build(owner=maker, name="Barometer", panel="tft-240x240-round", board="low-power", link_kind="spi")
    needs = signed_in.get("/").context["needs"]
    assert json.loads(json.dumps(needs[0][1].finding["fix"]["changes"])) == {"buffer_bands": 3}


def test_empty_pages_teach_by_the_build_s_own_parts(signed_in, build):
    for name in ("pictures", "screens", "values", "windows", "refresh", "energy", "schedule", "buffers", "paper", "measured"):
        page = unescape(signed_in.get(reverse(name, args=[build.pk])).content.decode())
        assert "For example: " in page, name
        assert ("4,736 bytes" in page) == (name == "pictures")


def test_what_comes_next_is_never_to_hand_over_nothing(signed_in, build):
    def following(name: str) -> str:
        page = signed_in.get(reverse(name, args=[build.pk])).content.decode()
        return re.search(r"fm-tabs-next[^>]*>.*?<a[^>]*>([^<]*)</a>", page, re.S)[1]

    assert [following(name) for name in ("schedule", "hand-over", "screens")] == ["put a picture on the glass"] * 2 + [
        "lay out the first screen"
    ]
    original = keep_picture(data=png_of(gradient()), file_name="ebb.png", owner=build.owner)
    add_picture(build=build, original=original, file_name="ebb.png")
    assert [following(name) for name in ("schedule", "hand-over")] == ["hand everything over"] * 2


def test_what_was_not_chosen_is_led_to(signed_in):
    page = signed_in.post(reverse("new-build"), {"name": "Slip"}).content.decode()
    for words, place in (("Choose a panel of the shelf.", "panel-shelf"), ("Choose a board.", "choose-board")):
        assert f'<a href="#{place}">{words}</a>' in page
        assert f'id="{place}"' in page
