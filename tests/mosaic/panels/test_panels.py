"""Passports, geometry and sequences."""

import json
from dataclasses import replace

import numpy as np
import pytest

from mosaic.catalogue import load
from mosaic.errors import BadDescriptionError, UnknownNameError
from mosaic.links import wire_steps
from mosaic.links.spi import SpiLink
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import glass_mask, host_view, seen_size, to_native, to_seen
from mosaic.panels.loader import catalogue, passport_from_json, passport_to_plain
from mosaic.panels.passport import Passport, Ram
from mosaic.panels.sequence import expand, parse
from mosaic.panels.wire import frame_parts, setup_part

PANELS = list(catalogue().values())


def sized(passport: Passport, width: int, height: int, ram: Ram) -> Passport:
    return replace(passport, glass=replace(passport.glass, width_px=width, height_px=height), ram=ram)


class TestOffsets:
    tft = catalogue()["tft-240x240-round"]

    # Glass, RAM and offset, and (x, y) of the first column and row at 0, 90, 180, 270 degrees:
    # swapped axes swap the offsets, a mirrored axis counts RAM - size - offset.
    @pytest.mark.parametrize(
        ("size", "ram", "offsets"),
        [
            ((240, 240), Ram(240, 320, 0, 0), [(0, 0), (80, 0), (0, 80), (0, 0)]),
            ((128, 128), Ram(132, 162, 2, 3), [(2, 3), (31, 2), (2, 31), (3, 2)]),
            ((135, 240), Ram(240, 320, 52, 40), [(52, 40), (40, 52), (53, 40), (40, 53)]),
        ],
    )
    def test_follow_rotation(self, size, ram, offsets):
        panel = sized(self.tft, *size, ram)
        views = [host_view(panel, turn) for turn in (0, 90, 180, 270)]
        assert [(v.offset_x, v.offset_y) for v in views] == offsets
        assert (views[1].width_px, views[1].height_px) == size[::-1]

    def test_a_panel_that_cannot_turn_keeps_its_own_axes(self):
        view = host_view(catalogue()["two-zone-oled-128x64"], 180)
        assert (view.width_px, view.height_px, view.offset_x, view.offset_y) == (128, 64, 2, 0)


def test_turning_there_and_back():
    native = np.arange(6, dtype=np.uint8).reshape(2, 3)
    # Turned clockwise by 90 degrees the left column becomes the top row, read from below.
    assert to_seen(native, 90).tolist() == [[3, 0], [4, 1], [5, 2]]
    for turn in (0, 90, 180, 270):
        assert np.array_equal(to_native(to_seen(native, turn), turn), native)
    assert seen_size(catalogue()["epaper-296x128-four-colour"], 90) == (296, 128)


def test_round_glass_is_a_disc():
    mask = glass_mask(catalogue()["tft-240x240-round"])
    assert not mask[0, 0]
    assert mask[120, 0]
    assert mask.mean() == pytest.approx(np.pi / 4, abs=0.002)
    assert glass_mask(catalogue()["mono-oled-128x64"]).all()


class TestWindows:
    """Window bytes that data sheets give: pages 3 + 3, TFT 11 with the write, e-paper 14 with the write."""

    @pytest.mark.parametrize(
        ("slug", "window", "write"),
        [
            ("mono-oled-128x64", 6, 0),
            ("tft-320x240-touch", 10, 1),
            ("epaper-296x128-black-white", 13, 1),
            ("grey-oled-256x64", 6, 1),
            ("epaper-296x128-four-colour", 0, 1),
        ],
    )
    def test_bytes(self, slug, window, write):
        panel = catalogue()[slug]
        parts = frame_parts(panel, panel.rotation, bytes(panel.frame_bytes))
        sizes = {part.name: part.byte_count for part in parts if part.name != "show"}
        assert sizes.pop("set window", 0) == window
        assert sum(sizes.values()) == panel.frame_bytes + write

    def test_without_a_window_command_each_page_costs_three_bytes(self):
        panel = catalogue()["two-zone-oled-128x64"]
        (part,) = frame_parts(panel, 0, bytes(1024))
        assert part.byte_count == 1024 + 8 * 3
        # The picture sits two columns in: low nibble 2, high nibble 0.
        assert [t.data.hex() for t in part.transactions[:3]] == ["b0", "02", "10"]

    def test_the_mirrored_round_panel_begins_at_row_80(self):
        panel = catalogue()["tft-240x240-round"]
        window = frame_parts(panel, 180, bytes(panel.frame_bytes))[0]
        assert [t.data.hex() for t in window.transactions] == ["2a", "000000ef", "2b", "0050013f"]

    def test_steps_are_named(self):
        panel = catalogue()["epaper-250x122-three-colour"]
        steps = wire_steps(frame_parts(panel, 0, bytes(8000)), SpiLink(4_000_000))
        assert [s.name for s in steps] == ["set window", "send black/white", "set window", "send red", "show"]


