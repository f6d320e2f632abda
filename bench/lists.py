"""Lists with very many entries: `python -m bench.lists`, with the application's own database settings in the environment.

Five hundred passports of one's own; then a hundred builds of twenty pictures and ten screens each, beside one such build alone.
Everything is made in one transaction that is taken back at the end; nothing of it stays. To hold: under 200 ms, and no query
more than with few.
"""

import io
import statistics
import time

import django

django.setup()

from django.db import connection, transaction  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402
from django.urls import reverse  # noqa: E402
from PIL import Image  # noqa: E402

from bench.scenes import landscape  # noqa: E402
from mosaic.panels.loader import catalogue, passport_to_plain  # noqa: E402
from mosaic.reduce.recipe import Recipe  # noqa: E402
from mosaic.screens.screen import Anchor, Element, Screen  # noqa: E402
from workshop.accounts.models import User  # noqa: E402
from workshop.builds.models import Build  # noqa: E402
from workshop.builds.services import start_build  # noqa: E402
from workshop.documents import services as documents  # noqa: E402
from workshop.documents.originals import keep_picture  # noqa: E402
from workshop.panels.models import OwnPassport  # noqa: E402
from workshop.panels.services import words_of  # noqa: E402
from workshop.pictures.services import add_picture  # noqa: E402
from workshop.screens.documents import ScreenDocument  # noqa: E402
from workshop.stations.build_file import bring_build, build_file  # noqa: E402

OWN = 500
BUILDS, PICTURES, SCREENS = 100, 20, 10
ROUNDS = 8


def lay_out(person: User) -> None:
    """Passports of one's own, made of the catalogue's in turn."""
    shelf = list(catalogue().values())
    OwnPassport.objects.bulk_create(
        OwnPassport(
            owner=person, name=f"panel {i}", technology=shelf[i % len(shelf)].technology,
            words=f"panel {i} " + words_of(shelf[i % len(shelf)]), passport=passport_to_plain(shelf[i % len(shelf)]),
        )
        for i in range(OWN)
    )  # fmt: skip


def measure(client: Client, address: str) -> tuple[float, int]:
    """Median milliseconds of a page, and its queries."""
    client.get(address)
    times = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        client.get(address)
        times.append((time.perf_counter() - begun) * 1000)
    with CaptureQueriesContext(connection) as queries:
        client.get(address)
    return statistics.median(times), len(queries)


def full_build(person: User) -> Build:
    """A build with all its pictures and screens."""
    parts = {"panel": "mono-oled-128x64", "board": "wireless", "link_kind": "i2c"}
    build = start_build(owner=person, name="Slip board", **parts)
    data = io.BytesIO()
    Image.fromarray(landscape(3)).save(data, "PNG")
    original = keep_picture(data=data.getvalue(), file_name="marsh.png", owner=person)
    for n in range(PICTURES):
        add_picture(build=build, original=original, file_name=f"marsh-{n}.png", recipe=Recipe(exposure=n / 20))
    for n in range(SCREENS):
        boxes = tuple(Element(f"e{i}", "rectangle", x=Anchor(plus=i * 9), y=Anchor(plus=n)) for i in range(6))
        documents.add(ScreenDocument, build=build, name=f"Screen {n}", record=Screen(boxes))
    return build


def pages_of(build: Build) -> list[str]:
    names = ("pictures", "variants", "screens", "map", "refresh", "hand-over", "log", "sheet", "build-panel")
    row = build.documents.filter(kind="picture").first()
    found = [reverse(name, args=[build.pk, *([row.pk] if name == "variants" else [])]) for name in names]
    return ["/", *found, reverse("search") + "?q=marsh", reverse("bin")]


def told(words: str, before: dict[str, tuple[float, int]], client: Client) -> None:
    print(f"{'page':44} {'with few':>16} {words:>18}")
    for address, (few, q1) in before.items():
        many, q2 = measure(client, address)
        print(f"{address:44} {few:7.1f} ms, {q1:2} q {many:9.1f} ms, {q2:2} q")


def main() -> None:
    with transaction.atomic():
        person = User.objects.create_user("bench-of-lists", password="thrown-away-afterwards")
        client = Client(HTTP_HOST="127.0.0.1")
        client.force_login(person)
        addresses = [reverse("panels"), reverse("panels") + "?q=128x64+i2c", reverse("panels") + "?page=15", reverse("new-build")]
        before = {address: measure(client, address) for address in addresses}
        lay_out(person)
        told(f"with {OWN} own", before, client)
        build = full_build(person)
        before = {address: measure(client, address) for address in pages_of(build)}
        data = build_file(build)
        for n in range(1, BUILDS):
            other = bring_build(data, owner=person)
            Build.objects.filter(pk=other.pk).update(name=f"Slip board {n}")
        client.get("/")
        told(f"with {BUILDS} builds", before, client)
        client.get("/?page=25")
        print(f"{'/?page=25':44} {'':16} {measure(client, '/?page=25')[0]:9.1f} ms")
        transaction.set_rollback(True)


if __name__ == "__main__":
    main()
