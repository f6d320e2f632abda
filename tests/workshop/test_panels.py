"""Shelf, passports of one's own, identify, choose and boards, through the real database."""

import json

import pytest
from django.urls import reverse

from mosaic.panels.loader import catalogue, passport_from_json, passport_to_plain
from workshop.accounts.models import User
from workshop.builds.services import start_build
from workshop.panels.models import Comparison, OwnBoard, OwnPassport
from workshop.panels.parts import panel_of
from workshop.panels.services import keep_passport, make_mine

OLED, PAPER = "mono-oled-128x64", "epaper-296x128-four-colour"


@pytest.fixture
def mine(maker):
    return make_mine(owner=maker, entry=panel_of(maker, OLED))


def text_of(response) -> str:
    return response.content.decode()


class TestShelf:
    def test_everything_is_found_by_its_words(self, signed_in, mine, maker):
        mine.passport["owned"] = {
            **mine.passport["owned"],
            "marking": "SB-96",
            "seller": "works with everything",
            "notes": "drawer 3",
        }
        keep_passport(owner=maker, passport=passport_from_json(json.dumps({**mine.passport, "name": "my OLED"})))
        for query in ("sb-96", "EVERYTHING works", "drawer", "my oled 64x128", "scl i2c sb-96"):
            page = text_of(signed_in.get(reverse("panels"), {"q": query}))
            assert "1 panel " in page, query
            assert "my OLED" in page
        assert "No panel has all of these words" in text_of(signed_in.get(reverse("panels"), {"q": "plasma"}))

    def test_kinds(self, signed_in, mine):
        papers = [p for p in catalogue().values() if p.technology == "epaper"]
        assert f"{len(papers)} panels" in text_of(signed_in.get(reverse("panels"), {"technology": "epaper"}))
        assert "1 panel" in text_of(signed_in.get(reverse("panels"), {"technology": "own"}))
        assert f"{len(catalogue()) + 1} panels" in text_of(signed_in.get(reverse("panels"), {"technology": "nonsense"}))

    def test_htmx_gets_the_cards_alone(self, signed_in):
        cards = text_of(signed_in.get(reverse("panels"), {"q": "round"}, HTTP_HX_REQUEST="true"))
        assert cards.lstrip().startswith('<div id="cards"')

    def test_five_hundred_of_ones_own_stay_cheap(self, signed_in, maker, django_assert_max_num_queries):
        plain = passport_to_plain(catalogue()[OLED])
        OwnPassport.objects.bulk_create(
            OwnPassport(owner=maker, name=f"panel {i}", technology="oled", words=f"panel {i} oled", passport={**plain, "name": f"panel {i}"})
            for i in range(500)
        )  # fmt: skip
        with django_assert_max_num_queries(5):
            page = signed_in.get(reverse("panels"), {"page": 22})
        assert page.context["page"].paginator.count == 500 + len(catalogue())
        refs = [card.entry.ref for card in page.context["page"].object_list]
        assert sum(ref.startswith("own-") for ref in refs) == 0  # 21 pages of 24 hold the 500
        with django_assert_max_num_queries(5):
            mixed = signed_in.get(reverse("panels"), {"page": 21})
        refs = [card.entry.ref for card in mixed.context["page"].object_list]
        assert (len(refs), sum(ref.startswith("own-") for ref in refs)) == (24, 20)
        with django_assert_max_num_queries(5):
            assert "1 panel " in text_of(signed_in.get(reverse("panels"), {"q": "panel 437"}))
        builds = [start_build(owner=maker, name=f"Slip {n}", panel=OLED, board="small", link_kind="i2c") for n in range(12)]
        signed_in.get(reverse("build-panel", args=[builds[0].pk]))
        comparison = Comparison.objects.create(owner=maker, name="the slip", board="small", panels=[OLED])
        pages = (reverse("new-build"), reverse("build-panel", args=[builds[0].pk]), reverse("comparison", args=[comparison.pk]))
        for address in pages:
            with django_assert_max_num_queries(10):
                assert signed_in.get(address).status_code == 200


