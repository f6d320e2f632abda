"""The fault finder: a wall of renderings to point at, what lies behind each, and questions where nothing can be drawn."""

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.conversion.program import shown
from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.faults.alike import card_that_tells_apart, groups, showing_card
from mosaic.faults.fault import WHERE_IN_WORDS, Fault
from mosaic.faults.questions import QUESTIONS, Cause, walked
from mosaic.faults.registry import FAULTS, faults_of
from mosaic.numbers import whole
from workshop.answers import check_key, image
from workshop.bringup import services
from workshop.bringup.pages import station_context, tile_size, whole_number, whole_zoom
from workshop.bringup.subjects import (
    Subject,
    choices_of,
    png_of_values,
    rendering_of,
    rendering_png,
    setting_key,
    setting_of,
    subject_of,
)
from workshop.builds.models import Build
from workshop.builds.pages import own_build, revision_of
from workshop.documents.keys import digest
from workshop.errors import message_of
from workshop.stations.overview import overview_of

CHOSEN_PX = 288
PAGES_OF_CAUSES = {
    "check-sheet": ("check-sheet", "Check sheet"), "wiring": ("wiring", "Pin plan"), "sheet": ("sheet", "Build sheet"),
    "virtual": ("bringup-virtual", "Virtual panel"), "cards": ("bringup-cards", "Test cards"), "panel": ("build-panel", "Panel"),
}  # fmt: skip


def faults(request: HttpRequest, build_id: int) -> HttpResponse:
    """The wall; a chosen rendering is explained beside it. With htmx, the explanation alone."""
    build = own_build(request, build_id)
    if request.htmx and not request.htmx.boosted:
        return render(request, "bringup/partials/chosen.html", _chosen_context(request, build))
    overview = overview_of(build)
    device = overview.device
    problem, status = "", 200
    try:
        subject = subject_of(build, device, request.GET.get("on", ""))
        chosen = _chosen_context(request, build)
    except MosaicError as error:
        problem, status = message_of(error), 422
        subject = subject_of(build, device, "")
        chosen = {"fault": None}
    possible = faults_of(setting_of(device))
    names = {name for name, _ in possible}
    key = _key(device, subject)
    context = {
        **station_context(build, "faults", overview),
        **chosen,
        "problem": problem,
        "subject": subject,
        "choices": choices_of(overview),
        "tile": tile_size(device.size[0]),
        "right_url": reverse("bringup-right", args=[build.pk, key]) + f"?on={subject.ref}",
        "tiles": [(name, fault, _address(build, subject, key, name)) for name, fault in possible],
        "impossible": list(dict.fromkeys(f.name for name, f in FAULTS.items() if name not in names)),
    }
    return render(request, "bringup/faults.html", context, status=status)


def _key(device: Device, subject: Subject) -> str:
    return digest("fault", subject.key, setting_key(setting_of(device)))[:24]


def _address(build: Build, subject: Subject, key: str, name: str, amount: int | None = None) -> str:
    by = "" if amount is None else f"&by={amount}"
    return reverse("bringup-rendering", args=[build.pk, name, key]) + f"?on={subject.ref}{by}"


def _chosen_context(request: HttpRequest, build: Build) -> dict[str, Any]:
    """A chosen fault explained: what looks like it on this picture, and what tells it apart."""
    name = request.GET.get("fault", "")
    if not name:
        return {"fault": None}
    device = build.to_device()
    setting, fault = setting_of(device), FAULTS[name]
    subject = subject_of(build, device, request.GET.get("on", ""))
    amount = whole_number(request, "by")
    possible = fault.possible(setting, amount) and (not fault.unit or fault.change(setting, fault.by(setting, amount)) != setting)
    if not possible:
        amount = None
    return {
        "build": build,
        "device": device,
        "subject": subject,
        "fault": fault,
        "fault_name": name,
        "amount": fault.by(setting, amount) if fault.unit else None,
        "no_room": not possible,
        "rendering_url": _address(build, subject, _key(device, subject), name, amount),
        "chosen_size": whole_zoom(device.size, CHOSEN_PX),
        "where": WHERE_IN_WORDS[fault.where],
        "mends_here": services.carries(setting, name),
        "is_program": fault.where == "program",
    }


