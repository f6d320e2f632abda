"""The frame around every page of a build: header, budget strip, stones."""

from typing import Any

from django.urls import reverse

from mosaic.panels.geometry import seen_outline_mm, seen_size, seen_size_mm
from mosaic.panels.mounting import mounting_plan
from mosaic.pixels.array_forms import array_forms, form_name
from workshop.look.stones import Stone, stone
from workshop.stations import stations
from workshop.stations.overview import Overview
from workshop.stations.station import NextStep, Station

FILLS_THE_GLASS = 3
"""The first station that puts something on the glass."""
WORK_WITH_THE_GLASS = (6, 7)
"""Stations that have nothing to work with before."""


def stones_of(overview: Overview, here: str) -> list[Stone]:
    """The stones of the stations that exist."""
    return [_stone_of(station, overview, here) for station in stations()]


def _stone_of(station: Station, overview: Overview, here: str) -> Stone:
    found = [placed.finding for placed in overview.findings if placed.station is station]
    must = sum(f["severity"] == "must fix" for f in found)
    return stone(
        station.number, station.name, reverse(station.home, args=[overview.build.pk]), must=must, worth=len(found) - must,
        begun=station.begun(overview.build, overview.by_station[station.slug]), here=station.slug == here,
    )  # fmt: skip


def next_step(overview: Overview, here: str) -> NextStep | None:
    """What is missing here, else at the stations behind it, else at those before; None where everything has been begun."""
    order = list(stations())
    at = next((n for n, station in enumerate(order) if station.slug == here), 0)
    if order[at].number in WORK_WITH_THE_GLASS and not overview.first_glass:
        at = next((n for n, station in enumerate(order) if station.number == FILLS_THE_GLASS), at)
    steps = (station.next_step(overview) for station in [*order[at:], *order[:at]])
    return next((step for step in steps if step is not None), None)


def frame_context(overview: Overview, here: str) -> dict[str, Any]:
    """What base_build.html needs."""
    passport, turn = overview.device.passport, overview.device.turn
    return {
        "build": overview.build,
        "device": overview.device,
        "overview": overview,
        "budgets": overview.budgets,
        "stones": stones_of(overview, here),
        "next_step": next_step(overview, here),
        "seen_size": seen_size(passport, turn),
        "seen_mm": seen_size_mm(passport, turn),
        "outline_mm": seen_outline_mm(passport, turn),
        "plan": mounting_plan(passport, turn),
        "array_forms": [(name, words) for name, (words, _) in array_forms(passport.format).items()],
        "array_form": form_name(passport.format, overview.device.sending.array),
        "array_words": overview.device.sending.array_format(passport).describe(),
    }
