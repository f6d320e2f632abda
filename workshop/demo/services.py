"""Laying out the demo, once."""

from django.db import transaction

from mosaic.cards.registry import CARDS, painted
from mosaic.catalogue import merged
from mosaic.conversion.program import transmission
from mosaic.panels import loader as panels
from mosaic.panels.loader import passport_from_plain, passport_to_plain
from mosaic.reduce.recipe import Recipe
from mosaic.virtual.feed import FeedSession
from workshop.accounts.models import User
from workshop.bringup.feed_server import Keeper
from workshop.bringup.models import Feed
from workshop.bringup.services import answer_drill
from workshop.builds.models import Build
from workshop.builds.services import overview_of, start_build
from workshop.demo.letterings import load_letterings
from workshop.demo.photo import CORNERS, WHITES, patch_photo
from workshop.demo.pieces import load_pieces
from workshop.demo.scenario import (
    BUILDS,
    COMPARISON,
    DRILLS,
    OWN_BOARD,
    OWN_PANELS,
    PASSWORD,
    SLIPWAY_COLORS,
    USERNAME,
    WORKSHOP,
    DemoBuild,
)
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
    builds = {build.name: _load_build(build, person) for build in BUILDS}
    _measure_colors(builds["Tide & wind board"], person)
    _draw_over_the_feed(builds["Stroke-rate counter"])
    _load_parts(person)
    load_pieces(builds, person)
    load_letterings(builds)
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


def _measure_colors(build: Build, person: User) -> None:
    """A photo of the patch card, its corners and the paper around it already clicked."""
    original = keep_original(data=patch_photo(SLIPWAY_COLORS), file_name="slipway-card.jpg", owner=person)
    build.patches = {
        "original": original.sha256, "corners": [list(c) for c in CORNERS], "whites": [list(w) for w in WHITES],
    }  # fmt: skip
    build.save(update_fields=["patches"])


def _draw_over_the_feed(build: Build) -> None:
    """What the makers' own program drew last: the counter's letter card, with one byte that was lost on the way."""
    feed = Feed.objects.create(build=build)
    keeper = Keeper(feed, "")
    conversation = FeedSession(lambda token: keeper.panel)
    setting = keeper.setting
    card = painted(CARDS["letter"], setting.passport, setting.turn)
    lines = [f"hello {feed.token}"]
    for sent in (t for part in transmission(card, setting, setting.sending) for t in part.transactions):
        word = {"command": "c", "data": "d", "delay": "delay"}.get(sent.kind, sent.kind)
        more = f" {sent.data.hex()}" if sent.data else f" {sent.wait_ms:g}" if word == "delay" else ""
        lines.append(word + more)
    lines.insert(6, "c A")
    conversation.take("".join(f"{line}\n" for line in lines).encode())
    keeper.keep(conversation, release=True)


def _load_build(demo: DemoBuild, person: User) -> Build:
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
    return build
