"""A trace of five million rows: seconds of processor time to read it and to find what it shows, and the memory that it took.

python -m bench.trace
"""

import resource
import time
from collections.abc import Iterator

import numpy as np

from mosaic.refresh.trace.finding import find
from mosaic.refresh.trace.reading import BLOCK, MOST_ROWS, read_trace

PART = 50_000


def blocks() -> Iterator[bytes]:
    """A device that rests at 50 µA with noise and drift, and takes 30 mA for 4 s each minute."""
    dice, waiting = np.random.default_rng(1), b"Time (s),Current (mA)\n"
    for begin in range(0, MOST_ROWS, PART):
        t = np.arange(begin, begin + PART) * 0.0005
        i = 0.05 + 0.01 * (t / 2500 - 0.5) + dice.normal(0, 0.02, PART) + np.where((t % 60 >= 1) & (t % 60 < 5), 30.0, 0.0)
        waiting += "".join(f"{a:.4f},{b:.5f}\n" for a, b in zip(t, i, strict=True)).encode()
        while len(waiting) >= BLOCK:
            yield waiting[:BLOCK]
            waiting = waiting[BLOCK:]
    yield waiting


def main() -> None:
    find(read_trace([b"".join(b"%d,%d\n" % (n, n % 7) for n in range(300))]))  # compiles
    read, since = 0.0, time.process_time()

    def measured() -> Iterator[bytes]:
        nonlocal read, since
        read += time.process_time() - since
        for block in blocks():
            since = time.process_time()
            yield block
            read += time.process_time() - since
        since = time.process_time()

    trace = read_trace(measured())
    begin = time.process_time()
    found = find(trace)
    end = time.process_time()
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"{found.rows:,} rows read in {read:.2f} s, found in {end - begin:.2f} s, {peak:.0f} MiB at most (6 s and 300 MiB wanted)"
    )
    kind = found.kinds[0]
    print(f"floor {1000 * found.idle_ma:.2f} µA of 50, charge {kind.charge_mc:.2f} mC of 120, period {kind.period_s:.2f} s of 60")


if __name__ == "__main__":
    main()
