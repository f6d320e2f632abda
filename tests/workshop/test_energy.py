"""Energy through its page: fed from a cell, what takes how much, what another cell and another interval bring."""

import html
import re

import pytest
from django.urls import reverse

from mosaic.lettering.plan import LetteringPlan
from mosaic.refresh.energy.plan import EnergyPlan, Load
from mosaic.refresh.energy.supply import Regulator
from mosaic.screens.screen import Anchor, Design, Element, Screen
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from workshop.builds.services import start_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.lettering.services import add_lettering
from workshop.refresh.documents import EnergyDocument
from workshop.refresh.energy_services import plan_of
from workshop.screens.documents import DesignDocument, ScreenDocument
from workshop.stations.overview import overview_of

TIDE = Value(
    "v1", "tide", high=999, source=Source(every_ms=300_000), stand_in=StandIn("ramp", every_ms=300_000, period_s=100_000)
)


@pytest.fixture
def build(maker):
    made = start_build(owner=maker, name="Slip", panel="epaper-296x128-black-white", board="low-power", link_kind="spi")
    made.update_interval_s, made.supply_kind, made.cell_v, made.capacity_mah = 300, "cell", 3.7, 1200
    made.save()
    add_lettering(build=made, name="Small", plan=LetteringPlan(face="narrow", size_by="pixels", size_px=14))
    documents.save_single(DesignDocument, build=made, base=0, record=Design(values=(TIDE,)))
    text = Element("e1", "value", "Tide", Anchor(plus=10), Anchor(plus=10), of="v1")
    documents.add(ScreenDocument, build=made, name="Water", record=Screen((text,)))
    return made


def said(answer) -> str:
    return html.unescape(re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", answer.content.decode())))


def fields(**more):
    return {"base": "0", "cell": "own", "regulator": "linear", "out_v": "3.3", "quiescent_ua": "5",
            "sleeps": "1", "waits_awake": "1", **more}  # fmt: skip


def post(client, build, **more):
    return client.post(reverse("keep-energy", args=[build.pk]), fields(**more))


def days(client, build) -> float:
    words = said(client.get(reverse("energy", args=[build.pk])))
    number, unit = re.search(r"It lasts ([\d.,]+) (hours|days|years)", words).groups()
    return float(number.replace(",", "")) * {"hours": 1 / 24, "days": 1, "years": 365.25}[unit]


def test_what_takes_how_much_by_hand(build, signed_in):
    """288 updates a day: the board awake for the panel's refresh, the panel's own energy, both asleep for the rest."""
    device = build.to_device()
    mode, board, power = device.passport.refresh[0], device.board, device.passport.power
    seconds = 288 * mode.time_ms / 1000
    board_mah = seconds / 3600 * board.active_ma
    panel_mah = 288 * mode.energy_mj / power.supply_v / 3600
    asleep_mah = (24 - seconds / 3600) * board.sleep_ua / 1000
    words = said(signed_in.get(reverse("energy", args=[build.pk])))
    figures = {
        name: float(mah)
        for name, mah in re.findall(r"(The board awake|The panel refreshes|The board asleep) ([\d.]+) mAh", words)
    }
    assert figures["The board awake"] == pytest.approx(board_mah, rel=0.02)  # and some ms of drawing and sending
    assert figures["The panel refreshes"] == pytest.approx(panel_mah, rel=0.005)
    assert figures["The board asleep"] == pytest.approx(asleep_mah, rel=0.02, abs=0.001)
    assert "Runtime over the interval" in words
    assert "sleeping takes more than updating" in words


def test_a_larger_cell_a_radio_and_the_cold(build, signed_in):
    usual = days(signed_in, build)
    post(signed_in, build, cell="pouch-2500")
    larger = days(signed_in, build)
    assert 1.4 * usual < larger < 2 * usual  # a larger cell leaks more, too
    base = shelf_base(build)
    post(signed_in, build, base=str(base), cell="pouch-2500", load_name_0="radio", load_ma_0="80", load_when_0="awake")
    assert days(signed_in, build) < larger / 2
    base = shelf_base(build)
    post(signed_in, build, base=str(base), cell="pouch-2500", celsius="-10")
    assert days(signed_in, build) == pytest.approx(0.7 * larger, rel=0.02)
    shelf_base(build)
    assert plan_of(build, build.to_device()) == EnergyPlan("pouch-2500", Regulator(), celsius=-10.0)


def shelf_base(build) -> int:
    build.refresh_from_db()
    shelf.forget(build)
    return shelf.single(build, EnergyDocument).head_id


def test_a_coin_cell_that_the_load_would_damage(build, signed_in):
    post(signed_in, build, cell="coin-20", regulator="none", load_name_0="radio", load_ma_0="80", load_when_0="always")
    words = said(signed_in.get(reverse("energy", args=[build.pk])))
    assert "It does not run" in words
    assert "sags above 10 mA" in words
    assert "Keep coin cells from children" in words
    shelf_base(build)
    assert plan_of(build, build.to_device()).loads == (Load("radio", 80.0, "always"),)


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"load_name_0": "radio", "load_ma_0": "-3"}, "-3"),
        ({"load_name_0": "radio", "load_ma_0": "much"}, "the current of radio, in ma"),
        ({"regulator": "switching", "point_ma_0": "1", "point_percent_0": "120"}, "an efficiency of 120%"),
        ({"regulator": "switching", "point_ma_0": "", "point_ma_1": ""}, "one or more"),
        ({"point_ma_0": "1", "point_percent_0": "most"}, "the efficiency at 1 ma"),
        ({"celsius": "200"}, "200"),
        ({"red": "0", "green": "0", "blue": "0"}, "one of them takes something"),
        ({"sun_h": "25"}, "25"),
        ({"end_v": "5"}, "not below the 4.2 v of a full cell"),
        ({"every_days": "0"}, "0"),
        ({"regulator": "magic"}, "magic"),
        ({"cell": "pocket"}, "no kind of cell"),
        ({"out_v": "three"}, "the voltage of the load"),
        ({"quiescent_ua": "-1"}, "-1"),
    ],
)
def test_what_cannot_be_is_said_and_stays(build, signed_in, changes, words):
    answer = post(signed_in, build, **changes)
    assert answer.status_code == 422
    assert words in said(answer).lower()
    assert shelf.single(build, EnergyDocument) is None


