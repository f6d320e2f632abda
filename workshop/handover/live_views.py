"""The generated firmware on the virtual panel: how it is started, and the glass that it draws, to be touched."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from mosaic.panels.geometry import seen_size_mm
from mosaic.source_text import identifier
from workshop.builds.pages import own_build
from workshop.handover.views import page_context
from workshop.stations.exchange import live_feed, living


def live(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    context = page_context(build, "hand-over-live")
    device = build.to_device()
    width_mm, height_mm = seen_size_mm(device.passport, device.turn)
    known = living(build, device)
    areas = []
    if known is not None:
        machine = known.machine
        areas = [
            (area.name or area.id, box.x + box.width // 2, box.y + box.height // 2)
            for area in machine.behaviour.areas if (box := machine.boxes.get(area.id)) is not None
        ]  # fmt: skip
        context |= {"buttons": [(n, one.name, one.active_low) for n, one in enumerate(machine.behaviour.buttons)],
                    "encoders": [(n, one.name) for n, one in enumerate(machine.behaviour.encoders)]}  # fmt: skip
    context |= {
        "live": live_feed(build), "width": device.size[0], "height": device.size[1], "width_mm": width_mm, "height_mm": height_mm,
        "is_round": device.passport.glass.shape == "round", "areas": areas, "folder": identifier(build.name, "build"),
        "has_program": known is not None and bool(known.plans),
    }  # fmt: skip
    return render(request, "handover/live.html", context)
