"""Work that concerns all stations at once."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from workshop.builds.pages import own_build
from workshop.jobs import services as jobs
from workshop.jobs.views import shown
from workshop.stations import stations


@require_POST
def start_files(request: HttpRequest, build_id: int) -> HttpResponse:
    """All files of a build, as one zip, in the background."""
    build = own_build(request, build_id)
    device = build.to_device()
    total = sum(len(station.files(build, device)) for station in stations())
    job = jobs.start(build=build, owner=request.user, kind="files", total=total)
    return render(request, "jobs/partials/progress.html", shown(job))
