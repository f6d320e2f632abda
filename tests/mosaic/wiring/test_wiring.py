"""Wiring: pull-ups worked by hand, proposals for every pair, and each rule with a plan that breaks it."""

from dataclasses import replace

import pytest

from mosaic.boards.board import BoardPin, shared_links, usual_clock_hz
from mosaic.boards.board import catalogue as boards
from mosaic.device.budget import Content, budgets
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.findings.rules import device_findings
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import to_record
from mosaic.panels.loader import catalogue as panels
from mosaic.panels.wire import frame_parts
from mosaic.wiring.checks import checks_of
from mosaic.wiring.parts import extra_parts
from mosaic.wiring.plan import BusDevice, PinPlan, check_names
from mosaic.wiring.proposal import grudge, propose
from mosaic.wiring.pullups import PullUpRange, in_parallel, most_capacitance_pf, pull_up_range, to_add
from mosaic.wiring.signals import Signal, signals_of
from mosaic.wiring.sources import c_header

P, B = panels(), boards()


class TestPullUps:
    # Least (3.3 - 0.4) / 3 mA = 966.7 ohm, at 1 MHz / 20 mA = 145; most t / (0.8473 C).
    @pytest.mark.parametrize(
        ("clock", "pf", "least", "most"),
        [
            (100_000, 400, 966.7, 2950.6),  # 1000 ns
            (400_000, 100, 966.7, 3540.7),  # 300 ns
            (100_001, 100, 966.7, 3540.7),
            (400_001, 100, 145.0, 1416.3),
            (400_000, 400, 966.7, 885.2),  # no solution
            (1_000_000, 100, 145.0, 1416.3),  # 120 ns
            (1_000_000, 550, 145.0, 257.5),
        ],
    )
    def test_range(self, clock, pf, least, most):
        wanted = pull_up_range(clock, 3.3, pf)
        assert (wanted.least_ohm, wanted.most_ohm) == pytest.approx((least, most), abs=0.1)
        assert wanted.has_solution == (least <= most)

    def test_modules_count_in_parallel(self):
        # 1 / (1/4700 + 1/4700 + 1/10000) = 1902.8
        assert in_parallel(4700, 4700, 10_000, 0) == pytest.approx(1902.8, abs=0.1)
        assert in_parallel(0, 0) == float("inf")

    def test_what_to_add(self):
        wanted = pull_up_range(400_000, 3.3, 100)  # 967 to 3541
        assert to_add(4700, wanted) == 10_000  # 3197 together
        assert to_add(2200, wanted) == 0
        assert to_add(float("inf"), wanted) == 3300
        assert to_add(500, wanted) is None

    @pytest.mark.parametrize("ohm", [1000, 1500, 2200, 2700, 3300, 4700, 6800, 10_000])
    def test_what_is_added_is_a_usual_value(self, ohm):
        assert to_add(float("inf"), PullUpRange(ohm, ohm)) == ohm
        assert to_add(float("inf"), PullUpRange(ohm + 1, ohm + 1)) is None

    def test_limits(self):
        assert [most_capacitance_pf(hz) for hz in (100_000, 400_000, 1_000_000)] == [400, 400, 550]
        with pytest.raises(BadValueError, match="above 1 MHz"):
            pull_up_range(3_400_000, 3.3, 100)


def device(panel: str, board: str, link: str | None = None, **changes) -> Device:
    passport = P[panel]
    options = {o.kind: o for o in shared_links(B[board], passport.links)}
    option = options[link] if link else next(iter(options.values()))
    plan = propose(passport, B[board], option.kind).plan
    made = Device(passport, passport.rotation, B[board], option.kind, usual_clock_hz(B[board], option), wiring=plan)
    return replace(made, **changes)


def found(made: Device) -> dict[str, object]:
    frame = frame_parts(made.passport, made.turn, bytes(made.passport.frame_bytes))
    findings = device_findings(DeviceSubject(made, budgets(made, Content((), frame, 0.2))))
    return {f.id.removeprefix("wiring."): f for f in findings if f.id.startswith("wiring.")}


