"""Thresholds of findings, each at its boundary: the last value that is let pass and the first that is not."""

from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.conversion.pipeline import convert, fit_stage
from mosaic.device.budget import COPIED, Budget, BudgetPart
from mosaic.device.device import Device
from mosaic.device.setup_card import Edit, MemoryPart, SetupCard, Tool
from mosaic.findings import Finding
from mosaic.findings.lettering import _listed, characters_never_shown, gap_between, is_blank, touching_pairs
from mosaic.findings.limits import (
    _rarer_updates,
    energy_over_limit,
    frame_time_over_limit,
    link_slower_than_it_could_be,
    shortest_fitting_interval_s,
    updates_follow_too_closely,
)
from mosaic.findings.memory import (
    buffer_exceeds_ram,
    contents_exceed_flash,
    frame_buffer_larger_than_ram,
    scan_bandwidth_mb_s,
    scan_needs_its_frame,
    scan_starves_memory,
    tables_larger_than_ram,
)
from mosaic.findings.pictures import (
    changed_names,
    fine_lines_lost,
    greyed_share,
    saturation_lost,
    source_smaller_than_panel,
    washed_out_answers,
)
from mosaic.findings.rules import device_findings
from mosaic.findings.screens import _is_dithered
from mosaic.findings.sending import arrays_of_another_size
from mosaic.findings.setup_card import (
    edits_made_for_another_version,
    files_larger_than_their_part,
    memory_parts_too_large,
    program_larger_than_its_part,
)
from mosaic.findings.subjects import DeviceSubject, PictureSubject
from mosaic.imports.pictures import SourcePicture
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.lettering.packing import pack
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.texts import parse_texts
from mosaic.panels.loader import catalogue as panels
from mosaic.reduce.recipe import Recipe
from mosaic.screens.placing import Box
from mosaic.wiring.plan import BusDevice
from mosaic.wiring.proposal import propose


def budget(slug: str, unit: str, limit: float | None, *values: float, names: tuple[str, ...] = ("sending", "asleep")) -> Budget:
    parts = tuple(BudgetPart(name, value, "computed") for name, value in zip(names, values, strict=False))
    return Budget(slug, slug, unit, parts, limit)


