"""A screen at work: its values move, the glass changes as fast as link and panel allow."""

from typing import Any

import numpy as np
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render

from mosaic.errors import BadValueError
from mosaic.exports.rasters import encode_png
from mosaic.numbers import whole_of
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.windows import rect_from_host
from mosaic.screens.moments import by_hand
from mosaic.screens.playing import MOST_FRAMES, Frame, Run, played
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.values.value import Reading, Value
from workshop.answers import inline_png
from workshop.builds.models import Build
from workshop.screens.documents import design_of
from workshop.screens.items import shown_items
from workshop.screens.pages import own
from workshop.screens.reports import glass_png, plan_of, rendered_of
from workshop.screens.tabs import tabs_of
from workshop.stations.exchange import live_values
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

LENGTHS = [(10, "10 s"), (60, "a minute"), (600, "10 minutes"), (3600, "an hour"), (86_400, "a day")]


def play(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """The page."""
    build, shown = own(request, build_id, screen_id)
    overview = overview_of(build)
    device = overview.device
    plan = plan_of(build, shown.record, device)
    width, height = device.size
    values = [plan.kit.values[ident] for ident in plan.values]
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "play", shown), "screen": shown, "width": width,
        "height": height,
        "width_mm": seen_size_mm(device.passport, device.turn)[0], "height_mm": seen_size_mm(device.passport, device.turn)[1],
        "values": values, "lengths": LENGTHS, "first": inline_png(glass_png(rendered_of(build, shown.record, device))),
        "is_round": device.passport.glass.shape == "round", "most": MOST_FRAMES, "screens": shown_items(overview),
        "has_live": any(value.stand_in.by == "live" for value in values),
    }  # fmt: skip
    return render(request, "screens/play.html", context)


def _typed(build: Build, values: Any) -> dict[str, Reading]:
    """Readings set by hand."""
    known = {value.id: value for value in design_of(build).values}
    held = {name[5:]: values[name] for name in values if name.startswith("hand_") and values[name].strip()}
    return {ident: known[ident].raw_of(typed) for ident, typed in held.items() if ident in known}


def live_readings(build: Build) -> dict[str, Reading]:
    """What the maker's own program has sent, as readings; what cannot be read is passed over."""
    by_name: dict[str, Value] = {value.name.lower(): value for value in design_of(build).values}
    found: dict[str, Reading] = {}
    for name, written in live_values(build).items():
        value = by_name.get(name.lower())
        if value is None:
            continue
        try:
            found[value.id] = value.raw_of(written)
        except BadValueError:
            continue
    return found


def _patches(frame: Frame) -> list[dict[str, Any]]:
    """What each window of a frame shows, where its reader sees it."""
    device = frame.rendered.device
    shown = colors_of(frame.rendered.pixels, device.passport, device.turn)
    found = []
    for window in frame.windows:
        seen = rect_from_host(window, device.passport, device.turn)
        part = np.ascontiguousarray(seen.of(shown))
        found.append({"x": seen.x, "y": seen.y, "w": seen.width, "h": seen.height, "png": inline_png(encode_png(part, level=1))})
    return found


def _told(run: Run, values: list[Value]) -> dict[str, Any]:
    length = max(float(run.until), 1.0)
    sent = sum(frame.sent_bytes for frame in run.frames)
    busy = sum(float(frame.link_ms) for frame in run.frames)
    blocked = sum(float(one.end - one.begin) for one in run.readings)
    rows = []
    for value in values:
        mine = [one for one in run.readings if one.value == value.id]
        rows.append((value, len(mine), run.missed.get(value.id, 0), sum(float(one.end - one.begin) for one in mine)))
    return {
        "length_s": length / 1000, "frames": len(run.frames), "per_s": 1000 * len(run.frames) / length, "sent": sent,
        "rows": rows,
        "link_share": 100 * busy / length, "blocked_share": 100 * blocked / length, "missed": sum(run.missed.values()),
    }  # fmt: skip


def run(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """A piece of the device's life: what was read and sent when, with the pictures."""
    build, shown = own(request, build_id, screen_id)
    device = build.to_device()
    plan = plan_of(build, shown.record, device)
    seconds = whole_of(request.GET.get("seconds") or "10", "the length in seconds", 1, 86_400)
    unplugged = frozenset(one for one in request.GET.getlist("unplugged") if one in plan.kit.values)
    held = _typed(build, request.GET)
    lived = played(plan, seconds * 1000, held=held, unplugged=unplugged)
    values = [plan.kit.values[ident] for ident in plan.values]
    words = render(request, "screens/partials/played.html", {"told": _told(lived, values), "most": MOST_FRAMES}).content.decode()
    frames = [
        {
            "at": float(frame.begin), "end": float(frame.end), "bytes": frame.sent_bytes, "refresh": frame.refresh_ms,
            "patches": _patches(frame),
        }
        for frame in lived.frames
    ]  # fmt: skip
    reads = [[one.value, float(one.begin), float(one.end), one.missed] for one in lived.readings[:4000]]
    return JsonResponse({"length": float(lived.until), "frames": frames, "reads": reads, "words": words})


def live(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """The glass as the readings that a program sends have it."""
    build, shown = own(request, build_id, screen_id)
    readings = live_readings(build)
    plan = plan_of(build, shown.record, build.to_device())
    look: Rendered = drawn_in(plan, by_hand(plan, readings))
    told = [f"{plan.kit.values[ident].name} {plan.kit.values[ident].plain(raw)}" for ident, raw in readings.items()]
    return JsonResponse({"png": inline_png(glass_png(look)), "readings": told})
