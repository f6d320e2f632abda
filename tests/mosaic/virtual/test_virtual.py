"""The virtual panel: it shows what was sent, and only that; it is a witness of its own."""

from dataclasses import replace

import numpy as np
import pytest

from mosaic.conversion import pipeline
from mosaic.panels.geometry import Orientation, seen_size
from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import Transaction, expand
from mosaic.panels.wire import Part, frame_parts, setup_part
from mosaic.pixels import indexed
from mosaic.virtual.panel import prove, shown_pixels, virtual_panel
from tests.conftest import quantised

PANELS = list(catalogue().values())


def random_picture(panel, rotation, seed=9):
    width, height = seen_size(panel, rotation)
    rng = np.random.default_rng(seed)
    if panel.is_direct:
        return quantised(rng.integers(0, 256, (height, width, 3), np.uint8), panel.format)
    return rng.integers(0, len(panel.palette), (height, width), np.uint8)


def proof_of(panel, rotation, pixels, packed=None, sender=None):
    """Send with `sender`'s passport (a wrong one, say) to the panel as it is."""
    packed = pipeline.pack(pixels, panel, rotation) if packed is None else packed
    sender = sender or panel
    return prove(panel, rotation, setup_part(sender, rotation), frame_parts(sender, rotation, packed), pixels, len(packed))


@pytest.mark.parametrize("panel", PANELS, ids=lambda p: p.slug)
@pytest.mark.parametrize("mirrored", [False, True])
def test_every_panel_shows_every_picture_from_reset_at_every_orientation(panel, mirrored):
    for rotation in (0, 90, 180, 270):
        lies = Orientation(rotation, mirrored)
        pixels = random_picture(panel, lies)
        packed = pipeline.pack(pixels, panel, lies)
        proof = proof_of(panel, lies, pixels, packed)
        assert proof.verified, (lies, proof)
        assert np.array_equal(pipeline.unpack(packed, panel, lies), pixels)


class TestSeededFaults:
    """Wrong bytes or a wrong set-up going through the panel are seen; nothing is taken on trust."""

    oled = catalogue()["mono-oled-128x64"]
    tft = catalogue()["tft-320x240-touch"]

    def test_a_wrong_bit_order_in_the_packer_fails_the_proof(self, monkeypatch):
        pixels = random_picture(self.oled, 0)
        original = indexed.loops.fold_columns
        monkeypatch.setattr(indexed.loops, "fold_columns", lambda v, bits, low_first, out: original(v, bits, not low_first, out))
        proof = proof_of(self.oled, 0, pixels)
        assert not proof.verified
        assert proof.wrong_pixels > 1000
        monkeypatch.setattr(indexed.loops, "fold_columns", original)
        assert proof_of(self.oled, 0, pixels).verified

    @pytest.mark.parametrize(
        ("old", "new"),
        [
            ("c A0 ", "c A1 "),  # mirrored
            ("c C0 ", "c C8 "),  # upside down
            ("c A6 ", "c A7 "),  # inverted
            ("c D3 00", "c D3 08"),  # shifted by a page
            ("c 20 00", "c 20 01"),  # bytes down the columns
            ("c DA 12", "c DA 02"),  # COM pins
            ("c A8 3F", "c A8 1F"),  # half the rows
            ("c AF ", "c AE "),  # never switched on
        ],
    )
    def test_a_wrong_set_up_of_the_oled(self, old, new):
        wrong = replace(self.oled, sequences=replace(self.oled.sequences, setup=self.oled.sequences.setup.replace(old, new)))
        assert wrong != self.oled
        assert proof_of(self.oled, 0, random_picture(self.oled, 0), sender=wrong).wrong_pixels > 500

    @pytest.mark.parametrize(("old", "new"), [("{turn}", "08"), ("3A d 05", "3A d 06"), ("c 20 ", "c 21 "), ("c 11 ", "c 13 ")])
    def test_a_wrong_set_up_of_the_tft(self, old, new):
        wrong = replace(self.tft, sequences=replace(self.tft.sequences, setup=self.tft.sequences.setup.replace(old, new)))
        assert wrong != self.tft
        assert proof_of(self.tft, 90, random_picture(self.tft, 90), sender=wrong).wrong_pixels > 10_000

    def test_swapped_planes_and_byte_order(self):
        greys = catalogue()["epaper-296x128-four-grey"]
        pixels = random_picture(greys, 90)
        packed = pipeline.pack(pixels, greys, 90)
        half = len(packed) // 2
        assert proof_of(greys, 90, pixels, packed[half:] + packed[:half]).wrong_pixels > 10_000
        pixels = random_picture(self.tft, 90)
        swapped = np.frombuffer(pipeline.pack(pixels, self.tft, 90), ">u2").astype("<u2").tobytes()
        assert proof_of(self.tft, 90, pixels, swapped).wrong_pixels > 10_000

    def test_a_forgotten_offset_leaves_a_strip_of_noise(self):
        panel = catalogue()["two-zone-oled-128x64"]
        wrong = replace(panel, ram=replace(panel.ram, offset_x=0))
        pixels = np.zeros((64, 128), np.uint8)
        virtual = virtual_panel(panel)
        virtual.play(setup_part(wrong, 0).transactions)
        for part in frame_parts(wrong, 0, pipeline.pack(pixels, panel, 0)):
            virtual.play(part.transactions)
        shown = shown_pixels(virtual, 0)
        assert not shown[:, :126].any()
        assert shown[:, 126:].any()


