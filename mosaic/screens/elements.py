"""How large each kind of element is by itself, and which calls draw it; `mosaic.screens.kinds` lists them."""

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

import numpy as np

from mosaic.drawing.shapes import UNIT, direction
from mosaic.screens.calls import Font, Image, Past
from mosaic.screens.colors import GROUND, color_value
from mosaic.screens.kit import Kit, following, image_of, key_of, text_of
from mosaic.screens.placing import Box, Natural
from mosaic.screens.screen import Element
from mosaic.screens.symbols import Symbol, Whole, least, most
from mosaic.screens.words import Words

Given = list[tuple[str, tuple[Any, ...]]]
"""Calls without whose they are: (name, what is given)."""
NO_LETTERING = Natural(24, 12, 10)
PADDING, SCROLLED_PX = 4, 2
"""Pixels round the words of a button or list; pixels by which a text runs on each tenth of a second."""
USUAL = Natural(40, 24, 24)


@dataclass(frozen=True)
class Site:
    """Where an element is drawn: its box, and the one colour that lies in it whatever the values are; None where that varies."""

    box: Box
    ground: int | None


def sized(width: int, height: int) -> Callable[[Element, Kit], Natural]:
    """A kind that is so large where nothing else is said."""
    own = Natural(width, height, height)
    return lambda element, kit: own


def text_size(element: Element, kit: Kit) -> Natural:
    """From the pen's first place to its last, of the widest that the text can be; as high as a line of the lettering."""
    font = kit.font(element)
    if font is None:
        return NO_LETTERING
    return Natural(kit.widest(font, text_of(element)), font.lettering.line_height, font.lettering.ascent)


def _line(kit: Kit, font: Font, words: str | Words, x: Whole, base: Whole, ink: Whole, ground: Whole | None) -> Given:
    if isinstance(words, str) and not words.strip():
        return []
    return [("text", (x, base, words, font, kit.levels(font, ink, ground)))]


