"""The virtual panel: what is sent, played at wire speed, with what a real panel would complain of."""

from urllib.parse import urlencode

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from mosaic.conversion.sending_mistakes import SENDING_MISTAKES
from mosaic.errors import BadValueError, MosaicError
from mosaic.faults.registry import FAULTS, faults_of
from mosaic.virtual.film import Film, Moment
from mosaic.virtual.misuse import Misuse, counted
from workshop.answers import check_key, image
from workshop.bringup.films import (
    SPEEDS,
    Script,
    can_change_parts,
    plain_of,
    reel_of,
    starts_anew,
    time_words,
    usual_speed,
)
from workshop.bringup.pages import station_context
from workshop.bringup.subjects import choices_of, setting_of, subject_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.errors import message_of
from workshop.stations.overview import overview_of

FIELDS = ("on", "before", "part", "mistake", "fault")


def _script(request: HttpRequest, build: Build, device) -> Script:
    """What the address asks for.

    Raises
    ------
    BadValueError, UnknownNameError
        It names a picture, a mistake or a fault that there is not.
    """
    asked = request.GET
    mistake, fault = asked.get("mistake", ""), asked.get("fault", "")
    if mistake:
        SENDING_MISTAKES[mistake]
    if fault and not FAULTS[fault].possible(setting_of(device)):
        raise BadValueError("this fault cannot have happened on this panel; choose one of the list")
    subject = subject_of(build, device, asked.get("on", ""))
    before = subject_of(build, device, asked["before"]) if asked.get("before") else None
    only = asked.get("part") == "changes" and before is not None and can_change_parts(device) and not subject.whole_ram
    return Script(subject, before, only, mistake, fault)


def virtual(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page with the player; a wrong address comes back with what is wrong and the panel as it usually is."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    device = overview.device
    status, problem = 200, ""
    try:
        script = _script(request, build, device)
        reel = reel_of(device, script)
    except MosaicError as error:
        status, problem = 422, message_of(error)
        script = Script(subject_of(build, device, ""))
        reel = reel_of(device, script)
    query = urlencode({name: request.GET.get(name, "") for name in FIELDS if request.GET.get(name)}) if not problem else ""
    key = script.key(device)
    addresses = [f"{reverse('bringup-film', args=[build.pk, key, n])}?{query}" for n in range(len(reel.film.pictures))]
    context = {
        **station_context(build, "virtual", overview),
        "problem": problem,
        "script": script,
        "choices": choices_of(overview),
        "mistakes": reel.mistakes,
        "faults": faults_of(setting_of(device)),
        "can_change_parts": can_change_parts(device),
        "starts_anew": starts_anew(device),
        "film": reel.film,
        "total": time_words(reel.film.total_s),
        "told": _told(reel.film),
        "data": plain_of(reel, addresses),
        "first_url": addresses[reel.film.moments[-1].picture],
        "last_words": reel.film.moments[-1].words,
        "speeds": SPEEDS,
        "speed": usual_speed(reel),
        "moments": [(m, time_words(m.at_s)) for m in reel.film.moments],
    }
    return render(request, "bringup/virtual.html", context, status=status)


def _told(film: Film) -> list[tuple[Moment, Misuse, int]]:
    """Each error that the panel would report once, where it came first, with how often it came."""
    every = [(moment, said) for moment in film.moments for said in moment.misuse]
    return [(*every[number], count) for number, count in counted((said.kind, said.text) for _, said in every)]


def film_picture(request: HttpRequest, build_id: int, key: str, number: int) -> HttpResponse:
    """One picture of a film."""
    build = own_build(request, build_id)
    device = build.to_device()
    script = _script(request, build, device)
    check_key(key, script.key(device))
    reel = reel_of(device, script)
    if number >= len(reel.film.pictures):
        raise Http404("no such picture")
    return image(reel.png(number))
