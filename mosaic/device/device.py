"""The record of a device that a maker is building."""

from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from mosaic.boards.board import Board, link_between
from mosaic.color.eye import eye_sigma_px
from mosaic.device.bands import band_bytes
from mosaic.device.setup_card import SetupCard
from mosaic.links import Link
from mosaic.panels.geometry import Orientation, seen_size
from mosaic.panels.mounting import Opening
from mosaic.panels.passport import Passport, Rotation
from mosaic.panels.sending import Sending
from mosaic.wiring.plan import PinPlan

SupplyKind = Literal["cell", "mains"]


@dataclass(frozen=True)
class Supply:
    """Where the current comes from. Mains has no limit; a cell has its usable energy."""

    kind: SupplyKind = "mains"
    cell_v: float = 3.7
    capacity_mah: float = 1000.0
    usable_share: float = 0.8

    @property
    def usable_mwh(self) -> float:
        """Energy of the cell that can be used: V x mAh x usable share."""
        return self.cell_v * self.capacity_mah * self.usable_share


@dataclass(frozen=True)
class Device:
    """One panel, one board, one link between them, where it stands and what is asked of it.

    Attributes
    ----------
    buffer_bands : in how many bands a frame is drawn: 1 is a full buffer, 0 none (sent from
        flash as it is).
    update_interval_s : time from one update to the next, assumed until a schedule exists.
    on_hours_per_day : how long the device is awake (OLED, TFT).
    mirrored : left and right exchanged: transparent glass seen from behind, or a mirror before it.
    opening : the window of the bezel before the module; None for no bezel.
    wiring : the pin plan; None where nobody has looked at it yet.
    setup_card : the set-up card; None where none is kept.
    sending : what is known of the program that sends; by default it does as the passport says.
    frame_time_limit_ms, energy_limit_mwh : what the maker allows; None for no limit.
    """

    passport: Passport
    rotation: Rotation
    board: Board
    link_kind: str
    clock_hz: int
    supply: Supply = Supply()
    viewing_distance_mm: float = 500.0
    light_lux: float = 500.0
    frame_time_limit_ms: float | None = None
    energy_limit_mwh: float | None = None
    update_interval_s: float = 900.0
    on_hours_per_day: float = 24.0
    buffer_bands: int = 1
    mirrored: bool = False
    opening: Opening | None = None
    wiring: PinPlan | None = None
    setup_card: SetupCard | None = None
    sending: Sending = field(default=Sending())

    @property
    def turn(self) -> Orientation:
        """How the panel lies before its reader."""
        return Orientation(self.rotation, self.mirrored)

    @cached_property
    def link(self) -> Link:
        return link_between(self.board, self.link_kind, self.clock_hz, self.passport.scan)

    @property
    def size(self) -> tuple[int, int]:
        """(width, height) in pixels before the reader."""
        return seen_size(self.passport, self.turn)

    @property
    def eye_sigma_px(self) -> float:
        """Blur of the eye in pixels at this device's viewing distance."""
        return eye_sigma_px(self.passport.glass.pitch_mm, self.viewing_distance_mm)

    @property
    def buffer_bytes(self) -> int:
        """RAM for drawing one frame."""
        return band_bytes(self.passport, self.buffer_bands)
