"""The passport of a panel: everything known of it, as data.

Sizes are native: (width, height) as the controller scans the glass. How the panel usually
lies before its reader is `rotation`, degrees clockwise. Figures that a data sheet would state
otherwise are typical values; `typical` in a field name or note says so on screen.
"""

from dataclasses import dataclass, field
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.color.palette import Palette
from mosaic.errors import BadDescriptionError
from mosaic.pixels.formats import DirectFormat, IndexedFormat

Pixels = Annotated[int, Meta(ge=1, le=4096)]
Count = Annotated[int, Meta(ge=0)]
Positive = Annotated[float, Meta(gt=0)]
NotNegative = Annotated[float, Meta(ge=0)]
Rotation = Literal[0, 90, 180, 270]
Technology = Literal["oled", "tft", "epaper"]

ROTATIONS: tuple[Rotation, ...] = (0, 90, 180, 270)


@dataclass(frozen=True)
class Glass:
    """The visible part, in native axes: pixels, active area and the module's outline in mm."""

    width_px: Pixels
    height_px: Pixels
    width_mm: Positive
    height_mm: Positive
    outline_width_mm: Positive
    outline_height_mm: Positive
    shape: Literal["rect", "round"] = "rect"

    @property
    def pitch_mm(self) -> float:
        """Distance from pixel to pixel, mean of both axes."""
        return (self.width_mm / self.width_px + self.height_mm / self.height_px) / 2


@dataclass(frozen=True)
class Ram:
    """The controller's memory in pixels, and where the glass begins in it."""

    width_px: Pixels
    height_px: Pixels
    offset_x: Count = 0
    offset_y: Count = 0


@dataclass(frozen=True)
class Zone:
    """Rows of a two-zone panel (native, from the top) whose lit pixels have their own colours."""

    name: str
    first_row: Count
    rows: Pixels
    nominal: tuple[str, ...]
    measured: tuple[str, ...]


@dataclass(frozen=True)
class Controller:
    """How the panel is addressed.

    `family` names the stand-in in `mosaic.virtual` that plays this controller. `turned_by`
    says who turns a picture: the "controller" by its scan settings (`turn_codes`, the value of
    its memory access setting at 0, 90, 180, 270 degrees), or the board, by turning the
    "picture" before packing. `inverted_glass` is glass that shows the opposite of what is sent
    until the controller's inversion is switched on.
    """

    family: str
    turned_by: Literal["controller", "picture"] = "picture"
    turn_codes: tuple[Annotated[int, Meta(ge=0, le=255)], ...] = ()
    inverted_glass: bool = False


@dataclass(frozen=True)
class Sequences:
    """What is sent, in the notation of `mosaic.panels.sequence`.

    `write` has one sequence for each plane; `per` says whether `window` and `write` go once a
    frame or once a page. `show` follows the data where the glass changes only on command.
    """

    setup: str
    window: str
    write: tuple[str, ...]
    per: Literal["frame", "page"] = "frame"
    show: str = ""


@dataclass(frozen=True)
class LinkOption:
    """A link the panel offers, with the fastest and a usual clock for writing."""

    kind: Literal["i2c", "spi"]
    max_clock_hz: Annotated[int, Meta(ge=1000)]
    usual_clock_hz: Annotated[int, Meta(ge=1000)]


@dataclass(frozen=True)
class RefreshMode:
    """One way in which an e-paper shows new content: its time and its energy, typical."""

    name: str
    time_ms: Positive
    energy_mj: NotNegative


@dataclass(frozen=True)
class Power:
    """Typical currents at `supply_v`; `full_on_ma` is all pixels lit white, `backlight_ma` full duty."""

    supply_v: Positive = 3.3
    base_ma: NotNegative = 0.0
    full_on_ma: NotNegative = 0.0
    backlight_ma: NotNegative = 0.0
    sleep_ua: NotNegative = 0.0


@dataclass(frozen=True)
class Passport:
    """A panel. Either `palette` goes with an indexed format, or a direct format stands alone."""

    slug: str
    name: str
    technology: Technology
    glass: Glass
    ram: Ram
    format: IndexedFormat | DirectFormat
    controller: Controller
    sequences: Sequences
    links: tuple[LinkOption, ...]
    power: Power
    palette: Palette | None = None
    rotation: Rotation = 0
    zones: tuple[Zone, ...] = ()
    refresh: tuple[RefreshMode, ...] = ()
    colors_in_words: str = ""
    notes: str = ""
    cautions: tuple[str, ...] = ()
    form: Literal[1] = field(default=1)

    def __post_init__(self) -> None:
        if isinstance(self.format, IndexedFormat):
            self._check_indexed(self.format)
        elif self.palette is not None:
            raise BadDescriptionError("palette: a direct format has no palette; leave it out")
        if self.glass.width_px + self.ram.offset_x > self.ram.width_px:
            raise BadDescriptionError(
                f"ram.width_px: {self.ram.width_px} columns cannot hold {self.glass.width_px} from offset {self.ram.offset_x}"
            )
        if self.glass.height_px + self.ram.offset_y > self.ram.height_px:
            raise BadDescriptionError(
                f"ram.height_px: {self.ram.height_px} rows cannot hold {self.glass.height_px} from offset {self.ram.offset_y}"
            )
        if self.controller.turned_by == "controller" and len(self.controller.turn_codes) != 4:
            raise BadDescriptionError("controller.turn_codes: a controller that turns has four, for 0, 90, 180 and 270")
        if not self.links:
            raise BadDescriptionError("links: a panel has at least one link")

    def _check_indexed(self, fmt: IndexedFormat) -> None:
        if self.palette is None:
            raise BadDescriptionError("palette: an indexed format needs one")
        if len(self.palette) != fmt.colors:
            raise BadDescriptionError(f"palette: {len(self.palette)} colours, but format.planes has {fmt.colors} codes")
        if len(self.sequences.write) != len(fmt.planes):
            raise BadDescriptionError(f"sequences.write: {len(self.sequences.write)} given for {len(fmt.planes)} planes")

    @property
    def frame_bytes(self) -> int:
        """Bytes of one packed frame, the same at every rotation."""
        return self.format.frame_bytes(self.glass.width_px, self.glass.height_px)

    @property
    def is_direct(self) -> bool:
        return isinstance(self.format, DirectFormat)

    def link(self, kind: str) -> LinkOption:
        """The panel's link of this kind, or its first where it has none."""
        return next((option for option in self.links if option.kind == kind), self.links[0])