class TestLimits:
    @pytest.mark.parametrize(
        ("limit", "minutes"),
        # 20 mWh of updates each minute are 10 each second one, 4 each fifth; 1 mWh asleep goes on all the time.
        [
            (21.0, 1), (11.0, 2), (10.99, 5), (5.0, 5), (4.99, 10), (3.0, 10), (2.99, 15), (2.3334, 15), (2.0, 20), (1.999, 30),
            (1.6667, 30), (1.4445, 45), (1.3334, 60), (1.2223, 90), (1.2222, 120), (1.1667, 120), (1.1112, 180), (1.0834, 240),
            (1.0556, 360), (1.0278, 720), (1.0139, 1440), (1.0138, None),
        ],
    )  # fmt: skip
    def test_the_shortest_interval_that_fits(self, tide_board, limit, minutes):
        device = replace(tide_board, update_interval_s=60)
        found = shortest_fitting_interval_s(device, budget("energy", "mWh", limit, 20.0, 1.0))
        assert found == (minutes and minutes * 60)

    @pytest.mark.parametrize(
        ("limit", "label", "then"),
        [(1.3334, "Update every 60 min", "then 1.3 mWh"), (1.2223, "Update every 90 min", "then 1.2 mWh"), (1.1667, "Update every 2 h", "then 1.2 mWh"), (1.0278, "Update every 12 h", "then 1.0 mWh")],
    )  # fmt: skip
    def test_intervals_in_words(self, tide_board, limit, label, then):
        fix = _rarer_updates(replace(tide_board, update_interval_s=60), budget("energy", "mWh", limit, 20.0, 1.0))
        assert (fix.label, fix.then) == (label, then)

    def test_an_interval_that_is_kept_already_is_no_help(self, tide_board):
        device = replace(tide_board, update_interval_s=120)
        assert _rarer_updates(device, budget("energy", "mWh", 21.0, 20.0, 1.0)) is None
        assert _rarer_updates(device, budget("energy", "mWh", 9.0, 20.0, 1.0)).changes == {"update_interval_s": 300}

    def test_exactly_the_limit_is_within_it(self, tide_board):
        for rule, slug, unit in ((frame_time_over_limit, "frame", "ms"), (energy_over_limit, "energy", "mWh")):
            assert rule(DeviceSubject(tide_board, (budget(slug, unit, 50.0, 30.0, 20.0),))) == []
            (finding,) = rule(DeviceSubject(tide_board, (budget(slug, unit, 50.0, 30.0, 22.5),)))
            assert " 2.5 " in finding.what

    def test_no_faster_clock_than_the_fastest(self, tide_board):
        over = budget("frame", "ms", 50.0, 60.0)
        for clock_hz, changes in ((9_999_999, {"clock_hz": 10_000_000}), (10_000_000, None)):
            board = replace(tide_board.board, max_spi_hz=10_000_000)
            (finding,) = frame_time_over_limit(DeviceSubject(replace(tide_board, board=board, clock_hz=clock_hz), (over,)))
            assert (finding.fix and finding.fix.changes) == changes

    @pytest.mark.parametrize(
        ("takes_s", "every_s"),
        [
            (60.0, 60), (60.1, 120), (86_400.0, 86_400), (86_400.5, 172_800), (172_800.0, 172_800), (172_800.5, 259_200),
            (259_201.0, 345_600),
        ],
    )  # fmt: skip
    def test_an_interval_that_the_panel_keeps_up_with(self, tide_board, takes_s, every_s):
        device = replace(tide_board, update_interval_s=30, passport=replace(tide_board.passport, update_pause_s=0.0))
        (finding,) = updates_follow_too_closely(
            DeviceSubject(device, (budget("frame", "ms", None, takes_s * 1000), budget("energy", "mWh", None, 1)))
        )
        assert finding.fix.changes == {"update_interval_s": every_s}
        kept = replace(device, update_interval_s=every_s)
        assert not updates_follow_too_closely(
            DeviceSubject(kept, (budget("frame", "ms", None, takes_s * 1000), budget("energy", "mWh", None, 1)))
        )


@pytest.mark.parametrize(
    ("every_s", "what"),
    [(16.9, "An update takes 17.0 s"), (17.0, "this panel needs 180 s between two"), (179.9, "needs 180 s"), (180.0, "")],
)
def test_updates_that_overlap_and_those_that_are_too_near(tide_board, every_s, what):
    """The paper takes 17 s, and may be driven every 180."""
    device = replace(tide_board, update_interval_s=every_s, passport=replace(tide_board.passport, update_pause_s=180.0))
    found = updates_follow_too_closely(
        DeviceSubject(device, (budget("frame", "ms", None, 17_000.0), budget("energy", "mWh", None, 1)))
    )
    assert len(found) == bool(what)
    assert not what or what in found[0].what


def test_what_must_be_fixed_comes_first():
    def rule(severity):
        return lambda _: [Finding(severity, severity, "Panel", "It is so.", "It matters.")]

    found = device_findings(None, (rule("worth fixing"), rule("must fix"), rule("worth fixing")))
    assert [finding.severity for finding in found] == ["must fix", "worth fixing", "worth fixing"]