def test_a_build_without_screens_says_what_is_needed(maker, signed_in):
    empty = start_build(owner=maker, name="Empty", panel="tft-320x240-touch", board="wireless", link_kind="spi")
    assert "There is no screen yet" in said(signed_in.get(reverse("energy", args=[empty.pk])))


def test_everything_that_is_said_is_kept_and_shown_again(build, signed_in):
    told = {
        "drop_v": "0.2", "diode_v": "0.3", "celsius": "5", "end_v": "3.5", "usable_percent": "70", "leak_percent": "1.5",
        "light_percent": "80", "night_percent": "10", "wall_percent": "81", "wall_mw": "30", "red": "20", "green": "30", "blue": "50",
        "regulator": "switching", "point_ma_0": "10", "point_percent_0": "90", "point_ma_1": "0.01", "point_percent_1": "60",
        "load_name_0": "radio", "load_ma_0": "80", "load_when_0": "hour", "load_times_0": "2", "load_s_0": "1.5",
        "by": "sun", "peak_mw": "750", "sun_h": "3", "dark_days": "4", "kept_percent": "85",
    }  # fmt: skip
    post(signed_in, build, **told)
    shelf_base(build)
    plan = plan_of(build, build.to_device())
    assert plan.regulator == Regulator("switching", 3.3, 5.0, 0.2, ((0.01, 0.6), (10.0, 0.9)))
    assert (plan.diode_v, plan.celsius, plan.end_v, plan.usable_share, plan.self_discharge) == (0.3, 5.0, 3.5, 0.7, 0.015)
    assert (plan.light, plan.night_light, plan.channels) == (0.8, 0.1, (0.2, 0.3, 0.5))
    assert plan.loads == (Load("radio", 80.0, "hour", 1.5, 2.0),)
    assert (plan.topping.by, plan.topping.peak_mw, plan.topping.sun_h, plan.topping.dark_days) == ("sun", 750.0, 3.0, 4)
    page = signed_in.get(reverse("energy", args=[build.pk])).content.decode()
    for name, value in told.items():
        if name not in ("regulator", "by", "load_when_0", "red", "green", "blue", "light_percent", "night_percent"):
            shown = re.search(rf'name="{name}" value="([^"]*)"', page)[1]
            assert shown == {"point_ma_0": "0.01", "point_percent_0": "60", "point_ma_1": "10", "point_percent_1": "90"}.get(
                name, value
            )


def test_sun_and_wall(build, signed_in):
    post(signed_in, build, by="sun", peak_mw="500", sun_h="2", dark_days="5", kept_percent="80")
    words = said(signed_in.get(reverse("energy", args=[build.pk])))
    assert "It goes on for ever" in words
    assert "It never runs empty" in words
    post(signed_in, build, base=str(shelf_base(build)), by="sun", peak_mw="1", sun_h="2", dark_days="5", kept_percent="80")
    words = said(signed_in.get(reverse("energy", args=[build.pk])))
    assert "It loses more than it gains; a solar panel of 100 mW would do" in words
    post(signed_in, build, base=str(shelf_base(build)), cell="usb")
    words = said(signed_in.get(reverse("energy", args=[build.pk])))
    assert "Wh a day from the wall" in words
    assert "certified supply" in words


def test_the_strip_shows_what_the_page_reckons(build, signed_in):
    """The day's energy is what all states take from the cell; a cell with a switching regulator takes less from it."""

    def energy():
        shelf.forget(build)
        build.refresh_from_db()
        return next(one for one in overview_of(build).budgets if one.slug == "energy")

    linear = energy()
    assert linear.is_scheduled
    assert {part.name for part in linear.parts} == {"reading, drawing and sending", "the panel refreshes", "asleep"}
    words = said(signed_in.get(reverse("energy", args=[build.pk])))
    average = float(re.search(r"([\d.]+) mA from the cell on average", words)[1])
    assert linear.value == pytest.approx(24 * average * 3.7, rel=0.01)
    post(signed_in, build, regulator="switching", point_ma_0="0", point_percent_0="95")
    assert energy().value < linear.value
    build.energy_limit_mwh = 1.0
    build.save()
    documents.note_change(build)
    shelf.forget(build)
    found = [one for one in overview_of(build).findings_of("energy-0") if one["id"] == "energy.day-over-limit"]
    assert found[0]["fix"]["target"] == "program"
