"""How fast each screen, element and change is; which buffer to take; how fast other links would be."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.links.spi import SpiLink
from mosaic.numbers import whole_of
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.windows import rect_from_host
from mosaic.refresh.buffers import buffer_choices, recommended
from mosaic.refresh.costs import Cost, Wire
from mosaic.refresh.lines import link_speeds, soft_clock_hz
from mosaic.refresh.speed import (
    Change,
    ElementCost,
    KindSpeed,
    Way,
    by_kind,
    change_cost,
    element_costs,
    frame_ways,
    scan_bytes_s,
)  # fmt: skip
from mosaic.screens.rendering import drawn_in
from workshop.answers import go_to
from workshop.builds import services as builds
from workshop.builds.models import Build
from workshop.builds.pages import own_build, revision_of
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.keys import digest, panel_part
from workshop.memory import ByteCache
from workshop.refresh.documents import ScheduleDocument, wire_of, wire_part
from workshop.refresh.schedule_services import kept_program, second_buffer_bytes
from workshop.refresh.tabs import PAGES, tabs_of
from workshop.stations.exchange import shown_screens
from workshop.stations.frame import frame_context
from workshop.stations.overview import Overview, overview_of
from workshop.stations.station import ShownScreen

TWO = -1
"""Two full buffers, among numbers of bands."""
_speeds = ByteCache("speeds", 2**20)


@dataclass(frozen=True, eq=False)
class Speed:
    """Everything about how fast a screen is."""

    ways: list[Way]
    elements: list[ElementCost]
    changes: list[tuple[str, Change]]
    kinds: list[KindSpeed]


def speed_of(screen: ShownScreen, wire: Wire) -> Speed:
    """How fast a screen is, kept as long as nothing it depends on changes."""
    device = wire.device

    def made() -> Speed:
        rendered = screen.rendered
        looks = [(state.name, drawn_in(rendered.plan, state)) for state in screen.states]
        changes = [(name, change_cost(looks[0][1], look, wire)) for name, look in looks[1:]]
        by_program = Wire(device, SpiLink(soft_clock_hz(device)), wire.pace)
        kinds = by_kind(rendered, wire, by_program) if device.link_kind == "spi" else []
        return Speed(list(frame_ways(rendered, wire).values()), element_costs(rendered, wire), changes, kinds)

    return _speeds.get_or_make(
        digest("speed 3", screen.key, *wire_part(wire), *panel_part(device)), made, lambda one: 4000 + 600 * len(one.elements)
    )


def _context(build: Build, overview: Overview, here: str) -> dict[str, Any]:
    return {**frame_context(overview, "refresh"), "tabs": tabs_of(build, overview.device, here)}


def _chosen(screens: Sequence[ShownScreen], asked: str) -> ShownScreen | None:
    return next((one for one in screens if one.ref == asked), screens[0] if screens else None)


def speed(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page: one screen in four ways, by element, and from state to state."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    screens = shown_screens(build, device)
    shown = _chosen(screens, request.GET.get("s", ""))
    context = {**_context(build, overview, "refresh"), "screens": screens, "shown": shown}
    if shown is not None:
        wire = wire_of(build, device)
        found = speed_of(shown, wire)
        worst = max([way.total_ms for way in found.ways], default=1.0) or 1.0
        share = max([_total(one) for one in found.elements], default=1.0) or 1.0
        by_time = sorted(found.elements, key=_total, reverse=True)
        asked = request.GET.get("state", "")
        marked = next((one for one in found.changes if one[0] == asked), ("", Change((), Cost())))
        width, height = device.size
        mm = seen_size_mm(device.passport, device.turn)
        context |= {
            "ways": [(way, _bar(way, worst)) for way in found.ways],
            "elements": [
                (one, _total(one), round(100 * one.buffered.draw_ms / share, 2), round(100 * one.buffered.wire_ms / share, 2))
                for one in by_time
            ],
            "changes": [(name, change, *_change_bar(change, found.changes)) for name, change in found.changes],
            "state": marked[0], "kinds": found.kinds, "scan_mb": scan_bytes_s(device) / 1_000_000,
            "width": width, "height": height, "width_mm": mm[0], "height_mm": mm[1],
            "is_round": device.passport.glass.shape == "round",
            "tints": [(rect_from_host(one, device.passport, device.turn), 0.35, marked[0]) for one in marked[1].windows]
            if marked[0] else [
                (shown.rendered.boxes[one.ident], round(0.05 + 0.3 * _total(one) / share, 2), one.name)
                for one in reversed(by_time)
            ],
            "basis": wire.pace.basis, "refresh_ms": device.passport.refresh[0].time_ms if device.passport.refresh else 0,
        }  # fmt: skip
    return render(request, "refresh/speed.html", context)


def _total(one: ElementCost) -> float:
    """ms of an element drawn into a buffer and sent by itself."""
    return one.buffered.draw_ms + one.buffered.wire_ms


def _change_bar(change: Change, changes: list[tuple[str, Change]]) -> tuple[float, float]:
    """Widths of what drawing and sending take, in parts of 100 of the longest change."""
    most = max(one.cost.draw_ms + one.cost.wire_ms for _, one in changes) or 1.0
    return round(100 * change.cost.draw_ms / most, 2), round(100 * change.cost.wire_ms / most, 2)


def _bar(way: Way, worst: float) -> list[tuple[str, float, float]]:
    """The parts of a way's time, side by side: (name, from, width), in parts of 100 of the longest."""
    cost, at, found = way.cost, 0.0, []
    parts = [("draw", cost.draw_ms), ("setup", float(cost.setup_ms)), ("data", float(cost.data_ms)), ("gap", float(cost.gap_ms))]
    for name, ms in parts if not way.why_not else ():
        if way.slug == "double" and name == "setup":
            at = 0.0  # while this frame is sent the next one is drawn
        found.append((name, round(100 * at / worst, 2), round(100 * ms / worst, 2)))
        at += ms
    return found


