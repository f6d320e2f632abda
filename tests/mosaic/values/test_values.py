"""Values, maps, courses, states and records: against hand-worked cases, and across core, C and Python."""

import ctypes
import subprocess
from datetime import date
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.firmware import maps as plain
from mosaic.values import maps
from mosaic.values.courses import reading_at, typical
from mosaic.values.given import at_moment
from mosaic.values.maps import Map, mapped
from mosaic.values.notation import check, field_of, fields_in, renamed
from mosaic.values.records import columns_of, replayed_of
from mosaic.values.stand_in import StandIn
from mosaic.values.states import MOST_STATES, Moment, Never, derived
from mosaic.values.value import Source, Value, days_of
from tests.mosaic.drawing.test_three_renderers import SOURCES, WARNINGS

TIDE = Value("v1", "tide", decimals=1, low=-5, high=68, step=1, unit="m")
POINTS = st.lists(st.integers(-(10**6), 10**6), min_size=2, max_size=6, unique=True).flatmap(
    lambda ins: st.tuples(*(st.tuples(st.just(at), st.integers(-(10**6), 10**6)) for at in sorted(ins)))
)


@pytest.fixture(scope="module")
def compiled(tmp_path_factory):
    out = tmp_path_factory.mktemp("maps") / "maps.so"
    subprocess.run(["gcc", "-std=c99", "-O1", "-shared", "-fPIC", *WARNINGS, str(SOURCES / "maps.c"), "-o", str(out)], check=True)
    return ctypes.CDLL(str(out))


@settings(max_examples=300, deadline=None)
@given(POINTS, st.integers(-2 * 10**6, 2 * 10**6))
def test_maps_give_the_same_in_core_c_and_python(compiled, points, x):
    kind = type("Point", (ctypes.Structure,), {"_fields_": [("at", ctypes.c_int32), ("gives", ctypes.c_int32)]})
    held = (kind * len(points))(*points)
    for name in ("line", "table", "steps"):
        expected = getattr(maps, name)(points, x)
        if abs(expected) < 2**31:
            assert getattr(plain, name)(x, points) == expected
            assert getattr(compiled, f"map_{name}")(x, held, len(points)) == expected


@pytest.mark.parametrize(("map_", "x", "expected"), [
    (Map("line", ((0, 0), (10, 5))), 3, 2), (Map("line", ((0, 0), (10, 5))), 1, 1), (Map("line", ((0, 0), (10, 5))), -1, 0),
    (Map("line", ((0, 0), (10, 5))), -3, -1), (Map("line", ((0, 0), (10, 5))), 12, 6), (Map("table", ((0, 0), (10, 5))), 12, 5),
    (Map("table", ((0, 0), (10, 5), (20, 0))), 10, 5), (Map("table", ((0, 0), (10, 5), (20, 0))), 11, 5), (Map("steps", ((0, 7), (10, 9))), 9, 7),
    (Map("steps", ((0, 7), (10, 9))), 10, 9), (Map(), 41, 41), (Map("ramp", ((0, 0), (8, 0)), ("ink", "ground")), 7, 7),
    (Map("ramp", ((0, 0), (8, 0)), ("ink", "ground")), 8, 8), (Map("ramp", ((0, 0), (2, 0)), ("ink", "ground")), 1, 4),
])  # fmt: skip
def test_maps_by_hand(map_, x, expected):
    assert mapped(map_, x) == expected


@pytest.mark.parametrize("wrong", [
    lambda: Map("line", ((0, 0),)), lambda: Map("table", ((5, 0), (0, 0))), lambda: Map("steps", ()), lambda: Map("ramp", ((0, 0), (1, 0)), ("ink",)),
    lambda: Value("v1", "tide", low=9, high=3), lambda: Value("v1", "x", "word", words=("one",)), lambda: Source(points=((0, 0),)),
    lambda: Source(points=((0, 0), (0, 5))),
])  # fmt: skip
def test_what_makes_no_sense_is_refused_in_words(wrong):
    with pytest.raises(BadDescriptionError, match=r"accepted|exchange|ascending|has one|one value|two words"):
        wrong()


