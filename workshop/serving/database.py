"""The private MariaDB as one of the processes: started from its folder, waited for, started again like the others."""

import os
import signal
import time
from pathlib import Path

from django.db import OperationalError, connection

LONGEST_START_S = 60.0
LONGEST_END_S = 60.0
"""It writes what it holds in memory before it ends; cut short, it repairs itself at the next start."""


def run_database(command: Path, folder: Path) -> None:
    """Become the database server of a folder; never comes back."""
    os.setsid()  # Ctrl-C in the terminal is for its supervisor, who asks it to end after all others
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.execv(str(command), [str(command), str(folder)])


def wait_until_it_answers() -> bool:
    """Whether the database answers, before long."""
    last = time.monotonic() + LONGEST_START_S
    while time.monotonic() < last:
        try:
            connection.ensure_connection()
        except OperationalError:
            time.sleep(0.1)
        else:
            return True
    return False
