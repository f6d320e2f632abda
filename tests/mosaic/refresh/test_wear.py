"""Wear of an OLED: the law by hand, the first difference against a search, remedies, and the code that shifts and dims."""

import subprocess
import sys

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadValueError
from mosaic.panels.loader import catalogue
from mosaic.refresh.day.program import Program
from mosaic.refresh.wear.model import WearModel, first_seen, seen_after
from mosaic.refresh.wear.program import wear_c, wear_python
from mosaic.refresh.wear.remedies import WearPlan, lit_of, moved, places, rates_of, remedies

MONO = catalogue()["mono-oled-128x64"]


def test_half_the_light_is_left_after_the_half_life():
    for beta in (0.6, 0.8, 1.0):
        assert WearModel(30_000, beta).left(30_000) == pytest.approx(0.5)
    assert WearModel(20_000, 1.0).left(40_000) == pytest.approx(0.25)


def test_a_first_difference_by_hand():
    """With exponents of 1 a pixel that is lit all the time has 97 % of its dark neighbour's light after tau * -ln(0.97) hours."""
    model = WearModel(20_000, beta=1.0, power=1.0)
    rates = np.zeros((4, 6, 1))
    rates[2, 3] = 1.0
    found = first_seen(rates, model)
    assert (found.x, found.y) == (3, 2)
    assert found.hours == pytest.approx(20_000 / np.log(2) * -np.log(0.97))
    assert found.years == pytest.approx(found.hours / 8766)


@given(st.lists(st.floats(0, 1), min_size=6, max_size=6), st.sampled_from([0.6, 0.8, 1.0]))
def test_the_first_difference_is_that_of_a_search(values, beta):
    model = WearModel(20_000, beta)
    rates = np.array(values).reshape(2, 3, 1)
    found = first_seen(rates, model)
    if found.hours == float("inf"):
        assert np.ptp(rates**beta) < 1e-6
        return
    light = seen_after(rates, found.hours, model).astype(np.float64)[..., 0]
    worst = 0.0
    for (y, x), mine in np.ndenumerate(light):
        for other in ((y, x + 1), (y + 1, x)):
            if other[0] < 2 and other[1] < 3:
                worst = max(worst, abs(1 - min(mine, light[other]) / max(mine, light[other])))
    assert worst == pytest.approx(0.03, abs=2e-4)


def test_a_glass_that_is_lit_alike_never_shows_a_difference():
    assert first_seen(np.full((3, 3, 3), 0.7), WearModel()).hours == float("inf")
    assert first_seen(np.zeros((1, 1, 1)), WearModel()).hours == float("inf")


def lit(*pictures):
    return lit_of([(np.array(pixels, np.uint8), share) for pixels, share in pictures], MONO, 1.5)


def test_lit_hours_are_means_over_time():
    found = lit(([[1, 0]], 0.25), ([[1, 1]], 0.75))
    assert found.levels[..., 0].tolist() == [[1.0, 0.75]]
    assert found.inverted[..., 0].tolist() == [[0.0, 0.25]]
    with pytest.raises(BadValueError):
        lit()


def test_grey_wears_by_its_brightness():
    """Half the light wears 0.5 ** 1.5 times as fast."""
    color = catalogue()["color-oled-128x128"]
    half = np.full((1, 1, 3), 188, np.uint8)  # 0.503 of the light
    found = lit_of([(half, 1.0)], color, 1.5)
    assert found.levels[0, 0, 0] == pytest.approx(0.503, abs=1e-3)
    assert found.worn[0, 0, 0] == pytest.approx(0.503**1.5, abs=1e-3)


@pytest.mark.parametrize(
    ("plan", "rate"),
    [
        (WearPlan(), 1.0), (WearPlan(light=0.5), 0.5**1.5), (WearPlan(night_light=0.0), 2 / 3),
        (WearPlan(night_light=0.25), 2 / 3 + 0.125 / 3), (WearPlan(light=0.25, night_light=0.5), 0.125), (WearPlan(inverts=True), 0.5),
    ],
)  # fmt: skip
def test_what_is_done_by_hand(plan, rate):
    rates = rates_of(lit(([[1, 1]], 1.0)), 0.5, 1 / 3, plan)
    assert rates[0, 0, 0] == pytest.approx(0.5 * rate)


