"""What a maker does with long work."""

from typing import Any

from django.db import transaction

from workshop.builds.models import Build
from workshop.documents.services import held
from workshop.jobs import alive
from workshop.jobs.models import Job
from workshop.jobs.tasks import carry_out

UNFINISHED = (Job.State.WAITING, Job.State.RUNNING)


def start(*, build: Build, owner, kind: str, subject: int = 0, total: int = 0, asked: dict[str, Any] | None = None) -> Job:
    """Queue a job; an unfinished one that was asked the same is taken up instead, any other of its kind and subject ends."""
    asked = asked or {}
    look_after(build=build)
    same = build.jobs.filter(kind=kind, subject=subject)
    with transaction.atomic():
        held(build)  # one press at a time: the second finds the job of the first
        for running in same.filter(state__in=UNFINISHED).defer("result"):
            if running.asked == asked and not running.cancel_asked:
                return running
            cancel(job=running)
        same.exclude(state=Job.State.RUNNING).delete()
        job = Job.objects.create(build=build, owner=owner, kind=kind, subject=subject, total=total, asked=asked)
    carry_out.enqueue(job.pk)
    return job


def look_after(**which: Any) -> None:
    """Begin jobs anew that have lost their worker; those that lost it too often end."""
    alive.look_after(carry_out.enqueue, **which)


def unfinished(*, build: Build, kind: str) -> list[Job]:
    """Jobs of a kind that wait or run, oldest first."""
    look_after(build=build, kind=kind)
    return list(build.jobs.filter(kind=kind, state__in=UNFINISHED).order_by("id").defer("result"))


def latest(*, build: Build, kind: str, subject: int = 0) -> Job | None:
    """The newest job of a kind on a subject, without what it made."""
    look_after(build=build, kind=kind, subject=subject)
    return build.jobs.filter(kind=kind, subject=subject).order_by("-id").defer("result").first()


def cancel(*, job: Job) -> Job:
    """Ask for an end: at once if it has not begun."""
    if not job.is_over:
        Job.objects.filter(pk=job.pk).update(cancel_asked=True)
        Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(state=Job.State.CANCELLED, message="cancelled")
        job.refresh_from_db(fields=["state", "message", "cancel_asked"])
    return job