@pytest.mark.parametrize(("value", "typed", "raw"), [
    (TIDE, "4.6", 46), (TIDE, "-0,5", -5), (TIDE, "4.65", 47), (TIDE, "-0.25", -3), (TIDE, "", None), (TIDE, "--", None),
    (Value("v2", "now", "time", high=86_399), "18:42", 67_320), (Value("v2", "now", "time", high=86_399), "23:59:59", 86_399),
    (Value("v3", "day", "date"), "2026-11-28", 20_785), (Value("v3", "day", "date"), "2024-02-29", 19_782),
    (Value("v4", "left", "duration", high=9), "-1:00:01", -3601), (Value("v5", "lamp", "yes/no"), "yes", 1),
    (Value("v6", "boat", "text", most_bytes=4), "Tern", "Tern"),
])  # fmt: skip
def test_readings_as_they_are_typed(value, typed, raw):
    assert value.raw_of(typed) == raw


@pytest.mark.parametrize(("value", "typed"), [
    (TIDE, "high"), (TIDE, "1e99"), (Value("v2", "now", "time"), "25:00"), (Value("v3", "day", "date"), "2026-02-30"),
    (Value("v5", "lamp", "yes/no"), "perhaps"), (Value("v6", "boat", "text", most_bytes=4), "Heron"),
])  # fmt: skip
def test_readings_that_are_none_say_what_is_accepted(value, typed):
    with pytest.raises(BadValueError, match="accepted"):
        value.raw_of(typed)


def test_a_source_s_points_go_on_beyond_the_outermost():
    source = Source(points=((40, 0), (200, 68)))
    assert [source.value_of(reading) for reading in (40, 120, 200, 240)] == [0, 34, 68, 85]
    assert Source().value_of(7) == 7


def test_values_in_texts_go_by_names_and_ids():
    assert renamed("a {tide:.1} {0..9} {{x} {wind}", {"tide": "v1"}) == "a {v1:.1} {0..9} {{x} {wind}"
    assert list(fields_in("{v1:+.1u} {ebb|flood} {v2}")) == [("v1", "+.1u"), ("v2", "")]
    with pytest.raises(BadValueError, match=r"known are \{tide\}"):
        check("{tied}", {"tide": TIDE})
    with pytest.raises(BadValueError, match="a width up to 24"):
        check("{tide:25}", {"tide": TIDE})
    with pytest.raises(BadValueError, match="hh:mm"):
        field_of(Value("v2", "now", "time"), "noon")


@pytest.mark.parametrize(("written", "raw", "shown"), [
    ("", 46, "4.6"), (".0", 45, "5"), (".2", 46, "4.60"), ("+", 46, "+4.6"), (" ", 46, " 4.6"), ("06", -5, "-000.5"), ("6", 46, "   4.6"),
    ("u", 46, "4.6 m"), (".0u", -4, "0 m"), ("u", None, "--"),
])  # fmt: skip
def test_fields_as_they_are_shown(written, raw, shown):
    assert field_of(TIDE, written).text_of(raw) == shown


def test_old_readings_show_what_stands_for_them():
    aging = Value("v1", "tide", stale="old", max_age_s=5)
    assert field_of(aging, "").text_of(4, stale=True) == "old"
    assert field_of(TIDE, "").text_of(46, stale=True) == "4.6"