class TestCards:
    """Parts of the flash of exactly as many bytes as are needed, and of one less."""

    def flash(self, tide_board, *parts: MemoryPart) -> DeviceSubject:
        needs = (BudgetPart("program", 900.0, "computed"), BudgetPart("files", 500.0, "computed", is_file=True))
        return DeviceSubject(
            replace(tide_board, setup_card=SetupCard(memory=parts)), (Budget("flash", "flash", "B", needs, None),)
        )

    @pytest.mark.parametrize(("size", "is_found"), [(500, False), (499, True)])
    def test_files(self, tide_board, size, is_found):
        assert bool(files_larger_than_their_part(self.flash(tide_board, MemoryPart("data", "files", size)))) is is_found

    @pytest.mark.parametrize("kind", ["program", "update slot"])
    @pytest.mark.parametrize(("size", "is_found"), [(900, False), (899, True), (0, False)])
    def test_programs(self, tide_board, kind, size, is_found):
        assert bool(program_larger_than_its_part(self.flash(tide_board, MemoryPart("one", kind, size)))) is is_found

    @pytest.mark.parametrize(("over", "is_found"), [(0, False), (1, True)])
    def test_all_parts(self, tide_board, over, is_found):
        flash = tide_board.board.flash_bytes
        parts = MemoryPart("a", "program", 1000), MemoryPart("b", "files", flash - 1000 + over)
        assert bool(memory_parts_too_large(self.flash(tide_board, *parts))) is is_found

    @pytest.mark.parametrize(("path", "whose"), [("setup.h", "setup.h"), ("", "file")])
    def test_an_edit_of_another_version(self, tide_board, path, whose):
        card = SetupCard((Tool("graphics", "2.1"),), edits=(Edit("Graphics", "2.0", path, 14),))
        (finding,) = edits_made_for_another_version(DeviceSubject(replace(tide_board, setup_card=card), ()))
        assert finding.what == "An edit in Graphics was made for 2.0; 2.1 is in use"
        assert finding.why == f"The new version has its own {whose}: line 14 is as it was before."
        same = replace(card, tools=(Tool("graphics", "2.0"),))
        assert not edits_made_for_another_version(DeviceSubject(replace(tide_board, setup_card=same), ()))

    def test_arrays_of_as_many_bytes_as_the_panel_takes(self, tide_board):
        for form, is_found in (
            (None, False),
            (tide_board.passport.format, False),
            (panels()["epaper-296x128-black-white"].format, True),
        ):
            sending = replace(tide_board.sending, array=form)
            assert bool(arrays_of_another_size(DeviceSubject(replace(tide_board, sending=sending), ()))) is is_found


