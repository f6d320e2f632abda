"""Thirty makers at once, and two hundred who only hold a connection open: `python -m bench.load`.

Each maker looks at a page, previews four times, saves, and thinks for one to two seconds before each. Times are those a
maker waits, at medians and at the 95th percentile; the machine, these makers included, has the cores it has. A machine
that is shared with others is held up by them: what was asked in seconds of which a tenth or more was taken away from all
processors is told apart. To hold: 95th percentile under 400 ms.
"""

import io
import random
import re
import socket
import statistics
import threading
import time

from PIL import Image

from bench.scenes import landscape
from bench.service import PORT, Maker, service, share

MAKERS, IDLE, SECONDS, THINKS_S = 30, 200, 120.0, (1.0, 2.0)
WARMS_S = 15.0
KINDS = ("page", "preview", "save")
MOST_STOLEN = 0.1
Times = dict[str, list[tuple[float, float]]]
"""By kind: when it was asked, and how long it took, in s."""


class Stolen(threading.Thread):
    """How much of each second the processors worked for others, as the kernel counts it."""

    def __init__(self) -> None:
        super().__init__(daemon=True)
        self.seconds: list[tuple[float, float]] = []

    def run(self) -> None:
        before = self._counts()
        while True:
            time.sleep(1)
            now = self._counts()
            gone = [b - a for a, b in zip(before, now, strict=True)]
            self.seconds.append((time.monotonic(), gone[7] / max(1, sum(gone[:8]))))
            before = now

    @staticmethod
    def _counts() -> list[int]:
        with open("/proc/stat") as told:
            return [int(word) for word in told.readline().split()[1:]]

    def own(self, begin: float, took: float) -> bool:
        """Whether the machine had its processors for itself all the while."""
        return all(share < MOST_STOLEN for at, share in self.seconds if begin <= at and at - 1 <= begin + took)


def work(maker: Maker, page: str, until: float, times: Times, bad: list[str], seed: int) -> None:
    dice = random.Random(seed)
    time.sleep(dice.uniform(0, THINKS_S[1]))
    while time.monotonic() < until:
        status, text, took, _ = maker.ask(page)
        times["page"].append((time.monotonic() - took, took))
        base = re.search(r'name="base"[^>]*value="(\d+)"', text)
        for _ in range(4):
            time.sleep(dice.uniform(*THINKS_S))
            fields = {"exposure": f"{dice.uniform(-1, 1):.4f}", "base": base[1] if base else ""}
            status, _, took, _ = maker.ask(f"{page}preview/", fields, {"HX-Request": "true", "X-Live": "1"})
            times["preview"].append((time.monotonic() - took, took))
            if status != 200:
                bad.append(f"preview {status}")
        time.sleep(dice.uniform(*THINKS_S))
        status, text, took, _ = maker.ask(f"{page}save/", fields, {"HX-Request": "true"})
        times["save"].append((time.monotonic() - took, took))
        if status != 200:
            bad.append(f"save {status}")
        time.sleep(dice.uniform(*THINKS_S))


def run(address: str, pages: list[tuple[Maker, str]], seconds: float) -> tuple[Times, list[str]]:
    times: Times = {kind: [] for kind in KINDS}
    bad: list[str] = []
    until = time.monotonic() + seconds
    threads = [threading.Thread(target=work, args=(m, page, until, times, bad, n)) for n, (m, page) in enumerate(pages)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return times, bad


def told(words: str, stolen: Stolen, times: Times, bad: list[str], seconds: float) -> None:
    count = sum(map(len, times.values()))
    print(f"{words}: {count / seconds:.1f} requests a second, {len(bad)} refused or lost")
    for kind in KINDS:
        for which, known in (("all", times[kind]), ("on its own", [one for one in times[kind] if stolen.own(*one)])):
            if len(known) > 20:
                took = [one for _, one in known]
                middle, most = statistics.median(took) * 1000, share(took, 0.95) * 1000
                print(f"  {kind:8} {which:10} {len(known):5}, median {middle:4.0f} ms, 95th percentile {most:4.0f} ms")


def main() -> None:
    out = io.BytesIO()
    Image.fromarray(landscape(7)).save(out, "PNG")
    stolen = Stolen()
    stolen.start()
    with service(demo=False) as running:
        pages = []
        for number in range(MAKERS):
            maker = Maker(running.address)
            maker.sign_up(f"rower{number}")
            build = maker.new_build()
            maker.ask(f"{build}pictures/")
            page = maker.upload(f"{build}pictures/add/", "picture", "marsh.png", out.getvalue())[3]
            maker.ask(page)
            pages.append((maker, page))
        run(running.address, pages, WARMS_S)  # what is read and decoded once
        told(f"{MAKERS} makers", stolen, *run(running.address, pages, SECONDS), SECONDS)
        idle = [socket.create_connection(("127.0.0.1", PORT)) for _ in range(IDLE)]
        for client in idle[::2]:
            client.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\n")
        told(f"the same with {IDLE} idle connections", stolen, *run(running.address, pages, SECONDS / 3), SECONDS / 3)
        for client in idle:
            client.close()


if __name__ == "__main__":
    main()
