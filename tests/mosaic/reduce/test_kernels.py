"""Error diffusion by every kernel, against the textbook's way in double precision."""

import numpy as np
import pytest

from mosaic.panels.loader import catalogue
from mosaic.reduce.kernels import KERNELS
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, ToneTask, channel_levels

TWO = np.array([0, 1], np.float32)
SEVEN = catalogue()["epaper-800x480-seven-colour"].palette.linear()

# (right, down): share, as printed with each method; "right" is the way the scan goes.
PRINTED = {
    "floyd-steinberg": {(1, 0): 7 / 16, (-1, 1): 3 / 16, (0, 1): 5 / 16, (1, 1): 1 / 16},
    "jarvis": {
        (1, 0): 7 / 48, (2, 0): 5 / 48, (-2, 1): 3 / 48, (-1, 1): 5 / 48, (0, 1): 7 / 48, (1, 1): 5 / 48, (2, 1): 3 / 48,
        (-2, 2): 1 / 48, (-1, 2): 3 / 48, (0, 2): 5 / 48, (1, 2): 3 / 48, (2, 2): 1 / 48,
    },
    "stucki": {
        (1, 0): 8 / 42, (2, 0): 4 / 42, (-2, 1): 2 / 42, (-1, 1): 4 / 42, (0, 1): 8 / 42, (1, 1): 4 / 42, (2, 1): 2 / 42,
        (-2, 2): 1 / 42, (-1, 2): 2 / 42, (0, 2): 4 / 42, (1, 2): 2 / 42, (2, 2): 1 / 42,
    },
    "burkes": {(1, 0): 1 / 4, (2, 0): 1 / 8, (-2, 1): 1 / 16, (-1, 1): 1 / 8, (0, 1): 1 / 4, (1, 1): 1 / 8, (2, 1): 1 / 16},
    "sierra": {
        (1, 0): 5 / 32, (2, 0): 3 / 32, (-2, 1): 2 / 32, (-1, 1): 4 / 32, (0, 1): 5 / 32, (1, 1): 4 / 32, (2, 1): 2 / 32,
        (-1, 2): 2 / 32, (0, 2): 3 / 32, (1, 2): 2 / 32,
    },
    "sierra-two": {
        (1, 0): 4 / 16, (2, 0): 3 / 16, (-2, 1): 1 / 16, (-1, 1): 2 / 16, (0, 1): 3 / 16, (1, 1): 2 / 16, (2, 1): 1 / 16,
    },
    "sierra-lite": {(1, 0): 1 / 2, (-1, 1): 1 / 4, (0, 1): 1 / 4},
    "atkinson": {(1, 0): 1 / 8, (2, 0): 1 / 8, (-1, 1): 1 / 8, (0, 1): 1 / 8, (1, 1): 1 / 8, (0, 2): 1 / 8},
}  # fmt: skip


def test_no_error_goes_back_to_where_the_scan_has_been():
    for kernel in KERNELS:
        assert not any(kernel.rows[0][: len(kernel.rows[0]) // 2 + 1]), kernel.name
        assert sum(map(sum, kernel.rows)) == (6 if kernel.name == "atkinson" else kernel.divisor), kernel.name


def textbook(values, shares, serpentine, limit=np.inf):
    """One tone, pixel by pixel."""
    work = np.zeros_like(values, np.float64)
    out = np.zeros(values.shape, np.uint8)
    height, width = values.shape
    for y in range(height):
        step = -1 if serpentine and y % 2 else 1
        for x in range(width)[::step]:
            v = values[y, x] + min(max(work[y, x], -limit), limit)
            out[y, x] = v >= 0.5
            for (right, down), share in shares.items():
                if 0 <= x + step * right < width and y + down < height:
                    work[y + down, x + step * right] += (v - out[y, x]) * share
    return out


@pytest.mark.parametrize("scan", ["raster", "serpentine"])
@pytest.mark.parametrize("name", PRINTED)
@pytest.mark.parametrize("limit", [1.0, 0.1])
def test_equals_the_textbook(name, scan, limit):
    values = np.random.default_rng(len(name)).random((13, 17)).astype(np.float32)
    out = METHODS[name].reduce(ToneTask(values, TWO), Recipe(scan=scan, error_limit=limit))
    plain = textbook(values.astype(np.float64), PRINTED[name], scan == "serpentine", limit if limit < 1 else np.inf)
    assert np.array_equal(out, plain)
    # Greys as colours, and each channel of a colour, go the same way.
    greys = PaletteTask(np.repeat(values[..., None], 3, axis=2), np.array([[0, 0, 0], [1, 1, 1]], np.float32))
    assert np.array_equal(METHODS[name].reduce(greys, Recipe(scan=scan, error_limit=limit)), plain)
    depth = METHODS[name].reduce(DepthTask(greys.linear, (1, 1, 1)), Recipe(scan=scan, error_limit=limit))
    assert np.array_equal(depth, np.repeat(plain[..., None] * depth.max(), 3, axis=2))


@pytest.mark.parametrize("name", [n for n in PRINTED if n != "atkinson"])
def test_keeps_mean_light_of_tones_colours_and_depths(name):
    tone = METHODS[name].reduce(ToneTask(np.full((96, 96), 0.3, np.float32), TWO), Recipe())
    assert tone.mean() == pytest.approx(0.3, abs=0.012)
    wanted = (np.random.default_rng(3).dirichlet([1] * 7) @ SEVEN).astype(np.float32)
    colors = METHODS[name].reduce(PaletteTask(np.tile(wanted, (96, 96, 1)), SEVEN), Recipe())
    assert SEVEN[colors].mean(axis=(0, 1)) == pytest.approx(wanted, abs=0.02)
    deep = METHODS[name].reduce(DepthTask(np.full((64, 64, 3), 0.4, np.float32), (5, 6, 5)), Recipe())
    values, light = channel_levels(5)
    assert light[np.searchsorted(values, deep[..., 0])].mean() == pytest.approx(0.4, abs=0.003)


def test_atkinson_drops_a_quarter_of_the_error_so_that_extremes_are_lost():
    faint = METHODS["atkinson"].reduce(ToneTask(np.full((64, 64), 0.06, np.float32), TWO), Recipe())
    assert faint.mean() < 0.03


class TestNoise:
    FLAT = ToneTask(np.full((96, 96), 0.5, np.float32), TWO)

    def test_breaks_the_texture_up_and_keeps_the_mean(self):
        plain = METHODS["floyd-steinberg"].reduce(self.FLAT, Recipe())
        noisy = METHODS["floyd-steinberg"].reduce(self.FLAT, Recipe(noise=0.6))
        assert noisy.mean() == pytest.approx(0.5, abs=0.01)

        def strongest_period(pixels):
            spectrum = np.abs(np.fft.fft2(pixels - pixels.mean())) ** 2
            return spectrum.max() / spectrum.sum()

        assert strongest_period(noisy) < strongest_period(plain) / 4

    def test_is_the_same_at_every_run(self):
        recipe = Recipe(noise=1, method="stucki")
        assert np.array_equal(METHODS["stucki"].reduce(self.FLAT, recipe), METHODS["stucki"].reduce(self.FLAT, recipe))