class TestPassport:
    @pytest.mark.parametrize("slug", catalogue())
    def test_every_panel_has_its_page(self, signed_in, slug):
        page = text_of(signed_in.get(reverse("panel", args=[slug])))
        assert "Driven from reset on the virtual panel" in page
        assert "every pixel as meant" in page
        assert "From reset until it shows" in page

    def test_turning_moves_the_offsets(self, signed_in):
        address = reverse("panel-turned", args=["tft-128x128"])
        turned = text_of(signed_in.get(address, {"turn": 180, "mirrored": 0}, HTTP_HX_REQUEST="true"))
        assert 'first column <b class="fm-fig">2</b>, first row <b class="fm-fig">31</b>' in turned
        assert signed_in.get(address, {"turn": 45}).status_code == 422

    def test_the_first_bytes_of_a_page_panel(self, signed_in):
        first = signed_in.get(reverse("panel", args=[OLED])).context["first"]
        # The frame's left edge fills the first byte; below its upper edge the others hold one pixel, in bit 0.
        assert [row.hex for row in first.rows] == ["FF", "01", "01", "01", "01", "01"]
        assert [tile.place for tile in first.rows[1].tiles] == ["1,7", "1,6", "1,5", "1,4", "1,3", "1,2", "1,1", "1,0"]
        assert first.rows[1].tiles[7].color == "#e6f0ff"

    @pytest.mark.parametrize(
        ("slug", "count"),
        [("mono-oled-128x64", 6), ("two-zone-oled-128x64", 3), ("tft-320x240-touch", 11), ("color-oled-128x128", 7),
         ("epaper-296x128-black-white", 14), ("epaper-960x640-black-white", 17), (PAPER, 0)],
    )  # fmt: skip
    def test_bytes_that_open_a_window(self, signed_in, slug, count):
        assert signed_in.get(reverse("panel", args=[slug])).context["window_bytes"] == count

    def test_the_screen_is_a_picture_of_its_own_size(self, signed_in):
        page = signed_in.get(reverse("panel", args=[PAPER]))
        image = signed_in.get(page.context["screen_url"])
        assert image.content[:4] == b"\x89PNG"
        assert int.from_bytes(image.content[16:20]) == 296
        assert "immutable" in image["Cache-Control"]
        stale = signed_in.get(reverse("panel-screen", args=[PAPER, "0" * 24]))
        assert stale["Cache-Control"] == "no-store"

    def test_the_catalogue_is_read_only(self, signed_in):
        assert signed_in.get(reverse("panel-edit", args=[OLED])).status_code == 422
        assert signed_in.post(reverse("panel-edit-text", args=[OLED]), {"text": "{}"}).status_code == 422
        assert signed_in.post(reverse("remove-panel", args=[OLED])).status_code == 422

    def test_out_edited_and_in_again(self, signed_in):
        exported = signed_in.get(reverse("passport-json", args=[PAPER])).content
        edited = exported.replace(b'"sleep_ua": 1.0', b'"sleep_ua": 2.5')
        assert edited != exported
        signed_in.post(reverse("read-passport"), {"text": edited.decode()})
        row = OwnPassport.objects.get()
        assert row.to_passport().power.sleep_ua == 2.5
        back = json.loads(signed_in.get(reverse("passport-json", args=[row.ref])).content)
        back["power"]["sleep_ua"], back["slug"] = 1.0, PAPER
        assert back == json.loads(exported)


class TestRead:
    @pytest.mark.parametrize(
        ("text", "message"),
        [
            ("{", "line 1, column 2"),
            ('{"slug": "x", }', "line 1"),
            ("[1]", "holds no table in braces"),
            ("[" * 100_000, "brackets go too deep"),
            ("{}", "glass"),
            ("x" * 600_000, "too many"),
        ],
    )
    def test_broken_files_are_told_and_kept_in_the_box(self, signed_in, text, message):
        answer = signed_in.post(reverse("read-passport"), {"text": text})
        assert answer.status_code == 422
        assert message in text_of(answer)
        assert not OwnPassport.objects.exists()

    def test_every_wrong_place_is_listed(self, signed_in, upload):
        plain = passport_to_plain(catalogue()[OLED])
        plain["glass"]["width_px"], plain["power"]["basis"] = 0, "guessed"
        answer = signed_in.post(reverse("read-passport"), {"passport": upload(json.dumps(plain).encode(), "p.json")})
        page = text_of(answer)
        assert "2 places in it are wrong" in page
        assert "<code>glass.width_px</code>" in page
        assert "<code>power.basis</code>" in page

    def test_latin_text_is_told(self, signed_in, upload):
        answer = signed_in.post(reverse("read-passport"), {"passport": upload(b'{"name": "gr\xfcn"}', "p.json")})
        assert "no text from byte 13 on" in text_of(answer)

    def test_what_cannot_be_driven_is_refused(self, signed_in):
        plain = passport_to_plain(catalogue()[OLED])
        plain["controller"]["family"] = "woven"
        page = text_of(signed_in.post(reverse("read-passport"), {"text": json.dumps(plain)}))
        assert "controller.family" in page
        assert not OwnPassport.objects.exists()


