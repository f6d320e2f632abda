"""Entries of a build's log: listed, written, changed, deleted."""

from datetime import datetime, timedelta
from typing import Any

from django.core.paginator import Paginator
from django.db.models import Max
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import Resolver404, resolve, reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError, MosaicError
from mosaic.measured.quantities import QUANTITIES, UNITS, quantity_named, read_reading
from workshop.answers import image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents.models import Original
from workshop.journal import services as journal
from workshop.journal.models import KINDS, LogEntry
from workshop.log.as_it_was import setup_in_words, state_with_stations
from workshop.log.photos import keep_photo
from workshop.log.tabs import tabs_of
from workshop.removal import tell_removed
from workshop.stations import stations
from workshop.stations.frame import frame_context
from workshop.stations.overview import AS_MEASURED, Overview, overview_of

ENTRIES_A_PAGE = 40
AHEAD = timedelta(minutes=2)
"""Clocks of two computers may differ by less."""
FIELDS = ("kind", "text", "quantity", "reading", "instrument", "conditions", "tags", "worked", "made", "page", "subject")


def log_context(build: Build, here: str, overview: Overview | None = None) -> dict[str, Any]:
    """The frame of a page of this station."""
    return {**frame_context(overview or overview_of(build), "log"), "tabs": tabs_of(build, here), "findings": []}


def own_entry(request: HttpRequest, build_id: int, entry_id: int) -> tuple[Build, LogEntry]:
    """An entry of the person's own build."""
    build = own_build(request, build_id)
    entry = LogEntry.objects.filter(build=build, pk=entry_id).first()
    if entry is None:
        raise Http404("no such entry")
    entry.build = build
    return build, entry


def _when(written: str) -> datetime | None:
    """The time that was typed, here; None for now.

    Raises
    ------
    BadValueError
        It is none.
    """
    if not written.strip():
        return None
    try:
        found = datetime.fromisoformat(written.strip())
    except ValueError:
        raise BadValueError(
            f"{written[:24]!r} is no time; a day such as 2026-05-31, or with 18:40 behind it, is accepted"
        ) from None
    return timezone.make_aware(found) if timezone.is_naive(found) else found


def predictions_of(overview: Overview) -> dict[str, float]:
    """What the build says now of each quantity, in its unit, without what was measured of it."""
    budgets = {one.slug: one for one in overview.budgets}
    found = {
        quantity.slug: sum(part.value for part in budgets[quantity.budget].parts if part.name != AS_MEASURED)
        for quantity in QUANTITIES.values()
        if quantity.budget in budgets
    }
    for station in stations():
        found |= station.predicted(overview.build, overview.device)
    return {slug: value for slug, value in found.items() if value > 0}


def typed_entry(request: HttpRequest, build: Build, overview: Overview) -> dict[str, Any]:
    """What was typed, as fields of an entry.

    Raises
    ------
    BadValueError
        A reading or a time cannot be read.
    """
    typed = {name: request.POST.get(name, "").strip() for name in FIELDS}
    kind = typed["kind"] or "note"
    found: dict[str, Any] = {name: typed[name] for name in ("text", "instrument", "conditions", "page", "subject")}
    found |= {"kind": kind, "tags": journal.tags_of(typed["tags"]), "made": _when(typed["made"])}
    if typed["reading"] or kind == "measurement":
        quantity = quantity_named(typed["quantity"])
        found |= {
            "quantity": quantity.slug, "value": read_reading(typed["reading"], quantity),
            "predicted": predictions_of(overview).get(quantity.slug),
        }  # fmt: skip
        found["kind"] = "measurement" if kind == "note" else kind
    if typed["worked"] in ("yes", "no"):
        found["worked"] = typed["worked"] == "yes"
        found["kind"] = "trial" if kind == "note" else kind
    if not found["page"].startswith("/"):
        found["page"] = ""
    return found


