"""The pin plan's page: proposed, changed by hand, checked, mended and thrown away."""

import json

import pytest
from django.urls import reverse

from tests.reading import base, single, wiring
from workshop.builds.models import Build, WiringDocument
from workshop.builds.services import start_build
from workshop.panels.parts import board_of
from workshop.panels.services import change_board, make_board_mine
from workshop.panelwork.documents import ReadingsDocument


@pytest.fixture
def counter(maker):
    return start_build(owner=maker, name="Counter", panel="mono-oled-128x64", board="small", link_kind="i2c")


def text_of(response) -> str:
    return response.content.decode()


def post(client, build, **changes):
    build.refresh_from_db()
    return client.post(reverse("wiring", args=[build.pk]), {"base": base(build, WiringDocument), **changes}, follow=True)


class TestPlan:
    def test_the_proposal_stands_until_something_is_kept(self, signed_in, build):
        page = signed_in.get(reverse("wiring", args=[build.pk]))
        assert "as proposed" in text_of(page)
        assert not page.context["findings"]
        assert [wire.number for wire in page.context["drawing"].wires] == list(range(1, 9))
        assert wiring(Build.objects.get()) is None

    def test_a_line_taken_elsewhere_is_checked(self, signed_in, build):
        page = post(signed_in, build, **{"wire-RST": "", "wire-BUSY": "BOOT"})
        told = [f["id"] for f in page.context["findings"]]
        assert told == ["wiring.open-reset", "wiring.boot-strap"]
        fix = {"changes": json.dumps(page.context["findings"][0]["fix"]["changes"]), "back": "wiring"}
        assert signed_in.post(reverse("fix-build", args=[build.pk]), fix).url == reverse("wiring", args=[build.pk])
        page = signed_in.get(reverse("wiring", args=[build.pk]))
        assert [f["id"] for f in page.context["findings"]] == ["wiring.boot-strap"]
        signed_in.post(reverse("propose-wiring", args=[build.pk]))
        assert wiring(Build.objects.get()) is None

    def test_findings_count_at_station_one(self, signed_in, build):
        post(signed_in, build, **{"wire-RST": ""})
        stones = signed_in.get(reverse("build-panel", args=[build.pk])).context["stones"]
        assert stones[0].words == "here, 1 must fix"

    def test_wrong_input_is_told_and_kept(self, signed_in, build, counter):
        page = post(signed_in, build, **{"wire-RST": "99"})
        assert page.status_code == 422
        assert "RST goes to &#x27;99&#x27;, which this board has not" in text_of(page)
        page = post(signed_in, counter, address="zz", bus_pf="many")
        assert 'value="zz"' in text_of(page)
        assert "&#x27;zz&#x27; is given; it is a whole number from 0 to 255" in text_of(page)
        assert "bus_pf" in text_of(page)
        assert not WiringDocument.objects.exists()

    def test_two_tabs_are_told(self, signed_in, build):
        stale = signed_in.post(reverse("wiring", args=[build.pk]), {"base": 1, "wire-RST": ""})
        assert stale.status_code == 409
        assert wiring(Build.objects.get()) is None

    def test_forged_fixes_are_refused(self, signed_in, build):
        for plan in ('{"wires": [{"signal": "RST", "to": "99"}]}', '{"wires": 5}', '{"volts": 3}'):
            answer = signed_in.post(
                reverse("fix-build", args=[build.pk]), {"changes": f'{{"wiring": {plan}}}', "revision": build.revision}
            )
            assert answer.status_code == 422
        assert wiring(Build.objects.get()) is None

    def test_another_board_keeps_what_was_left_open(self, signed_in, build):
        post(signed_in, build, **{"wire-RST": ""})
        chosen = {"panel": build.passport_slug, "board": "wireless", "link_kind": "spi"}
        chosen["revision"] = Build.objects.get().revision
        signed_in.post(reverse("exchange-parts", args=[build.pk]), {**chosen, "sure": "1"})
        assert wiring(Build.objects.get()).to_of("RST") == ""
        found = signed_in.get(reverse("wiring", args=[build.pk])).context["findings"]
        assert [finding["id"] for finding in found] == ["wiring.open-reset"]

    def test_pins_bear_the_names_printed_on_ones_own_board(self, signed_in, maker, build):
        row = make_board_mine(owner=maker, entry=board_of(maker, "low-power"))
        pins = [{**pin, "name": "CLK yellow" if pin["name"] == "SCK" else pin["name"]} for pin in row.board["pins"]]
        change_board(row=row, plain={**row.board, "pins": pins}, revision=1)
        signed_in.post(
            reverse("exchange-parts", args=[build.pk]), {"panel": build.passport_slug, "board": row.ref, "link_kind": "spi"}
        )
        assert "CLK yellow" in [end.name for end in signed_in.get(reverse("wiring", args=[build.pk])).context["drawing"].ends]


