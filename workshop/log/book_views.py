"""The build book: everything of a build on pages to print."""

import base64
import secrets
from hashlib import sha256
from typing import Any

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.exports.rasters import png_of_glass
from mosaic.measured.quantities import QUANTITIES
from mosaic.screens.rendering import drawn_in
from mosaic.source_text import identifier
from mosaic.values.states import State
from mosaic.wiring.signals import signals_of
from workshop.answers import attachment, inline_png
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents.models import Original
from workshop.journal.models import BookLink, LogEntry
from workshop.log.views import log_context, predictions_of
from workshop.memory import ByteCache
from workshop.stations.exchange import shown_screens
from workshop.stations.overview import overview_of
from workshop.stations.station import ShownScreen

MOST_STATES, MOST_ENTRIES, MOST_PHOTOS = 80, 400, 24
LOOK_PX = 260
"""About as wide as a small panel is shown, by a whole number of times its pixels; larger ones are shown once as large."""
_looks = ByteCache("book", 4 * 2**20)


def _look(screen: ShownScreen, state: State, device: Device) -> bytes:
    """PNG of a screen in a state."""

    def made() -> bytes:
        return png_of_glass(drawn_in(screen.rendered.plan, state).pixels, device.passport, device.turn)

    return _looks.get_or_make((screen.key, state.key), made, len)


def book_context(build: Build) -> dict[str, Any]:
    """Everything that the book shows."""
    overview = overview_of(build)
    device = overview.device
    screens = []
    for screen in shown_screens(build, device):
        looks = [(state.name, inline_png(_look(screen, state, device))) for state in screen.states[:MOST_STATES]]
        screens.append((screen.name, looks, max(0, len(screen.states) - MOST_STATES)))
    plan, wires = device.wiring, []
    if plan is not None:
        wires = [
            (signal.label, signal.function, plan.to_of(signal.label) or "open")
            for signal in signals_of(device.passport, device.link_kind)
        ]
    entries = list(LogEntry.objects.filter(build=build).order_by("made")[:MOST_ENTRIES])
    photos = {e.photo_id for e in entries if e.photo_id}
    known = {
        pk: f"data:image/png;base64,{base64.b64encode(bytes(data)).decode()}"
        for pk, data in Original.objects.filter(pk__in=list(photos)[:MOST_PHOTOS]).values_list("pk", "data")
    }
    told = [(entry, QUANTITIES[entry.quantity] if entry.quantity else None, known.get(entry.photo_id, "")) for entry in entries]
    predicted = predictions_of(overview)
    summaries = [item for item in overview.items if item.summary]
    expected = [(one, predicted[one.slug]) for one in QUANTITIES.values() if one.slug in predicted]
    return {
        "summaries": summaries, "expected": expected, "build": build, "device": device, "overview": overview,
        "screens": screens, "look_px": device.size[0] * max(1, LOOK_PX // device.size[0]), "wires": wires, "entries": told,
        "more_entries": max(0, LogEntry.objects.filter(build=build).count() - len(entries)), "card": device.setup_card,
        "setup": [line for line in device.passport.sequences.setup.splitlines() if line.strip()],
    }  # fmt: skip


def book(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page, with the book in it."""
    build = own_build(request, build_id)
    link = BookLink.objects.filter(build=build).first()
    return render(
        request,
        "log/book.html",
        {**log_context(build, "book"), **book_context(build), "link": link, "address": request.GET.get("address", "")},
    )


def pdf(request: HttpRequest, build_id: int) -> HttpResponse:
    """The book as PDF."""
    build = own_build(request, build_id)
    try:
        from weasyprint import CSS, HTML
        from weasyprint.urls import URLFetcher
    except (ImportError, OSError):
        raise BadValueError("PDF needs the system library Pango; print the page instead, or install libpango-1.0-0") from None
    text = render_to_string("log/book_print.html", {**book_context(build), "for_pdf": True})
    nothing = URLFetcher(allowed_protocols=["data"])  # but what stands in the page itself
    sheet = CSS(string=(settings.BASE_DIR / "workshop" / "static" / "look" / "book.css").read_text(), url_fetcher=nothing)
    made = HTML(string=text, url_fetcher=nothing).write_pdf(stylesheets=[sheet])
    return attachment(made, f"{identifier(build.name, 'build')}_book.pdf", "application/pdf")


@require_POST
def link(request: HttpRequest, build_id: int) -> HttpResponse:
    """An address at which the book can be read without signing in; or none any more."""
    build = own_build(request, build_id)
    BookLink.objects.filter(build=build).delete()
    if "revoke" in request.POST:
        return redirect("book", build.pk)
    token = secrets.token_urlsafe(18)
    BookLink.objects.create(build=build, token_hash=sha256(token.encode()).hexdigest())
    address = request.build_absolute_uri(reverse("shared-book", args=[token]))
    return render(request, "log/book.html", {
        **log_context(build, "book"), **book_context(build), "link": BookLink.objects.get(build=build), "address": address,
    })  # fmt: skip


@login_not_required
def shared_book(request: HttpRequest, token: str) -> HttpResponse:
    """The book, to whoever has its address."""
    found = (
        BookLink.objects.select_related("build")
        .filter(token_hash=sha256(token.encode()).hexdigest(), build__removed=None, build__owner__leaves=None)
        .first()
    )
    if found is None:
        raise Http404("no such book")
    response = render(request, "log/book_print.html", book_context(found.build))
    response["X-Robots-Tag"] = "noindex"
    return response
