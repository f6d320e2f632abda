"""Findings: good plans give none, bad ones each theirs, with its figures and a fix that works."""

import re
from dataclasses import replace

import numpy as np
import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.conversion.pipeline import convert, fit_stage
from mosaic.device.budget import Content, Need, budgets
from mosaic.device.device import Device, Supply
from mosaic.findings.rules import device_findings, picture_findings
from mosaic.findings.subjects import DeviceSubject, PictureSubject
from mosaic.imports.image_kind import is_line_art
from mosaic.imports.pictures import SourcePicture
from mosaic.panels.loader import catalogue as panels
from mosaic.panels.wire import frame_parts
from mosaic.reduce.recipe import Recipe
from mosaic.tables import TableStyle
from tests.conftest import gradient


def of_device(device: Device, stored: int = 0, count: int = 0) -> dict:
    frame = frame_parts(device.passport, device.rotation, bytes(device.passport.frame_bytes))
    found = device_findings(DeviceSubject(device, budgets(device, Content((Need("arrays", "pictures", stored),), frame, 0.2))))
    return {f.id: f for f in found}


def of_picture(rgb: np.ndarray, slug: str, **recipe) -> dict:
    passport = panels()[slug]
    device = Device(passport, passport.rotation, boards()["low-power"], "spi", 4_000_000)
    source, how = SourcePicture(rgb, None, "PNG"), Recipe(**recipe)
    converted = convert(fit_stage(source, how, passport, passport.rotation), how, passport, passport.rotation, 1.5)
    return {f.id: f for f in picture_findings(PictureSubject(device, how, source, converted))}


class TestDevice:
    def test_a_sound_plan_has_none(self, tide_board):
        assert of_device(tide_board) == {}

    def test_buffer_larger_than_ram(self, barometer):
        finding = of_device(barometer)["memory.buffer-exceeds-ram"]
        assert finding.severity == "must fix"
        assert finding.why == (
            "It takes 112.5 KiB; the board has 64.0 KiB, of which 16.0 KiB stack, heap and libraries (typical)."
            " It crashes at start or draws noise."
        )
        assert (finding.fix.label, finding.fix.then) == ("Draw in 3 bands", "then 37.5 KiB")
        assert of_device(replace(barometer, **finding.fix.changes)) == {}

    def test_no_buffer_fits_at_all(self, barometer):
        tiny = replace(barometer, board=replace(barometer.board, ram_bytes=16_384))
        fix = of_device(tiny)["memory.buffer-exceeds-ram"].fix
        assert fix.changes == {"buffer_bands": 0}
        assert of_device(replace(tiny, **fix.changes)) == {}

    def test_tables_that_are_copied_to_ram(self):
        """2 KiB of RAM: 1,500 bytes of tables are copied, 300 are in use, so that a page of 128 bytes fits, and 100 more do not."""
        board = replace(boards()["classic-5v"], ram_bytes=2048, reserve_bytes=300, constants_in_ram=True)
        oled = Device(panels()["mono-oled-128x64"], 0, board, "i2c", 400_000)
        finding = of_device(oled, 1500)["memory.buffer-exceeds-ram"]
        assert "1.5 KiB constants copied at start (computed)" in finding.why
        assert (finding.fix.label, finding.fix.then) == ("Draw in 8 bands", "then 0.1 KiB")
        assert "memory.buffer-exceeds-ram" not in of_device(replace(oled, buffer_bands=8), 1500)
        assert of_device(oled, 1621)["memory.buffer-exceeds-ram"].fix.changes == {"buffer_bands": 0}
        assert of_device(oled, 1748)["memory.buffer-exceeds-ram"].fix.changes == {"buffer_bands": 0}
        found = of_device(oled, 1749)
        assert "memory.buffer-exceeds-ram" not in found
        assert found["memory.tables-exceed-ram"].what == "1.7 KiB of arrays are copied to RAM at start"
        kept = replace(oled, board=replace(board, tables=TableStyle("IN_FLASH")))
        assert not {"memory.buffer-exceeds-ram", "memory.tables-exceed-ram"} & of_device(kept, 1749).keys()

    @pytest.mark.parametrize(
        ("slug", "interval", "found", "fix"),
        [
            ("epaper-296x128-four-colour", 1, "energy.updates-overlap", None), ("epaper-296x128-four-colour", 100, "energy.updates-too-often", 300),
            ("epaper-296x128-four-colour", 179.9, "energy.updates-too-often", 300), ("epaper-296x128-four-colour", 180, "", None),
            ("tft-240x240-round", 1, "", None),
        ],
    )  # fmt: skip
    def test_updates_that_follow_too_closely(self, slug, interval, found, fix):
        passport = panels()[slug]
        device = Device(passport, passport.rotation, boards()["low-power"], "spi", 4_000_000, update_interval_s=interval)
        told = {id_: f for id_, f in of_device(device).items() if id_.startswith("energy.updates")}
        assert list(told) == ([found] if found else [])
        if fix:
            assert told[found].fix.changes == {"update_interval_s": fix}
            assert told[found].fix.label == "Update every 5 min"

    def test_pictures_larger_than_flash(self, barometer):
        sound = replace(barometer, buffer_bands=3)
        assert of_device(sound, 401_408, 3) == {}
        finding = of_device(sound, 401_409, 4)["memory.contents-exceed-flash"]
        assert finding.what.endswith("does not fit the flash: pictures 392.0 KiB")

    def test_energy_over_the_limit(self, tide_board):
        device = replace(tide_board, supply=Supply("cell", 3.7, 2000), energy_limit_mwh=12)
        finding = of_device(device)["energy.day-over-limit"]
        assert "A day of 96 updates takes 15.2 mWh" in finding.why
        # 14.85 mWh of updates at 15 min are 11.14 at 20 min, and 0.32 asleep.
        assert (finding.fix.label, finding.fix.then) == ("Update every 20 min", "then 11.5 mWh")
        assert of_device(replace(device, **finding.fix.changes)) == {}

    def test_frame_over_the_limit(self, barometer):
        slow = replace(barometer, buffer_bands=3, clock_hz=10_000_000, frame_time_limit_ms=50)
        finding = of_device(slow)["frame.slower-than-limit"]
        assert "92.2 ms" in finding.what
        assert finding.fix.changes == {"clock_hz": 24_000_000}
        assert of_device(replace(slow, clock_hz=24_000_000)) == {}


