"""The feed's protocol: lines cut anywhere, damage that passes, and what is refused."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.panels.loader import catalogue
from mosaic.virtual.feed import LONGEST_LINE, LONGEST_VALUE, MOST_ANSWERED, MOST_VALUES, FeedSession
from mosaic.virtual.panel import virtual_panel

OLED = catalogue()["mono-oled-128x64"]


def session():
    def admit(token):
        if token != "right":
            raise PermissionError("this token belongs to no build")
        return virtual_panel(OLED)

    return FeedSession(admit)


def opened():
    feed = session()
    assert feed.take(b"hello right\n") == ["ok 128 64"]
    return feed


LINES = b"reset\nc AE\nc 20 00\nc 2100 7F\nc 22 00 07\nd " + b"F0" * 64 + b"\ndelay 7\nc af\nbusy\n"


@given(st.lists(st.integers(1, 40), min_size=1, max_size=30))
def test_lines_may_be_cut_anywhere(cuts):
    feed, at, answers = opened(), 0, []
    for size in [*cuts, len(LINES)]:
        answers += feed.take(LINES[at : at + size])
        at += size
    assert answers == ["idle 0"]
    assert feed.panel.byte_count == 1 + 2 + 3 + 3 + 64 + 1
    assert feed.panel.is_on
    assert float(feed.panel.now_ms) == 7
    assert feed.panel.ram[0, :64].tolist() == [0xF0] * 64


@pytest.mark.parametrize(
    ("first", "answer"),
    [(b"c AE\n", "no the first line is: hello TOKEN"), (b"hello wrong\n", "no this token belongs to no build")],
)
def test_whoever_does_not_say_hello_rightly_is_refused(first, answer):
    feed = session()
    assert feed.take(first) == [answer]
    assert feed.is_closed
    assert feed.take(b"c AE\n") == []
    assert feed.panel is None


@pytest.mark.parametrize(
    ("line", "words"),
    [
        (b"c A", "'A' is not whole bytes"), (b"d", "'' is not whole bytes"), (b"x 01", "is none of c, d, reset"), (b"delay soon", "is none of"),
        (b"delay 600001", "is none of"), (b"reset now", "is none of"), (b"\xff\xfe\x00", "is none of"), (b"hello right", "is none of"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_told_and_passed_over(line, words):
    feed = opened()
    (answer,) = feed.take(line + b"\nreset\nc AF\n")
    assert answer.startswith("? line 2: ")
    assert words in answer
    assert feed.panel.is_on
    assert list(feed.messages) == [answer[2:]]


def test_a_half_sent_command_is_told_and_the_next_one_taken():
    feed = opened()
    feed.take(b"reset\nc 21 10\nc AF\nc 22 00 07\n")
    # 21 takes two operands, and as this controller takes operands as commands, AF is its second one.
    assert not feed.panel.is_on
    feed.take(b"c AF\n")
    assert feed.panel.is_on
    tft = virtual_panel(catalogue()["tft-240x240-round"])
    feed = FeedSession(lambda token: tft)
    feed.take(b"hello x\nreset\nc 11\ndelay 5\nc 2A\nd 00 10\nc 29\n")
    assert list(feed.messages) == ["line 7: command 2A left with 2 of 4 operands"]
    assert tft.is_on


def test_a_line_without_end_is_dropped_to_its_end():
    feed = opened()
    answers = feed.take(b"d " + b"00" * LONGEST_LINE)
    assert len(answers) == 1
    assert "longer than" in answers[0]
    assert feed.take(b"00" * 100) == []
    assert feed.take(b"00\nreset\nc AF\n") == []
    assert feed.panel.is_on
    assert feed.panel.byte_count == 1


@pytest.mark.parametrize(
    ("line", "name", "reading"),
    [
        (b"value tide 3.2", "tide", "3.2"), (b"value wind speed 12", "wind speed", "12"), (b"value wind speed = high tide", "wind speed", "high tide"),
        ("value Höhe=".encode(), "Höhe", ""), (b"value  tide   absent ", "tide", "absent"),
    ],
)  # fmt: skip
def test_readings_are_kept_by_name_and_the_last_one_stands(line, name, reading):
    feed = opened()
    assert feed.take(f"value {name}=before\n".encode() + line + b"\n") == []
    assert feed.values == {name: reading}


def test_as_many_values_and_as_long_ones_as_are_kept():
    feed = opened()
    assert feed.take(b"".join(b"value v%d 1\n" % number for number in range(MOST_VALUES))) == []
    (answer,) = feed.take(b"value one-more 1\nvalue v0 2\n")
    assert "more than 100 values" in answer
    assert (len(feed.values), feed.values["v0"]) == (100, "2")
    feed = opened()
    longest = b"n" * (LONGEST_VALUE - 2)
    assert feed.take(b"value %s 1\n" % longest) == []
    for line in (b"value n%s 1\n" % longest, b"value\n", b"value 3.2\n", b"value = 3\n"):
        (answer,) = feed.take(line)
        assert "is no value; value NAME READING is accepted, up to 120 characters" in answer
    assert feed.values == {longest.decode(): "1"}


def test_a_line_that_is_begun_may_be_16_kib_long():
    for extra, count in ((0, 0), (1, 1)):
        feed = opened()
        assert len(feed.take(b"d" + b" " * (16 * 1024 - 1 + extra))) == count


def test_each_misuse_is_answered_once_and_no_more_than_64_of_them():
    tft = virtual_panel(catalogue()["grey-oled-256x64"])
    feed = FeedSession(lambda token: tft)
    feed.take(b"hello x\nreset\nc FD\nd 12\n")
    windows = [f"c 15\nd {first:02X} {first - 1:02X}\nc 5C\nd 00\n".encode() for first in range(1, 101)]
    answers = [answer for line in windows * 2 for answer in feed.take(line)]
    assert len(answers) == len(set(answers)) == MOST_ANSWERED == 64


def test_half_a_line_at_the_end_is_told():
    feed = opened()
    feed.take(b"reset\nc A")
    lines = feed.line_count
    (answer,) = feed.close()
    assert f"line {lines + 1}: half a line at the end: 'c A'" in answer
