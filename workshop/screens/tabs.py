"""The pages of station 5, in the order of the work."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.screens.documents import ScreenDocument
from workshop.stations.station import Tab

OF_ONE = (("states", "States"), ("play", "Play"))
"""Pages of one screen besides its first."""


def tabs_of(build: Build, here: str, screen: ScreenDocument | None = None) -> list[Tab]:
    """The station's pages; those of one screen take the build's first where none is at hand."""
    screen = screen or next(iter(shelf.of_kind(build, ScreenDocument)), None)
    one = [("screen", "One screen", screen.url)] if screen else [("screens", "First screen", reverse("screens", args=[build.pk]))]
    pages = [
        *one,
        *([(slug, name, reverse(slug, args=[build.pk, screen.pk])) for slug, name in OF_ONE] if screen else []),
        ("values", "Values", reverse("values", args=[build.pk])),
        ("bands", "Bands", reverse("bands", args=[build.pk])),
        ("behaviour", "Behaviour", reverse("behaviour", args=[build.pk])),
        ("inputs", "In & out", reverse("inputs", args=[build.pk])),
        ("map", "Map", reverse("map", args=[build.pk])),
        ("device", "Device", reverse("device", args=[build.pk])),
        ("design", "Styles & parts", reverse("design", args=[build.pk])),
        ("another-panel", "Another panel", reverse("another-panel", args=[build.pk])),
        ("host-pages", "Host pages", reverse("host-pages", args=[build.pk])),
        ("read-code", "Read code", reverse("read-code", args=[build.pk])),
    ]
    if build.link_kind == "uart":
        pages.append(("serial", "Serial line", reverse("serial", args=[build.pk])))
    return [Tab(name, address, slug == here) for slug, name, address in pages]
