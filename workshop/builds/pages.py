"""The frame around every page of a build: header, budget strip, stones."""

from typing import Any

from django.http import Http404
from django.urls import reverse

from mosaic.panels.geometry import seen_outline_mm, seen_size, seen_size_mm
from mosaic.panels.mounting import plan_of
from workshop.builds.models import Build
from workshop.builds.services import Overview
from workshop.builds.stations import SENDING, STATIONS, Station
from workshop.look.stones import Stone, stone


def own_build(request, build_id: int) -> Build:
    """The person's own build; another's answers as if it were not there."""
    try:
        return Build.objects.get(pk=build_id, owner=request.user)
    except Build.DoesNotExist:
        raise Http404("no such build") from None


def stones_of(overview: Overview, here: str) -> list[Stone]:
    """The stones of the stations that exist."""
    return [_stone_of(station, overview, here) for station in STATIONS]


def _stone_of(station: Station, overview: Overview, here: str) -> Stone:
    found = station.findings_of(overview)
    must = sum(f["severity"] == "must fix" for f in found)
    return stone(
        station.number, station.name, reverse(station.url_name, args=[overview.build.pk]),
        must=must, worth=len(found) - must, begun=station.begun(overview), here=station.slug == here,
    )  # fmt: skip


def frame_context(overview: Overview, here: str) -> dict[str, Any]:
    """What base_build.html needs."""
    passport, turn = overview.device.passport, overview.device.turn
    return {
        "build": overview.build,
        "device": overview.device,
        "overview": overview,
        "budgets": overview.budgets,
        "stones": stones_of(overview, here),
        "seen_size": seen_size(passport, turn),
        "seen_mm": seen_size_mm(passport, turn),
        "outline_mm": seen_outline_mm(passport, turn),
        "plan": plan_of(passport, turn),
        "device_findings": [f for f in overview.device_findings if not f["id"].startswith(SENDING)],
    }
