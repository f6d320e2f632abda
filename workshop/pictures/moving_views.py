"""A file of several frames that was brought as a picture: still or animation?"""

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.animation.frames import read_clip
from mosaic.animation.making import AnimationPlan
from mosaic.exports.result import file_title
from mosaic.imports.pictures import frame_count
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents.models import Upload
from workshop.pictures.documents import Animation
from workshop.pictures.services import add_picture
from workshop.pictures.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of


def _moving_upload(request: HttpRequest, key: str) -> tuple[Upload, bytes]:
    """A file that this maker has brought, with its bytes."""
    upload = request.user.uploads.select_related("original").filter(original_id=key).first()
    if upload is None:
        raise Http404("no such file")
    return upload, bytes(upload.original.data)


def moving(request: HttpRequest, build_id: int) -> HttpResponse:
    """A file of several frames was brought as a picture: still or animation?"""
    build = own_build(request, build_id)
    upload, data = _moving_upload(request, request.GET.get("original", ""))
    context = {"upload": upload, "frames": frame_count(data), "tabs": tabs_of(build, "picture")}
    return render(request, "pictures/moving.html", {**frame_context(overview_of(build), "pictures"), **context})


@require_POST
def take_moving(request: HttpRequest, build_id: int) -> HttpResponse:
    """The answer: one picture of its first frame, or an animation of all."""
    build = own_build(request, build_id)
    upload, data = _moving_upload(request, request.POST.get("original", ""))
    if request.POST.get("as") == "animation":
        read_clip([(upload.name, data)])
        plan, name = AnimationPlan(), file_title(upload.name)
        row = documents.add(Animation, build=build, name=name, record=plan, sources=[(upload.original, upload.name)])
        return redirect("animation", build.pk, row.pk)
    added = add_picture(build=build, original=upload.original, file_name=upload.name)
    return redirect("picture", build.pk, added.pk)
