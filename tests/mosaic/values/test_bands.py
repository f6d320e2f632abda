"""Bands: equal to brute force over every value; hysteresis, hold and means against courses worked by hand."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.values.bands import Band, Bands, Course, dragged, mean, shares, stretches

LIMITS = st.one_of(st.none(), st.integers(-20, 20))


@st.composite
def some_bands(draw):
    found = []
    for _ in range(draw(st.integers(0, 4))):
        start, end = draw(LIMITS), draw(LIMITS)
        if start is not None and end is not None and start >= end:
            start, end = end, start + 1
        found.append(Band(start, end))
    return Bands(tuple(found), hysteresis=draw(st.integers(0, 5)))


def holding(bands, raw):
    """By the words of the rule: from the lower limit on and below the upper one."""
    return [
        number for number, band in enumerate(bands.bands)
        if not (band.start is not None and raw < band.start) and not (band.end is not None and band.end <= raw)
    ]  # fmt: skip


@given(some_bands())
def test_every_value_of_a_line_is_in_the_bands_that_hold_it(bands):
    counted = [0] * len(bands.bands)
    for raw in range(-25, 26):
        inside = holding(bands, raw)
        assert bands.band_of(raw) == (inside[0] if inside else None)
        piece = next(one for one in stretches(bands, -25, 25) if one.start <= raw <= one.end)
        assert list(piece.bands) == inside
        if inside:
            counted[inside[0]] += 1
    assert shares(bands, -25, 25) == [count / 51 for count in counted]


@given(some_bands(), st.integers(-25, 25))
def test_pieces_of_a_line_cover_it_once_and_differ_from_their_neighbours(bands, low):
    pieces = stretches(bands, low, 30)
    assert pieces[0].start == low
    assert pieces[-1].end == 30
    for one, after in pairwise(pieces):
        assert after.start == one.end + 1
        assert one.bands != after.bands


@given(some_bands(), st.lists(st.integers(-25, 25), max_size=30))
def test_a_band_is_kept_down_to_its_limit_less_the_hysteresis(bands, readings):
    """Against a plain reading of the rule."""
    now = None
    for raw in readings:
        if now is not None:
            band = bands.bands[now]
            below = band.start is not None and raw < band.start - bands.hysteresis
            stays = not below and not (band.end is not None and raw >= band.end)
        if now is None or not stays:
            inside = holding(bands, raw)
            now = inside[0] if inside else None
    course = Course()
    for number, raw in enumerate(readings):
        course = course.after(bands, raw, number)
    assert course.band == (now if readings else None)


def courses(bands, readings):
    """The band after each (ms, reading)."""
    found, course = [], Course()
    for now, raw in readings:
        course = course.after(bands, raw, now) if raw is not None else course.at(bands, now)
        found.append(course.band)
    return found


TWO = (Band(None, 10), Band(10, None))


def test_hysteresis_by_hand():
    bands = Bands(TWO, hysteresis=3)
    readings = [9, 10, 8, 7, 6, 9, 10]
    assert courses(bands, list(enumerate(readings))) == [0, 1, 1, 1, 0, 0, 1]


def test_a_band_is_held_by_hand():
    """For 500 ms after it was entered; what the readings say then counts, with no new one needed."""
    bands = Bands(TWO, hold_ms=500)
    assert courses(bands, [(0, 5), (100, 20), (499, 20), (500, None), (600, 5), (999, None), (1000, None)]) == [
        0,
        0,
        0,
        1,
        1,
        1,
        0,
    ]


def test_the_first_band_needs_no_hold():
    bands = Bands((Band(10, 20),), hold_ms=500)
    assert courses(bands, [(0, 5), (1, 15), (400, 25), (501, None), (502, 15)]) == [None, 0, 0, None, 0]


def test_means_by_hand():
    """Of the last three: 4, 4, 8 are 16 / 3, which is 5; 4, 8, 18 are 10."""
    bands = Bands(TWO, mean_of=3)
    assert courses(bands, list(enumerate([4, 4, 8, 18, 18, 0, 0, 0]))) == [0, 0, 0, 1, 1, 1, 0, 0]
    assert (mean([4, 4, 8]), mean([-4, -4, -8]), mean([1, 2]), mean([-1, -2])) == (5, -5, 2, -2)


def test_in_a_gap_there_is_no_band():
    bands = Bands((Band(None, 3), Band(5, 8)), hysteresis=1)
    assert courses(bands, list(enumerate([2, 3, 4, 5, 4, 3, 8]))) == [0, None, None, 1, 1, None, None]


def test_bands_that_hold_nothing_are_refused():
    with pytest.raises(BadDescriptionError, match="holds no reading"):
        Band(5, 5)
    assert Band(5, 6).holds(5)
    with pytest.raises(BadDescriptionError, match="too short for a blink"):
        Band(blink_ms=99)
    assert Band(blink_ms=100).blink_ms == 100


@pytest.mark.parametrize(
    ("number", "at", "left"),
    [
        (0, 15, [(None, 15), (15, 20), (30, None)]),
        (0, 19, [(None, 19), (19, 20), (30, None)]),
        (0, 20, [(None, 20), (30, None)]),  # the band above is shut
        (1, 11, [(None, 10), (10, 11), (30, None)]),  # what does not touch it stays
        (1, 10, [(None, 10), (30, None)]),  # its own band is shut
        (1, 40, [(None, 10), (10, 40), (30, None)]),
    ],
)
def test_a_limit_is_dragged(number, at, left):
    bands = dragged(Bands((Band(None, 10), Band(10, 20), Band(30, None))), number, at)
    assert [(band.start, band.end) for band in bands.bands] == left


def test_a_limit_that_is_gone_is_told():
    with pytest.raises(BadValueError, match="load the page again"):
        dragged(Bands((Band(None, 10),)), 1, 5)


@pytest.mark.parametrize(("number", "at", "left"), [
    (0, 15, [(None, 15), (15, 20), (20, None)]), (0, 19, [(None, 19), (19, 20), (20, None)]), (0, 20, [(None, 20), (20, None)]), (1, 11, [(None, 10), (10, 11), (11, None)]),
    (1, 10, [(None, 10), (10, None)]), (2, 30, [(None, 10), (10, 20), (20, 30)]), (2, 20, [(None, 10), (10, 20)]),
])  # fmt: skip
def test_limits_that_are_moved(number, at, left):
    bands = Bands((Band(None, 10), Band(10, 20), Band(20, None)))
    assert [(one.start, one.end) for one in dragged(bands, number, at).bands] == left
    with pytest.raises(BadValueError, match="not there any more"):
        dragged(bands, 3, at)


def test_a_limit_beside_a_gap_moves_alone():
    bands = Bands((Band(0, 10), Band(12, 20)))
    assert [(one.start, one.end) for one in dragged(bands, 0, 11).bands] == [(0, 11), (12, 20)]
