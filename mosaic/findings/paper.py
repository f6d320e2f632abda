"""Findings on how an e-paper is refreshed: too often, never cleaned, out of its temperatures, left powered, its life used up."""

from mosaic.findings import Finding, Fix
from mosaic.findings.schedule import DaySubject
from mosaic.quantities import how_many
from mosaic.refresh.day.judging import usual_ms

DAY_MS = 86_400_000
MOST_IN_ROW = 30
"""Partial updates in a row: five to ten are common, and a night's clean with hourly updates makes 23. Typical."""
CLEAN_AFTER = 10
CLEAN_AT_MIN = 180
LIFE_UPDATES = 1_000_000
"""Updates that an e-paper is made for. Typical."""
LIFE_YEARS = 5


def _cleaning(subject: DaySubject, label: str, then: str, **changes: object) -> Fix:
    return Fix(label, "program", {"cleaning": changes}, then)


def updated_too_often(subject: DaySubject) -> list[Finding]:
    """Updates follow each other sooner than the panel may be driven."""
    day, passport = subject.day, subject.device.passport
    least = 1000 * passport.update_pause_s
    if not day.shortest_ms or day.shortest_ms >= least:
        return []
    asked = usual_ms(least)
    what = f"Updates follow each other after {day.shortest_ms / 1000:,.3g} s; this panel wants {least / 1000:g} s between two"
    why = "Driven more often its colours shift, and ghosts stay for good (typical)."
    fix = Fix(f"Draw every {asked / 60_000:g} min at most", "program", {"least_ms": asked}, "the finding goes")
    return [Finding("paper.updates-too-often", "must fix", "E-paper", what, why, fix)]


def updates_overlap(subject: DaySubject) -> list[Finding]:
    """Something changes while the panel still refreshes, again and again."""
    day, passport = subject.day, subject.device.passport
    if not passport.refresh or not day.merged:
        return []
    share = day.merged / max(1, day.merged + day.steps)
    if share < OVERLAP_SHARE or day.share("refresh_ms") < OVERLAP_SHARE:
        return []
    worst = day.worst.refresh_ms if day.worst else 0.0
    asked = usual_ms(2 * worst)
    what = f"The panel refreshes {day.share('refresh_ms'):.0%} of the time"
    why = f"A refresh takes up to {worst / 1000:,.1f} s, and {day.merged:,} changes had to wait for one: they come late."
    fix = Fix(f"Draw every {asked / 1000:g} s at most", "program", {"least_ms": asked}, "then it rests half of the time")
    return [Finding("paper.updates-overlap", "worth fixing", "E-paper", what, why, fix)]


OVERLAP_SHARE = 0.5


def never_cleaned(subject: DaySubject) -> list[Finding]:
    """No full update in 24 hours."""
    day, cleaning = subject.day, subject.program.cleaning
    modes, program = subject.device.passport.refresh, subject.program
    if not modes or modes[min(program.refresh, len(modes) - 1)].flashes:
        return []
    full = sum(count for mode, count in day.refreshed if modes[mode].flashes)
    nothing = not (cleaning.each or cleaning.after or cleaning.at_min or cleaning.from_share)
    if not nothing and (day.length_ms < DAY_MS or (full > 1 and day.uncleaned_ms <= DAY_MS)):
        return []
    why = "Partial updates leave a trace of the old picture; without a full one in 24 h it can stay for good (typical)."
    fix = _cleaning(subject, "Clean it at 3:00", "then it flashes once a night", at_min=[CLEAN_AT_MIN])
    return [Finding("paper.never-cleaned", "must fix", "E-paper", "No full update in 24 hours", why, fix)]


def many_partials(subject: DaySubject) -> list[Finding]:
    """More partial updates in a row than panels bear well."""
    row = subject.day.longest_row
    if row <= MOST_IN_ROW:
        return []
    why = f"What they leave adds up; five to ten in a row are common, more than {MOST_IN_ROW} show (typical)."
    fix = _cleaning(subject, f"Clean it after each {CLEAN_AFTER}", f"then {CLEAN_AFTER} in a row at most", after=CLEAN_AFTER)
    return [Finding("paper.many-partials", "worth fixing", "E-paper", f"{row:,} partial updates in a row", why, fix)]


def out_of_its_temperatures(subject: DaySubject) -> list[Finding]:
    """It stands where it is colder or warmer than the panel bears."""
    low, high = subject.device.passport.operating_c
    celsius = subject.celsius
    if low <= celsius <= high:
        return []
    how = "cold" if celsius < low else "warm"
    what = f"At {celsius:g} °C it is too {how} for this panel: {low} to {high} °C (typical)"
    why = "In the cold a refresh takes longer and stays faint; in the heat the glass ages and may stay dark."
    return [Finding(f"paper.too-{how}", "must fix", "E-paper", what, why)]


