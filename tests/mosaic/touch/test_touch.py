"""Touch fits: by hand, with nothing left over; lines refused; C that lands where the fit does."""

import subprocess

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadLinesError, BadValueError
from mosaic.exports.touch import touch_c
from mosaic.touch.fit import crosses, fit, read_readings, turned

PLACES = [(float(x), float(y)) for x, y in crosses(320, 240)]


def test_the_crosses_stand_a_tenth_in():
    assert crosses(321, 241) == ((32, 24), (288, 24), (288, 216), (32, 216), (160, 120))


@pytest.mark.parametrize(
    ("raw_of", "exchanged", "mirrored"),
    [
        (lambda x, y: (10 * x + 200, 12 * y + 300), False, (False, False)),
        (lambda x, y: (4000 - 10 * x, 12 * y + 300), False, (True, False)),
        (lambda x, y: (12 * y + 300, 10 * x + 200), True, (False, False)),
        (lambda x, y: (3900 - 12 * y, 4000 - 10 * x), True, (True, True)),
    ],
)
def test_exchanged_and_mirrored_axes_by_hand(raw_of, exchanged, mirrored):
    fitted = fit([raw_of(x, y) for x, y in PLACES], PLACES)
    assert fitted.worst_px < 1e-6
    assert fitted.axes_exchanged is exchanged
    assert (fitted.mirrored_x, fitted.mirrored_y) == mirrored
    assert fitted.slant_degrees == pytest.approx(0, abs=1e-6)


def test_coefficients_by_hand():
    # x = rx / 10 - 20, y = ry / 12 - 25.
    fitted = fit([(10 * x + 200, 12 * y + 300) for x, y in PLACES], PLACES)
    assert np.allclose(fitted.matrix, [[0.1, 0, -20], [0, 1 / 12, -25]])
    assert fitted.place((1200, 900)) == pytest.approx((100, 50))


def test_what_is_left_over_by_hand():
    # Four corners of a square, one of them read 4 units off to the side: least squares leave a quarter of it at each.
    square = [(0.0, 0.0), (100.0, 0.0), (100.0, 100.0), (0.0, 100.0)]
    raw = [(0.0, 0.0), (104.0, 0.0), (100.0, 100.0), (0.0, 100.0)]
    fitted = fit(raw, square)
    assert 0.9 < fitted.worst_px < 1.1
    assert fitted.rms_px == pytest.approx(1, abs=0.1)


def test_a_film_that_sits_aslant():
    angle = np.radians(3)
    raw = [
        (1000 + 10 * (x * np.cos(angle) - y * np.sin(angle)), 900 + 10 * (x * np.sin(angle) + y * np.cos(angle)))
        for x, y in PLACES
    ]
    fitted = fit(raw, PLACES)
    assert fitted.slant_degrees == pytest.approx(3, abs=0.01)
    assert fitted.worst_px < 1e-6


@pytest.mark.parametrize("exchanged", [False, True])
def test_a_slant_on_glass_that_is_not_square(exchanged):
    """Raw readings run from end to end on both axes, so that a step of one is longer than of the other."""
    angle, middle = np.radians(3), np.array([160.0, 120.0])
    turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    raw = [tuple((turn @ (np.array(place) - middle) + middle) * (4000 / 320, 4000 / 240)) for place in PLACES]
    fitted = fit([(y, x) for x, y in raw] if exchanged else raw, PLACES)
    assert fitted.axes_exchanged is exchanged
    assert fitted.slant_degrees == pytest.approx(3, abs=0.001)


@pytest.mark.parametrize(
    ("raw", "pixels", "words"),
    [
        ([(0, 0), (10, 10), (20, 20), (30, 30), (40, 40)], PLACES, "lie in a line"),
        ([(7, 7)] * 5, PLACES, "lie in a line"),
        ([(0, 0), (10, 0), (0, 10)], [(0, 0), (5, 5), (10, 10)], "the crosses lie in a line"),
        ([(0, 0), (10, 0)], PLACES[:2], "three are needed"),
        ([(0, 0), (10, 0), (0, 10)], PLACES, "give one for each"),
    ],
)
def test_what_gives_no_fit_is_refused(raw, pixels, words):
    with pytest.raises(BadValueError, match=words):
        fit(raw, pixels)


@pytest.mark.parametrize("quarters", [1, 2, 3])
def test_turning_the_picture_turns_the_fit(quarters):
    fitted = fit([(10 * x + 200, 12 * y + 300) for x, y in PLACES], PLACES)
    picture = np.zeros((240, 320), np.uint8)
    picture[50, 100] = 1
    lies = np.rot90(picture, -quarters)
    y, x = (int(v[0]) for v in np.nonzero(lies))
    assert turned(fitted, (320, 240), quarters).place((1200, 900)) == pytest.approx((x, y))


def test_readings_in_many_spellings_and_damage_by_its_line():
    assert read_readings("1: 441, 402\n3702/388\n(3688 3655)\n\n430;3671\n5) 2071 2026", 5)[0] == (441, 402)
    for text, line, words in (
        ("441 402\n12", 2, "1 number(s)"),
        ("1 2 3", 1, "3 number(s)"),
        ("99999 1", 1, "more than 65,535"),
        ("1 2", 1, "1 reading;"),
    ):
        with pytest.raises(BadLinesError) as told:
            read_readings(text, 5)
        assert told.value.problems[0].line == line
        assert words in told.value.problems[0].words


@given(st.lists(st.tuples(st.integers(0, 4095), st.integers(0, 4095)), min_size=5, max_size=5, unique=True))
def test_a_fit_is_never_beaten_by_a_nearby_one(raw):
    try:
        fitted = fit([(float(x), float(y)) for x, y in raw], PLACES)
    except BadValueError:
        return
    best = sum(r**2 for r in fitted.residuals)
    for row in range(2):
        other = [list(r) for r in fitted.matrix]
        other[row][2] += 0.5
        moved = sum(
            (other[0][0] * x + other[0][1] * y + other[0][2] - px) ** 2
            + (other[1][0] * x + other[1][1] * y + other[1][2] - py) ** 2
            for (x, y), (px, py) in zip(raw, PLACES, strict=True)
        )
        assert best <= moved + 1e-6


def test_the_c_function_lands_where_the_fit_does(tmp_path):
    fitted = fit([(441, 402), (3702, 388), (3688, 3655), (430, 3671), (2071, 2026)], PLACES)
    (tmp_path / "touch_fit.h").write_text(touch_c(fitted, 320, 240, "a */ panel \\ of ours"))
    raw = [(rx, ry) for rx in range(0, 4096, 315) for ry in range(0, 4096, 315)]
    calls = "".join(f'touch_place({rx}, {ry}, &x, &y); printf("%d %d\\n", (int)x, (int)y);\n' for rx, ry in raw)
    (tmp_path / "m.c").write_text(
        f'#include "touch_fit.h"\n#include <stdio.h>\nint main(void) {{ int32_t x, y;\n{calls}return 0; }}\n'
    )
    subprocess.run(["gcc", "-std=c99", "-Wall", "-Wextra", "-Werror", "-pedantic", "m.c", "-o", "m"], cwd=tmp_path, check=True)
    lines = subprocess.run([tmp_path / "m"], capture_output=True, check=True, text=True).stdout.split("\n")
    for (rx, ry), line in zip(raw, lines, strict=False):
        x, y = (int(v) for v in line.split())
        px, py = fitted.place((rx, ry))
        assert abs(x - min(319, max(0, px))) <= 0.51
        assert abs(y - min(239, max(0, py))) <= 0.51
