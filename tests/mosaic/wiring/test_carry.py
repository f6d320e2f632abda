"""What of a pin plan still applies on other parts."""

from dataclasses import replace

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.panels.loader import catalogue as panels
from mosaic.wiring.carry import carry
from mosaic.wiring.plan import BusDevice
from mosaic.wiring.proposal import propose
from mosaic.wiring.signals import signals_of

SMALL, CLASSIC, LOW = (boards()[slug] for slug in ("small", "classic-5v", "low-power"))
OLED, LARGE, SHORT = (panels()[slug] for slug in ("mono-oled-128x64", "mono-oled-128x64-large", "mono-oled-128x32"))


def carried(plan, panel, board, kind, *, was=(OLED, SMALL, "i2c")):
    before = signals_of(was[0], was[2])
    proposed = propose(panel, board, kind).plan
    return carry(plan, before, signals_of(panel, kind), (was[1], board), (was[2], kind), proposed)


@pytest.fixture
def plan():
    made = propose(OLED, SMALL, "i2c").plan
    return replace(made, devices=(BusDevice("clock", 0x68),), program="#define SDA 4", pull_up_ohm=2200.0)


def test_a_like_panel_keeps_everything(plan):
    other, lost = carried(plan, SHORT, SMALL, "i2c")
    assert lost == ()
    assert [(w.signal, w.to) for w in other.wires] == [
        (w.signal, w.to) for w in plan.wires if w.signal in {"SDA", "SCL", "VCC", "GND"}
    ]
    assert (other.devices, other.program, other.pull_up_ohm) == (plan.devices, plan.program, 2200.0)


def test_another_link_keeps_what_is_no_line_of_the_bus(plan):
    other, lost = carried(plan, LARGE, SMALL, "spi", was=(LARGE, SMALL, "i2c"))
    assert "clock" in lost
    assert other.devices == ()
    assert other.program == "#define SDA 4"
    labels = [wire.signal for wire in other.wires]
    assert labels == [signal.label for signal in signals_of(LARGE, "spi")]
    ends = [wire.to for wire in other.wires if wire.to and not wire.to.startswith(("tied", "GND", "3V", "5V"))]
    assert len(ends) == len(set(ends))


def test_another_board_names_the_lines_it_has_no_pins_for(plan):
    other, lost = carried(plan, OLED, LOW, "i2c")
    assert lost == ("SCL on A5", "SDA on A4")
    assert (other.to_of("SDA"), other.to_of("SCL"), other.to_of("VCC")) == ("SDA", "SCL", "3V3")


def test_a_pin_that_has_only_its_name_in_common_does_not_stay(plan):
    other_pins = tuple(replace(pin, roles=("gpio", "analog")) if pin.name == "D4" else pin for pin in CLASSIC.pins)
    assert other_pins != CLASSIC.pins
    other, lost = carried(plan.with_wire("SDA", "D4"), OLED, replace(CLASSIC, pins=other_pins), "i2c")
    assert (other.to_of("SDA"), lost) == ("A4", ("SDA on D4",))


def test_a_pin_that_both_boards_have_stays(plan):
    other, lost = carried(plan.with_wire("SDA", "D4"), OLED, CLASSIC, "i2c")
    assert (other.to_of("SDA"), other.to_of("SCL"), lost) == ("D4", "A5", ())


def test_a_line_that_is_new_leaves_those_that_stay_alone():
    tft = panels()["tft-240x240-round"]
    reset = next(s for s in signals_of(tft, "spi") if s.function == "reset")
    plan = propose(OLED, CLASSIC, "i2c").plan.with_wire(reset.label, "D13")  # where the proposal has the clock
    proposed = propose(tft, CLASSIC, "spi").plan
    other, _ = carry(plan, (reset,), signals_of(tft, "spi"), (CLASSIC, CLASSIC), ("i2c", "spi"), proposed)
    ends = [wire.to for wire in other.wires if wire.to not in ("GND", "5V", "3V3", "")]
    assert other.to_of(reset.label) == "D13"
    assert "D13" in [wire.to for wire in proposed.wires]
    assert len(ends) == len(set(ends))


def test_a_select_line_on_a_pin_that_is_gone_is_left_open():
    tft = panels()["tft-240x240-round"]
    made = replace(propose(tft, SMALL, "spi").plan, devices=(BusDevice("card", select="D9"),))
    here, _ = carried(made, tft, CLASSIC, "spi", was=(tft, SMALL, "spi"))
    there, _ = carried(made, tft, LOW, "spi", was=(tft, SMALL, "spi"))
    assert (here.devices[0].select, there.devices[0].select) == ("D9", "")
    assert (here.shifter, there.shifter) == (True, made.shifter)  # 5 V go into 3.3 V inputs