def alike(request: HttpRequest, build_id: int) -> HttpResponse:
    """What looks like a chosen fault on this picture, and which card tells it apart."""
    build = own_build(request, build_id)
    device = build.to_device()
    subject, name = subject_of(build, device, request.GET.get("on", "")), request.GET.get("fault", "")
    setting, fault = setting_of(device), FAULTS[name]
    others, unseen = ([], False) if subject.whole_ram else _alike(device, subject, name)
    card = card_that_tells_apart([name, *others], setting) if others else None
    context = {
        "build": build, "subject": subject, "fault_name": name, "alike": [(other, FAULTS[other]) for other in others],
        "unseen": unseen, "telling_apart": card if card and f"card-{card.slug}" != subject.ref else None,
        "showing": showing_card(fault, setting) if unseen else None,
    }  # fmt: skip
    response = render(request, "bringup/partials/alike.html", context)
    response["Cache-Control"] = "private, max-age=600"
    return response


def _alike(device: Device, subject: Subject, name: str) -> tuple[list[str], bool]:
    """Other faults whose renderings look like this one's on this picture, and whether it is not seen on it."""
    renderings = {other: rendering_of(device, subject, other) for other, _ in faults_of(setting_of(device))}
    found, unseen = groups(renderings, subject.pixels)
    group = next((group for group in found if name in group), [])
    return [other for other in group if other != name], name in unseen


def rendering(request: HttpRequest, build_id: int, name: str, key: str) -> HttpResponse:
    """A picture of the wall."""
    build = own_build(request, build_id)
    device = build.to_device()
    subject = subject_of(build, device, request.GET.get("on", ""))
    check_key(key, _key(device, subject))
    return image(rendering_png(device, subject, name, whole_number(request, "by")))


def right(request: HttpRequest, build_id: int, key: str) -> HttpResponse:
    """The picture as it should be."""
    build = own_build(request, build_id)
    device = build.to_device()
    subject = subject_of(build, device, request.GET.get("on", ""))
    check_key(key, _key(device, subject))
    pixels = subject.pixels
    if subject.whole_ram:
        pixels = shown(pixels, setting_of(device), setting_of(device), whole_ram=True)[0]
    return image(png_of_values(pixels, setting_of(device)))


@require_POST
def mend(request: HttpRequest, build_id: int, name: str) -> HttpResponse:
    """Mend a fault in the build."""
    build = own_build(request, build_id)
    fault: Fault = FAULTS[name]
    amount = whole_number(request, "by")
    services.mend(build=build, name=name, amount=amount, revision=revision_of(request))
    where = WHERE_IN_WORDS[fault.where]
    messages.success(request, f"{fault.name}: mended in {where}. Pictures, files and budgets follow. Mending again undoes it.")
    back = f"&by={-amount}" if amount else ""
    return redirect(f"{reverse('bringup-faults', args=[build.pk])}?fault={name}&on={request.POST.get('on', '')}{back}")


@require_POST
def note(request: HttpRequest, build_id: int, name: str) -> HttpResponse:
    """Note it of the maker's program."""
    build = own_build(request, build_id)
    services.note_program(build=build, name=name, revision=revision_of(request))
    messages.success(request, "Noted of the program. It stands as a finding until the program does it right.")
    return redirect("bringup-faults", build.pk)


def questions(request: HttpRequest, build_id: int) -> HttpResponse:
    """What cannot be drawn: a few questions lead to a cause."""
    build = own_build(request, build_id)
    answers = [number for text in request.GET.get("path", "").split(".") if (number := whole(text)) is not None]
    start = request.GET.get("from", "start")
    start = start if start in QUESTIONS else "start"
    path, at = walked(answers, start)
    steps = [".".join(str(n) for n in answers[:i]) for i in range(len(path) + 1)]
    page = PAGES_OF_CAUSES.get(at.page) if isinstance(at, Cause) else None
    context = {
        **station_context(build, "faults"),
        "start": start,
        "path": [(question, question.answers[answer][0], step) for (question, answer), step in zip(path, steps, strict=False)],
        "at": at,
        "is_cause": isinstance(at, Cause),
        "answers": [] if isinstance(at, Cause) else [(a[0], f"{steps[-1]}.{i}".lstrip(".")) for i, a in enumerate(at.answers)],
        "page": (reverse(page[0], args=[build.pk]), page[1]) if page else None,
    }
    return render(request, "bringup/questions.html", context)
