"""Windows to send: what changes from state to state, and what that takes: at best, as the runtime does it, and whole."""

import io
from typing import Any

import numpy as np
import numpy.typing as npt
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from PIL import Image

from mosaic.exports.rasters import encode_png
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import seen_size_mm
from mosaic.refresh.costs import Wire
from mosaic.refresh.windows.comparing import Compared, as_seen, compared
from mosaic.refresh.windows.covering import Coverer
from mosaic.screens.rendering import drawn_in
from workshop.answers import inline_png
from workshop.builds.pages import own_build
from workshop.documents.keys import digest, panel_part
from workshop.memory import ByteCache
from workshop.refresh.documents import wire_of, wire_part
from workshop.refresh.tabs import tabs_of
from workshop.stations.exchange import shown_screens
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of
from workshop.stations.station import ShownScreen

CHANGED_RGB = (224, 53, 138)
_steps = ByteCache("windows", 8 * 2**20)
_coverers = ByteCache("coverers", 2**20)


def coverer_of(wire: Wire) -> Coverer:
    """Finds windows for a device; what windows cost is found once."""
    key = digest("coverer 2", *wire_part(wire), *panel_part(wire.device))
    found: Coverer = _coverers.get_or_make(key, lambda: Coverer(wire), lambda _: 20_000)
    return found


def steps_of(screen: ShownScreen, wire: Wire) -> list[tuple[str, str, Compared]]:
    """(key of the state, its name, what the step from the typical one to it takes)."""

    def made() -> list[tuple[str, str, Compared]]:
        coverer, usual = coverer_of(wire), drawn_in(screen.rendered.plan, screen.states[0])
        return [
            (state.key, state.name, compared(usual, drawn_in(screen.rendered.plan, state), coverer))
            for state in screen.states[1:]
        ]

    key = digest("windows 2", screen.key, *wire_part(wire), *panel_part(wire.device))
    found: list[tuple[str, str, Compared]] = _steps.get_or_make(
        key, made, lambda steps: 2000 + sum(one.changed.nbytes for _, _, one in steps)
    )
    return found


def _changed_png(changed: npt.NDArray[np.bool_]) -> bytes:
    """Pixels that have changed, coloured, on nothing."""
    shown = np.zeros((*changed.shape, 4), np.uint8)
    shown[changed] = (*CHANGED_RGB, 150)
    out = io.BytesIO()
    Image.fromarray(shown).save(out, "PNG")
    return out.getvalue()


def windows(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    screens = shown_screens(build, device)
    asked = request.GET.get("s", "")
    shown = next((one for one in screens if one.ref == asked), screens[0] if screens else None)
    context: dict[str, Any] = {
        **frame_context(overview, "refresh"), "tabs": tabs_of(build, overview.device, "windows"),
        "screens": screens, "shown": shown,
    }  # fmt: skip
    if shown is not None:
        steps = steps_of(shown, wire_of(build, device))
        wanted = request.GET.get("to", "")
        chosen = next((one for one in steps if one[0] == wanted), steps[0] if steps else None)
        width, height = device.size
        mm = seen_size_mm(device.passport, device.turn)
        context |= {
            "steps": steps, "chosen": chosen, "width": width, "height": height, "width_mm": mm[0], "height_mm": mm[1],
            "whole_pixels": width * height, "is_round": device.passport.glass.shape == "round", "grid": device.passport.grid,
        }  # fmt: skip
        if chosen is not None:
            key, _, found = chosen
            state = next(state for state in shown.states if state.key == key)
            now = drawn_in(shown.rendered.plan, state)
            context |= {
                "glass": inline_png(encode_png(colors_of(now.pixels, device.passport, device.turn), level=1)),
                "changed": inline_png(_changed_png(found.changed)),
                "cheapest": as_seen(found.cover.windows, now), "runtime": as_seen(found.runtime, now),
            }  # fmt: skip
    return render(request, "refresh/windows.html", context)
