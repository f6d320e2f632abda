"""The map of a serial panel: numbers as they are sent, places, the ribbon, CSV, the line's budget, slots and the stand-in."""

import random
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.panels.supply import PictureSlots
from mosaic.serial.frames import Message, Reader, encode
from mosaic.serial.line import budget, byte_ms, clock_error, frame_bytes, slower, touch_lag_ms
from mosaic.serial.memory import (
    Entry,
    MemoryMap,
    automatic,
    from_csv,
    packed,
    raw_of,
    ribbon,
    sent_number,
    to_csv,
    unpacked,
    usual_kind,
    word_of_bits,
)
from mosaic.serial.panel import SerialPanel
from mosaic.serial.plan import SerialPlan
from mosaic.serial.slots import Placed, SlotPlan, Thing, card_checks, file_name, fitted, gone, shelves, slots_of
from mosaic.serial.slots import automatic as into_slots
from mosaic.serial.template import MARKED, PACKETS, TEMPLATES, Codes, Template
from mosaic.values.value import Source, Value

TIDE = Value("v1", "tide", decimals=1, low=-50, high=680, source=Source(every_ms=1000))
BIG = Value("v2", "metres", low=0, high=100_000, source=Source(every_ms=100))
WORDS = Value("v3", "name", "text", most_bytes=7)
LAMP, PUMP = Value("v4", "lamp", "yes/no"), Value("v5", "pump", "yes/no")
ALL = (TIDE, BIG, WORDS, LAMP, PUMP)


# Numbers


@pytest.mark.parametrize(
    ("decimals", "scale", "raw", "number"),
    [(1, 1, 234, 234), (0, 1, 234, 23), (0, 1, 235, 24), (0, 1, -235, -24), (2, 1, 234, 2340), (1, 3, 234, 702)],
)
def test_decimals_are_shown_not_sent(decimals, scale, raw, number):
    """23.4 with one decimal is sent as 234."""
    entry = Entry("v1", 0, "s32", decimals, scale)
    assert sent_number(entry, TIDE, raw) == number
    assert abs(raw_of(entry, TIDE, number) - raw) <= (0 if decimals else 5)


@pytest.mark.parametrize(
    ("kind", "raw", "order", "words", "data"),
    [
        ("s16", -2, "high first", "high first", "fffe"), ("u16", 300, "low first", "high first", "2c01"),
        ("u32", 0x01020304, "high first", "high first", "01020304"), ("u32", 0x01020304, "high first", "low first", "03040102"),
        ("u32", 0x01020304, "low first", "high first", "02010403"), ("s32", -1, "low first", "low first", "ffffffff"),
    ],
)  # fmt: skip
def test_numbers_by_hand(kind, raw, order, words, data):
    value = Value("v9", "n", low=-(2**31) + 1, high=2**31 - 1)
    assert packed(Entry("v9", 0, kind), value, raw, MemoryMap(words=words), order).hex() == data


def test_texts_and_bits_by_hand():
    known = MemoryMap()
    assert packed(Entry("v3", 0, "text", bytes=7), WORDS, "Möwe", known, "high first") == b"M\xc3\xb6we\0\0\0"
    assert packed(Entry("v3", 0, "text", bytes=2), WORDS, "Möwe", known, "high first") == b"M\0"  # not half a letter
    assert packed(Entry("v4", 0, "bit", bit=9), LAMP, 1, known, "high first") == b"\x02\x00"
    both = MemoryMap((Entry("v4", 5, "bit", bit=0), Entry("v5", 5, "bit", bit=3)))
    assert word_of_bits(5, both, {"v4": 1, "v5": 1}) == 9
    with pytest.raises(BadValueError, match="does not fit s16: -32768 to 32767"):
        packed(Entry("v2", 0, "s16"), BIG, 32_768, known, "high first")
    with pytest.raises(BadValueError, match="2 bytes; 3 came"):
        unpacked(Entry("v1", 0, "s16"), TIDE, b"abc", known, "high first")


