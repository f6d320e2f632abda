"""How a job tells how far it is, and learns that it is to end."""

import time
from dataclasses import dataclass

from workshop.jobs.models import Job

EVERY_S = 0.2


class CancelledError(Exception):
    """The maker has asked for an end."""


@dataclass(frozen=True)
class Made:
    """What a job made: a file, its name, and a line about it."""

    data: bytes
    name: str
    message: str


class Progress:
    """Steps of one job. The database hears of them a few times a second, however many there are."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self._told = 0.0

    def step(self, done: int, total: int) -> None:
        """`done` of `total` steps are done.

        Raises
        ------
        CancelledError
            The maker has asked for an end.
        """
        now = time.monotonic()
        if done < total and now - self._told < EVERY_S:
            return
        self._told = now
        row = Job.objects.filter(pk=self.job.pk)
        if row.values_list("cancel_asked", flat=True).first() is not False:
            raise CancelledError
        row.update(done=done, total=total)
