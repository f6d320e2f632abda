"""The live panel: the build's screens with the values on the line, touched on the page."""

from typing import Any

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from mosaic.behaviour.machine import Machine
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.panels.appearance import colors_of
from mosaic.panels.geometry import seen_size_mm
from mosaic.screens.moments import by_hand
from mosaic.screens.rendering import drawn_in
from mosaic.serial.code import c_sender, python_sender
from workshop.answers import attachment, passing_image
from workshop.builds.models import Build
from workshop.screens.behaviour_services import machine_of_build, plans_of
from workshop.screens.documents import design_of
from workshop.screens.models import SerialLine, SerialTouch
from workshop.screens.serial.pages import context_of, own_serial
from workshop.screens.serial.server import HELD_FOR
from workshop.screens.serial.services import plan_of

MOST_WAITING = 50
SENDERS = {"panel_sender.c": c_sender, "panel_sender.py": python_sender}


def line_of(build: Build) -> SerialLine:
    """The stand-in of a build."""
    return SerialLine.objects.get_or_create(build=build)[0]


def _page_of(machine: Machine, line: SerialLine) -> tuple[int, str]:
    """The number and the reference of the screen that the panel shows; "" for a page that the build has not."""
    number = int(line.state.get("page", 0))
    return number, machine.screens[number] if 0 <= number < len(machine.screens) else ""


def _context(build: Build, line: SerialLine, device: Any) -> dict[str, Any]:
    """What is told of the panel as it is now."""
    machine, state = machine_of_build(build, device), line.state
    number, ref = _page_of(machine, line)
    values = {value.id: value for value in design_of(build).values}
    areas = [
        (area, event) for area in machine.behaviour.areas
        if machine.boxes.get(area.id) and machine.is_on(area, number) and (event := event_of(machine, area.id))
    ]  # fmt: skip
    return {
        "build": build, "line_row": line, "state": state, "page_number": number, "page_ref": ref, "areas": areas,
        "is_live": bool(line.session and line.seen and line.seen > timezone.now() - HELD_FOR),
        "read": [(values[ident], values[ident].plain(reading)) for ident, reading in state.get("readings", {}).items()
                 if ident in values],
        "faults": sum(state.get("counts", {}).values()),
        "glass_url": reverse("serial-glass", args=[build.pk, line.version]),
    }  # fmt: skip


def event_of(machine: Machine, area: str) -> int:
    """The event that a touch of an area raises; 0 for none."""
    for rule in machine.behaviour.rules:
        if rule.trigger.on == area and rule.trigger.when in ("press", "release"):
            for action in rule.actions:
                event = machine.behaviour.event(action.to) if action.do == "event" else None
                if event is not None:
                    return int(event.code)
    return 0


def live(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_serial(request, build_id)
    overview, context = context_of(build, "serial-live")
    device, line = overview.device, line_of(build)
    mm = seen_size_mm(device.passport, device.turn)
    context |= {
        **_context(build, line, device), "width": device.size[0], "height": device.size[1], "width_mm": mm[0], "height_mm": mm[1],
        "port": settings.LINE_PORT, "senders": list(SENDERS), "findings": [],
    }  # fmt: skip
    return render(request, "screens/serial/live.html", context)


def state(request: HttpRequest, build_id: int) -> HttpResponse:
    """What has changed since a version; nothing to say is 204."""
    build = own_serial(request, build_id)
    line = line_of(build)
    context = _context(build, line, build.to_device())
    since = request.GET.get("since", "")
    if since == f"{line.version}-{int(context['is_live'])}-{line.terminal}":
        return HttpResponse(status=204)
    return render(request, "screens/serial/partials/live_state.html", context)


def glass(request: HttpRequest, build_id: int, version: int) -> HttpResponse:
    """The screen that the panel shows, with the values that have come."""
    build = own_serial(request, build_id)
    device, line = build.to_device(), line_of(build)
    machine = machine_of_build(build, device)
    _, ref = _page_of(machine, line)
    plan = plans_of(build, device).get(ref)
    if plan is None:
        raise Http404("this page is none of the build's screens")
    known = set(plan.values)
    readings = {ident: reading for ident, reading in line.state.get("readings", {}).items() if ident in known}
    try:
        shown = drawn_in(plan, by_hand(plan, readings))
    except MosaicError as error:
        raise Http404(str(error)) from None
    return passing_image(encode_png(colors_of(shown.pixels, device.passport, device.turn), level=1))


@require_POST
def touch(request: HttpRequest, build_id: int) -> HttpResponse:
    """Somebody touches the glass, or an area by its key: its event goes to the program."""
    build = own_serial(request, build_id)
    line, machine = line_of(build), machine_of_build(build, build.to_device())
    typed = request.POST.get("event", "")
    if typed:
        event = int(typed) if typed.isdecimal() and len(typed) < 6 else 0
    else:
        x, y = (int(request.POST[name]) if request.POST.get(name, "").isdecimal() else -1 for name in ("x", "y"))
        number = machine.hit(x, y, _page_of(machine, line)[0])
        event = event_of(machine, machine.behaviour.areas[number].id) if number >= 0 else 0
    if not 1 <= event <= 0xFFFF:
        raise BadValueError("nothing there tells the program anything; give an area a rule with an event")
    if line.touches.count() >= MOST_WAITING:
        raise BadValueError("no program takes the touches; connect one first")
    SerialTouch.objects.create(line=line, event=event)
    return HttpResponse(status=204) if request.htmx else redirect("serial-live", build.pk)  # type: ignore[attr-defined]


@require_POST
def terminal(request: HttpRequest, build_id: int) -> HttpResponse:
    """Open a pseudo terminal, or close it."""
    build = own_serial(request, build_id)
    SerialLine.objects.filter(pk=line_of(build).pk).update(wants_terminal="open" in request.POST)
    return redirect("serial-live", build.pk)


def sender(request: HttpRequest, build_id: int, name: str) -> HttpResponse:
    """A program that sends the build's values and takes touches."""
    build = own_serial(request, build_id)
    if name not in SENDERS:
        raise Http404("no such file")
    text = SENDERS[name](plan_of(build), design_of(build).values, settings.LINE_PORT, line_of(build).token)
    return attachment(text, name, "text/plain; charset=utf-8")
