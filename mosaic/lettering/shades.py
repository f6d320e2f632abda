"""Lettering on a panel: what its levels are there, and lines drawn on the glass."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from mosaic.color.srgb import bytes_to_linear, linear_to_bytes, luminance
from mosaic.lettering.glyph import Lettering, LevelArray, draw_text
from mosaic.panels.geometry import Turn, glass_mask, to_seen
from mosaic.panels.passport import Passport

PixelArray = npt.NDArray[np.uint8]


def usual_colors(passport: Passport) -> tuple[int, int]:
    """(ink, ground) in the panel's own contrast: dark on light paper, light on dark glass."""
    if passport.palette is None:
        return 0xFFFFFF, 0
    light, dark = passport.palette.lightest, passport.palette.darkest
    return (dark, light) if passport.technology == "epaper" else (light, dark)


def rgb_of(value: int) -> tuple[int, int, int]:
    """0xRRGGBB taken apart."""
    return value >> 16 & 255, value >> 8 & 255, value & 255


def valid_color(passport: Passport, value: int, otherwise: int) -> int:
    """A colour that this panel has; one kept for another panel falls back."""
    return value if passport.palette is None or value < len(passport.palette) else otherwise


def shades(passport: Passport, ink: int, ground: int, bits: int) -> PixelArray:
    """What each level is on the panel: (2**bits,) palette indices, or (2**bits, 3) RGB.

    Between ground and ink, light is mixed evenly (in linear light). On a tone palette the nearest
    level is taken; colours have nothing between them, so there half a pixel of ink decides.
    """
    share = np.linspace(0, 1, 1 << bits, dtype=np.float32)
    if passport.palette is None:
        ends = bytes_to_linear(np.array([rgb_of(ground), rgb_of(ink)], np.uint8))
        return linear_to_bytes(ends[0] + share[:, None] * (ends[1] - ends[0]))
    palette = passport.palette
    if not palette.is_tone:
        return np.where(share >= 0.5, ink, ground).astype(np.uint8)
    levels = palette.levels()
    aim = levels[ground] + share * (levels[ink] - levels[ground])
    nearest = np.abs(levels[None, :] - aim[:, None]).argmin(axis=1).astype(np.uint8)
    nearest[0], nearest[-1] = ground, ink
    return nearest


def shade_count(passport: Passport, ink: int, ground: int, bits: int) -> int:
    """How many of the levels look different on this panel."""
    return len(np.unique(shades(passport, ink, ground, bits), axis=0))


def contrast_of(passport: Passport, ink: int, ground: int) -> float:
    """Contrast of two of the panel's colours by the WCAG formula."""
    if passport.palette is None:
        rgb = np.array([rgb_of(ink), rgb_of(ground)], np.uint8)
    else:
        rgb = passport.palette.measured_rgb[[ink, ground]]
    light = luminance(bytes_to_linear(rgb)).astype(float)
    return float((light.max() + 0.05) / (light.min() + 0.05))


def seen_mask(passport: Passport, turn: Turn) -> npt.NDArray[np.bool_]:
    """(H, W) of the glass before its reader: which pixels can be seen."""
    return to_seen(glass_mask(passport).astype(np.uint8), turn).astype(bool)


def _longest_run(open_: npt.NDArray[np.bool_]) -> tuple[int, int]:
    """(first, length) of the longest run of True."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], open_, [False]]).astype(np.int8))).reshape(-1, 2)
    if not len(edges):
        return 0, 0
    lengths = edges[:, 1] - edges[:, 0]
    best = int(lengths.argmax())
    return int(edges[best, 0]), int(lengths[best])


@dataclass(frozen=True)
class Room:
    """A rectangle of the glass that can be seen whole: the widest between two rows."""

    x: int
    y: int
    width: int
    height: int


def room_between(mask: npt.NDArray[np.bool_], y: int, height: int) -> Room:
    """The widest stretch of columns of which every pixel from row `y` on can be seen.

    On round glass that is the shorter of the chords at the upper and the lower edge.
    """
    rows = mask[y : y + height]
    x, width = _longest_run(np.asarray(rows.all(axis=0))) if len(rows) == height else (0, 0)
    return Room(x, y, width, height)


def line_rooms(mask: npt.NDArray[np.bool_], line_height: int) -> list[Room]:
    """Lines from the top of what can be seen; on round glass the rows that are too narrow at the top and bottom are left out."""
    height, width = mask.shape
    count = height // line_height
    rest = 0 if mask.all() else (height - count * line_height) // 2
    rooms = [room_between(mask, rest + i * line_height, line_height) for i in range(count)]
    return [room for room in rooms if room.width * 5 >= width * 2 or mask.all()]


def _pieces(lettering: Lettering, text: str, width: int) -> list[str]:
    """Words of a text; one that is wider than a line falls into parts that are not."""
    found: list[str] = []
    for word in text.split():
        part = ""
        for character in word:
            if part and lettering.width_of(part + character) > width:
                found.append(part)
                part = ""
            part += character
        found.append(part)
    return found


def broken(lettering: Lettering, text: str, rooms: list[Room]) -> list[str]:
    """A text broken at its blanks into lines that fit these rooms; what does not fit at all is left out."""
    lines: list[str] = []
    for word in _pieces(lettering, text, min(room.width for room in rooms) - 2):
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and lettering.width_of(longer) <= rooms[len(lines) - 1].width - 2:
            lines[-1] = longer
        elif len(lines) == len(rooms):
            break
        else:
            lines.append(word)
    return lines


def lay_out(lettering: Lettering, mask: npt.NDArray[np.bool_], lines: list[str], *, breaks: bool = False) -> LevelArray:
    """(H, W) levels of the glass with lines of text from its top; on glass that is not square they stand in the middle.

    With `breaks` the lines are one running text, broken where the glass ends.
    """
    canvas = np.zeros(mask.shape, np.uint8)
    is_square = bool(mask.all())
    rooms = line_rooms(mask, lettering.line_height)
    if breaks and rooms:
        lines = broken(lettering, " ".join(lines), rooms)
    if not is_square and len(lines) < len(rooms):
        rooms = rooms[(len(rooms) - len(lines)) // 2 :]
    for room, line in zip(rooms, lines, strict=False):
        x = room.x + (1 if is_square else max(0, (room.width - lettering.width_of(line)) // 2))
        draw_text(canvas, lettering, x, room.y + lettering.ascent, line)
    return canvas


def on_panel(levels: LevelArray, lettering: Lettering, passport: Passport, ink: int, ground: int) -> PixelArray:
    """Levels (H, W) as values of the panel: palette indices (H, W) or RGB (H, W, 3)."""
    return shades(passport, ink, ground, lettering.bits)[levels]
