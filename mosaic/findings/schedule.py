"""Findings on a schedule: readings that are missed or stand in the way, late answers to touches, tearing, pixels for nothing."""

from collections.abc import Callable
from dataclasses import dataclass

from mosaic.cards.measuring import tells_touches
from mosaic.device.device import Device
from mosaic.findings import Finding, Fix
from mosaic.refresh.day.judging import proposals, tearing
from mosaic.refresh.day.program import Program
from mosaic.refresh.day.summary import DayFigures

LAG_MS = 100
"""From a touch to its answer: what is shorter feels immediate."""
STANDS_STILL_MS = 50
"""A reading that holds the program for longer is felt in what moves and in what is touched."""
WASTED_SHARE = 0.75
"""Of the pixels that are sent."""


@dataclass(frozen=True)
class DaySubject:
    """What rules on a schedule look at.

    `wasted` is the share of sent pixels that never changed, `celsius` the temperature where it stands. A day takes
    `energy_mwh`, of which `asleep_mwh` without any drawing; the cell lasts `lasts_days`, 0 where there is none.
    """

    device: Device
    day: DayFigures
    program: Program
    wasted: float = 0.0
    celsius: float = 20.0
    energy_mwh: float = 0.0
    asleep_mwh: float = 0.0
    lasts_days: float = 0.0


def readings_missed(subject: DaySubject) -> list[Finding]:
    """Sources that the program comes to too late."""
    found = []
    for one in proposals(subject.day, subject.program):
        source = next(source for source in subject.day.sources if source.ident == one.ident)
        share = source.missed / max(1, source.missed + source.reads)
        why = f"It is due every {one.every_ms:,} ms, and the program comes too late: {share:.0%} of its readings are left out."
        fix = Fix(
            f"Read it every {one.instead_ms:,} ms", "program", {"every": {one.ident: one.instead_ms}}, "then none is missed"
        )
        found.append(Finding("refresh.step-misses-interval", "must fix", "Schedule", f"{one.name} misses readings", why, fix))
    return found


def readings_stand_in_the_way(subject: DaySubject) -> list[Finding]:
    """A reading for which the program stands still so long that it is felt."""
    blocking = [one for one in subject.day.sources if one.blocks_ms > STANDS_STILL_MS and one.reads]
    if not blocking or subject.program.splits:
        return []
    longest = max(blocking, key=lambda one: one.blocks_ms)
    why = "Nothing is drawn and no touch is seen meanwhile. Begin the reading, go on, and fetch it when it is there."
    fix = Fix("Begin readings and fetch them later", "program", {"splits": True}, "then nothing waits for them")
    what = f"Reading {longest.name} holds drawing up for {longest.blocks_ms:,} ms"
    return [Finding("refresh.reading-blocks-drawing", "worth fixing", "Schedule", what, why, fix)]


def touches_answered_late(subject: DaySubject) -> list[Finding]:
    """Touches whose answer does not feel immediate: as they were in a kept run, else as they can be at worst."""
    day = subject.day
    answered = day.longest_lag_ms or day.away_ms + (day.worst.total_ms if day.worst else 0.0)
    if not tells_touches(subject.device.passport) or answered <= LAG_MS:
        return []
    how = "was answered" if day.lags_ms else "is answered"
    away = f"for up to {day.away_ms:,.0f} ms: {day.away or 'it draws and sends'}"
    why = f"Up to {LAG_MS} ms feel immediate. The program cannot look at it {away}."
    return [Finding("refresh.touch-lags", "worth fixing", "Schedule", f"A touch {how} after up to {answered:,.0f} ms", why)]


def pictures_tear(subject: DaySubject) -> list[Finding]:
    """Something moves, and is likely to be seen half old and half new."""
    torn = tearing(subject.device, subject.day)
    if torn.state != "likely":
        return []
    return [Finding("refresh.tearing-likely", "worth fixing", "Schedule", "What moves is likely to tear", torn.words)]


def pixels_sent_for_nothing(subject: DaySubject) -> list[Finding]:
    """Most of what is sent has not changed."""
    if subject.wasted <= WASTED_SHARE or subject.device.passport.slots is not None:
        return []
    why = (
        "The runtime sends a box round each element that has changed. Smaller elements, or a lettering with digits of equal"
        " width, send less."
    )
    what = f"{subject.wasted:.0%} of the pixels that are sent have not changed"
    return [Finding("refresh.unchanged-pixels-sent", "worth fixing", "Schedule", what, why)]


RULES: tuple[Callable[[DaySubject], list[Finding]], ...] = (
    readings_missed,
    readings_stand_in_the_way,
    touches_answered_late,
    pictures_tear,
    pixels_sent_for_nothing,
)


def day_findings(device: Device, day: DayFigures, program: Program, wasted: float = 0.0) -> list[Finding]:
    """Findings on a schedule, worst first."""
    subject = DaySubject(device, day, program, wasted)
    return [finding for rule in RULES for finding in rule(subject)]
