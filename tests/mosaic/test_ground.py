"""Sizes and clocks as makers write them, and JSON that breaks."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.json_text import read_json
from mosaic.quantities import in_words, quantity


@pytest.mark.parametrize(
    ("text", "unit", "number"),
    [
        ("0", "bytes", 0), ("65536", "bytes", 65536), ("1.5 MB", "bytes", 1_500_000), ("1.5MiB", "bytes", 1_572_864),
        ("1,5 MB", "bytes", 1_500_000), ("64 KiB", "bytes", 65536), ("64 kB", "bytes", 64_000), ("1,500,000", "bytes", 1_500_000),
        ("16,384", "bytes", 16384), ("1 000 bytes", "bytes", 1000), (".5 KiB", "bytes", 512), ("2 GiB", "bytes", 2**31),
        ("400 kHz", "Hz", 400_000), ("10 MHz", "Hz", 10_000_000), ("2,5 MHz", "Hz", 2_500_000), ("9600", "Hz", 9600),
    ],
)  # fmt: skip
def test_quantities(text, unit, number):
    assert quantity(text, unit) == number


@pytest.mark.parametrize("text", ["", "much", "-1", "1.5", "1 MHz", "0.3 KiB", "1.2.3 MB", "MB", "1e3", "1 MB 2"])
def test_what_is_no_size(text):
    with pytest.raises(BadValueError, match=r"write 1572864, 1\.5 MB"):
        quantity(text, "bytes")


@given(st.integers(0, 2**40), st.sampled_from(["bytes", "Hz"]))
def test_words_are_read_as_the_same_number(number, unit):
    assert quantity(in_words(number, unit), unit) == number


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"\xef\xbb\xbf[1, 2]", [1, 2]), ('{"a": null}', {"a": None}),
        ("[1,]", "x: line 1, column 4: a value is missing"), ('{"a": 1,}', "line 1, column 9: a name in double quotes is missing"),
        ('{"a" 1}', "line 1, column 6: a colon is missing"), ("[1\n2]", "line 2, column 1: a comma or a closing bracket is missing"),
        ("[] x", "column 4: something stands behind the end"), ('["a', "column 2: the text that begins here has no closing quote"),
        ('["a\nb"]', "column 4: this sign cannot stand here"), (b"ab\xff", "no text from byte 3 on"), ("[" * 100_000, "go too deep"),
        ("1" * 10_000, "too long for a number"), ("1" * 19, "up to 18 digits"), ("1e400", "too large for a number"),
        ("[NaN]", "NaN is no number"), ("-Infinity", "no number"), ('{"a": "\\ud800"}', "half of a sign"), ("[" * 65 + "]" * 65, "go too deep"),
    ],
)  # fmt: skip
def test_json_in_words(data, words):
    if not isinstance(words, str):
        assert read_json(data, "x") == words
        return
    with pytest.raises(BadDescriptionError) as told:
        read_json(data, "x")
    assert words in str(told.value)