def buffers(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page: every way to buffer a frame, for the screen that takes longest."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    screens = shown_screens(build, device)
    context = {**_context(build, overview, "buffers"), "screens": screens, "revision": build.revision}
    context["findings"] = overview.findings_on("buffers")
    if screens:
        wire = wire_of(build, device)
        slowest = max(screens, key=lambda one: next(way for way in speed_of(one, wire).ways if way.slug == "full").cost.draw_ms)
        ram = next(budget for budget in overview.budgets if budget.slug == "ram")
        program = kept_program(build, device)
        second = second_buffer_bytes(device, program)
        choices = buffer_choices(slowest.rendered, wire, int(ram.value - device.buffer_bytes - second))
        best, why = recommended(choices, device.board.ram_bytes + device.board.external_ram_bytes)
        context |= {
            "slowest": slowest,
            "choices": choices,
            "best": best,
            "why": why,
            "here": TWO if second else device.buffer_bands,
            "ram": ram,
        }
        context["basis"] = wire.pace.basis
    return render(request, "refresh/buffers.html", context)


def links(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page: a frame on every link."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    speeds = link_speeds(overview.device)
    worst = max((one.frame.wire_ms for one in speeds), default=1.0) or 1.0
    rows = [(one, round(100 * one.frame.wire_ms / worst, 2)) for one in speeds]
    here = next((one.pins for one in speeds if one.is_here), 0)
    kinds = {one.kind: (one, _more(one.pins - here)) for one in speeds}.values()
    straps = len(overview.device.passport.links) > 1
    context = {**_context(build, overview, "links"), "rows": rows, "kinds": kinds, "straps": straps, "revision": build.revision}
    return render(request, "refresh/links.html", context)


def _more(pins: int) -> str:
    """How many more pins, or fewer.

    >>> _more(9), _more(-2), _more(0)
    (', 9 more', ', 2 fewer', '')
    """
    return f", {abs(pins)} {'more' if pins > 0 else 'fewer'}" if pins else ""


def _two_or_one(build: Build, bands: int) -> int:
    """Two full buffers are one as the device knows it, and a second one in the schedule; any other choice has no second one."""
    row, device = shelf.single(build, ScheduleDocument), build.to_device()
    before = kept_program(build, device)
    program = replace(before, two_buffers=bands == TWO, sends_itself=before.sends_itself or bands == TWO)
    if program != before:
        documents.save_single(ScheduleDocument, build=build, base=row.head_id or 0 if row else 0, record=program)
    return 1 if bands == TWO else bands


@require_POST
def take(request: HttpRequest, build_id: int) -> HttpResponse:
    """Take a buffer or a clock for the build."""
    build = own_build(request, build_id)
    changes: dict[str, Any] = {}
    if "buffer_bands" in request.POST:
        changes["buffer_bands"] = whole_of(request.POST["buffer_bands"], "the number of bands", TWO, 4096)
    if "clock_hz" in request.POST:
        changes["clock_hz"] = whole_of(request.POST["clock_hz"], "the clock, in Hz,", 1, 1_000_000_000)
    if not changes:
        raise BadValueError("nothing was chosen; take a buffer or a clock")
    with transaction.atomic():
        if "buffer_bands" in changes:
            changes["buffer_bands"] = _two_or_one(build, changes["buffer_bands"])
        builds.change_build(build=build, changes=changes, revision=revision_of(request))
    back = request.POST.get("back")
    return go_to(request, reverse(back if back in dict(PAGES) else "refresh", args=[build.pk]))
