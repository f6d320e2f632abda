"""Every reader of pasted text takes whatever it is given: it reads it, or says in words why not, in time that grows with
the text and no faster."""

import random
import signal

import pytest

from mosaic.boards.board import catalogue as boards
from mosaic.color.srgb import parse_hex
from mosaic.errors import MosaicError
from mosaic.imports.arrays import bytes_from_c, bytes_from_python
from mosaic.imports.capture import read_capture
from mosaic.imports.foreign import found_raw, read_foreign
from mosaic.json_text import read_json
from mosaic.lettering.bdf import read_bdf
from mosaic.lettering.characters import codes_in
from mosaic.lettering.texts import parse_texts
from mosaic.numbers import decimal, decimal_of, hexadecimal, row_id, whole, whole_of
from mosaic.panels.evidence import read_words
from mosaic.panels.loader import catalogue as panels
from mosaic.panels.loader import passport_from_json
from mosaic.panels.sequence import parse, problem_of
from mosaic.quantities import quantity
from mosaic.reduce.recipe import field_from_text, recipe_from_json
from mosaic.segments.figure import table_from_text
from mosaic.setups.read import read_sequence
from mosaic.touch.fit import read_readings
from mosaic.virtual.feed import FeedSession
from mosaic.virtual.panel import virtual_panel
from mosaic.wiring.program import read_program
from mosaic.wiring.signals import signals_of


def fed(text: str) -> None:
    """A text as it comes from a program over the network, in pieces."""
    conversation = FeedSession(lambda token: virtual_panel(panels()["mono-oled-128x64"]))
    conversation.take(b"hello boathouse\n")
    data = text.encode("utf-8", "replace")
    for at in range(0, len(data), 50_000):
        conversation.take(data[at : at + 50_000])
    conversation.close()


LINES, BOARD = signals_of(panels()["tft-240x240-round"], "spi"), boards()["wireless"]
READERS = {
    "capture": read_capture, "pasted array": read_foreign, "raw file": lambda text: found_raw(text.encode("utf-8", "replace"), ""),
    "C array": bytes_from_c, "Python bytes": bytes_from_python, "passport sequence": parse, "problem of one": problem_of,
    "set-up, pages": lambda text: read_sequence(text, "page-oled"), "set-up, windows": lambda text: read_sequence(text, "byte-window-oled"),
    "program": lambda text: read_program(text, LINES, BOARD), "touch readings": lambda text: read_readings(text, 4),
    "seller's words": lambda text: read_words(text[:20_000]), "symbols": table_from_text, "texts": parse_texts,
    "characters": codes_in, "bitmap font": lambda text: read_bdf(text.encode("latin-1", "replace")),
    "JSON": lambda text: read_json(text, "it"), "passport": passport_from_json,
    "recipe": recipe_from_json, "field": lambda text: field_from_text("strength", text), "colour": parse_hex,
    "size": lambda text: quantity(text, "bytes"), "number": lambda text: decimal_of(text, "it", 0, 9),
    "live feed": lambda text: fed(text),
}  # fmt: skip
LARGE = 2_000_000
REPEATED = (
    "a", "9", "{", "(", "[", '"', "/*", " ", "\n", "D,00\n", "0x00,", "a ", "a(", "-", "0000: 00 00\n", "a:", "²", "٣", "#define A ",
    "c A8\n", "S 3C W A 40 A 00 A P\n", "U+41-", "{0..9}", "{x0/9}", "\\", "1.", "128x", "\x00", "\ud800",
)  # fmt: skip
"""What a large text repeats: each sets some pattern or loop to work on all of it."""
CRAFTED = (
    "C,2A,1e999999999\nD,00,2\n", "delay " + "9" * 5000, "wait,inf\n", "wait,nan\n", "C,2A,nan\n", "c {x0/0}", "delay(1e400)",
    "delay(" + "9" * 400 + ")", "[" * 100_000, "-" * 100_000, "1e400", "Infinity", '{"a": NaN}', '"\\ud800"', "9" * 5000, "²", "٣٤",
    "{" * 300_000, '{"width_px": ' + "9" * 4000 + "}", "0x" + "F" * 9000, "1 2\n" * 3 + "inf nan", "#define CS " + "9" * 9000,
    "STARTFONT 2.1\nSIZE 1 1 1 inf\n", "1" + " " * 9000 + "MB", "{0.." + "9" * 500 + "}", "{a" * 5000, "U+" + "F" * 9000,
)  # fmt: skip