class TestCourses:
    @pytest.mark.parametrize(("stand_in", "ms", "raw"), [
        (StandIn("ramp", every_ms=1000, period_s=74), 0, -5), (StandIn("ramp", every_ms=1000, period_s=74), 73_999, 68),
        (StandIn("ramp", every_ms=1000, period_s=74), 74_000, -5), (StandIn("sine", every_ms=1000, period_s=40), 10_000, 68),
        (StandIn("sine", every_ms=1000, period_s=40), 30_000, -5), (StandIn("list", listed=(1, 2, None), every_ms=500), 999, 2),
        (StandIn("list", listed=(1, 2, None), every_ms=500), 1000, None), (StandIn("replay", replayed=((100, 7), (200, None))), 99, None),
        (StandIn("replay", replayed=((100, 7), (200, None))), 100, 7), (StandIn("replay", replayed=((100, 7), (200, None))), 200, None),
        (StandIn(at=12), 10**6, 12), (StandIn(), 0, 38),
    ])  # fmt: skip
    def test_by_hand(self, stand_in, ms, raw):
        assert reading_at(Value("v1", "tide", decimals=1, low=-5, high=68, stand_in=stand_in), ms) == raw

    def test_a_clock_goes_over_midnight(self):
        clock = Value("v2", "now", "time", high=86_399, stand_in=StandIn("clock", at=86_398))
        assert [reading_at(clock, ms) for ms in (0, 1000, 2000)] == [86_398, 86_399, 0]

    def test_a_walk_is_the_same_each_time_and_keeps_its_bounds_and_steps(self):
        walk = Value("v1", "wind", low=0, high=60, step=5, stand_in=StandIn("walk", at=30, reach=10, seed=7, every_ms=100))
        first = [reading_at(walk, 100 * number) for number in range(2000)]
        assert first == [reading_at(walk, 100 * number + 99) for number in range(2000)]
        assert (min(first), max(first)) == (0, 60)
        assert {raw % 5 for raw in first} == {0}
        assert max(abs(b - a) for a, b in pairwise(first)) == 10
        other = Value("v1", "wind", low=0, high=60, step=5, stand_in=StandIn("walk", at=30, reach=10, seed=8, every_ms=100))
        assert first != [reading_at(other, 100 * number) for number in range(2000)]
        assert 20 < np.mean(first) < 40


class TestStates:
    def test_of_one_number(self):
        found = derived([Value("v1", "tide", decimals=1, low=-5, high=680, max_age_s=9)])
        named = {state.name: state.readings["v1"] for state in found}
        assert next(iter(named)) == "typical"
        assert named | {"typical": 0} == {
            "typical": 0, "lowest": -5, "highest": 680, "no readings": None, "old readings": typical(Value("v1", "tide", low=-5, high=680)),
            "tide just below zero": -1, "tide turning to 10.0": 100,
        }  # fmt: skip
        assert next(s for s in found if s.name == "old readings").stale == {"v1"}

    def test_each_word_and_midnight(self):
        names = [state.name for state in derived([Value("v1", "lamp", "yes/no"), Value("v2", "now", "time", high=86_399)])]
        assert {"lamp yes", "now 23:59:00", "now 12:00:00", "lamp absent", "now absent"} <= set(names)

    def test_at_most_so_many(self):
        values = [Value(f"v{n}", f"w{n}", "word", words=tuple("abcdef")) for n in range(9)]
        assert len(derived(values)) == MOST_STATES

    def test_pairs_that_cannot_be_are_parted(self):
        lamp, load = Value("v1", "lamp", low=0, high=1), Value("v2", "load", low=0, high=9)
        found = derived([lamp, load], never=[Never("v1", "lowest", "v2", "lowest")])
        assert all((state.readings["v1"], state.readings["v2"]) != (0, 0) for state in found)
        assert all((state.readings["v1"], state.readings["v2"]) != (0, 0) for state in found)
        other = Value("v1", "lamp", low=0, high=9)
        split = [
            (s.name, s.readings["v1"], s.readings["v2"])
            for s in derived([other, load], never=[Never("v1", "lowest", "v2", "lowest")])
        ]
        assert split[1:3] == [("lowest, load typical", 0, 5), ("lowest, lamp typical", 5, 0)]

    def test_the_maker_s_own(self):
        found = derived([TIDE], moments=[Moment("m1", "storm", {"v1": 68, "v9": 4}, ("v9",))])
        storm = next(state for state in found if state.key == "m1")
        assert (storm.name, storm.readings, storm.stale) == ("storm", {"v1": 68}, frozenset())


