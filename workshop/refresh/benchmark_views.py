"""A list of drawings that the maker's board times: taken as a program, its answers pasted back, and counted with or not."""

from dataclasses import replace

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.refresh.measuring.fitting import fitted, in_words
from mosaic.refresh.measuring.listing import Listing, listing
from mosaic.refresh.measuring.programs import c_measure, c_measure_header, python_measure
from mosaic.refresh.measuring.record import benchmark_of
from workshop.answers import attachment, go_to
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.journal import services as journal
from workshop.refresh.documents import BenchmarkDocument
from workshop.refresh.tabs import tabs_of
from workshop.stations.exchange import shown_screens
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

PROGRAMS = {"measure.h": c_measure_header, "measure.c": c_measure, "measure.py": python_measure}


def listing_of(build: Build, device: Device) -> Listing:
    """The list of a build.

    Raises
    ------
    BadValueError
        It has no screen yet.
    """
    screens = [(one.name, one.rendered) for one in shown_screens(build, device)]
    if not screens:
        raise BadValueError("there is no screen yet; what is timed are the screens of station 5")
    return listing(screens, device)


def _page(request: HttpRequest, build: Build, wrong: str = "", typed: str = "") -> HttpResponse:
    overview = overview_of(build)
    device = overview.device
    row = shelf.single(build, BenchmarkDocument)
    record = row.record if row else None
    context = {
        **frame_context(overview, "refresh"), "tabs": tabs_of(build, overview.device, "benchmark"),
        "base": row.head_id if row else 0,
        "document": row, "record": record, "factors": in_words(record.pace) if record else [], "wrong": wrong, "typed": typed,
        "counts": record is not None and record.pace_for(device).is_measured, "programs": list(PROGRAMS),
        "is_elsewhere": record is not None and record.is_taken and record.pace_for(device) != record.pace,
        "has_screens": bool(shown_screens(build, device)),
    }  # fmt: skip
    return render(request, "refresh/benchmark.html", context, status=422 if wrong else 200)


def benchmark(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


def source(request: HttpRequest, build_id: int, wanted: str) -> HttpResponse:
    """The program that is run on the board."""
    build = own_build(request, build_id)
    if wanted not in PROGRAMS:
        raise Http404("no such program")
    found = listing_of(build, build.to_device())
    return attachment(PROGRAMS[wanted](found, build.name), wanted, "text/plain")


@require_POST
def paste(request: HttpRequest, build_id: int) -> HttpResponse:
    """What the board said; what cannot be read stays in its field."""
    build = own_build(request, build_id)
    device, text = build.to_device(), request.POST.get("lines", "")
    try:
        record = benchmark_of(fitted(text, listing_of(build, device)), device)
    except BadValueError as error:
        return _page(request, build, str(error), text[:200_000])
    documents.save_single(BenchmarkDocument, build=build, base=base_of(request), record=record)
    times = f"the program {record.run:.2f}, a pixel {record.pixel:.2f}, the wire {record.wire:.2f}"
    words = f"Benchmark of {len(record.lines)} lines. Times what is typical: {times}."
    journal.note(build, "trial", words, page=request.path, subject="Benchmark")
    return go_to(request, reverse("benchmark", args=[build.pk]))


@require_POST
def use(request: HttpRequest, build_id: int) -> HttpResponse:
    """Count with what was measured, or leave it."""
    build = own_build(request, build_id)
    row = shelf.single(build, BenchmarkDocument)
    if row is None:
        raise BadValueError("nothing was measured yet; paste what the program has printed first")
    record = replace(row.record, is_taken=request.POST.get("take") == "1")
    documents.save_single(BenchmarkDocument, build=build, base=base_of(request), record=record)
    return go_to(request, reverse("benchmark", args=[build.pk]))
