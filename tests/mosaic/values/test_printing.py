"""Printing against general tools (decimal, datetime), and equal letters in the core, in C and in plain Python."""

import ctypes
import datetime
import random
import subprocess
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadValueError
from mosaic.firmware import show as python
from mosaic.values.printing import (
    LARGEST,
    ClockFormat,
    DateFormat,
    DurationFormat,
    NumberFormat,
    civil,
    clock_text,
    date_text,
    duration_text,
    number_text,
)

MANY = """#include "show.h"
void many(int32_t count, const int32_t *raw, const int32_t *f, char *out);
void many(int32_t count, const int32_t *raw, const int32_t *f, char *out) {
    for (int32_t i = 0; i < count; i++, f += 5) {
        show_number(out + 48 * (int64_t)i, raw[i], f[0], f[1], (char)f[2], (char)f[3], f[4]);
    }
}
"""
SOURCES = Path(python.__file__).parent
WARNINGS = ["-Wall", "-Wextra", "-Wconversion", "-Werror"]
CLOCKS, DURATIONS, DATES = ClockFormat.__args__, DurationFormat.__args__, DateFormat.__args__
raws = st.one_of(st.integers(-LARGEST, LARGEST), st.integers(-20_000, 20_000))


@pytest.fixture(scope="session")
def library(tmp_path_factory):
    """The C runtime as a library, compiled without a warning; it is C++, too."""
    folder = tmp_path_factory.mktemp("print")
    source = str(SOURCES / "show.c")
    (folder / "many.c").write_text(MANY)
    words = ["-shared", "-fPIC", "-I", str(SOURCES), *WARNINGS]
    subprocess.run(["gcc", "-std=c99", "-O1", *words, source, str(folder / "many.c"), "-o", str(folder / "show.so")], check=True)
    subprocess.run(["g++", "-x", "c++", *WARNINGS, "-c", source, "-o", str(folder / "show.o")], check=True)
    return ctypes.CDLL(str(folder / "show.so"))


def by_c(library, name: str, *given) -> str:
    out = ctypes.create_string_buffer(b"#" * 47)
    told = [ctypes.c_char(ord(v) if v else 0) if isinstance(v, str) else ctypes.c_int32(v) for v in given]
    length = getattr(library, f"show_{name}")(out, *told)
    assert length == len(out.value)
    return out.value.decode()


@given(raws, st.integers(0, 9), st.integers(0, 9))
def test_numbers_are_rounded_half_away_from_zero(raw, scale, decimals):
    meant = Decimal(raw).scaleb(-scale).quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_UP)
    shown = number_text(raw, scale, NumberFormat(decimals))
    assert Decimal(shown) == meant
    assert shown.startswith("-") == (meant < 0)
    assert len(shown.partition(".")[2]) == decimals


@pytest.mark.parametrize(
    ("raw", "scale", "form", "shown"),
    [
        (5, 1, NumberFormat(0), "1"), (-5, 1, NumberFormat(0), "-1"), (4, 1, NumberFormat(0), "0"), (-4, 1, NumberFormat(0), "0"),
        (-4, 1, NumberFormat(0, "+"), "+0"), (0, 0, NumberFormat(1, "+"), "+0.0"), (-1, 1, NumberFormat(1, "+"), "-0.1"),
        (99995, 4, NumberFormat(3), "10.000"), (7, 0, NumberFormat(0, "", "0", 3), "007"), (-7, 0, NumberFormat(0, "", "0", 3), "-07"),
        (7, 0, NumberFormat(0, " ", " ", 4), "   7"), (12345, 0, NumberFormat(0, "", "0", 3), "12345"),
        (75, 1, NumberFormat(1, "", " ", 6), "   7.5"), (-LARGEST, 9, NumberFormat(9), "-2.147483647"), (LARGEST, 0, NumberFormat(9), "2147483647.000000000"),
    ],
)  # fmt: skip
def test_numbers_by_hand(raw, scale, form, shown):
    assert number_text(raw, scale, form) == shown


def test_numbers_that_no_device_holds_are_refused():
    for raw, scale in ((LARGEST + 1, 0), (-LARGEST - 1, 0), (1, 10), (1, -1)):
        with pytest.raises(BadValueError, match="are accepted"):
            number_text(raw, scale, NumberFormat())


@given(st.integers(-200_000, 200_000))
def test_clocks_are_those_of_the_calendar(seconds):
    moment = datetime.datetime(2026, 1, 1) + datetime.timedelta(seconds=seconds)
    assert clock_text(seconds, "hh:mm:ss") == moment.strftime("%H:%M:%S")
    assert clock_text(seconds, "h:mm") == moment.strftime("%H:%M").removeprefix("0")
    assert clock_text(seconds, "h:mm am") == moment.strftime("%I:%M %p").lower().removeprefix("0")


@pytest.mark.parametrize(
    ("seconds", "form", "shown"),
    [
        (43_199, "h am", "11 am"), (43_200, "h am", "12 pm"), (0, "h am", "12 am"), (86_399, "h:mm:ss", "23:59:59"), (86_400, "hh:mm", "00:00"),
        (-1, "hh:mm:ss", "23:59:59"),
    ],
)  # fmt: skip
def test_clocks_at_their_turns(seconds, form, shown):
    assert clock_text(seconds, form) == shown


