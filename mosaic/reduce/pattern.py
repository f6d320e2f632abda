"""Filling by tone with a drawn pattern, as maps and diagrams are hatched.

A tile is written as rows of ranks, one sign a place, 0 to 9 and then a to z, rows separated by "/":
the places with rank 0 light first as the tone rises, and places of one rank light together.
"""

from functools import lru_cache

import numpy as np

from mosaic.errors import BadValueError
from mosaic.reduce.mask import RankArray, mask_method
from mosaic.reduce.recipe import Recipe

OWN = "own"
SIGNS = "0123456789abcdefghijklmnopqrstuvwxyz"
SIDES = range(1, 9)

TILES: dict[str, str] = {
    "grain": "03/21",
    "lines": "0000/2222/1111/3333",
    "posts": "0213/0213/0213/0213",
    "slant": "0123/1230/2301/3012",
    "hatch": "0123/1434/2344/3442",
    "net": "00000000/06666665/06777765/06788765/06788765/06777765/06666665/05555555",
    "checks": "0022/0022/3311/3311",
    "dots": "9864689b/86424689/64202468/42000246/64202468/86424689/9864689b/ba8688ab",
    "waves": "00322223/20033322/32003332/33200033/33320002/23332000/22233320/02223332",
}


def tile_ranks(text: str) -> RankArray:
    """(H, W) ranks of a written tile, made close: 0 to the number of different ranks less 1.

    >>> tile_ranks("03/10").tolist()
    [[0, 2], [1, 0]]

    Raises
    ------
    BadValueError
        Rows differ in length, there are none or more than eight, or a sign is no rank.
    """
    rows = text.strip().lower().split("/")
    if len(rows) not in SIDES or len(rows[0]) not in SIDES:
        raise BadValueError(f"the tile {text!r} has {len(rows)} rows and {len(rows[0])} columns; 1 to 8 of each are accepted")
    if any(len(row) != len(rows[0]) for row in rows):
        raise BadValueError(f"the rows of the tile {text!r} differ in length; each row holds as many signs as the first")
    strange = sorted({sign for row in rows for sign in row} - set(SIGNS))
    if strange:
        raise BadValueError(
            f"the tile {text!r} holds {' '.join(strange)}; a place is a sign of 0 to 9 or a to z, rows are separated by /"
        )
    ranks = np.array([[SIGNS.index(sign) for sign in row] for row in rows], np.int64)
    return np.unique(ranks, return_inverse=True)[1].reshape(ranks.shape).astype(np.int64)


@lru_cache(maxsize=64)
def _ranks(text: str) -> RankArray:
    return tile_ranks(text)


def ranks_of(recipe: Recipe) -> RankArray:
    """The ranks of the recipe's pattern.

    Raises
    ------
    BadValueError
        The pattern is unknown, or the drawn tile is malformed.
    """
    if recipe.pattern != OWN and recipe.pattern not in TILES:
        raise BadValueError(f"no pattern is named {recipe.pattern!r}; known: {', '.join((*TILES, OWN))}")
    return _ranks(recipe.tile if recipe.pattern == OWN else TILES[recipe.pattern])


PATTERN = mask_method(
    "pattern",
    "Pattern fill",
    "maps, bars and large flat areas: each tone becomes a hatching of its own",
    ranks_of,
    "pattern",
    "tile",
)
