"""Serial panels: a map of 200 values placed and laid out, frames read out of a stream, in ms of processor time.

python -m bench.serial
"""

import random
import time
from collections.abc import Callable

from mosaic.serial.frames import Message, Reader, encode
from mosaic.serial.memory import MemoryMap, automatic, ribbon, to_csv
from mosaic.serial.template import TEMPLATES
from mosaic.values.value import Value

FRAMES = 10_000


def _ms(work: Callable[[], object], times: int) -> float:
    best = float("inf")
    for _ in range(times):
        begin = time.process_time()
        work()
        best = min(best, time.process_time() - begin)
    return 1000 * best


def main() -> None:
    values = [Value(f"v{n}", f"value {n}", low=0, high=100 * n) for n in range(1, 201)]
    known = automatic(values, MemoryMap())
    placed = _ms(lambda: (automatic(values, MemoryMap()), ribbon(known), to_csv(known, values)), 5)
    print(f"200 values placed, laid out as a ribbon, written as CSV    {placed:7.1f} ms (100 wanted, with drawing)")
    dice = random.Random(1)
    for name, template in TEMPLATES.items():
        sent = b"".join(encode(Message("write", n % 4096, dice.randbytes(2)), template) for n in range(FRAMES))
        plain = _ms(lambda data=sent, how=template: Reader(how).feed(data), 2)
        print(f"{FRAMES:,} frames read, {name:27} {plain:7.1f} ms, {1000 * plain / FRAMES:.1f} µs each")


if __name__ == "__main__":
    main()
