"""The project's own face of seven segments, as an outline font: drawn from the same measures as segmented figures."""

import io
from functools import cache

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen

from mosaic.segments.layouts import SEVEN, polygons

EM, WIDTH, HEIGHT, ADVANCE = 1000, 460, 720, 560
THICKNESS, GAP, SLANT_DEG = 0.19, 0.03, 6.0
NAME = "Boathouse Segments"
MADE = 3_840_000_000
"""A day in 2025, in the seconds that fonts count."""
# A colon, a degree sign and blanks make times and temperatures of the segments' own table.
_BAR = round(THICKNESS * WIDTH)


def _glyph(shapes: list[tuple[tuple[float, float], ...]]) -> object:
    pen = TTGlyphPen(None)
    for shape in shapes:
        # The drawing's y runs down, the font's up; the order is turned so that the inside stays inside.
        points = [(round(x), round(HEIGHT - y)) for x, y in shape]
        pen.moveTo(points[0])
        for point in points[1:]:
            pen.lineTo(point)
        pen.closePath()
    return pen.glyph()


def _square(x: float, y: float) -> tuple[tuple[float, float], ...]:
    return ((x, y), (x + _BAR, y), (x + _BAR, y + _BAR), (x, y + _BAR))


@cache
def segment_font() -> bytes:
    """The font as TTF. Nothing in it depends on the day on which it is made."""
    shapes = polygons(SEVEN, WIDTH, HEIGHT, THICKNESS, GAP, SLANT_DEG)
    table = {ord(symbol): [shapes[name] for name in lit.split()] for symbol, lit in SEVEN.table.items() if symbol != "."}
    narrow = 3 * _BAR
    table[ord(".")] = [_square(_BAR, HEIGHT - _BAR)]
    table[ord(":")] = [_square(_BAR, HEIGHT * 0.28), _square(_BAR * 0.8, HEIGHT * 0.62)]
    table[ord("°")] = [shapes[name] for name in "abfg"]
    table[ord(" ")] = []
    advances = {ord("."): narrow, ord(":"): narrow}
    names = {code: f"u{code:04X}" for code in table}
    fb = FontBuilder(EM, isTTF=True)
    fb.setupGlyphOrder([".notdef", *names.values()])
    fb.setupCharacterMap(dict(names))
    fb.setupGlyf({".notdef": TTGlyphPen(None).glyph(), **{names[code]: _glyph(drawn) for code, drawn in table.items()}})
    metrics = {".notdef": (ADVANCE, 0)}
    for code, name in names.items():
        metrics[name] = (advances.get(code, ADVANCE), fb.font["glyf"][name].xMin if table[code] else 0)
    fb.setupHorizontalMetrics(metrics)
    fb.setupHorizontalHeader(ascent=HEIGHT + 60, descent=-60)
    fb.setupNameTable({"familyName": NAME, "styleName": "Regular"})
    fb.setupOS2(
        sTypoAscender=HEIGHT + 60, sTypoDescender=-60, usWinAscent=HEIGHT + 60, usWinDescent=60, sCapHeight=HEIGHT, fsType=0
    )
    fb.setupPost()
    fb.font["head"].created = fb.font["head"].modified = MADE
    out = io.BytesIO()
    fb.font.recalcTimestamp = False
    fb.save(out)
    return out.getvalue()
