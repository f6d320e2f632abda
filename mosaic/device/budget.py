"""The four budgets of a device: flash, RAM, frame time and energy a day.

Each is a list of named parts, so that a page can explain its sum, and says of itself whether
it is computed or rests on typical values.
"""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from mosaic.device.bands import band_bytes, band_counts
from mosaic.device.device import Device
from mosaic.links import total_s, wire_steps
from mosaic.panels.wire import Part

Basis = Literal["computed", "typical", "measured"]
TIGHT_SHARE = 0.85
HOURS_PER_DAY = 24
SECONDS_PER_DAY = 86400
MJ_PER_MWH = 3600
COPIED = "constants copied at start"


def basis_of(stated: str) -> Basis:
    """What a figure of a passport rests on: what was not measured is typical, a data sheet's too."""
    return "measured" if stated == "measured" else "typical"


@dataclass(frozen=True)
class BudgetPart:
    """One part of a sum, in the budget's unit, and what it rests on."""

    name: str
    value: float
    basis: Basis
    is_file: bool = False
    """Whether it lies in the part of the flash for files, not in the program."""


Place = Literal["arrays", "files", "RAM", "frame", "energy"]
"""Where something is counted: flash as arrays of the program, flash as files, RAM in B; frame in ms; energy in mWh a day."""


@dataclass(frozen=True)
class Need:
    """What one thing of a device takes of a budget, under the name of its group ("pictures", "lettering")."""

    place: Place
    name: str
    value: float
    basis: Basis = "computed"


@dataclass(frozen=True)
class Budget:
    """A sum against its limit; `limit` None means there is none, for the reason in `why_unlimited`."""

    slug: str
    name: str
    unit: Literal["B", "ms", "mWh"]
    parts: tuple[BudgetPart, ...]
    limit: float | None
    why_unlimited: str = ""
    is_scheduled: bool = False
    """Whether it follows from a schedule; otherwise from what the build's sheet assumes."""

    @property
    def value(self) -> float:
        return sum(part.value for part in self.parts)

    @property
    def in_files(self) -> float:
        """What of it lies in files."""
        return sum(part.value for part in self.parts if part.is_file)

    @property
    def share(self) -> float | None:
        """Value over limit; None without a limit."""
        return None if not self.limit else self.value / self.limit

    @property
    def state(self) -> Literal["sound", "tight", "over", "none"]:
        if self.share is None:
            return "none"
        return "over" if self.share > 1 else "tight" if self.share >= TIGHT_SHARE else "sound"

    @property
    def basis(self) -> Basis:
        """Typical as soon as one part of it is; else measured as soon as one is."""
        known = {part.basis for part in self.parts}
        return "typical" if "typical" in known else "measured" if "measured" in known else "computed"


@dataclass(frozen=True)
class Content:
    """What a device's budgets need to know of all that is made for it.

    `needs` are what its parts take; `frame` is the transmission of the heaviest picture; `light_share` the mean light
    of what is shown, 0..1.
    """

    needs: tuple[Need, ...]
    frame: tuple[Part, ...]
    light_share: float

    def parts(self, *places: Place) -> tuple[BudgetPart, ...]:
        """One part for every group that is counted in one of the places, in the order in which groups come up."""
        sums: dict[tuple[str, bool], tuple[float, Basis]] = {}
        for need in self.needs:
            if need.place in places:
                key = need.name, need.place == "files"
                value, basis = sums.get(key, (0, "computed"))
                sums[key] = (value + need.value, basis if need.basis == "computed" else need.basis)
        return tuple(
            BudgetPart(f"{name} as files" if is_file else name, value, basis, is_file)
            for (name, is_file), (value, basis) in sums.items()
        )

    def total(self, *places: Place) -> float:
        return sum(need.value for need in self.needs if need.place in places)


def flash_budget(device: Device, content: Content) -> Budget:
    board = device.board
    parts = (BudgetPart("program", board.program_bytes, "typical"), *content.parts("arrays", "files"))
    return Budget("flash", "Flash", "B", parts, board.flash_bytes)


def ram_budget(device: Device, content: Content) -> Budget:
    """What is in RAM at once; a buffer that the board's own RAM cannot hold goes to external RAM, if there is any."""
    board = device.board
    name = {0: "no buffer", 1: "full buffer"}.get(device.buffer_bands, f"buffer in {device.buffer_bands} bands")
    copied = content.total("arrays") if board.copies_tables else 0
    outside = board.external_ram_bytes and device.buffer_bytes > board.ram_bytes - board.reserve_bytes - copied
    parts = [
        BudgetPart("stack, heap and libraries", board.reserve_bytes, "typical"),
        BudgetPart(f"{name}, in external RAM" if outside else name, device.buffer_bytes, "computed"),
        *content.parts("RAM"),
    ]
    if board.copies_tables:
        parts.append(BudgetPart(COPIED, copied, "computed"))
    return Budget("ram", "RAM", "B", tuple(parts), board.ram_bytes + board.external_ram_bytes)


