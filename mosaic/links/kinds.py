"""The kinds of link, in words, with the board's limit that each has and the link it makes."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from mosaic.links import Link
from mosaic.links.i2c import I2cLink
from mosaic.links.parallel import ParallelLink
from mosaic.links.qspi import QspiLink
from mosaic.links.rgb import RgbLink
from mosaic.links.spi import SpiLink
from mosaic.links.uart import UartLink
from mosaic.panels.supply import LINK_NAMES
from mosaic.registry import Registry


@dataclass(frozen=True)
class LinkKindEntry:
    """A kind of link: what it is good for, what its clock counts, and how it is made.

    `limit` names the board's field with its fastest clock; `make` takes the clock and settings
    by name; `settings` are those a maker may give.
    """

    slug: str
    use: str
    clock_name: str
    limit: str
    make: Callable[..., Link]
    settings: tuple[str, ...] = ()

    @property
    def name(self) -> str:
        """In words, for a page."""
        return LINK_NAMES[self.slug]


def _spi3(clock_hz: int, **settings: Any) -> SpiLink:
    return SpiLink(clock_hz, wires=3, **settings)


def _spi_flagged(clock_hz: int, **settings: Any) -> SpiLink:
    return SpiLink(clock_hz, prefix_bytes=1, **settings)


def _parallel16(clock_hz: int) -> ParallelLink:
    return ParallelLink(clock_hz, 16)


_GAPS = ("byte_gap_ns", "switch_ns")

KINDS: Registry[LinkKindEntry] = Registry(
    "kind of link",
    (
        LinkKindEntry("spi", "fast; needs a data/command line", "clock", "max_spi_hz", SpiLink, ("wires", *_GAPS)),
        LinkKindEntry(
            "i2c",
            "two wires, several devices; small panels only",
            "clock",
            "max_i2c_hz",
            I2cLink,
            ("transaction_bytes", "start_stop_clocks", "single_commands"),
        ),
        LinkKindEntry("spi3", "no data/command line: the flag is a ninth bit", "clock", "max_spi_hz", _spi3, _GAPS),
        LinkKindEntry(
            "spi-flagged",
            "no data/command line: a byte before each run tells them apart",
            "clock",
            "max_spi_hz",
            _spi_flagged,
            _GAPS,
        ),
        LinkKindEntry("qspi", "four data lines, two clocks a byte", "clock", "max_qspi_hz", QspiLink, ("select_ns",)),
        LinkKindEntry("parallel8", "eight data lines and a strobe", "write cycles", "max_parallel_hz", ParallelLink),
        LinkKindEntry("parallel16", "sixteen data lines, a pixel a cycle", "write cycles", "max_parallel_hz", _parallel16),
        LinkKindEntry(
            "rgb",
            "scanned continuously out of the board's memory",
            "pixel clock",
            "max_rgb_hz",
            RgbLink,
            ("total_pixels",),
        ),
        LinkKindEntry(
            "uart",
            "two wires, messages; TX to RX crosswise",
            "bits a second",
            "max_uart_hz",
            UartLink,
            ("parity", "reply_ms"),
        ),
    ),
    lambda kind: kind.slug,
)
