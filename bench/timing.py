"""Timing two things in turn by processor time, so that a machine that is busy or slows down changes neither."""

import statistics
import time
from collections.abc import Callable


def interleaved(first: Callable[[], object], second: Callable[[], object], rounds: int = 25) -> tuple[float, float]:
    """Median seconds of processor time of this thread for each of two functions, run in turn after one warm-up."""
    first(), second()
    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for kept, function in zip(times, (first, second), strict=True):
            begun = time.thread_time()
            function()
            kept.append(time.thread_time() - begun)
    return statistics.median(times[0]), statistics.median(times[1])