class TestProposal:
    @pytest.mark.parametrize("board", B)
    def test_every_pair_that_can_work_needs_no_fixing(self, board):
        for panel in P.values():
            for option in shared_links(B[board], panel.links):
                proposal = propose(panel, B[board], option.kind)
                must = {k: f for k, f in found(device(panel.slug, board, option.kind)).items() if f.severity == "must fix"}
                if proposal.hurdles:
                    assert "cannot-work" in must, (panel.slug, option.kind)
                else:
                    assert not must, (panel.slug, option.kind, must)

    @pytest.mark.parametrize(
        ("panel", "board", "link", "reason"),
        [
            ("mono-oled-128x64-bare", "low-power", "spi", "it needs a driver board"),
            ("amoled-466x466-round", "small", "qspi", "this board has no quad SPI"),
            ("tft-800x480-parallel", "low-power", "parallel16", "no pin is left for"),
        ],
    )
    def test_what_cannot_work_says_why(self, panel, board, link, reason):
        assert reason in " ".join(propose(P[panel], B[board], link).hurdles)

    def test_a_touch_chip_shares_the_bus(self):
        plan = propose(P["tft-320x240-touch"], B["wireless"], "spi").plan
        assert plan.to_of("T_CLK") == plan.to_of("SCK") != ""
        assert plan.to_of("T_DIN") == plan.to_of("SDI")
        assert plan.to_of("T_CS") not in ("", plan.to_of("CS"))
        assert plan.to_of("T_IRQ") in ("36", "39", "34", "35")  # an input will do

    def test_a_hungry_panel_is_fed_past_the_regulator(self):
        assert propose(P["mono-oled-128x64"], B["small"], "i2c").plan.to_of("VCC") == "3V3"
        assert propose(P["mono-oled-128x64-large"], B["small"], "i2c").plan.to_of("VCC") == "5V"

    def test_lines_of_a_group(self):
        labels = [s.label for s in signals_of(P["rgb-tft-800x480"], "rgb") if s.function == "data"]
        assert labels == ["R3", "R4", "R5", "R6", "R7", "G2", "G3", "G4", "G5", "G6", "G7", "B3", "B4", "B5", "B6", "B7"]


def rewired(made: Device, **wires: str) -> Device:
    plan = made.wiring
    for signal, to in wires.items():
        plan = plan.with_wire(signal, to)
    return replace(made, wiring=plan)


def replanned(made: Device, **changes) -> Device:
    return replace(made, wiring=replace(made.wiring, **changes))


PAPER = device("epaper-296x128-black-white", "wireless")
TOUCH = device("tft-320x240-touch", "wireless")
OLED = device("mono-oled-128x64", "small", "i2c")
FIVE_VOLTS = device("tft-240x240-round", "classic-5v")
SERIAL = device("serial-tft-320x240", "wireless")
AMOLED = device("amoled-466x466-round", "wireless-large")
SENSOR = BusDevice("air sensor", 0x3C)

