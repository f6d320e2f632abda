"""Search over 10,000 entries: `python -m bench.search`, with the application's own database settings in the environment.

Everything is made in one transaction that is taken back at the end; nothing of it stays.
"""

import random
from datetime import timedelta

import django

django.setup()

from django.db import transaction  # noqa: E402
from django.test import Client  # noqa: E402
from django.utils import timezone  # noqa: E402

from bench.lists import measure  # noqa: E402
from workshop.accounts.models import User  # noqa: E402
from workshop.builds.services import start_build  # noqa: E402
from workshop.journal import services as journal  # noqa: E402
from workshop.journal.models import LogEntry  # noqa: E402

ENTRIES, BUILDS = 10_000, 40
WORDS = [
    "seated",
    "the",
    "flex",
    "cable",
    "anew,",
    "offset",
    "of",
    "two",
    "columns,",
    "address",
    "found",
    "3D,",
    "library",
    "1.4.0",
    "worked,",
    "reset",
    "too",
    "short,",
    "cold",
    "slipway",
]
SEARCHES = (
    "", "library 1.4.0 worked", "address found 3d", "tag:cable", "kind:measurement", "quantity:voltage", "part:oled",
    "nothing like it",
)  # fmt: skip


def lay_out(person: User) -> None:
    """Entries over forty builds, of made-up words in a made-up order."""
    dice = random.Random(7)
    builds = [
        start_build(owner=person, name=f"Board {n}", panel="mono-oled-128x64", board="small", link_kind="i2c")
        for n in range(BUILDS)
    ]
    now, rows = timezone.now(), []
    for n in range(ENTRIES):
        text = " ".join(dice.choices(WORDS, k=24))
        more = {"quantity": "voltage", "value": dice.uniform(3, 4.2), "kind": "measurement"} if n % 5 == 0 else {}
        tags = "cable" if n % 7 == 0 else ""
        made = now - timedelta(hours=n)
        build = builds[n % BUILDS]
        rows.append(
            journal.checked(LogEntry(build=build, text=text, made=made, tags=tags, state=journal.state_of(build), **more))
        )
    LogEntry.objects.bulk_create(rows, batch_size=1000)


def main() -> None:
    with transaction.atomic():
        person = User.objects.create_user("bench-of-search", password="thrown-away-afterwards")
        lay_out(person)
        client = Client(HTTP_HOST="127.0.0.1")
        client.force_login(person)
        for words in SEARCHES:
            ms, queries = measure(client, f"/search/?q={words.replace(' ', '+')}")
            print(f"{words or '(the page alone)':28} {ms:7.1f} ms {queries:3d} queries")
        transaction.set_rollback(True)


if __name__ == "__main__":
    main()
