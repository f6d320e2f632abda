"""Usual set-ups of each family are no misuse; real misuse stands first, and repeats are counted."""

import pytest

from mosaic.conversion.replay import replay
from mosaic.imports.capture import read_capture
from mosaic.links.spi import SpiLink
from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import expand
from mosaic.virtual.misuse import counted
from mosaic.virtual.panel import virtual_panel

SET_UPS = {
    # Scrolling off, pump, charge, levels, and a scroll that is set and never started.
    "mono-oled-128x64": "c AE c D5 80 c A8 3F c D3 00 c 40 c 8D 14 c 20 00 c A1 c C8 c DA 12 c 81 CF c D9 F1 c DB 40 c A4 c A6 c 2E"
    " c 26 00 00 00 07 00 FF c A3 00 40 c E3 c AF",
    "two-zone-oled-128x64": "c AE c 30 c 40 c AD 8B c 81 80 c A1 c C8 c A8 3F c D3 00 c D5 80 c D9 F1 c DA 12 c DB 40 c 33 c A6 c AF",
    # Rates, power, common voltage, gamma of fifteen, tearing line, scroll area.
    "tft-240x240-round": "c 11\ndelay 120\nc CF d 00 C1 30 c ED d 64 03 12 81 c E8 d 85 00 78 c CB d 39 2C 00 34 02 c F7 d 20 c EA d 00 00"
    " c C0 d 23 c C1 d 10 c C5 d 3E 28 c C7 d 86 c 36 d 08 c 3A d 05 c B1 d 00 18 c B6 d 08 82 27 c F2 d 00 c 26 d 01"
    " c E0 d 0F 31 2B 0C 0E 08 4E F1 37 07 10 03 0E 09 00 c E1 d 00 0E 14 03 11 07 31 C1 48 08 0F 0C 31 36 0F c 33 d 00 00 01 40 00 00"
    " c 35 d 00 c 44 d 00 10 c 51 d FF c 53 d 24 c 29",
    "epaper-296x128-black-white": "busy\nc 12\nbusy\nc 74 d 54 c 7E d 3B c 0C d D7 D6 9D c 2C d A8 c 3A d 1A c 3B d 08 c 01 d 27 01 00"
    " c 3C d 05 c 18 d 80 c 1A d 00 00 c 37 d 00 00 00 c 04 d 41 A8 32 c 03 d 17 c 32 d 01 02 03 c 3F d 07 c 11 d 03",
    "epaper-296x128-four-colour": "c 4D d 78 c 00 d 0F 29 c 01 d 07 00 c 03 d 10 54 44 c 06 d 05 00 3F 0A c 50 d 37 c 60 d 02 02"
    " c 61 d 00 80 01 28 c E7 d 1C c E3 d 22 c B4 d D0 c B5 d 03 c E9 d 01 c 30 d 08",
    "grey-oled-256x64": "c FD d 12 c AE c B3 d 91 c CA d 3F c A2 d 00 c A1 d 00 c A0 d 14 11 c B5 d 00 c AB d 01 c B4 d A0 FD c C1 d 9F"
    " c C7 d 0F c B9 c B1 d E2 c D1 d 82 20 c BB d 1F c B6 d 08 c BE d 07 c A6 c A9 c AF",
    "color-oled-128x128": "c FD d 12 c FD d B1 c AE c B3 d F1 c CA d 7F c A2 d 00 c A1 d 00 c A0 d 74 c B5 d 00 c AB d 01 c B1 d 32"
    " c B4 d A0 B5 55 c C1 d 8A 70 8A c C7 d 0F c B9 c B2 d A4 00 00 c B6 d 01 c BE d 05 c A6 c AF",
}  # fmt: skip


@pytest.mark.parametrize("slug", SET_UPS)
def test_a_usual_set_up_is_no_misuse(slug):
    panel = virtual_panel(catalogue()[slug])
    panel.play(expand(f"reset\nbusy\n{SET_UPS[slug]}", {}))
    panel.finish()
    assert [said.text for said in panel.misuse] == []


@pytest.mark.parametrize(("slug", "told"), [("tft-240x240-round", 1), ("mono-oled-128x64", 0)])
def test_a_missing_reset_is_said_once_and_only_where_there_is_a_line_for_it(slug, told):
    panel = virtual_panel(catalogue()[slug])
    panel.play(expand("c AE c AF c AE" if told == 0 else "c 11\ndelay 10\nc 29 c 28", {}))
    assert sum(said.kind == "no-reset" for said in panel.misuse) == told


def test_repeats_are_counted_and_what_harms_least_stands_last():
    texts = [("unknown", "a"), ("reversed", "b"), ("unknown", "a"), ("outside", "c"), ("reversed", "b"), ("unknown", "a")]
    assert counted(texts) == [(1, 2), (3, 1), (0, 3)]
    capture = read_capture("command,88\ncommand,2A\ndata,00 10 00 00\ncommand,2C\ndata,00 00\ncommand,88\n")
    result = replay(capture, catalogue()["tft-240x240-round"], 0, SpiLink(1_000_000), after_setup=True)
    assert [(said.misuse.kind, said.line, count) for said, count in result.counted] == [("reversed", 5, 1), ("unknown", 1, 2)]