class TestRecords:
    @pytest.mark.parametrize("text", [
        "time,tide\n0,1.0\n60,2.5\n120,\n", "0;1,0\n60;2,5\n120;\n", "\ufeff2026-11-28 18:00\t1.0\n2026-11-28 18:01\t2,5\n2026-11-28 18:02\t\n",
        "18:00:00,1.0\n18:01,2.5\n18:02,--\n",
    ])  # fmt: skip
    def test_of_a_spreadsheet_and_of_one_s_own(self, text):
        assert replayed_of(columns_of(text.encode()), TIDE) == ((0, 10), (60_000, 25), (120_000, None))

    def test_columns_go_by_name(self):
        table = columns_of("t;wind;Tide\n0;14;1,5\n".encode("cp1252"))
        assert replayed_of(table, TIDE) == ((0, 15),)
        assert replayed_of(table, TIDE, "wind") == ((0, 140),)

    @pytest.mark.parametrize(("data", "words"), [
        (b"\x00\x01", "no text"), (b"", "is empty"), (b"1\n2\n", "one column"), (b"0,1\nx,2\n", "line 2: 'x' is no time"), (b"0,1\n5,high\n", "line 2: tide is 'high'"),
        (b"5,1\n4,1\n", "line 2: '4' lies before the line above"), (b"0,1\n1\n", "line 2 has 1 cells"), (b"0,1\n1,nan\n", "line 2"), (b"a,b\n", "no row"),
        (b"0,1\n" * 200_001, "up to 200,000 are accepted"), (b"0,1\n9999999,1\n", "more than 24 days"),
    ])  # fmt: skip
    def test_what_cannot_be_read_is_told_with_its_line(self, data, words):
        with pytest.raises(BadValueError, match=words):
            replayed_of(columns_of(data), TIDE)

    def test_a_column_that_is_not_there(self):
        with pytest.raises(BadValueError, match="no column 'rain'; tide are there"):
            replayed_of(columns_of(b"t,tide\n0,1\n"), TIDE, "rain")

    def test_long_records_are_thinned_out(self):
        rows = b"".join(b"%d,%d\n" % (n, n % 7) for n in range(20_000))
        found = replayed_of(columns_of(rows), Value("v1", "x", high=9))
        assert (len(found), found[0], found[1]) == (5000, (0, 0), (4000, 4))


@pytest.mark.parametrize("text", [
    "0001-01-01", "1970-01-01", "1969-12-31", "2000-02-29", "2000-03-01", "1900-02-28", "1900-03-01", "2026-11-30", "2024-12-31", "2100-01-31", "9999-12-31",
])  # fmt: skip
def test_days_are_those_of_the_calendar(text):
    assert days_of(text) == (date.fromisoformat(text) - date(1970, 1, 1)).days


@pytest.mark.parametrize(
    "text", ["0000-01-01", "10000-01-01", "2026-00-10", "2026-13-01", "2026-01-00", "2026-01-32", "1900-02-29", "2026-1", "today"]
)
def test_what_is_no_date(text):
    assert days_of(text) is None


def test_a_value_may_have_but_one_reading():
    assert Value("v1", "n", low=5, high=5).bounds == (5, 5)
    with pytest.raises(BadDescriptionError, match="the lowest, 6, lies above the highest, 5"):
        Value("v1", "n", low=6, high=5)


@pytest.mark.parametrize(
    ("kind", "every_ms", "found"), [("time", 60_000, 3720), ("time", 1000, 3725), ("time", 500, 3725), ("date", 60_000, 20_787)]
)
def test_the_hosts_clock_is_taken_at_the_rate_of_the_source(kind, every_ms, found):
    value = Value("v1", "now", kind, high=86_399, source=Source(every_ms=every_ms), stand_in=StandIn("clock"))
    assert at_moment([value], {}, 0.0, 3725, 20_787).readings["v1"] == found


@pytest.mark.parametrize(("low", "high", "start", "every_ms", "ms", "found"), [
    (0, 86_399, 36_000, 60_000, 90_000, 36_060), (0, 86_399, 86_390, 1000, 20_000, 10), (100, 199, 150, 1000, 60_000, 110), (100, 199, 150, 1000, 49_999, 199),
    (100, 199, 150, 1000, 50_000, 100),
])  # fmt: skip
def test_seconds_go_on_and_come_round(low, high, start, every_ms, ms, found):
    clock = StandIn("clock", at=start, every_ms=every_ms)
    assert reading_at(Value("v1", "now", "time", low=low, high=high, stand_in=clock), ms) == found