def test_a_picture_that_goes_round():
    assert places(2) == [(0, 0), (1, 0), (2, 0), (2, 1), (2, 2), (1, 2), (0, 2), (0, 1)]
    dot = np.zeros((4, 4), np.uint8)
    dot[0, 0] = 1
    rates = rates_of(lit((dot, 1.0)), 1.0, 0.0, WearPlan(shift_px=2))[..., 0]
    assert rates[:3, :3].tolist() == [[0.125, 0.125, 0.125], [0.125, 0.0, 0.125], [0.125, 0.125, 0.125]]
    assert rates.sum() == pytest.approx(1.0)
    lower = rates_of(lit((dot, 1.0)), 1.0, 0.0, WearPlan(moves_px=3))[..., 0]
    assert (lower[0, 0], lower[3, 0]) == (0.5, 0.5)
    assert moved(np.ones((2, 2, 1)), 1, 0)[..., 0].tolist() == [[0, 1], [0, 1]]


def test_remedies_are_worked_out_anew_and_leave_out_what_is_done():
    pixels = np.zeros((16, 16), np.uint8)
    pixels[4:9, 4:9] = 1
    day = lit((pixels, 1.0))
    found = remedies(day, 1.0, 1 / 3, WearPlan())
    assert [one.seen.hours for one in found] == sorted((one.seen.hours for one in found), reverse=True)
    now = first_seen(rates_of(day, 1.0, 1 / 3, WearPlan()), WearModel()).hours
    by_slug = {one.slug: one for one in found}
    assert by_slug["half"].seen.hours == pytest.approx(now / 0.5**1.5)
    assert by_slug["invert"].seen.hours == float("inf")
    assert by_slug["shift"].seen.hours > now
    assert {one.slug for one in remedies(day, 1.0, 0.0, by_slug["shift"].plan)} == set(by_slug) - {"shift"}


PROGRAM = Program(night_from_min=1320, night_to_min=360)
PLAN = WearPlan(shift_px=2, shift_min=5, light=0.8, night_light=0.2)


def test_shift_and_dimming_in_c_and_python_are_the_plans(tmp_path):
    (tmp_path / "wear.h").write_text(wear_c(PLAN, PROGRAM))
    (tmp_path / "wear.py").write_text(wear_python(PLAN, PROGRAM))
    (tmp_path / "main.c").write_text(
        """#include <stdio.h>
#include "wear.h"
int main(void) {
    int32_t x = 0, y = 0;
    for (uint32_t ms = 0; ms <= 3000000u; ms += 150000u) {
        const int32_t is_new = wear_shift(ms, &x, &y);
        printf("%d %d %d\\n", (int)is_new, (int)x, (int)y);
    }
    for (uint32_t s = 0; s < 86400u; s += 1800u) printf("%d\\n", (int)wear_light(s));
    return 0;
}
"""
    )
    warnings = ["-std=c99", "-Wall", "-Wextra", "-Wconversion", "-Werror"]
    subprocess.run(["gcc", *warnings, "main.c", "-o", "main"], cwd=tmp_path, check=True)
    lines = subprocess.run(["./main"], cwd=tmp_path, check=True, capture_output=True, text=True).stdout.split("\n")
    steps, before = places(2), (0, 0)
    for number, ms in enumerate(range(0, 3_000_001, 150_000)):
        place = steps[ms // 300_000 % 8]
        assert lines[number] == f"{int(place != before)} {place[0]} {place[1]}"
        before = place
    told = [int(line) for line in lines[21:] if line]
    assert told == [80 if 6 * 3600 <= s < 22 * 3600 else 20 for s in range(0, 86_400, 1800)]
    shown = "import wear; print([wear.wear_shift(ms) for ms in range(0, 3000001, 150000)], [wear.wear_light(s) for s in range(0, 86400, 1800)])"
    answer = subprocess.run([sys.executable, "-c", shown], cwd=tmp_path, check=True, capture_output=True, text=True).stdout
    assert answer.strip() == f"{[steps[ms // 300_000 % 8] for ms in range(0, 3_000_001, 150_000)]} {told}"


def test_no_shift_is_one_place():
    assert "PLACES = ((0, 0),)" in wear_python(WearPlan(), PROGRAM)
    assert "places[1][2]" in wear_c(WearPlan(), PROGRAM)
