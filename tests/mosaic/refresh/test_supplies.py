"""What feeds a build, by hand: end voltages, losses, light by channel and duty, charging, changes, other panels."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.boards.board import catalogue as boards
from mosaic.device.device import Device, Supply
from mosaic.panels.loader import catalogue
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures, Stood, Stretch
from mosaic.refresh.energy.balance import Event, State, balance
from mosaic.refresh.energy.cells import CELLS, CellKind
from mosaic.refresh.energy.changes import gains_of
from mosaic.refresh.energy.elsewhere import kind_of, on_another, one_of_each
from mosaic.refresh.energy.light import channel_levels, white_share
from mosaic.refresh.energy.measured import Measured
from mosaic.refresh.energy.plan import EnergyPlan, Load, cell_of, events_of, light_ma, night_share, reckoned, rhythm_of, states_of
from mosaic.refresh.energy.supply import Regulator, Wall
from mosaic.refresh.energy.topping import DAYS, Topping, least_peak_mw, month_of
from mosaic.refresh.paper.cleaning import Cleaning
from tests.mosaic.screens.made_up import device

DAY = 86_400_000
CELL = CellKind("mine", "1,200 mAh", 3.7, 1200, 3.3, 0.8, 1000, 0.0, 0.7, "")
NONE = Regulator("none")


def a_day(*, busy_ms=0.0, refresh_ms=0.0, steps=0, refreshed=(), screens=(), light=()):
    stretch = Stretch(0, DAY, busy_ms, 0, 0, 0, refresh_ms)
    return DayFigures(
        DAY, (stretch,), (), (), (), steps, 0, 0, 0, 0, 0.0, "", (), 0, 0, refreshed=refreshed, screens=screens, light=light
    )


@pytest.mark.parametrize(("least_v", "share"), [(0.0, 0.8), (3.3, 0.8), (3.5, 0.8 * 0.85 / 0.95), (4.2, 0.0), (9.0, 0.0)])
def test_a_load_that_needs_more_leaves_more_in_the_cell(least_v, share):
    """At 3.3 V 95 % are drawn, which the cell's 80 % stand for; at 3.5 V 85 %."""
    assert CELL.share_until(least_v) == pytest.approx(share)


def test_a_linear_regulator_and_a_diode_before_it_end_early():
    """3.3 V, 0.15 V of drop and a diode of 0.05 V need 3.5 V."""
    found = balance([State("on", 1.0, (("all", 1.0),))], Regulator("linear", 3.3, 0.0, 0.15), CELL, diode_v=0.05)
    assert found.usable_mah == pytest.approx(1200 * 0.8 * 0.85 / 0.95)
    assert not found.why_not
    dropped = balance([State("on", 1.0, (("all", 1.0),))], Regulator("linear", 3.3, 0.0, 0.15), CELL, diode_v=0.8)
    assert "3.4 V" in dropped.why_not


@pytest.mark.parametrize(("celsius", "share"), [(20, 1.0), (35, 1.0), (5, 0.85), (-10, 0.7), (-40, 0.4)])
def test_cold_by_degree(celsius, share):
    assert CELL.share_at(celsius) == pytest.approx(share)


def test_what_is_said_of_a_cell_holds():
    said = EnergyPlan("pouch-1200", usable_share=0.5, self_discharge=0.1, end_v=3.5)
    cell = cell_of(said, device())
    assert (cell.usable_share, cell.end_v) == (0.5, 3.5)
    assert cell.self_discharge_ma == pytest.approx(120 / 730.5)
    ended = cell_of(EnergyPlan("pouch-1200", end_v=3.5), device())
    assert ended.usable_share == pytest.approx(0.8 * 0.85 / 0.95)
    assert cell_of(EnergyPlan("pouch-1200", end_v=3.0), device()).usable_share == 0.8  # deeper than usual gives no more


def test_events_add_their_charge():
    """80 mA for 2 s once an hour are 0.04444 mA; with 1 mA all the time 1.04444."""
    found = balance([State("on", 1.0, (("all", 1.0),))], NONE, CELL, [Event("radio", 80.0, 2 / 3600)])
    assert found.average_ma == pytest.approx(1 + 80 * 2 / 3600)
    assert {one.name: one.mah for one in found.taken}["radio"] == pytest.approx(24 * 80 * 2 / 3600)
    assert found.peak_ma == pytest.approx(81.0)


