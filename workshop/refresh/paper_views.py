"""E-paper: when it is cleaned, what the schools of cleaning cost, and what former pictures leave on the glass."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.forms import from_record, to_record
from mosaic.numbers import decimal, whole_of
from mosaic.panels.geometry import seen_size_mm
from mosaic.refresh.day.film import Film
from mosaic.refresh.day.program import Program
from mosaic.refresh.paper.ghost import GhostModel, bound
from mosaic.refresh.paper.schools import partial_mode, schools_of
from mosaic.values.value import seconds_of
from workshop.answers import check_key, go_to, image, passing_image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.decoded import source_of
from workshop.documents.originals import keep_picture, read_upload
from workshop.documents.pages import base_of
from workshop.refresh.documents import GhostDocument, ScheduleDocument
from workshop.refresh.energy_services import plan_of
from workshop.refresh.paper_services import cleaned_by, film_of, ghost_of, glass_after, model_of, school_rows
from workshop.refresh.schedule_services import kept_program, without_gone
from workshop.refresh.tabs import tabs_of
from workshop.stations.exchange import living
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

PHOTO_PX = 900
TIMES = (1, 8)
"""How strong the ghost is drawn: as it is, and to be found."""
CONSTANTS = {
    "partial_change": ("a partial update leaves of a change, in %,", 100),
    "partial_keep": ("it leaves of what was there, in %,", 100),
    "full_change": ("a full one leaves of a change, in %,", 100), "full_keep": ("it leaves of what was there, in %,", 100),
    "per_degree": ("a degree under 20 °C adds, in %,", 100),
}  # fmt: skip


def _film(build: Build, device: Device) -> Film | None:
    life = living(build, device)
    return film_of(life, device, build, without_gone(kept_program(build, device), life)) if life is not None else None


def _device(build: Build) -> Device:
    device = build.to_device()
    if not device.passport.refresh:
        raise Http404("this panel is no e-paper")
    return device


def _moment(request: HttpRequest, film: Film, usual: int) -> int:
    asked = request.GET.get("at", "")
    return min(len(film) - 1, int(asked)) if asked.isdecimal() and len(asked) < 7 else min(usual, len(film) - 1)


def _times(request: HttpRequest) -> int:
    return next((one for one in TIMES if str(one) == request.GET.get("times")), 0) if request.GET.get("times") else 1


def _page(
    request: HttpRequest,
    build: Build,
    wrong: str = "",
    typed: QueryDict | None = None,
    model_wrong: str = "",
    model_typed: QueryDict | None = None,
) -> HttpResponse:
    overview = overview_of(build)
    device = overview.device
    if not device.passport.refresh:
        raise Http404("this panel is no e-paper")
    row, schedule = shelf.single(build, GhostDocument), shelf.single(build, ScheduleDocument)
    program, model = kept_program(build, device), model_of(build)
    modes = list(enumerate(device.passport.refresh))
    width, height = device.size
    mm = seen_size_mm(device.passport, device.turn)
    film = _film(build, device)
    item = next((one for one in overview.by_station["refresh"] if one.ref == "energy-0"), None)
    context: dict[str, Any] = {
        **frame_context(overview, "refresh"), "tabs": tabs_of(build, device, "paper"), "film": film, "modes": modes,
        "v": typed if typed is not None else _values(program), "wrong": wrong,
        "base": schedule.head_id if schedule else 0,
        "document": schedule, "program": program, "has_partial": partial_mode(device.passport) is not None,
        "m": model_typed if model_typed is not None else {name: f"{100 * getattr(model, name):.4g}" for name in CONSTANTS},
        "model_wrong": model_wrong, "model_document": row, "model_base": row.head_id if row else 0,
        "width": width, "height": height, "width_mm": mm[0], "height_mm": mm[1],
        "bound": bound(model, plan_of(build, device).celsius),
        "findings": [one for one in item.findings if one["where"] == "E-paper"] if item is not None else [],
        "photo_url": reverse("paper-photo", args=[build.pk, row.original_id[:24]]) if row and row.original_id else "",
        "photo": source_of(row.original_id, "photo") if row and row.original_id else None,
    }  # fmt: skip
    if film is not None and len(film):
        context |= _moment_context(request, build, device, film)
    return render(request, "refresh/paper.html", context, status=422 if wrong or model_wrong else 200)


def _moment_context(request: HttpRequest, build: Build, device: Device, film: Film) -> dict[str, Any]:
    """What is told of the glass after one update."""
    model, celsius = model_of(build), plan_of(build, device).celsius
    ghost = ghost_of(film, device, model, celsius)
    at, times = _moment(request, film, ghost.worst), _times(request)
    shot, modes = film.shots[at], device.passport.refresh
    most = max(ghost.largest) or 1.0
    return {
        "build": build, "at": at, "times": times, "last": len(film) - 1, "shot": shot, "minute": shot.at_ms // 60_000,
        "how": " and ".join(modes[mode].name for mode in shot.modes), "largest": ghost.largest[at], "visible": ghost.visible[at],
        "worst": ghost.worst, "is_cut": film.length_ms < 86_400_000, "until_min": film.length_ms // 60_000,
        "glass_url": f"{reverse('paper-glass', args=[build.pk])}?at={at}&times={times}&for={build.revision}",
        "line": " ".join(
            f"{'M' if not n else 'L'}{960 * n / max(1, len(film) - 1):.1f} {60 - 54 * one / most:.1f}"
            for n, one in enumerate(ghost.largest)
        ),
        "mark": round(960 * at / max(1, len(film) - 1), 1), "most": most,
    }  # fmt: skip


def _values(program: Program) -> dict[str, str]:
    """The fields of the page for a schedule."""
    rules = program.cleaning
    return {
        "refresh": str(program.refresh), "mode": str(rules.mode), "each": "1" if rules.each else "",
        "after": str(rules.after or ""), "from_percent": f"{100 * rules.from_share:g}" if rules.from_share else "",
        "at": ", ".join(f"{minute // 60}:{minute % 60:02}" for minute in rules.at_min), "previous": rules.previous,
        "between": rules.between,
    }  # fmt: skip


def _percent(values: QueryDict, field: str, what: str) -> float:
    found = decimal(values.get(field, "").strip().removesuffix("%") or "0")
    if found is None:
        raise BadValueError(f"{what} is {values.get(field, '')[:20]!r}; a number such as 6 is accepted")
    return float(found) / 100


def _minutes(typed: str) -> list[int]:
    found = set()
    for one in typed.replace(";", ",").split(","):
        if one.strip():
            seconds = seconds_of(one.strip(), "time")
            if seconds is None:
                raise BadValueError(f"{one.strip()[:20]!r} is no time; times such as 3:00, 15:30 are accepted")
            found.add(seconds // 60 % 1440)
    return sorted(found)


def program_from(values: QueryDict, kept: Program) -> Program:
    """A schedule with the cleaning that was filled in.

    Raises
    ------
    BadValueError, BadDescriptionError
        Something of it cannot be.
    """
    rules = {
        "mode": whole_of(values.get("mode") or "0", "the way to clean", 0, 31), "each": "each" in values,
        "after": whole_of(values.get("after") or "0", "how many partial updates in a row", 0, 100_000),
        "at_min": _minutes(values.get("at", "")), "from_share": _percent(values, "from_percent", "the share of the glass, in %,"),
        "previous": values.get("previous", kept.cleaning.previous), "between": values.get("between", kept.cleaning.between),
    }  # fmt: skip
    plain = {
        **from_record(kept),
        "refresh": whole_of(values.get("refresh") or "0", "the way to refresh", 0, 31),
        "cleaning": rules,
    }
    return to_record(plain, Program, "the schedule")


def paper(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


def moment(request: HttpRequest, build_id: int) -> HttpResponse:
    """The glass after another update: the picture and what is told of it."""
    build = own_build(request, build_id)
    device = _device(build)
    film = _film(build, device)
    if film is None or not len(film):
        raise Http404("nothing is shown")
    return render(request, "refresh/partials/paper_moment.html", {**_moment_context(request, build, device, film), "swap": True})


def glass(request: HttpRequest, build_id: int) -> HttpResponse:
    """The glass after an update as PNG."""
    build = own_build(request, build_id)
    device = _device(build)
    film = _film(build, device)
    at = request.GET.get("at", "0")
    data = None
    if film is not None and at.isdecimal() and len(at) < 7:
        data = glass_after(film, device, model_of(build), plan_of(build, device).celsius, int(at), _times(request))
    if data is None:
        raise Http404("nothing stands there")
    return passing_image(data)


def schools(request: HttpRequest, build_id: int) -> HttpResponse:
    """The table of the schools, which takes a moment."""
    build = own_build(request, build_id)
    device = _device(build)
    schedule = shelf.single(build, ScheduleDocument)
    rows = school_rows(build, device)
    most = max((one.figures.flashing_s for one in rows), default=0.0) or 1.0
    context = {"build": build, "rows": rows, "most": most, "base": schedule.head_id if schedule else 0}
    return render(request, "refresh/partials/schools.html", context)


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep the cleaning as it was filled in."""
    build = own_build(request, build_id)
    try:
        program = program_from(request.POST, kept_program(build, _device(build)))
    except MosaicError as error:
        return _page(request, build, str(error), request.POST)
    documents.save_single(ScheduleDocument, build=build, base=base_of(request), record=program)
    return go_to(request, reverse("paper", args=[build.pk]))


