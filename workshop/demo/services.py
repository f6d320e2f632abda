"""Laying out the demo, once."""

from django.db import transaction

from mosaic.catalogue import merged
from mosaic.panels import loader as panels
from mosaic.panels.loader import passport_from_plain, passport_to_plain
from mosaic.reduce.recipe import Recipe
from workshop.accounts.models import User
from workshop.bringup.services import answer_drill
from workshop.builds.services import overview_of, start_build
from workshop.demo.scenario import BUILDS, COMPARISON, DRILLS, OWN_BOARD, OWN_PANELS, PASSWORD, USERNAME, WORKSHOP, DemoBuild
from workshop.panels.models import Comparison
from workshop.panels.parts import board_of
from workshop.panels.services import change_board, keep_passport, make_board_mine
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
    _load_parts(person)
    return True


def _load_parts(person: User) -> None:
    """Passports and a board of their own, and a comparison made before buying."""
    for slug, changes in OWN_PANELS:
        plain = merged(passport_to_plain(panels.catalogue()[slug]), changes)
        keep_passport(owner=person, passport=passport_from_plain(plain), based_on=slug)
    slug, name, printed = OWN_BOARD
    row = make_board_mine(owner=person, entry=board_of(person, slug))
    pins = [{**pin, "name": printed.get(pin["name"], pin["name"])} for pin in row.board["pins"]]
    change_board(row=row, plain={**row.board, "name": name, "pins": pins}, revision=row.revision)
    Comparison.objects.create(owner=person, **COMPARISON)
    for made, named in DRILLS:
        answer_drill(owner=person, panel="mono-oled-128x64", made=made, named=named)


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