class TestSequences:
    def test_values_and_kinds(self):
        sent = expand("reset\ndelay 10 # rest\nc 44 d {x0/8} {x1/8:u8}\nc {B0+page} {x0:lo} {10+x0:hi}\nc 4F d {y:u16le}",
                      {"x0": 18, "x1": 127, "page": 3, "y": 296})  # fmt: skip
        assert [(t.kind, t.data.hex()) for t in sent] == [
            ("reset", ""), ("delay", ""), ("command", "44"), ("data", "020f"),
            ("command", "b30211"), ("command", "4f"), ("data", "2801"),
        ]  # fmt: skip
        assert sent[1].wait_ms == 10
        assert sent[1].note == "rest"

    @pytest.mark.parametrize(
        ("text", "message"),
        [
            ("c 2A\nx 10", "line 2"),
            ("c 2a", "neither a byte"),
            ("delay soon", "whole milliseconds"),
            ("c d 10", "no byte after 'c'"),
            ("c {x0:u64}", "neither a byte"),
        ],
    )
    def test_bad_lines_are_told_by_number_and_reason(self, text, message):
        with pytest.raises(BadDescriptionError, match=message):
            parse(text)

    def test_unknown_and_oversized_values(self):
        with pytest.raises(BadDescriptionError, match="known: x0"):
            expand("c {z}", {"x0": 1})
        with pytest.raises(BadDescriptionError, match="does not fit"):
            expand("c {x0}", {"x0": 300})


class TestCatalogue:
    @pytest.mark.parametrize("panel", PANELS, ids=lambda p: p.slug)
    def test_json_form_is_whole(self, panel):
        assert passport_from_json(json.dumps(passport_to_plain(panel))) == panel
        assert panel.colors_in_words
        assert setup_part(panel, panel.rotation).transactions[0].kind == "reset"

    def test_every_layout_of_the_field_occurs(self):
        sizes = {(seen_size(p, p.rotation), p.format.bits, p.technology) for p in PANELS}
        for wanted in (
            ((128, 64), 1, "oled"), ((128, 32), 1, "oled"), ((256, 64), 4, "oled"), ((128, 160), 12, "tft"), ((250, 122), 1, "epaper"),
            ((296, 128), 1, "epaper"), ((296, 128), 2, "epaper"), ((400, 300), 1, "epaper"), ((648, 480), 1, "epaper"),
            ((600, 448), 4, "epaper"), ((800, 480), 4, "epaper"), ((240, 240), 16, "tft"), ((320, 240), 16, "tft"), ((480, 320), 18, "tft"),
        ):  # fmt: skip
            assert wanted in sizes
        assert catalogue()["grey-oled-256x64"].ram.offset_x == 112
        assert catalogue()["two-zone-oled-128x64"].ram.width_px == 132

    @pytest.mark.parametrize(
        ("change", "message"),
        [
            ({"glass": {"width_px": 0}}, r"glass\.width_px"),
            ({"ram": {"width_px": 100}}, "cannot hold 128"),
            ({"format": {"bits": 3}}, "1, 2, 4 or 8"),
            ({"technology": "plasma"}, "technology"),
            ({"links": []}, "at least one link"),
            (
                {"palette": {"names": ["dark", "lit", "red"], "nominal": ["#000000"] * 3, "measured": ["#000000"] * 3}},
                "3 colours",
            ),
            ({"glas": 1}, "glas: no such field; near it: glass"),
            ({"power": {"volts": 3}}, r"power\.volts: no such field"),
        ],
    )
    def test_a_broken_passport_is_told_by_path(self, change, message):
        from mosaic.catalogue import merged

        plain = merged(passport_to_plain(catalogue()["mono-oled-128x64"]), change)
        with pytest.raises(BadDescriptionError, match=message):
            passport_from_json(json.dumps(plain))

    def test_no_json_and_unknown_names(self):
        with pytest.raises(BadDescriptionError, match="to be JSON"):
            passport_from_json("{")
        with pytest.raises(UnknownNameError, match="mono-oled-128x64"):
            catalogue()["mono-oled-128x65"]

    def test_bases_in_a_circle(self, tmp_path):
        (tmp_path / "a.toml").write_text('base = "b"')
        (tmp_path / "b.toml").write_text('base = "a"')
        with pytest.raises(BadDescriptionError, match="circle"):
            load(tmp_path, Passport, "panel")


def test_two_zones_have_their_own_lit_colour():
    panel = catalogue()["two-zone-oled-128x64"]
    shown = colors_of(np.ones((64, 128), np.uint8), panel, 0)
    assert shown[15, 0].tolist() == [0xFF, 0xD8, 0x4A]
    assert shown[16, 0].tolist() == [0x52, 0xB6, 0xFF]
    assert colors_of(np.ones((64, 128), np.uint8), panel, 180)[63, 0].tolist() == [0xFF, 0xD8, 0x4A]
