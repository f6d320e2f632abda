"""Timing two things in turn, so that a machine that slows down slows both."""

import statistics
import time
from collections.abc import Callable


def interleaved(first: Callable[[], object], second: Callable[[], object], rounds: int = 25) -> tuple[float, float]:
    """Median seconds of each of two functions, run in turn after one warm-up."""
    first(), second()
    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for kept, function in zip(times, (first, second), strict=True):
            begun = time.perf_counter()
            function()
            kept.append(time.perf_counter() - begun)
    return statistics.median(times[0]), statistics.median(times[1])
