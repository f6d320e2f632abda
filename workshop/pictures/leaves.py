"""The pages of station 3, in the order of the work."""

from django.urls import reverse

from workshop.builds.models import Build, Picture

OF_ONE = (("picture", "One picture"), ("variants", "Variants"), ("recipes", "Recipes"))
OF_ALL = (("sets", "Sets"), ("strips", "Strips"), ("figures", "Segmented figures"), ("animations", "Animations"))


def leaves_of(build: Build, here: str, picture: Picture | None = None) -> list[tuple[str, str, bool]]:
    """(name, address, whether it is this one) of each page; those of one picture take the build's first where none is at hand."""
    picture = picture or build.pictures.first()
    pages = [(slug, name, reverse(slug, args=[build.pk, picture.pk])) for slug, name in OF_ONE] if picture else []
    pages += [(slug, name, reverse(slug, args=[build.pk])) for slug, name in OF_ALL]
    return [(name, address, slug == here) for slug, name, address in pages]