class TestOwn:
    def data(self, row, **changes):
        form = {"revision": row.revision, "name": row.name, "glass.width_px": "128", "owned.marking": "", "owned.price": ""}
        return {**form, **{k.replace("__", "."): v for k, v in changes.items()}}

    def test_make_it_mine_and_edit(self, signed_in, maker):
        answer = signed_in.post(reverse("make-mine", args=[OLED]))
        row = OwnPassport.objects.get()
        assert answer.url == reverse("panel-edit", args=[row.ref])
        assert row.based_on == OLED
        changes = {"owned__marking": "SB-96", "owned__price": "6,90", "rotation": "180", "links[0].usual_clock_hz": "100000"}
        kept = signed_in.post(reverse("panel-edit", args=[row.ref]), self.data(row, **changes))
        assert kept.status_code == 302
        passport = OwnPassport.objects.get().to_passport()
        assert (passport.owned.marking, passport.owned.price, passport.rotation) == ("SB-96", 6.9, 180)
        assert passport.links[0].usual_clock_hz == 100_000
        assert catalogue()[OLED].owned.marking == ""

    def test_wrong_blanks_keep_what_was_typed(self, signed_in, mine):
        before = OwnPassport.objects.get().passport
        data = self.data(mine, glass__width_px="wide", owned__marking="<b>SB", sequences__setup="reset\nq 10")
        answer = signed_in.post(reverse("panel-edit", args=[mine.ref]), data)
        page = text_of(answer)
        assert answer.status_code == 422
        assert 'value="wide"' in page
        assert "&#x27;wide&#x27; is given; it is a whole number from 1 to 4096" in page
        assert "&lt;b&gt;SB" in page
        assert "q 10" in page
        assert 'aria-invalid="true"' in page
        assert OwnPassport.objects.get().passport == before

    def test_text_is_checked_by_path(self, signed_in, mine):
        broken = json.dumps({**mine.passport, "links": []})
        answer = signed_in.post(reverse("panel-edit-text", args=[mine.ref]), {"text": broken, "revision": 1})
        assert answer.status_code == 422
        assert "<code>links</code>: a panel has at least one link" in text_of(answer)
        good = json.dumps({**mine.passport, "name": "named in text"})
        signed_in.post(reverse("panel-edit-text", args=[mine.ref]), {"text": good, "revision": 1})
        assert OwnPassport.objects.get().name == "named in text"

    def test_two_tabs_are_told(self, signed_in, mine):
        address = reverse("panel-edit", args=[mine.ref])
        assert signed_in.post(address, self.data(mine, name="first tab")).status_code == 302
        second = signed_in.post(address, self.data(mine, name="second tab"))
        assert second.status_code == 409
        assert "changed in another tab" in text_of(second)
        assert OwnPassport.objects.get().name == "first tab"
        # The page now knows of the other tab's revision: kept again, it is kept knowingly.
        assert signed_in.post(address, self.data(mine, name="second tab") | {"revision": 2}).status_code == 302

    def test_removing_leaves_builds_alone(self, signed_in, maker, mine):
        chosen = {"name": "b", "panel": mine.ref, "board": "small", "link_kind": "i2c"}
        signed_in.post(reverse("new-build"), chosen)
        signed_in.post(reverse("remove-panel", args=[mine.ref]))
        build = maker.builds.get()
        assert signed_in.get(reverse("build-panel", args=[build.pk])).status_code == 200
        assert signed_in.get(reverse("panel", args=[mine.ref])).status_code == 404


