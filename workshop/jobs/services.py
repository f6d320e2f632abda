"""What a maker does with long work."""

from workshop.builds.models import Build
from workshop.jobs.models import Job
from workshop.jobs.tasks import make_files

FILES = "files"


def start_files(*, build: Build, owner) -> Job:
    """Queue the making of all files; an unfinished one of this build is taken up instead."""
    running = build.jobs.filter(kind=FILES, state__in=(Job.State.WAITING, Job.State.RUNNING)).defer("result").first()
    if running:
        return running
    build.jobs.filter(kind=FILES).delete()
    job = Job.objects.create(build=build, owner=owner, kind=FILES, total=build.pictures.count())
    make_files.enqueue(job.pk)
    return job


def cancel(*, job: Job) -> Job:
    """Ask for an end: at once if it has not begun."""
    if not job.is_over:
        Job.objects.filter(pk=job.pk).update(cancel_asked=True)
        Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(state=Job.State.CANCELLED, message="cancelled")
        job.refresh_from_db(fields=["state", "message", "cancel_asked"])
    return job