@given(
    st.sampled_from(["u16", "s16", "u32", "s32"]), st.integers(0, 4), st.integers(1, 100), st.sampled_from(["high first", "low first"]),
    st.sampled_from(["high first", "low first"]), st.data(),
)  # fmt: skip
def test_packed_and_unpacked_are_inverse(kind, decimals, scale, order, words, data):
    value = Value("v9", "n", decimals=decimals, low=-(2**30), high=2**30)
    entry, known = Entry("v9", 0, kind, decimals, scale), MemoryMap(words=words)
    low, high = {"u16": (0, 65_535), "s16": (-32_768, 32_767), "u32": (0, 2**31), "s32": (-(2**31), 2**31 - 1)}[kind]
    raw = data.draw(st.integers(-(-low // scale), high // scale))
    assert unpacked(entry, value, packed(entry, value, raw, known, order), known, order) == raw


# Places


def test_each_value_gets_a_place_and_bits_share_a_word():
    assert [usual_kind(one) for one in ALL] == ["s16", "u32", "text", "bit", "bit"]
    known = automatic(ALL, MemoryMap(first=0x100))
    assert [(one.value, one.start, one.bit) for one in known.entries] == [
        ("v1", 0x100, 0), ("v2", 0x101, 0), ("v3", 0x103, 0), ("v4", 0x107, 0), ("v5", 0x107, 1)
    ]  # fmt: skip
    spaced = automatic(ALL, MemoryMap(first=0x100, spacing=16))
    assert [one.start for one in spaced.entries] == [0x100, 0x110, 0x120, 0x130, 0x130]
    by_bytes = automatic(ALL[:3], MemoryMap(first=0, unit="bytes"))
    assert [one.start for one in by_bytes.entries] == [0, 2, 6]


def test_those_that_have_a_place_keep_it():
    known = MemoryMap((Entry("v2", 0x2000, "u32"),))
    assert automatic(ALL, known).entry("v2").start == 0x2000
    assert automatic(ALL, known).entry("v1").start == 0x2002
    assert automatic(ALL, known, anew=True).entry("v1").start == 0x1000
    assert automatic((TIDE,), known).entry("v2") is None
    with pytest.raises(BadDescriptionError, match="one address"):
        MemoryMap((Entry("v1", 0), Entry("v1", 9)))


def test_the_ribbon_shows_gaps_and_overlaps():
    known = MemoryMap((Entry("v1", 0), Entry("v2", 4, "u32"), Entry("v3", 5, "text", bytes=4), Entry("v4", 20, "bit"),
                       Entry("v5", 20, "bit", bit=1)))  # fmt: skip
    told = [(one.start, one.count, len(one.entries), one.overlaps) for one in ribbon(known)]
    assert told == [(0, 1, 1, False), (1, 3, 0, False), (4, 1, 1, False), (5, 1, 2, True), (6, 1, 1, False), (7, 13, 0, False),
                    (20, 1, 2, False)]  # fmt: skip


def test_a_table_goes_out_and_comes_in_again():
    known = automatic(ALL, MemoryMap(first=0x100))
    known = replace(
        known, entries=(replace(known.entries[0], decimals=2, scale=3, direction="both", every_ms=500), *known.entries[1:])
    )
    text = to_csv(known, ALL)
    assert text.splitlines()[1] == "tide,0x0100,s16,2,3,,,both,500"
    assert sorted(from_csv(text, ALL, MemoryMap()).entries, key=lambda one: one.value) == sorted(
        known.entries, key=lambda one: one.value
    )
    assert from_csv("Address;Value\n4096;tide\n", ALL, MemoryMap()).entries == (Entry("v1", 4096, "s16", 1, bytes=16),)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "the first line names the columns"), ("value,address\nwind,1", "line 2: no value is called 'wind'"),
        ("value,address\ntide,here", "line 2: address is 'here'"), ("value,address\ntide,70000", "0 to 65535"),
        ("value,address,kind\ntide,1,f32", "'f32' is no kind"), ("value,address,direction\ntide,1,up", "'up' is no direction"),
    ],
)  # fmt: skip
def test_tables_that_cannot_be_read(text, words):
    with pytest.raises(BadValueError, match=words):
        from_csv(text, ALL, MemoryMap())


# The line

EIGHT = Template(header="5A A5", codes=Codes(write=0x82, read=0x83))


