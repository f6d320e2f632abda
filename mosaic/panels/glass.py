"""What a panel is as a thing: glass, the memory behind it, its module, and how it looks.

All of it in native axes: x and y as the controller scans, before anything is turned.
"""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.color.palette import HexColor
from mosaic.errors import BadDescriptionError

Pixels = Annotated[int, Meta(ge=1, le=4096)]
Count = Annotated[int, Meta(ge=0)]
Positive = Annotated[float, Meta(gt=0)]
NotNegative = Annotated[float, Meta(ge=0)]
Share = Annotated[float, Meta(ge=0, le=1)]
Basis = Literal["typical", "data sheet", "measured"]

MM_PER_INCH = 25.4
MOST_PIXELS = 4_000_000


@dataclass(frozen=True)
class Glass:
    """The visible part: pixels, active area and the module's outline in mm.

    `corner_mm` is the radius of a rounded glass's corners. `transparent` glass shows what is
    behind it wherever it is dark.
    """

    width_px: Pixels
    height_px: Pixels
    width_mm: Positive
    height_mm: Positive
    outline_width_mm: Positive
    outline_height_mm: Positive
    shape: Literal["rect", "round", "rounded"] = "rect"
    corner_mm: NotNegative = 0.0
    transparent: bool = False

    @property
    def pitch_mm(self) -> float:
        """Distance from pixel to pixel, mean of both axes."""
        return (self.width_mm / self.width_px + self.height_mm / self.height_px) / 2

    @property
    def pixels_per_inch(self) -> float:
        return MM_PER_INCH / self.pitch_mm

    @property
    def diagonal_inch(self) -> float:
        """Diagonal of the active area, or the diameter of round glass, as sellers state it."""
        width, height = self.width_mm, self.height_mm
        return (max(width, height) if self.shape == "round" else (width**2 + height**2) ** 0.5) / MM_PER_INCH


@dataclass(frozen=True)
class Ram:
    """The controller's memory in pixels, and where the glass begins in it."""

    width_px: Pixels
    height_px: Pixels
    offset_x: Count = 0
    offset_y: Count = 0


@dataclass(frozen=True)
class WindowGrid:
    """What a partial write can address: steps of its left and upper edge and of its size.

    `whole_frames` is a panel that takes nothing but whole frames.
    """

    x_px: Pixels = 1
    y_px: Pixels = 1
    whole_frames: bool = False

    def in_words(self) -> str:
        """For a page: "any rectangle", "x in steps of 8 px"."""
        if self.whole_frames:
            return "whole frames only"
        steps = [f"{axis} in steps of {px} px" for axis, px in (("x", self.x_px), ("y", self.y_px)) if px > 1]
        return " and ".join(steps) or "any rectangle"


@dataclass(frozen=True)
class Zone:
    """Rows of a two-zone panel (native, from the top) whose lit pixels have their own colours."""

    name: str
    first_row: Count
    rows: Pixels
    nominal: tuple[HexColor, ...]
    measured: tuple[HexColor, ...]


@dataclass(frozen=True)
class Optics:
    """How bright the panel is, typical.

    `white_cd_m2` is the luminance of full white or full lit, 0 for reflective glass.
    `reflectance` is the share of light thrown back: by the surface of a glass that shines, by
    the white of a reflective one.
    """

    white_cd_m2: NotNegative = 0.0
    reflectance: Share = 0.04
    basis: Basis = "typical"


@dataclass(frozen=True)
class Hole:
    """A mounting hole: its centre from the outline's upper left corner, and its diameter."""

    x_mm: NotNegative
    y_mm: NotNegative
    diameter_mm: Positive


@dataclass(frozen=True)
class PanelPin:
    """A pin by the label printed beside it and by what it does."""

    label: str
    function: Literal[
        "ground", "supply", "rail", "clock", "data", "data in", "data out", "select", "data/command", "reset",
        "backlight", "busy", "strap", "sync", "touch", "receive", "transmit", "other",
    ]  # fmt: skip
    note: str = ""


@dataclass(frozen=True)
class Module:
    """How the panel is built.

    `area_x_mm` and `area_y_mm` are the active area's upper left corner inside the outline;
    where they are left out it sits in the middle. `connector` is the side on which pins or flex
    leave. `bare` glass has no driver board: it needs further rails in a given order.
    """

    area_x_mm: NotNegative | None = None
    area_y_mm: NotNegative | None = None
    holes: tuple[Hole, ...] = ()
    connector: Literal["top", "right", "bottom", "left"] = "bottom"
    stack_mm: Positive = 3.0
    bare: bool = False
    pins: tuple[PanelPin, ...] = ()


def area_corner_mm(glass: Glass, module: Module) -> tuple[float, float]:
    """(x, y) of the active area's upper left corner inside the outline, native, in mm."""
    x, y = module.area_x_mm, module.area_y_mm
    return (
        (glass.outline_width_mm - glass.width_mm) / 2 if x is None else x,
        (glass.outline_height_mm - glass.height_mm) / 2 if y is None else y,
    )


def module_problems(glass: Glass, module: Module) -> list[BadDescriptionError]:
    """What of glass and module cannot be: an area or a hole outside its outline, too round corners."""
    x, y = area_corner_mm(glass, module)
    width, height = glass.outline_width_mm, glass.outline_height_mm
    found = []
    if glass.width_px * glass.height_px > MOST_PIXELS:
        text = f"{glass.width_px:,} × {glass.height_px:,} pixels are too many; up to {MOST_PIXELS:,} are worked with"
        found.append(BadDescriptionError(text, path="$.glass.width_px"))
    for name, at, size, outline in (("width", x, glass.width_mm, width), ("height", y, glass.height_mm, height)):
        if at < -1e-6 or at + size > outline + 1e-6:
            found.append(
                BadDescriptionError(
                    f"an active area of {size:g} mm from {at:g} mm does not fit an outline of {outline:g} mm",
                    path=f"$.glass.outline_{name}_mm",
                )
            )
    for number, hole in enumerate(module.holes):
        if hole.x_mm > width or hole.y_mm > height:
            text = f"a hole at {hole.x_mm:g}, {hole.y_mm:g} mm lies outside the outline of {width:g} × {height:g} mm"
            found.append(BadDescriptionError(text, path=f"$.module.holes[{number}]"))
    if glass.corner_mm * 2 > min(glass.width_mm, glass.height_mm) + 1e-6:
        text = f"corners of {glass.corner_mm:g} mm radius do not fit glass of {glass.width_mm:g} × {glass.height_mm:g} mm"
        found.append(BadDescriptionError(text, path="$.glass.corner_mm"))
    return found
