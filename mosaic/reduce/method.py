"""What every reduction method is: a name, its use, and one function for each kind of task."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.reduce.recipe import Recipe
from mosaic.reduce.task import DepthTask, PaletteTask, Task, ToneTask

IndexArray = npt.NDArray[np.uint8]


@dataclass(frozen=True)
class Method:
    """A reduction method.

    `family` groups it in lists. `parameters` are the recipe fields it uses. `tone` and `palette` give palette indices
    (H, W), `depth` gives 8-bit RGB (H, W, 3) whose channels are steps of the depth. None of
    them changes its input.
    """

    name: str
    title: str
    use: str
    parameters: tuple[str, ...]
    tone: Callable[[ToneTask, Recipe], IndexArray]
    palette: Callable[[PaletteTask, Recipe], IndexArray]
    depth: Callable[[DepthTask, Recipe], IndexArray]
    family: str = "hard edges"

    def reduce(self, task: Task, recipe: Recipe) -> IndexArray:
        """Apply the task with the recipe's settings."""
        if isinstance(task, ToneTask):
            return self.tone(task, recipe)
        if isinstance(task, PaletteTask):
            return self.palette(task, recipe)
        return self.depth(task, recipe)


def sorted_levels(levels: npt.NDArray[np.float32]) -> tuple[npt.NDArray[np.float32], IndexArray]:
    """Levels from dark to light, and the palette index of each."""
    order = np.argsort(levels, kind="stable")
    return np.ascontiguousarray(levels[order]), order.astype(np.uint8)
