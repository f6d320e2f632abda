"""Floyd-Steinberg in whole numbers: equal to the textbook's way with whole numbers, and as true as with fractions."""

import numpy as np
import pytest

from bench.scenes import SCENES
from mosaic.color.eye import SIGMA_PALETTE, perceived_error
from mosaic.color.gamut import opponent
from mosaic.panels.loader import catalogue
from mosaic.reduce import whole_numbers
from mosaic.reduce.diffusion import _colors
from mosaic.reduce.task import PaletteTask, fit_to_panel, task_for_palette
from mosaic.reduce.whole_numbers import NARROW_BOX, WIDE_BOX, diffuse_palette, diffuse_tone

SEVEN = catalogue()["epaper-800x480-seven-colour"].palette
FOUR = catalogue()["epaper-296x128-four-colour"].palette
TURN = opponent(np.eye(3)).T.copy()
SIZES = [(1, 1), (1, 7), (2, 2), (3, 5), (4, 3), (5, 4), (7, 1), (9, 14), (10, 3), (24, 40), (48, 4), (49, 5), (97, 6)]


def textbook(values: np.ndarray, choose, serpentine: bool) -> np.ndarray:
    """(H, W) choices for whole numbers (H, W, C): errors in sixteenths, rounded down once a pixel, 7 to 1 shares of each.

    `choose(v)` gives a pixel's choice and its error. A share that leaves the picture is lost.
    """
    height, width, channels = values.shape
    work = np.zeros((height + 1, width + 2, channels), object)
    work[:height, 1:-1] = values.astype(object)
    out = np.zeros((height, width), np.uint8)
    for y in range(height):
        back = serpentine and y % 2 == 1
        step = -1 if back else 1
        for x in range(width, 0, -1) if back else range(1, width + 1):
            out[y, x - 1], error = choose(work[y, x])
            sixteenth = np.array([int(e) >> 4 for e in error], object)
            for dx, dy, weight in ((step, 0, 7), (-step, 1, 3), (0, 1, 5), (step, 1, 1)):
                work[y + dy, x + dx] = work[y + dy, x + dx] + weight * sixteenth
    return out


def light_of(size: tuple[int, int], seed: int = 3) -> np.ndarray:
    """Light within the palette's gamut: mixtures of its colours."""
    return np.random.default_rng(seed).dirichlet([0.6] * len(SEVEN), size).astype(np.float32)


@pytest.mark.parametrize("size", SIZES, ids=str)
@pytest.mark.parametrize("serpentine", [False, True])
class TestEqualsTheTextbook:
    def test_a_tone(self, size, serpentine):
        values = np.random.default_rng(size[0] * 31 + size[1]).random(size).astype(np.float32)
        units = np.floor(values * np.float32(2**20)).astype(np.int64)[..., None]

        def choose(v):
            lit = v[0] >= 2**19
            return 5 if lit else 2, [v[0] - 2**20 * bool(lit)]

        made = diffuse_tone(values, 2, 5, serpentine=serpentine)
        assert np.array_equal(made, textbook(units, choose, serpentine))

    @pytest.mark.parametrize("palette", [SEVEN, FOUR], ids=["seven", "four"])
    def test_colours(self, size, serpentine, palette):
        colors = opponent(palette.linear())
        mixed = np.random.default_rng(7).dirichlet([0.6] * len(palette), size) @ palette.linear().astype(np.float64)
        light = np.ascontiguousarray(mixed, np.float32)
        made = diffuse_palette(light, TURN, colors, serpentine=serpentine)
        low, scale = box_of(colors, NARROW_BOX if len(palette) > 5 else WIDE_BOX)
        steps = whole(light, low, scale)
        steps_of_colors = np.rint((colors - low) * scale).astype(np.int64)
        cell = 2.0**14 / scale

        def choose(v):
            middle = low + (np.array([int(a) >> 14 for a in v]) + 0.5) * cell
            k = int(((colors.astype(np.float64) - middle) ** 2).sum(axis=1).argmin())
            return k, v - steps_of_colors[k]

        # The first part of a step may fall to either side, as light becomes a whole number.
        assert (made != textbook(steps, choose, serpentine)).mean() <= 0.01 + 1 / made.size * (made.size > 99)