class TestMisuse:
    def test_no_reset(self):
        panel = catalogue()["tft-240x240-round"]
        virtual = virtual_panel(panel)
        virtual.play(setup_part(panel, 0).transactions[2:])
        assert "before any reset" in virtual.misuse[0].text

    @pytest.mark.parametrize(
        ("slug", "text", "message"),
        [
            ("tft-240x240-round", "reset\nc 2A d 00 10 00 05\nc 2C d FF FF", "reversed"),
            ("tft-240x240-round", "reset\nc 2A d 00 EF 01 10\nc 2C d 00 00 00 00 00 00", "outside the RAM"),
            ("tft-240x240-round", "reset\nc 2A d 00 10\nc 2B d 00 00 00 01", "left with 2 of 4"),
            ("tft-240x240-round", "reset\nc 29 d 12 34", "takes none"),
            ("tft-240x240-round", "reset\nc 3A d 07", "stands for no depth"),
            ("tft-240x240-round", "reset\nc 99", "not known"),
            ("mono-oled-128x64", "reset\nc 20 00\nc 21 10 05\nd FF", "reversed"),
            ("mono-oled-128x64", "reset\nc DC 00", "not known to controllers of 64 rows"),
            ("two-zone-oled-128x64", "reset\nc 21 00 7F", "command 21 is not known"),
            ("grey-oled-128x128", "reset\nc 15 00 40\nd FF", "outside the RAM"),
            ("grey-oled-128x128", "reset\nc 99", "not known"),
            ("color-oled-128x128", "reset\nc 15 d 00 7F", "locked"),
            ("color-oled-128x128", "reset\nc FD d 12\nc 03", "not known"),
            ("amoled-466x466-round", "reset\nc 2A d 00 00", "is not opcode, 00, command, 00"),
            ("amoled-466x466-round", "reset\nc 02 00 2C 00", "does not go with command 2C"),
            ("amoled-466x466-round", "reset\nc 02 00 2A 00 d 00 01 00 04\nc 32 00 2C 00 d 00 00", "pairs of pixels"),
            ("rgb-tft-800x480", "reset\nd 00 00", "the picture rolls"),
            ("rgb-tft-800x480", "reset\nc 99", "not known"),
            ("drawing-tft-800x480", "reset\nc 02 d 00 00", "depth is set to one"),
            ("drawing-tft-800x480", "reset\nc 10 d 0C\nc 34 d 20 c 35 d 03 c 36 d 01\nc 02 d 00 00", "outside the RAM"),
            ("drawing-tft-800x480", "reset\nc 97 d FF c 98 d 7F c 90 d 90", "leaves the RAM"),
            ("drawing-tft-800x480", "reset\nc 77", "register 77"),
            ("serial-tft-1024x600", "reset\nc 10", "outside a message"),
            ("serial-tft-1024x600", "reset\nc 7E 77", "message 77"),
            ("serial-tft-1024x600", "reset\nc 7E 11 d 00 00 00", "half a pixel"),
            ("epaper-960x640-black-white", "reset\nc 44 d 04 00 BF 03", "does not begin and end on bytes"),
            ("mono-oled-128x64", "reset\nc B0 0F 17\nd FF FF FF FF FF FF FF FF FF FF", "past column 127"),
            ("grey-oled-256x64", "reset\nc 15 d 1C 5B", "locked"),
            ("epaper-296x128-black-white", "reset\nc 20", "without an update setting"),
            ("epaper-296x128-black-white", "reset\nc 10 d 01\nc 24", "deep sleep"),
            ("epaper-296x128-black-white", "reset\nc 44 d 05 0F\nc 4E d 00\nc 24 d FF", "outside the window"),
            ("epaper-296x128-four-colour", "reset\nc 12 d 00", "drive voltages off"),
            (
                "epaper-296x128-four-colour",
                "reset\nc 04\nc 61 d 00 80 01 28\nc 10 d FF\nc 12 d 00",
                "1 bytes sent, the frame takes 9,472",
            ),
        ],
    )
    def test_is_reported(self, slug, text, message):
        virtual = virtual_panel(catalogue()[slug])
        virtual.play(expand(text, {}))
        virtual.finish()
        assert any(message in said.text for said in virtual.misuse), virtual.misuse

    def test_misuse_alone_fails_the_proof(self):
        panel = catalogue()["tft-240x240-round"]
        pixels = random_picture(panel, 0)
        setup = Part("set-up", (*setup_part(panel, 0).transactions, Transaction("command", b"\x99")))
        proof = prove(panel, 0, setup, frame_parts(panel, 0, pipeline.pack(pixels, panel, 0)), pixels, 115_200)
        assert not proof.wrong_pixels
        assert not proof.verified


