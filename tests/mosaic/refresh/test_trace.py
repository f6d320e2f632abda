"""Traces of a current: any columns, units and decimal signs read; seeded floors, charges and periods found again."""

import csv
import io
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosaic.errors import BadValueError
from mosaic.refresh.trace.columns import columns_of
from mosaic.refresh.trace.finding import find
from mosaic.refresh.trace.matching import Expected, beside, matching_kind, measured_of
from mosaic.refresh.trace.reading import read_trace


def made(*, rows=60_000, step=0.005, idle=0.05, period=60.0, length=4.0, ma=30.0, noise=0.01, drift=0.0, seed=1, begin=1.0):
    """(times in s, currents in mA) of a device that does something again and again."""
    dice = np.random.default_rng(seed)
    time = np.arange(rows) * step
    current = idle + drift * np.linspace(-0.5, 0.5, rows) + dice.normal(0, noise, rows)
    phase = time % period
    current[(phase >= begin - step / 2) & (phase < begin + length - step / 2)] += ma
    return time, current


def written(time, current, head="Time (s),Current (mA)", separator=",", comma=False, times=1.0, currents=1.0, more=""):
    lines = [head] if head else []
    for t, i in zip(time, current, strict=True):
        line = f"{t * times:.6f}{separator}{i * currents:.6f}{more}"
        lines.append(line.replace(".", ",") if comma else line)
    return ("\n".join(lines) + "\n").encode()


def read(data: bytes, size=7777, **more):
    return read_trace((data[at : at + size] for at in range(0, len(data), size)), **more)


# Columns


@pytest.mark.parametrize(
    ("lines", "separator", "comma", "places", "units"),
    [
        (["Time (s),Current (mA)", "0,1.5", "1,2"], ",", False, (0, 1, -1), (1.0, 1.0)),
        (["t [ms];I [µA];U [V]", "0,0;4,1;3,7", "0,5;4,2;3,7"], ";", True, (0, 1, 2), (1e-3, 1e-3)),
        (["Timestamp(us)\tVoltage(mV)\tCurrent(A)", "0\t3300\t0.001", "10\t3300\t0.002"], "\t", False, (0, 2, 1), (1e-6, 1000.0)),
        (["0 1.5", "1 1.6"], " ", False, (0, 1, -1), (1.0, 1.0)),
        (["# a meter", "", "Sample;Strom in nA", "0;1500", "1;1600"], ";", False, (0, 1, -1), (1.0, 1e-6)),
        (["Current [uA];Time [min]", "1;2", "3;4"], ";", False, (1, 0, -1), (60.0, 1e-3)),
    ],
)
def test_columns(lines, separator, comma, places, units):
    found = columns_of(lines)
    assert (found.separator, found.comma) == (separator, comma)
    assert (found.time, found.current, found.voltage) == places
    assert (found.time_s, found.current_ma) == units


def test_one_column_needs_the_time_from_row_to_row():
    with pytest.raises(BadValueError, match="how long it is from row to row"):
        columns_of(["Current (mA)", "1,5", "1,6"])
    found = columns_of(["Current (mA)", "1,5", "1,6"], step_s=0.001)
    assert (found.time, found.current, found.comma, found.step_s) == (-1, 0, True, 0.001)


@pytest.mark.parametrize(
    ("lines", "words"), [(["one", "two"], "no line"), ([], "no line"), (["Time (s)", "0", "1"], "no column is a current")]
)
def test_what_is_no_trace(lines, words):
    with pytest.raises(BadValueError, match=words):
        columns_of(lines)


