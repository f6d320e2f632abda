"""Laying out the demo, once."""

from django.db import transaction

from mosaic.reduce.recipe import Recipe
from workshop.accounts.models import User
from workshop.builds.services import overview_of, start_build
from workshop.demo.scenario import BUILDS, PASSWORD, USERNAME, WORKSHOP, DemoBuild
from workshop.pictures.services import add_picture, keep_original


@transaction.atomic
def load_demo(*, fresh: bool = False) -> bool:
    """Make the demo's person and builds; True if anything was made.

    With `fresh` the demo person and all it owns are removed first; nobody else's work is touched.
    """
    if fresh:
        User.objects.filter(username=USERNAME).delete()
    if User.objects.filter(username=USERNAME).exists():
        return False
    person = User.objects.create_user(USERNAME, password=PASSWORD, workshop_name=WORKSHOP)
    for build in BUILDS:
        _load_build(build, person)
    return True


def _load_build(demo: DemoBuild, person: User) -> None:
    build = start_build(
        owner=person,
        name=demo.name,
        place=demo.place,
        panel=demo.panel,
        board=demo.board,
        link_kind=demo.link_kind,
        **demo.values,
    )
    for picture in demo.pictures:
        original = keep_original(data=picture.paint(), file_name=picture.file_name, owner=person)
        recipe = Recipe().with_changes(**picture.recipe)
        add_picture(build=build, original=original, file_name=picture.file_name, recipe=recipe, name=picture.name)
    overview_of(build)  # figures are kept with the pictures, so that the first page is as quick as any
