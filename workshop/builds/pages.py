"""The frame around every page of a build: header, budget strip, stones."""

from typing import Any

from django.http import Http404
from django.urls import reverse

from mosaic.panels.geometry import seen_outline_mm, seen_size, seen_size_mm
from workshop.builds.models import Build
from workshop.builds.services import Overview
from workshop.builds.stations import STATIONS
from workshop.look.stones import Stone, stone


def own_build(request, build_id: int) -> Build:
    """The person's own build; another's answers as if it were not there."""
    try:
        return Build.objects.get(pk=build_id, owner=request.user)
    except Build.DoesNotExist:
        raise Http404("no such build") from None


def stones_of(overview: Overview, here: str) -> list[Stone]:
    """The stones of the stations that exist."""
    return [
        stone(
            s.number, s.name, reverse(s.url_name, args=[overview.build.pk]),
            must=overview.must_fix, worth=overview.worth_fixing, begun=bool(overview.pictures), here=s.slug == here,
        )
        for s in STATIONS
    ]  # fmt: skip


def frame_context(overview: Overview, here: str) -> dict[str, Any]:
    """What base_build.html needs."""
    passport, rotation = overview.device.passport, overview.device.turn
    return {
        "build": overview.build,
        "device": overview.device,
        "overview": overview,
        "budgets": overview.budgets,
        "stones": stones_of(overview, here),
        "seen_size": seen_size(passport, rotation),
        "seen_mm": seen_size_mm(passport, rotation),
        "outline_mm": seen_outline_mm(passport, rotation),
        "device_findings": overview.device_findings,
    }
