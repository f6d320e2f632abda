"""Sets: many pictures, one recipe; one change remakes all."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.numbers import row_id
from workshop.builds.pages import own_build
from workshop.jobs import services as jobs
from workshop.jobs.views import shown as job_shown
from workshop.pictures import services
from workshop.pictures.documents import Picture
from workshop.pictures.tabs import tabs_of
from workshop.pictures.views import start_remaking
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of
from workshop.stations.station import Item


def page(request: HttpRequest, build_id: int) -> HttpResponse:
    """The build's sets, and pictures that stand for themselves."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    sets: dict[str, list[Item]] = {}
    pictures = overview.offered("pixels")
    for picture in pictures:
        sets.setdefault(picture.group, []).append(picture)
    running = {job.subject: job_shown(job) for job in jobs.unfinished(build=build, kind="set")}
    context = {
        **frame_context(overview, "pictures"),
        "tabs": tabs_of(build, "sets"),
        "sets": [
            (name, rows, sum(row.byte_count for row in rows), running.get(rows[0].number, {}))
            for name, rows in sorted(sets.items())
            if name
        ],
        "pictures": pictures,
        "width": overview.device.size[0],
        "height": overview.device.size[1],
    }
    return render(request, "pictures/sets.html", context)


@require_POST
def lay(request: HttpRequest, build_id: int) -> HttpResponse:
    """Make a set of the chosen pictures; all take the recipe of the one that leads."""
    build = own_build(request, build_id)
    numbers = [number for n in request.POST.getlist("picture") if (number := row_id(n)) is not None]
    first = Picture.objects.of(build).filter(pk=row_id(request.POST.get("leader"))).first()
    name = services.lay_in_set(build=build, set_name=request.POST.get("name", ""), numbers=numbers, recipe_of=first)
    start_remaking(build, name, request.user)
    return redirect("sets", build.pk)


@require_POST
def dissolve(request: HttpRequest, build_id: int) -> HttpResponse:
    """Let the pictures of a set go their own ways."""
    build = own_build(request, build_id)
    services.dissolve_set(build=build, set_name=request.POST.get("name", ""))
    return redirect("sets", build.pk)