class TestMemory:
    scanned = Device(panels()["rgb-tft-800x480"], 0, boards()["wireless-large"], "rgb", 16_000_000, buffer_bands=1)

    @pytest.mark.parametrize(("value", "over"), [(1023.0, False), (1024.0, False), (1025.0, True)])
    def test_full_is_not_over(self, value, over):
        assert buffer_exceeds_ram(budget("ram", "B", 1024.0, value)) is over
        assert contents_exceed_flash(budget("flash", "B", 1024.0, value)) is over
        assert not buffer_exceeds_ram(budget("ram", "B", None, value))

    @pytest.mark.parametrize(("copied", "count"), [(0, 0), (824, 0), (825, 1)])
    def test_tables_that_just_fit(self, tide_board, copied, count):
        board = replace(tide_board.board, reserve_bytes=200)
        ram = budget("ram", "B", 1024.0, copied, 5000, names=(COPIED, "buffer"))
        assert len(tables_larger_than_ram(DeviceSubject(replace(tide_board, board=board), (ram,)))) == count

    @pytest.mark.parametrize(("bands", "words"), [(1, "A full frame does"), (2, "A frame in 2 bands does")])
    def test_what_does_not_fit(self, tide_board, bands, words):
        subject = DeviceSubject(replace(tide_board, buffer_bands=bands), (budget("ram", "B", 1024.0, 5000),))
        assert frame_buffer_larger_than_ram(subject)[0].what == f"{words} not fit the RAM"

    def test_a_scan_reads_two_bytes_a_pixel(self):
        assert scan_bandwidth_mb_s(self.scanned) == 32.0

    def test_a_slower_scan_says_how_often_it_comes(self):
        """Six tenths of 53 MB/s are 15 million pixels of two bytes a second; of 928 x 525 each."""
        board = replace(self.scanned.board, external_ram_mb_s=53.0)
        (finding,) = scan_starves_memory(DeviceSubject(replace(self.scanned, board=board), ()))
        assert (finding.fix.label, finding.fix.then) == ("Clock the scan at 15 MHz", "then 31 scans a second")

    @pytest.mark.parametrize(("speed", "label"), [(3.4, "Clock the scan at 1 MHz"), (3.3, None)])
    def test_no_scan_is_slower_than_a_megahertz(self, speed, label):
        """Six tenths of it at two bytes a pixel."""
        board = replace(self.scanned.board, external_ram_mb_s=speed)
        (finding,) = scan_starves_memory(DeviceSubject(replace(self.scanned, board=board), ()))
        assert (finding.fix and finding.fix.label) == label

    def test_a_scan_wants_one_whole_frame(self, tide_board):
        for bands, count in ((1, 0), (2, 1), (0, 1)):
            assert len(scan_needs_its_frame(DeviceSubject(replace(self.scanned, buffer_bands=bands), ()))) == count
        assert scan_needs_its_frame(DeviceSubject(replace(tide_board, buffer_bands=2), ())) == []

    @pytest.mark.parametrize(
        ("speed", "starves"),
        # 32 MB/s are six tenths of 53.33 MB/s; 0 stands for no external RAM.
        [(53.4, False), (53.333333333333336, False), (53.3, True), (0.0, False)],
    )
    def test_a_scan_that_leaves_no_room(self, speed, starves):
        board = replace(self.scanned.board, external_ram_mb_s=speed, ram_bytes=512 * 1024)
        found = scan_starves_memory(DeviceSubject(replace(self.scanned, board=board), ()))
        assert len(found) == starves
        if found:  # 0.6 x 53.3 x 8 / 16 = 15.99 MHz
            assert found[0].fix.changes == {"clock_hz": 15_000_000}

    def test_a_frame_in_the_boards_own_ram_waits_for_nobody(self):
        needed = self.scanned.buffer_bytes
        for spare, count in ((0, 0), (-1, 1)):
            board = replace(self.scanned.board, external_ram_mb_s=10.0, reserve_bytes=1000, ram_bytes=needed + 1000 + spare)
            assert len(scan_starves_memory(DeviceSubject(replace(self.scanned, board=board), ()))) == count


