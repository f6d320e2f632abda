"""Energy by hand: continuous loads, updates and idling, regulators, self-discharge; and sums that always hold."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.refresh.energy.balance import Rhythm, State, balance, curve, hours_of
from mosaic.refresh.energy.cells import CELLS, CellKind
from mosaic.refresh.energy.supply import Regulator

CELL = CellKind("mine", "1,200 mAh", 3.7, 1200, 3.3, 0.8, 1000, 0.0, 0.7, "")
NONE = Regulator("none")


def test_updates_and_idling():
    """Idle 0.05 mA; 30 mA for 4 s every 5 min are 0.4 mA: 0.45 mA together, 2,133 h of 960 mAh, 88.9 days."""
    share = 4 / 300
    found = balance([State("update", share, (("all", 30.05),)), State("asleep", 1 - share, (("all", 0.05),))], NONE, CELL)
    assert found.average_ma == pytest.approx(0.45)
    assert found.hours == pytest.approx(2133.33, abs=0.01)
    assert found.days == pytest.approx(88.9, abs=0.02)


@pytest.mark.parametrize(("every_s", "days"), [(300, 88.89), (600, 160.0), (1e12, 800.0)])
def test_rarer_updates(every_s, days):
    rhythm = Rhythm(0.05, 120.0)
    assert curve(rhythm, 960, 0.0, [every_s]) == [(every_s, pytest.approx(days, abs=0.01))]
    assert rhythm.crossing_s == pytest.approx(2400)


def test_at_the_crossing_idling_and_updating_take_the_same():
    rhythm = Rhythm(0.05, 120.0)
    assert rhythm.average_ma(rhythm.crossing_s) == pytest.approx(2 * rhythm.idle_ma)
    assert Rhythm(0.0, 1.0).crossing_s == float("inf")


def test_self_discharge():
    """2.5 % a month of 1,200 mAh are 0.041 mA."""
    cell = CELLS["pouch-1200"]
    assert cell.self_discharge_ma == pytest.approx(0.04107, abs=1e-5)
    found = balance([State("asleep", 1.0, (("all", 0.05),))], NONE, cell)
    assert found.hours == pytest.approx(960 / (0.05 + 0.04107), rel=1e-4)
    assert found.taken[0].name == "all"
    assert sum(one.share for one in found.taken) == pytest.approx(1.0)


def test_a_linear_regulator_passes_the_current_and_a_switching_one_the_power():
    linear = Regulator("linear", 3.3, 50.0)
    assert linear.input_ma(20.0, 4.2) == pytest.approx(20.05)
    switching = Regulator("switching", 3.3, 20.0, efficiency=((0.0, 0.85),))
    assert switching.input_ma(20.0, 4.2) == pytest.approx(3.3 * 20 / 0.85 / 4.2 + 0.02)
    assert switching.input_ma(20.0, 3.3) == pytest.approx(20 / 0.85 + 0.02)
    assert NONE.input_ma(20.0, 4.2) == 20.0
    assert linear.input_ma(0.0, 0.9) == pytest.approx(0.05)


@pytest.mark.parametrize(("load", "share"), [(0.0, 0.5), (0.01, 0.5), (1.0, 0.8), (25.5, 0.84), (50.0, 0.88), (900.0, 0.88)])
def test_efficiency_by_load(load, share):
    assert Regulator("switching").efficiency_at(load) == pytest.approx(share)


@pytest.mark.parametrize(("volts", "works"), [(3.45, True), (3.44, False)])
def test_a_linear_regulator_needs_its_drop(volts, works):
    assert (Regulator("linear", 3.3, drop_v=0.15).why_not(volts) == "") == works
    assert Regulator("switching").why_not(2.0) == ""


def test_a_coin_cell_sags_under_a_pulse():
    states = [State("update", 0.01, (("radio", 10.1),)), State("asleep", 0.99, (("all", 0.001),))]
    assert "sags above 10 mA" in balance(states, NONE, CELLS["coin-20"]).why_not
    states[0] = State("update", 0.01, (("radio", 10.0),))
    assert balance(states, NONE, CELLS["coin-20"]).why_not == ""


def test_cold_takes_its_share():
    states = [State("asleep", 1.0, (("all", 1.0),))]
    warm, cold = (balance(states, NONE, CELLS["pouch-1200"], celsius=celsius) for celsius in (20, -10))
    assert cold.hours == pytest.approx(0.7 * warm.hours)
    assert warm.least_hours < warm.hours < warm.most_hours


def test_at_least_eight_kinds_of_cells_with_their_cautions():
    assert len(CELLS) >= 8
    assert all(cell.caution for cell in CELLS.values())
    assert all("shorted" in cell.caution for slug, cell in CELLS.items() if slug.startswith(("pouch", "round")))


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: State("awake", 0.5, (("radio", -1.0),)), "radio: -1 mA in “awake” is negative"),
        (lambda: State("awake", 1.5, ()), "takes 150% of the time"),
        (lambda: balance([State("awake", 0.5, ())], NONE, CELL), "take 50.00% of the time"),
        (lambda: Regulator().input_ma(-1, 4.0), "a load of -1 mA"),
        (lambda: Regulator().input_ma(1, 0.0), "from 0 V cannot be"),
        (lambda: Regulator("switching", efficiency=((1.0, 1.2),)), "an efficiency of 120% at 1 mA cannot be"),
        (lambda: Regulator("switching", efficiency=((1.0, 0.0),)), "an efficiency of 0% at 1 mA cannot be"),
        (lambda: Regulator("switching", efficiency=()), "by ascending load"),
        (lambda: Regulator("switching", efficiency=((5.0, 0.8), (1.0, 0.8))), "by ascending load"),
    ],
)
def test_what_cannot_be_is_said(make, words):
    with pytest.raises((BadValueError, BadDescriptionError), match=words):
        make()


def test_nothing_that_draws_lasts_for_ever():
    assert hours_of(960, 0.0) == float("inf")


@given(st.data())
@settings(max_examples=150, deadline=None)
def test_charge_is_conserved(data):
    """Whatever the states are: by consumer, with the regulator and self-discharge, a day takes what the states take."""
    current = st.floats(0, 400, allow_nan=False)
    count = data.draw(st.integers(1, 4))
    weights = [data.draw(st.integers(1, 1000)) for _ in range(count)]
    states = [
        State(f"s{n}", weight / sum(weights), tuple((name, data.draw(current)) for name in ("board", "panel", "radio")))
        for n, weight in enumerate(weights)
    ]
    kind = data.draw(st.sampled_from(["none", "linear", "switching"]))
    regulator = Regulator(kind, 3.3, data.draw(st.floats(0, 200)))
    cell = data.draw(st.sampled_from(list(CELLS.values())))
    found = balance(states, regulator, cell)
    in_states = 24 * sum(state.share * ma for state, ma in found.states)
    assert in_states == pytest.approx(24 * found.average_ma)
    assert sum(one.mah for one in found.taken) == pytest.approx(in_states + 24 * cell.self_discharge_ma, rel=1e-6, abs=1e-6)
    assert found.least_hours <= found.hours <= found.most_hours
