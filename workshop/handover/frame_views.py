"""The page of the frame feed: open or closed, its token, what is served, what came in, and a made-up device."""

import time
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.handover.frame_device import c_device, python_device
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.wire import frame_parts, setup_part
from mosaic.virtual.panel import shown_pixels, virtual_panel
from workshop.answers import attachment, inline_png
from workshop.builds.pages import own_build
from workshop.handover.frames import QUANTITIES, Frame, feed_of, frame_of, png_of, renew, sources_of
from workshop.handover.models import FrameFeed
from workshop.handover.views import page_context

MOST_SHOWN = 12


def _page(request: HttpRequest, feed: FrameFeed, **more: Any) -> HttpResponse:
    build = feed.build
    context = page_context(build, "frame-feed")
    device = context["device"]
    width_mm, height_mm = seen_size_mm(device.passport, device.turn)
    sources = sources_of(build)
    source = next((one for one in sources if one.ref == feed.source), None) or next(iter(sources), None)
    known = {value.id: value for one in sources for value in one.values}
    now = time.time()
    given = [
        (known[ident].name, "none" if reading is None else known[ident].plain(reading), known[ident].unit, round(now - at))
        for ident, (reading, at) in feed.values.items() if ident in known
    ]  # fmt: skip
    at = {name: request.build_absolute_uri(reverse(f"device-{name}", args=[build.pk])) for name in ("values", "reports")}
    address = request.build_absolute_uri(reverse("device-frame", args=[build.pk, "bin"])).removesuffix("bin")
    context |= {
        "feed": feed, "sources": sources, "source": source, "given": given, "address": address, "values_at": at["values"],
        "reports_at": at["reports"],
        "reports": feed.reports.all()[:MOST_SHOWN], "quantities": QUANTITIES, "width": device.size[0], "height": device.size[1],
        "width_mm": width_mm, "height_mm": height_mm, "is_round": device.passport.glass.shape == "round",
        "example": next((value.name for value in known.values() if value.is_given), "tide"),
    }  # fmt: skip
    context |= _device(feed, "")
    return render(request, "handover/frames.html", context | more)


def _device(feed: FrameFeed, had: str) -> dict[str, Any]:
    """A made-up device: it asks as the real one would, and its glass is the virtual panel's."""
    try:
        found = frame_of(feed)
    except MosaicError as error:
        return {"device_problem": str(error)}
    same = found.tag == had
    return {"frame": found, "same": same, "glass_url": inline_png(_shown(feed, found))}


def _shown(feed: FrameFeed, found: Frame) -> bytes:
    """What the virtual panel shows of the bytes that were served."""
    device = feed.build.to_device()
    panel = virtual_panel(device.passport)
    panel.play(setup_part(device.passport, device.turn).transactions)
    for part in frame_parts(device.passport, device.turn, found.packed):
        panel.play(part.transactions)
    panel.finish()
    return png_of(Frame(found.packed, found.tag, shown_pixels(panel, device.turn), found.again_s, found.name), device)


def frames(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, feed_of(own_build(request, build_id)))


def device(request: HttpRequest, build_id: int) -> HttpResponse:
    """The made-up device asks once more."""
    feed = feed_of(own_build(request, build_id))
    context = {"build": feed.build, "feed": feed, **_device(feed, request.GET.get("had", "")[:40])}
    return render(request, "handover/partials/device.html", context)


@require_POST
def change(request: HttpRequest, build_id: int) -> HttpResponse:
    """Open the feed with a new token, close it, or serve something else."""
    feed = feed_of(own_build(request, build_id))
    if "renew" in request.POST:
        token = renew(feed)
        feed.refresh_from_db()
        return _page(request, feed, token=token)
    if "close" in request.POST:
        FrameFeed.objects.filter(pk=feed.pk).update(is_open=False, token_hash="")
        return redirect("frame-feed", build_id)
    source = request.POST.get("source", "")
    if source not in [one.ref for one in sources_of(feed.build)]:
        raise BadValueError(f"{source[:40]!r} is nothing that can be served; choose a screen or page of this build")
    FrameFeed.objects.filter(pk=feed.pk).update(source=source)
    return redirect("frame-feed", build_id)


PROGRAMS = {"frame_device.c": c_device, "frame_device.py": python_device}


def program(request: HttpRequest, build_id: int, name: str) -> HttpResponse:
    """A small program for a device."""
    feed = feed_of(own_build(request, build_id))
    if name not in PROGRAMS:
        raise BadValueError(f"{name[:40]} is not there; {', '.join(PROGRAMS)} are")
    host, _, port = request.get_host().partition(":")
    text = PROGRAMS[name](feed.build.name, host, int(port or 80), reverse("device-frame", args=[build_id, "bin"]))
    return attachment(text, name, "text/plain; charset=utf-8")
