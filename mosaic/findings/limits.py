"""Findings on the limits a maker has set: frame time and energy a day."""

from math import ceil

from mosaic.boards.board import highest_clock_hz, link_between
from mosaic.device.budget import Budget, runtime_days
from mosaic.device.device import Device
from mosaic.findings import Finding, Fix
from mosaic.findings.subjects import DeviceSubject
from mosaic.links.kinds import KINDS
from mosaic.narrowing import needed
from mosaic.quantities import as_rate, how_many
from mosaic.refresh.costs import Wire

TWICE = 2
FELT_MS = 20
"""From which gain on a frame a faster clock is worth a word: one frame of a film is 40 ms."""
# Intervals a maker would choose, in minutes.
INTERVALS_MIN = (1, 2, 5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 360, 720, 1440)


def frame_time_over_limit(subject: DeviceSubject) -> list[Finding]:
    """A frame takes longer than the maker allows."""
    frame, device = subject.budget("frame"), subject.device
    if frame.state != "over":
        return []
    limit = needed(frame.limit, "a limit of the frame time")
    parts = ", ".join(f"{part.name} {part.value:,.1f} ms ({part.basis})" for part in frame.parts)
    return [
        Finding(
            "frame.slower-than-limit",
            "worth fixing",
            "Frame time",
            f"A frame takes {frame.value:,.1f} ms, {frame.value - limit:,.1f} ms over the limit",
            f"It is made of: {parts}. Movement will look jerky, or the next update is late.",
            _faster_clock(device),
        )
    ]


def _faster_clock(device: Device) -> Fix | None:
    highest = highest_clock_hz(device.board, device.passport.link(device.link_kind))
    if highest <= device.clock_hz:
        return None
    return Fix(f"Clock the link at {highest / 1e6:g} MHz", "device", {"clock_hz": highest})


def link_slower_than_it_could_be(subject: DeviceSubject) -> list[Finding]:
    """A whole frame would be sent noticeably sooner at the clock that both ends allow; an e-paper refreshes longer anyway."""
    device = subject.device
    option = device.passport.link(device.link_kind)
    highest = highest_clock_hz(device.board, option)
    passport = device.passport
    if passport.refresh or passport.scan is not None or passport.slots is not None or highest < TWICE * device.clock_hz:
        return []
    now_ms = Wire(device, device.link).frame().wire_ms
    then_ms = Wire(device, link_between(device.board, option.kind, highest)).frame().wire_ms
    if now_ms - then_ms < FELT_MS:
        return []
    rate, faster = (as_rate(clock, KINDS[option.kind].clock_name) for clock in (device.clock_hz, highest))
    what = f"The link runs at {rate}; panel and board allow {faster}"
    why = f"A whole frame takes {now_ms:,.1f} ms and would take {then_ms:,.1f} ms (computed). Long wires may need a slower clock."
    fix = Fix(f"Clock the link at {faster}", "device", {"clock_hz": highest}, f"then {then_ms:,.1f} ms a frame")
    return [Finding("link.slower-than-it-could-be", "worth fixing", "Link", what, why, fix)]


def shortest_fitting_interval_s(device: Device, energy: Budget) -> int | None:
    """The shortest usual interval at which the day's energy fits its limit; None if none does.

    Energy of updates falls with their number; what is drawn asleep stays.
    """
    limit = needed(energy.limit, "a limit of the day's energy")
    asleep = next((part.value for part in energy.parts if part.name == "asleep"), 0.0)
    per_second = (energy.value - asleep) * device.update_interval_s
    for minutes in INTERVALS_MIN:
        if asleep + per_second / (minutes * 60) <= limit:
            return minutes * 60
    return None


def updates_follow_too_closely(subject: DeviceSubject) -> list[Finding]:
    """An e-paper is asked for its next update before it has shown the last, or before it may be driven again."""
    device, frame = subject.device, subject.budget("frame")
    if device.passport.technology != "epaper" or subject.budget("energy").is_scheduled:
        return []
    takes, pause = frame.value / 1000, device.passport.update_pause_s
    asked, least = device.update_interval_s, max(takes, pause)
    if asked >= least:
        return []
    fix = Fix(f"Update every {_in_words(_usual(least))}", "device", {"update_interval_s": _usual(least)}, "the finding goes")
    if asked < takes:
        what = f"An update takes {takes:,.1f} s, and one is asked for every {asked:g} s"
        why = "The panel is still busy when the next one comes: it is lost, or the program stands still (typical)."
        return [Finding("energy.updates-overlap", "must fix", "Energy per day", what, why, fix)]
    what = f"An update is asked for every {asked:g} s; this panel needs {pause:g} s between two"
    why = "Driven more often its colours shift, and ghosts stay for good (typical)."
    return [Finding("energy.updates-too-often", "must fix", "Energy per day", what, why, fix)]


def _usual(seconds: float) -> int:
    """The shortest usual interval that is no shorter; beyond a day, whole days."""
    return next((minutes * 60 for minutes in INTERVALS_MIN if minutes * 60 >= seconds), ceil(seconds / 86400) * 86400)


def energy_over_limit(subject: DeviceSubject) -> list[Finding]:
    """A day takes more energy than the maker allows."""
    energy, device = subject.budget("energy"), subject.device
    if energy.state != "over" or energy.is_scheduled:
        return []
    limit = needed(energy.limit, "a limit of the day's energy")
    days = runtime_days(device, energy)
    lasts = f" The cell lasts {how_many(round(days), 'day')} (typical)." if days else ""
    if device.passport.technology == "epaper":
        count = 86400 / device.update_interval_s
        asked = how_many(round(count), "update")
    else:
        hours = device.on_hours_per_day
        asked = f"{hours:g} {'hour' if hours == 1 else 'hours'} awake"
    why = f"A day of {asked} takes {energy.value:,.1f} mWh (typical); the limit is {limit:,.1f}.{lasts}"
    what = f"A day takes {energy.value - limit:,.1f} mWh more than allowed"
    return [Finding("energy.day-over-limit", "must fix", "Energy per day", what, why, _rarer_updates(device, energy))]


def _rarer_updates(device: Device, energy: Budget) -> Fix | None:
    if device.passport.technology != "epaper":
        return None
    seconds = shortest_fitting_interval_s(device, energy)
    if seconds is None or seconds <= device.update_interval_s:
        return None
    asleep = next(part.value for part in energy.parts if part.name == "asleep")
    then = asleep + (energy.value - asleep) * device.update_interval_s / seconds
    return Fix(f"Update every {_in_words(seconds)}", "device", {"update_interval_s": seconds}, f"then {then:.1f} mWh")


def _in_words(seconds: int) -> str:
    return f"{seconds // 60} min" if seconds < 7200 else f"{seconds // 3600} h"