def _aligned(room: Whole, wide: Whole, align: str) -> Any:
    return {"start": 0, "middle": (room - wide) // 2, "end": room - wide}[align]


def _grounded(element: Element, site: Site, kit: Kit) -> tuple[Given, int | None]:
    """A box filled with the second colour, if there is one, and the ground that letters then stand on."""
    second, box = kit.second(element), site.box
    if second is None:
        return [], site.ground
    return [("fill", (box.x, box.y, box.width, box.height, second))], second


def text_calls(element: Element, site: Site, kit: Kit) -> Given:
    font, box = kit.font(element), site.box
    calls, ground = _grounded(element, site, kit)
    if font is None:
        return calls
    words, ink = kit.words(text_of(element)), kit.color(element)
    wide = kit.width(font, words)
    if element.overflow == "reach" or element.width.by == "own" or wide <= box.width:
        return calls + _line(kit, font, words, box.x + _aligned(box.width, wide, element.align), box.base, ink, ground)
    return calls + _too_wide(element, box, kit, font, words, wide, ink, ground)


def _too_wide(
    element: Element, box: Box, kit: Kit, font: Font, words: str | Words, wide: Whole, ink: Whole, ground: int | None
) -> Given:
    """What stands for words that are wider than their box."""
    if element.overflow in ("dashes", "largest"):
        instead = "-" * _fitting(font, "-", box.width)
        if element.overflow == "largest" and (negative := sign_of(element, kit)) is not None:
            nines = _nines(font, box.width, element, kit, negative=bool(negative))
            instead = nines or instead
        x = box.x + _aligned(box.width, font.lettering.width_of(instead), element.align)
        return _line(kit, font, instead, x, box.base, ink, ground)
    within = (box.x, box.y, box.width, box.height)
    if element.overflow == "clip":
        return [("within", within), *_line(kit, font, words, box.x, box.base, ink, ground), ("beyond", ())]
    # A text that runs is followed by itself, with a gap.
    gap = font.lettering.line_height
    room = kit.widest(font, text_of(element)) + gap
    x = box.x - kit.tick() * SCROLLED_PX % room
    first, second = (_line(kit, font, words, at, box.base, ink, ground) for at in (x, x + room))
    return [("within", within), *first, *second, ("beyond", ())]


def _fitting(font: Font, mark: str, room: Whole) -> int:
    """How often a mark fits, at most 12 times."""
    return max((n for n in range(13) if font.lettering.width_of(mark * n) <= room), default=0)


def sign_of(element: Element, kit: Kit) -> Any:
    """Whether the one number that an element shows lies below zero; None where it shows none, or several."""
    fields = kit.fields(text_of(element))
    raw = kit.raw(fields[0].value) if len(fields) == 1 and fields[0].value.kind == "number" else None
    return None if raw is None else raw < 0


def _nines(font: Font, room: Whole, element: Element, kit: Kit, *, negative: bool) -> str:
    """The largest number of nines with the field's decimals that fits; "" where none does."""
    decimals = kit.fields(text_of(element))[0].number.decimals
    behind = f".{'9' * decimals}" if decimals else ""
    fits = [
        words for words in (f"{'-' if negative else ''}{'9' * n}{behind}" for n in range(1, 10))
        if font.lettering.width_of(words) <= room
    ]  # fmt: skip
    return fits[-1] if fits else ""


_BLANK = re.compile(r" (?![^{]*\})")
"""A blank that is not part of a value in braces."""


def wrapped(font: Font, text: str, width: Whole, kit: Kit) -> list[str]:
    """Lines of a text broken at blanks, and where it says so; a word that is wider stands alone, and reaches out.

    Values count with their widest form, so that lines do not break anew with each reading.
    """
    lines: list[str] = []
    for paragraph in text.splitlines() or [""]:
        line = ""
        for word in _BLANK.split(paragraph):
            longer = f"{line} {word}" if line else word
            if line and width < kit.widest(font, longer):
                lines.append(line)
                longer = word
            line = longer
        lines.append(line)
    return lines


def block_size(element: Element, kit: Kit) -> Natural:
    font = kit.font(element)
    if font is None:
        return NO_LETTERING
    lines = element.text.splitlines() or [""]
    pitch = font.lettering.line_height + element.gap
    wide = element.width.pixels if element.width.by == "pixels" else 0
    if wide:
        lines = wrapped(font, element.text, wide, kit)
    widest = max(kit.widest(font, line) for line in lines)
    return Natural(widest, pitch * len(lines) - element.gap, font.lettering.ascent)


def block_calls(element: Element, site: Site, kit: Kit) -> Given:
    font, box = kit.font(element), site.box
    calls, ground = _grounded(element, site, kit)
    if font is None:
        return calls
    for number, line in enumerate(wrapped(font, element.text, box.width, kit)):
        base = box.y + font.lettering.ascent + number * (font.lettering.line_height + element.gap)
        words = kit.words(line)
        x = box.x + _aligned(box.width, kit.width(font, words), element.align)
        calls += _line(kit, font, words, x, base, kit.color(element), ground)
    return calls


def list_calls(element: Element, site: Site, kit: Kit) -> Given:
    """Lines one below the other; the one with the number is shown in exchanged colours."""
    font, box = kit.font(element), site.box
    calls, ground = _grounded(element, site, kit)
    if font is None:
        return calls
    ink = kit.color(element)
    under = _against(element, site, kit)
    for number, line in enumerate(element.text.splitlines()):
        top = box.y + number * (font.lettering.line_height + element.gap)
        words = kit.words(line)
        x = box.x + PADDING + _aligned(box.width - 2 * PADDING, kit.width(font, words), element.align)
        chosen = number == element.number
        if chosen:
            calls.append(("fill", (box.x, top, box.width, font.lettering.line_height, ink)))
        colors = (under, ink) if chosen else (ink, ground)
        calls += _line(kit, font, words, x, top + font.lettering.ascent, *colors)
    return calls


def list_size(element: Element, kit: Kit) -> Natural:
    own = block_size(replace(element, width=replace(element.width, by="own")), kit)
    return replace(own, width=own.width + 2 * PADDING)


def picture_size(element: Element, kit: Kit) -> Natural:
    whole = kit.pictures.get(element.source)
    if whole is not None and not element.cell:
        return Natural(whole.shape[1], whole.shape[0], whole.shape[0])
    if following(element, "number") is not None and (cells := kit.cells.get(element.source)):
        # As large as the largest that it can be: what stands beside it does not move with the value.
        wide, high = max(cell.width for cell in cells), max(cell.height for cell in cells)
        return Natural(wide, high, min(high, max(0, cells[0].dy)))
    cell = kit.cell(element)
    return Natural(cell.width, cell.height, min(cell.height, max(0, cell.dy))) if cell else USUAL


def _image(element: Element, kit: Kit) -> Any:
    whole = kit.pictures.get(element.source)
    if whole is not None and not element.cell and element.kind != "cell":
        return image_of(key_of(kit, element.source), whole, None, kit.passport)
    cell = kit.cell(element)
    if cell is None:
        return None
    return image_of(key_of(kit, element.source, cell.name), cell.pixels, None if element.opaque else cell.inked, kit.passport)


def picture_calls(element: Element, site: Site, kit: Kit) -> Given:
    image = _image(element, kit)
    if image is None:
        return []
    return [("picture" if isinstance(image, Image) else "values", (site.box.x, site.box.y, image))]


def turned_size(element: Element, kit: Kit) -> Natural:
    """As large as the picture reaches however it is turned about its middle."""
    own = picture_size(element, kit)
    reach = int(np.ceil(np.hypot(own.width, own.height)))
    return Natural(reach, reach, reach)


def turned_calls(element: Element, site: Site, kit: Kit) -> Given:
    """A picture turned about its middle, which stands in the middle of the box; `points` may name another pixel for it."""
    image, box = _image(element, kit), site.box
    if not isinstance(image, Image):
        return []
    px, py = element.points[0] if element.points else (image.width // 2, image.height // 2)
    return [("turned", (box.x + box.width // 2, box.y + box.height // 2, element.turn, px, py, image))]


def _points(element: Element, box: Box) -> list[tuple[int, int]]:
    return [(box.x + x, box.y + y) for x, y in element.points]


def points_size(element: Element, kit: Kit) -> Natural:
    """The box that the points span; a line's end pixels belong to it."""
    more = 1 if element.kind in ("line", "polyline") else 0
    width = max((x for x, _ in element.points), default=0) + more
    height = max((y for _, y in element.points), default=0) + more
    return Natural(max(1, width), max(1, height), max(1, height))


def line_calls(element: Element, site: Site, kit: Kit) -> Given:
    """From corner to corner of its box, downwards to the right or `rising`."""
    box, t, color = site.box, element.thickness, kit.color(element)
    if not box.width or not box.height:
        return []
    top, low = (box.y, box.bottom - 1) if not element.rising else (box.bottom - 1, box.y)
    return [("line", (box.x, top, box.right - 1, low, t, color))]


def polyline_calls(element: Element, site: Site, kit: Kit) -> Given:
    places, color = _points(element, site.box), kit.color(element)
    return [("line", (*a, *b, element.thickness, color)) for a, b in pairwise(places)]


def polygon_calls(element: Element, site: Site, kit: Kit) -> Given:
    places, color = _points(element, site.box), kit.color(element)
    if len(places) < 3:
        return []
    if element.filled:
        return [("polygon", (tuple(places), color))]
    # Points are corners of pixels; the outline runs over the pixels right below them.
    ends = [*places, places[0]]
    return [("line", (*a, *b, element.thickness, color)) for a, b in pairwise(ends)]


def triangle_calls(element: Element, site: Site, kit: Kit) -> Given:
    """Its tip in the middle of the side that `turn` says: 0 above, 90 at the right, 180 below, 270 at the left."""
    b = site.box
    # A side of an odd number of pixels has a pixel in its middle: the tip is as wide as that, and the triangle symmetric.
    left, right = b.x + b.width // 2, b.x + (b.width + 1) // 2
    upper, lower = b.y + b.height // 2, b.y + (b.height + 1) // 2
    corners = {
        0: ((left, b.y), (right, b.y), (b.right, b.bottom), (b.x, b.bottom)),
        1: ((b.right, upper), (b.right, lower), (b.x, b.bottom), (b.x, b.y)),
        2: ((right, b.bottom), (left, b.bottom), (b.x, b.y), (b.right, b.y)),
        3: ((b.x, lower), (b.x, upper), (b.right, b.y), (b.right, b.bottom)),
    }[element.turn // 90 % 4]
    color = kit.color(element)
    if element.filled:
        return [("polygon", (corners, color))]
    ends = [*corners, corners[0]]
    return [("line", (*p, *q, element.thickness, color)) for p, q in pairwise(ends)]


def rectangle_calls(element: Element, site: Site, kit: Kit) -> Given:
    box, color, second = site.box, kit.color(element), kit.second(element)
    if element.filled:
        return [("fill", (box.x, box.y, box.width, box.height, color))]
    calls: Given = [("fill", (box.x, box.y, box.width, box.height, second))] if second is not None else []
    return [*calls, ("frame", (box.x, box.y, box.width, box.height, element.thickness, color))]


def _outlined(name: str, element: Element, box: Box, kit: Kit, *more: int) -> Given:
    """A filled shape, or its outline of one pixel over its second colour."""
    at, color, second = (box.x, box.y, box.width, box.height), kit.color(element), kit.second(element)
    if element.filled:
        return [(name, (*at, *more, color))]
    calls: Given = [(name, (*at, *more, second))] if second is not None else []
    return [*calls, (f"{name}_outline", (*at, *more, color))]


def rounded_calls(element: Element, site: Site, kit: Kit) -> Given:
    return _outlined("rounded", element, site.box, kit, element.radius)


def ellipse_calls(element: Element, site: Site, kit: Kit) -> Given:
    return _outlined("ellipse", element, site.box, kit)


def circle_size(element: Element, kit: Kit) -> Natural:
    """About a pixel in the middle: twice the radius and one."""
    wide: Any = 2 * element.radius + 1
    return Natural(wide, wide, wide)


def _round(box: Box) -> tuple[Any, Any, Any]:
    """(centre x, centre y, radius) of the largest circle about a pixel that stands in a box."""
    radius = most(0, (least(box.width, box.height) - 1) // 2)
    return box.x + (box.width - 1) // 2, box.y + (box.height - 1) // 2, radius


def circle_calls(element: Element, site: Site, kit: Kit) -> Given:
    cx, cy, radius = _round(site.box)
    color, second = kit.color(element), kit.second(element)
    if not site.box.width or not site.box.height:
        return []
    if element.filled:
        return [("disc", (cx, cy, radius, color))]
    calls: Given = [("disc", (cx, cy, radius, second))] if second is not None else []
    return [*calls, ("ring", (cx, cy, radius, element.thickness, color))]


def arc_calls(element: Element, site: Site, kit: Kit) -> Given:
    cx, cy, radius = _round(site.box)
    thickness = radius + 1 if element.filled else element.thickness
    return [("sector", (cx, cy, radius, thickness, element.start, element.span, kit.color(element)))]


def share_of(element: Element, whole: Whole) -> Any:
    """How much of `whole` a value is between its lowest and highest, rounded half away from zero, held within."""
    part: Whole = element.value - element.low
    span = element.high - element.low
    if span < 0:
        part, span = -part, -span
    part = least(most(part, 0), span)
    return (2 * part * whole + span) // (2 * span)


def bar_calls(element: Element, site: Site, kit: Kit) -> Given:
    """Along its longer side, from the left or from below; the second colour is what is not reached."""
    box, color, second = site.box, kit.color(element), kit.second(element)
    calls: Given = [("fill", (box.x, box.y, box.width, box.height, second))] if second is not None else []
    if box.width >= box.height:
        return [*calls, ("fill", (box.x, box.y, share_of(element, box.width), box.height, color))]
    high = share_of(element, box.height)
    return [*calls, ("fill", (box.x, box.bottom - high, box.width, high, color))]


def polar(cx: Whole, cy: Whole, degrees: Whole, radius: Whole) -> tuple[Any, Any]:
    """The pixel so far from another in a direction, each coordinate rounded to the nearest, halves upwards."""
    x: Whole
    y: Whole
    if isinstance(degrees, Symbol):
        x, y = (Symbol(op, (degrees,), -UNIT, UNIT) for op in ("across", "along"))
    else:
        x, y = direction(degrees)
    return cx + (radius * x + UNIT // 2) // UNIT, cy + (radius * y + UNIT // 2) // UNIT


def _ticks(element: Element, cx: int, cy: int, radius: int, kit: Kit, ground: int | None) -> Given:
    """Marks at equal steps, from the circle inwards, and the numbers they stand for."""
    calls: Given = []
    font, color, count = kit.font(element), kit.color(element), element.ticks
    long = max(2, radius // 10)
    for number in range(count):
        angle = element.start + element.span * number // max(1, count - 1)
        outer, inner = polar(cx, cy, angle, radius), polar(cx, cy, angle, radius - long)
        calls.append(("line", (*outer, *inner, 1, color)))
        if element.labels and font is not None:
            words = str(element.low + (element.high - element.low) * number // max(1, count - 1))
            capital = font.lettering.capital or font.lettering.ascent
            wide = font.lettering.width_of(words)
            x, y = polar(cx, cy, angle, radius - long - 2 - max(wide, capital) // 2)
            calls += _line(kit, font, words, x - wide // 2, y + capital // 2, color, ground)
    return calls


def gauge_calls(element: Element, site: Site, kit: Kit) -> Given:
    """A ring from `start` over `span` degrees, as far as the value reaches; the second colour is the rest."""
    cx, cy, radius = _round(site.box)
    reach, second, t = share_of(element, element.span), kit.second(element), element.thickness
    calls: Given = []
    if second is not None:
        calls.append(("sector", (cx, cy, radius, t, element.start + reach, element.span - reach, second)))
    calls.append(("sector", (cx, cy, radius, t, element.start, reach, kit.color(element))))
    return calls + _ticks(element, cx, cy, radius - t - 1, kit, site.ground)


def needle_calls(element: Element, site: Site, kit: Kit) -> Given:
    """A needle over its scale: ticks round the edge, a tapered hand in the second colour, a hub."""
    cx, cy, radius = _round(site.box)
    second = kit.second(element)
    hand = kit.color(element) if second is None else second
    angle, wide = element.start + share_of(element, element.span), max(2, element.thickness + 1)
    tip = polar(cx, cy, angle, radius * 9 // 10)
    sides = polar(cx, cy, angle - 90, wide), polar(cx, cy, angle + 90, wide)
    calls = _ticks(element, cx, cy, radius, kit, site.ground)
    return [
        *calls,
        ("polygon", ((sides[0], tip, sides[1]), hand)),
        ("line", (cx, cy, *tip, 1, hand)),
        ("disc", (cx, cy, wide, hand)),
    ]


def switch_calls(element: Element, site: Site, kit: Kit) -> Given:
    """On where its value is above the middle of its range: filled, its knob at the right in the second colour."""
    box, color = site.box, kit.color(element)
    radius, knob = box.height // 2, max(0, (box.height - 7) // 2)
    on = 2 * element.value > element.low + element.high
    second = _against(element, site, kit)
    at = (box.x, box.y, box.width, box.height, radius, color)
    cx = box.right - 1 - radius if on else box.x + radius
    if on:
        return [("rounded", at), ("disc", (cx, box.y + (box.height - 1) // 2, knob, second))]
    return [("rounded_outline", at), ("disc", (cx, box.y + (box.height - 1) // 2, knob, color))]


def button_size(element: Element, kit: Kit) -> Natural:
    own = text_size(element, kit)
    return Natural(own.width + 4 * PADDING, own.height + 2 * PADDING, own.base + PADDING)


def button_calls(element: Element, site: Site, kit: Kit) -> Given:
    """A box with rounded corners round its words; filled, the words stand in the second colour."""
    box, color, font = site.box, kit.color(element), kit.font(element)
    second = kit.second(element)
    calls = rounded_calls(element, site, kit)
    if font is None:
        return calls
    words = kit.words(element.text)
    x = box.x + (box.width - kit.width(font, words)) // 2
    base = box.y + (box.height - font.lettering.line_height) // 2 + font.lettering.ascent
    ink, ground = (_against(element, site, kit), color) if element.filled else (color, site.ground if second is None else second)
    return calls + _line(kit, font, words, x, base, ink, ground)


def _against(element: Element, site: Site, kit: Kit) -> Any:
    """What stands out from an element's own colour: its second, the one colour beneath it, or the panel's ground."""
    second = kit.second(element)
    if second is None:
        second = site.ground
    return color_value(GROUND, kit.passport) if second is None or second == kit.color(element) else second


def past_of(element: Element, kit: Kit) -> Past | None:
    """The readings that a plot draws; None where it names no value that is a number."""
    value = kit.values.get(element.of)
    return kit.past(value, element.count) if value is not None and value.is_number else None


def sparkline_calls(element: Element, site: Site, kit: Kit) -> Given:
    """The last readings of a value as a line, the newest at the right; between the lowest and highest of its range."""
    box, past, second = site.box, past_of(element, kit), kit.second(element)
    calls: Given = [("fill", (box.x, box.y, box.width, box.height, second))] if second is not None else []
    if past is None or not box.width or not box.height:
        return calls
    at = (box.x, box.y, box.width, box.height, element.thickness, element.low, element.high)
    return [*calls, ("plot", (*at, past, kit.color(element)))]


def plot_calls(element: Element, site: Site, kit: Kit) -> Given:
    """A sparkline over its axes: marks and numbers at the left for lowest to highest, and a line below."""
    box, font, color = site.box, kit.font(element), kit.color(element)
    left = _axis_width(element, kit)
    width: Any = most(0, box.width - left)
    height: Any = most(0, box.height - 1)
    inner = Box(box.x + left, box.y, width, height, box.base)
    calls = sparkline_calls(element, Site(inner, site.ground), kit)
    calls.append(("fill", (box.x + left - 1, box.y, 1, box.height, color)))
    calls.append(("fill", (box.x + left - 1, box.bottom - 1, most(0, box.width - left + 1), 1, color)))
    count = element.ticks
    for number in range(count):
        y = box.bottom - 2 - (inner.height - 1) * number // max(1, count - 1)
        calls.append(("fill", (box.x + left - 4, y, 3, 1, color)))
        if element.labels and font is not None:
            words = _label(element, kit, element.low + (element.high - element.low) * number // max(1, count - 1))
            capital = font.lettering.capital or font.lettering.ascent
            base = least(most(y + capital // 2, box.y + capital), box.bottom)
            calls += _line(kit, font, words, box.x + left - 6 - font.lettering.width_of(words), base, color, site.ground)
    return calls


def _label(element: Element, kit: Kit, raw: int) -> str:
    value = kit.values.get(element.of)
    return value.plain(raw) if value is not None and value.kind == "number" else str(raw)


def _axis_width(element: Element, kit: Kit) -> int:
    font, count = kit.font(element), element.ticks
    if not count:
        return 1
    if not element.labels or font is None:
        return 4
    raws = [element.low + (element.high - element.low) * number // max(1, count - 1) for number in range(count)]
    return 6 + max(font.lettering.width_of(_label(element, kit, raw)) for raw in raws)


def tile_of(rows: tuple[str, ...]) -> np.ndarray:
    """(H, W) of bool: where a tile has #."""
    return np.array([[mark == "#" for mark in row] for row in rows])


def pattern_calls(element: Element, site: Site, kit: Kit) -> Given:
    box = site.box
    return [("pattern", (box.x, box.y, box.width, box.height, tile_of(element.tile), kit.color(element), kit.second(element)))]


def nothing(element: Element, site: Site, kit: Kit) -> Given:
    """Groups, rows and columns are not drawn themselves; parts are taken apart before."""
    return []


def part_size(element: Element, kit: Kit) -> Natural:
    part = kit.design.part(element.part)
    return Natural(part.width, part.height, part.height) if part else USUAL