def test_counters_wrap_from_the_last_cell_to_the_first():
    virtual = virtual_panel(catalogue()["mono-oled-128x64"])
    virtual.play(expand("reset\nc AF\nc A4\nc 20 00\nc 21 0A 0B\nc 22 01 01\nd 11 22 33", {}))
    assert virtual.ram[1, 10:12].tolist() == [0x33, 0x22]
    assert virtual.byte_count == 13


def test_an_epaper_shows_nothing_new_before_its_update():
    panel = catalogue()["epaper-296x128-black-white"]
    pixels = np.ones((128, 296), np.uint8)
    *data, show = frame_parts(panel, 90, pipeline.pack(pixels, panel, 90))
    virtual = virtual_panel(panel)
    virtual.play(setup_part(panel, 90).transactions)
    for part in data:
        virtual.play(part.transactions)
    assert not shown_pixels(virtual, 90).any()
    virtual.play(show.transactions)
    assert shown_pixels(virtual, 90).all()


class TestDrawingByItself:
    """Shapes from short commands: registers of two bytes, low byte first."""

    panel = catalogue()["drawing-tft-480x272"]

    def drawn(self, text):
        virtual = virtual_panel(self.panel)
        virtual.play(expand("reset\nc 10 d 0C\nc 01 d 80\nc 63 d 1F c 64 d 00 c 65 d 1F\n" + text, {}))
        assert not virtual.misuse
        return (virtual.glass() == [255, 0, 255]).all(axis=2)

    @pytest.mark.parametrize(
        ("control", "count"), [("31", 0), ("6F", 0), ("81", 12), ("91", 2 * 12 + 2 * 2), ("CF", 12), ("BF", 48)]
    )
    def test_three_bits_say_what_is_drawn(self, control, count):
        """Twelve columns, four rows; the other bits of the register say nothing here."""
        assert self.drawn(f"c 91 d 0A c 93 d 05 c 95 d 15 c 97 d 08 c 90 d {control}").sum() == count

    def test_a_filled_rectangle(self):
        lit = self.drawn("c 91 d 0A c 93 d 05 c 95 d 2C c 96 d 01 c 97 d 08 c 90 d B0")  # 10, 5 to 300, 8
        assert lit.sum() == 291 * 4
        assert lit[5:9, 10:301].all()

    def test_an_outline_and_a_line(self):
        assert self.drawn("c 91 d 0A c 93 d 05 c 95 d 0E c 97 d 08 c 90 d 90").sum() == 2 * 5 + 2 * 2
        slanted = self.drawn("c 91 d 00 c 93 d 00 c 95 d 63 c 97 d 31 c 90 d 80")  # 100 columns, 50 rows
        assert slanted.sum() == 100
        assert slanted[0, 0]
        assert slanted[49, 99]


def test_a_serial_panel_stays_dark_without_its_light():
    panel = catalogue()["serial-tft-320x240"]
    virtual = virtual_panel(panel)
    virtual.play(expand("reset\nc 7E 01 d 01\nc 7E 12 d F8 00", {}))
    assert not virtual.glass().any()
    virtual.play(expand("c 7E 05 d FF", {}))
    assert (virtual.glass() == [255, 0, 0]).all()


def test_exchanged_channels_show_exchanged_colours():
    panel = catalogue()["tft-128x128"]
    red = np.zeros((128, 128, 3), np.uint8)
    red[..., 0] = 255
    wrong = replace(panel, controller=replace(panel.controller, turn_codes=(0x00, 0xA0, 0xC0, 0x60)))
    virtual = virtual_panel(panel)
    packed = pipeline.pack(red, panel, 0)
    for part in (setup_part(wrong, 0), *frame_parts(wrong, 0, packed)):
        virtual.play(part.transactions)
    assert (shown_pixels(virtual, 0) == [0, 0, 255]).all()


def test_a_three_colour_glass_takes_two_planes():
    panel = catalogue()["epaper-800x480-three-colour"]
    pixels = random_picture(panel, 0)
    packed = pipeline.pack(pixels, panel, 0)
    assert proof_of(panel, 0, pixels, packed).verified
    swapped = packed[48_000:] + packed[:48_000]
    assert proof_of(panel, 0, pixels, swapped).wrong_pixels > 100_000
