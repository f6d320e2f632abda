"""Touching glyphs up by hand: pixels set and cleared, shifts, another advance. Made again, glyphs keep them."""

from dataclasses import replace

import numpy as np

from mosaic.lettering.glyph import Glyph, cropped
from mosaic.lettering.plan import FULL_INK, GlyphEdit


def edited(glyph: Glyph, touch: GlyphEdit, bits: int) -> Glyph:
    """A glyph with what was changed by hand on it."""
    full = (1 << bits) - 1
    columns = [x for x, _, _ in touch.pixels]
    rows = [y for _, y, _ in touch.pixels]
    left, right = min([glyph.left, *columns]), max([glyph.right, *(x + 1 for x in columns)])
    top, bottom = max([glyph.top, *(y + 1 for y in rows)]), min([glyph.bottom, *rows])
    levels = np.zeros((top - bottom, right - left), np.uint8)
    levels[top - glyph.top : top - glyph.bottom, glyph.left - left : glyph.right - left] = glyph.levels
    for x, y, level in touch.pixels:
        levels[top - 1 - y, x - left] = round(level * full / FULL_INK)
    return cropped(glyph.code, levels, left + touch.shift_x, top + touch.shift_y, max(0, glyph.advance + touch.advance))


def with_pixels(touch: GlyphEdit, plain: Glyph, stroke: list[tuple[int, int]], level: int, bits: int) -> GlyphEdit:
    """A touch-up with pixels set to a level.

    `stroke` are (column from the pen, row above the baseline) as the glyph stands now, shift and all. A pixel that is set to
    what the face gives anyway is not kept, so that drawing back and forth leaves nothing behind.
    """
    full = (1 << bits) - 1
    kept = {(x, y): value for x, y, value in touch.pixels}
    for x, y in stroke:
        place = (x - touch.shift_x, y - touch.shift_y)
        if level_at(plain, *place) == round(level * full / FULL_INK):
            kept.pop(place, None)
        else:
            kept[place] = level
    return replace(touch, pixels=tuple((x, y, value) for (x, y), value in sorted(kept.items())))


def level_at(glyph: Glyph, x: int, y: int) -> int:
    """The level at a column from the pen and a row above the baseline; 0 outside of the ink."""
    if glyph.left <= x < glyph.right and glyph.bottom <= y < glyph.top:
        return int(glyph.levels[glyph.top - 1 - y, x - glyph.left])
    return 0