@pytest.mark.parametrize(("when", "share"), [("update", 288 * 3 / 86_400), ("hour", 3 * 2 / 3600), ("day", 3 * 2 / 86_400)])
def test_how_often_a_load_comes(when, share):
    load = Load("radio", 80.0, when, 3.0, 1.0 if when == "update" else 2.0)
    (event,) = events_of(a_day(steps=288), EnergyPlan(loads=(load, Load("lamp", 1.0, "always"))))
    assert event.share == pytest.approx(share)


@given(
    st.lists(st.tuples(st.floats(0, 100), st.floats(0.01, 1)), min_size=1, max_size=5),
    st.lists(st.tuples(st.floats(0, 200), st.floats(0, 0.2)), max_size=3), st.sampled_from(["none", "linear", "switching"]),
)  # fmt: skip
def test_charge_is_conserved_between_states_events_and_consumers(states, events, kind):
    total = sum(share for _, share in states)
    known = [State(f"s{n}", share / total, ((f"c{n % 2}", ma),)) for n, (ma, share) in enumerate(states)]
    found = balance(known, Regulator(kind), CELL, [Event(f"e{n}", ma, share) for n, (ma, share) in enumerate(events)])
    assert sum(one.mah for one in found.taken) == pytest.approx(24 * (found.average_ma + found.self_discharge_ma), abs=1e-9)
    drawn = sum(state.share * ma for state, ma in found.states)
    assert found.average_ma >= drawn - 1e-9


@given(st.lists(st.tuples(st.floats(1, 1000), st.floats(0, 0.5), st.floats(0, 0.5)), min_size=1, max_size=8), st.booleans())
def test_charge_is_conserved_between_time_line_states_and_totals(stretches, sleeps):
    """Each stretch of the time line by itself, and all of them as one day, take the same."""
    dev = replace(device("mono-oled-128x64"), on_hours_per_day=24.0)
    lines = tuple(Stretch(0, ms, busy * ms, 0, 0, 0, 0) for ms, busy, _ in stretches)
    plan = EnergyPlan(regulator=NONE, sleeps=sleeps)

    def average(some):
        day = replace(
            a_day(screens=(Stood("screen-1", 1.0, (0.5,)),)), stretches=some, length_ms=int(sum(one.length_ms for one in some))
        )
        return reckoned(plan, CELL, day, dev, Program()).average_ma

    total = sum(one.length_ms for one in lines)
    apart = sum(average((one,)) * one.length_ms for one in lines) / total
    assert average(lines) == pytest.approx(apart)


# Light


@pytest.mark.parametrize("share", [0.0, 0.25, 1.0])
def test_an_oled_at_three_shares_of_light(share):
    """2 mA for itself, and 24 mA with all lit: 2, 8 and 26 mA."""
    oled = device("mono-oled-128x64")
    day = a_day(screens=(Stood("screen-1", DAY, (share,)),))
    (state, *_) = states_of(day, replace(oled, on_hours_per_day=24.0), Program(), EnergyPlan(sleeps=False))
    panel = sum(ma for name, ma in state.loads if name != "the board awake")
    assert panel == pytest.approx(2 + 24 * share)


def test_each_channel_takes_its_share_and_each_screen_its_time():
    """Red all the time for a quarter of the day, white for the rest: 0.3 / 4 + 3 / 4 of what white takes."""
    oled = device("color-oled-128x128")
    day = a_day(screens=(Stood("screen-1", DAY / 4, (1.0, 0.0, 0.0)), Stood("screen-2", 3 * DAY / 4, (1.0, 1.0, 1.0))))
    assert light_ma(day, oled, Program(), EnergyPlan()) == pytest.approx(90 * (0.3 / 4 + 3 / 4))
    assert white_share((0.0, 0.0, 0.5)) == pytest.approx(0.225)
    assert white_share((0.2, 0.2, 0.2), (0.5, 0.5, 1.0)) == pytest.approx(0.2)


@pytest.mark.parametrize(("duty", "ma"), [(0.0, 0.0), (0.3, 18.0), (1.0, 60.0)])
def test_a_backlight_at_three_duties(duty, ma):
    tft = device("tft-320x240-touch")
    assert light_ma(a_day(), tft, Program(night_slower=1), EnergyPlan(light=duty, night_light=duty)) == pytest.approx(ma)


