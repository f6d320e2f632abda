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
from mosaic.panels.glass import Glass, Module, NotNegative, Optics, Ram, WindowGrid, Zone, module_problems
from mosaic.panels.sequence import problem_of
from mosaic.panels.supply import DrawCommand, LinkOption, Owned, PictureSlots, Power, Rail, RefreshMode, Scan
from mosaic.pixels.formats import DirectFormat, IndexedFormat

Rotation = Literal[0, 90, 180, 270]
Technology = Literal["oled", "tft", "epaper"]

ROTATIONS: tuple[Rotation, ...] = (0, 90, 180, 270)
Code = Annotated[int, Meta(ge=0, le=255)]


@dataclass(frozen=True)
class Controller:
    """How the panel is addressed.

    `family` names the stand-in in `mosaic.virtual` that plays this controller. `turned_by`
    says who turns a picture: the "controller" by its scan settings (`turn_codes`, the value of
    its memory access setting at 0, 90, 180, 270 degrees, `mirror_codes` the same with left and
    right exchanged), or the board, by turning the "picture" before packing. `inverted_glass` is
    glass that shows the opposite of what is sent until the controller's inversion is switched
    on, `bgr_glass` one whose red and blue are exchanged until the controller is told so.
    `row_pins` says how the rows of a page OLED are wired to its drivers; set up the other way,
    every other row stays dark. `line_end` is what a page OLED does in page mode past its last column: it "returns" to the
    line's first one, or it "stops" and what follows is lost.
    """

    family: str
    turned_by: Literal["controller", "picture"] = "picture"
    turn_codes: tuple[Code, ...] = ()
    mirror_codes: tuple[Code, ...] = ()
    inverted_glass: bool = False
    bgr_glass: bool = False
    row_pins: Literal["alternating", "sequential"] = "alternating"
    line_end: Literal["returns", "stops"] = "returns"


@dataclass(frozen=True)
class Sequences:
    """What is sent, in the notation of `mosaic.panels.sequence`.

    `write` has one sequence for each plane; `per` says whether `window` and `write` go once a
    frame or once a page. `show` follows the data where the glass changes only on command;
    `show_part` is the same for a part of the glass, where only pixels are driven that differ from
    the picture before, which `write_before` puts into the second RAM.
    """

    setup: str
    window: str
    write: tuple[str, ...]
    per: Literal["frame", "page"] = "frame"
    show: str = ""
    write_before: str = ""
    show_part: str = ""


@dataclass(frozen=True)
class Passport:
    """A panel. Either `palette` goes with an indexed format, or a direct format stands alone.

    `update_pause_s` is the least time between two updates, `operating_c` the range of
    temperatures. `scan` is given for a panel without memory, `drawing` for one that draws by
    itself, `slots` for one that keeps pictures by number.
    """

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
    grid: WindowGrid = field(default=WindowGrid())
    module: Module = field(default=Module())
    optics: Optics = field(default=Optics())
    zones: tuple[Zone, ...] = ()
    rails: tuple[Rail, ...] = ()
    refresh: tuple[RefreshMode, ...] = ()
    update_pause_s: NotNegative = 0.0
    operating_c: tuple[int, int] = (-20, 70)
    scan: Scan | None = None
    drawing: tuple[DrawCommand, ...] = ()
    slots: PictureSlots | None = None
    colors_in_words: str = ""
    notes: str = ""
    cautions: tuple[str, ...] = ()
    owned: Owned = field(default=Owned())
    form: Literal[2] = field(default=2)

    def __post_init__(self) -> None:
        problems = self.problems()
        if problems:
            raise BadDescriptionError(str(problems[0]), problems=tuple(problems))

    def problems(self) -> list[BadDescriptionError]:
        """Everything that does not go together, each with its path."""
        found = module_problems(self.glass, self.module)
        if isinstance(self.format, IndexedFormat):
            found += self._palette_problems(self.format)
        elif self.palette is not None:
            found.append(BadDescriptionError("a direct format has no palette; leave it out", path="$.palette"))
        for axis, unit in (("width", "columns"), ("height", "rows")):
            glass, ram = getattr(self.glass, f"{axis}_px"), getattr(self.ram, f"{axis}_px")
            offset = self.ram.offset_x if axis == "width" else self.ram.offset_y
            if glass + offset > ram:
                text = f"{ram} {unit} cannot hold {glass} from offset {offset}"
                found.append(BadDescriptionError(text, path=f"$.ram.{axis}_px"))
        found += self._sequence_problems()
        if not self.links:
            found.append(BadDescriptionError("a panel has at least one link", path="$.links"))
        for number, zone in enumerate(self.zones):
            if zone.first_row + zone.rows > self.glass.height_px:
                text = (
                    f"rows {zone.first_row} to {zone.first_row + zone.rows - 1} are not on {self.glass.height_px} rows of glass"
                )
                found.append(BadDescriptionError(text, path=f"$.zones[{number}].rows"))
        if self.operating_c[0] > self.operating_c[1]:
            found.append(BadDescriptionError("the lower temperature comes first", path="$.operating_c"))
        return found

    def _sequence_problems(self) -> list[BadDescriptionError]:
        found = []
        if self.controller.turned_by == "controller":
            for name in ("turn_codes", "mirror_codes"):
                if len(getattr(self.controller, name)) != 4:
                    text = "a controller that turns has four, for 0, 90, 180 and 270 degrees"
                    found.append(BadDescriptionError(text, path=f"$.controller.{name}"))
        texts = {name: getattr(self.sequences, name) for name in ("setup", "window", "show", "write_before", "show_part")}
        texts |= {f"write[{i}]": text for i, text in enumerate(self.sequences.write)}
        for name, text in texts.items():
            problem = problem_of(text)
            if problem:
                found.append(BadDescriptionError(problem, path=f"$.sequences.{name}"))
        return found

    def _palette_problems(self, fmt: IndexedFormat) -> list[BadDescriptionError]:
        if self.palette is None:
            return [BadDescriptionError("an indexed format needs one", path="$.palette")]
        found = []
        if len(self.palette) != fmt.colors:
            text = f"{len(self.palette)} colours, but format.planes has {fmt.colors} codes"
            found.append(BadDescriptionError(text, path="$.palette"))
        if len(self.sequences.write) != len(fmt.planes):
            text = f"{len(self.sequences.write)} given for {len(fmt.planes)} planes"
            found.append(BadDescriptionError(text, path="$.sequences.write"))
        for number, zone in enumerate(self.zones):
            if not len(zone.nominal) == len(zone.measured) == len(self.palette):
                text = f"a zone has as many colours as the palette, {len(self.palette)}"
                found.append(BadDescriptionError(text, path=f"$.zones[{number}]"))
        return found

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
