"""Pasted comparisons of several styles: their bands, with holes and overlaps as they are."""

import pytest

from mosaic.errors import BadValueError
from mosaic.values.bands import stretches
from mosaic.values.comparisons import LONGEST, read_comparisons
from mosaic.values.value import Value

A, DEPTH = Value("v1", "a", low=0, high=9), Value("v2", "depth", decimals=1, low=0, high=99)


def bands_of(text, value=A):
    return [(band.start, band.end, band.word) for band in read_comparisons(text, value).bands.bands]


@pytest.mark.parametrize(
    ("text", "bands", "gaps", "overlaps"),
    [
        ("if (a < 2) { show(\"low\"); } else if (a > 2 && a < 6) { show(\"mid\"); } else if (a > 6) show(\"high\");",
         [(None, 2, "low"), (3, 6, "mid"), (7, None, "high")], [2, 6], []),
        ("if a < 2:\n    word = 'low'\nelif 2 <= a <= 6:\n    word = 'mid'\nelif a >= 8:\n    word = 'high'",
         [(None, 2, "low"), (2, 7, "mid"), (8, None, "high")], [7], []),
        ("word = a < 2 ? \"low\" : a < 6 ? \"mid\" : \"high\";", [(None, 2, "low"), (2, 6, "mid"), (6, None, "high")], [], []),
        ("switch (a) { case 0 ... 1: show(\"low\"); break; case 3 ... 5: show(\"mid\"); break; case 9: show(\"high\"); }",
         [(0, 2, "low"), (3, 6, "mid"), (9, 10, "high")], [2, 6, 7, 8], []),
        ("0-2 low\n2-6 mid\n7-9 high", [(0, 2, "low"), (2, 6, "mid"), (7, 9, "high")], [6, 9], []),
        ("if (a <= 3) x(\"low\");\nif (a >= 3 && a <= 6) x(\"mid\");\nif (5 < a) x(\"high\");",
         [(None, 4, "low"), (3, 7, "mid"), (6, None, "high")], [], [3, 6]),
        ("if (a >= 6) x(\"high\"); else if (a >= 2) x(\"mid\"); else x(\"low\");",
         [(6, None, "high"), (2, 6, "mid"), (None, 2, "low")], [], []),
        ("if a < 2 ... else if a > 2 and a < 6 ...", [(None, 2, ""), (3, 6, "")], [2, 6, 7, 8, 9], []),
        ("a < 2: low\na >= 2 and a < 6: mid", [(None, 2, "low"), (2, 6, "mid")], [6, 7, 8, 9], []),
    ],
)  # fmt: skip
def test_styles(text, bands, gaps, overlaps):
    read = read_comparisons(text, A)
    assert [(band.start, band.end, band.word) for band in read.bands.bands] == bands
    pieces = stretches(read.bands, 0, 9)
    assert [raw for one in pieces if one.is_gap for raw in range(one.start, one.end + 1)] == gaps
    assert [raw for one in pieces if one.is_overlap for raw in range(one.start, one.end + 1)] == overlaps


def test_decimals_count_in_the_values_own_steps():
    assert bands_of("if (depth < 1.5) {} else if (depth <= 4) {}", DEPTH) == [(None, 15, ""), (15, 41, "")]
    assert bands_of("0,5 - 1,5: low", DEPTH) == [(5, 15, "low")]


def test_an_else_says_what_it_catches_between_the_others():
    read = read_comparisons("if a < 2:\n  w = 'low'\nelif 2 < a < 6:\n  w = 'mid'\nelse:\n  w = 'high'", A)
    assert (read.bands.bands[2].start, read.bands.bands[2].end) == (6, None)
    assert read.left_out == ("else: it also holds 2, which lies between the others",)


def test_what_cannot_be_a_band_is_told():
    read = read_comparisons("if (a < 2 || a > 7) x(); else if (a < 5) y();", A)
    assert [(band.start, band.end) for band in read.bands.bands] == [(None, 5)]
    assert read.left_out[0].endswith("more than one stretch")
    read = read_comparisons('if (a < 5) x(); else if (a < 3) y("never");', A)
    assert [(band.start, band.end) for band in read.bands.bands] == [(None, 5)]
    assert read.left_out == ("never: those before it leave nothing of it",)


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("nothing here", "no comparison was found"),
        ("if (a < 2) {} else if (b < 5) {}", "a and b are compared"),
        ("x" * (LONGEST + 1), "characters are too many"),
        ("\n".join(f"{n}-{n + 1} w" for n in range(13)), "13 bands; up to 12"),
    ],
)
def test_refused_in_words(text, told):
    with pytest.raises(BadValueError, match=told):
        read_comparisons(text, A)


def test_as_many_as_are_accepted():
    assert len(bands_of("\n".join(f"{n}-{n + 1} w" for n in range(12)))) == 12
