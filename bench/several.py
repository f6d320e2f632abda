"""Makers against several servers while one after the other dies: `bin/several`, and then `python -m bench.several`.

Every second one of web servers, workers, feed, Redis and proxy is ended without warning, while makers save texts. To hold:
nothing that was acknowledged is lost or altered, and all answers again within ten seconds.
"""

import os
import random
import signal
import subprocess
import time
from pathlib import Path
from types import SimpleNamespace

from bench.kill import Writer
from bench.service import Maker

ADDRESS, MAKERS, KILLS, AWAY_S = "http://127.0.0.1:8480", 8, 40, 10.0


def _told(*words: str) -> str:
    return subprocess.run(words, capture_output=True, text=True, check=False).stdout


def servers() -> list[int]:
    """Processes of `bin/several`, without the one that looks after them, and without the database."""
    there = [int(pid) for pid in _told("pgrep", "-f", "manage.py several").split()]
    if not there:
        raise SystemExit("bin/several is not running")
    below = [int(pid) for parent in there for pid in _told("pgrep", "-P", str(parent)).split()]
    return [pid for pid in below if "maria" not in _told("ps", "-o", "args=", "-p", str(pid))]


def main() -> None:
    if not Path("bin/several").exists():
        raise SystemExit("from the project's root: python -m bench.several")
    makers = [Writer(SimpleNamespace(address=ADDRESS), f"rower{int(time.time())}x{n}") for n in range(MAKERS)]  # type: ignore[arg-type]
    for maker in makers:
        maker.start()
    dice, killed, longest, watcher = random.Random(3), 0, 0.0, Maker(ADDRESS)
    for _ in range(KILLS):
        time.sleep(1)
        os.kill(dice.choice(servers()), signal.SIGKILL)
        killed += 1
        begun = time.monotonic()
        while watcher.ask("/desk/")[0] != 200 and time.monotonic() - begun < AWAY_S:
            time.sleep(0.05)
        longest = max(longest, time.monotonic() - begun)
    for maker in makers:
        maker.over.set()
    for maker in makers:
        maker.join(30)
        maker.check(maker.maker.ask(maker.page)[1])
    saved, lost = sum(maker.saved for maker in makers), sum(maker.lost for maker in makers)
    print(f"{killed} killed; {saved:,} saves acknowledged, {lost} lost or altered; away for {longest:.1f} s at most")


if __name__ == "__main__":
    main()
