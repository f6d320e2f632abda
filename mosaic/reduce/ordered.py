"""Masks in a regular grid: Bayer's matrices, and clustered dots.

B. E. Bayer, An Optimum Method for Two-Level Rendition of Continuous-Tone Pictures, 1973. The
clustered dot grows about centres that lie at 45 degrees, as a printing screen does, so that single
pixels never stand alone for long: right for panels that smear them.
"""

import numpy as np

from mosaic.errors import BadValueError
from mosaic.reduce.mask import RankArray, mask_method
from mosaic.reduce.method import Method

CLUSTER_SIDE = 8


def bayer_ranks(size: int) -> RankArray:
    """(size, size) ranks 0 .. size*size - 1 of Bayer's matrix; size is a power of two.

    >>> bayer_ranks(2).tolist()
    [[0, 2], [3, 1]]
    """
    if size < 1 or size & (size - 1):
        raise BadValueError(f"a Bayer matrix of side {size} does not exist; 2, 4, 8 and 16 do")
    ranks = np.zeros((1, 1), np.int64)
    while len(ranks) < size:
        ranks = np.block([[4 * ranks, 4 * ranks + 2], [4 * ranks + 3, 4 * ranks + 1]])
    return ranks


def clustered_ranks(side: int = CLUSTER_SIDE) -> RankArray:
    """(side, side) ranks of dots that grow about two centres, from there to the holes between them.

    The height of a place is cos(x) + cos(y) about a dot's centre; two dots to a tile, set off by
    half of it, make lines at 45 degrees. The dots take turns, so that a tone's two dots are equal
    but for one pixel.
    """
    y, x = (np.mgrid[0:side, 0:side] + 0.5) * (2 * np.pi / side)
    height = np.cos(x) * np.cos(y)
    # Equal heights are told apart by the way round their dot, and the two dots by turns.
    around = np.arctan2(np.sin(y) * np.sign(np.cos(y)), np.sin(x) * np.sign(np.cos(x)))
    order = np.lexsort((np.cos(x).ravel() < 0, around.ravel().round(6), -height.ravel().round(6)))
    ranks = np.empty(side * side, np.int64)
    ranks[order] = np.arange(side * side)
    return ranks.reshape(side, side)


def _bayer(size: int, use: str) -> Method:
    ranks = bayer_ranks(size)
    return mask_method(f"bayer-{size}", f"Ordered, Bayer {size} × {size}", use, lambda recipe: ranks)


BAYER_2 = _bayer(2, "five tones and the coarsest grid: icons and very small panels")
BAYER_4 = _bayer(4, "animation: seventeen tones, a plain grid")
BAYER_8 = _bayer(8, "animation and partial updates: equal parts stay equal; a fine grid shows")
BAYER_16 = _bayer(16, "animation with long gradients: the most tones of the grids")

_CLUSTERED = clustered_ranks()
CLUSTERED = mask_method(
    "clustered-dot", "Clustered dots", "panels that smear or drop single pixels, and pictures that will be photographed",
    lambda recipe: _CLUSTERED,
)  # fmt: skip
