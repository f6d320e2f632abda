"""Measuring: exact widths of texts and values, where they fit, and how much of a face a panel holds."""

from dataclasses import dataclass
from functools import lru_cache

import freetype
import numpy as np
import numpy.typing as npt

from mosaic.device.device import Device
from mosaic.lettering.faces import FACES, Face
from mosaic.lettering.glyph import Lettering, placed
from mosaic.lettering.outline import Style, sized_face
from mosaic.lettering.pixel_font import pixel_lettering
from mosaic.lettering.shades import line_rooms, room_between, seen_mask
from mosaic.lettering.source import font_info
from mosaic.lettering.texts import FieldText, widest
from mosaic.panels.geometry import seen_size_mm, seen_zones
from mosaic.panels.reading import arc_minutes

RUNNING = "etaoinshrdlu etaoinshrd etaoin "
"""Letters about as often as English has them, with their blanks: for the width of running text."""
FIGURES = "0123456789"


def pitch_mm(device: Device) -> tuple[float, float]:
    """Distance from column to column and from row to row before the reader, in mm."""
    (width, height), (width_mm, height_mm) = device.size, seen_size_mm(device.passport, device.turn)
    return width_mm / width, height_mm / height


@dataclass(frozen=True)
class Extent:
    """A line of text in pixels: from its first pen place to the last, its ink (left, right, top, bottom), what is missing."""

    text: str
    pen: int
    left: int
    right: int
    top: int
    bottom: int
    missing: str

    @property
    def ink_width(self) -> int:
        return self.right - self.left

    @property
    def room(self) -> int:
        """Pixels that it needs: pen and ink, whichever reaches further."""
        return max(self.pen, self.right) - min(0, self.left)


def extent_of(lettering: Lettering, text: str) -> Extent:
    """Where a line's ink lies: columns from the pen's first place, rows up from the baseline."""
    inked = [(pen, glyph) for pen, glyph in placed(lettering, text) if glyph.width]
    missing = "".join(dict.fromkeys(c for c in text if ord(c) not in lettering.by_code))
    if not inked:
        return Extent(text, lettering.width_of(text), 0, 0, 0, 0, missing)
    return Extent(
        text, lettering.width_of(text), min(pen + g.left for pen, g in inked), max(pen + g.right for pen, g in inked),
        max(g.top for _, g in inked), min(g.bottom for _, g in inked), missing,
    )  # fmt: skip


@dataclass(frozen=True)
class Spot:
    """A place on the glass: its name, and the room in pixels that a line has there."""

    name: str
    width: int
    height: int


