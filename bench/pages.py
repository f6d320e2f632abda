"""Every page of every build of the demo, warm: `python -m bench.pages`, on a throw-away database.

Pages are asked for by the client of the tests, without a server between: what it adds is the same for all. To hold: no page over
150 ms by the clock on a quiet machine, none with more than 20 queries.
"""

import time

from bench.database import database

ROUNDS, SHOWN = 3, 12


def main() -> None:
    from django.conf import settings
    from django.db import connection
    from django.test import Client
    from django.test.utils import CaptureQueriesContext

    from tests.crawl import each_kind, kind_in_build
    from workshop.accounts.models import User
    from workshop.demo.services import load_demo

    load_demo(fresh=True)
    client = Client(SERVER_NAME="localhost")
    client.force_login(User.objects.get(username=settings.DEMO_USERNAME))
    answers = list(each_kind(client, kind_in_build))
    pages = [address for address, answer in answers if not answer.streaming and b"<html" in answer.content[:60]]
    rows = []
    for address in pages:
        with CaptureQueriesContext(connection) as queries:
            client.get(address)
        count, times = len(queries), []
        for _ in range(ROUNDS):
            begun, worked = time.perf_counter(), time.process_time()
            client.get(address)
            times.append((time.perf_counter() - begun, time.process_time() - worked))
        rows.append((*sorted(times)[ROUNDS // 2], count, address))
    rows.sort(reverse=True)
    print(f"{len(rows)} pages, medians of {ROUNDS}: by the clock, processor time, queries")
    for clock, worked, count, address in rows[:SHOWN]:
        print(f"{clock * 1000:6.0f} ms {worked * 1000:6.0f} ms {count:3}  {address}")
    print(f"over 150 ms: {sum(row[0] > 0.15 for row in rows)}; most queries: {max(row[2] for row in rows)}")


if __name__ == "__main__":
    with database():
        main()