class TestLevels:
    def found(self, device: Device) -> dict:
        frame = budget("frame", "ms", None, 1.0)
        budgets = (frame, *(budget(slug, "B", None, 1.0) for slug in ("flash", "ram", "energy")))
        return {f.id: f for f in device_findings(DeviceSubject(device, budgets))}

    @pytest.fixture
    def oled(self) -> Device:
        passport, board = panels()["mono-oled-128x64"], boards()["small"]
        device = Device(passport, 0, board, "i2c", 100_000)
        return replace(device, wiring=propose(passport, board, "i2c").plan)

    @pytest.mark.parametrize(("address", "is_found"), [(0x77, False), (0x78, True)])
    def test_the_largest_address_of_seven_bits(self, oled, address, is_found):
        assert ("wiring.address-8-bit" in self.found(replace(oled, wiring=replace(oled.wiring, address=address)))) is is_found
        other = BusDevice("sensor", address=address)
        found = self.found(replace(oled, wiring=replace(oled.wiring, devices=(other,))))
        assert ("wiring.address-8-bit" in found) is is_found
        if is_found:
            assert found["wiring.address-8-bit"].fix.label == "Use 0x3C"

    @pytest.mark.parametrize(
        ("others", "free"),
        [((0x3C,), "0x3D"), ((0x3C, 0x3D), "0x3A"), ((0x3C, 0x3D, 0x3A), "0x3B"), ((0x3C, 0x3D, 0x3A, 0x3B), None)],
    )
    def test_an_address_that_is_free(self, oled, others, free):
        devices = tuple(BusDevice(f"sensor {n}", address=address) for n, address in enumerate(others))
        fix = self.found(replace(oled, wiring=replace(oled.wiring, devices=devices)))["wiring.address-clash"].fix
        assert (fix and fix.label) == (free and f"Move the panel to {free} by its strap")

    def test_an_address_written_in_eight_bits_is_taken_so(self, oled):
        plan = replace(oled.wiring, address=0x78, address_form="8-bit")
        assert "wiring.address-8-bit" not in self.found(replace(oled, wiring=plan))

    @pytest.mark.parametrize(
        ("clock_hz", "wants"),
        [(100_000, "100 kHz, which wants 967 to 11,802 ohm"), (400_000, "400 kHz, which wants 967 to 3,541 ohm")],
    )
    def test_what_a_bus_wants_is_told(self, oled, clock_hz, wants):
        """3.3 V less 0.4 V at 3 mA; 1,000 and 300 ns by 0.8473 at 100 pF."""
        plan = replace(oled.wiring, panel_pull_up_ohm=0.0, pull_up_ohm=0.0, bus_pf=100.0)
        finding = self.found(replace(oled, clock_hz=clock_hz, wiring=plan))["wiring.pull-ups-weak"]
        assert finding.why == f"Lines rise too slowly for {wants}."

    def test_a_regulator_gives_all_it_can(self, oled):
        """2 mA dark, 24 all lit, 30 of a backlight, 9 of the board and 5 of a sensor are 70."""
        power = replace(oled.passport.power, base_ma=2.0, full_on_ma=24.0, backlight_ma=30.0)
        plan = replace(oled.wiring, devices=(BusDevice("sensor", address=0x40, current_ma=5.0),))
        for most, is_found in ((70.0, False), (69.9, True)):
            board = replace(oled.board, active_ma=9.0, regulator_ma=most)
            found = self.found(replace(oled, passport=replace(oled.passport, power=power), board=board, wiring=plan))
            assert ("wiring.regulator" in found) is is_found
            if is_found:
                assert found["wiring.regulator"].what == "The regulator would have to give 70 mA"

    @pytest.mark.parametrize(("volts", "label"), [(4.5, "Take VCC to 5V"), (4.4, None)])
    def test_a_supply_that_spares_the_regulator(self, oled, volts, label):
        """From 4.5 V on a pin counts as the supply that the board itself is fed by."""
        pins = tuple(replace(pin, volts=volts) if pin.name == "5V" else pin for pin in oled.board.pins)
        wires = tuple(replace(wire, to="3V3") if wire.signal == "VCC" else wire for wire in oled.wiring.wires)
        board = replace(oled.board, pins=pins, regulator_ma=1.0)
        fix = self.found(replace(oled, board=board, wiring=replace(oled.wiring, wires=wires)))["wiring.regulator"].fix
        assert (fix and fix.label) == label

    def test_the_fastest_clock_is_allowed(self, oled):
        highest = min(oled.board.max_i2c_hz, 400_000)
        board = replace(oled.board, max_i2c_hz=highest)
        for clock_hz, is_found in ((highest, False), (highest + 1, True)):
            assert ("wiring.clock-too-fast" in self.found(replace(oled, board=board, clock_hz=clock_hz))) is is_found
        finding = self.found(replace(oled, board=replace(board, max_i2c_hz=400_000), clock_hz=1_500_000))["wiring.clock-too-fast"]
        assert finding.what == "The link runs at 1.5 MHz, allowed are 0.4 MHz"
        assert finding.fix.label == "Clock the link at 0.4 MHz"


def of_picture(rgb: np.ndarray, slug: str, **recipe) -> PictureSubject:
    passport = panels()[slug]
    device = Device(passport, passport.rotation, boards()["low-power"], "spi", 4_000_000)
    source, how = SourcePicture(rgb, None, "PNG"), Recipe(**recipe)
    converted = convert(fit_stage(source, how, passport, passport.rotation), how, passport, passport.rotation, 1.5)
    return PictureSubject(device, how, source, converted)


