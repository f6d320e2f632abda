"""Schools of cleaning an e-paper, run over the same schedule: what each costs and what ghost it leaves."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from mosaic.panels.passport import Passport
from mosaic.panels.supply import RefreshMode
from mosaic.refresh.day.engine import Day
from mosaic.refresh.day.program import Program
from mosaic.refresh.paper.cleaning import Cleaning

USUAL_AFTER, NIGHT_MIN, MUCH = 10, 180, 0.3
DAY_S = 86_400


@dataclass(frozen=True)
class School:
    """A way to clean, in words, and the schedule that follows it."""

    slug: str
    words: str
    program: Program


@dataclass(frozen=True)
class SchoolFigures:
    """What a school costs a day: updates, full and partial refreshes, seconds of flashing, mJ of refreshes; the most partial
    updates in a row and the longest time in h without a full one."""

    updates: float
    full: float
    partial: float
    flashing_s: float
    energy_mj: float
    longest_row: int
    uncleaned_h: float


def partial_mode(passport: Passport) -> int | None:
    """The number of the cheapest mode that does not flash; None where the panel has none."""
    modes = [(mode.energy_mj, number) for number, mode in enumerate(passport.refresh) if not mode.flashes]
    return min(modes)[1] if modes else None


def full_mode(passport: Passport) -> int:
    """The number of the first mode that flashes; 0 where none does."""
    return next((number for number, mode in enumerate(passport.refresh) if mode.flashes), 0)


def schools_of(passport: Passport, program: Program) -> list[School]:
    """The schools that a panel allows, over a schedule; a panel without partial updates has only full ones."""
    full, partial = full_mode(passport), partial_mode(passport)
    keeps = replace(program.cleaning, mode=full, each=False, after=0, at_min=(), from_share=0.0)

    def school(slug: str, words: str, mode: int, cleaning: Cleaning) -> School:
        return School(slug, words, replace(program, refresh=mode, cleaning=cleaning))

    found = [
        school("each", "A clean before each update, which is in full too", full, replace(keeps, each=True)),
        school("full", "Each update in full", full, keeps),
    ]
    if partial is None:
        return found
    after = program.cleaning.after or USUAL_AFTER
    times = program.cleaning.at_min or (NIGHT_MIN,)
    much = program.cleaning.from_share or MUCH
    at = ", ".join(f"{minute // 60}:{minute % 60:02}" for minute in times)
    return [
        *found,
        school("after", f"In full after every {after} partial updates", partial, replace(keeps, after=after)),
        school("times", f"Partial updates, a clean at {at}", partial, replace(keeps, at_min=times)),
        school("area", f"In full where {much:.0%} of the glass or more is sent", partial, replace(keeps, from_share=much)),
        school(
            "both", f"Partial updates, in full after every {after}, a clean at {at}", partial,
            replace(keeps, after=after, at_min=times),
        ),
        school("never", "Partial updates only", partial, keeps),
    ]  # fmt: skip


def figures_of(day: Day, modes: Sequence[RefreshMode]) -> SchoolFigures:
    """What a day's refreshes come to, for 24 hours."""
    times = DAY_S * 1e9 / day.length_ns
    full = sum(count for mode, count in day.counts.items() if modes[mode].flashes)
    return SchoolFigures(
        len(day.refreshes) * times, full * times, (sum(day.counts.values()) - full) * times,
        times * sum(count * modes[mode].time_ms for mode, count in day.counts.items() if modes[mode].flashes) / 1000,
        times * sum(count * modes[mode].energy_mj for mode, count in day.counts.items()),
        day.longest_row, day.uncleaned_ns / 3.6e12,
    )  # fmt: skip
