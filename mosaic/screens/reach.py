"""How far calls reach at most, whatever the values are: boxes that hold every pixel they can draw."""

from typing import Any

from mosaic.lettering.glyph import Lettering
from mosaic.screens.calls import Call
from mosaic.screens.symbols import bounds
from mosaic.screens.words import Words

Reach = tuple[int, int, int, int]
"""Left, top, right, bottom; the last two behind the last pixel."""


def _box(x: Any, y: Any, w: Any, h: Any, more: int = 0) -> Reach:
    (x0, x1), (y0, y1), (_, w1), (_, h1) = (bounds(number) for number in (x, y, w, h))
    return x0 - more, y0 - more, x1 + w1 + more, y1 + h1 + more


def _points(points: Any, more: int) -> Reach:
    xs = [bound for x, _ in points for bound in bounds(x)]
    ys = [bound for _, y in points for bound in bounds(y)]
    return min(xs) - more, min(ys) - more, max(xs) + 1 + more, max(ys) + 1 + more


def _overshoot(lettering: Lettering) -> tuple[int, int, int, int]:
    """How far glyphs reach: left of the pen, above and below the base line, right of where the pen moves to."""
    glyphs = [glyph for glyph in lettering.glyphs if glyph.width]
    if not glyphs:
        return 0, 0, 0, 0
    return (
        max(0, *(-glyph.left for glyph in glyphs)), max(glyph.top for glyph in glyphs),
        max(0, *(-glyph.bottom for glyph in glyphs)),
        max(0, *(glyph.right - glyph.advance for glyph in glyphs)),
    )  # fmt: skip


def reach_of(call: Call, widest: Any) -> Reach:
    """The box that holds all that a call can draw; `widest` gives the pixels of a text whose values are not known."""
    given, name = call.given, call.name
    if name in ("disc", "ring", "sector"):
        cx, cy, radius = given[:3]
        _, r = bounds(radius)
        return _box(cx, cy, 1, 1, r)
    if name == "line":
        x0, y0, x1, y1, thickness = given[:5]
        return _points(((x0, y0), (x1, y1)), bounds(thickness)[1] // 2 + 1)
    if name == "polygon":
        return _points(given[0], 0)
    if name == "plot":
        x, y, w, h, thickness = given[:5]
        return _box(x, y, w, h, bounds(thickness)[1] // 2 + 1)
    if name == "text":
        x, base, words, font, _ = given
        left, above, below, right = _overshoot(font.lettering)
        width = widest(font, words.source) if isinstance(words, Words) else font.lettering.width_of(words)
        (x0, x1), (b0, b1) = bounds(x), bounds(base)
        return x0 - left, b0 - above, x1 + width + right, b1 + below
    if name == "turned":
        x, y, _, px, py, image = given
        wide, high = max(px, image.width - 1 - px, -px), max(py, image.height - 1 - py, -py)
        return _box(x, y, 1, 1, int((wide * wide + high * high) ** 0.5) + 2)
    if name in ("picture", "values"):
        x, y, image = given
        height, width = image.shape if name == "values" else (image.height, image.width)
        return _box(x, y, width, height)
    x, y, w, h = given[:4]
    return _box(x, y, w, h)
