"""Processes that belong together: started, watched, started again when one dies, and ended together.

They are forked off one that has read the program already, so each is there at once and shares what was read.
"""

import contextlib
import ctypes
import os
import signal
import sys
import time
import traceback
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from workshop.serving.logs import turn_over

LONGEST_END_S = 5.0
"""For which a process is waited when it is asked to end; then it is ended for good."""
CALM_S = 5.0
"""A process that has lived so long is started again at once; one that dies sooner waits, twice as long each time."""
LONGEST_WAIT_S = 10.0
LOGS_EVERY_S = 60.0


END_WITH_PARENT = 1
"""Number of the setting in Linux's prctl (PR_SET_PDEATHSIG)."""


def end_with_parent() -> None:
    """Have this process asked to end should its parent die without a word; where the system cannot do that, nothing."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(END_WITH_PARENT, int(signal.SIGTERM))


@dataclass
class Member:
    """A process by what it is called, what it runs, the name of its log, and how long it is waited for at its end."""

    name: str
    run: Callable[[], None]
    log: str
    end_s: float = LONGEST_END_S
    pid: int = 0
    started_s: float = 0.0
    wait_s: float = 0.5
    due_s: float = 0.0


class Processes:
    """Members in the order in which they are started; they end the other way round.

    Each writes to a log of its own in `folder`; `say` tells what a person at the terminal should know.
    """

    def __init__(self, folder: Path, say: Callable[[str], None]) -> None:
        self.folder, self.say = folder, say
        self.members: list[Member] = []
        self.is_ending = False
        self.logs_due_s = 0.0

    def add(self, name: str, run: Callable[[], None], *, log: str = "", end_s: float = LONGEST_END_S) -> Member:
        member = Member(name, run, log or name, end_s)
        self.members.append(member)
        return member

    def log_of(self, member: Member) -> Path:
        return self.folder / f"{member.log}.log"

    def start(self, member: Member) -> None:
        """Fork; the child never comes back from here."""
        sys.stdout.flush()
        member.pid, member.started_s = os.fork(), time.monotonic()
        if member.pid:
            return
        code = 1
        try:
            end_with_parent()
            for number in (signal.SIGTERM, signal.SIGINT):
                signal.signal(number, signal.SIG_DFL)
            log = os.open(self.log_of(member), os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600)
            os.dup2(log, 1)
            os.dup2(log, 2)
            member.run()
            code = 0
        except SystemExit as done:
            code = done.code if isinstance(done.code, int) else 1
        except BaseException:
            traceback.print_exc()
        finally:
            sys.stdout.flush()
            sys.stderr.flush()
            os._exit(code)

    def look(self) -> None:
        """Take note of who has died, and start again whose wait is over."""
        now = time.monotonic()
        if now >= self.logs_due_s:
            self.logs_due_s = now + LOGS_EVERY_S
            for log in {self.log_of(member) for member in self.members}:
                turn_over(log)
        for member in self.members:
            if member.pid and os.waitpid(member.pid, os.WNOHANG)[0]:
                lived = now - member.started_s
                member.wait_s = 0.5 if lived >= CALM_S else min(LONGEST_WAIT_S, member.wait_s * 2)
                member.pid, member.due_s = 0, now + member.wait_s
                self.say(f"The {member.name} ended; it is started again in {member.wait_s:.0f} s. See {self.log_of(member)}")
            if not member.pid and now >= member.due_s:
                self.start(member)

    def run(self, until: Callable[[], bool] = lambda: False) -> None:
        """Serve until a signal comes, or `until` says so; then end everything."""
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, self._end)
        try:
            while not self.is_ending and not until():
                self.look()
                time.sleep(0.1)
        finally:
            self.end()

    def _end(self, *_: object) -> None:
        self.is_ending = True

    def end(self) -> None:
        """Ask every process to end, the last first, and wait for it."""
        for member in reversed(self.members):
            if not member.pid:
                continue
            os.kill(member.pid, signal.SIGTERM)
            last = time.monotonic() + member.end_s
            while not os.waitpid(member.pid, os.WNOHANG)[0]:
                if time.monotonic() > last:
                    os.kill(member.pid, signal.SIGKILL)
                    os.waitpid(member.pid, 0)
                    break
                time.sleep(0.02)
            member.pid = 0