@pytest.mark.parametrize(
    ("seconds", "form", "shown"),
    [
        (59, "m:ss", "0:59"), (60, "m:ss", "1:00"), (-60, "m:ss", "-1:00"), (-59, "h:mm", "0:00"), (-60, "h:mm", "-0:01"),
        (3599, "h:mm", "0:59"), (3600, "h:mm", "1:00"), (3661, "h:mm:ss", "1:01:01"), (86_399, "d h", "0 d 23 h"), (86_400, "d h", "1 d 0 h"),
        (-3599, "d h", "0 d 0 h"), (-3600, "d h", "-0 d 1 h"), (360_000, "h:mm", "100:00"),
    ],
)  # fmt: skip
def test_durations_by_hand(seconds, form, shown):
    assert duration_text(seconds, form) == shown


@given(st.dates())
def test_dates_are_those_of_the_calendar(day):
    days = (day - datetime.date(1970, 1, 1)).days
    assert civil(days) == (day.year, day.month, day.day)
    assert date_text(days, "yyyy-mm-dd") == day.isoformat()
    assert date_text(days, "weekday") == ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"][day.weekday()]
    assert date_text(days, "dd.mm.yyyy") == f"{day.day:02}.{day.month:02}.{day.year:04}"


def test_dates_end_with_the_calendar():
    assert (date_text(-719_162, "yyyy-mm-dd"), date_text(2_932_896, "yyyy-mm-dd")) == ("0001-01-01", "9999-12-31")
    for days in (-719_163, 2_932_897):
        with pytest.raises(BadValueError, match="outside the years 1 to 9999"):
            date_text(days, "mm/dd")


def test_core_c_and_python_print_the_same_letters(library):
    dice = random.Random("print")
    for _ in range(4000):
        raw = dice.choice((dice.randint(-LARGEST, LARGEST), dice.randint(-1200, 1200), 0))
        scale, decimals, width = dice.randint(0, 9), dice.randint(0, 9), dice.randint(0, 24)
        plus, fill = dice.choice(("", "+", " ")), dice.choice(("", " ", "0"))
        meant = number_text(raw, scale, NumberFormat(decimals, plus, fill, width))
        given = raw, scale, decimals, plus, fill, width
        assert python.number(*given) == meant, given
        assert by_c(library, "number", *given) == meant, given
        seconds = dice.choice((dice.randint(-LARGEST, LARGEST), dice.randint(-90_000, 90_000)))
        for form in CLOCKS:
            meant = clock_text(seconds, form)
            name, more = (
                ("clock_12", (int(":" in form),))
                if form.endswith("am")
                else ("clock", (int(form.startswith("hh")), int(form.endswith("ss"))))
            )
            assert getattr(python, name)(seconds, *more) == by_c(library, name, seconds, *more) == meant, (seconds, form)
        for number, form in enumerate(DURATIONS):
            assert (
                python.duration(seconds, number) == by_c(library, "duration", seconds, number) == duration_text(seconds, form)
            ), (seconds, form)
        days = dice.choice((dice.randint(-719_162, 2_932_896), dice.randint(-1000, 40_000)))
        for number, form in enumerate(DATES):
            assert python.date(days, number) == by_c(library, "date", days, number) == date_text(days, form), (days, form)


def many_by_c(library, raw, forms) -> list[str]:
    """Numbers printed by C, `forms` (N, 5): scale, decimals, plus, fill, width."""
    out = np.zeros((len(raw), 48), np.uint8)
    library.many(len(raw), *(array.ctypes.data_as(ctypes.c_void_p) for array in (raw, forms, out)))
    return [bytes(row).split(b"\0")[0].decode() for row in out]


def test_numbers_by_lot_in_forms_by_lot_are_printed_alike(library):
    dice = np.random.default_rng(20)
    count = 300_000
    raw = np.where(
        dice.integers(2, size=count), dice.integers(-LARGEST, LARGEST, count), dice.integers(-2000, 2000, count)
    ).astype(np.int32)
    marks = np.array([0, ord("+"), ord(" ")]), np.array([0, ord(" "), ord("0")])
    forms = np.stack([
        dice.integers(0, 10, count), dice.integers(0, 10, count), marks[0][dice.integers(0, 3, count)], marks[1][dice.integers(0, 3, count)],
        dice.integers(0, 25, count),
    ], axis=1).astype(np.int32)  # fmt: skip
    letters = {0: "", **{ord(mark): mark for mark in "+ 0"}}
    shown = many_by_c(library, raw, forms)
    for value, (scale, decimals, plus, fill, width), text in zip(raw.tolist(), forms.tolist(), shown, strict=True):
        given = value, scale, decimals, letters[plus], letters[fill], width
        if python.number(*given) != text or number_text(value, scale, NumberFormat(*given[2:])) != text:
            raise AssertionError(given, text)


@pytest.mark.parametrize("form", [NumberFormat(), NumberFormat(1), NumberFormat(3, "+"), NumberFormat(1, " ", "0", 8)])
def test_every_step_of_a_range_is_printed_alike(library, form):
    raw = np.arange(-40_000, 40_001, dtype=np.int32)
    row = [2, form.decimals, ord(form.plus or "\0"), ord(form.fill or "\0"), form.width]
    shown = many_by_c(library, raw, np.tile(np.array(row, np.int32), (len(raw), 1)))
    assert shown == [number_text(value, 2, form) for value in raw.tolist()]
    assert shown == [python.number(value, 2, form.decimals, form.plus, form.fill, form.width) for value in raw.tolist()]


def test_no_floating_point_and_no_heap():
    for file in ("show.c", "show.h"):
        text = (SOURCES / file).read_text().replace("no floating point", "")
        assert not any(word in text for word in ("float", "double", "malloc"))
    assert "import" not in (SOURCES / "show.py").read_text()
