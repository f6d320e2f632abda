"""The pages of station 5, in the order of the work."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.screens.documents import ScreenDocument
from workshop.stations.station import Tab


def tabs_of(build: Build, here: str, screen: ScreenDocument | None = None) -> list[Tab]:
    """The station's pages; those of one screen take the build's first where none is at hand."""
    screen = screen or next(iter(shelf.of_kind(build, ScreenDocument)), None)
    one = [("screen", "One screen", screen.url)] if screen else [("screens", "First screen", reverse("screens", args=[build.pk]))]
    pages = [
        *one,
        ("values", "Values", reverse("values", args=[build.pk])),
        ("design", "Styles & shared parts", reverse("design", args=[build.pk])),
    ]
    return [Tab(name, address, slug == here) for slug, name, address in pages]
