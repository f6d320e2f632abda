"""Registers one by one, on controllers by themselves: where a row lies, what is lit, what an update changes."""

from fractions import Fraction

import numpy as np
import pytest

from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import expand
from mosaic.virtual.panel import virtual_panel

ROW, WORDS = "mono-oled-128x64", "two-zone-oled-128x64"


def oled(text: str, slug: str = ROW):
    """A panel that is on and dark, but for the first pixel of row 10; then what is sent."""
    virtual = virtual_panel(catalogue()[slug])
    virtual.play(expand("reset\nc AF", {}))
    virtual.ram[:] = 0
    virtual.ram[1, 2 if slug == WORDS else 0] = 1 << 2
    virtual.play(expand(text, {}))
    return virtual


def lit(virtual) -> list[list[int]]:
    return np.argwhere(virtual.glass()).tolist()


class TestPageController:
    @pytest.mark.parametrize(
        ("sent", "place"),
        [
            ("c A6", [10, 0]),
            ("c D3 c 03", [7, 0]),  # row y shows RAM row y + shift
            ("c D3 c 3F", [11, 0]),
            ("c D3 c 43", [7, 0]),  # six bits count
            ("c 43", [7, 0]),
            ("c 43 c D3 c 02", [5, 0]),
            ("c 4B", [63, 0]),
            ("c A1", [10, 127]),
            ("c C8", [53, 0]),  # 63 - 10
            ("c C8 c D3 c 03", [56, 0]),
            ("c A8 c 1F c C8", [21, 0]),  # of 32 rows: 31 - 10
        ],
    )
    def test_where_a_row_shows(self, sent, place):
        assert lit(oled(sent)) == [place]

    @pytest.mark.parametrize(("count", "is_lit"), [(0x09, False), (0x0A, True), (0x3F, True)])
    def test_rows_beyond_the_multiplex_stay_dark(self, count, is_lit):
        """A count of N stands for N + 1 rows: row 10 is the eleventh."""
        assert bool(lit(oled(f"c A8 c {count:02X}"))) is is_lit

    def test_all_on_hides_the_ram_and_lets_it_be(self):
        virtual = oled("c A5")
        assert virtual.glass().all()
        virtual.play(expand("c A4", {}))
        assert lit(virtual) == [[10, 0]]

    def test_inverted_and_off(self):
        virtual = oled("c A7")
        assert np.argwhere(virtual.glass() == 0).tolist() == [[10, 0]]
        virtual.play(expand("c A5", {}))
        assert not virtual.glass().any()
        virtual.play(expand("c A4 c A6 c AE", {}))
        assert not virtual.glass().any()

    @pytest.mark.parametrize(
        ("column", "count", "written", "message"),
        [
            (129, 3, [129, 130, 131], None),
            (129, 4, [129, 130, 131], "1 byte past column 131 of page 1: lost"),
            (131, 1, [131], None),
            (132, 2, [], "2 bytes past column 131 of page 1: lost"),
        ],
    )
    def test_a_page_ends_at_its_last_column(self, column, count, written, message):
        virtual = oled(f"c B1 c {0x10 | column >> 4:02X} c {column & 15:02X} d {'FF ' * count}", WORDS)
        assert np.flatnonzero(virtual.ram[1] == 0xFF).tolist() == written
        assert [said.text for said in virtual.misuse] == ([message] if message else [])
        assert not virtual.ram[2].any()

    def test_the_pen_stays_behind_the_last_column(self):
        virtual = oled("c B1 c 18 c 03 d FF\nd FF FF", WORDS)
        assert [said.text for said in virtual.misuse] == ["2 bytes past column 131 of page 1: lost"]

    @pytest.mark.parametrize(
        ("column", "data", "written", "message"),
        [
            (126, [1, 2], {126: 1, 127: 2}, None), (126, [1, 2, 3], {126: 1, 127: 2, 0: 3}, "1 byte past"),
            (127, [1, 2, 3], {127: 1, 0: 2, 1: 3}, "2 bytes past"),
        ],
    )  # fmt: skip
    def test_other_families_begin_the_line_again(self, column, data, written, message):
        sent = " ".join(f"{byte:02X}" for byte in data)
        virtual = virtual_panel(catalogue()["mono-oled-128x64"])
        virtual.play(expand("reset\nc 20 02 c B1 c 00 c 10 d {plane}\n", {"plane": bytes(128)}))
        virtual.play(expand(f"c B1 c {0x10 | column >> 4:02X} c {column & 15:02X} d {sent}", {}))
        assert {int(x): int(virtual.ram[1][x]) for x in np.flatnonzero(virtual.ram[1])} == written
        told = [said.text for said in virtual.misuse]
        assert told == ([] if message is None else [f"{message} column 127 of page 1: laid at its beginning"])
        virtual.play(expand("d 09", {}))
        assert virtual.ram[1][(column + len(data)) % 128] == 9

    def test_a_column_command_leaves_the_page_and_a_page_command_the_column(self):
        """Window of columns 0 to 127, pages 0 to 7: three bytes, then either command alone, then one byte more."""
        for command, at in (("c 21 00 7F", (2, 0)), ("c 22 02 07", (2, 3))):
            virtual = virtual_panel(catalogue()["mono-oled-128x64"])
            virtual.play(expand(f"reset\nc 20 00 c 21 00 7F c 22 02 07 d 01 02 03\n{command} d 77", {}))
            assert virtual.ram[at] == 0x77
        virtual = virtual_panel(catalogue()["mono-oled-128x64"])
        virtual.play(expand("reset\nc 20 01 c 21 05 06 c 22 02 03 d 01 02 03 04 05", {}))  # down the pages first
        assert [int(virtual.ram[at]) for at in ((2, 5), (3, 5), (2, 6), (3, 6))] == [5, 2, 3, 4]

    @pytest.mark.parametrize(("page", "kept"), [(7, True), (8, False)])
    def test_pages_that_the_ram_does_not_have(self, page, kept):
        assert bool((oled(f"c B{page:X} d FF", WORDS).ram == 0xFF).any()) is kept


