"""Every kind of misuse is reported, with the transaction and the byte at which it happens."""

import pytest

from mosaic.conversion.program import Setting, transmission
from mosaic.conversion.sending_mistakes import SENDING_MISTAKES, sending_mistakes_of
from mosaic.panels.geometry import Orientation
from mosaic.panels.loader import catalogue
from mosaic.panels.sending import Sending
from mosaic.panels.sequence import expand
from mosaic.virtual.misuse import KINDS
from mosaic.virtual.panel import virtual_panel
from tests.mosaic.virtual.test_virtual import random_picture

TFT, OLED, PAPER, FOUR = "tft-240x240-round", "mono-oled-128x64", "epaper-296x128-black-white", "epaper-296x128-four-colour"
AWAKE = "reset\nc 11\ndelay 5\n"
CASES = [
    ("no-reset", TFT, "c 11", 1, 1),
    ("before-set-up", OLED, "reset\nd 00 FF", 2, 0),
    ("unfinished", TFT, AWAKE + "c 2A d 00 10\nc 29", 6, 1),
    ("unknown", TFT, AWAKE + "c 99", 4, 1),
    ("stray-data", TFT, AWAKE + "c 29 d 12 34", 5, 1),
    ("bad-value", TFT, AWAKE + "c 3A d 07", 5, 1),
    ("reversed", OLED, "reset\nc 20 00\nc 21 10 05\nd FF", 4, 1),
    ("outside", TFT, AWAKE + "c 2A d 00 EE 00 F3\nc 2C" + " d" + " 00" * 18, 7, 1),
    ("half-pixel", TFT, AWAKE + "c 3A d 05\nc 2C d 00 00 00\nc 29", 8, 1),
    ("locked", "grey-oled-256x64", "reset\nc AF", 2, 1),
    ("too-soon", TFT, "reset\nc 11\nc 29", 3, 1),
    ("busy", FOUR, "reset\nbusy\nc 04\nc 61 d 00 80 01 28", 4, 0),
    ("asleep", PAPER, "reset\nbusy\nc 10 d 01\nc 24", 5, 1),
    ("unpowered", PAPER, "reset\nbusy\nc 20", 3, 1),
    ("size", FOUR, "reset\nbusy\nc 04\nbusy\nc 61 d 00 80 01 28\nc 10 d FF\nc 12 d 00", 10, 1),
]


def test_every_kind_has_a_case():
    assert {case[0] for case in CASES} == set(KINDS)


@pytest.mark.parametrize(("kind", "slug", "text", "transaction", "byte"), CASES)
def test_is_reported_with_its_place(kind, slug, text, transaction, byte):
    virtual = virtual_panel(catalogue()[slug])
    virtual.play(expand(text, {}))
    virtual.finish()
    assert [(said.transaction, said.byte) for said in virtual.misuse if said.kind == kind] == [(transaction, byte)], (
        virtual.misuse
    )


def test_what_is_right_reports_nothing():
    for panel in catalogue().values():
        setting = Setting(panel, Orientation(panel.rotation))
        virtual = virtual_panel(panel)
        for part in transmission(random_picture(panel, setting.turn), setting, Sending()):
            virtual.play(part.transactions)
        virtual.finish()
        assert virtual.misuse == [], panel.slug


@pytest.mark.parametrize("mistake", SENDING_MISTAKES.values(), ids=lambda s: s.slug)
def test_a_sending_mistake_is_reported_as_one_of_its_kinds_wherever_it_can_be_made(mistake):
    made = 0
    for panel in catalogue().values():
        setting = Setting(panel, Orientation(panel.rotation))
        parts = transmission(random_picture(panel, setting.turn), setting, Sending())
        if mistake not in sending_mistakes_of(parts, panel) or panel.glass.width_px * panel.glass.height_px > 100_000:
            continue
        virtual = virtual_panel(panel)
        for part in mistake.change(parts, panel):
            virtual.play(part.transactions)
        virtual.finish()
        made += any(said.kind in mistake.reports for said in virtual.misuse)
    assert made >= 2
