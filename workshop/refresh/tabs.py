"""The pages of station 6."""

from django.urls import reverse

from mosaic.device.device import Device
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
    ("paper", "E-paper"),
    ("wear", "Wear"),
    ("trace", "Current trace"),
)
ONLY = {"paper": "epaper", "wear": "oled"}
"""Pages for one technology of panels alone."""


def tabs_of(build: Build, device: Device, here: str) -> list[Tab]:
    return [
        Tab(name, reverse(slug, args=[build.pk]), slug == here) for slug, name in PAGES
        if ONLY.get(slug, device.passport.technology) == device.passport.technology
    ]  # fmt: skip