class TestIdentify:
    def test_words_lead_to_a_ranking_and_a_trial(self, signed_in):
        words = '1.3" OLED 128x64 white I2C, GND VCC SCL SDA'
        page = text_of(signed_in.post(reverse("identify"), {"words": words}, HTTP_HX_REQUEST="true"))
        assert page.lstrip().startswith('<div id="ranked"')
        first = page.index("mono OLED 128x64, page-column, 132-column RAM")
        assert first < page.index('id="apart-title"')
        assert page.count("data:image/png;base64,") == 2
        assert "The F stands whole" in page

    def test_what_is_stated_counts_more(self, signed_in):
        page = signed_in.post(reverse("identify"), {"words": "1.3 inch OLED 128x64", "ram_width": "128", "diagonal_inch": "0.96"})
        assert page.context["families"][0].best.passport.slug == OLED

    @pytest.mark.parametrize(
        ("field", "value", "message"),
        [
            ("commands", "2A, zz", "Commands: &#x27;zz&#x27; is no command byte"),
            ("width_px", "9999", "Columns: Ensure this value is less than or equal to 4096"),
            ("diagonal_inch", "big", "Diagonal: Enter a number"),
        ],
    )
    def test_wrong_clues_are_told_and_the_rest_still_counts(self, signed_in, field, value, message):
        answer = signed_in.post(reverse("identify"), {"words": "round TFT 240x240", field: value})
        assert answer.status_code == 422
        assert message in text_of(answer)
        assert answer.context["families"][0].best.passport.slug == "tft-240x240-round"

    def test_nothing_said_nothing_claimed(self, signed_in):
        assert "Families that fit come here" in text_of(signed_in.post(reverse("identify"), {"words": "hello"}))


class TestChoose:
    @pytest.fixture
    def comparison(self, signed_in, maker):
        signed_in.post(reverse("start-comparison"), {"name": "tide board", "panel": PAPER})
        return Comparison.objects.get()

    def data(self, comparison, **changes):
        names = (
            "name",
            "board",
            "supply_kind",
            "cell_v",
            "capacity_mah",
            "viewing_distance_mm",
            "light_lux",
            "update_interval_s",
        )
        return {**{n: getattr(comparison, n) for n in names}, "on_hours_per_day": 24, "revision": comparison.revision, **changes}

    def post(self, client, comparison, **changes):
        comparison.refresh_from_db()
        return client.post(reverse("comparison", args=[comparison.pk]), self.data(comparison, **changes), follow=True)

    def test_panels_are_laid_beside_each_other_and_taken_out(self, signed_in, comparison):
        assert comparison.panels == [PAPER]
        page = self.post(signed_in, comparison, **{"with": OLED})
        assert [c.entry.ref for c in page.context["columns"]] == [PAPER, OLED]
        large, small = page.context["bench"].panels
        assert large.glass_width / small.glass_width == pytest.approx(66.9 / 21.74, rel=0.01)
        page = signed_in.post(reverse("take-out-panel", args=[comparison.pk]), {"without": PAPER}, follow=True)
        assert [c.entry.ref for c in page.context["columns"]] == [OLED]

    def test_prices_are_kept_as_typed(self, signed_in, comparison):
        page = self.post(signed_in, comparison, **{f"price-{PAPER}": "21,50 EUR"})
        assert 'value="21,50 EUR"' in text_of(page)
        wrong = self.post(signed_in, comparison, **{f"price-{PAPER}": "cheap"})
        assert wrong.status_code == 422
        assert "Price &#x27;cheap&#x27; is no amount" in text_of(wrong)
        assert 'value="cheap"' in text_of(wrong)
        comparison.refresh_from_db()
        assert comparison.prices == {PAPER: "21,50 EUR"}

    def test_ones_own_price_stands_there_already(self, signed_in, maker, comparison):
        plain = passport_to_plain(catalogue()[OLED])
        plain["owned"] |= {"price": 6.9, "currency": "EUR"}
        row = keep_passport(owner=maker, passport=passport_from_json(json.dumps(plain)))
        assert 'value="6.9 EUR"' in text_of(self.post(signed_in, comparison, **{"with": row.ref}))

    @pytest.mark.parametrize(
        ("changes", "message"),
        [
            ({"viewing_distance_mm": "far"}, "Viewing distance, mm: Enter a number"),
            ({"update_interval_s": 0}, "greater than or equal to 1"),
            ({"board": "none"}, "Board: Select a valid choice"),
            ({"with": "plasma"}, "there is no panel named"),
        ],
    )
    def test_wrong_input(self, signed_in, comparison, changes, message):
        page = text_of(self.post(signed_in, comparison, **changes))
        assert message.lower() in page.lower()

    @pytest.mark.parametrize("live", [{}, {"HTTP_HX_REQUEST": "true"}])
    def test_two_tabs_are_compared_and_either_is_kept(self, signed_in, comparison, live):
        comparison.refresh_from_db()
        first, address = self.data(comparison), reverse("comparison", args=[comparison.pk])
        signed_in.post(address, {**first, "light_lux": 2000})
        answer = signed_in.post(address, {**first, "cell_v": 3.0}, **live)
        assert answer.status_code == (200 if live else 409)
        assert "None:" not in text_of(answer)
        assert [(row.label, row.mine, row.theirs) for row in answer.context["differing"]] == [
            ("Voltage of the cell, V", "3", "3.7"), ("Light of the place, lux", "500", "2000"),
        ]  # fmt: skip
        mine = {**first, "cell_v": 3.0, "revision": answer.context["form"]["revision"].value()}
        signed_in.post(address, mine, **live)
        comparison.refresh_from_db()
        assert (comparison.cell_v, comparison.light_lux) == (3.0, 500)

    def test_six_at_most(self, signed_in, comparison):
        comparison.panels = list(catalogue())[:6]
        comparison.save()
        assert "6 panels lie side by side at most" in text_of(self.post(signed_in, comparison, **{"with": PAPER}))

    def test_another_board_and_light_change_the_figures(self, signed_in, comparison):
        dim = self.post(signed_in, comparison, light_lux=1)
        assert dim.context["columns"][0].candidate.legibility.verdict == "not readable"
        mains = self.post(signed_in, comparison, light_lux=500, supply_kind="mains", board="wireless")
        assert mains.context["columns"][0].candidate.runtime_days is None
        assert mains.context["columns"][0].candidate.ram.limit == 327_680

    def test_lists_and_removal(self, signed_in, comparison, client):
        assert "tide board" in text_of(signed_in.get(reverse("comparisons")))
        assert signed_in.post(reverse("start-comparison"), {"name": " "}).status_code == 422
        signed_in.post(reverse("remove-comparison", args=[comparison.pk]))
        assert not Comparison.objects.exists()
        assert signed_in.get(reverse("comparison", args=[comparison.pk])).status_code == 404


