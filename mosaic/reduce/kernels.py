"""The kernels of error diffusion: which neighbours take how much of what a pixel could not show."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt


@dataclass(frozen=True)
class Kernel:
    """Shares of the error for neighbours to come.

    `rows` are the weights of the pixel's own row and the rows below, in units of 1/`divisor`; the
    pixel itself is the middle of each row. What the weights leave out of the divisor is dropped.
    """

    name: str
    title: str
    use: str
    rows: tuple[tuple[int, ...], ...]
    divisor: int

    def taps(self) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.float32]]:
        """(T, 2) offsets down and right, and (T,) shares."""
        middle = len(self.rows[0]) // 2
        found = [(y, x - middle, w / self.divisor) for y, row in enumerate(self.rows) for x, w in enumerate(row) if w]
        return np.array([t[:2] for t in found], np.int64), np.array([t[2] for t in found], np.float32)


KERNELS = (
    # R. W. Floyd, L. Steinberg, An Adaptive Algorithm for Spatial Greyscale, 1976.
    Kernel("floyd-steinberg", "Floyd-Steinberg", "photos and gradients that stand still: the truest mean tones",
           ((0, 0, 7), (3, 5, 1)), 16),
    # J. F. Jarvis, C. N. Judice, W. H. Ninke, A Survey of Techniques for the Display of Continuous Tone Pictures, 1976.
    Kernel("jarvis", "Jarvis, Judice, Ninke", "smooth photos that stand still: fewer worms, softer edges",
           ((0, 0, 0, 7, 5), (3, 5, 7, 5, 3), (1, 3, 5, 3, 1)), 48),
    # P. Stucki, MECCA: a multiple-error correcting computation algorithm, 1981.
    Kernel("stucki", "Stucki", "smooth photos with fine detail that stand still",
           ((0, 0, 0, 8, 4), (2, 4, 8, 4, 2), (1, 2, 4, 2, 1)), 42),
    # D. Burkes, 1988: two rows of Stucki's.
    Kernel("burkes", "Burkes", "photos on small panels: nearly as smooth as three rows, and crisper",
           ((0, 0, 0, 8, 4), (2, 4, 8, 4, 2)), 32),
    # F. Sierra, 1989 and 1990.
    Kernel("sierra", "Sierra, three rows", "smooth photos that stand still, edges a little harder",
           ((0, 0, 0, 5, 3), (2, 4, 5, 4, 2), (0, 2, 3, 2, 0)), 32),
    Kernel("sierra-two", "Sierra, two rows", "photos that stand still: between smooth and crisp",
           ((0, 0, 0, 4, 3), (1, 2, 3, 2, 1)), 16),
    Kernel("sierra-lite", "Sierra, light", "crisp photos and screenshots: the shortest reach",
           ((0, 0, 2), (1, 1, 0)), 4),
    # B. Atkinson, about 1984: a quarter of the error is dropped.
    Kernel("atkinson", "Atkinson", "drawings and portraits: crisp, with clean lights and darks; extremes are lost",
           ((0, 0, 0, 1, 1), (0, 1, 1, 1, 0), (0, 0, 1, 0, 0)), 8),
)  # fmt: skip