def test_light_by_night_and_by_rules():
    """A third of the day is night, at a tenth of the light; rules have it at half for half of the time."""
    tft, program = device("tft-320x240-touch"), Program(night_from_min=1320, night_to_min=360)
    assert night_share(program) == pytest.approx(1 / 3)
    assert night_share(Program(night_from_min=60, night_to_min=60)) == 0
    plan = EnergyPlan(night_light=0.1)
    assert light_ma(a_day(), tft, program, plan) == pytest.approx(60 * (2 / 3 + 0.1 / 3))
    ruled = a_day(light=((50, DAY / 2), (100, DAY / 2)))
    assert light_ma(ruled, tft, program, EnergyPlan()) == pytest.approx(60 * 0.75)
    assert ruled.worn_light(1.5) == pytest.approx((0.5**1.5 + 1) / 2)


def test_mean_light_of_a_glass():
    import numpy as np

    mono = catalogue()["mono-oled-128x64"]
    assert channel_levels(np.array([[0, 1], [1, 1]], np.uint8), mono) == pytest.approx((0.75,))
    color = catalogue()["color-oled-128x128"]
    assert channel_levels(np.array([[[255, 0, 188]]], np.uint8), color) == pytest.approx((1.0, 0.0, 0.5029), abs=1e-3)


# Without a cell


def test_from_the_wall():
    """20 mA at 5 V are 0.1 W; at 80 % 0.125 W, with 0.05 W for itself 0.175 W: 4.2 Wh a day."""
    assert Wall(0.8, 50.0).wh_a_day(20.0, 5.0) == pytest.approx(4.2)
    usb = cell_of(EnergyPlan("usb"), device())
    assert (usb.volts, usb.self_discharge_ma, EnergyPlan("usb").is_wall, EnergyPlan().is_wall) == (5.0, 0.0, True, False)


# Charging


def test_a_month_in_the_sun_by_hand():
    """500 mW in 2 h of sun at 75 % and 80 % into a cell of 3.7 V: 162.16 mAh a day, a tenth of it on dark days."""
    sun = Topping("sun", 500, 2, 3, efficiency=0.8)
    assert sun.income_mah(0, 3.7) == pytest.approx(0.75 * 500 * 2 * 0.8 / 3.7)
    assert sun.income_mah(13, 3.7) == pytest.approx(sun.income_mah(12, 3.7) / 10)  # 3 dark days from day 13 on, counted from 0
    assert sun.income_mah(16, 3.7) == sun.income_mah(0, 3.7)
    month = month_of(sun, 300, 100, 3.7)
    income = sun.income_mah(0, 3.7)
    assert month.levels[1] == 300  # full again, what is more is lost
    assert min(month.levels) == pytest.approx(300 - 3 * (100 - income / 10))
    assert (month.lasts, month.empty_on) == (True, None)
    assert month.spent_mah == pytest.approx(3000)


def test_it_runs_empty_and_what_would_do():
    """Nothing comes in: 300 mAh are gone on day 4 at 90 a day; exactly used up is not empty."""
    none = month_of(Topping(), 300, 90, 3.7)
    assert (none.empty_on, none.lasts) == (4, False)
    assert month_of(Topping(), 300, 100, 3.7).empty_on == 4
    assert month_of(Topping(), 3000, 100, 3.7).empty_on is None
    weak = Topping("sun", 100, 2, 0)
    assert not month_of(weak, 300, 90, 3.7).lasts
    needed = 90 / (0.75 * 2 * 0.8 / 3.7)
    assert least_peak_mw(weak, 300, 90, 3.7, (100, needed - 1, needed + 1, 1000)) == needed + 1
    assert least_peak_mw(weak, 300, 9000, 3.7, (100, 1000)) is None


def test_a_plug_once_a_week():
    """400 mA for 2 h at 80 % every seventh day: 640 mAh, four times in 30 days."""
    plug = Topping("USB", charge_ma=400, plugged_h=2, every_days=7, efficiency=0.8)
    assert [day for day in range(DAYS) if plug.income_mah(day, 3.7)] == [6, 13, 20, 27]
    assert month_of(plug, 1000, 50, 3.7).income_mah == pytest.approx(2560)


# Changes and other panels


@pytest.fixture
def slip():
    """A clock on e-paper: 288 updates a day of 400 ms and 8 mJ, the board awake for 1 s of each."""
    passport = catalogue()["epaper-296x128-black-white"]
    made = Device(passport, 0, boards()["low-power"], "spi", 4_000_000, Supply("cell", 3.7, 1200, 0.8))
    return made, a_day(busy_ms=288_000, refresh_ms=288 * 400, steps=288, refreshed=((1, 288),))