def test_the_line_by_hand():
    """A frame of 8 bytes at 115,200 bit/s is 0.694 ms; once and ten times a second they are 7.6 ms."""
    assert frame_bytes("write", 2, EIGHT) == 8
    assert 8 * byte_ms(115_200) == pytest.approx(0.6944, abs=1e-4)
    assert byte_ms(9600, parity=True) == pytest.approx(1.1458, abs=1e-4)
    known = MemoryMap((Entry("v1", 0), Entry("v2", 1, "s16")))
    found = budget(known, ALL, EIGHT, 115_200)
    assert [(one.name, one.a_second) for one in found.uses] == [("metres", 10.0), ("tide", 1.0)]
    assert found.out_ms == pytest.approx(11 * 0.69444, abs=1e-3)
    assert (found.in_ms, found.share) == (0.0, pytest.approx(found.out_ms / 1000))
    assert found.longest_ms == pytest.approx(0.69444, abs=1e-3)
    assert touch_lag_ms(found, EIGHT, 115_200) == pytest.approx(0.69444 + 6 * 0.086806, abs=1e-3)


def test_values_from_the_panel_are_polled_or_told():
    known = MemoryMap((Entry("v1", 0, direction="from the panel", every_ms=100),))
    told, polled = (budget(known, ALL, EIGHT, 9600, polls=polls) for polls in (False, True))
    assert (told.out_ms, told.in_ms) == (0.0, pytest.approx(10 * 8 * 1.041667, abs=1e-3))
    assert polled.out_ms == pytest.approx(10 * 7 * 1.041667, abs=1e-3)
    both = budget(MemoryMap((replace(known.entries[0], direction="both"),)), ALL, EIGHT, 9600)
    assert (both.uses[0].out_bytes, both.uses[0].in_bytes) == (8, 8)
    assert budget(known, ALL, EIGHT, 9600, every={"v1": 7}).uses[0].a_second == 10.0


@pytest.mark.parametrize(
    ("baud", "clock", "divider", "error"),
    [
        (115_200, 16_000_000, 8, 0.02124),
        (115_200, 16_000_000, 16, 0.0355),
        (9600, 16_000_000, 16, 0.0016),
        (57_600, 14_745_600, 16, 0.0),
    ],
)
def test_rates_that_are_missed(baud, clock, divider, error):
    assert clock_error(baud, clock, divider) == pytest.approx(error, abs=1e-4)


def test_what_to_slow_down():
    known = MemoryMap((Entry("v2", 0, "u32", every_ms=5), Entry("v1", 2)))
    found = budget(known, ALL, EIGHT, 9600)
    (one, rate), *_ = slower(found, 0.7)
    assert one.name == "metres"
    slow = replace(known, entries=(replace(known.entries[0], every_ms=round(1000 / rate) + 1), known.entries[1]))
    assert budget(slow, ALL, EIGHT, 9600).share <= 0.7
    assert slower(budget(MemoryMap((Entry("v1", 2),)), ALL, EIGHT, 9600), 0.7) == []


# Slots

SLOTS = PictureSlots(count=6, slot_bytes=1000, flash_bytes=5500)
BOAT, FLAG, FONT = (
    Thing("picture-1", "Boat house", 320, 240, 1900),
    Thing("picture-2", "Flag", 32, 24, 400),
    Thing("lettering-1", "Big", 0, 0, 2500),
)


def test_the_largest_goes_first_and_what_does_not_fit_is_left_out():
    assert fitted(SLOTS) == 5
    assert [slots_of(one, SLOTS) for one in (BOAT, FLAG, FONT)] == [2, 1, 3]
    plan = into_slots((FLAG, BOAT, FONT), SLOTS, SlotPlan())
    assert plan.placed == (Placed("lettering-1", 0), Placed("picture-1", 3))


