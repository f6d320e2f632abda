"""The pages of station 6."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.stations.station import Tab

PAGES = (
    ("refresh", "Draw speed"),
    ("buffers", "Buffers"),
    ("links", "Links"),
    ("windows", "Windows"),
    ("schedule", "Schedule"),
    ("benchmark", "Benchmark"),
    ("energy", "Energy"),
)


def tabs_of(build: Build, here: str) -> list[Tab]:
    return [Tab(name, reverse(slug, args=[build.pk]), slug == here) for slug, name in PAGES]