def box_of(colors: np.ndarray, room: tuple[float, float]) -> tuple[np.ndarray, np.ndarray]:
    """Lower corner of the table's box, and steps to a unit along each axis."""
    low, high = colors.min(axis=0).astype(np.float64), colors.max(axis=0).astype(np.float64)
    span = high - low
    beyond = np.maximum(room[0] * span, room[1] * span.max())
    return low - beyond, 2**20 / (span + 2 * beyond)


def whole(light: np.ndarray, low: np.ndarray, scale: np.ndarray) -> np.ndarray:
    turn = (TURN.astype(np.float64) * scale[:, None]).astype(np.float32)
    return np.floor(light.astype(np.float64) @ turn.T.astype(np.float64) + (-low * scale)).astype(np.int64)


@pytest.mark.parametrize(
    ("serpentine", "palette", "share"),
    [(False, SEVEN, 0.0), (True, SEVEN, 1.0), (True, FOUR, 0.0), (False, FOUR, 1.0)],
    ids=["seven, measured, raster", "seven, vivid, serpentine", "four, measured, serpentine", "four, vivid, raster"],
)
def test_it_looks_as_true_as_with_fractions(serpentine, palette, share):
    """Means over scenes made by a rule lie within one per cent of each other."""
    figures = []
    for make, seed in SCENES.values():
        light = ((make(seed)[::5, ::5] / 255.0) ** 2.2).astype(np.float32)
        task = task_for_palette(light, palette, share)
        assert isinstance(task, PaletteTask)
        colors, linear = opponent(task.colors), np.ascontiguousarray(task.linear)
        plain = np.empty(linear.shape[:2], np.uint8)
        _colors(linear, TURN, colors, np.float32(1), serpentine, plain)
        made = diffuse_palette(linear, TURN, colors, serpentine=serpentine)
        assert made is not None
        target = fit_to_panel(light, task.colors, palette.darkest, palette.lightest)
        figures.append([perceived_error(target, task.colors[p], SIGMA_PALETTE) for p in (plain, made)])
    plain_mean, made_mean = np.mean(figures, axis=0)
    assert made_mean <= plain_mean * 1.01


class TestWhatLeavesTheTable:
    def test_strays_are_left_to_the_other_loops(self):
        black_and_white = opponent(np.array([[0.2, 0.2, 0.2], [0.3, 0.3, 0.3]], np.float32))
        assert diffuse_palette(np.full((40, 40, 3), 0.9, np.float32), TURN, black_and_white, serpentine=True) is None

    def test_colours_too_close_for_the_table_are_left_too(self):
        near = np.array([[0, 0, 0], [1, 1, 1], [0.5, 0.5, 0.5], [0.505, 0.5, 0.5]], np.float32)
        light = np.full((4, 4, 3), 0.5, np.float32)
        assert diffuse_palette(light, TURN, opponent(near), serpentine=False) is None
        apart = near.copy()
        apart[3] = (0.8, 0.3, 0.1)
        assert diffuse_palette(light, TURN, opponent(apart), serpentine=False) is not None

    def test_the_wide_box_takes_what_left_the_narrow_one(self, monkeypatch):
        tried = []
        plan = whole_numbers._plan.__wrapped__
        monkeypatch.setattr(whole_numbers, "_plan", lambda *given: tried.append(given[-1]) or plan(*given))
        light = np.full((60, 60, 3), (0.02, 0.3, 0.02), np.float32)
        diffuse_palette(light, TURN, opponent(SEVEN.linear(1.0)), serpentine=True)
        diffuse_palette(light[:2, :2], TURN, opponent(FOUR.linear()), serpentine=True)
        assert tried[-1] == WIDE_BOX
        assert tried[0] == NARROW_BOX
