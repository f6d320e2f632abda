"""The bench: a workshop's panels to one scale, on one base line, over one millimetre rule."""

from dataclasses import dataclass

from mosaic.device.device import Device
from mosaic.panels.geometry import seen_outline_mm, seen_size_mm

WIDTH, MARGIN = 1248, 16
LARGEST_SCALE = 3.6
ROOM_ABOVE, ROOM_BELOW = 40, 42
GLASS_TINT = {"epaper": "#cfcec4", "oled": "#123a49", "tft": "#1a1d20"}


@dataclass(frozen=True)
class Laid:
    """One panel on the bench; lengths in drawing units."""

    build_id: int
    name: str
    tint: str
    is_round: bool
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
    def glass_bottom(self) -> float:
        return self.glass_y + self.glass_height - 2

    @property
    def tail_height(self) -> float:
        return max(0.0, round(self.y + self.height - self.glass_bottom, 1))

    @property
    def tail_width(self) -> float:
        return round(self.width * 0.36, 1)

    @property
    def tail_x(self) -> float:
        return round(self.centre - self.tail_width / 2, 1)

    @property
    def glass_r(self) -> float:
        return self.glass_width / 2

    @property
    def bezel_r(self) -> float:
        return self.width / 2

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


def lay_out(entries: list[tuple[int, str, Device, str]]) -> Bench:
    """Lay (id, name, device, image address) side by side, each in the middle of an equal share."""
    share = (WIDTH - 2 * MARGIN) / max(1, len(entries))
    widest = max((seen_outline_mm(d.passport, d.turn)[0] for _, _, d, _ in entries), default=100.0)
    tallest = max((seen_outline_mm(d.passport, d.turn)[1] for _, _, d, _ in entries), default=40.0)
    scale = min(LARGEST_SCALE, (share - 2 * MARGIN) / widest, 320 / tallest)
    base = ROOM_ABOVE + tallest * scale
    panels = tuple(_lay(entry, MARGIN + (i + 0.5) * share, base, scale) for i, entry in enumerate(entries))
    return Bench(WIDTH, round(base + ROOM_BELOW, 1), round(base, 1), scale, panels, _ticks(scale))


def _lay(entry: tuple[int, str, Device, str], centre: float, base: float, scale: float) -> Laid:
    build_id, name, device, url = entry
    outline = seen_outline_mm(device.passport, device.turn)
    glass = seen_size_mm(device.passport, device.turn)
    width, height = outline[0] * scale, outline[1] * scale
    glass_width, glass_height = glass[0] * scale, glass[1] * scale
    x, y = centre - width / 2, base - height
    # A module's driver strip lies below its glass; the side edges are even.
    glass_y = y + min((width - glass_width) / 2, (height - glass_height) / 2)
    numbers = (x, y, width, height, x + (width - glass_width) / 2, glass_y, glass_width, glass_height)
    return Laid(
        build_id, name, GLASS_TINT[device.passport.technology], device.passport.glass.shape == "round",
        *(round(n, 1) for n in numbers), outline[0], url,
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
