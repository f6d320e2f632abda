"""The pages of station 4, in the order of the work."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.lettering.documents import Lettering
from workshop.stations.station import Tab

OF_ONE = (
    ("lettering", "One lettering"), ("lettering-sheet", "Sizes & modes"), ("lettering-characters", "Characters"),
    ("lettering-glyphs", "Glyph bench"), ("lettering-packing", "Packing"),
)  # fmt: skip


def tabs_of(build: Build, here: str, lettering: Lettering | None = None) -> list[Tab]:
    """The station's pages; those of one lettering take the build's first where none is at hand."""
    lettering = lettering or next(iter(shelf.of_kind(build, Lettering)), None)
    pages = [(slug, name, reverse(slug, args=[build.pk, lettering.pk])) for slug, name in OF_ONE] if lettering else []
    pages = [("faces", "Faces", reverse("faces", args=[build.pk])), *pages]
    pages.append(("measuring", "Measuring", reverse("measuring", args=[build.pk])))
    return [Tab(name, address, slug == here) for slug, name, address in pages]
