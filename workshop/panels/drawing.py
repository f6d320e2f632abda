"""The drawing of a panel: module, glass and the memory behind it, to one scale, as its reader sees it.

Everything is in millimetres of the module until the very end, where one factor makes drawing
units of it.
"""

from dataclasses import dataclass

from mosaic.panels.geometry import HostView, Orientation, host_view, orientation_of, rect_to_seen, seen_size
from mosaic.panels.glass import area_corner_mm
from mosaic.panels.mounting import MountingPlan, Rect, mounting_plan, seen_side
from mosaic.panels.passport import Passport
from mosaic.pixels.formats import IndexedFormat

WIDTH = 640.0
LARGEST_HEIGHT, LEAST_HEIGHT = 360.0, 150.0
LEFT, TOP, RIGHT, BOTTOM = 100.0, 46.0, 62.0, 80.0
LARGEST_SCALE = 14.0
ARROW, OUTSIDE = 40.0, 27.0
BYTE_LENGTH, BYTE_WIDTH = 56.0, 8.0


@dataclass(frozen=True)
class Arrow:
    """An arrow from (x, y) along (dx, dy), with words at its end."""

    x: float
    y: float
    dx: float
    dy: float
    words: str

    @property
    def end(self) -> tuple[float, float]:
        return round(self.x + self.dx, 1), round(self.y + self.dy, 1)

    @property
    def head(self) -> str:
        """Points of the arrow's head."""
        x, y = self.end
        ux, uy = (self.dx > 0) - (self.dx < 0), (self.dy > 0) - (self.dy < 0)
        return f"{x + 7 * ux},{y + 7 * uy} {x - 4 * uy},{y - 4 * ux} {x + 4 * uy},{y + 4 * ux}"

    @property
    def words_at(self) -> tuple[float, float, str]:
        """Where the words stand, and how they are anchored."""
        x, y = self.end
        if self.dx:
            return x + (12 if self.dx > 0 else -12), y + 4, "start" if self.dx > 0 else "end"
        return x, y + (20 if self.dy > 0 else -12), "middle"


@dataclass(frozen=True)
class Strip:
    """RAM without glass before it, with its size in words."""

    rect: Rect
    words: str


@dataclass(frozen=True)
class Drawing:
    """All of the drawing, in drawing units."""

    width: float
    height: float
    scale: float
    module: Rect
    glass: Rect
    ram: Rect
    holes: tuple[tuple[float, float, float], ...]
    strips: tuple[Strip, ...]
    origin: tuple[float, float]
    byte: tuple[Rect, ...]
    arrows: tuple[Arrow, ...]
    zone_lines: tuple[tuple[Rect, str], ...]
    plan: MountingPlan
    view: HostView
    lies: Orientation
    shape: str
    corner: float
    size: tuple[int, int]

    @property
    def turns(self) -> list[tuple[str, Orientation]]:
        """What the keys above the drawing lead to."""
        return [
            ("Turn left", self.lies.turned(270)),
            ("Turn right", self.lies.turned(90)),
            ("Mirror across", self.lies.mirrored_across()),
            ("Mirror down", self.lies.mirrored_down()),
        ]

    @property
    def connector(self) -> Rect:
        """A bar on the side on which pins or flex leave."""
        m, side, thick = self.module, self.plan.connector, 5.0
        if side in ("left", "right"):
            return Rect(m.x - thick if side == "left" else m.right, m.y + m.height * 0.22, thick, m.height * 0.56)
        return Rect(m.x + m.width * 0.22, m.y - thick if side == "top" else m.bottom, m.width * 0.56, thick)

    @property
    def area_mm(self) -> Rect:
        return self.plan.area

    @property
    def outline_mm(self) -> Rect:
        return self.plan.outline


def draw(passport: Passport, turn: Orientation | int) -> Drawing:
    """The drawing of a panel at an orientation."""
    lies, plan = orientation_of(turn), mounting_plan(passport, turn)
    ram_mm = _ram_mm(passport, lies)
    left, top = min(0.0, ram_mm.x), min(0.0, ram_mm.y)
    wide, tall = max(plan.outline.right, ram_mm.right) - left, max(plan.outline.bottom, ram_mm.bottom) - top
    room = WIDTH - LEFT - RIGHT
    scale = min(LARGEST_SCALE, room / wide, LARGEST_HEIGHT / tall)
    shift_x, shift_y = LEFT - left * scale + (room - wide * scale) / 2, TOP - top * scale

    def put(rect: Rect) -> Rect:
        numbers = (rect.x * scale + shift_x, rect.y * scale + shift_y, rect.width * scale, rect.height * scale)
        return Rect(*(round(n, 1) for n in numbers))

    ram, glass = put(ram_mm), put(plan.area)
    origin = _corner(ram, lies)
    return Drawing(
        WIDTH, round(max(LEAST_HEIGHT, tall * scale) + TOP + BOTTOM, 1), scale, put(plan.outline), glass, ram,
        tuple((round(x * scale + shift_x, 1), round(y * scale + shift_y, 1), round(d * scale / 2, 1)) for x, y, d in plan.holes),
        tuple(Strip(put(strip.rect), strip.words) for strip in _strips(passport, lies, plan.area, ram_mm)),
        origin, tuple(_byte(passport, lies, glass)), tuple(_arrows(passport, lies, origin, put(Rect(left, top, wide, tall)))),
        tuple((put(rect), name) for rect, name in _zones(passport, lies, plan.area)),
        plan, host_view(passport, lies), lies, passport.glass.shape, round(passport.glass.corner_mm * scale, 1),
        seen_size(passport, lies),
    )  # fmt: skip


