"""Frames for devices: `python -m bench.frames`. Processor time of an answer, unchanged and whole, and of a hand-over."""

import time
from collections.abc import Callable
from pathlib import Path

from bench.database import database

ROUNDS = 300
EXAMPLE = Path(__file__).resolve().parent.parent / "examples" / "builds" / "tide_wind_board.zip"


def _ms(work: Callable[[], object], rounds: int) -> float:
    """Median milliseconds of processor time."""
    times = []
    for _ in range(rounds):
        begun = time.process_time()
        work()
        times.append(time.process_time() - begun)
    return sorted(times)[rounds // 2] * 1000


def main() -> None:
    with database():
        from django.test import Client

        from mosaic.build_file import read
        from mosaic.handover.making import hand_over
        from mosaic.handover.proof import prove
        from workshop.accounts.models import User
        from workshop.handover import device_views
        from workshop.handover.frames import Bucket, feed_of, renew
        from workshop.stations.build_file import bring_build

        device_views.POLLS = Bucket(1e9, 1e9)
        data = EXAMPLE.read_bytes()
        build = bring_build(data, owner=User.objects.create_user("bench", password="thrown-away-afterwards"))
        token, client = renew(feed_of(build)), Client(HTTP_HOST="127.0.0.1")
        told = {"Authorization": f"Bearer {token}"}
        first = client.get(f"/builds/{build.pk}/frame.bin", headers=told)
        same = {**told, "If-None-Match": first["ETag"]}
        loop = _ms(lambda: sum(range(1_000_000)), 9)
        print(f"a loop over a million sums       {loop:8.1f} ms")
        unchanged = _ms(lambda: client.get(f"/builds/{build.pk}/frame.bin", headers=same), ROUNDS)
        print(f"a question, unchanged            {unchanged:8.2f} ms  {unchanged / loop:6.3f} loops")
        whole = _ms(lambda: client.get(f"/builds/{build.pk}/frame.bin", headers=told), ROUNDS)
        print(f"a question, {len(first.content):,} bytes          {whole:8.2f} ms  {whole / loop:6.3f} loops")
        file = read(data)
        made = _ms(lambda: hand_over(file), 5)
        print(f"a hand-over                      {made:8.0f} ms  {made / loop:6.1f} loops")
        ready, begun = hand_over(file), time.perf_counter()
        prove(ready)
        print(f"its proof, by the clock          {(time.perf_counter() - begun) * 1000:8.0f} ms")


if __name__ == "__main__":
    main()
