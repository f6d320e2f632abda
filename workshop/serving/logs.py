"""Logs that turn over: the newest few megabytes are kept, and nothing is emptied."""

import contextlib
import shutil
from pathlib import Path

LARGEST = 5 * 2**20
KEPT = 3


def turn_over(log: Path) -> bool:
    """Move what a log holds to `.1`, and older ones on, once it is large; whether it was.

    Whoever writes it has it open to append, and goes on at its beginning.
    """
    try:
        if log.stat().st_size < LARGEST:
            return False
    except OSError:
        return False
    for number in range(KEPT, 1, -1):
        with contextlib.suppress(FileNotFoundError):
            Path(f"{log}.{number - 1}").replace(f"{log}.{number}")
    shutil.copyfile(log, f"{log}.1")
    with log.open("r+b") as file:
        file.truncate(0)
    return True
