"""Signs of life: a job that runs says every few seconds that it does; one that has gone quiet is begun anew, or ends.

A worker that is killed, or stopped with the whole service, cannot say so itself. Whoever looks at its jobs finds out.
"""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import timedelta

from django.db import DatabaseError, connection
from django.utils import timezone

from workshop.jobs.models import Job

EVERY_S = 3.0
QUIET = timedelta(seconds=10)
"""A job that has said nothing for so long has lost its worker."""
MOST_TRIES = 3
LOST = f"the worker ended {MOST_TRIES} times before this was done, so it was given up; nothing was made. Ask for it again"


@contextmanager
def said_to_live(job_id: int) -> Iterator[None]:
    """While the block runs, its job says every few seconds that it does, however long a single step takes."""
    over = threading.Event()

    def say() -> None:
        while not over.wait(EVERY_S):
            try:
                Job.objects.filter(pk=job_id).update(seen=timezone.now())
            except DatabaseError:
                connection.close()  # a database that went away comes back
        connection.close()

    saying = threading.Thread(target=say, daemon=True)
    saying.start()
    try:
        yield
    finally:
        over.set()


def look_after(enqueue: Callable[[int], object], **which: object) -> None:
    """Begin unfinished jobs anew that have lost their worker or their place in the queue; end those that lost it too often."""
    now = timezone.now()
    before = now - QUIET
    unfinished = Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING), **which)
    # Said in a time that is still to come: the clock was set back. Whoever lives says so again within seconds.
    unfinished.filter(seen__gt=now + QUIET).update(seen=now)
    quiet = unfinished.filter(seen__lt=before)
    for job_id, state, tries, seen, cancelled in quiet.values_list("pk", "state", "tries", "seen", "cancel_asked"):
        row = Job.objects.filter(pk=job_id, state=state, seen=seen)  # only one of those who look does it
        if cancelled:
            row.update(state=Job.State.CANCELLED, message="cancelled; nothing was made")
        elif state == Job.State.RUNNING and tries >= MOST_TRIES:
            row.update(state=Job.State.FAILED, message=LOST)
        elif state == Job.State.WAITING and Job.objects.filter(state=Job.State.RUNNING, seen__gte=before).exists():
            continue  # it waits behind others that run, and has not been forgotten
        elif row.update(state=Job.State.WAITING, seen=timezone.now(), done=0):
            enqueue(job_id)
