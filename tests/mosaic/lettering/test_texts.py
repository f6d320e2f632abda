"""Texts with values: what they say, every character they can need, and their widest form against brute force."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadValueError
from mosaic.lettering.faces import FACES
from mosaic.lettering.glyph import Glyph, Lettering
from mosaic.lettering.making import Sources, make
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.texts import Choice, Number, characters_used, parse_text, parse_texts, widest


def every_form(written: str):
    """Every text that a written one can show, spelled by Python's own formatting."""
    parts = []
    for part in parse_text(written).parts:
        match part:
            case str():
                parts.append([part])
            case Choice():
                parts.append(list(part.words))
            case Number():
                parts.append([spelled(part, value) for value in part.values()])
    return ["".join(forms) for forms in itertools.product(*parts)]


def spelled(number: Number, value: int) -> str:
    sign = "+" if number.plus else ""
    width = f"{'0' if number.pad == '0' else ''}{number.width}" if number.pad else ""
    text = format(value / 10**number.decimals, f"{sign}{width}.{number.decimals}f")
    return text


class TestWritten:
    @pytest.mark.parametrize(
        ("written", "forms"),
        [
            ("{8..11}", ["8", "9", "10", "11"]),
            ("{-0.1..0.1} m", ["-0.1 m", "0.0 m", "0.1 m"]),
            ("{008..010}°", ["008°", "009°", "010°"]),
            ("{ 9..10}", [" 9", "10"]),
            ("{-1..+1}", ["-1", "+0", "+1"]),
            ("{ebb|flood}!", ["ebb!", "flood!"]),
            ("{{{1..2}}", ["{1}", "{2}"]),
        ],
    )
    def test_forms(self, written, forms):
        parts = parse_text(written).parts
        found = [
            [p] if isinstance(p, str) else list(p.words) if isinstance(p, Choice) else [p.text_of(v) for v in p.values()]
            for p in parts
        ]
        assert ["".join(f) for f in itertools.product(*found)] == forms
        assert every_form(written) == forms

    @pytest.mark.parametrize(
        ("written", "message"),
        [
            ("Tide {0..9", "a brace is opened and not closed"),
            ("{tide}", "neither bounds nor words"),
            ("{9..0}", r"the lower bound stands first, as in \{0..9\}"),
            ("{a..b}", "bounds are numbers"),
            ("{0..12345678901}", "up to nine digits"),
            ("x" * 201, "up to 200"),
        ],
    )
    def test_what_is_wrong_is_told(self, written, message):
        with pytest.raises(BadValueError, match=message):
            parse_text(written)

    def test_lines_are_named(self):
        assert [t.written for t in parse_texts("Tide\n\n{0..9} m\n")] == ["Tide", "{0..9} m"]
        with pytest.raises(BadValueError, match="line 3: in .* a brace is opened and not closed"):
            parse_texts("Tide\n\n{0..9")

    @pytest.mark.parametrize(
        "written",
        [
            "{-12..7}",
            "{95..103}",
            "{0.00..1.00}",
            "{-9.9..-0.4} °C",
            "{000..359}",
            "{+0..+15}",
            "{calm|NE}",
            "{  5..112}",
            "{19..21}",
        ],
    )
    def test_characters_are_those_of_all_forms(self, written):
        assert characters_used((parse_text(written),)) == set("".join(every_form(written)))


def noisy(advances, kerns) -> Lettering:
    characters = sorted("0123456789-+. km")
    glyphs = tuple(Glyph(ord(c), np.zeros((0, 0), np.uint8), 0, 0, a) for c, a in zip(characters, advances, strict=True))
    pairs = itertools.product(characters, characters)
    kerning = {(ord(a), ord(b)): by for (a, b), by in zip(pairs, kerns, strict=True)}
    return Lettering("noisy", glyphs, 8, 2, 1, kerning)


numbers = st.builds(
    lambda low, span, decimals, pad, width, plus: Number(low, low + span, decimals, pad, width if pad else 0, plus),
    st.integers(-1500, 1500), st.integers(0, 400), st.integers(0, 3), st.sampled_from(["", "0", " "]), st.integers(1, 7), st.booleans(),
)  # fmt: skip


@pytest.mark.parametrize(
    ("written", "shown"),
    # Zeros in either bound fill up to the longer of the two as written; a blank before a bound fills with blanks.
    [
        ("{0..100}", ["0", "100"]),
        ("{00..100}", ["000", "100"]),
        ("{000..9}", ["000", "009"]),
        ("{0..099}", ["000", "099"]),
        ("{ 0..100}", ["  0", "100"]),
        ("{0.. 1000}", ["    0", " 1000"]),
        ("{00.5..10.0}", ["00.5", "10.0"]),
        ("{-05..+10}", ["-05", "+10"]),
        ("{0.5..10}", ["0.5", "10.0"]),
    ],
)
def test_padding_is_that_of_the_longer_bound(written, shown):
    (number,) = (part for part in parse_text(written).parts if isinstance(part, Number))
    assert [number.text_of(number.low), number.text_of(number.high)] == shown


class TestWidest:
    def test_kerning_moves_both_ways(self):
        """1 is 3 px wide, 0 is 4: 11 with 3 px more between its digits is the widest, though 00 is wider without."""
        glyphs = tuple(Glyph(ord(c), np.zeros((0, 0), np.uint8), 0, 0, advance) for c, advance in (("0", 4), ("1", 3)))
        for by, best in ((3, ("11", 9)), (2, ("11", 8)), (-1, ("10", 7))):
            lettering = Lettering("two digits", glyphs, 8, 2, 1, {(ord("1"), ord("1")): by})
            assert widest(parse_text("{10..11}"), lettering) == best
            assert lettering.width_of("11") == 6 + by

    @given(
        numbers, st.lists(st.integers(0, 9), min_size=16, max_size=16), st.lists(st.integers(-4, 4), min_size=256, max_size=256)
    )
    def test_equals_brute_force_over_all_values(self, number, advances, kerns):
        lettering = noisy(advances, kerns)
        text = parse_text("k m")
        field = type(text)("", ("k", number, " m"))
        best = max(lettering.width_of(f"k{spelled(number, value)} m") for value in number.values())
        shown, width = widest(field, lettering)
        assert width == best == lettering.width_of(shown)
        assert shown in {f"k{spelled(number, value)} m" for value in number.values()}

    @pytest.mark.parametrize("slug", ["hyperlegible", "narrow", "mono"])
    @pytest.mark.parametrize(
        "written", ["Tide {-0.9..12.4} m", "{0..9999} turns", "{00..23}:{00..59}", "{slack|flood|ebb} {1..31}"]
    )
    def test_equals_brute_force_in_real_faces(self, slug, written):
        lettering = make(LetteringPlan(face=slug, size_px=21, tabular=False), Sources(1.0)).lettering
        shown, width = widest(parse_text(written), lettering)
        forms = every_form(written)
        assert width == max(lettering.width_of(form) for form in forms)
        assert shown in forms

    def test_characters_that_are_missing_take_no_room(self):
        lettering = make(LetteringPlan(face="segments", preset="digits"), Sources(1.0)).lettering
        assert widest(parse_text("Tide {0..9}"), lettering)[1] == lettering.width_of("8")
        assert "Tide" not in FACES
