"""Laying out the demo, once. What it is made of stands in `workshop.scenario`; each station lays its own part."""

from django.conf import settings
from django.db import transaction

from mosaic.catalogue import merged
from mosaic.panels import loader as panels
from mosaic.panels.loader import passport_from_plain, passport_to_plain
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.builds.services import start_build
from workshop.panels.models import Comparison
from workshop.panels.parts import board_of
from workshop.panels.services import change_board, keep_passport, make_board_mine
from workshop.scenario.builds import BUILDS, COMPARISON, OWN_BOARD, OWN_PANELS, PASSWORD, WORKSHOP, DemoBuild
from workshop.stations import stations
from workshop.stations.overview import overview_of


@transaction.atomic
def load_demo(*, fresh: bool = False) -> bool:
    """Make the demo's person and builds; True if anything was made.

    With `fresh` the demo person and all it owns are removed first; nobody else's work is touched.
    """
    if fresh:
        User.objects.filter(username=settings.DEMO_USERNAME).delete()
    if User.objects.filter(username=settings.DEMO_USERNAME).exists():
        return False
    person = User.objects.create_user(settings.DEMO_USERNAME, password=PASSWORD, workshop_name=WORKSHOP)
    builds = {build.name: _start(build, person) for build in BUILDS}
    _load_parts(person)
    for station in stations():
        station.demo(builds, person)
    for build in builds.values():
        overview_of(build)  # figures are kept with the documents, so that the first page is as quick as any
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


def _start(demo: DemoBuild, person: User) -> Build:
    parts = {"panel": demo.panel, "board": demo.board, "link_kind": demo.link_kind}
    return start_build(owner=person, name=demo.name, place=demo.place, **parts, **demo.values)
