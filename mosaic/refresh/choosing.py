"""Several panels for one purpose, side by side, before any is bought."""

from dataclasses import dataclass, field

from mosaic.boards.board import Board, shared_links, usual_clock_hz
from mosaic.device.budget import Budget, Content, Need, budgets, send_s
from mosaic.device.device import Device, Supply
from mosaic.panels.passport import Passport
from mosaic.panels.reading import COMFORTABLE_ARCMIN, FLOOR_ARCMIN, Legibility, Letters, legibility_of, letters_of
from mosaic.panels.supply import LINK_NAMES
from mosaic.panels.wire import Part, frame_parts
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures, Stood, Stretch
from mosaic.refresh.energy.plan import EnergyPlan, cell_of, reckoned

SECONDS_PER_DAY = 86400
# Mean light of a screen of text and figures, as a share of all pixels lit; typical.
SCREEN_LIGHT_SHARE = 0.2


@dataclass(frozen=True)
class Purpose:
    """What a panel is wanted for: where it is read, what drives it, how often it changes."""

    board: Board
    viewing_distance_mm: float = 500.0
    light_lux: float = 500.0
    supply: Supply = field(default=Supply())
    update_interval_s: float = 900.0
    on_hours_per_day: float = 24.0


@dataclass(frozen=True)
class Candidate:
    """One panel under a purpose.

    Attributes
    ----------
    device : None where the board has none of the panel's links
    ram, frame : budgets with this board; None without a device
    flashing_s_per_day : for how long a day the glass is driven black and white
    runtime_days : on the purpose's cell; None on mains or without a device
    floor, comfortable : letters of the smallest and of a comfortable size
    """

    passport: Passport
    device: Device | None
    ram: Budget | None
    frame: Budget | None
    flashing_s_per_day: float
    runtime_days: float | None
    floor: Letters
    comfortable: Letters
    legibility: Legibility
    hurdles: tuple[str, ...]


def candidate_of(passport: Passport, purpose: Purpose) -> Candidate:
    """Everything a maker would compare; hurdles are what stands in the way of using it at all."""
    turn = passport.rotation
    device = device_for(passport, purpose)
    ram = frame = runtime = None
    if device is not None:
        whole = frame_parts(passport, turn, bytes(passport.frame_bytes))
        _, ram, frame, _ = budgets(
            device, Content((Need("arrays", "pictures", passport.frame_bytes),), whole, SCREEN_LIGHT_SHARE)
        )
        runtime = None if purpose.supply.kind == "mains" else _runtime_days(device, whole)
    return Candidate(
        passport, device, ram, frame, flashing_s_per_day(passport, purpose.update_interval_s), runtime,
        letters_of(passport, turn, purpose.viewing_distance_mm, FLOOR_ARCMIN),
        letters_of(passport, turn, purpose.viewing_distance_mm, COMFORTABLE_ARCMIN),
        legibility_of(passport, purpose.light_lux), tuple(_hurdles(passport, purpose, ram)),
    )  # fmt: skip


def _runtime_days(device: Device, whole: tuple[Part, ...]) -> float:
    """Days on the cell by the engine of the energy plan, over a day of whole frames at the purpose's interval."""
    day_ms, modes = SECONDS_PER_DAY * 1000, device.passport.refresh
    updates = max(1, round(SECONDS_PER_DAY / device.update_interval_s))
    busy_ms = min(day_ms, updates * float(send_s(device, whole)) * 1000) if modes else day_ms
    refresh_ms = min(day_ms - busy_ms, updates * modes[0].time_ms) if modes else 0.0
    day = DayFigures(
        day_ms, (Stretch(0, day_ms, 0, 0, busy_ms, 0, refresh_ms),), (), (), (), updates, 0, 0, 0, 0, 0.0, "", (), 0, 0,
        refreshed=((0, updates),) if modes else (), screens=(Stood("", day_ms, (SCREEN_LIGHT_SHARE,)),),
    )  # fmt: skip
    plan = EnergyPlan(sleeps=bool(modes))
    return reckoned(plan, cell_of(plan, device), day, device, Program()).days


def device_for(passport: Passport, purpose: Purpose) -> Device | None:
    """The panel on the purpose's board over the fastest link both have; None if they share none."""
    shared = shared_links(purpose.board, passport.links)
    if not shared:
        return None
    option = max(shared, key=lambda o: usual_clock_hz(purpose.board, o))
    return Device(
        passport, passport.rotation, purpose.board, option.kind, usual_clock_hz(purpose.board, option), purpose.supply,
        purpose.viewing_distance_mm, purpose.light_lux,
        update_interval_s=purpose.update_interval_s, on_hours_per_day=purpose.on_hours_per_day,
    )  # fmt: skip


def flashing_s_per_day(passport: Passport, update_interval_s: float) -> float:
    """Seconds a day for which an e-paper flashes, if every update is its first (full) mode."""
    if not passport.refresh or not passport.refresh[0].flashes:
        return 0.0
    return SECONDS_PER_DAY / update_interval_s * passport.refresh[0].time_ms / 1000


def _hurdles(passport: Passport, purpose: Purpose, ram: Budget | None) -> list[str]:
    found = []
    if ram is None:
        kinds = ", ".join(LINK_NAMES[option.kind] for option in passport.links)
        found.append(f"the board has no link it speaks ({kinds})")
    elif ram.state == "over" and passport.scan:
        found.append("its frame does not fit the RAM, and it has no memory of its own")
    if passport.module.bare:
        found.append("bare glass: it needs a driver board")
    if passport.update_pause_s > purpose.update_interval_s:
        found.append(f"wants {passport.update_pause_s:g} s between updates")
    elif passport.refresh and passport.refresh[0].time_ms / 1000 > purpose.update_interval_s:
        found.append("an update takes longer than the time between two")
    return found