class TestBoards:
    def test_all_are_described(self, signed_in):
        assert text_of(signed_in.get(reverse("boards"))).count('<th scope="row">') >= 9
        assert "Input only" in text_of(signed_in.get(reverse("board", args=["wireless"])))
        assert signed_in.get(reverse("board", args=["none"])).status_code == 404

    def test_pins_are_renamed_on_ones_own(self, signed_in, maker):
        signed_in.post(reverse("make-board-mine", args=["tiny-usb"]))
        row = OwnBoard.objects.get()
        address = reverse("board-edit", args=[row.ref])
        assert (
            signed_in.post(
                address, {"revision": 1, "pins[0].name": "A0 (brown)", "ram_bytes": "65536", "constants_in_ram": "yes"}
            ).status_code
            == 302
        )
        board = OwnBoard.objects.get().to_board()
        assert board.pins[0].name == "A0 (brown)"
        assert board.pins[0].roles == ("gpio", "analog", "pwm")
        assert (board.ram_bytes, board.constants_in_ram) == (65_536, True)
        twice = signed_in.post(address, {"revision": 2, "pins[1].name": "A0 (brown)"})
        assert twice.status_code == 422
        assert "two pins are named" in text_of(twice)
        stale = signed_in.post(address, {"revision": 1, "name": "other"})
        assert stale.status_code == 409
        assert json.loads(signed_in.get(reverse("board-json", args=[row.ref])).content)["slug"] == row.ref

    def test_read_only_and_anothers(self, signed_in, client, maker):
        assert signed_in.get(reverse("board-edit", args=["small"])).status_code == 422
        assert signed_in.post(reverse("remove-board", args=["small"])).status_code == 422
        signed_in.post(reverse("make-board-mine", args=["small"]))
        ref = OwnBoard.objects.get().ref
        client.force_login(User.objects.create_user("other", password="a-long-password-2"))
        assert client.get(reverse("board", args=[ref])).status_code == 404
        client.force_login(maker)
        client.post(reverse("remove-board", args=[ref]))
        assert not OwnBoard.objects.exists()


@pytest.mark.parametrize(
    "written", ["0.96 inch oled", "0.96inch OLED", '0.96" oled', "0.96 in oled", "oled 0.96 inches", "0.96 oled"]
)
def test_inches_are_found_however_they_are_written(signed_in, written):
    page = signed_in.get("/panels/", {"q": written}).content.decode()
    assert "3 panels with" in page
