"""Readings that another program hands in by the names of values, and what values are at a moment of a host's clock."""

from collections.abc import Iterable, Mapping
from typing import Any

from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.values.printing import DAY_S
from mosaic.values.states import State
from mosaic.values.value import Reading, Value

MOST_GIVEN = 512


def readings_given(plain: Any, values: Iterable[Value], what: str = "the values") -> dict[str, Reading]:
    """Readings by id, of an object such as `{"tide": 4.6, "lamp": "on", "wind": null}`; null is absent.

    Raises
    ------
    BadDescriptionError, BadValueError
        It is no object, names a value that is not there, or gives it what it cannot be.
    """
    if not isinstance(plain, dict):
        raise BadDescriptionError(f'{what} are no object; {{"tide": 4.6}} is accepted', path="$")
    if len(plain) > MOST_GIVEN:
        raise BadValueError(f"{len(plain):,} values are given; up to {MOST_GIVEN} are accepted")
    by_name = {value.name.lower(): value for value in values}
    found: dict[str, Reading] = {}
    for name, given in plain.items():
        value = by_name.get(str(name).lower())
        if value is None:
            known = ", ".join(one.name for one in by_name.values()) or "none"
            raise BadValueError(f"there is no value called {str(name)[:40]}; {known} are there")
        if isinstance(given, bool):
            found[value.id] = int(given) if value.kind == "yes/no" else value.raw_of(str(int(given)))
        elif given is None or isinstance(given, int | float | str):
            found[value.id] = None if given is None else value.raw_of(str(given)[:400])
        else:
            raise BadValueError(f"{value.name} is given as a list or an object; a number, a text or null is accepted")
    return found


Kept = Mapping[str, tuple[Reading, float]]
"""Readings that were handed in, by id, with the second of the host's clock at which they were."""


def at_moment(values: Iterable[Value], kept: Kept, now_s: float, day_s: int, days: int) -> State:
    """What values are for a frame that a host computes now.

    Parameters
    ----------
    now_s : the host's clock, of which `kept` has moments. day_s : seconds since midnight where the device hangs, and days since
        1970-01-01: times and dates whose stand-in is a clock are taken from them, at the rate of their source.
    """
    readings: dict[str, Reading] = {}
    stale = set()
    for value in values:
        if not value.is_given:
            continue
        if value.id in kept:
            readings[value.id], at = kept[value.id]
            if value.max_age_s and now_s - at > value.max_age_s:
                stale.add(value.id)
        elif value.stand_in.by == "clock" and value.kind in ("time", "date"):
            every_s = max(1, value.source.every_ms // 1000) if value.kind == "time" else 1
            low, high = value.bounds
            found = day_s % DAY_S // every_s * every_s if value.kind == "time" else days
            readings[value.id] = min(max(found, low), high)
        elif value.origin.by == "blink":
            readings[value.id] = 1
        elif value.origin.by == "rules":
            readings[value.id] = value.origin.first
        else:
            readings[value.id] = None
    return State("now", "now", readings, frozenset(stale), {value.id: () for value in values if value.is_number}, day_s * 10)


def ask_again_s(every_ms: Iterable[int], least_ms: int, pause_s: float, slower: int, usual_s: float) -> int:
    """Seconds after which a device asks for its next frame: when the soonest of what is shown may have changed.

    every_ms : from one reading to the next of each value that is shown; none for a picture that stays. least_ms : from one
    drawing to the next by the schedule; pause_s : that the panel asks for. usual_s : where nothing is shown that changes.

    >>> ask_again_s([60_000, 5_000], 0, 0.0, 1, 900.0), ask_again_s([5_000], 30_000, 180.0, 2, 900.0)
    (5, 360)
    >>> ask_again_s([], 0, 0.0, 1, 900.0)
    900
    """
    known = [one for one in every_ms if one > 0]
    soonest = min(known) / 1000 if known else usual_s
    return max(1, round(max(soonest, least_ms / 1000, pause_s) * (slower if known else 1)))
