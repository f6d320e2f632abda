"""The pages of station 7."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.stations.station import Tab

PAGES = (
    ("hand-over", "Files"),
    ("hand-over-changes", "What changed"),
    ("hand-over-live", "Live"),
    ("frame-feed", "Frame feed"),
    ("hand-over-sizes", "Sizes"),
)


def tabs_of(build: Build, here: str) -> list[Tab]:
    return [Tab(name, reverse(slug, args=[build.pk]), slug == here) for slug, name in PAGES]
