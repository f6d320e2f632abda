"""Findings on a schedule: readings that are missed or stand in the way, late answers to touches, tearing, pixels for nothing."""

from mosaic.cards.measuring import has_touch
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


def day_findings(device: Device, day: DayFigures, program: Program, wasted: float = 0.0) -> list[Finding]:
    """Findings on a schedule; `wasted` is the share of sent pixels that never changed."""
    found = []
    for one in proposals(day, program):
        share = next(source.missed / max(1, source.missed + source.reads) for source in day.sources if source.ident == one.ident)
        why = f"It is due every {one.every_ms:,} ms, and the program comes too late: {share:.0%} of its readings are left out."
        fix = Fix(
            f"Read it every {one.instead_ms:,} ms", "program", {"every": {one.ident: one.instead_ms}}, "then none is missed"
        )
        found.append(Finding("refresh.step-misses-interval", "must fix", "Schedule", f"{one.name} misses readings", why, fix))
    blocking = [one for one in day.sources if one.blocks_ms > STANDS_STILL_MS and one.reads]
    if blocking and not program.splits:
        longest = max(blocking, key=lambda one: one.blocks_ms)
        why = "Nothing is drawn and no touch is seen meanwhile. Begin the reading, go on, and fetch it when it is there."
        fix = Fix("Begin readings and fetch them later", "program", {"splits": True}, "then nothing waits for them")
        what = f"Reading {longest.name} holds drawing up for {longest.blocks_ms:,} ms"
        found.append(Finding("refresh.reading-blocks-drawing", "worth fixing", "Schedule", what, why, fix))
    answered = day.longest_lag_ms or day.away_ms + (day.worst.total_ms if day.worst else 0.0)
    if has_touch(device.passport) and answered > LAG_MS:
        how = "was answered" if day.lags_ms else "is answered"
        away = f"for up to {day.away_ms:,.0f} ms: {day.away or 'it draws and sends'}"
        why = f"Up to {LAG_MS} ms feel immediate. The program cannot look at it {away}."
        found.append(
            Finding("refresh.touch-lags", "worth fixing", "Schedule", f"A touch {how} after up to {answered:,.0f} ms", why)
        )
    torn = tearing(device, day)
    if torn.state == "likely":
        found.append(Finding("refresh.tearing-likely", "worth fixing", "Schedule", "What moves is likely to tear", torn.words))
    if wasted > WASTED_SHARE:
        why = (
            "The runtime sends a box round each element that has changed. Smaller elements, or a lettering with digits of equal"
            " width, send less."
        )
        what = f"{wasted:.0%} of the pixels that are sent have not changed"
        found.append(Finding("refresh.unchanged-pixels-sent", "worth fixing", "Schedule", what, why))
    return found
