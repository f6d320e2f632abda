"""Lists with very many entries: `python -m bench.lists`, with the application's own database settings in the environment.

Everything is made in one transaction that is taken back at the end; nothing of it stays.
"""

import statistics
import time

import django

django.setup()

from django.db import connection, transaction  # noqa: E402
from django.test import Client  # noqa: E402
from django.test.utils import CaptureQueriesContext  # noqa: E402
from django.urls import reverse  # noqa: E402

from mosaic.panels.loader import catalogue, passport_to_plain  # noqa: E402
from workshop.accounts.models import User  # noqa: E402
from workshop.panels.models import OwnPassport  # noqa: E402
from workshop.panels.services import words_of  # noqa: E402

OWN = 500
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


def main() -> None:
    with transaction.atomic():
        person = User.objects.create_user("bench-of-lists", password="thrown-away-afterwards")
        client = Client(HTTP_HOST="127.0.0.1")
        client.force_login(person)
        addresses = [reverse("panels"), reverse("panels") + "?q=128x64+i2c", reverse("panels") + "?page=15", reverse("new-build")]
        before = {address: measure(client, address) for address in addresses}
        lay_out(person)
        print(f"{'page':34} {'with none':>16} {f'with {OWN} own':>18}")
        for address in addresses:
            (few, q1), (many, q2) = before[address], measure(client, address)
            print(f"{address:34} {few:7.1f} ms, {q1:2} q {many:9.1f} ms, {q2:2} q")
        transaction.set_rollback(True)


if __name__ == "__main__":
    main()
