"""The pages of station 8."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.stations.station import Tab

PAGES = (
    ("log", "Entries"), ("measured", "Measured"), ("glass-photo", "Photo of the glass"), ("versions", "Versions"),
    ("book", "Build book"),
)  # fmt: skip


def tabs_of(build: Build, here: str) -> list[Tab]:
    return [Tab(name, reverse(slug, args=[build.pk]), slug == here) for slug, name in PAGES]