# A plan that breaks the rule, the finding it gives, and its severity.
BROKEN = {
    "open-reset": (rewired(PAPER, RST=""), "must fix"),
    "open-select": (rewired(PAPER, CS=""), "must fix"),
    "open-data-command": (rewired(PAPER, DC=""), "must fix"),
    "open-busy": (rewired(PAPER, BUSY=""), "must fix"),
    "open-ground": (rewired(PAPER, GND=""), "must fix"),
    "open-supply": (rewired(PAPER, VCC=""), "must fix"),
    "open-backlight": (rewired(TOUCH, LED=""), "must fix"),
    "open-touch": (rewired(TOUCH, T_IRQ=""), "worth fixing"),
    "pin-twice": (rewired(PAPER, RST="32", DC="32"), "must fix"),
    "input-only": (rewired(PAPER, RST="39"), "must fix"),
    "pin-taken": (rewired(PAPER, RST="6"), "must fix"),
    "boot-strap": (rewired(PAPER, RST="12"), "worth fixing"),
    "software-bus": (rewired(PAPER, CLK="27"), "worth fixing"),
    "not-crossed": (rewired(SERIAL, RX="16", TX="17"), "must fix"),
    "rs-232": (replanned(SERIAL, serial_level="rs-232"), "must fix"),
    "level-too-high": (replanned(FIVE_VOLTS, shifter=False), "must fix"),
    "pull-up-rail": (replanned(OLED, pull_up_rail_v=5.0), "must fix"),
    "address-8-bit": (replanned(OLED, address=0x78), "must fix"),
    "address-clash": (replanned(OLED, devices=(SENSOR,)), "must fix"),
    "pull-ups-weak": (replanned(OLED, bus_pf=200.0), "must fix"),
    "pull-ups-strong": (replanned(OLED, pull_up_ohm=1000.0), "must fix"),
    "pull-ups-none": (replanned(OLED, bus_pf=400.0), "must fix"),
    "select-tied": (rewired(TOUCH, CS="tied low"), "must fix"),
    "on-at-power-up": (replanned(TOUCH, backlight_low_active=True), "worth fixing"),
    "device-select": (replanned(PAPER, devices=(BusDevice("card"),)), "must fix"),
    "rail-order": (replanned(AMOLED, rail_order=("VBAT", "VDD")), "must fix"),
    "clock-too-fast": (replace(PAPER, clock_hz=30_000_000), "must fix"),
    "regulator": (rewired(device("mono-oled-128x64-large", "small", "i2c"), VCC="3V3"), "must fix"),
}