class TestPictures:
    @pytest.mark.parametrize(
        ("width", "height", "is_found"),
        # 296 x 128: 0.95 of it is 281.2 x 121.6 source pixels
        [(282, 122, False), (281, 122, True)],
    )
    def test_a_source_that_is_hardly_enlarged(self, width, height, is_found):
        subject = of_picture(np.zeros((height, width, 3), np.uint8), "epaper-296x128-black-white")
        assert bool(source_smaller_than_panel(subject)) is is_found

    @pytest.mark.parametrize(
        ("made", "count", "is_another"),
        # Of 37,888 pixels nine tenths are 34,099.2 and a half 18,944.
        [("black", 34_099, False), ("black", 34_100, True), ("yellow", 18_944, False), ("yellow", 18_945, True)],
    )
    def test_red_that_comes_out_as_another_colour(self, made, count, is_another):
        subject = of_picture(np.full((128, 296, 3), (255, 0, 0), np.uint8), "epaper-296x128-four-colour")
        names = subject.converted.passport.palette.names
        pixels = np.full(subject.converted.pixels.size, names.index("red"), np.uint8)
        pixels[:count] = names.index(made)
        converted = replace(subject.converted, pixels=pixels.reshape(subject.converted.pixels.shape))
        found = changed_names(replace(subject, converted=converted))
        assert found == ([("red", made, pytest.approx(1))] if is_another else [])

    @pytest.mark.parametrize(("value", "is_meant"), [((190, 94, 94), True), ((190, 104, 104), False)])
    def test_from_which_chroma_on_red_is_meant_as_red(self, value, is_meant):
        """Chroma 42.6 and 37.5, by CIELAB."""
        subject = of_picture(np.full((8, 8, 3), value, np.uint8), "epaper-200x200-three-colour")
        black = np.full_like(subject.converted.pixels, subject.converted.passport.palette.names.index("black"))
        assert bool(changed_names(replace(subject, converted=replace(subject.converted, pixels=black)))) is is_meant

    @pytest.mark.parametrize("channel", range(3))
    def test_areas_are_told_apart_by_each_channel(self, channel):
        rgb = np.zeros((480, 800, 3), np.uint8)
        rgb[:240, :, channel] = 255
        subject = of_picture(rgb, "epaper-800x480-seven-colour")
        names = subject.converted.passport.palette.names
        black = replace(subject.converted, pixels=np.full((480, 800), names.index("black"), np.uint8))
        found = changed_names(replace(subject, converted=black))
        assert found == [(("red", "green", "blue")[channel], "black", pytest.approx(0.5, abs=0.01))]

    @pytest.mark.parametrize(("count", "is_looked_at"), [(799, False), (800, True)])
    def test_the_smallest_area_that_is_looked_at(self, count, is_looked_at):
        """A fiftieth of 200 x 200 px."""
        rgb = np.full((200, 200, 3), 255, np.uint8)
        rgb.reshape(-1, 3)[:count] = (255, 0, 0)
        subject = of_picture(rgb, "epaper-200x200-three-colour")
        black = subject.converted.passport.palette.names.index("black")
        found = changed_names(replace(subject, converted=replace(subject.converted, pixels=np.full((200, 200), black, np.uint8))))
        assert [one[:2] for one in found] == ([("red", "black")] if is_looked_at else [])

    def test_the_share_of_greyed_strokes(self):
        """Encoded levels over 0.2 and under 0.8 are grey; ground does not count as drawn."""
        levels = np.full((4, 10), 1.0, np.float32)
        levels[0, :8] = [0.0, 0.19, 0.21, 0.5, 0.79, 0.0, 0.0, 0.1]
        levels[1, 0] = 0.81
        encoded = np.where(levels <= 0.04045, levels / 12.92, ((levels + 0.055) / 1.055) ** 2.4).astype(np.float32)
        light = np.repeat(encoded[..., None], 3, axis=2)
        assert greyed_share(light) == pytest.approx(3 / 8)
        # White strokes on black: 0.21, 0.5, 0.79 and 0.81 are drawn, three of them grey.
        dark = np.where(levels == 1.0, 0.0, encoded).astype(np.float32)
        assert greyed_share(np.repeat(dark[..., None], 3, axis=2)) == pytest.approx(3 / 4)

    @pytest.mark.parametrize(
        ("grey", "scale", "told"),
        [(2, 2.5, "25 %"), (3, 2.5, "38 %"), (1, 2.5, ""), (2, 2.4, "")],
    )
    def test_strokes_thinner_than_a_pixel(self, grey, scale, told):
        """Of eight pixels of ink some are grey."""
        toned = np.ones((4, 10, 3), np.float32)
        toned[0, :8] = 0
        toned[0, :grey] = 0.2  # 0.48 of the encoded scale
        converted = SimpleNamespace(cut=SimpleNamespace(scale=scale), toned=toned)
        found = fine_lines_lost(SimpleNamespace(converted=converted, recipe=Recipe(), source=SimpleNamespace(is_line_art=True)))
        assert [one.what for one in found] == ([f"{told} of the strokes are thinner than a pixel"] if told else [])

    def test_answers_to_a_washed_out_picture(self):
        both = washed_out_answers(Recipe(), True)
        assert {name: fix.changes for name, fix in both.items()} == {
            "saturation": {"saturation": 1.4}, "vivid": {"nominal_share": 50.0},
        }  # fmt: skip
        assert list(washed_out_answers(Recipe(), False)) == ["saturation"]
        assert washed_out_answers(Recipe(saturation=3.0), False) == {}

    @pytest.mark.parametrize(
        ("nominal", "saturation", "changes"),
        [
            (0.0, 1.0, {"nominal_share": 50.0}),
            (49.9, 1.0, {"nominal_share": 99.9}),
            (50.0, 1.0, {"saturation": 1.4}),
            (60.0, 2.5, {"saturation": 3.0}),
        ],
    )
    def test_what_is_offered_for_dull_colours(self, nominal, saturation, changes):
        blue = np.tile(np.array([20, 40, 220], np.uint8), (400, 700, 1))
        (finding,) = saturation_lost(of_picture(blue, "epaper-296x128-four-colour", nominal_share=nominal, saturation=saturation))
        assert finding.fix.changes == changes


