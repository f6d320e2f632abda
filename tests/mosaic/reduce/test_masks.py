"""Masks: blue noise, grids, clustered dots, patterns; and the threshold by the mean around."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosaic.errors import BadValueError
from mosaic.reduce.blue_noise import blue_noise_ranks
from mosaic.reduce.local import window_means
from mosaic.reduce.mask import rank_count
from mosaic.reduce.methods import METHODS
from mosaic.reduce.ordered import clustered_ranks
from mosaic.reduce.pattern import SIGNS, TILES, tile_ranks
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import ToneTask

TWO = np.array([0, 1], np.float32)


def flat(light: float, side: int = 64) -> ToneTask:
    return ToneTask(np.full((side, side), light, np.float32), TWO)


def spectrum(pattern):
    """Energy by frequency of a pattern that repeats, 1 on the mean for white noise; and each place's distance from 0."""
    centred = pattern - pattern.mean()
    energy = np.abs(np.fft.fft2(centred)) ** 2 / (centred.var() * centred.size)
    step = np.fft.fftfreq(len(pattern))
    return energy, np.hypot(step[:, None], step[None, :])


def plain_void_and_cluster(side, sigma, seed):
    """Ranks by Ulichney's words: energies summed anew at every step, the first of equals taken."""
    away = np.minimum(np.arange(side), side - np.arange(side)) ** 2
    bell = np.rint(np.exp(-(away[:, None] + away) / (2 * sigma**2)) * 2**40).astype(np.int64)

    def place(pattern, is_set):
        energy = sum((np.roll(bell, at, (0, 1)) for at in np.argwhere(pattern)), np.zeros((side, side), np.int64))
        found = np.where(pattern, energy, -1).argmax() if is_set else np.where(pattern, energy.max() + 1, energy).argmin()
        return np.unravel_index(found, pattern.shape)

    pattern, ranks = np.zeros((side, side), bool), np.zeros((side, side), int)
    pattern.ravel()[np.random.Generator(np.random.PCG64(seed)).permutation(side * side)[: side * side // 10]] = True
    tightest = void = None
    while tightest is None or void != tightest:
        tightest = place(pattern, True)
        pattern[tightest] = False
        void = place(pattern, False)
        pattern[void] = True
    fewer = pattern.copy()
    for rank in reversed(range(pattern.sum())):
        at = place(fewer, True)
        fewer[at], ranks[at] = False, rank
    for rank in range(pattern.sum(), side * side):
        at = place(pattern, False)
        pattern[at], ranks[at] = True, rank
    return ranks


class TestBlueNoise:
    def test_equals_the_plain_way(self):
        for side, seed in ((8, 2), (11, 5)):
            assert np.array_equal(blue_noise_ranks(side, 1.65, seed), plain_void_and_cluster(side, 1.65, seed))

    def test_every_rank_stands_once(self):
        assert sorted(blue_noise_ranks().ravel()) == list(range(64 * 64))

    @pytest.mark.parametrize("tone", [0.03, 0.05, 0.1, 0.2, 0.35, 0.5, 0.65, 0.8, 0.9, 0.95, 0.97])
    def test_low_frequencies_hold_less_than_a_tenth_of_white_noise(self, tone):
        energy, frequency = spectrum((blue_noise_ranks() < tone * 4096).astype(float))
        principal = min(0.5, min(tone, 1 - tone) ** 0.5)
        assert energy[(frequency > 0) & (frequency < principal / 2)].mean() < 0.1

    def test_no_direction_stands_out(self):
        """Of all frequencies none carries as much as a grid's would: no repeat is seen within the tile."""
        energy, _ = spectrum((blue_noise_ranks() < 1024).astype(float))
        grid, _ = spectrum(METHODS["bayer-8"].reduce(flat(0.25), Recipe()).astype(float))
        assert energy.max() / energy.sum() < 0.01 < grid.max() / grid.sum()

    def test_white_noise_would_fail(self):
        energy, frequency = spectrum((np.random.default_rng(1).random((64, 64)) < 0.2).astype(float))
        assert energy[(frequency > 0) & (frequency < 0.2)].mean() > 0.7


@pytest.mark.parametrize("name", ["bayer-2", "bayer-4", "bayer-8", "bayer-16", "blue-noise", "clustered-dot", "pattern"])
class TestEveryMask:
    def test_more_light_never_puts_a_pixel_out(self, name):
        before = np.zeros((64, 64), np.uint8)
        for light in np.linspace(0, 1, 40):
            out = METHODS[name].reduce(flat(light), Recipe())
            assert (out >= before).all()
            before = out

    def test_equal_parts_stay_equal(self, name):
        light = np.random.default_rng(2).random((64, 64)).astype(np.float32)
        changed = light.copy()
        changed[:32] = 0.4
        first, second = (METHODS[name].reduce(ToneTask(v, TWO), Recipe()) for v in (light, changed))
        assert np.array_equal(first[32:], second[32:])


@pytest.mark.parametrize(("name", "steps"), [("bayer-2", 4), ("bayer-4", 16), ("bayer-8", 64), ("bayer-16", 256)])
def test_a_grid_has_one_tone_for_each_of_its_places(name, steps):
    shares = {METHODS[name].reduce(flat(light), Recipe()).mean() for light in np.linspace(0, 1, 2000)}
    assert shares == {k / steps for k in range(steps + 1)}


class TestClustered:
    def test_every_rank_stands_once(self):
        assert sorted(clustered_ranks().ravel()) == list(range(64))

    def test_pixels_stand_together(self):
        """Counted by hand: in a quarter tone of the grid no lit pixel touches another along a side."""

        def alone(pixels):
            lit = pixels.astype(bool)
            near = sum(np.roll(lit, shift, axis) for shift in (1, -1) for axis in (0, 1))
            return (lit & (near == 0)).sum() / lit.sum()

        assert alone(METHODS["bayer-8"].reduce(flat(0.25), Recipe())) == 1
        assert alone(METHODS["clustered-dot"].reduce(flat(0.25), Recipe())) == 0


class TestPattern:
    @pytest.mark.parametrize("name", TILES)
    def test_every_tile_is_well_formed_and_is_used(self, name):
        ranks = tile_ranks(TILES[name])
        assert ranks.min() == 0
        half = METHODS["pattern"].reduce(flat(0.5), Recipe(pattern=name))
        assert 0.15 < half.mean() < 0.85
        assert np.array_equal(half[: ranks.shape[0], : ranks.shape[1]], half[-ranks.shape[0] :, -ranks.shape[1] :])

    def test_a_drawn_tile_lights_its_lowest_ranks_first(self):
        out = METHODS["pattern"].reduce(flat(0.5, 4), Recipe(pattern="own", tile="01/13"))
        assert out.tolist() == [[1, 0, 1, 0], [0, 0, 0, 0]] * 2
        more = METHODS["pattern"].reduce(flat(0.6, 2), Recipe(pattern="own", tile="01/13"))
        assert more.tolist() == [[1, 1], [1, 0]]

    @pytest.mark.parametrize(
        ("text", "message"),
        [
            ("012/01", "differ in length"),
            ("0!/10", "holds !"),
            ("000000000", "9 columns"),
            ("/".join(["0"] * 9), "9 rows"),
            ("", "0 columns"),
        ],
    )
    def test_a_bad_tile_is_told(self, text, message):
        with pytest.raises(BadValueError, match=message):
            METHODS["pattern"].reduce(flat(0.5, 4), Recipe(pattern="own", tile=text))

    def test_an_unknown_pattern_is_told_with_the_known_ones(self):
        with pytest.raises(BadValueError, match="lines.*own"):
            METHODS["pattern"].reduce(flat(0.5, 4), Recipe(pattern="plaid"))

    @given(st.lists(st.text(SIGNS, min_size=3, max_size=3), min_size=1, max_size=8))
    def test_ranks_are_close_and_keep_their_order(self, rows):
        ranks = tile_ranks("/".join(rows)).ravel()
        signs = [SIGNS.index(sign) for row in rows for sign in row]
        assert set(ranks) == set(range(rank_count(ranks)))
        assert all((a < b) == (ranks[i] < ranks[j]) for i, a in enumerate(signs) for j, b in enumerate(signs))


class TestLocal:
    def test_means_are_those_of_the_window_within_the_picture(self):
        values = np.random.default_rng(6).random((9, 12)).astype(np.float32)
        means = window_means(values, 5)
        for y, x in ((0, 0), (4, 6), (8, 11), (2, 10)):
            assert means[y, x] == pytest.approx(values[max(0, y - 2) : y + 3, max(0, x - 2) : x + 3].mean(), abs=1e-5)

    def test_print_on_paper_in_uneven_light_is_found(self):
        """Ink of half the paper's light; the paper falls from full light to a fifth, so that no single border parts them."""
        paper = np.tile(np.linspace(1, 0.2, 120, dtype=np.float32), (60, 1))
        ink = np.zeros((60, 120), bool)
        ink[10:50:8, 5:115] = ink[11:50:8, 5:115] = True
        light = np.where(ink, paper * 0.35, paper).astype(np.float32)
        local = METHODS["local-threshold"].reduce(ToneTask(light, TWO), Recipe(window=15))
        assert (local.astype(bool) == ~ink).mean() > 0.97
        best = max(((light >= border) == ~ink).mean() for border in np.linspace(0, 1, 200))
        assert best < 0.95
