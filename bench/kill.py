"""Sixty kills in the middle of writing: `python -m bench.kill`.

Web processes, worker, feed and database are ended without warning, one after the other, while makers save texts and jobs run.
To hold: no save that was acknowledged is lost or altered, every job ends or goes on within 30 s, and nothing stays away.
"""

import html
import io
import os
import random
import re
import signal
import threading
import time

from PIL import Image

from bench.scenes import landscape
from bench.service import Maker, Service, service, share

KILLS, MAKERS, LONGEST_AWAY_S, LONGEST_JOB_S = 60, 4, 30.0, 30.0
BASE, TEXTS, JOB = (
    re.compile(r'name="base" value="(\d+)"'),
    re.compile(r"(?s)<textarea[^>]*>(.*?)</textarea>"),
    re.compile(r"/jobs/(\d+)/"),
)
PROGRESS = re.compile(r"<progress([^>]*)>")


class Writer(threading.Thread):
    """A maker who saves a new text again and again, and notes what was acknowledged."""

    def __init__(self, running: Service, name: str) -> None:
        super().__init__(daemon=True)
        self.maker = Maker(running.address)
        self.maker.sign_up(name)
        self.build = self.maker.new_build()
        self.page = f"{self.build}lettering/measuring/"
        self.saved, self.lost, self.over = 0, 0, threading.Event()
        self.kept, self.unsure = "", ""

    def run(self) -> None:
        number = 0
        while not self.over.wait(0.05):
            status, text, *_ = self.maker.ask(self.page)
            if status != 200:
                continue
            self.check(text)
            number += 1
            words, base = f"Tide {number} m", BASE.search(text)
            status, _, _, where = self.maker.ask(f"{self.page}texts/", {"texts": words, "base": base[1] if base else "0"})
            if status == 200 and where.startswith(self.page):
                self.saved, self.kept, self.unsure = self.saved + 1, words, ""
            else:
                self.unsure = words  # it may have been stored before the answer was lost

    def check(self, page: str) -> None:
        found = TEXTS.search(page)
        now = html.unescape(found[1]).strip() if found else ""
        if now not in (self.kept, self.unsure):
            self.lost += 1
        self.kept, self.unsure = now, ""


def victims(running: Service) -> list[tuple[str, int]]:
    """What can be killed: the database, and the children of the one that supervises."""
    numbers = running.processes()
    children = []
    for pid in numbers:
        with open(f"/proc/{pid}/stat") as told:
            parent = int(told.read().rpartition(")")[2].split()[1])
        if parent in numbers:
            children.append(("process", pid))
    return [*children, ("database", running.database())]


def main() -> None:
    dice = random.Random("kills")
    out = io.BytesIO()
    Image.fromarray(landscape(7)).save(out, "PNG")
    with service() as running:
        writers = [Writer(running, f"writer{n}") for n in range(MAKERS)]
        jobber = Maker(running.address)
        jobber.sign_up("jobber")
        build = jobber.new_build("epaper-800x480-seven-colour")
        jobber.ask(f"{build}pictures/")
        picture = jobber.upload(f"{build}pictures/add/", "picture", "marsh.png", out.getvalue())[3]
        for writer in writers:
            writer.start()
        away, jobs = [], []
        for number in range(KILLS):
            name, pid = dice.choice(victims(running))
            if number % 5 == 0:
                jobber.ask(picture)
                jobber.ask(f"{picture}variants/try/", {})
            os.kill(pid, signal.SIGKILL)
            begun = time.monotonic()
            while jobber.ask("/panels/")[0] != 200:
                if time.monotonic() - begun > LONGEST_AWAY_S:
                    raise RuntimeError(f"after a kill of the {name} nothing answers")
                time.sleep(0.1)
            away.append(time.monotonic() - begun)
            time.sleep(dice.uniform(0.2, 1.0))
            if number % 5 == 4:
                jobs.append(job_over(jobber, picture))
        for writer in writers:
            writer.over.set()
            writer.join(30)
        for writer in writers:
            writer.check(writer.maker.ask(writer.page)[1])
        saved, lost = sum(w.saved for w in writers), sum(w.lost for w in writers)
        print(f"{KILLS} kills: {saved:,} saves acknowledged, {lost} lost or altered")
        print(f"away for {share(away, 0.5):.1f} s at the median, {max(away):.1f} s at most")
        moves, overs = zip(*jobs, strict=True)
        print(f"{len(jobs)} jobs: going on within {max(moves):.1f} s of the last kill, over within {max(overs):.1f} s")


def job_over(maker: Maker, picture: str) -> tuple[float, float]:
    """Seconds until the job of the page moves on from where it stood, and until it is over, however it ends."""
    begun, stood, moved = time.monotonic(), "", 0.0
    while time.monotonic() - begun < 4 * LONGEST_JOB_S:
        found = JOB.search(maker.ask(f"{picture}variants/")[1])
        state = maker.ask(f"/jobs/{found[1]}/")[1] if found else ""
        if "<progress" not in state:
            break
        stands = PROGRESS.search(state)[1]  # type: ignore[index]
        if stood and stands != stood and not moved:
            moved = time.monotonic() - begun
        stood = stands
        time.sleep(0.2)
    over = time.monotonic() - begun
    return moved or over, over


if __name__ == "__main__":
    main()