def line_art(size: int) -> np.ndarray:
    """White ground with thin black rings."""
    y, x = np.mgrid[0:size, 0:size] - size / 2
    ring = np.abs((np.hypot(x, y) % (size / 8)) - size / 16) < 1.5
    return np.repeat(np.where(ring, 0, 255).astype(np.uint8)[..., None], 3, axis=2)


class TestPicture:
    mono, four = "epaper-296x128-black-white", "epaper-296x128-four-colour"
    red = np.tile(np.array([200, 40, 30], np.uint8), (400, 700, 1))

    def test_a_picture_that_suits_has_none(self):
        assert of_picture(gradient(600, 1400), self.mono) == {}

    def test_a_small_source(self):
        finding = of_picture(gradient(64, 148), self.mono)["picture.source-smaller-than-panel"]
        assert "Enlarged 2.0 times: 148 × 64" in finding.what
        assert of_picture(gradient(64, 148), self.mono, **finding.fix.changes) == {}

    def test_fine_line_art(self):
        art = line_art(1400)
        finding = of_picture(art, self.mono)["picture.fine-lines-lost"]
        assert "10.9 source pixels go into one" not in finding.why  # cover: 1400 / 296
        assert "4.7 source pixels go into one" in finding.why
        assert "picture.fine-lines-lost" not in of_picture(art, self.mono, **finding.fix.changes)
        assert of_picture(line_art(300), self.mono) == {}  # hardly reduced

    @pytest.mark.parametrize(("size", "is_told"), [(740, True), (739, False)])
    def test_two_and_a_half_pixels_to_one_are_strong(self, size, is_told):
        assert ("picture.fine-lines-lost" in of_picture(line_art(size), self.mono)) is is_told  # 740 / 296 = 2.5

    def test_line_art_is_told_from_photos(self):
        assert is_line_art(line_art(500))
        assert not is_line_art(gradient(500, 500))
        assert not is_line_art(np.full((90, 90, 3), 255, np.uint8))

    def test_a_red_area_that_becomes_orange(self):
        art = np.full((400, 700, 3), 255, np.uint8)
        art[:200, :350] = (255, 60, 40)  # a quarter of it
        found = of_picture(art, "epaper-600x448-seven-colour", fit="stretch")["picture.red-becomes-orange"]
        assert found.what == "A red area, 25 % of the picture, comes out orange"
        assert found.fix.changes == {"left_out": ["orange"]}
        mended = of_picture(art, "epaper-600x448-seven-colour", fit="stretch", left_out=("orange",))
        assert "picture.red-becomes-orange" not in mended
        art[:200, :350] = (255, 0, 0)  # as the data sheet names it: the panel's red
        assert "picture.red-becomes-orange" not in of_picture(art, "epaper-600x448-seven-colour", fit="stretch")

    def test_saturation_lost(self):
        blue = np.tile(np.array([20, 40, 220], np.uint8), (400, 700, 1))
        finding = of_picture(blue, self.four)["picture.saturation-lost"]
        assert finding.fix.changes == {"nominal_share": 50.0}
        lost, shown, meant = (int(n) for n in re.findall(r"\d+", finding.what + finding.why))
        assert lost == pytest.approx(100 - 100 * shown / meant, abs=1.5)
        assert "picture.saturation-lost" not in of_picture(self.red, self.four)
        # one tone has no colours to lose
        assert "picture.saturation-lost" not in of_picture(blue, self.mono)

    @pytest.mark.parametrize(
        ("grey", "slug", "found", "word"),
        [
            (255, "epaper-296x128-black-white", "picture.nothing-marked", "Nothing is inked"),
            (0, "epaper-296x128-black-white", "picture.everything-marked", "Everything is inked"),
            (0, "mono-oled-128x64", "picture.nothing-marked", "Nothing is lit"),
            (255, "mono-oled-128x64", "picture.everything-marked", "Everything is lit"),
        ],
    )
    def test_one_colour_only(self, grey, slug, found, word):
        finding = of_picture(np.full((300, 300, 3), grey, np.uint8), slug)[found]
        assert finding.severity == "must fix"
        assert word in finding.what

    def test_a_threshold_that_misses_is_mended_by_otsu(self):
        faint = np.full((400, 700, 3), 90, np.uint8)
        faint[100:300, 200:500] = 110
        finding = of_picture(faint, self.mono, method="threshold")["picture.everything-marked"]
        assert finding.fix.changes == {"auto_threshold": True}
        assert of_picture(faint, self.mono, method="threshold", **finding.fix.changes) == {}
