"""A blue-noise mask by void and cluster: stable like a grid, without one to be seen.

R. Ulichney, The void-and-cluster method for dither array generation, 1993. Energies are whole
numbers, so that the mask is the same on every machine.
"""

from functools import cache

import numpy as np
from numba import njit

from mosaic.reduce.mask import RankArray, mask_method

SIDE = 64
SIGMA = 1.65
SEED = 2
FIRST_SHARE = 10
"""One place in so many is set in the pattern to begin with."""


def _bell(side: int, sigma: float) -> RankArray:
    """(side, side) energies that a set place at (0, 0) gives to all places of a torus."""
    away = np.minimum(np.arange(side), side - np.arange(side))
    square = away[:, None] ** 2 + away[None, :] ** 2
    return np.rint(np.exp(-square / (2 * sigma * sigma)) * 2**40).astype(np.int64)


@njit(cache=True, nogil=True)
def _change(energy, bell, row, column, sign):
    side = energy.shape[0]
    for y in range(side):
        for x in range(side):
            energy[y, x] += sign * bell[(y - row) % side, (x - column) % side]


@njit(cache=True, nogil=True)
def _extreme(energy, pattern, wanted, sign):
    """The place among those with `wanted` whose energy times `sign` is largest; the first of equals."""
    side = energy.shape[0]
    best, row, column = np.int64(-(2**62)), 0, 0
    for y in range(side):
        for x in range(side):
            if pattern[y, x] == wanted and sign * energy[y, x] > best:
                best, row, column = sign * energy[y, x], y, x
    return row, column


@njit(cache=True, nogil=True)
def _void_and_cluster(pattern, bell):
    side = pattern.shape[0]
    ranks = np.zeros((side, side), np.int64)
    energy = np.zeros((side, side), np.int64)
    count = 0
    for y in range(side):
        for x in range(side):
            if pattern[y, x]:
                _change(energy, bell, y, x, 1)
                count += 1
    # The tightest cluster moves to the largest void until that is where it came from.
    while True:
        y, x = _extreme(energy, pattern, True, 1)
        pattern[y, x] = False
        _change(energy, bell, y, x, -1)
        v, u = _extreme(energy, pattern, False, -1)
        pattern[v, u] = True
        _change(energy, bell, v, u, 1)
        if v == y and u == x:
            break
    first, first_energy = pattern.copy(), energy.copy()
    for rank in range(count - 1, -1, -1):
        y, x = _extreme(energy, pattern, True, 1)
        pattern[y, x] = False
        _change(energy, bell, y, x, -1)
        ranks[y, x] = rank
    # Clusters of places not set are where those set are fewest: one rule serves for the rest.
    pattern, energy = first, first_energy
    for rank in range(count, side * side):
        y, x = _extreme(energy, pattern, False, -1)
        pattern[y, x] = True
        _change(energy, bell, y, x, 1)
        ranks[y, x] = rank
    return ranks


@cache
def blue_noise_ranks(side: int = SIDE, sigma: float = SIGMA, seed: int = SEED) -> RankArray:
    """(side, side) ranks 0 .. side*side - 1, each once; the mask joins itself at its edges."""
    places = np.random.Generator(np.random.PCG64(seed)).permutation(side * side)[: side * side // FIRST_SHARE]
    pattern = np.zeros(side * side, np.bool_)
    pattern[places] = True
    ranks = _void_and_cluster(pattern.reshape(side, side), _bell(side, sigma))
    ranks.setflags(write=False)
    return ranks


BLUE_NOISE = mask_method(
    "blue-noise", "Blue noise", "animation and partial updates of photos: equal parts stay equal, and no grid shows",
    lambda recipe: blue_noise_ranks(),
)  # fmt: skip
