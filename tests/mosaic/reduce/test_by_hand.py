"""Error diffusion worked out by hand, where small slips hide: the last column, the turn, strength and noise of depths."""

import numpy as np
import pytest

from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, ToneTask

TWO = np.array([0, 1], np.float32)
KERNEL = METHODS["floyd-steinberg"]


def toned(values, **recipe) -> list[list[int]]:
    return KERNEL.reduce(ToneTask(np.array(values, np.float32), TWO), Recipe(**recipe)).tolist()


# A strength just under 1 takes the loops in floating point, noise of nearly nothing the general ones: all have to agree.
LOOPS = ({}, {"strength": 0.999}, {"noise": 1e-6})


@pytest.mark.parametrize("loops", LOOPS)
class TestLastColumn:
    def test_the_last_columns_error_goes_down_and_back(self, loops):
        """Of 0.4, 5/16 go down, 0.125, and 3/16 back, 0.075; of these 7/16 come on to the last column, 0.0328."""
        assert toned([[0, 0, 0.4], [0, 0, 0.343]], scan="raster", **loops) == [[0, 0, 0], [0, 0, 1]]
        assert toned([[0, 0, 0.4], [0, 0, 0.341]], scan="raster", **loops) == [[0, 0, 0], [0, 0, 0]]
        assert toned([[0, 0, 0.4], [0, 0.426, 0]], scan="raster", **loops) == [[0, 0, 0], [0, 1, 0]]
        assert toned([[0, 0, 0.4], [0, 0.424, 0]], scan="raster", **loops) == [[0, 0, 0], [0, 0, 0]]

    def test_what_falls_off_at_the_right_is_not_carried_round(self, loops):
        """1/16 of 0.4 are 0.025: the next row's first pixel does not have them."""
        assert toned([[0, 0, 0.4], [0.499, 0, 0]], scan="raster", **loops)[1][0] == 0

    def test_the_last_column_takes_from_its_left(self, loops):
        """7/16 of 0.4 are 0.175. Below: 1/16 of 0.4, 5/16 of 0.499 and, through the columns before it, 0.110; 0.291 in all."""
        assert toned([[0, 0.4, 0.326]], scan="raster", **loops) == [[0, 0, 1]]
        assert toned([[0, 0.4, 0.324]], scan="raster", **loops) == [[0, 0, 0]]
        assert toned([[0, 0.4, 0.324], [0, 0, 0.207]], scan="raster", **loops)[1] == [0, 0, 0]
        assert toned([[0, 0.4, 0.324], [0, 0, 0.211]], scan="raster", **loops)[1] == [0, 0, 1]

    def test_a_serpentine_turns(self, loops):
        """Row two runs leftwards: of 0.4 on the right 7/16, 0.175, go to the place on its left."""
        assert toned([[0, 0, 0], [0, 0.326, 0.4]], scan="serpentine", **loops)[1] == [0, 1, 0]
        assert toned([[0, 0, 0], [0, 0.324, 0.4]], scan="serpentine", **loops)[1] == [0, 0, 0]
        assert toned([[0, 0, 0], [0.4, 0.326, 0]], scan="serpentine", **loops)[1] == [1, 0, 0]

    def test_the_first_column_ends_a_row_that_runs_back(self, loops):
        """Of its 0.4, 5/16 go down, 0.125, and 3/16 back, which is right, 0.075, where 0.0547 come on from the left."""
        dark = [[0, 0, 0], [0.4, 0, 0]]
        assert toned([*dark, [0.376, 0, 0]], scan="serpentine", **loops)[2] == [1, 0, 0]
        assert toned([*dark, [0.374, 0, 0]], scan="serpentine", **loops)[2] == [0, 0, 0]
        assert toned([*dark, [0, 0.372, 0]], scan="serpentine", **loops)[2] == [0, 1, 0]
        assert toned([*dark, [0, 0.368, 0]], scan="serpentine", **loops)[2] == [0, 0, 0]


class TestDepths:
    """One bit a channel: steps of 0 and 255, errors as with one tone."""

    def reduced(self, values, **recipe) -> list[list[int]]:
        light = np.array(values, np.float32)
        out = KERNEL.reduce(DepthTask(np.repeat(light[..., None], 3, axis=2), (1, 1, 1)), Recipe(scan="raster", **recipe))
        assert (out == out[..., :1]).all()
        return out[..., 0].tolist()

    @pytest.mark.parametrize(
        ("second", "strength", "lit"), [(0.326, 1.0, 255), (0.326, 0.5, 0), (0.413, 0.5, 255), (0.412, 0.5, 0)]
    )
    def test_strength_is_the_share_that_is_handed_on(self, second, strength, lit):
        """7/16 of 0.4 are 0.175, half of that 0.0875."""
        assert self.reduced([[0.4, second]], strength=strength) == [[0, lit]]

    def test_noise_moves_the_border_by_half_a_step_at_most(self):
        rows = np.full((64, 64), 0.5, np.float32)
        for level, noise, some in ((0.24, 0.5, False), (0.3, 0.5, True), (0.3, 0.1, False), (0.46, 0.1, True)):
            lit = np.array(self.reduced(rows * 2 * level, noise=noise, strength=0))
            assert bool(lit.any()) is some
            assert not lit.all()

    def test_noise_is_a_share_of_the_step_between_two_levels(self):
        """Of two bits a step is a third as large: the border lies within 0.5 / 3 / 2 of 1/6 at half the noise."""
        steps = np.array([0, 1 / 3, 2 / 3, 1], np.float32)
        for level, some in ((1 / 6 - 0.085, False), (1 / 6 - 0.075, True)):
            task = ToneTask(np.full((64, 64), level, np.float32), steps)
            assert bool(KERNEL.reduce(task, Recipe(noise=0.5, strength=0)).any()) is some