def log(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    return _page(request, build)


def _page(request: HttpRequest, build: Build, typed: Any = None, wrong: str = "") -> HttpResponse:
    rows = LogEntry.objects.filter(build=build).select_related("build")
    words, kind = request.GET.get("q", "").strip()[:200], request.GET.get("kind", "")
    by_day = request.GET.get("by") == "day"
    shown = journal.found_in(rows, words)
    if kind in dict(KINDS):
        shown = shown.filter(kind=kind)
    page = Paginator(shown, ENTRIES_A_PAGE).get_page(request.GET.get("page"))
    context = {
        **log_context(build, "log"), "page": page, "words": words, "kind": kind, "kinds": KINDS,
        "quantities": list(QUANTITIES.values()), "units": UNITS, "typed": typed or {"kind": kind or "note"}, "wrong": wrong,
        "count": rows.count(), "by_day": by_day, "ahead": _ahead(build),
        "tags_known": journal.tags_in(rows.exclude(tags="").values_list("tags", flat=True)[:2000])[:14],
    }  # fmt: skip
    return render(request, "log/log.html", context, status=422 if wrong else 200)


def _ahead(build: Build) -> datetime | None:
    """When something was last written, where that is still to come: the computer's clock has been set back."""
    last = max(filter(None, (build.changed, build.log.aggregate(Max("created"))["created__max"])))
    return last if last > timezone.now() + AHEAD else None


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """Write an entry, from the log's own page or from any other by one key."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    try:
        found = typed_entry(request, build, overview)
        upload = request.FILES.get("photo")
        photo = keep_photo(upload, request.user) if upload else None
        if photo is not None and found["kind"] == "note":
            found["kind"] = "photo"
        kind, text, made = found.pop("kind"), found.pop("text"), found.pop("made")
        found["state"] = state_with_stations(build)
        if kind == "trial":
            found["setup"] = setup_in_words(overview.device)
        journal.write(build, kind, text, made=made, photo=photo, **found)
    except MosaicError as error:
        if request.htmx:  # type: ignore[attr-defined]
            return _line(request, overview, request.POST, str(error))
        return _page(request, build, request.POST, str(error))
    if request.htmx:  # type: ignore[attr-defined]
        return render(request, "log/partials/kept.html", {"build": build})
    return redirect("log", build.pk)


MEASURED_AT = {
    "benchmark": "frame-time", "refresh": "frame-time", "links": "frame-time", "buffers": "ram", "energy": "energy-a-day",
    "trace": "idle-current", "paper": "refresh-time", "check-sheet": "voltage", "bringup-stages": "voltage",
    "frame-feed": "voltage",
}  # fmt: skip
"""What is usually measured at a page, by the name of its address."""
TRIED_AT = ("bringup-stages", "bringup-faults", "bringup-cards", "bringup-virtual", "setup-card", "hand-over", "live")
"""Pages at which something is usually tried."""


def quick(request: HttpRequest, build_id: int) -> HttpResponse:
    """A line from any page, with what that page shows."""
    build = own_build(request, build_id)
    page = request.GET.get("page", "")[:300]
    try:
        name = resolve(page).url_name or ""
    except Resolver404:
        name, page = "", ""
    typed = {"kind": "trial" if name in TRIED_AT else "note", "quantity": MEASURED_AT.get(name, ""), "page": page}
    return _line(request, overview_of(build), typed)


def _line(request: HttpRequest, overview: Overview, typed: Any, wrong: str = "") -> HttpResponse:
    context = {
        "build": overview.build, "kinds": KINDS, "units": UNITS, "quantities": list(QUANTITIES.values()), "typed": typed,
        "wrong": wrong,
    }  # fmt: skip
    return render(request, "log/partials/quick.html", context, status=422 if wrong else 200)


def entry(request: HttpRequest, build_id: int, entry_id: int) -> HttpResponse:
    """One entry, to be changed."""
    build, row = own_entry(request, build_id, entry_id)
    return render(request, "log/entry.html", _entry_context(build, row))


def _entry_context(build: Build, row: LogEntry, typed: Any = None, wrong: str = "") -> dict[str, Any]:
    quantity = QUANTITIES[row.quantity] if row.quantity else None
    known = typed or {
        "kind": row.kind, "text": row.text, "quantity": row.quantity, "instrument": row.instrument, "conditions": row.conditions,
        "tags": row.tags, "worked": "" if row.worked is None else "yes" if row.worked else "no",
        "reading": f"{row.value:g} {quantity.unit}" if quantity and row.value is not None else "",
        "made": timezone.localtime(row.made).strftime("%Y-%m-%dT%H:%M"),
    }  # fmt: skip
    return {
        **log_context(build, "log"), "entry": row, "typed": known, "wrong": wrong, "kinds": KINDS, "units": UNITS,
        "quantities": list(QUANTITIES.values()),
    }  # fmt: skip


@require_POST
def change(request: HttpRequest, build_id: int, entry_id: int) -> HttpResponse:
    """Keep an entry as it was changed; what the build said when it was written stays."""
    build, row = own_entry(request, build_id, entry_id)
    try:
        found = typed_entry(request, build, overview_of(build))
        if found.get("quantity") == row.quantity:
            found.pop("predicted", None)
        if found["made"] is None:
            found.pop("made")
        for name in ("page", "subject"):
            found.pop(name)
        found.setdefault("worked", None)
        if "quantity" not in found:
            found |= {"quantity": "", "value": None, "predicted": None}
        for name, value in found.items():
            setattr(row, name, value)
        journal.checked(row).save()
    except MosaicError as error:
        return render(request, "log/entry.html", _entry_context(build, row, request.POST, str(error)), status=422)
    return redirect(f"{reverse('log', args=[build.pk])}#entry-{row.pk}")


@require_POST
def delete(request: HttpRequest, build_id: int, entry_id: int) -> HttpResponse:
    """Into the bin; the notice brings it back."""
    build, row = own_entry(request, build_id, entry_id)
    row.remove()
    tell_removed(request, row)
    return redirect("log", build.pk)


def photo(request: HttpRequest, build_id: int, entry_id: int) -> HttpResponse:
    """The photo of an entry."""
    _, row = own_entry(request, build_id, entry_id)
    if row.photo_id is None:
        raise Http404("this entry has no photo")
    return image(bytes(Original.objects.values_list("data", flat=True).get(pk=row.photo_id)))
