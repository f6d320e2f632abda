"""What calculators draw, as places on a sheet of SVG; templates lay them out."""

from dataclasses import dataclass
from math import log10
from typing import Any

from mosaic.desk.calculator import Bars, Curve, Disc, Drawing, Grid, Pixels, Scale, Swatches
from mosaic.exports.rasters import encode_png
from workshop.answers import inline_png

WIDE = 600.0
LINE = 34
MOST_CELLS = 4000


@dataclass(frozen=True)
class Drawn:
    """A sheet: which template lays it out, its height, what stands on it, and what it is in words."""

    kind: str
    height: float
    parts: dict[str, Any]
    words: str

    @property
    def template(self) -> str:
        return f"desk/partials/{self.kind}.html"


def _bars(one: Bars) -> Drawn:
    most = max([amount for _, amount, _ in one.rows] + [one.limit or 0.0]) or 1.0
    rows = [
        (name, words, n * LINE, round(max(1.0, WIDE * amount / most), 1), one.limit is not None and amount > one.limit)
        for n, (name, amount, words) in enumerate(one.rows)
    ]
    limit = round(WIDE * one.limit / most, 1) if one.limit is not None else None
    words = "; ".join(f"{name}: {said}" for name, _, said in one.rows)
    return Drawn("bars", LINE * len(rows) + 2, {"rows": rows, "limit": limit}, words)


def _scale(one: Scale) -> Drawn:
    """On a line of decades where the range is wide, else straight."""
    values = [value for value in (one.low, one.high, one.at) if value > 0]
    low, high = min(values) * 0.6, max(values) * 1.6

    def place(value: float) -> float:
        return round(20 + (WIDE - 40) * (log10(max(value, low)) - log10(low)) / (log10(high) - log10(low)), 1)

    def said(value: float) -> str:
        return f"{value:,.0f} {one.unit}" if value >= 100 else f"{value:,.3g} {one.unit}"

    a, b = place(one.low), place(one.high)
    marks = [(a, said(one.low)), (b, said(one.high))]
    parts = {"from": min(a, b), "length": max(2.0, abs(b - a)), "is_empty": one.low > one.high, "at": place(one.at),
        "marks": marks,
             "says": said(one.at)}  # fmt: skip
    return Drawn("scale", 92, parts, f"good from {said(one.low)} to {said(one.high)}; it is {said(one.at)}")


def _grid(one: Grid) -> Drawn:
    zoom = WIDE / max(one.width, one.height * 1.8)
    cells = one.columns * one.rows
    lines = []
    if cells <= MOST_CELLS:
        lines = [
            (round(x * one.cell_width * zoom, 2), round(y * one.cell_height * zoom, 2))
            for y in range(one.rows)
            for x in range(one.columns)
        ]
    parts = {
        "width": round(one.width * zoom, 1),
        "cells": lines,
        "cell": (round(one.cell_width * zoom - 1, 2), round(one.cell_height * zoom - 1, 2)),
    }
    return Drawn("grid", round(one.height * zoom + 2, 1), parts, f"{one.columns} columns and {one.rows} lines on the glass")


def _disc(one: Disc) -> Drawn:
    zoom = 300 / one.side
    parts = {
        "middle": WIDE / 2, "radius": 150.0, "ring": round(one.ring * zoom, 2), "ring_at": round(150 - one.ring * zoom / 2, 2),
        "left": round(WIDE / 2 - one.chord * zoom / 2, 1), "top": round(one.top * zoom + 1, 1),
        "chord": round(one.chord * zoom, 1),
        "height": round(one.height * zoom, 1), "says": f"{int(one.chord)} px",
    }  # fmt: skip
    return Drawn("disc", 302, parts, f"a band of {int(one.chord)} px by {one.height} px on round glass of {one.side} px")


def _swatches(one: Swatches) -> Drawn:
    side = min(96.0, WIDE / len(one.colors))
    squares = [(round(n * side, 1), round(side - 6, 1), name, color) for n, (name, color) in enumerate(one.colors)]
    return Drawn("swatches", side + 20, {"squares": squares}, "; ".join(f"{name} {color}" for name, color in one.colors))


def _curve(one: Curve) -> Drawn:
    left, right, top, bottom = 54.0, WIDE - 10, 12.0, 190.0
    first, last = log10(min(x for x, _ in (*one.points, one.at))), log10(max(x for x, _ in (*one.points, one.at)))
    most = max(y for _, y in (*one.points, one.at)) or 1.0

    def place(x: float, y: float) -> tuple[float, float]:
        return round(left + (right - left) * (log10(x) - first) / (last - first), 1), round(bottom - (bottom - top) * y / most, 1)

    at = place(*one.at)
    parts = {
        "line": " ".join(f"{x},{y}" for x, y in (place(*point) for point in sorted({*one.points, one.at}))), "at": at,
        "says": f"{one.at[1]:,.3g} {one.upwards}", "across": one.across,
        "marks": [(place(x, 0)[0], f"{x:g}") for x, _ in one.points[::2]],
        "up": [(round(bottom - (bottom - top) * share, 1), f"{most * share:,.3g}") for share in (0, 0.5, 1)],
        "anchor": "end" if at[0] > WIDE * 0.7 else "start", "says_x": at[0] + (-9 if at[0] > WIDE * 0.7 else 9),
        "says_y": max(12.0, at[1] - 8),
    }  # fmt: skip
    return Drawn("curve", 226, parts, f"{one.upwards} over {one.across}; here {one.at[1]:,.3g}")


def _pixels(one: Pixels) -> Drawn:
    side = WIDE / len(one.pictures) - 8
    shown = []
    for n, (name, picture) in enumerate(one.pictures):
        height = side * picture.shape[0] / picture.shape[1]
        shown.append((round(n * (side + 8), 1), round(height, 1), name, inline_png(encode_png(picture))))
    tall = max(height for _, height, _, _ in shown)
    return Drawn("pixels", tall + 22, {"shown": shown, "width": round(side, 1)}, "; ".join(name for name, _ in one.pictures))


def drawn(drawing: Drawing) -> Drawn:
    """A drawing on its sheet."""
    match drawing:
        case Bars():
            return _bars(drawing)
        case Scale():
            return _scale(drawing)
        case Grid():
            return _grid(drawing)
        case Disc():
            return _disc(drawing)
        case Swatches():
            return _swatches(drawing)
        case Pixels():
            return _pixels(drawing)
        case Curve():
            return _curve(drawing)
