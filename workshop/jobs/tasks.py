"""Work that worker processes carry out: one task, and what it tells of itself."""

import time

from django.db.models import F
from django.utils import timezone
from django_tasks import task

from mosaic.errors import MosaicError
from workshop.documents.services import note_change
from workshop.errors import message_of
from workshop.jobs.alive import said_to_live
from workshop.jobs.kinds import kind_of
from workshop.jobs.models import Job
from workshop.jobs.progress import CancelledError, Progress
from workshop.room import NO_ROOM, is_full

MESSAGE_LENGTH = 300


@task()
def carry_out(job_id: int) -> None:
    """Do a waiting job; what it made is kept only when all of it is done."""
    begun = Job.objects.filter(pk=job_id, state=Job.State.WAITING).update(
        state=Job.State.RUNNING, seen=timezone.now(), tries=F("tries") + 1
    )
    if not begun:
        return
    job = Job.objects.select_related("build").get(pk=job_id)
    if is_full():
        _finish(job, state=Job.State.FAILED, message=NO_ROOM)
        return
    started = time.monotonic()
    try:
        with said_to_live(job_id):
            made = kind_of(job.kind).run(job, Progress(job))
    except CancelledError:
        _finish(job, state=Job.State.CANCELLED, message="cancelled; nothing was made")
    except MosaicError as error:
        _finish(job, state=Job.State.FAILED, message=message_of(error)[:MESSAGE_LENGTH])
    except Exception:
        # A fault of ours is logged by the queue; its maker must not watch a bar that never ends.
        _finish(job, state=Job.State.FAILED, message="this went wrong inside the application; nothing was made, try it again")
        raise
    else:
        words = f"{made.message}, {time.monotonic() - started:.1f} s"
        _finish(job, state=Job.State.DONE, result=made.data, result_name=made.name, message=words[:MESSAGE_LENGTH])
        note_change(job.build)  # figures of the build may rest on what was made


def _finish(job: Job, **values) -> None:
    Job.objects.filter(pk=job.pk).update(**values)
