"""States of screens: what is sent from one to the other, those of the maker's own, pairs that cannot be, the printed sheet."""

from dataclasses import replace
from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.links import total_s, wire_steps
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.windows import Rect, rect_from_host
from mosaic.panels.wire import window_parts
from mosaic.screens.rendering import Rendered
from mosaic.screens.screen import new_id
from mosaic.screens.updates import changes, drawn_alike, dynamic_calls, link_of, reached
from mosaic.values.states import Moment, Never
from workshop.answers import go_to
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.screens.documents import ScreenDocument, design_of
from workshop.screens.looks import Look, glass_url, look_of, looked_at, state_of
from workshop.screens.pages import own
from workshop.screens.reports import key_of, states_of
from workshop.screens.tabs import tabs_of
from workshop.screens.value_services import base_of_design, save_design
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

EXTREMES = [("lowest", "at its lowest"), ("highest", "at its highest"), ("absent", "absent"), ("stale", "old")]


def _sent(rendered: Rendered, window: Rect) -> dict[str, Any]:
    """A window: where its reader sees it, its bytes, its ms on the link."""
    device = rendered.device
    size = device.passport.format.frame_bytes(window.width, window.height)
    parts = window_parts(device.passport, device.turn, window, bytes(size))
    seen = rect_from_host(window, device.passport, device.turn)
    return {"seen": seen, "window": window, "bytes": size, "ms": float(total_s(wire_steps(parts, device.link))) * 1000}


def _elements(before: Rendered, now: Rendered) -> list[tuple[str, list[Rect]]]:
    """Elements that differ, with the boxes they are drawn in before and after."""
    width, height = now.device.size
    old, new = dynamic_calls(before), dynamic_calls(now)
    found = []
    for one in now.screen.elements:
        if one.id in new and not drawn_alike(old[one.id], new[one.id], width, height):
            boxes = [box for calls in (old[one.id], new[one.id]) if (box := reached(calls, width, height)[0]) is not None]
            found.append((now.kit.called(one), list(dict.fromkeys(boxes))))
    return found


def states(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """The page: from one state to another, and what states there are."""
    build, shown = own(request, build_id, screen_id)
    overview = overview_of(build)
    device, record = overview.device, shown.record
    key, design = key_of(build, record, device), design_of(build)
    known = states_of(build, record, device, key)
    first = request.GET.get("from") or known[0].key
    then = request.GET.get("to") or known[min(2, len(known) - 1)].key
    before, now = (looked_at(build, record, device, Look(state)) for state in (first, then))
    windows = [_sent(now, window) for window in changes(before, now, link_of(device))]
    frame_ms = float(total_s(wire_steps(now.parts, device.link))) * 1000
    (width, height), mm = device.size, seen_size_mm(device.passport, device.turn)
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "states", shown), "screen": shown,
        "width": width, "height": height, "width_mm": mm[0], "height_mm": mm[1],
        "states": [(n, state, n * height) for n, state in enumerate(known)],
        "states_height": height * len(known), "state": now.kit.state, "from_key": first, "to_key": then, "windows": windows,
        "elements": _elements(before, now), "sent_bytes": sum(one["bytes"] for one in windows),
        "sent_ms": sum(one["ms"] for one in windows), "frame_bytes": len(now.packed), "frame_ms": frame_ms,
        "glass_url": glass_url(build, shown, key, Look(then)), "is_round": device.passport.glass.shape == "round",
        "states_url": reverse("screen-states", args=[build.pk, shown.pk, key]) + f"?revision={shown.head_id}",
        "moments": design.moments, "never": _never_in_words(design), "values": design.values, "extremes": EXTREMES,
        "base": base_of_design(build),
    }  # fmt: skip
    return render(request, "screens/states.html", context)


def _never_in_words(design: Any) -> list[tuple[int, str]]:
    words, names = dict(EXTREMES), {value.id: value.name for value in design.values}
    return [
        (number, f"{names.get(pair.first, pair.first)} {words[pair.first_is]} and {names.get(pair.second, pair.second)}"
         f" {words[pair.second_is]}")
        for number, pair in enumerate(design.never)
    ]  # fmt: skip


def sheet(request: HttpRequest, build_id: int) -> HttpResponse:
    """Every screen in every state, to be printed."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device, found = overview.device, []
    width, height = device.size
    for row in shelf.of_kind(build, ScreenDocument):
        key = key_of(build, row.record, device)
        try:
            known = states_of(build, row.record, device, key)
        except MosaicError:
            continue
        url = reverse("screen-states", args=[build.pk, row.pk, key]) + f"?revision={row.head_id}"
        found.append((row, [(state, n * height) for n, state in enumerate(known)], url, height * len(known)))
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "states"), "sheets": found, "width": width, "height": height,
    }  # fmt: skip
    return render(request, "screens/sheet.html", context)


@require_POST
@transaction.atomic
def keep_moment(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """Readings set by hand, kept as a state of all screens."""
    build, shown = own(request, build_id, screen_id)
    look = look_of({**request.POST.dict(), "state": "hand"})
    name = request.POST.get("moment_name", "").strip()[:40]
    if not name:
        raise BadValueError("the state has no name yet; type one before it is kept")
    state = state_of(build, shown.record, build.to_device(), Look("hand", look.typed))
    design = design_of(build)
    taken = {one.id for group in (design.moments, design.values, design.styles, design.parts) for one in group}
    ident = new_id(taken, "m")
    readings = {one: state.readings[one] for one in look.typed if one in state.readings}
    save_design(build, replace(design, moments=(*design.moments, Moment(ident, name, readings))), base_of_design(build))
    return go_to(request, reverse("screen", args=[build.pk, shown.pk]) + f"?state={ident}")


@require_POST
def change_states(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """A pair that cannot be struck out or let be again; a state of one's own taken away."""
    build, shown = own(request, build_id, screen_id)
    design, values = design_of(build), request.POST
    if values.get("drop_moment"):
        design = replace(design, moments=tuple(one for one in design.moments if one.id != values["drop_moment"]))
    elif values.get("drop_never"):
        design = replace(design, never=tuple(p for n, p in enumerate(design.never) if str(n) != values["drop_never"]))
    else:
        first, second = values.get("first", ""), values.get("second", "")
        if first == second or design.value(first) is None or design.value(second) is None:
            raise BadValueError("a pair is two different values; choose another one")
        pair = Never(first, values.get("first_is", ""), second, values.get("second_is", ""))  # type: ignore[arg-type]
        design = replace(design, never=(*design.never, pair))
    save_design(build, design, base_of(request))
    return redirect("states", build.pk, shown.pk)
