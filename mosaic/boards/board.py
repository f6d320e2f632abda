"""A board's record, its catalogue, and the link it makes with a panel."""

from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Annotated, Any, Literal

from msgspec import Meta

from mosaic.catalogue import load
from mosaic.errors import BadDescriptionError
from mosaic.forms import from_record, to_record
from mosaic.links import Link
from mosaic.links.kinds import KINDS
from mosaic.panels.supply import LinkOption, Scan
from mosaic.registry import Registry
from mosaic.tables import TableStyle

Bytes = Annotated[int, Meta(ge=0)]
Clock = Annotated[int, Meta(ge=0)]
Milliamps = Annotated[float, Meta(ge=0)]
Role = Literal[
    "power", "ground", "gpio", "input only", "i2c data", "i2c clock", "spi clock", "spi data out", "spi data in",
    "spi select", "transmit", "receive", "analog", "pwm", "boot strap", "flash", "usb", "lamp", "reset",
]  # fmt: skip
FOLDER = Path(__file__).parent / "catalogue"


@dataclass(frozen=True)
class BoardPin:
    """A pin: the name printed beside it, what it can do, the side it is on, and what to mind.

    `volts` is that of a supply, 0 where it is not fixed; `max_ma` what it gives at most, 0 where only the regulator counts.
    """

    name: str
    roles: tuple[Role, ...]
    side: Literal["left", "right"] = "left"
    caution: str = ""
    volts: Annotated[float, Meta(ge=0)] = 0.0
    max_ma: Annotated[float, Meta(ge=0)] = 0.0


@dataclass(frozen=True)
class Board:
    """What a build needs to know of its board; reserves and currents are typical values.

    `program_bytes` is flash taken by a usual program without pictures, `reserve_bytes` RAM for
    stack, heap and libraries. `constants_in_ram` is a board that copies constants to RAM at
    start unless they carry the qualifier of `tables`, so that every array counts twice.
    `i2c_transaction_bytes` is the library's limit after the address byte, 0 for none;
    `i2c_single_commands` that it sends each command byte in a transaction of its own. A clock of 0
    is a link the board does not have. `regulator_ma` is what its regulator gives to everything on the logic rail.
    """

    slug: str
    name: str
    flash_bytes: Bytes
    ram_bytes: Bytes
    program_bytes: Bytes
    reserve_bytes: Bytes
    logic_v: Annotated[float, Meta(gt=0)]
    max_i2c_hz: Annotated[int, Meta(ge=1000)]
    max_spi_hz: Annotated[int, Meta(ge=1000)]
    active_ma: Annotated[float, Meta(ge=0)]
    sleep_ua: Annotated[float, Meta(ge=0)]
    cpu_mhz: Annotated[float, Meta(gt=0, le=10_000)] = 48.0
    max_qspi_hz: Clock = 0
    max_parallel_hz: Clock = 0
    max_rgb_hz: Clock = 0
    max_uart_hz: Clock = 921600
    external_ram_bytes: Bytes = 0
    external_ram_mb_s: Annotated[float, Meta(ge=0)] = 0.0
    constants_in_ram: bool = False
    regulator_ma: Milliamps = 500.0
    i2c_transaction_bytes: Bytes = 0
    i2c_single_commands: bool = False
    spi_byte_gap_ns: Annotated[int, Meta(ge=0)] = 0
    spi_switch_ns: Annotated[int, Meta(ge=0)] = 0
    pins: tuple[BoardPin, ...] = ()
    notes: str = ""
    tables: TableStyle = field(default=TableStyle())
    form: Literal[1] = 1

    @property
    def copies_tables(self) -> bool:
        """Whether tables take RAM beside flash."""
        return self.constants_in_ram and not self.tables.stored

    def max_clock_hz(self, kind: str) -> int:
        """Fastest clock of a kind of link; 0 where the board has no such link."""
        return getattr(self, KINDS[kind].limit)

    def __post_init__(self) -> None:
        names = [pin.name for pin in self.pins]
        twice = next((name for name in names if names.count(name) > 1 and name not in ("GND", "3V3", "5V")), None)
        if twice:
            raise BadDescriptionError(f"two pins are named {twice!r}", path="$.pins")


@cache
def catalogue() -> Registry[Board]:
    """All boards that come with the application."""
    return load(FOLDER, Board, "board")


def board_from_plain(value: Any) -> Board:
    """A board of plain nested values, checked."""
    return to_record(value, Board, "board")


def board_to_plain(board: Board) -> dict[str, Any]:
    """Plain nested values of a board, ready for JSON."""
    return from_record(board)


def highest_clock_hz(board: Board, option: LinkOption) -> int:
    """The fastest clock that both ends allow."""
    return min(board.max_clock_hz(option.kind), option.max_clock_hz)


def usual_clock_hz(board: Board, option: LinkOption) -> int:
    """A clock to begin with: the panel's usual one, no faster than the board can."""
    return min(board.max_clock_hz(option.kind), option.usual_clock_hz)


def link_between(board: Board, kind: str, clock_hz: int, scan: Scan | None = None) -> Link:
    """The link this board makes, with its library's limits and gaps; `scan` for a panel without memory."""
    settings: dict[str, int | None] = {}
    if kind == "i2c":
        settings = {"transaction_bytes": board.i2c_transaction_bytes or None, "single_commands": board.i2c_single_commands}
    elif KINDS[kind].limit == "max_spi_hz":
        settings = {"byte_gap_ns": board.spi_byte_gap_ns, "switch_ns": board.spi_switch_ns}
    elif scan is not None and kind == "rgb":
        settings = {"total_pixels": scan.total_width * scan.total_height}
    return KINDS[kind].make(clock_hz, **settings)


def shared_links(board: Board, options: tuple[LinkOption, ...]) -> tuple[LinkOption, ...]:
    """The panel's links that this board has too."""
    return tuple(option for option in options if board.max_clock_hz(option.kind))
