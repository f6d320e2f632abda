"""A gradient in the panel's depth: steps of one colour, or neighbours mixed by a pattern so that the steps are not seen."""

import numpy as np

from mosaic.panels.passport import Passport
from mosaic.pixels.formats import DirectFormat
from mosaic.screens.calls import Call
from mosaic.screens.colors import snapped

LEVELS = 16
"""Shares of the second colour in a tile of 4 x 4."""
_ORDER = np.array([[0, 8, 2, 10], [12, 4, 14, 6], [3, 11, 1, 9], [15, 7, 13, 5]])


def _between(first: int, second: int, count: int, passport: Passport) -> list[int]:
    """The panel's colour for each of so many steps, from the first to the last."""
    fmt = passport.format
    if not isinstance(fmt, DirectFormat):
        return [first if 2 * i < count else second for i in range(count)]
    ends = [[value >> shift & 255 for shift in (16, 8, 0)] for value in (first, second)]
    last = max(1, count - 1)
    mixed = [[(2 * (a * (last - i) + b * i) + last) // (2 * last) for a, b in zip(*ends, strict=True)] for i in range(count)]
    return [snapped(r << 16 | g << 8 | b, fmt) for r, g, b in mixed]


def gradient_calls(
    width: int, height: int, first: int, second: int, passport: Passport, *, upright: bool, mask: bool
) -> list[Call]:
    """What draws it over a whole glass: from top to bottom if `upright`, else from left to right."""
    count = height if upright else width
    if mask:
        return _mixed(width, height, _places(first, second, count, passport), upright)
    colors, calls, start = _between(first, second, count, passport), [], 0
    for i in range(1, count + 1):
        if i == count or colors[i] != colors[start]:
            calls.append(Call("fill", (*_stripe(width, height, start, i - start, upright), colors[start])))
            start = i
    return calls


def _stripe(width: int, height: int, start: int, size: int, upright: bool) -> tuple[int, int, int, int]:
    return (0, start, width, size) if upright else (start, 0, size, height)


def _places(first: int, second: int, count: int, passport: Passport) -> list[tuple[int, int, int]]:
    """For each step (colour, next colour, sixteenths of the next) on the way through the colours that the panel has between."""
    if isinstance(passport.format, DirectFormat):
        known = list(dict.fromkeys(_between(first, second, max(count, 256), passport)))
    else:
        known = [first, second]
    last, found = max(1, count - 1), []
    for i in range(count):
        at = i * (len(known) - 1) * LEVELS
        whole = (2 * at + last) // (2 * last)
        step, part = divmod(whole, LEVELS)
        found.append((known[step], known[min(step + 1, len(known) - 1)], part))
    return found


def _mixed(width: int, height: int, places: list[tuple[int, int, int]], upright: bool) -> list[Call]:
    calls, start = [], 0
    for i in range(1, len(places) + 1):
        if i < len(places) and places[i] == places[start]:
            continue
        color, following, part = places[start]
        at = _stripe(width, height, start, i - start, upright)
        calls.append(Call("pattern", (*at, part > _ORDER, following, color)) if part else Call("fill", (*at, color)))
        start = i
    return calls