def glyph(code: int, *rows: str, top: int | None = None, advance: int | None = None) -> Glyph:
    levels = np.array([[cell == "#" for cell in row] for row in rows], np.uint8)
    return Glyph(code, levels, 0, len(rows) if top is None else top, len(rows[0]) + 1 if advance is None else advance)


class TestLettering:
    @pytest.mark.parametrize(
        ("code", "blank"),
        [(0x20, True), (0xA0, True), (0x2028, True), (0x2029, True), (0x2800, True), (0x2801, False), (0x41, False)],
    )
    def test_what_has_no_ink_anyway(self, code, blank):
        assert is_blank(code) is blank

    @pytest.mark.parametrize(
        ("second", "kern", "gap"),
        [
            (glyph(66, "#.", "#."), 0, 1),  # one column of advance is free
            (glyph(66, "#.", "#."), 1, 2),
            (glyph(66, "#.", "#."), -1, 0),
            (glyph(66, ".#", ".#"), 0, 2),
            (glyph(66, "#.", top=3), 0, 1),  # a row above: they meet at a corner
            (glyph(66, "#.", top=4), 0, 99),  # two rows above: they do not meet
            (glyph(66, "#.", top=0), 0, 1),
            (glyph(66, "#.", top=-1), 0, 99),
        ],
    )
    def test_the_gap_between_two_letters(self, second, kern, gap):
        assert gap_between(glyph(65, "##", "##"), second, kern) == gap

    @pytest.mark.parametrize(("shown", "is_found"), [("AB", True), ("ABC", False), ("", False)])
    def test_as_many_that_no_text_shows_as_there_are_that_one_does(self, shown, is_found):
        """Four glyphs of some 290 bytes each, no two of them alike."""
        drawn = [np.ones((48, 48), np.uint8) for _ in range(4)]
        for number, levels in enumerate(drawn):
            levels[1, 1 + number] = 0
        letters = Lettering("Four", tuple(Glyph(65 + n, levels, 0, 48, 50) for n, levels in enumerate(drawn)), 48, 12)
        subject = SimpleNamespace(
            made=SimpleNamespace(lettering=letters),
            plan=LetteringPlan(),
            texts=parse_texts(shown),
            packed=pack(letters, "cropped"),
        )
        assert len(characters_never_shown(subject)) == is_found

    @pytest.mark.parametrize(("count", "told"), [
        (1, "A (latin capital letter a)"), (2, "A (latin capital letter a), B (latin capital letter b)"), (3, "A, B, C"), (6, "A, B, C, D, E, F"), (7, "A, B, C, D, E, F and 1 more"), (9, "A, B, C, D, E, F and 3 more"),
    ])  # fmt: skip
    def test_characters_in_a_list(self, count, told):
        assert _listed(list(range(65, 65 + count))) == told

    @pytest.mark.parametrize(("left", "touches"), [(0, [(65, 66)]), (1, [])])
    def test_letters_with_a_column_between_them_do_not_touch(self, left, touches):
        letters = Lettering("Two", (replace(glyph(65, "##", "##"), advance=2), replace(glyph(66, "##", "##"), left=left)), 6, 2)
        assert touching_pairs(letters, ["ABC"]) == touches