def test_the_panel_takes_what_its_refreshes_take(slip):
    """288 refreshes of 8 mJ are 2.304 J: 0.194 mAh at 3.3 V; each mode counts as often as it was taken."""
    dev, day = slip
    found = reckoned(EnergyPlan(regulator=NONE), cell_of(EnergyPlan(), dev), day, dev, Program(refresh=1))
    taken = {one.name: one.mah for one in found.taken}
    assert taken["the panel refreshes"] == pytest.approx(2304 / 3600 / 3.3, rel=1e-6)
    mixed = replace(day, refreshed=((0, 12), (1, 276)), stretches=(Stretch(0, DAY, 288_000, 0, 0, 0, 12 * 2000 + 276 * 400),))
    both = reckoned(EnergyPlan(regulator=NONE), cell_of(EnergyPlan(), dev), mixed, dev, Program(refresh=1))
    assert {one.name: one.mah for one in both.taken}["the panel refreshes"] == pytest.approx((12 * 26 + 276 * 8) / 3600 / 3.3)


def test_what_changes_bring(slip):
    dev, day = slip
    plan, program = EnergyPlan(sleeps=True), Program(refresh=1)
    gains = {one.words: one for one in gains_of(plan, cell_of(plan, dev), day, dev, program)}
    now = reckoned(plan, cell_of(plan, dev), day, dev, program)
    rhythm = rhythm_of(now, day, plan)
    rarer = gains["drawing every 10 min instead of every 5 min"]
    assert rarer.average_ma == pytest.approx(rhythm.idle_ma + rhythm.update_mc / 600)
    assert rarer.days > now.days
    assert list(gains.values()) == sorted(gains.values(), key=lambda one: one.average_ma)
    assert "sleeping while the panel refreshes" in gains
    assert all(one.average_ma < now.average_ma for one in gains.values())
    waking = replace(plan, sleeps=False)
    told = [one.words for one in gains_of(waking, cell_of(waking, dev), day, dev, program)]
    assert told[0] == "putting the board to sleep where it has nothing to do"
    powered = Program(refresh=1, cleaning=Cleaning(between="powered"))
    assert any("panel to sleep" in one.words for one in gains_of(plan, cell_of(plan, dev), day, dev, powered))


def test_what_was_measured_stands_in_place_of_what_is_typical(slip):
    """0.05 mA at rest and 120 mC every 300 s: 0.45 mA, 88.9 days, whatever the schedule says."""
    dev, day = slip
    plan = EnergyPlan(measured=Measured(0.05, 120.0, 4.0, 300.0, "trace.csv"), self_discharge=0.0, loads=(Load("radio", 80.0),))
    found = reckoned(plan, cell_of(plan, dev), day, dev, Program())
    assert (found.average_ma, found.days) == (pytest.approx(0.45), pytest.approx(88.89, abs=0.01))
    assert rhythm_of(found, day, plan).crossing_s == pytest.approx(2400)
    assert all("measured" in one.name or one.name == "self-discharge" for one in found.taken)


def test_the_same_screens_on_other_panels(slip):
    dev, day = slip
    kinds = one_of_each(catalogue().values(), dev.passport)
    assert set(kinds) == {"e-paper, colours", "OLED, one colour", "OLED, colours", "TFT"}
    assert kind_of(dev.passport) == "e-paper, black and white"
    assert all(not one.module.bare and one.scan is None for one in kinds.values())
    tft = on_another(kinds["TFT"], EnergyPlan(), cell_of(EnergyPlan(), dev), day, dev, Program(refresh=1))
    lit = {one.name: one.mah for one in tft.balance.taken}
    assert lit["light"] == pytest.approx(24 * kinds["TFT"].power.backlight_ma, rel=1e-6)
    assert tft.updates_a_day == 0
    colours = on_another(kinds["e-paper, colours"], EnergyPlan(), cell_of(EnergyPlan(), dev), day, dev, Program())
    assert colours.updates_a_day == 288
    busy = a_day(busy_ms=1000, steps=86_400)
    slow = on_another(kinds["e-paper, colours"], EnergyPlan(), cell_of(EnergyPlan(), dev), busy, dev, Program())
    assert slow.updates_a_day == 86_400 // max(60, kinds["e-paper, colours"].update_pause_s)


def test_every_cell_of_the_catalogue_is_whole():
    for cell in CELLS.values():
        assert cell.full_v >= cell.volts
        assert cell.share_until(0.0) == pytest.approx(cell.usable_share)
        assert 0 < cell.usable_mah(celsius=-10) < cell.usable_mah() < cell.capacity_mah
