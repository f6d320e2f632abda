"""The pages of station 4, in the order of the work."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.lettering.models import Lettering

OF_ONE = (
    ("lettering", "One lettering"), ("lettering-sheet", "Sizes & modes"), ("lettering-characters", "Characters"),
    ("lettering-glyphs", "Glyph bench"), ("lettering-packing", "Packing"),
)  # fmt: skip


def leaves_of(build: Build, here: str, lettering: Lettering | None = None) -> list[tuple[str, str, bool]]:
    """(name, address, whether it is this one) of each page; of one lettering, the build's first where none is at hand."""
    lettering = lettering or build.letterings.first()
    pages = [(slug, name, reverse(slug, args=[build.pk, lettering.pk])) for slug, name in OF_ONE] if lettering else []
    pages = [("faces", "Faces", reverse("faces", args=[build.pk])), *pages]
    pages.append(("measuring", "Measuring", reverse("measuring", args=[build.pk])))
    return [(name, address, slug == here) for slug, name, address in pages]
