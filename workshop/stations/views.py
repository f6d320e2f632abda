"""Work that concerns all stations at once."""

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from workshop.answers import page_before
from workshop.builds.pages import own_build, revision_of
from workshop.builds.services import set_array_form as set_form
from workshop.jobs import services as jobs
from workshop.jobs.views import shown
from workshop.stations import stations


@require_POST
def set_array_form(request: HttpRequest, build_id: int) -> HttpResponse:
    """The form in which all arrays of a build are given out; back to the page on which it was chosen."""
    build = own_build(request, build_id)
    set_form(build=build, name=request.POST.get("array_form", ""), revision=revision_of(request))
    messages.success(request, "All files of this build are given out in this form now.")
    return redirect(page_before(request) or stations()[0].home, **({} if page_before(request) else {"build_id": build.pk}))


@require_POST
def start_files(request: HttpRequest, build_id: int) -> HttpResponse:
    """All files of a build, as one zip, in the background."""
    build = own_build(request, build_id)
    device = build.to_device()
    total = sum(len(station.files(build, device)) for station in stations())
    job = jobs.start(build=build, owner=request.user, kind="files", total=total)
    return render(request, "jobs/partials/progress.html", shown(job))
