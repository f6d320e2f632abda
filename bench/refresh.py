"""How fast the refresh plan is: `python -m bench.refresh`, in processor time, with a million sums as the measure."""

import time

import numpy as np

from mosaic.refresh.costs import Wire
from mosaic.refresh.day.engine import run_day
from mosaic.refresh.day.program import Program
from mosaic.refresh.windows.covering import Coverer
from mosaic.screens.screen import Anchor, Element, Screen
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value
from tests.mosaic.refresh.days import clock, scene_of
from tests.mosaic.refresh.test_windows import drawn
from tests.mosaic.screens.made_up import device

DAY_MS = 86_400_000


def _ms(work: object, times: int) -> float:
    """The least processor time of a few runs, in ms."""
    best = float("inf")
    for _ in range(times):
        begin = time.process_time()
        work()  # type: ignore[operator]
        best = min(best, time.process_time() - begin)
    return best * 1000


def _covered(slug: str) -> tuple[float, float, float]:
    """(median ms, longest ms, largest distance from the bound) over 20 changes by lot."""
    dev, lot = device(slug), np.random.default_rng(5)
    coverer = Coverer(Wire(dev, dev.link))
    changes = [drawn(slug, lot) for _ in range(20)]
    found = [coverer.cover(one) for one in changes]
    spent = sorted(_ms(lambda one=one: coverer.cover(one), 2) for one in changes)
    return spent[10], spent[-1], max(one.off for one in found)


def board():
    """An e-paper whose four values are read every five minutes."""
    values = [
        Value(
            f"v{n}", f"value {n}", high=999, source=Source(every_ms=300_000), stand_in=StandIn("walk", every_ms=300_000, seed=n)
        )
        for n in range(1, 5)
    ]
    lines = tuple(Element(f"e{n}", "text", x=Anchor(plus=4), y=Anchor(plus=28 * n), text=f"{{v{n}}}") for n in range(1, 5))
    return scene_of("epaper-296x128-black-white", values, {"Board": Screen(lines)})


def main() -> None:
    plain = _ms(lambda: sum(n & 7 for n in range(1_000_000)), 5)
    print(f"a million sums in a plain loop                  {plain:8.1f} ms")
    for slug, wanted in (("tft-320x240-touch", 30), ("tft-800x480-parallel", 60), ("mono-oled-128x128", 30)):
        middle, longest, off = _covered(slug)
        words = f"median {middle:6.1f} ms, longest {longest:6.1f} ({wanted} wanted), {off:.1%} above the bound at most"
        print(f"windows, {slug:24} {words}")
    day = _ms(lambda: run_day(*clock(), Program(), DAY_MS), 2)
    print(f"a clock's day with a second hand, 320 x 240     {day:8.0f} ms  {day / plain:6.1f} of it (2 s wanted)")
    paper = _ms(lambda: run_day(*board(), Program(), DAY_MS), 2)
    print(f"an e-paper's day                                {paper:8.0f} ms  {paper / plain:6.1f} of it (300 ms wanted)")


if __name__ == "__main__":
    main()
