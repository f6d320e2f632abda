"""The pages of station 3, in the order of the work."""

from django.urls import reverse

from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.pictures.documents import Picture
from workshop.stations.station import Tab

OF_ONE = (("picture", "One picture"), ("variants", "Variants"), ("recipes", "Recipes"))
OF_ALL = (("sets", "Sets"), ("strips", "Strips"), ("figures", "Segmented figures"), ("animations", "Animations"))


def tabs_of(build: Build, here: str, picture: Picture | None = None) -> list[Tab]:
    """The station's pages; those of one picture take the build's first where none is at hand."""
    picture = picture or next(iter(shelf.of_kind(build, Picture)), None)
    pages = [(slug, name, reverse(slug, args=[build.pk, picture.pk])) for slug, name in OF_ONE] if picture else []
    pages += [(slug, name, reverse(slug, args=[build.pk])) for slug, name in OF_ALL]
    return [Tab(name, address, slug == here) for slug, name, address in pages]
