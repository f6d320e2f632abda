"""Thirty makers at once, and two hundred who only hold a connection open: `python -m bench.load`.

Each maker looks at a page, previews four times, saves, and thinks for one to two seconds before each. Times are those a
maker waits, at medians and at the 95th percentile; the machine, these makers included, has the cores it has. To hold: 95th
percentile under 400 ms.
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

MAKERS, IDLE, SECONDS, THINKS_S = 30, 200, 40.0, (1.0, 2.0)
WARMS_S = 15.0
KINDS = ("page", "preview", "save")


def work(maker: Maker, page: str, until: float, times: dict[str, list[float]], bad: list[str], seed: int) -> None:
    dice = random.Random(seed)
    time.sleep(dice.uniform(0, THINKS_S[1]))
    while time.monotonic() < until:
        status, text, took, _ = maker.ask(page)
        times["page"].append(took)
        base = re.search(r'name="base"[^>]*value="(\d+)"', text)
        for _ in range(4):
            time.sleep(dice.uniform(*THINKS_S))
            fields = {"exposure": f"{dice.uniform(-1, 1):.4f}", "base": base[1] if base else ""}
            status, _, took, _ = maker.ask(f"{page}preview/", fields, {"HX-Request": "true", "X-Live": "1"})
            times["preview"].append(took)
            if status != 200:
                bad.append(f"preview {status}")
        time.sleep(dice.uniform(*THINKS_S))
        status, text, took, _ = maker.ask(f"{page}save/", fields, {"HX-Request": "true"})
        times["save"].append(took)
        if status != 200:
            bad.append(f"save {status}")
        time.sleep(dice.uniform(*THINKS_S))


def run(address: str, pages: list[tuple[Maker, str]], seconds: float) -> tuple[dict[str, list[float]], list[str]]:
    times: dict[str, list[float]] = {kind: [] for kind in KINDS}
    bad: list[str] = []
    until = time.monotonic() + seconds
    threads = [threading.Thread(target=work, args=(m, page, until, times, bad, n)) for n, (m, page) in enumerate(pages)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return times, bad


def told(words: str, times: dict[str, list[float]], bad: list[str], seconds: float) -> None:
    count = sum(map(len, times.values()))
    print(f"{words}: {count / seconds:.1f} requests a second, {len(bad)} refused or lost")
    for kind in KINDS:
        middle, most = statistics.median(times[kind]) * 1000, share(times[kind], 0.95) * 1000
        print(f"  {kind:8} median {middle:4.0f} ms, 95th percentile {most:4.0f} ms")


def main() -> None:
    out = io.BytesIO()
    Image.fromarray(landscape(7)).save(out, "PNG")
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
        told(f"{MAKERS} makers", *run(running.address, pages, SECONDS), SECONDS)
        idle = [socket.create_connection(("127.0.0.1", PORT)) for _ in range(IDLE)]
        for client in idle[::2]:
            client.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\n")
        told(f"the same with {IDLE} idle connections", *run(running.address, pages, SECONDS / 2), SECONDS / 2)
        for client in idle:
            client.close()


if __name__ == "__main__":
    main()
