"""Drawing without a buffer: the windows that each call comes down to, as the C runtime sends them.

`mosaic/firmware/draw.py` itself is run, with a panel that only notes what it is sent; pictures, which are many pixels and
simple, are counted by their runs.
"""

from collections import Counter
from collections.abc import Sequence
from typing import Any

import numpy as np
import numpy.typing as npt

from mosaic.firmware import draw
from mosaic.panels.windows import Rect
from mosaic.screens.calls import Call, Font
from mosaic.screens.sheet import packed_levels

Boxes = Counter[tuple[int, int]]
"""How many windows of which width and height, as the reader sees them."""


def _font(font: Font) -> tuple[Any, ...]:
    """A lettering as `draw.py` takes it."""
    made = font.lettering
    letters, pixels = {}, b""
    for glyph in made.glyphs:
        letters[glyph.code] = (len(pixels), glyph.width, glyph.height, glyph.left, glyph.top, glyph.advance)
        pixels += packed_levels(glyph, made.bits)
    return made.bits, letters, pixels, dict(made.kerning)


def _none(color: int | None) -> int:
    return -1 if color is None else color


def _runs(values: npt.NDArray[Any]) -> Boxes:
    """Runs of one colour along the rows of (H, W) values, of which negative ones are nothing."""
    found: Boxes = Counter()
    edge = np.full((values.shape[0], 1), -2, values.dtype)
    padded = np.hstack([edge, values, edge]).ravel()
    starts = np.flatnonzero(padded[1:] != padded[:-1]) + 1
    lengths = np.diff(np.append(starts, len(padded)))
    for length, count in zip(*np.unique(lengths[padded[starts] >= 0], return_counts=True), strict=True):
        found[int(length), 1] += int(count)
    return found


def _whole(call: Call, size: tuple[int, int], clip: Rect | None) -> Boxes | None:
    """The runs of a picture, cut off at the glass and at a box; None for any other call."""
    if call.name == "picture":
        x, y, image = call.given
        colors = np.array([_none(color) for color in image.colors], np.int64)
        values = colors[image.pixels]
    elif call.name == "values":
        x, y, values = call.given
    else:
        return None
    box = clip or Rect(0, 0, *size)
    left, top = max(0, box.x) - x, max(0, box.y) - y
    right, bottom = min(size[0], box.right) - x, min(size[1], box.bottom) - y
    part = np.asarray(values)[max(0, top) : max(0, bottom), max(0, left) : max(0, right)]
    return _runs(part) if part.size else Counter()


def _carried_out(surface: Any, call: Call, fonts: dict[int, Any]) -> None:
    name, given, shape = call.name, call.given, getattr(draw, call.name)
    if name == "text":
        x, base, words, font, colors = given
        known = fonts.setdefault(id(font), _font(font))
        shape(surface, x, base, words, known, [_none(color) for color in colors])
    elif name == "turned":
        *first, image = given
        pixels = image.pixels.ravel().tolist()
        shape(surface, *first, image.width, image.height, pixels, [_none(color) for color in image.colors])
    elif name == "pattern":
        *first, tile, color, ground = given
        rows = np.packbits(tile, axis=1)[:, 0].tolist()
        shape(surface, *first, rows, tile.shape[1], _none(color), _none(ground))
    elif name == "polygon":
        points, color = given
        shape(surface, [v for point in points for v in point], color)
    elif name == "plot":
        *first, past, color = given
        shape(surface, *first, list(past.readings or ()), past.count, color)
    else:
        shape(surface, *given)


def direct_boxes(calls: Sequence[Call], size: tuple[int, int], within: Rect | None = None) -> Boxes:
    """The windows that calls send on a glass of a size, or only inside of a box, both as the reader sees them."""
    found: Boxes = Counter()
    fonts: dict[int, Any] = {}

    def area(x: int, y: int, w: int, h: int, color: int) -> None:
        found[w, h] += 1

    whole = draw.direct(area, *size, 0, *size)
    if within is not None:
        whole = draw.within(whole, within.x, within.y, within.width, within.height)
    on, clip = whole, within
    for call in calls:
        if call.name == "within":
            on = draw.within(whole, *call.given)
            box = Rect(*call.given)
            clip = box if within is None else _shared(box, within)
        elif call.name == "beyond":
            on, clip = whole, within
        else:
            runs = _whole(call, size, clip)
            if runs is None:
                _carried_out(on, call, fonts)
            else:
                found += runs
    return found


def _shared(a: Rect, b: Rect) -> Rect:
    x, y = max(a.x, b.x), max(a.y, b.y)
    return Rect(x, y, max(0, min(a.right, b.right) - x), max(0, min(a.bottom, b.bottom) - y))
