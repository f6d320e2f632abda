"""Pictures as letters: cells of strips and segmented figures take the place of glyphs."""

import unicodedata

import numpy as np

from mosaic.lettering.glyph import Glyph, cropped
from mosaic.strips.cells import Cell

FIRST_PRIVATE = 0xE000


def glyph_of_cell(cell: Cell, code: int, full: int) -> Glyph:
    """A cell as a glyph: all of its ink at the full level, since lettering has one colour."""
    return cropped(code, cell.inked.astype(np.uint8) * np.uint8(full), cell.dx, cell.dy, max(0, cell.advance))


def proposed_codes(names: tuple[str, ...]) -> tuple[int, ...]:
    """A code point for every cell of a strip: its name where that is one character, else private ones from U+E000 on.

    >>> [f"{code:X}" for code in proposed_codes(("7", "slack-low", "point"))]
    ['37', 'E000', '2E']
    """
    spoken = {"point": ".", "minus": "-", "plus": "+", "colon": ":", "comma": ",", "percent": "%", "degree": "°", "blank": " "}
    private, taken, found = FIRST_PRIVATE, set(), []
    for name in names:
        character = spoken.get(name, name)
        is_one = len(character) == 1 and unicodedata.category(character) not in ("Cc", "Cf", "Cs")
        code = ord(character) if is_one and ord(character) not in taken else 0
        if not code:
            code, private = private, private + 1
        taken.add(code)
        found.append(code)
    return tuple(found)
