"""Findings on serial panels, each broken and mended."""

from dataclasses import replace

import pytest

from mosaic.findings.serial import SerialSubject, serial_findings
from mosaic.serial.memory import Entry, MemoryMap, automatic
from mosaic.serial.plan import SerialPlan
from mosaic.serial.slots import Placed, SlotPlan, Thing
from mosaic.serial.template import Template
from mosaic.values.value import Source, Value
from tests.mosaic.screens.made_up import device

SLOW = Source(every_ms=10_000)
TIDE = Value("v1", "tide", decimals=1, low=-50, high=680, source=SLOW)
WIND = Value("v2", "wind", low=0, high=60, source=SLOW)
NAME = Value("v3", "name", "text", most_bytes=20, source=SLOW)
RAIN = Value("v4", "rain", low=0, high=90, source=SLOW)
ALL = (TIDE, WIND, NAME, RAIN)


def told(plan=None, values=ALL, baud=115_200, **more):
    dev = replace(device("serial-tft-320x240"), link_kind="uart", clock_hz=baud)
    return serial_findings(SerialSubject(dev, plan or SerialPlan(automatic(values, MemoryMap())), values, **more))


def ids(*args, **more):
    return [one.id for one in told(*args, **more)]


def mapped(*entries, **more):
    return SerialPlan(MemoryMap(entries, **more))


def test_what_is_placed_by_itself_has_none():
    assert ids(shown=frozenset({"v1", "v3"})) == []


def test_overlaps():
    assert ids(mapped(Entry("v1", 5, decimals=1), Entry("v2", 5))) == ["serial.overlap"]
    assert ids(mapped(Entry("v1", 5, decimals=1), Entry("v2", 6))) == []
    assert "tide and wind overlap at 0005h" in told(mapped(Entry("v1", 5, decimals=1), Entry("v2", 5)))[0].what


@pytest.mark.parametrize(("start", "unit", "found"), [(5, "bytes", True), (6, "bytes", False), (5, "words", False)])
def test_odd_bytes(start, unit, found):
    assert (ids(mapped(Entry("v1", start, decimals=1), unit=unit)) == ["serial.odd-alignment"]) == found


@pytest.mark.parametrize(
    ("unit", "step", "found"), [("words", 2, True), ("words", 1, False), ("bytes", 1, True), ("bytes", 2, False)]
)
def test_words_taken_for_bytes(unit, step, found):
    plan = mapped(Entry("v1", 0, decimals=1), Entry("v2", step), Entry("v4", 2 * step), unit=unit)
    assert ("serial.unit-mistaken" in ids(plan)) == found


@pytest.mark.parametrize(("size", "found"), [(20, []), (18, ["serial.text-overrun"])])
def test_texts_that_are_too_long(size, found):
    assert ids(mapped(Entry("v3", 0, "text", bytes=size))) == found


@pytest.mark.parametrize(
    ("decimals", "step", "found"),
    [(1, 1, []), (0, 1, ["serial.step-lost"]), (0, 10, []), (0, 11, ["serial.step-lost"]), (2, 1, ["serial.ten-times"])],
)
def test_decimals(decimals, step, found):
    assert ids(mapped(Entry("v1", 0, decimals=decimals)), (replace(TIDE, step=step), *ALL[1:])) == found


@pytest.mark.parametrize(("high", "found"), [(32_767, []), (32_768, ["serial.range-overflows"])])
def test_ranges(high, found):
    value = Value("v1", "tide", low=0, high=high, source=SLOW)
    findings = told(mapped(Entry("v1", 0)), (value,))
    assert [one.id for one in findings] == found
    assert not found or findings[0].fix.changes == {"entry": "v1", "kind": "u32"}


def test_values_and_places_without_each_other():
    assert ids(mapped(Entry("v1", 0, decimals=1)), shown=frozenset({"v1", "v2"})) == ["serial.no-address"]
    assert ids(mapped(Entry("v1", 0, decimals=1)), shown=frozenset({"v1"})) == []
    assert ids(mapped(Entry("v9", 0))) == ["serial.no-value"]


def test_templates_that_cannot_be_told_apart():
    plan = replace(mapped(Entry("v1", 0, decimals=1)), template=Template(header=""))
    assert ids(plan) == ["serial.template", "serial.template"]


def test_a_busy_line_and_what_slows_it_down():
    fast = replace(TIDE, source=Source(every_ms=10))
    plan = SerialPlan(MemoryMap((Entry("v1", 0, decimals=1),)))
    finding = told(plan, (fast,), 9600)[0]
    assert (finding.id, finding.severity) == ("serial.line-too-busy", "must fix")
    assert finding.fix.changes["every_ms"] % 10 == 0
    slow = SerialPlan(MemoryMap((replace(plan.memory.entries[0], every_ms=finding.fix.changes["every_ms"]),)))
    assert ids(slow, (fast,), 9600) == []


@pytest.mark.parametrize(("every_ms", "found"), [(15, []), (14, ["serial.line-too-busy"])])
def test_a_line_that_is_seven_tenths_full(every_ms, found):
    """Ten bytes of ten bits at 9,600 bit/s are 10.4 ms."""
    plan = SerialPlan(MemoryMap((Entry("v1", 0, decimals=1),)))
    assert ids(plan, (replace(TIDE, source=Source(every_ms=every_ms)),), 9600) == found


@pytest.mark.parametrize(("count", "told_of"), [(4, "v5, v6, v7, v8"), (5, "v5, v6, v7, v8 and 1 more")])
def test_values_without_a_place_are_named_up_to_four(count, told_of):
    values = tuple(Value(f"v{n}", f"v{n}", source=SLOW) for n in range(5, 5 + count))
    (finding,) = told(mapped(), values, shown=frozenset(one.id for one in values))
    assert finding.what == f"Shown without an address: {told_of}"


@pytest.mark.parametrize(("clock", "divider", "found"), [(16_000_000, 16, True), (16_000_000, 8, False), (0, 16, False)])
def test_clocks(clock, divider, found):
    plan = replace(mapped(Entry("v1", 0, decimals=1)), board_clock_hz=clock, divider=divider)
    assert (ids(plan) == ["serial.clocks-apart"]) == found


@pytest.mark.parametrize("rate", [9600, 19_200, 38_400, 57_600, 76_800, 115_200, 250_000, 500_000, 921_600])
def test_a_usual_rate_near_by_that_the_board_can_make(rate):
    """A clock of sixteen times a rate makes it, and what is 15 % more with an error of a seventh."""
    plan = replace(mapped(Entry("v1", 0, decimals=1)), board_clock_hz=16 * rate, divider=16)
    (finding,) = told(plan, baud=rate * 115 // 100)
    assert finding.what.endswith("an error of 13.0%")
    assert f" {rate:,} bit/s would do." in finding.why


def test_slots():
    thing = Thing("picture-1", "Boat", 320, 240, 153_600)
    plan = replace(mapped(Entry("v1", 0, decimals=1)), slots=SlotPlan((Placed("picture-1", 30), Placed("picture-9", 1))))
    assert ids(plan, things=(thing,)) == ["serial.slot", "serial.slot-gone"]
    assert ids(plan) == []
    many = replace(plan, slots=SlotPlan(tuple(Placed(f"picture-{n}", 30 + n) for n in range(6))))
    assert len(ids(many, things=tuple(replace(thing, ref=f"picture-{n}") for n in range(6)))) == 4  # as many as one can read
