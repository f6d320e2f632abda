"""The set-up reader: two sequences of commands in words, side by side."""

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.conversion.program import Setting, transmission
from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.panels.wire import Part
from mosaic.setups.compare import Pair, compared, taken_over
from mosaic.setups.read import Sequence
from mosaic.virtual.panel import shown_pixels, virtual_panel
from workshop.bringup import examples, services
from workshop.bringup.pages import station_context
from workshop.bringup.pasted import data_uri, not_too_long, problems_of
from workshop.bringup.subjects import png_of_values, setting_of, subject_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build, revision_of
from workshop.stations.overview import overview_of

FIGURE_PX = (560, 240)


def _run(sequence: Sequence, setting: Setting, build: Build, device: Device) -> tuple[str, int]:
    """What the panel shows under a set-up and the build's first picture, and how much it tripped over."""
    subject = subject_of(build, device, "")
    panel = virtual_panel(setting.passport)
    setup = Part("set-up", sequence.transactions(setting.passport.controller.family))
    for part in (setup, *transmission(subject.pixels, setting, setting.sending)[1:]):
        panel.play(part.transactions)
    panel.finish()
    return data_uri(png_of_values(shown_pixels(panel, setting.turn), setting)), len(panel.misuse)


def _figure_size(size: tuple[int, int]) -> tuple[int, int]:
    """The largest whole zoom that fits, or for large panels what does."""
    width, height = size
    zoom = min(FIGURE_PX[0] // width, FIGURE_PX[1] // height)
    if zoom:
        return width * zoom, height * zoom
    shrink = max(width / FIGURE_PX[0], height / FIGURE_PX[1])
    return round(width / shrink), round(height / shrink)


def setups(request: HttpRequest, build_id: int) -> HttpResponse:
    """Two set-ups in words, side by side: the one in use, and another that was found."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    setting = setting_of(device)
    is_example = request.method != "POST"
    texts = {
        "here": examples.own_setup(device) if is_example else request.POST.get("here", ""),
        "there": examples.other_setup(device) if is_example else request.POST.get("there", ""),
    }
    problems: list[tuple[str, int, str]] = []
    read: dict[str, Sequence] = {}
    for side, text in texts.items():
        try:
            read[side] = examples.read_setup(not_too_long(text), device)
        except MosaicError as error:
            problems += [({"here": "In use", "there": "Found"}[side], *problem) for problem in problems_of(error)]
    context: dict[str, Any] = {
        **station_context(build, "setups", overview), "texts": texts, "problems": problems, "is_example": is_example,
    }  # fmt: skip
    if not problems:
        pairs = compared(read["here"], read["there"], device.passport.controller.family)
        shown = {side: _run(sequence, setting, build, device) for side, sequence in read.items()}
        context |= {
            "pairs": pairs, "differing": sum(pair.differs for pair in pairs), "marked": sum(pair.is_marked for pair in pairs),
            "read": read, "shown": shown, "figure": _figure_size(device.size), "alike": shown["here"][0] == shown["there"][0],
        }  # fmt: skip
    return render(request, "bringup/setups.html", context, status=422 if problems else 200)


@require_POST
def take_setups(request: HttpRequest, build_id: int) -> HttpResponse:
    """Chosen commands of the found set-up go into the build's passport."""
    build = own_build(request, build_id)
    device = build.to_device()
    chosen = request.POST.getlist("take")
    if not chosen:
        raise BadValueError("choose at least one command to take over")
    here = examples.read_setup(examples.own_setup(device), device)
    there = examples.read_setup(not_too_long(request.POST.get("there", "")), device)
    pairs: dict[str, Pair] = {p.key: p for p in compared(here, there, device.passport.controller.family) if p.differs}
    missing = [key for key in chosen if key not in pairs]
    if missing:
        raise BadValueError(f"the passport's set-up does not differ in {', '.join(missing)}; load the page again")
    setting = setting_of(device)
    for key in chosen:
        setting = taken_over(setting, pairs[key])
    services.take_setting(build=build, setting=setting, revision=revision_of(request))
    words = ", ".join(p.there.words if (p := pairs[key]).there else f"without {p.key}" for key in chosen)
    messages.success(request, f"The passport’s set-up has now: {words}.")
    return redirect("bringup-setups", build.pk)
