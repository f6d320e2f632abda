"""Reduction methods: what each promises, against plain versions and hand-made cases."""

import numpy as np
import pytest

from mosaic.color.gamut import opponent
from mosaic.errors import BadValueError
from mosaic.panels.loader import catalogue
from mosaic.reduce.methods import METHODS
from mosaic.reduce.ordered import bayer_ranks
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels, task_for_palette
from mosaic.reduce.threshold import otsu_threshold

TWO = np.array([0, 1], np.float32)
SIX = catalogue()["epaper-800x480-seven-colour"].palette.linear()


def random_light(height: int, width: int, seed: int = 5) -> np.ndarray:
    return np.random.default_rng(seed).random((height, width, 3)).astype(np.float32)


TASKS = {
    "one tone": ToneTask(random_light(23, 31)[..., 0], TWO),
    "dark last": ToneTask(random_light(23, 31)[..., 0], np.array([1, 0], np.float32)),
    "four levels": ToneTask(random_light(23, 31)[..., 0], np.array([0, 1, 0.2, 0.6], np.float32)),
    "palette": task_for_palette(random_light(23, 31), catalogue()["epaper-296x128-four-colour"].palette, 0),
    "depth": DepthTask(random_light(23, 31), (5, 6, 5)),
    "one pixel": ToneTask(np.array([[0.7]], np.float32), TWO),
    "one column": PaletteTask(np.ascontiguousarray(random_light(9, 1)), SIX),
}


@pytest.mark.parametrize("method", METHODS.values(), ids=lambda m: m.name)
class TestContract:
    @pytest.mark.parametrize("name", TASKS)
    def test_gives_allowed_values_and_leaves_its_input(self, method, name):
        task = TASKS[name]
        light = task.values if isinstance(task, ToneTask) else task.linear
        before = light.copy()
        first, again = method.reduce(task, Recipe()), method.reduce(task, Recipe())
        assert first.dtype == np.uint8
        assert first.shape[:2] == light.shape[:2]
        assert np.array_equal(first, again)
        assert np.array_equal(light, before)
        if isinstance(task, DepthTask):
            for c, bits in enumerate(task.bits):
                assert set(np.unique(first[..., c])) <= set(channel_levels(bits)[0])
        else:
            assert first.max() < len(task.levels if isinstance(task, ToneTask) else task.colors)

    def test_flat_colours_of_the_panel_stay_flat(self, method):
        for index, color in enumerate(SIX):
            task = PaletteTask(np.tile(color, (12, 16, 1)), SIX)
            assert np.all(method.reduce(task, Recipe()) == index)
        for level in (0, 1):
            assert np.all(method.reduce(ToneTask(np.full((8, 8), level, np.float32), TWO), Recipe()) == level)
        steps, light = channel_levels(5)
        task = DepthTask(np.full((8, 8, 3), light[17], np.float32), (5, 5, 5))
        assert np.all(method.reduce(task, Recipe()) == steps[17])

    def test_parameters_are_recipe_fields(self, method):
        assert all(hasattr(Recipe(), name) for name in method.parameters)


@pytest.mark.parametrize("method", ["floyd-steinberg", "bayer-8"])
@pytest.mark.parametrize("light", [0.05, 0.2140411, 0.5, 0.83])
def test_dithering_keeps_the_mean_light(method, light):
    task = ToneTask(np.full((128, 128), light, np.float32), TWO)
    assert METHODS[method].reduce(task, Recipe()).mean() == pytest.approx(light, abs=0.01)


@pytest.mark.parametrize("method", ["floyd-steinberg", "bayer-8"])
def test_dithering_keeps_the_mean_colour(method):
    weights = np.random.default_rng(4).dirichlet([1] * 7)
    wanted = (weights @ SIX).astype(np.float32)
    out = METHODS[method].reduce(PaletteTask(np.tile(wanted, (128, 128, 1)), SIX), Recipe())
    assert SIX[out].mean(axis=(0, 1)) == pytest.approx(wanted, abs=0.012)


def plain_diffusion(values, nearest, *, strength=1.0, serpentine=False):
    """Floyd and Steinberg's method as in the textbook, on (H, W, C) values, in double precision."""
    work = values.astype(np.float64).copy()
    height, width = work.shape[:2]
    out = np.zeros((height, width), np.uint8)
    for y in range(height):
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        for x in range(width - 1, -1, -1) if back else range(width):
            out[y, x], error = nearest(work[y, x])
            for dx, dy, share in ((step, 0, 7), (-step, 1, 3), (0, 1, 5), (step, 1, 1)):
                if 0 <= x + dx < width and y + dy < height:
                    work[y + dy, x + dx] += error * share / 16 * strength
    return out