def test_what_is_wrong_in_a_slot():
    plan = SlotPlan((Placed("picture-1", 0), Placed("picture-2", 1), Placed("lettering-1", 4), Placed("picture-9", 2)))
    found = {one.number: one.problem for one in shelves(plan, (BOAT, FLAG, FONT), SLOTS, (320, 240))}
    assert found[0] == ""
    assert found[1] == "Boat house and Flag both lie here: the later one overwrites the other"
    assert (found[4], found[5]) == ("", "the flash that is fitted, 0 MiB, ends before this slot")
    assert found[6] == "the panel counts 6 slots, from 0 on"
    assert gone(plan, (BOAT, FLAG, FONT)) == [Placed("picture-9", 2)]
    alone = shelves(SlotPlan((Placed("picture-2", 1),)), (FLAG,), SLOTS, (320, 240))
    assert alone[0].problem.startswith("Flag has 32 × 24 px, the panel 320 × 240")
    with pytest.raises(BadDescriptionError):
        SlotPlan((Placed("picture-1", 0), Placed("picture-1", 1)))


def test_names_of_files():
    assert file_name(SlotPlan(), 7, BOAT) == "007.BIN"
    assert file_name(SlotPlan(name="{n}_{name}.jpg", capitals=False, longest=12), 7, BOAT) == "7_Boat_h.jpg"
    assert file_name(SlotPlan(name="../{name}", capitals=False, longest=40), 7, BOAT) == ".._Boat_house"


@pytest.mark.parametrize(
    ("changes", "what", "holds"),
    [
        ({}, "File system", True), ({"file_system": "FAT16"}, "File system", False), ({"card_gb": 33.0}, "File system", False),
        ({"card_gb": 16.0}, "Card", True), ({"card_gb": 16.1}, "Card", False), ({"cluster_kib": 32}, "Cluster", False),
        ({"name": "x.bin"}, "Names", False),
    ],
)  # fmt: skip
def test_the_cards_check_sheet(changes, what, holds):
    plan = SlotPlan((Placed("picture-1", 0), Placed("picture-2", 3)), **changes)
    assert next(fine for name, _, fine in card_checks(plan, (BOAT, FLAG)) if name == what) == holds


# The stand-in


@pytest.mark.parametrize("template", [PACKETS, MARKED, TEMPLATES["lines of text"]])
def test_the_stand_in_keeps_answers_and_counts(template):
    plan = SerialPlan(automatic(ALL, MemoryMap()), template)
    panel, entry = SerialPanel(plan, ALL, 115_200), plan.memory.entry("v1")
    assert panel.readings() == {}
    sent = encode(Message("write", entry.start, packed(entry, TIDE, -21, plan.memory, template.order)), template)
    assert panel.take(sent) == b""
    assert panel.readings() == {"v1": -21}
    (answer,) = Reader(template).feed(panel.take(encode(Message("read", entry.start, b"\x02"), template)))
    assert (answer.act, unpacked(entry, TIDE, answer.data, plan.memory, template.order)) == ("answer", -21)
    panel.take(encode(Message("page", 0, (3).to_bytes(2, template.byte_order)), template))
    panel.take(encode(Message("light", 0, b"\x28"), template))
    assert (panel.page, panel.light) == (3, 40)
    (touch,) = Reader(template).feed(panel.touch(77))
    assert (touch.act, int.from_bytes(touch.data, template.byte_order)) == ("touch", 77)
    before = panel.line_ms
    panel.take(sent)
    assert panel.line_ms - before == pytest.approx(len(sent) * byte_ms(115_200))
    panel.take(encode(Message("write", 0xFFFF, bytes(8)), template))
    assert any("beyond the panel" in words or "nothing has the address" in words for words in panel.said)


def test_an_hour_of_a_panel_takes_no_more_memory():
    """3,600 writes a second apart, with noise between them: what is kept does not grow."""
    plan, dice = SerialPlan(automatic(ALL, MemoryMap()), PACKETS), random.Random(5)
    panel, entry = SerialPanel(plan, ALL, 115_200), plan.memory.entry("v1")
    for second in range(3600):
        panel.take(
            dice.randbytes(5)
            + encode(Message("write", entry.start, packed(entry, TIDE, second % 600, plan.memory, "high first")), PACKETS)
        )
    panel.rest()
    assert panel.readings()["v1"] == 3599 % 600
    assert panel.reader.frames == 3600
    assert len(panel.said) <= 30
    assert len(panel.memory) == 131_072