def spots_of(device: Device, line_height: int) -> tuple[Spot, ...]:
    """Where a line of this height can stand: the widest line of the glass, its first line, and each zone."""
    passport, turn = device.passport, device.turn
    mask = seen_mask(passport, turn)
    height, width = mask.shape
    if line_height > height:
        return (Spot("the glass", width, height),)
    middle = room_between(mask, (height - line_height) // 2, line_height)
    found = [Spot("across the glass" if mask.all() else "across its middle", middle.width, height)]
    if not mask.all():
        rooms = line_rooms(mask, line_height)
        if rooms:
            found.append(Spot("on its first line", rooms[0].width, line_height))
    for x, y, wide, high in seen_zones(passport, turn) if passport.zones else ():
        band = f"rows {y} to {y + high - 1}" if wide == width else f"columns {x} to {x + wide - 1}"
        found.append(Spot(f"in the zone of {band}", wide, high))
    return tuple(found)


@dataclass(frozen=True)
class Fit:
    """Whether a text fits a spot: pixels left over in width and height, negative where it does not."""

    spot: Spot
    spare_px: int
    spare_rows: int

    @property
    def fits(self) -> bool:
        return self.spare_px >= 0 and self.spare_rows >= 0


@dataclass(frozen=True)
class Measured:
    """A text of the build in one lettering: its widest form, its extent, in mm and arc-minutes, and where it fits."""

    field: FieldText
    extent: Extent
    width_mm: float
    width_arcmin: float
    capital_mm: float
    capital_arcmin: float
    fits: tuple[Fit, ...]

    @property
    def fits_somewhere(self) -> bool:
        return any(fit.fits for fit in self.fits)


def measured(field: FieldText, lettering: Lettering, device: Device, *, spots: tuple[Spot, ...] | None = None) -> Measured:
    """A text at its widest on a device."""
    text, _ = widest(field, lettering)
    extent = extent_of(lettering, text)
    across, down = pitch_mm(device)
    width_mm, capital_mm = extent.room * across, lettering.capital * down
    spots = spots_of(device, lettering.line_height) if spots is None else spots
    fits = tuple(Fit(spot, spot.width - extent.room, spot.height - lettering.line_height) for spot in spots)
    distance = device.viewing_distance_mm
    return Measured(field, extent, width_mm, arc_minutes(width_mm, distance), capital_mm, arc_minutes(capital_mm, distance), fits)


@dataclass(frozen=True)
class Capacity:
    """How much of a face at a size a panel holds.

    `letters` are characters of running text on the widest line, `figures` digits, `total` characters on all lines.
    """

    size_px: float
    line_height: int
    capital_px: int
    lines: int
    letters: int
    figures: int
    total: int
    capital_mm: float
    capital_arcmin: float


@dataclass(frozen=True)
class _Widths:
    line_height: int
    capital_px: int
    letter: float
    figure: float


def capacity_of(widths: "_Widths", size_px: float, device: Device, mask: npt.NDArray[np.bool_]) -> Capacity:
    """Lines and characters that fit."""
    rooms = line_rooms(mask, widths.line_height)
    broadest = max((room.width for room in rooms), default=0)
    capital_mm = widths.capital_px * pitch_mm(device)[1]
    return Capacity(
        size_px, widths.line_height, widths.capital_px, len(rooms), int(broadest / widths.letter) if widths.letter else 0,
        int(broadest / widths.figure) if widths.figure else 0,
        sum(int(room.width / widths.letter) for room in rooms) if widths.letter else 0,
        capital_mm, arc_minutes(capital_mm, device.viewing_distance_mm),
    )  # fmt: skip


def widths_of(lettering: Lettering) -> _Widths:
    """Mean widths of a lettering's letters and figures; 0 where it has none."""

    def mean(text: str) -> float:
        known = [lettering.by_code[ord(c)].advance for c in text if ord(c) in lettering.by_code]
        return sum(known) / len(known) if known else 0.0

    return _Widths(lettering.line_height, lettering.capital, mean(RUNNING), mean(FIGURES))


@lru_cache(maxsize=256)
def _face_widths(slug: str, size_px: int) -> _Widths | None:
    """Of a shipped face, hinted for one bit: without drawing a pixel. None where the face has no such size."""
    face: Face = FACES[slug]
    info = font_info(face.data, face.name)
    if info.native_px:
        if size_px % info.native_px:
            return None
        codes = tuple(sorted({ord(c) for c in RUNNING + FIGURES + "H"} & info.codes))
        return widths_of(pixel_lettering(face.data, codes, scale=size_px // info.native_px))
    opened = sized_face(face.data, float(size_px), Style(), info, face.name)

    def mean(text: str) -> float:
        known = [c for c in text if ord(c) in info.codes]
        for c in known:
            opened.load_char(c, freetype.FT_LOAD_TARGET_MONO)
        return sum(_advance(opened, c) for c in known) / len(known) if known else 0.0

    line = -(-opened.size.ascender // 64) + -(-abs(opened.size.descender) // 64)
    return _Widths(int(line), round(info.capital * size_px), mean(RUNNING), mean(FIGURES))


def _advance(face: freetype.Face, character: str) -> int:
    face.load_char(character, freetype.FT_LOAD_TARGET_MONO)
    return round(face.glyph.advance.x / 64)


SIZES_SHOWN = (8, 10, 12, 13, 14, 16, 18, 20, 24, 26, 32, 40, 48)


def face_table(device: Device, sizes: tuple[int, ...] = SIZES_SHOWN) -> list[tuple[Face, list[Capacity]]]:
    """What every shipped face holds on a panel at each size that it has; sizes of which no line fits are left out."""
    mask = seen_mask(device.passport, device.turn)
    found = []
    for slug, face in FACES.items():
        rows = []
        for size in sizes:
            widths = _face_widths(slug, size)
            if widths is not None:
                rows.append(capacity_of(widths, size, device, mask))
        found.append((face, [row for row in rows if row.lines]))
    return found
