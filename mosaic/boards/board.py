"""A board's record, its catalogue, and the link it makes with a panel."""

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Annotated, Any, Literal

from msgspec import Meta

from mosaic.catalogue import load
from mosaic.forms import from_record, to_record
from mosaic.links import Link
from mosaic.links.i2c import I2cLink
from mosaic.links.spi import SpiLink
from mosaic.panels.passport import LinkOption
from mosaic.registry import Registry

Bytes = Annotated[int, Meta(ge=0)]
FOLDER = Path(__file__).parent / "catalogue"


@dataclass(frozen=True)
class Board:
    """What a build needs to know of its board; reserves and currents are typical values.

    `program_bytes` is flash taken by a usual program without pictures, `reserve_bytes` RAM for
    stack, heap and libraries. `i2c_transaction_bytes` is the library's limit after the address
    byte, 0 for none.
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
    i2c_transaction_bytes: Bytes = 0
    spi_byte_gap_ns: Annotated[int, Meta(ge=0)] = 0
    spi_switch_ns: Annotated[int, Meta(ge=0)] = 0
    notes: str = ""
    form: Literal[1] = 1

    def max_clock_hz(self, kind: str) -> int:
        return self.max_i2c_hz if kind == "i2c" else self.max_spi_hz


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


def link_between(board: Board, kind: str, clock_hz: int) -> Link:
    """The link this board makes, with its library's limits and gaps."""
    if kind == "i2c":
        return I2cLink(clock_hz, board.i2c_transaction_bytes or None)
    return SpiLink(clock_hz, byte_gap_ns=board.spi_byte_gap_ns, switch_ns=board.spi_switch_ns)