class TestRules:
    @pytest.mark.parametrize("made", [PAPER, TOUCH, OLED, FIVE_VOLTS, SERIAL, AMOLED], ids=lambda d: d.passport.slug)
    def test_good_plans_are_left_alone(self, made):
        assert found(made) == {}

    @pytest.mark.parametrize("id_", BROKEN)
    def test_each_rule_sees_the_plan_that_breaks_it(self, id_):
        made, severity = BROKEN[id_]
        findings = found(made)
        assert set(findings) - {"straps", "pin-current"} == {id_}
        assert findings[id_].severity == severity
        assert findings[id_].why

    @pytest.mark.parametrize("id_", BROKEN)
    def test_each_fix_mends_it(self, id_):
        made, _ = BROKEN[id_]
        fix = found(made)[id_].fix
        assert fix is not None
        changes = {k: to_record(v, PinPlan, "wiring") if k == "wiring" else v for k, v in fix.changes.items()}
        assert id_ not in found(replace(made, **changes))

    @pytest.mark.parametrize(("clock_hz", "told"), [(1_000_000, True), (1_000_001, False)])
    def test_pull_ups_are_told_up_to_the_fastest_clock_of_the_bus(self, clock_hz, told):
        names = found(replace(OLED, clock_hz=clock_hz))
        assert any(name.startswith("pull-ups") for name in names) == told

    def test_the_cost_of_a_software_bus_is_told(self):
        # 4,736 bytes, 14 of window and write, 3 that start the refresh: 4,753 x 8 / 4 MHz = 9.506 ms, and 12 changes of
        # the data/command line of 1.2 us: 9.520 ms. 5 and 20 times that are 47.6 and 190.4.
        why = found(BROKEN["software-bus"][0])["software-bus"].why
        assert "48 to 190 ms instead of 9.5 ms (typical)" in why

    def test_a_module_made_up_for_spi_keeps_its_lines_on_i2c(self):
        panel = P["mono-oled-128x64-large"]
        lines = {s.label: (s.function, s.need) for s in signals_of(panel, "i2c")}
        assert lines["RES"] == ("reset", "must")
        assert lines["DC"] == ("data/command", "tie")
        assert lines["CS"] == ("select", "tie")
        plan = propose(panel, B["small"], "i2c").plan
        assert (plan.to_of("DC"), plan.to_of("CS")) == ("tied low", "tied low")
        assert plan.to_of("RES") in {pin.name for pin in B["small"].pins}
        made = device("mono-oled-128x64-large", "small", "i2c")
        assert found(rewired(made, RES=""))["open-reset"].severity == "must fix"
        open_ = found(rewired(made, DC=""))["open-data-command"]
        assert open_.fix.label == "Take DC to tied low"
        header = c_header(plan, signals_of(panel, "i2c"), "x")
        assert "PANEL_RES " in header
        assert "PANEL_CS" not in header
        checks = {c.id: c.where for c in checks_of(panel, B["small"], "i2c", plan)}
        assert checks["wire-CS"] == "CS of the panel to GND"
        assert checks["wire-RES"].startswith("RES of the panel to ")

    @pytest.mark.parametrize(
        ("tied", "address", "meant"),
        [("tied low", 0x3D, 0x3C), ("tied high", 0x3C, 0x3D), ("tied high", 0x3D, None), ("D4", 0x3D, None)],
    )
    def test_the_data_command_line_sets_the_address(self, tied, address, meant):
        made = replanned(rewired(device("mono-oled-128x64-large", "small", "i2c"), DC=tied), address=address)
        told = found(made).get("address-strap")
        assert (told.fix.label if told else None) == (f"Use 0x{meant:02X}" if meant else None)

    def test_straps_are_answered_by_done(self):
        made = device("mono-oled-128x64-large", "small", "i2c")
        finding = found(made)["straps"]
        assert finding.fix.label == "Done: the straps are moved"
        plan = to_record(finding.fix.changes["wiring"], PinPlan, "wiring")
        assert "straps" not in found(replace(made, wiring=plan))

    @pytest.mark.parametrize(("limit", "is_told"), [(183.9, True), (184.0, False), (0.0, False)])
    def test_a_supply_pin_has_its_limit(self, limit, is_told):
        """The large glass takes 4 + 180 mA."""
        made = device("mono-oled-128x64-large", "small", "i2c")
        pins = tuple(replace(pin, max_ma=limit) if pin.name == "3V3" else pin for pin in made.board.pins)
        told = found(rewired(replace(made, board=replace(made.board, pins=pins, regulator_ma=900.0)), VCC="3V3")).get(
            "pin-current"
        )
        assert (told is not None) == is_told
        if told:
            assert told.what == "VCC takes up to 184 mA; 3V3 gives 184 mA"
            assert told.fix.label == "Take VCC to 5V"

    def test_no_pin_of_the_catalogue_is_planned_beyond_its_limit(self):
        for panel in P.values():
            for board in B.values():
                for option in panel.links:
                    if board.max_clock_hz(option.kind):
                        made = device(panel.slug, board.slug, option.kind)
                        assert "pin-current" not in found(made), (panel.slug, board.slug)

    def test_parts_that_are_needed_besides(self):
        tft = device("tft-240x240-round", "classic-5v", "spi")
        parts = extra_parts(tft.wiring, signals_of(tft.passport, "spi"), tft.board, "spi")
        assert [(p.count, p.name) for p in parts] == [(6, "channels of a level shifter, 5 V to 3.3 V")]
        assert parts[0].why == "for SCL, SDA, CS, DC, RES, BLK"
        paper = device("epaper-296x128-black-white", "classic-5v", "spi")
        names = [p.name for p in extra_parts(paper.wiring, signals_of(paper.passport, "spi"), paper.board, "spi")]
        assert names == ["channels of a level shifter, 5 V to 3.3 V", "channel of a level shifter, 3.3 V to 5 V"]
        bus = replanned(OLED, pull_up_ohm=2200.0)
        (pulls,) = extra_parts(bus.wiring, signals_of(bus.passport, "i2c"), bus.board, "i2c")
        assert (pulls.count, pulls.name, pulls.why) == (2, "resistors of 2,200 ohm", "from each bus line to 3.3 V")
        assert extra_parts(OLED.wiring, signals_of(OLED.passport, "i2c"), OLED.board, "i2c") == ()
        held = replanned(TOUCH, backlight_held_off=True)
        (light,) = extra_parts(held.wiring, signals_of(held.passport, "spi"), held.board, "spi")
        assert (light.count, light.name, light.why.partition(":")[0]) == (1, "resistor of 10,000 ohm", "from LED to the rail")
        converted = replanned(SERIAL, serial_level="rs-232")
        assert [
            p.count for p in extra_parts(converted.wiring, signals_of(converted.passport, "uart"), converted.board, "uart")
        ] == [1]

    def test_straps_and_supplies_of_ones_own(self):
        assert "CS, DC, RST" in found(device("mono-oled-128x64", "low-power", "spi"))["straps"].what
        assert "made up for SPI" in found(device("transparent-oled-128x56", "small", "i2c"))["straps"].what
        fed_apart = device("serial-tft-320x240", "low-power")  # 4.75 to 6 V, of which that board has none
        assert found(fed_apart)["supply-missing"].what == "5V needs 4.75 to 6 V, which this board does not give"

    def test_an_address_in_its_8_bit_form_may_be_given_as_such(self):
        assert not found(replanned(OLED, address=0x78, address_form="8-bit"))
        clash = replanned(OLED, address=0x78, address_form="8-bit", devices=(SENSOR,))
        assert "both answer to 0x3C" in found(clash)["address-clash"].what

    def test_devices_on_spi_have_lines_of_their_own(self):
        card, radio = BusDevice("card", select="27"), BusDevice("radio", select="27")
        assert not found(replanned(PAPER, devices=(card,)))
        assert found(replanned(PAPER, devices=(card, radio)))["device-select"].what == "radio and card are both on 27"
        with_reset = replanned(PAPER, devices=(BusDevice("card", select=PAPER.wiring.to_of("RST")),))
        assert "card and RST are both on" in found(with_reset)["device-select"].what
        with pytest.raises(BadValueError, match="card is selected by '99'"):
            check_names(replace(PAPER.wiring, devices=(BusDevice("card", select="99"),)), PAPER.board)

    def test_a_devices_address_may_be_shifted_too(self):
        finding = found(replanned(OLED, devices=(BusDevice("air sensor", 0xEC),)))["address-8-bit"]
        assert finding.what == "0xEC is no 7-bit address"
        assert finding.fix.changes["wiring"]["devices"][0]["address"] == 0x76

    def test_pins_the_board_has_not(self):
        with pytest.raises(BadValueError, match="RST goes to '99', which this board has not"):
            check_names(PAPER.wiring.with_wire("RST", "99"), PAPER.board)

    def test_without_a_plan_nothing_is_said(self):
        assert found(replace(PAPER, wiring=None)) == {}