@given(
    st.lists(st.tuples(st.floats(0.001, 10), st.floats(-2000, 2000)), min_size=3, max_size=40),
    st.sampled_from([",", ";", "\t"]), st.booleans(), st.integers(5, 200),
)  # fmt: skip
@settings(max_examples=60)
def test_numbers_come_back_as_they_were_written(rows, separator, quoted, size):
    """Written by the general library, in blocks of any size, with and without quotes, as Windows writes lines."""
    out = io.StringIO()
    writer = csv.writer(out, delimiter=separator, quoting=csv.QUOTE_ALL if quoted else csv.QUOTE_MINIMAL)
    writer.writerow(["time s", "current mA"])
    times = np.cumsum([step for step, _ in rows])
    for t, (_, i) in zip(times, rows, strict=True):
        writer.writerow([repr(float(t)), f"{i:e}"])
    found = read(out.getvalue().encode(), size=size)
    assert found.rows == len(rows)
    assert found.time_s == pytest.approx(times - times[0], abs=1e-9)
    assert found.current_ma == pytest.approx([i for _, i in rows], rel=1e-5, abs=1e-5)
    assert not found.left_out


def test_decimal_commas_and_units_of_any_kind():
    time, current = made(rows=200)
    plain = read(written(time, current))
    other = read(written(time, current, "Zeit (ms);Strom (µA);Spannung (V)", ";", True, 1000.0, 1000.0, ";3.7"))
    assert other.current_ma == pytest.approx(plain.current_ma, abs=1e-4)
    assert other.time_s == pytest.approx(plain.time_s, abs=1e-6)
    assert (other.volts, plain.volts) == (pytest.approx(3.7), 0.0)


# What is left out


def test_headers_in_the_middle_and_broken_lines_are_counted():
    lines = [b"time,current", b"0,1", b"1,2", b"time,current", b"", b"2,x", b"3,4", b"1,9", b"4,5,", b"5,6"]
    found = read(b"\n".join(lines))
    assert found.time_s.tolist() == [0, 1, 3, 4, 5]
    assert found.current_ma.tolist() == [1, 2, 4, 5, 6]
    assert found.left_out == ("2 lines that are no row of numbers", "1 row whose time does not go on")


def test_too_little_and_what_is_not_text():
    with pytest.raises(BadValueError, match="2 rows of numbers"):
        read(b"t,i\n0,1\n1,2\n")
    with pytest.raises(BadValueError, match="not text"):
        read(b"\x00\x01\x02" * 50)
    with pytest.raises(BadValueError, match="do not go on"):
        read(b"t,i\n0,1\n0,2\n0,3\n")


def test_a_last_line_without_an_end_counts():
    assert read(b"0,1\n1,2\n2,3").rows == 3


def test_currents_that_are_negative_are_taken_the_other_way():
    time, current = made()
    found = find(read(written(time, -current)))
    assert found.idle_ma == pytest.approx(0.05, rel=0.03)
    assert "leads were swapped" in found.left_out[0]


def test_gaps_are_told_and_nothing_is_counted_in_them():
    time, current = made(idle=1.0, ma=0.0, noise=0.001)
    time[30_000:] += 100.0
    found = find(read(written(time, current)))
    assert found.average_ma == pytest.approx(1.0, rel=1e-3)
    assert found.left_out == ("100 s of gaps between rows",)


# What is found


@pytest.mark.parametrize(
    ("idle", "noise", "drift", "ma", "length", "period"),
    [
        (0.05, 0.01, 0.0, 30.0, 4.0, 60.0), (0.05, 0.02, 0.02, 30.0, 4.0, 60.0), (0.004, 0.002, 0.001, 25.0, 1.0, 30.0),
        (1.2, 0.05, 0.3, 20.0, 17.0, 90.0), (12.0, 0.5, -2.0, 80.0, 0.5, 10.0), (0.05, 0.0, 0.0, 30.0, 4.0, 60.0),
    ],
)  # fmt: skip
def test_seeded_charge_floor_and_period(idle, noise, drift, ma, length, period):
    """Charge within 2 %, floor within 3 %, period within 1 %; the trace begins in the middle of an event."""
    time, current = made(idle=idle, noise=noise, drift=drift, ma=ma, length=length, period=period, begin=period / 3)
    found = find(read(written(time, current)))
    (kind,) = found.kinds
    assert kind.charge_mc == pytest.approx(ma * length, rel=0.02)
    assert found.idle_ma == pytest.approx(idle, rel=0.03)
    assert kind.period_s == pytest.approx(period, rel=0.01)
    assert kind.length_s == pytest.approx(length, rel=0.03)
    assert found.drift_ma == pytest.approx(drift, abs=0.1 * abs(drift) + 0.2 * noise + 1e-6)
    assert found.average_ma == pytest.approx(current.mean(), rel=0.01)
    assert (found.levels[0].ma, found.levels[-1].ma) == (pytest.approx(idle, rel=0.03), pytest.approx(idle + ma, rel=0.03))
    assert sum(one.share for one in found.levels) == pytest.approx(1.0)


