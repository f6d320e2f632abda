"""A photo of the glass, straightened and laid against the rendering."""

from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.imports.pictures import read_picture
from mosaic.measured.glass_photo import GlassReading, causes_of, read_glass
from mosaic.numbers import decimal
from mosaic.panels.appearance import colors_of
from mosaic.screens.rendering import drawn_in
from workshop.answers import inline_png
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents.models import Original
from workshop.journal import services as journal
from workshop.log.photos import keep_photo
from workshop.log.views import log_context
from workshop.stations.exchange import shown_screens
from workshop.stations.station import ShownScreen

ZOOM_TO = 640
CORNERS = ("x0", "y0", "x1", "y1", "x2", "y2", "x3", "y3")


def _page(request: HttpRequest, build: Build, wrong: str = "", **more: Any) -> HttpResponse:
    context = log_context(build, "glass-photo")
    screens = shown_screens(build, context["device"])
    context |= {"screens": screens, "wrong": wrong, "typed": request.POST, **more}
    return render(request, "log/photo.html", context, status=422 if wrong else 200)


def glass_photo(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


def _shown_in(screen: ShownScreen, key: str) -> np.ndarray:
    state = next((one for one in screen.states if one.key == key), screen.states[0])
    rendered = drawn_in(screen.rendered.plan, state)
    return colors_of(rendered.pixels, rendered.device.passport, rendered.device.turn)


def _marked(straight: np.ndarray, found: GlassReading) -> bytes:
    """The straightened photo, enlarged, wrong pixels framed."""
    zoom = max(1, ZOOM_TO // straight.shape[1])
    large = straight.repeat(zoom, 0).repeat(zoom, 1).copy()
    mark = np.array((235, 64, 52), np.uint8)
    for x, y in found.wrong:
        top, left = y * zoom, x * zoom
        large[top, left : left + zoom] = large[top + zoom - 1, left : left + zoom] = mark
        large[top : top + zoom, left] = large[top : top + zoom, left + zoom - 1] = mark
    for row in found.dead_rows:
        large[row * zoom : row * zoom + max(1, zoom // 4)] = mark
    for column in found.dead_columns:
        large[:, column * zoom : column * zoom + max(1, zoom // 4)] = mark
    return encode_png(large, level=1)


@require_POST
def read(request: HttpRequest, build_id: int) -> HttpResponse:
    """Read a photo that is brought, or that was brought just now, with its corners."""
    build = own_build(request, build_id)
    try:
        upload, kept = request.FILES.get("photo"), request.POST.get("kept", "")
        if upload is not None:
            original = keep_photo(upload, request.user)
        else:
            original = Original.objects.filter(pk=kept, uploads__owner=request.user).first() if kept else None
            if original is None:
                raise BadValueError("no photo was chosen; a JPEG or PNG is accepted")
        data = bytes(Original.objects.values_list("data", flat=True).get(pk=original.pk))
        photo = read_picture(data, "the photo").rgb
        more = {"kept": original.pk, "photo_url": inline_png(data), "photo_width": photo.shape[1], "photo_height": photo.shape[0]}
        typed = [request.POST.get(name, "").strip() for name in CORNERS]
        if not any(typed):
            return _page(request, build, **more, says="Now mark the four corners of the lit area.")
    except MosaicError as error:
        return _page(request, build, str(error))
    try:
        numbers = [decimal(text) for text in typed]
        if any(number is None for number in numbers):
            raise BadValueError("a corner has no place; two numbers in pixels of the photo are accepted for each")
        places = [float(number) for number in numbers if number is not None]
        corners = [(places[n], places[n + 1]) for n in range(0, 8, 2)]
        device = build.to_device()
        screens = shown_screens(build, device)
        screen = next((one for one in screens if one.ref == request.POST.get("screen")), None)
        if screen is None:
            raise BadValueError("this screen is none of the build's; choose one that can be drawn")
        meant = _shown_in(screen, request.POST.get("state", ""))
        found = read_glass(photo, corners, meant)
    except MosaicError as error:
        return _page(request, build, str(error), **more)
    causes = causes_of(found)
    if "keep" in request.POST:
        words = "; ".join(seen for seen, _ in causes) or "the glass is as it should be"
        journal.write(build, "photo", f"{screen.name}: {words}", photo=original, subject="Photo of the glass", page=request.path)
        more["says"] = "Kept in the log."
    zoom = max(1, ZOOM_TO // meant.shape[1])
    more |= {
        "found": found, "causes": causes, "screen": screen, "straight_url": inline_png(_marked(found.straight, found)),
        "meant_url": inline_png(encode_png(meant.repeat(zoom, 0).repeat(zoom, 1), level=1)),
    }  # fmt: skip
    return _page(request, build, **more)
