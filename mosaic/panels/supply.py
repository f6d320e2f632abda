"""What a panel is driven by: links, rails, currents, refresh modes, and what it does by itself."""

from dataclasses import dataclass
from typing import Annotated, Literal

from msgspec import Meta

from mosaic.panels.glass import Basis, NotNegative, Positive

LinkKind = Literal["i2c", "spi", "spi3", "spi-flagged", "qspi", "parallel8", "parallel16", "rgb", "uart"]
LINK_NAMES: dict[str, str] = {
    "i2c": "I2C", "spi": "SPI", "spi3": "SPI, 9 bits", "spi-flagged": "SPI, flag byte", "qspi": "quad SPI",
    "parallel8": "8-bit parallel", "parallel16": "16-bit parallel", "rgb": "parallel RGB", "uart": "serial",
}  # fmt: skip
Hertz = Annotated[int, Meta(ge=1000)]


@dataclass(frozen=True)
class LinkOption:
    """A link the panel offers, with the fastest and a usual clock for writing.

    `max_read_clock_hz` is 0 where reading is not possible or its limit not known. For a
    parallel link the clock is that of write cycles, for RGB that of pixels, for UART the rate
    of bits.
    """

    kind: LinkKind
    max_clock_hz: Hertz
    usual_clock_hz: Hertz
    max_read_clock_hz: Annotated[int, Meta(ge=0)] = 0


@dataclass(frozen=True)
class Rail:
    """A supply the panel needs. Rails are listed in the order in which they have to come up."""

    name: str
    min_v: float
    max_v: float
    note: str = ""


@dataclass(frozen=True)
class RefreshMode:
    """One way in which an e-paper shows new content: its time and its energy.

    `flashes` tells whether the glass is driven black and white before the picture stands.
    """

    name: str
    time_ms: Positive
    energy_mj: NotNegative
    flashes: bool = True
    basis: Basis = "typical"


@dataclass(frozen=True)
class Power:
    """Currents at `supply_v`; `full_on_ma` is all pixels lit white, `backlight_ma` full duty."""

    supply_v: Positive = 3.3
    base_ma: NotNegative = 0.0
    full_on_ma: NotNegative = 0.0
    backlight_ma: NotNegative = 0.0
    sleep_ua: NotNegative = 0.0
    basis: Basis = "typical"


@dataclass(frozen=True)
class Scan:
    """How a panel without memory of its own is fed continuously: totals with porches, and its rate."""

    total_width: Annotated[int, Meta(ge=1, le=8192)]
    total_height: Annotated[int, Meta(ge=1, le=8192)]
    rate_hz: Positive

    @property
    def pixel_clock_hz(self) -> float:
        """Total width x total height x rate."""
        return self.total_width * self.total_height * self.rate_hz


@dataclass(frozen=True)
class DrawCommand:
    """What a controller draws by itself: bytes of the command, and pixels it fills in a microsecond."""

    name: str
    byte_count: Annotated[int, Meta(ge=1)]
    pixels_per_us: NotNegative = 0.0


@dataclass(frozen=True)
class PictureSlots:
    """Numbered slots in which a panel keeps pictures; one that runs past its slot overwrites the next."""

    count: Annotated[int, Meta(ge=1)]
    slot_bytes: Annotated[int, Meta(ge=1)]
    flash_bytes: Annotated[int, Meta(ge=1)]


@dataclass(frozen=True)
class Owned:
    """What only the owner of the part in hand can say of it."""

    marking: str = ""
    seller: str = ""
    price: NotNegative | None = None
    currency: str = ""
    notes: str = ""
