"""The check sheet: what is to be expected, worked by hand."""

from dataclasses import replace

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.panels.loader import catalogue as panels
from mosaic.wiring.checks import checks_of
from mosaic.wiring.plan import BusDevice
from tests.mosaic.wiring.test_wiring import FIVE_VOLTS, OLED, PAPER, replanned, rewired


def sheet(device):
    return {c.id: c for c in checks_of(device.passport, device.board, device.link_kind, device.wiring)}


def test_a_plan_is_measured_from_the_wires_to_the_first_current():
    checks = sheet(PAPER)
    assert [c.when for c in checks.values()] == sorted(
        (c.when for c in checks.values()), key=("without power", "board alone", "first power").index
    )
    assert checks["short-VCC"].where == "VCC to GND, at the panel"
    assert not checks["short-VCC"].holds(12)
    assert checks["short-VCC"].holds(1e6)
    assert checks["wire-CS"].where == "CS of the panel to 4 of the board"
    assert checks["wire-CS"].holds(0.3)
    assert not checks["wire-CS"].holds(50)
    assert sum(c.startswith("wire-") for c in checks) == 8


def test_voltages():
    checks = sheet(PAPER)
    # 3.3 V and 5 % of it; high from 0.7 x 3.3 = 2.31 V
    assert (checks["rail-VCC"].low, checks["rail-VCC"].high) == pytest.approx((3.135, 3.465))
    assert (checks["rest-RST"].low, checks["rest-RST"].high) == pytest.approx((2.31, 3.465))
    assert not checks["rest-RST"].holds(0.0)
    # A 5 V board is measured behind its shifter; without one its own level stands there.
    assert sheet(FIVE_VOLTS)["rest-RES"].high == pytest.approx(3.465)
    assert sheet(replanned(FIVE_VOLTS, shifter=False))["rest-RES"].high == pytest.approx(5.25)


def test_pull_ups_count_in_parallel():
    checks = sheet(replanned(OLED, devices=(BusDevice("air sensor", 0x76, pull_up_ohm=4700.0),)))
    # two of 4,700 ohm are 2,350, give or take 15 %
    assert (checks["pull-up-SDA"].low, checks["pull-up-SDA"].high) == pytest.approx((1997.5, 2702.5))
    assert "pull-up-SDA" not in sheet(replanned(OLED, panel_pull_up_ohm=0.0))


def test_currents_and_words():
    # 2 mA dark and 24 all lit, 9 mA of the board: 35, and half as much again
    assert sheet(OLED)["first-current"].high == pytest.approx(52.5)
    assert sheet(OLED)["first-current"].expected == "0.1 to 52.5 mA"
    assert sheet(OLED)["short-VCC"].expected == "at least 500 ohm"
    assert sheet(OLED)["wire-SDA"].expected == "at most 2 ohm"


def test_the_first_current_counts_the_light_too():
    """2 mA dark, 24 all lit, 60 of a backlight, 9 of the board: 95, and half as much again."""
    power = replace(OLED.passport.power, base_ma=2.0, full_on_ma=24.0, backlight_ma=60.0)
    lit = replace(OLED, passport=replace(OLED.passport, power=power), board=replace(OLED.board, active_ma=9.0))
    assert sheet(lit)["first-current"].high == pytest.approx(142.5)


def test_straps_are_measured_where_there_is_a_choice():
    assert sheet(OLED)["straps"].where == "Across each strap that chooses I2C"
    assert "straps" not in sheet(PAPER)


def test_what_goes_nowhere_is_not_measured():
    assert "wire-RST" not in sheet(rewired(PAPER, RST=""))
    assert "rest-RST" not in sheet(rewired(PAPER, RST="tied high"))


@pytest.mark.parametrize("slug", panels())
def test_every_panel_has_its_sheet(slug):
    from mosaic.wiring.proposal import propose

    passport = panels()[slug]
    board = boards()["wireless-large"]
    kind = passport.links[0].kind
    checks = checks_of(passport, board, kind, propose(passport, board, kind).plan)
    assert len({c.id for c in checks}) == len(checks)
    assert checks[-1].id == "first-current"