def send_s(device: Device, frame: tuple[Part, ...]) -> Fraction:
    """Time on the wire of one frame, in seconds, exact."""
    return total_s(wire_steps(frame, device.link))


def frame_budget(device: Device, content: Content) -> Budget:
    """The worst step of the schedule, where there is one; else a whole frame."""
    worst = content.parts("frame")
    if worst:
        return Budget("frame", "Frame time", "ms", worst, device.frame_time_limit_ms, "no limit set")
    parts = [BudgetPart("send", float(send_s(device, content.frame) * 1000), "computed")]
    if device.passport.refresh:
        mode = device.passport.refresh[0]
        parts.append(BudgetPart(f"refresh, {mode.name}", mode.time_ms, basis_of(mode.basis)))
    return Budget("frame", "Frame time", "ms", tuple(parts), device.frame_time_limit_ms, "no limit set")


def energy_budget(device: Device, content: Content) -> Budget:
    """The energy of a day as the schedule takes it from what feeds the build, where there is one; else panel and board each at
    its own voltage, without conversion losses."""
    scheduled = content.parts("energy")
    assumed = _epaper_energy if device.passport.technology == "epaper" else _lit_energy
    parts = scheduled or assumed(device, content)
    unlimited = "mains" if device.supply.kind == "mains" else "no limit set"
    limit = None if device.supply.kind == "mains" else device.energy_limit_mwh
    return Budget("energy", "Energy per day", "mWh", parts, limit, unlimited, bool(scheduled))


def _epaper_energy(device: Device, content: Content) -> tuple[BudgetPart, ...]:
    """Updates x (panel + awake board) + both asleep all day; facts: energy = charge x voltage."""
    board = device.board
    updates = SECONDS_PER_DAY / device.update_interval_s
    mode = device.passport.refresh[0] if device.passport.refresh else None
    awake_h = min(HOURS_PER_DAY, updates * update_s(device, content.frame) / 3600)
    return (
        BudgetPart("panel updates", updates * (mode.energy_mj if mode else 0) / MJ_PER_MWH, "typical"),
        BudgetPart("board awake", awake_h * board.active_ma * board.logic_v, "typical"),
        BudgetPart("asleep", _asleep_mw(device) * HOURS_PER_DAY, "typical"),
    )


def update_s(device: Device, frame: tuple[Part, ...]) -> float:
    """Time of one update of an e-paper, in seconds: sending, and the refresh."""
    mode = device.passport.refresh[0] if device.passport.refresh else None
    return float(send_s(device, frame)) + (mode.time_ms / 1000 if mode else 0)


def _asleep_mw(device: Device) -> float:
    """Power of panel and board asleep, each at its own voltage."""
    power, board = device.passport.power, device.board
    return (power.sleep_ua * power.supply_v + board.sleep_ua * board.logic_v) / 1000


def _lit_energy(device: Device, content: Content) -> tuple[BudgetPart, ...]:
    """Hours x volts x (controller + light); a backlight draws the same whatever is shown."""
    power, board, hours = device.passport.power, device.board, device.on_hours_per_day
    lit_ma = power.full_on_ma * content.light_share + power.backlight_ma
    return (
        BudgetPart("light", lit_ma * power.supply_v * hours, "typical"),
        BudgetPart("controller", power.base_ma * power.supply_v * hours, "typical"),
        BudgetPart("board awake", board.active_ma * board.logic_v * hours, "typical"),
        BudgetPart("asleep", _asleep_mw(device) * (HOURS_PER_DAY - hours), "typical"),
    )


def budgets(device: Device, content: Content) -> tuple[Budget, ...]:
    """All four, in the order in which they are shown."""
    return (
        flash_budget(device, content),
        ram_budget(device, content),
        frame_budget(device, content),
        energy_budget(device, content),
    )


def runtime_days(device: Device, energy: Budget) -> float | None:
    """Days on the cell at this use, without self-discharge; None on mains."""
    if device.supply.kind == "mains" or not energy.value:
        return None
    return device.supply.usable_mwh / energy.value


def bands_that_fit(device: Device, taken_bytes: float) -> int | None:
    """Fewest bands of which one fits the RAM beside the bytes that are taken; None if not even the smallest does."""
    free = device.board.ram_bytes + device.board.external_ram_bytes - taken_bytes
    return next((count for count in band_counts(device.passport) if band_bytes(device.passport, count) <= free), None)
