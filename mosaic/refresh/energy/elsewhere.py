"""The same screens on another kind of panel: what the cell would say to it."""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from mosaic.device.device import Device
from mosaic.panels.passport import Passport
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures
from mosaic.refresh.energy.balance import Balance
from mosaic.refresh.energy.cells import CellKind
from mosaic.refresh.energy.changes import refreshed_by
from mosaic.refresh.energy.plan import EnergyPlan, reckoned

LEAST_BETWEEN_MS = 60_000
"""An e-paper in place of a panel that draws all the time is drawn once a minute at most: that is what its users would do."""


def kind_of(passport: Passport) -> str:
    """What kind of panel it is, as far as its currents go."""
    if passport.technology == "epaper":
        return "e-paper, black and white" if passport.format.bits == 1 and passport.update_pause_s == 0 else "e-paper, colours"
    if passport.technology == "oled":
        return "OLED, one colour" if passport.palette is not None else "OLED, colours"
    return "TFT"


def one_of_each(passports: Iterable[Passport], like: Passport) -> dict[str, Passport]:
    """Of every other kind the panel whose pixels are nearest in number; bare glass and panels that serve themselves left out."""
    wanted, found = like.glass.width_px * like.glass.height_px, dict[str, Passport]()

    def off(one: Passport) -> float:
        ratio = one.glass.width_px * one.glass.height_px / wanted
        return max(ratio, 1 / ratio)

    for one in passports:
        kind = kind_of(one)
        if kind == kind_of(like) or one.module.bare or one.slots is not None or one.drawing or one.scan is not None:
            continue
        if kind not in found or off(one) < off(found[kind]):
            found[kind] = one
    return found


@dataclass(frozen=True)
class Elsewhere:
    """A panel of another kind with what it takes; updates a day of an e-paper, 0 for others."""

    kind: str
    passport: Passport
    balance: Balance
    updates_a_day: float = 0.0


def on_another(
    passport: Passport, plan: EnergyPlan, cell: CellKind, day: DayFigures, device: Device, program: Program
) -> Elsewhere:
    """The day of a device with another panel in place of its own: board, program and light of the screens as they are."""
    other = replace(device, passport=passport)
    if not passport.refresh:
        bare = replace(day, stretches=tuple(replace(one, refresh_ms=0.0) for one in day.stretches), refreshed=())
        return Elsewhere(kind_of(passport), passport, reckoned(plan, cell, bare, other, program))
    mode = passport.refresh[0]
    least = max(LEAST_BETWEEN_MS, mode.time_ms, 1000 * passport.update_pause_s)
    count = min(max(day.steps, 1), int(day.length_ms / least)) or 1
    then = refreshed_by(day, other, 0, count)
    found = reckoned(plan, cell, then, other, replace(program, refresh=0))
    return Elsewhere(kind_of(passport), passport, found, count * 86_400_000 / day.length_ms)
