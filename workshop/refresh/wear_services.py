"""An OLED over its schedule: for how long each pixel is lit, when a difference is seen first, and what helps."""

from dataclasses import dataclass

from mosaic.device.device import Device
from mosaic.refresh.day.film import standing
from mosaic.refresh.day.program import Program
from mosaic.refresh.energy.plan import night_share
from mosaic.refresh.wear.model import FirstSeen, Rates, first_seen
from mosaic.refresh.wear.remedies import Lit, Remedy, WearPlan, lit_of, rates_of, remedies
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.keys import digest
from workshop.memory import ByteCache
from workshop.refresh.documents import WearDocument, wire_of
from workshop.refresh.energy_services import day_to_reckon
from workshop.refresh.schedule_services import LENGTHS, MOST_AT_ONCE, day_key, kept_program, readings_in, scene_of, without_gone
from workshop.stations.exchange import living

HOURS_A_DAY = 24
_lit = ByteCache("lit hours", 16 * 2**20)


@dataclass(frozen=True, eq=False)
class Wear:
    """How an OLED wears.

    Attributes
    ----------
    lit : its day. rates : with what the build does. seen : where a difference is seen first. plain : the same if it did nothing.
    words : from how much of the schedule. is_sampled : at moments only.
    """

    lit: Lit
    rates: Rates
    seen: FirstSeen
    plain: FirstSeen
    on_share: float
    night: float
    words: str
    is_sampled: bool


def plan_of(build: Build) -> WearPlan:
    row = shelf.single(build, WearDocument)
    return row.record if row else WearPlan()


def _length(build: Build, device: Device, program: Program) -> tuple[int, str]:
    """How much of the schedule a page can wait for."""
    life = living(build, device)
    for name, words in (("day", "a day"), ("hour", "an hour"), ("minute", "a minute")):
        if life is not None and readings_in(life, program, LENGTHS[name]) <= MOST_AT_ONCE:
            return LENGTHS[name], words
    return LENGTHS["minute"], "a minute"


def lit_by(build: Build, device: Device, power: float) -> tuple[Lit, str, bool] | None:
    """The day of a glass, kept as long as nothing it depends on changes; None where nothing is shown."""
    life = living(build, device)
    if life is None:
        return None
    program, wire = without_gone(kept_program(build, device), life), wire_of(build, device)
    length, words = _length(build, device, program)
    key = digest("lit 1", day_key(life, wire, program, length, ""), power)

    def made() -> tuple[Lit, bool]:
        pictures, is_sampled = standing(life.machine, scene_of(life, wire, program), program, length)
        return lit_of(pictures, device.passport, power), is_sampled

    lit, is_sampled = _lit.get_or_make(key, made, lambda one: 3 * one[0].levels.nbytes)
    return lit, words, is_sampled


def wear_of(build: Build, device: Device) -> Wear | None:
    """How a build's glass wears with what it does against it; None where nothing is shown."""
    plan = plan_of(build)
    found = lit_by(build, device, plan.model.power)
    if found is None:
        return None
    lit, words, is_sampled = found
    day, _ = day_to_reckon(build, device)
    night = night_share(kept_program(build, device))
    on = min(1.0, device.on_hours_per_day / HOURS_A_DAY) * (day.worn_light(plan.model.power) if day is not None else 1.0)
    rates = rates_of(lit, on, night, plan)
    plain = first_seen(rates_of(lit, on, night, WearPlan(model=plan.model)), plan.model)
    return Wear(lit, rates, first_seen(rates, plan.model), plain, on, night, words, is_sampled)


def remedies_of(wear: Wear, plan: WearPlan) -> list[Remedy]:
    return remedies(wear.lit, wear.on_share, wear.night, plan)
