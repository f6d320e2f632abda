"""Texts with values: the widest form against brute force, and every character that they can need."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.screens.words import characters_of, in_bounds, widest, widest_raw, words_of
from mosaic.values.notation import field_of
from mosaic.values.stand_in import StandIn
from mosaic.values.states import State
from mosaic.values.value import Value
from tests.mosaic.screens.made_up import lettering

SMALL = lettering()
UNEVEN = replace(
    SMALL, glyphs=tuple(replace(g, advance=g.advance + g.code % 4) for g in SMALL.glyphs), kerning={(49, 49): -2, (45, 49): 3}
)


def brute(value, written):
    field = field_of(value, written)
    low, high = value.bounds
    step = 1 if value.named or value.kind != "number" else value.step
    return {field.text_of(raw) for raw in range(low, high + 1, step)} | {value.absent}


@settings(max_examples=120, deadline=None)
@given(
    st.integers(-3000, 3000), st.integers(0, 4000), st.sampled_from([1, 2, 5, 7, 25, 100]), st.integers(0, 3),
    st.sampled_from(["", ".0", ".1", ".4", "+", "+.1", "06.1", "7", " .0", "u"]),
)  # fmt: skip
def test_the_widest_number_is_that_of_all_of_them(low, length, step, decimals, written):
    value = Value("v1", "tide", decimals=decimals, low=low, high=low + length, step=step, unit="m")
    texts = brute(value, written)
    colon = ":" if written else ""
    shown, width = widest(f"a {{v1{colon}{written}}} m", {"v1": value}, UNEVEN)
    assert width == max(UNEVEN.width_of(f"a {text} m") for text in texts)
    assert UNEVEN.width_of(shown) == width
    assert set("".join(texts)) <= characters_of(f"{{v1{colon}{written}}}", {"v1": value})


@pytest.mark.parametrize(("value", "written"), [
    (Value("v1", "now", "time", high=86_399), "hh:mm"), (Value("v1", "now", "time", low=3590, high=7300), "h:mm:ss"), (Value("v1", "now", "time", low=40_000, high=50_000), "h:mm am"),
    (Value("v1", "day", "date", low=20_000, high=20_500), "weekday"), (Value("v1", "day", "date", low=20_000, high=20_500), "d mon"),
    (Value("v1", "left", "duration", low=-4000, high=90_000), "h:mm"), (Value("v1", "left", "duration", low=-70, high=200_000), "d h"),
    (Value("v1", "lamp", "yes/no", absent="unknown"), ""), (Value("v1", "flow", "word", words=("ebb", "slack", "flood")), ""),
])  # fmt: skip
def test_the_widest_time_date_and_word(value, written):
    texts = brute(value, written)
    _, width = widest(f"{{v1{':' if written else ''}{written}}}", {"v1": value}, UNEVEN)
    assert width == max(map(UNEVEN.width_of, texts))
    assert set("".join(texts)) <= characters_of(f"{{v1:{written}}}" if written else "{v1}", {"v1": value})


def test_the_widest_reading_shows_the_widest_form():
    value = Value("v1", "tide", decimals=1, low=-99, high=68)
    raw = widest_raw(field_of(value, ""), UNEVEN)
    assert UNEVEN.width_of(value.plain(raw)) == max(UNEVEN.width_of(text) for text in brute(value, "") - {"--"})
    huge = Value("v1", "n", low=-(10**9), high=10**9)
    assert UNEVEN.width_of(str(widest_raw(field_of(huge, ""), UNEVEN))) >= max(
        map(UNEVEN.width_of, ("-1000000000", "-999999999", "777777777"))
    )


def test_a_text_from_outside_is_as_wide_as_its_examples_or_its_bytes():
    boat = Value("v1", "boat", "text", most_bytes=3, absent="")
    assert widest("{v1}", {"v1": boat}, SMALL)[1] == 3 * max(
        SMALL.by_code[ord(c)].advance for c in "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ"
    )
    listed = replace(boat, stand_in=StandIn("list", listed=("Teal", "Otter")))
    assert widest("{v1}", {"v1": listed}, SMALL)[1] == max(map(SMALL.width_of, ("Teal", "Otter")))


def test_old_readings_count_where_they_can_be_old():
    value = Value("v1", "n", high=9, stale="nothing new", max_age_s=0)
    assert widest("{v1}", {"v1": value}, SMALL)[0] != "nothing new"
    assert widest("{v1}", {"v1": replace(value, max_age_s=1)}, SMALL)[0] == "nothing new"


def test_texts_are_measured_in_bounds_in_station_4():
    values = {"v1": Value("v1", "tide", decimals=1, low=-5, high=68, unit="m"), "v2": Value("v2", "now", "time", absent="")}
    assert in_bounds("{{Tide {v1:.0u} {v2}", values) == ["{{Tide {-1..7} m {00..23}:{00..59}", "{{Tide -- "]
    assert in_bounds("plain", values) == ["plain"]


def test_bounds_and_words_without_a_value_show_the_highest_and_the_first():
    assert words_of("{0.0..6.8} m {ebb|flood} {{", {}, State()) == "6.8 m ebb {"
    assert words_of("{gone} stays", {}, State()) == "{gone} stays"


@pytest.mark.parametrize(("form", "high", "told"), [
    ("m:ss", 119, "{0..1}:{00..59}"), ("m:ss", 120, "{0..2}:{00..59}"), ("h:mm", 7199, "{0..1}:{00..59}"), ("h:mm", 7200, "{0..2}:{00..59}"),
    ("h:mm:ss", 7199, "{0..1}:{00..59}:{00..59}"), ("h:mm:ss", 7200, "{0..2}:{00..59}:{00..59}"), ("d h", 259_199, "{0..2} d {0..23} h"),
    ("d h", 259_200, "{0..3} d {0..23} h"),
])  # fmt: skip
def test_durations_in_bounds(form, high, told):
    assert in_bounds(f"{{v1:{form}}}", {"v1": Value("v1", "left", "duration", high=high)})[0] == told


@pytest.mark.parametrize(("decimals", "written"), [(3, ".1"), (3, ".0"), (2, ".2"), (0, "")])
def test_the_widest_of_many_readings_is_one_of_them(decimals, written):
    value = Value("v1", "n", decimals=decimals, high=10**8 - 1)
    field = field_of(value, written)
    shown = field.text_of(widest_raw(field, UNEVEN))
    assert UNEVEN.width_of(shown) == widest(f"{{v1{':' if written else ''}{written}}}", {"v1": value}, UNEVEN)[1]