class TestLinkSlowerThanItCouldBe:
    """A frame of 153,611 bytes over SPI: 1,228,888 clocks, without gaps."""

    def found(self, clock_hz, highest=40_000_000, slug="tft-320x240-touch"):
        board = replace(boards()["low-power"], max_spi_hz=highest, spi_byte_gap_ns=0, spi_switch_ns=0)
        dev = Device(panels()[slug], 0, board, "spi", clock_hz)
        return link_slower_than_it_could_be(DeviceSubject(dev, ()))

    def test_a_gain_that_is_felt(self):
        (finding,) = self.found(10_000_000)
        assert "122.9 ms and would take 30.7 ms" in finding.why
        assert finding.fix.changes == {"clock_hz": 40_000_000}

    @pytest.mark.parametrize(("clock", "highest", "count"), [(20_000_000, 40_000_000, 1), (20_000_001, 40_000_000, 0)])
    def test_from_twice_the_clock_on(self, clock, highest, count):
        assert len(self.found(clock, highest)) == count

    def test_a_small_panel_gains_little(self):
        assert self.found(5_000_000, slug="tft-80x160") != []
        assert self.found(7_000_000, 14_000_000, slug="tft-80x160") == []  # 29.3 ms become 14.6

    def test_an_e_papers_refresh_takes_longer_anyway(self):
        assert self.found(1_000_000, slug="epaper-400x300-black-white") == []


@pytest.mark.parametrize(("row", "mixed"), [([0, 0, 0, 1], True), ([0, 0, 0, 0, 1], False), ([0, 0, 0, 0], False), ([1], False)])
def test_a_mixture_changes_at_every_third_step_at_least(row, mixed):
    assert _is_dithered(np.tile(np.array(row), (8, 1)), Box(0, 0, len(row), 8, 8)) == mixed


def test_a_mixture_is_looked_for_in_three_rows_more_above_and_below():
    """Of 21 steps in seven rows seven are changes, those in the outermost rows among them."""
    values = np.zeros((9, 6), np.uint8)
    values[1, :4], values[7, :4], values[4, :4] = (1, 0, 1, 0), (0, 1, 0, 1), (0, 0, 0, 1)
    assert _is_dithered(values, Box(0, 4, 4, 1, 5))
    values[7, :2] = 0
    assert not _is_dithered(values, Box(0, 4, 4, 1, 5))
    values[7, :4], values[0], values[8] = (0, 1, 0, 1), 0, 0
    assert not _is_dithered(values, Box(0, 4, 4, 2, 5))