@require_POST
def take(request: HttpRequest, build_id: int) -> HttpResponse:
    """Take a school for the build."""
    build = own_build(request, build_id)
    device = _device(build)
    program = kept_program(build, device)
    school = next((one for one in schools_of(device.passport, program) if one.slug == request.POST.get("school")), None)
    if school is None:
        raise BadValueError("this school is none of those offered for this panel; choose one of the table")
    documents.save_single(ScheduleDocument, build=build, base=base_of(request), record=cleaned_by(program, school))
    return go_to(request, reverse("paper", args=[build.pk]))


@require_POST
def keep_model(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep the constants of the ghost."""
    build = own_build(request, build_id)
    try:
        plain = {name: _percent(request.POST, name, what) for name, (what, _) in CONSTANTS.items()}
        model = to_record(plain, GhostModel, "the ghost model")
    except MosaicError as error:
        return _page(request, build, model_wrong=str(error), model_typed=request.POST)
    documents.save_single(GhostDocument, build=build, base=base_of(request), record=model)
    return go_to(request, reverse("paper", args=[build.pk]))


@require_POST
def keep_photo(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep a photo of the maker's own panel."""
    build = own_build(request, build_id)
    upload = request.FILES.get("photo")
    if upload is None:
        return _page(request, build, model_wrong="no photo was chosen; a PNG, JPEG or WebP file is accepted")
    try:
        data = read_upload(upload)
        original = keep_picture(data=data, file_name=upload.name or "photo", owner=request.user)
    except MosaicError as error:
        return _page(request, build, model_wrong=str(error))
    sources = [(original, (upload.name or "photo")[:120])]
    row = shelf.single(build, GhostDocument)
    if row is None:
        documents.add(GhostDocument, build=build, name="Ghost model", record=GhostModel(), sources=sources)
    else:
        documents.save(row, base=base_of(request), record=row.record, sources=sources)
    return go_to(request, reverse("paper", args=[build.pk]))


def photo(request: HttpRequest, build_id: int, key: str) -> HttpResponse:
    """The photo of the panel, in a size for the page."""
    build = own_build(request, build_id)
    row = shelf.single(build, GhostDocument)
    if row is None or not row.original_id:
        raise Http404("there is no photo")
    check_key(key, row.original_id[:24])
    found = source_of(row.original_id, "photo")
    shrink = max(1, -(-max(found.width, found.height) // PHOTO_PX))
    return image(encode_png(found.rgb[::shrink, ::shrink], level=1))
