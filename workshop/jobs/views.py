"""Starting, watching and cancelling long work."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from workshop.jobs import services
from workshop.jobs.kinds import kind_of
from workshop.jobs.models import Job


def _own_job(request: HttpRequest, job_id: int) -> Job:
    job = Job.objects.filter(pk=job_id, owner=request.user).defer("result").first()
    if job is None:
        raise Http404("no such job")
    return job


def shown(job: Job) -> dict[str, Any]:
    """What the progress partial needs of a job."""
    return {"job": job, "kind": kind_of(job.kind)}


def progress(request: HttpRequest, job_id: int) -> HttpResponse:
    """How far it is; asks again by itself until it is over, and then loads a page that shows what was made."""
    services.look_after(pk=job_id, owner=request.user)
    job = _own_job(request, job_id)
    response = render(request, "jobs/partials/progress.html", shown(job))
    if request.htmx and job.state == Job.State.DONE and kind_of(job.kind).shows_itself:
        response["HX-Refresh"] = "true"
    return response


@require_POST
def cancel(request: HttpRequest, job_id: int) -> HttpResponse:
    """Ask the worker to stop after the picture in hand."""
    job = services.cancel(job=_own_job(request, job_id))
    return render(request, "jobs/partials/progress.html", shown(job))


def take(request: HttpRequest, job_id: int) -> HttpResponse:
    """What it made."""
    job = _own_job(request, job_id)
    if job.state != Job.State.DONE:
        raise Http404("not done")
    response = HttpResponse(bytes(job.result or b""), content_type=kind_of(job.kind).media_type)
    response["Content-Disposition"] = f'attachment; filename="{job.result_name}"'
    return response