class TestBus:
    def test_the_calculator_follows_the_modules(self, signed_in, counter):
        page = signed_in.get(reverse("wiring", args=[counter.pk]))
        assert (round(page.context["bus"]["least"]), round(page.context["bus"]["present"])) == (967, 4700)
        sensor = {"devices[0].name": "air sensor", "devices[0].address": "76", "devices[0].pull_up_ohm": "4700"}
        page = post(signed_in, counter, **sensor)
        assert round(page.context["bus"]["present"]) == 2350
        assert not page.context["findings"]
        page = post(signed_in, counter, **{"devices[0].address": "3c"})
        assert [f["id"] for f in page.context["findings"]] == ["wiring.address-clash"]
        page = post(signed_in, counter, **{"devices[0].name": ""})
        assert page.context["pin_plan"].devices == ()

    def test_no_solution_is_said(self, signed_in, counter):
        page = text_of(post(signed_in, counter, bus_pf="400"))
        assert "There is no solution at this clock" in page
        assert "No pull-up suits this bus" in page
        assert "Clock the bus at 100 kHz" in page


class TestProgram:
    def test_a_pasted_program_is_compared_and_kept(self, signed_in, build):
        page = post(signed_in, build, program="#define EPD_RST A3\nint busyPin = 77;")
        assert "RST on A3; the plan says" in text_of(page)
        assert "BUSY, on a pin this board has not" in text_of(page)
        told = page.context["findings"]
        assert [f["id"] for f in told] == ["wiring.program-differs"]
        signed_in.post(
            reverse("fix-build", args=[build.pk]), {"changes": json.dumps(told[0]["fix"]["changes"]), "back": "wiring"}
        )
        page = signed_in.get(reverse("wiring", args=[build.pk]))
        assert "RST on A3, as planned" in text_of(page)
        assert page.context["pin_plan"].to_of("RST") == "A3"

    def test_too_long_a_program_is_refused(self, signed_in, build):
        page = post(signed_in, build, program="x" * 20_001)
        assert page.status_code == 422
        assert "program" in text_of(page)

    @pytest.mark.parametrize(
        ("name", "first"), [("pins-h", "/* Tide board: pins of the panel */"), ("pins-py", '"""Tide board: pins')]
    )
    def test_the_plan_is_taken_along(self, signed_in, build, name, first):
        answer = signed_in.get(reverse(name, args=[build.pk]))
        assert text_of(answer).startswith(first)
        assert "PANEL_RST" in text_of(answer)


class TestLightAndRails:
    def test_a_low_active_light_and_rails_the_wrong_way_round(self, signed_in, maker):
        build = start_build(owner=maker, name="Screen", panel="rgb-tft-480x480-round", board="wireless-large", link_kind="rgb")
        page = post(signed_in, build, backlight_low_active="yes", rail_order="LED+, VDD")
        assert [f["id"] for f in page.context["findings"]] == ["wiring.rail-order", "wiring.on-at-power-up"]
        page = post(signed_in, build, backlight_held_off="yes", rail_order="")
        assert not page.context["findings"]


class TestBeforePower:
    def post(self, client, build, **readings):
        return client.post(reverse("check-sheet", args=[build.pk]), readings, follow=True)

    def test_readings_are_kept_with_their_day(self, signed_in, build):
        page = text_of(self.post(signed_in, build, **{"wire-RST": "0,4", "rail-VCC": "2.9"}))
        assert page.count("does not hold</td>") == 1
        assert page.count("measured 20") == 2
        assert single(Build.objects.get(), ReadingsDocument).readings["wire-RST"].value == 0.4
        self.post(signed_in, build, **{"wire-RST": "", "rail-VCC": "2.9"})
        assert set(single(Build.objects.get(), ReadingsDocument).readings) == {"rail-VCC"}

    def test_what_is_no_number_is_told_and_the_rest_is_kept(self, signed_in, build):
        page = self.post(signed_in, build, **{"wire-RST": "beep", "rail-VCC": "3.3", "wire-CS": "nan"})
        assert page.status_code == 422
        assert "&#x27;beep&#x27; is no number" in text_of(page)
        assert 'value="beep"' in text_of(page)
        assert set(single(Build.objects.get(), ReadingsDocument).readings) == {"rail-VCC"}

    def test_the_card_holds_it_all(self, signed_in, build):
        self.post(signed_in, build, **{"rail-VCC": "3.31"})
        page = text_of(signed_in.get(reverse("wiring-card", args=[build.pk])))
        assert "3.31 V, measured 20" in page
        assert "________" in page
        for words in ("licensed electrician", "deep sleep", "unattended", "CS of the panel to D5 of the board"):
            assert words in page

    def test_the_table_for_a_spreadsheet(self, signed_in, build):
        import csv

        rows = list(csv.DictReader(text_of(signed_in.get(reverse("wiring-csv", args=[build.pk]))).splitlines()))
        assert [row["panel"] for row in rows] == ["CLK", "DIN", "CS", "DC", "RST", "VCC", "GND", "BUSY"]
        assert rows[0]["board"] == "SCK"
        assert rows[0]["roles"] == "gpio, spi clock"
