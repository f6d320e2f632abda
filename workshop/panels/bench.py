"""The bench: a workshop's panels to one scale, on one base line, over one millimetre rule."""

from dataclasses import dataclass

from mosaic.panels.geometry import Turn, seen_outline_mm
from mosaic.panels.mounting import mounting_plan
from mosaic.panels.passport import Passport

WIDTH, MARGIN = 1248, 16
LARGEST_SCALE = 3.6
ROOM_ABOVE, ROOM_BELOW = 40, 42
GLASS_TINT = {"epaper": "#cfcec4", "oled": "#123a49", "tft": "#1a1d20"}


@dataclass(frozen=True)
class Laid:
    """One panel on the bench; lengths in drawing units."""

    id: int
    name: str
    url: str
    tint: str
    is_round: bool
    corner: float
    x: float
    y: float
    width: float
    height: float
    glass_x: float
    glass_y: float
    glass_width: float
    glass_height: float
    width_mm: float
    image_url: str

    @property
    def centre(self) -> float:
        return self.x + self.width / 2

    @property
    def right(self) -> float:
        return self.x + self.width

    @property
    def dim_y(self) -> float:
        return self.y - 6

    @property
    def dim_top(self) -> float:
        return self.y - 19

    @property
    def dim_x(self) -> float:
        return self.centre - 32

    @property
    def glass_r(self) -> float:
        return self.glass_width / 2

    @property
    def glass_middle(self) -> tuple[float, float]:
        return self.glass_x + self.glass_width / 2, self.glass_y + self.glass_height / 2


@dataclass(frozen=True)
class Bench:
    """The whole drawing: panels, and the rule below them."""

    width: int
    height: float
    base: float
    scale: float
    panels: tuple[Laid, ...]
    ticks: tuple[tuple[float, int, str], ...]

    @property
    def rule_top(self) -> int:
        return round(self.base) + 14

    @property
    def rule_words(self) -> int:
        return self.rule_top + 21


@dataclass(frozen=True)
class Exhibit:
    """What is laid: a panel under an id and a name, with the address of its picture and of its page."""

    id: int
    name: str
    passport: Passport
    turn: Turn
    image_url: str = ""
    url: str = ""


def lay_out(exhibits: list[Exhibit]) -> Bench:
    """Lay panels side by side, each in the middle of an equal share."""
    share = (WIDTH - 2 * MARGIN) / max(1, len(exhibits))
    outlines = [seen_outline_mm(exhibit.passport, exhibit.turn) for exhibit in exhibits] or [(100.0, 40.0)]
    widest, tallest = max(width for width, _ in outlines), max(height for _, height in outlines)
    scale = min(LARGEST_SCALE, (share - 2 * MARGIN) / widest, 320 / tallest)
    base = ROOM_ABOVE + tallest * scale
    panels = tuple(_lay(exhibit, MARGIN + (i + 0.5) * share, base, scale) for i, exhibit in enumerate(exhibits))
    return Bench(WIDTH, round(base + ROOM_BELOW, 1), round(base, 1), scale, panels, _ticks(scale))


def _lay(exhibit: Exhibit, centre: float, base: float, scale: float) -> Laid:
    plan = mounting_plan(exhibit.passport, exhibit.turn)
    corner = round(exhibit.passport.glass.corner_mm * scale, 1)
    width, height = plan.outline.width * scale, plan.outline.height * scale
    x, y = centre - width / 2, base - height
    area = plan.area
    numbers = (x, y, width, height, x + area.x * scale, y + area.y * scale, area.width * scale, area.height * scale)
    return Laid(
        exhibit.id, exhibit.name, exhibit.url, GLASS_TINT[exhibit.passport.technology], exhibit.passport.glass.shape == "round",
        corner, *(round(n, 1) for n in numbers), plan.outline.width, exhibit.image_url,
    )  # fmt: skip


def _ticks(scale: float) -> tuple[tuple[float, int, str], ...]:
    """(position, length, label) of the rule's marks; labels are left out where they would touch."""
    step = 1 if scale >= 2.5 else 5
    label_every = 20 if scale >= 1.5 else 50
    marks = []
    for mm in range(0, int((WIDTH - 2 * MARGIN) / scale) + 1, step):
        long = mm % 10 == 0
        label = str(mm) if mm and mm % label_every == 0 and MARGIN + mm * scale < WIDTH - 60 else ""
        marks.append((round(MARGIN + mm * scale, 1), 8 if long else 6 if mm % 5 == 0 else 4, label))
    return tuple(marks)