def _ram_mm(passport: Passport, lies: Orientation) -> Rect:
    """The RAM in the module's mm, as if its cells lay behind the glass at the pixels' pitch."""
    glass, ram = passport.glass, passport.ram
    pitch_x, pitch_y = glass.width_mm / glass.width_px, glass.height_mm / glass.height_px
    x, y = area_corner_mm(glass, passport.module)
    rect = (x - ram.offset_x * pitch_x, y - ram.offset_y * pitch_y, ram.width_px * pitch_x, ram.height_px * pitch_y)
    return Rect(*rect_to_seen(rect, (glass.outline_width_mm, glass.outline_height_mm), lies))


def _strips(passport: Passport, lies: Orientation, area: Rect, ram: Rect) -> list[Strip]:
    """What of the RAM lies beside the glass, a strip for each side."""
    memory, glass = passport.ram, passport.glass
    sides = {
        "left": memory.offset_x,
        "top": memory.offset_y,
        "right": memory.width_px - glass.width_px - memory.offset_x,
        "bottom": memory.height_px - glass.height_px - memory.offset_y,
    }
    rects = {
        "left": Rect(ram.x, ram.y, area.x - ram.x, ram.height),
        "right": Rect(area.right, ram.y, ram.right - area.right, ram.height),
        "top": Rect(area.x, ram.y, area.width, area.y - ram.y),
        "bottom": Rect(area.x, area.bottom, area.width, ram.bottom - area.bottom),
    }
    found = []
    for side, count in sides.items():
        if count:
            unit = "column" if side in ("left", "right") else "row"
            found.append(Strip(rects[seen_side(side, lies)], f"{count} {unit}{'s' if count > 1 else ''}"))
    return found


def _corner(ram: Rect, lies: Orientation) -> tuple[float, float]:
    """Where RAM column 0, row 0 lies."""
    x, y, _, _ = rect_to_seen((0, 0, 0, 0), (1, 1), lies)
    return round(ram.x + x * ram.width, 1), round(ram.y + y * ram.height, 1)


def _byte(passport: Passport, lies: Orientation, glass: Rect) -> list[Rect]:
    """The first byte of a picture as a row of cells at the glass's first pixel, larger than life; the first cell leads."""
    fmt = passport.format
    native = (0, 1) if isinstance(fmt, IndexedFormat) and fmt.along == "column" else (1, 0)
    if passport.controller.turned_by == "controller":
        lies = Orientation()  # the controller turns: pictures are packed as they are seen
    dx, dy = _direction(lies, native)
    x, y, _, _ = rect_to_seen((0, 0, 0, 0), (1, 1), lies)
    left, top = glass.x + x * glass.width, glass.y + y * glass.height
    inward_x, inward_y = (1 if x == 0 else -1), (1 if y == 0 else -1)
    count = fmt.pixels_per_byte if isinstance(fmt, IndexedFormat) else 1
    size = BYTE_LENGTH / count
    cells = []
    for number in range(count):
        if dx:
            at_x, at_y = left + dx * size * number - (size if dx < 0 else 0), top - (BYTE_WIDTH if inward_y < 0 else 0)
            cells.append(Rect(round(at_x, 1), round(at_y, 1), round(size, 1), BYTE_WIDTH))
        else:
            at_x, at_y = left - (BYTE_WIDTH if inward_x < 0 else 0), top + dy * size * number - (size if dy < 0 else 0)
            cells.append(Rect(round(at_x, 1), round(at_y, 1), BYTE_WIDTH, round(size, 1)))
    return cells


def _direction(lies: Orientation, native: tuple[int, int]) -> tuple[int, int]:
    """A native direction as the reader sees it."""
    x, y = native
    for _ in range(lies.index):
        x, y = -y, x
    return (-x, y) if lies.mirrored else (x, y)


def _arrows(passport: Passport, lies: Orientation, origin: tuple[float, float], whole: Rect) -> list[Arrow]:
    """Scan directions from the RAM's first cell, beside everything else that is drawn."""
    out = []
    for native, words in (((1, 0), "columns"), ((0, 1), "rows")):
        dx, dy = _direction(lies, native)
        # Beside the nearer edge: above or below for an arrow across, left or right for one down.
        beside_x = whole.x - OUTSIDE if origin[0] <= whole.middle[0] else whole.right + OUTSIDE
        beside_y = whole.y - OUTSIDE if origin[1] <= whole.middle[1] else whole.bottom + OUTSIDE
        x, y = (origin[0], beside_y) if dx else (beside_x, origin[1])
        out.append(Arrow(round(x, 1), round(y, 1), dx * ARROW, dy * ARROW, words))
    return out


def _zones(passport: Passport, lies: Orientation, area: Rect) -> list[tuple[Rect, str]]:
    """Two-zone glass: the rectangle of each zone that has its own colours."""
    glass = passport.glass
    out = []
    for zone in passport.zones:
        native = (0.0, zone.first_row / glass.height_px, 1.0, zone.rows / glass.height_px)
        x, y, width, height = rect_to_seen(native, (1.0, 1.0), lies)
        rect = Rect(area.x + x * area.width, area.y + y * area.height, width * area.width, height * area.height)
        out.append((rect, f"{zone.name}, {zone.rows} rows"))
    return out


def byte_words(passport: Passport) -> str:
    """How bytes run, for the legend: in the panel's own axes."""
    fmt = passport.format
    if not isinstance(fmt, IndexedFormat):
        return f"{fmt.wire_bits} bits a pixel along a row"
    count = fmt.pixels_per_byte
    along = "down a column" if fmt.along == "column" else "along a row"
    first = "highest" if fmt.first == "msb" else "lowest"
    bit = "bit" if fmt.bits == 1 else "bits"
    return f"a byte holds {count} pixel{'s' if count > 1 else ''} {along}, the first in its {first} {bit}"