def test_two_kinds_of_events_and_a_pause_inside_of_one():
    """A large one each minute, a small one every ten seconds; the large one rests for a moment in its middle."""
    time, current = made(ma=0.0, noise=0.005)
    phase, tick = time % 60, time % 10
    current[(phase >= 5) & (phase < 7)] += 30
    current[(phase >= 7.2) & (phase < 9.2)] += 30
    current[(tick >= 2) & (tick < 2.2)] += 8
    found = find(read(written(time, current)))
    large, small = found.kinds
    assert (large.count, small.count) == (5, 30)
    assert large.charge_mc == pytest.approx(120, rel=0.02)
    assert small.charge_mc == pytest.approx(1.6, rel=0.03)
    assert (large.period_s, small.period_s) == (pytest.approx(60, rel=0.01), pytest.approx(10, rel=0.01))


def test_nothing_happens():
    time, current = made(ma=0.0)
    found = find(read(written(time, current)))
    assert (found.kinds, found.event_share) == ((), 0.0)
    assert found.average_ma == pytest.approx(found.idle_ma, rel=0.01)


# Beside the schedule

NOW = Expected(0.004, 120.0, 300.0, "nothing to do, asleep")


def found_with(idle=0.004, **more):
    time, current = made(step=0.01, idle=idle, noise=idle / 5, period=300.0, rows=120_000, **more)
    return find(read(written(time, current)))


def test_differences_are_named():
    rows = beside(found_with(idle=1.2), NOW)
    assert rows[0].words.startswith("It rests at 1.2 mA, 4 µA expected.")
    assert [one.agrees for one in rows] == [False, True, True]
    slow = beside(found_with(), Expected(0.004, 60.0, 600.0))
    assert slow[1].words == "A drawing takes 120 mC, 60 mC expected."
    assert slow[2].words == "It draws every 5 min, 10 min expected."


@pytest.mark.parametrize(("expected", "agrees"), [(100.0, True), (96.0, True), (95.0, False), (150.0, True), (151.0, False)])
def test_what_differs_by_a_quarter_agrees(expected, agrees):
    found = found_with()
    found = replace(found, kinds=(replace(found.kinds[0], charge_mc=120.0),))
    assert beside(found, Expected(0.004, expected, 300.0))[1].agrees == agrees


def test_what_is_taken_keeps_the_charge_of_everything():
    time, current = made(ma=0.0, noise=0.005)
    current[(time % 60 >= 5) & (time % 60 < 9)] += 30
    current[(time % 10 >= 2) & (time % 10 < 2.2)] += 8
    found = find(read(written(time, current)))
    kind = matching_kind(found, Expected(0.05, 100, 60))
    taken = measured_of(found, kind, "meter.csv")
    average = taken.idle_ma + taken.event_mc / taken.period_s
    assert average == pytest.approx(current.mean(), rel=0.01)
    rest = measured_of(found, None, "")
    assert (rest.idle_ma, rest.event_mc) == (pytest.approx(current.mean(), rel=0.01), 0.0)