def test_how_much_pins_would_be_missed_elsewhere():
    """Least where nothing else could be done with one; a caution counts 2."""
    plain = Signal("RES", "reset", "must")
    missed = {
        "pwm": 0, "analog": 1, "spi select": 1, "transmit": 2, "receive": 2, "i2c data": 2, "i2c clock": 2, "spi clock": 3, "spi data in": 3,
        "spi data out": 3, "lamp": 4, "usb": 6, "boot strap": 8,
    }  # fmt: skip
    assert {role: grudge(BoardPin("1", ("gpio", role)), plain) for role in missed} == missed
    assert [grudge(BoardPin("1", ("gpio", "analog", *more), caution="mind it"), plain) for more in ((), ("input only",))] == [
        3,
        99,
    ]


@pytest.mark.parametrize(("link", "labels"), [
    ("i2c", "SCL SDA"), ("spi", "SCK DIN CS DC RST"), ("spi3", "SCK DIN CS RST"), ("spi-flagged", "SCK MOSI MISO CS RESET"),
    ("qspi", "CLK D0 D1 D2 D3 CS RST"), ("parallel8", "D0 D1 D2 D3 D4 D5 D6 D7 WR CS RS RST"), ("uart", "RX TX"),
    ("parallel16", "D0 D1 D2 D3 D4 D5 D6 D7 D8 D9 D10 D11 D12 D13 D14 D15 WR CS RS RST"),
    ("rgb", "PCLK DE HSYNC VSYNC R3 R4 R5 R6 R7 G2 G3 G4 G5 G6 G7 B3 B4 B5 B6 B7"),
])  # fmt: skip
def test_lines_of_a_panel_that_prints_none(link, labels):
    panel = replace(P["tft-320x240-touch"], module=replace(P["tft-320x240-touch"].module, pins=()))
    assert [line.label for line in signals_of(panel, link)] == [*labels.split(), "VCC", "GND"]
