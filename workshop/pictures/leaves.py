"""The pages of station 3, in the order of the work."""

from django.urls import reverse

from workshop.builds.models import Build, Picture


def leaves_of(build: Build, here: str, picture: Picture | None = None) -> list[tuple[str, str, bool]]:
    """(name, address, whether it is this one) of each page; those of one picture need one."""
    pages = []
    if picture is not None:
        pages += [
            ("picture", "One picture", reverse("picture", args=[build.pk, picture.pk])),
        ]
    return [(name, address, slug == here) for slug, name, address in pages]