class TestEpaper:
    """Glass of 8 pixels in a byte; the second RAM holds the picture before."""

    SLUG = "epaper-296x128-black-white"
    AT_0 = "c 4E d 00\nc 4F d 00 00\n"

    def panel(self, slug=SLUG):
        virtual = virtual_panel(catalogue()[slug])
        virtual.play(expand("reset\nbusy\nc 11 d 03\nc 44 d 00 0F\nc 45 d 00 00 27 01\n", {}))
        virtual.ram[:] = 0
        virtual.shown[:] = 0
        return virtual

    @pytest.mark.parametrize(
        ("new", "before", "shown", "after"),
        # What differs between the two planes is driven to the new picture; the rest of the glass stays as it was.
        [(0xF0, 0x00, 0x0F, 0xFF), (0xF0, 0xF0, 0x0F, 0x0F), (0x00, 0xF0, 0xFF, 0x0F), (0xF0, 0xFF, 0xFF, 0xF0), (0x81, 0x80, 0x00, 0x01)],
    )  # fmt: skip
    def test_an_update_of_changed_pixels(self, new, before, shown, after):
        virtual = self.panel()
        virtual.shown[0, 0, 0] = shown
        virtual.play(expand(f"{self.AT_0}c 24 d {new:02X}\n{self.AT_0}c 26 d {before:02X}\nc 22 d 0F\nc 20", {}))
        assert virtual.shown[0, 0, 0] == after
        assert virtual.changes[-1].mode.name == "partial"
        assert virtual.busy_until_ms - virtual.now_ms == 400

    @pytest.mark.parametrize(("control", "after", "mode", "time_ms"), [(0xC7, 0xF0, "full", 2000), (0xCF, 0xFF, "partial", 400)])
    def test_the_bit_that_tells_the_two_updates_apart(self, control, after, mode, time_ms):
        virtual = self.panel()
        virtual.shown[0, 0, 0] = 0x0F
        virtual.play(expand(f"{self.AT_0}c 24 d F0\nc 22 d {control:02X}\nc 20", {}))
        assert virtual.shown[0, 0, 0] == after
        assert (virtual.changes[-1].mode.name, virtual.changes[-1].mode.time_ms) == (mode, time_ms)
        assert virtual.busy_until_ms - virtual.now_ms == time_ms

    def test_glass_of_two_planes_knows_no_changed_pixels(self):
        virtual = self.panel("epaper-200x200-three-colour")
        virtual.shown[0, 0, 0] = 0x0F
        virtual.play(expand("c 22 d CF\nc 20", {}))
        assert virtual.shown[0, 0, 0] == 0
        assert virtual.changes[-1].mode.name == "full"

    @pytest.mark.parametrize("how", ["reset", "c 12"])
    def test_a_reset_forgets_registers_and_ram_but_not_the_glass(self, how):
        virtual = self.panel()
        virtual.play(expand(f"{self.AT_0}c 24 d AA\nc 22 d C7\nc 20\nbusy\nc 44 d 01 02\nc 4E d 01\n{how}", {}))
        assert virtual.shown[0, 0, 0] == 0xAA
        assert (virtual.across, virtual.counter, virtual.control, virtual.entry) == ((0, 15), (0, 0), 0, 3)
        assert virtual.ram[0].any()  # noise, as after power-up
        assert virtual.busy_until_ms - virtual.now_ms == Fraction(10)

    def test_sleep_ends_with_a_reset_only(self):
        virtual = self.panel()
        virtual.play(expand("c 10 d 00", {}))
        assert not virtual.asleep
        virtual.play(expand("c 10 d 01\nc 12", {}))
        assert virtual.asleep
        assert [said.kind for said in virtual.misuse] == ["asleep"]
        virtual.play(expand("reset", {}))
        assert not virtual.asleep

    @pytest.mark.parametrize(
        ("entry", "from_x", "from_y", "cells"),
        [
            (3, 15, 0, [(0, 15), (1, 0)]),  # (row, byte): across, then down
            (2, 0, 0, [(0, 0), (1, 15)]),
            (1, 15, 5, [(5, 15), (4, 0)]),
            (7, 0, 295, [(295, 0), (0, 1)]),
        ],
    )
    def test_ways_of_counting(self, entry, from_x, from_y, cells):
        virtual = self.panel()
        windows = {
            3: "c 44 d 00 0F\nc 45 d 00 00 27 01",
            2: "c 44 d 0F 00\nc 45 d 00 00 27 01",
            1: "c 44 d 00 0F\nc 45 d 27 01 00 00",
        }
        low, high = from_y & 255, from_y >> 8
        start = f"c 11 d {entry:02X}\n{windows[entry & 3]}\nc 4E d {from_x:02X}\nc 4F d {low:02X} {high:02X}\n"
        virtual.play(expand(f"{start}c 24 d 11 22", {}))
        assert [virtual.ram[0, row, byte] for row, byte in cells] == [0x11, 0x22]
        assert virtual.misuse == []

    @pytest.mark.parametrize(("last_x", "last_y", "is_told"), [(15, 295, False), (16, 295, True), (15, 296, True)])
    def test_a_window_ends_with_the_ram(self, last_x, last_y, is_told):
        virtual = self.panel()
        virtual.play(expand(f"c 44 d 00 {last_x:02X}\nc 45 d 00 00 {last_y & 255:02X} 01\n{self.AT_0}c 24 d 11", {}))
        assert [said.kind for said in virtual.misuse] == (["outside"] if is_told else [])