@pytest.fixture(autouse=True)
def no_endless_reading():
    """Ends what does not end by itself: a minute of computing is far beyond anything that grows with its text."""

    def stop(*_):
        raise TimeoutError("this reader does not come to an end")

    before = signal.signal(signal.SIGVTALRM, stop)
    signal.setitimer(signal.ITIMER_VIRTUAL, 60)
    yield
    signal.setitimer(signal.ITIMER_VIRTUAL, 0)
    signal.signal(signal.SIGVTALRM, before)


def answer_of(read, text: str) -> str:
    """The words of a refusal, or "" where the text was taken. Anything else that is raised fails the test."""
    try:
        read(text)
        return ""
    except MosaicError as error:
        words, told = str(error), getattr(error, "problems", ())
    assert len(told) <= 20
    assert 0 < len(words) < 6000
    return words


@pytest.mark.parametrize("name", READERS)
def test_two_megabytes_of_anything_are_read_or_refused(name):
    chosen = random.Random(name).sample(REPEATED, 2)
    for unit in ("\n", *chosen):
        answer_of(READERS[name], (unit * (LARGE // len(unit) + 1))[:LARGE])


@pytest.mark.parametrize("name", READERS)
def test_what_was_crafted_to_break_it_is_refused_in_words(name):
    for text in CRAFTED:
        answer_of(READERS[name], text)
    for unit in REPEATED:
        answer_of(READERS[name], unit * 3000)


@pytest.mark.parametrize("name", READERS)
def test_damaged_text_of_its_own_is_read_or_refused(name):
    dice = random.Random(f"damage to {name}")
    signs = "0123456789abcdefxX{}[]()<>,;:.#/*\\\"'-+eE \n\t²٣\x00ÿ\ufeff"
    samples = [
        "C,2A,0\nD,00 00 00 EF,4\n",
        "{0x00, 0xFF, 12}",
        "c 2A d {x0:u16}\ndelay 5",
        '{"width_px": 12, "a": [1, 2]}',
        "0.5 1.5",
    ]
    for _ in range(40):
        text = list(dice.choice(samples))
        for _ in range(dice.randint(1, 6)):
            text[dice.randrange(len(text))] = dice.choice(signs) * dice.choice((1, 1, 1, 40))
        answer_of(READERS[name], "".join(text))


@pytest.mark.parametrize(
    ("text", "told"),
    [("0", 0), ("25", 25), ("26", None), ("-1", None), ("+7", 7), (" 7\n", 7), ("7.0", None), ("²", None), ("٣", None), ("", None),
     (None, None), ("9" * 5000, None), ("1_0", None), ("0" * 17 + "9", 9)],
)  # fmt: skip
def test_whole_numbers(text, told):
    assert whole(text, 0, 25) == told


def test_bounds_of_rows_and_decimals():
    assert row_id(str(10**18 - 1)) == 10**18 - 1
    assert row_id("1" + "0" * 18) is None
    assert row_id(None) is None
    assert [decimal(text, 0, 6.5) for text in ("6.5", "6,5", "6.51", "-0.1", ".5", "5.", "1e-3")] == [
        6.5,
        6.5,
        None,
        None,
        0.5,
        5,
        0.001,
    ]
    assert [decimal(text) for text in ("inf", "nan", "1e99", "1e12", "-1e12", "1e-99", "1,5,0", "١", "e5", ".")] == [
        None, None, None, 1e12, -1e12, 1e-99, None, None, None, None,
    ]  # fmt: skip
    assert [hexadecimal(text) for text in ("FF", "0xff", "100", "g", "", "0x")] == [255, 255, None, None, None, None]
    assert hexadecimal("100", 256) == 256


def test_words_say_what_is_accepted():
    with pytest.raises(MosaicError, match=r"the level is '99'; a whole number from 0 to 15 is accepted"):
        whole_of("99", "the level", most=15)
    with pytest.raises(MosaicError, match=r"the wait is 'soon'; a number from 0 to 3,600,000 ms is accepted"):
        decimal_of("soon", "the wait", 0, 3_600_000, "ms")