def left_powered(subject: DaySubject) -> list[Finding]:
    """Its high voltages stay on, or its controller awake, between updates."""
    between = subject.program.cleaning.between
    if not subject.device.passport.refresh or between == "asleep":
        return []
    fix = _cleaning(subject, "Put it to sleep after each update", "then it takes its sleep current only", between="asleep")
    if between == "powered":
        what, why = (
            "The panel stays powered between updates",
            "High voltages left on harm the glass, and take a few mA (typical).",
        )
        return [Finding("paper.left-powered", "must fix", "E-paper", what, why, fix)]
    what, why = "The panel is not put to sleep after an update", "Its controller takes some 20 µA instead of 1 µA (typical)."
    return [Finding("paper.not-asleep", "worth fixing", "E-paper", what, why, fix)]


def picture_before_not_held(subject: DaySubject) -> list[Finding]:
    """Partial updates are compared with a picture that nobody keeps."""
    modes, program = subject.device.passport.refresh, subject.program
    if not modes or modes[min(program.refresh, len(modes) - 1)].flashes:
        return []
    held, sleeps = program.cleaning.previous, program.cleaning.between == "asleep"
    if held == "board" or (held == "panel" and not sleeps):
        return []
    what = "The picture before is not held, and partial updates are compared with it"
    why = (
        "What the panel compares with is left to chance: old pixels stay."
        if held == "nobody"
        else ("Deep sleep may lose the panel's memory: then old pixels stay. The board has to send both pictures.")
    )
    fix = _cleaning(subject, "Let the board send both", "then two frames go over the link", previous="board")
    severity = "must fix" if held == "nobody" else "worth fixing"
    return [Finding("paper.picture-before-not-held", severity, "E-paper", what, why, fix)]  # type: ignore[arg-type]


def life_used_up(subject: DaySubject) -> list[Finding]:
    """It is refreshed so often that its rated life ends within years."""
    day = subject.day
    a_day = day.updates * DAY_MS / day.length_ms
    years = LIFE_UPDATES / a_day / 365.25 if a_day else float("inf")
    if years >= LIFE_YEARS:
        return []
    asked = usual_ms(DAY_MS * LIFE_YEARS * 365.25 / LIFE_UPDATES)
    what = f"It reaches a million updates after {years:.1f} years"
    why = f"{a_day:,.0f} updates a day; e-paper is made for about a million (typical)."
    fix = Fix(
        f"Draw every {asked / 60_000:g} min at most", "program", {"least_ms": asked}, f"then after {LIFE_YEARS} years or more"
    )
    return [Finding("paper.life-used-up", "worth fixing", "E-paper", what, why, fix)]


def day_takes_too_much(subject: DaySubject) -> list[Finding]:
    """A day takes more energy than the maker allows."""
    device, takes, limit = subject.device, subject.energy_mwh, subject.device.energy_limit_mwh
    if limit is None or device.supply.kind == "mains" or takes <= limit:
        return []
    day = subject.day
    a_day = day.steps * DAY_MS / day.length_ms
    lasts = f" The cell lasts {how_many(round(subject.lasts_days), 'day')} (typical)." if subject.lasts_days else ""
    why = f"A day of {how_many(round(a_day), 'drawing')} takes {takes:,.1f} mWh (typical); the limit is {limit:,.1f}.{lasts}"
    what = f"A day takes {takes - limit:,.1f} mWh more than allowed"
    return [Finding("energy.day-over-limit", "must fix", "Energy per day", what, why, _rarer(subject, limit))]


def _rarer(subject: DaySubject, limit: float) -> Fix | None:
    """The shortest usual interval at which the day's energy fits: what updates take falls with their number, the rest stays."""
    day, rest = subject.day, subject.asleep_mwh
    if not subject.device.passport.refresh or rest >= limit or not day.steps:
        return None
    every_ms = day.length_ms / day.steps
    wanted = usual_ms(every_ms * (subject.energy_mwh - rest) / (limit - rest))
    then = rest + (subject.energy_mwh - rest) * every_ms / wanted
    words = f"{wanted / 60_000:g} min" if wanted < 7_200_000 else f"{wanted / 3_600_000:g} h"
    return Fix(f"Draw every {words} at most", "program", {"least_ms": wanted}, f"then {then:.1f} mWh")


RULES = (
    updated_too_often,
    updates_overlap,
    never_cleaned,
    many_partials,
    left_powered,
    picture_before_not_held,
    out_of_its_temperatures,
    life_used_up,
    day_takes_too_much,
)


def long_findings(subject: DaySubject) -> list[Finding]:
    """Findings on a whole day of a device."""
    return [finding for rule in RULES for finding in rule(subject)]
