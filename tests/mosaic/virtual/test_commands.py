"""What each family knows, all 256 commands looked at: ranges of hexadecimal codes, as lists of commands give them."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.panels.loader import catalogue
from mosaic.panels.sequence import Transaction, expand
from mosaic.virtual.panel import virtual_panel
from mosaic.virtual.vocabulary import operand_count, spoken

GREY_LOCK = "reset\nc FD d 12\n"
PAPER = "01 03-04 08-0A 0C 0F-12 14-15 18 1A-1C 20-22 24 26 28-32 34-3C 3F 41 44-47 4E-4F 74 7E-7F"
KNOWN = {  # by a panel of the family
    "epaper-296x128-black-white": ("reset\nbusy\n", PAPER),
    "epaper-960x640-black-white": ("reset\nbusy\n", PAPER),
    "epaper-296x128-four-colour": (
        "reset\nbusy\n",
        "00-07 10-13 15-17 20-2E 30 40-43 4D 50-51 60-62 65 70-71 80-84 86 90-92 A0-A2 A4-A5 AA B0 B4-B7 E0-E9 F8",
    ),
    "color-oled-96x64": (GREY_LOCK, "15 5C 75 96 9E-A2 A4-A7 AB AD-AF B1-B6 B8-B9 BB BE C1 C7 CA D1 E3 FD"),
    "grey-oled-256x64": (GREY_LOCK, "15 5C 75 A0-A2 A4-A7 A9 AB AE-AF B1-B6 B8-B9 BB BE C1 C7 CA D1 D5 E3 FD"),
    "grey-oled-128x128": ("reset\n", "15 75 81 A0-A2 A4-A9 AB AE-AF B1-B6 B8-B9 BB-BC BE D1 D5 E3 FD"),
    "mono-oled-128x64": ("reset\n", "00-23 26-27 29-2A 2E-33 40-7F 81 8D A0-A1 A3-A8 AD-C0 C8 D3 D5-D6 D8-DB E0 E3 EE"),
    "two-zone-oled-128x64": ("reset\n", "00-1F 2E-33 40-7F 81 A0-A1 A4-A8 AD-C0 C8 D3 D5 D8-DB E0 E3 EE"),
    "drawing-tft-480x272": ("reset\n", "01-02 10 12 14-1F 30-37 40 46-49 60-65 88-8A 90-9D"),
    "rgb-tft-800x480": ("reset\n", "00 11 28-29 3A"),
    "tft-80x160": ("reset\ndelay 200\n", "00-01 10-13 20-21 26 28-2C 30 33-3A 3C 44 51 53 55 5E B0-FF"),
}
PAPER_OPERANDS = "01:3 10:1 11:1 18:1 21:2 22:1 3C:1 44:2 45:4 4E:1 4F:2"
LEVELS = "81:1 A8:1 AD:1 D3:1 D5:1 D8:1 D9:1 DA:1 DB:1 DC:1"
OPERANDS = {
    "byte-window-epaper": PAPER_OPERANDS,
    "wide-window-epaper": PAPER_OPERANDS.replace("44:2", "44:4").replace("4E:1", "4E:2") + " 0C:5 2C:1",
    "frame-epaper": "00:2 02:1 07:1 12:1 50:1 61:4",
    "byte-window-oled": "15:2 75:2 A0:1 A1:1 A2:1 AB:1 B1:1 B3:1 B4:3 B6:1 BE:1 C1:3 C7:1 CA:1 FD:1",
    "grey-oled": "15:2 75:2 A0:2 A1:1 A2:1 B3:1 C1:1 C7:1 CA:1 FD:1",
    "pair-grey-oled": "15:2 75:2 81:1 A0:1 A1:1 A2:1 A8:1 AB:1 B1:1 B3:1 B6:1 BC:1 BE:1 D5:1 FD:1",
    "page-oled": f"20:1 21:2 22:2 23:1 26:6 27:6 29:5 2A:5 8D:1 A3:2 D6:1 {LEVELS}",
    "page-only-oled": LEVELS,
    "window-tft": "2A:4 2B:4 36:1 3A:1",
    "quad-window": "2A:4 2B:4 35:1 36:1 3A:1 44:2 51:1 53:1 63:1 C4:1 FE:1",
    "scanned-rgb": "3A:1",
    "serial-canvas": "01:1 05:1 10:8 12:2",
    "drawing-tft": " ".join(
        f"{code}:1"
        for code in ["01", "10", "12", "14", "1F", "30", "37", "40", "46", "49", "60", "65", "88", "8A", "90", "91", "9D"]
    ),
}
WORDS = {
    "byte-window-epaper": "01 0C 10-12 18 20-22 24 26 2C 3C 44-45 4E-4F", "frame-epaper": "00 02 04 07 10 12-13 50 61",
    "byte-window-oled": "15 5C 75 A0-A2 A4-A7 AE-AF B1 B3 C1 C7 CA FD", "grey-oled": "15 5C 75 A0-A2 A4-A7 AE-AF B3 C1 C7 CA FD",
    "pair-grey-oled": "15 75 81 A0-A2 A4-A8 AB AE-AF B1 B3 FD", "page-oled": "00-22 40-7F 81 8D A0-A1 A4-A8 AD-C0 C8 D3 D5 D9-DC",
    "page-only-oled": "00-1F 40-7F 81 A0-A1 A4-A8 AD-C0 C8 D3 D5 D9-DC", "scanned-rgb": "11 28-29 3A",
    "window-tft": "01 10-13 20-21 28-2C 36 38-3A 3C 51 53",
}  # fmt: skip


def codes(text: str) -> list[int]:
    """ "10-12 20" as [16, 17, 18, 32]."""
    ends = [part.split("-") for part in text.split()]
    return [code for first, *last in ends for code in range(int(first, 16), int((last or [first])[0], 16) + 1)]


@pytest.mark.parametrize(("slug", "before", "known"), [(slug, *said) for slug, said in KNOWN.items()], ids=list(KNOWN))
def test_all_commands_that_a_family_knows(slug, before, known):
    """Each with its operands; none brings the controller down."""
    panel, taken = catalogue()[slug], []
    for code in range(256):
        virtual = virtual_panel(panel)
        operands = " ".join(["00"] * virtual.OPERANDS.get(code, 0))
        kind = "c" if virtual.OPERANDS_ARE_COMMANDS else "d"
        virtual.play(expand(f"{before}c {code:02X}" + (f" {kind} {operands}" if operands else ""), {}))
        if not any(misuse.kind == "unknown" for misuse in virtual.misuse):
            taken.append(code)
    assert taken == codes(known)


@pytest.mark.parametrize(("family", "counts"), OPERANDS.items())
def test_operands_that_a_command_takes(family, counts):
    wanted = {int(code, 16): int(count) for code, count in (part.split(":") for part in counts.split())}
    told = {code: operand_count(family, code) for code in (wanted if family == "drawing-tft" else range(256))}
    assert {code: count for code, count in told.items() if count} == wanted


@pytest.mark.parametrize(("family", "told"), WORDS.items())
def test_commands_that_are_told_in_words(family, told):
    assert [code for code in range(256) if spoken(family, code, (0,) * (operand_count(family, code) or 0)).topic] == codes(told)


@pytest.mark.parametrize("slug", KNOWN)
@settings(max_examples=15)
@given(
    st.lists(
        st.tuples(st.sampled_from(["command", "data", "data", "reset", "busy"]), st.binary(min_size=1, max_size=12)), max_size=20
    )
)
def test_no_bytes_bring_a_controller_down(slug, sent):
    virtual = virtual_panel(catalogue()[slug])
    for kind, data in sent:
        virtual.take(Transaction(kind, b"" if kind in ("reset", "busy") else data))
    virtual.finish()
    assert virtual.glass().shape[:2] == (virtual.passport.glass.height_px, virtual.passport.glass.width_px)