@pytest.mark.parametrize(("height", "width"), [(1, 1), (1, 7), (2, 2), (7, 1), (9, 14), (10, 3)])
@pytest.mark.parametrize("serpentine", [False, True])
@pytest.mark.parametrize("strength", [0.9375, 0.7])
class TestDiffusionEqualsThePlainWay:
    """Compared on values of a sixteenth-power grid, where double and single precision agree."""

    def test_one_tone(self, height, width, serpentine, strength):
        values = np.random.default_rng(height * 31 + width).integers(0, 17, (height, width)) / np.float32(16)
        recipe = Recipe(scan="serpentine" if serpentine else "raster", strength=strength)
        out = METHODS["floyd-steinberg"].reduce(ToneTask(values.astype(np.float32), TWO), recipe)

        def nearest(v):
            return int(v[0] >= 0.5), v - (v[0] >= 0.5)

        plain = plain_diffusion(values[..., None], nearest, strength=strength, serpentine=serpentine)
        assert (out != plain).mean() <= 0.02

    def test_colours(self, height, width, serpentine, strength):
        light = random_light(height, width, height * 31 + width)
        recipe = Recipe(scan="serpentine" if serpentine else "raster", strength=strength)
        for palette in (SIX, SIX[::-1]):  # whose first colour is black, and is none
            out = METHODS["floyd-steinberg"].reduce(PaletteTask(light, np.ascontiguousarray(palette)), recipe)
            colors = opponent(palette).astype(np.float64)

            def nearest(v, colors=colors):
                k = int(((colors - v) ** 2).sum(axis=1).argmin())
                return k, v - colors[k]

            plain = plain_diffusion(opponent(light), nearest, strength=strength, serpentine=serpentine)
            assert (out != plain).mean() <= 0.02


def test_no_strength_is_a_plain_threshold():
    values = random_light(20, 20)[..., 0].copy()
    for method in ("floyd-steinberg", "bayer-8"):
        out = METHODS[method].reduce(ToneTask(values, TWO), Recipe(strength=0))
        assert np.array_equal(out, (values > 0.5).astype(np.uint8))


class TestBayer:
    def test_known_matrices(self):
        assert bayer_ranks(4).tolist() == [[0, 8, 2, 10], [12, 4, 14, 6], [3, 11, 1, 9], [15, 7, 13, 5]]
        assert sorted(bayer_ranks(8).ravel()) == list(range(64))
        with pytest.raises(BadValueError, match="does not exist"):
            bayer_ranks(6)

    def test_equal_parts_of_two_pictures_stay_equal(self):
        a = random_light(32, 32)[..., 0].copy()
        b = a.copy()
        b[:16] = 0.3
        first, second = (METHODS["bayer-8"].reduce(ToneTask(v, TWO), Recipe()) for v in (a, b))
        assert np.array_equal(first[16:], second[16:])

    def test_a_quarter_lights_one_pixel_of_each_2_by_2(self):
        out = METHODS["bayer-8"].reduce(ToneTask(np.full((8, 8), 0.25, np.float32), TWO), Recipe())
        assert out.reshape(4, 2, 4, 2).sum(axis=(1, 3)).tolist() == [[1] * 4] * 4


class TestThreshold:
    def test_border_is_an_encoded_grey(self):
        light = np.array([[0.2158, 0.2159]], np.float32)  # 128 / 255 encoded is 0.21586
        assert METHODS["threshold"].reduce(ToneTask(light, TWO), Recipe(threshold=128)).tolist() == [[0, 1]]

    def test_otsu_parts_two_heaps(self):
        grey = np.array([[20] * 30 + [30] * 10 + [200] * 25 + [210] * 5], np.uint8)
        assert 30 < otsu_threshold(grey) <= 200
        assert otsu_threshold(np.full((4, 4), 77, np.uint8)) == 128

    def test_otsu_is_the_largest_variance_between(self):
        grey = np.random.default_rng(8).integers(0, 256, 500).astype(np.uint8)

        def between(t):
            low, high = grey[grey < t], grey[grey >= t]
            return 0 if not (len(low) and len(high)) else len(low) * len(high) * (low.mean() - high.mean()) ** 2

        assert between(otsu_threshold(grey)) == pytest.approx(max(between(t) for t in range(1, 256)))

    def test_several_levels_take_the_one_nearest_to_the_eye(self):
        levels = np.array([0, 0.2140411, 1], np.float32)  # encoded 0, 0.5 and 1
        light = np.array([[0.045, 0.055, 0.5, 0.53]], np.float32)  # encoded .235, .260, .735, .755
        assert METHODS["threshold"].reduce(ToneTask(light, levels), Recipe()).tolist() == [[0, 1, 1, 2]]
