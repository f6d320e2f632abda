"""Drills: a rendering is shown, its cause is named, and the page says why."""

import secrets

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.cards.registry import CARDS
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.faults.drills import Drill, drill_of
from mosaic.faults.fault import WHERE_IN_WORDS
from mosaic.faults.registry import FAULTS
from mosaic.numbers import whole
from workshop.answers import check_key, image
from workshop.bringup import services
from workshop.bringup.pages import station_context, whole_zoom
from workshop.bringup.subjects import png_of_values, rendering_png, setting_key, setting_of, subject_of
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.memory import ByteCache
from workshop.stations.overview import overview_of

LARGEST_SEED = 10**9
CARD_PX = 256
_drills = ByteCache("drills", 512 * 1024)


def _drill(device, seed: int, weak: tuple[str, ...]) -> Drill:
    setting = setting_of(device)
    key = (setting_key(setting), seed, weak)
    return _drills.get_or_make(key, lambda: drill_of(setting, seed, weak), lambda drill: 1024)


def _seed(text: str) -> int:
    seed = whole(text, most=LARGEST_SEED)
    if seed is None:
        raise BadValueError("this drill has no number; begin a new one")
    return seed


def drills(request: HttpRequest, build_id: int) -> HttpResponse:
    """A drill: the first of a visit gets a number of its own, so that it can be loaded again."""
    build = own_build(request, build_id)
    if not request.GET.get("number"):
        return redirect(f"{reverse('bringup-drills', args=[build.pk])}?number={secrets.randbelow(LARGEST_SEED)}")
    return render(request, "bringup/drills.html", _context(request, build, _seed(request.GET["number"])))


def _context(request: HttpRequest, build: Build, seed: int, named: str = "") -> dict:
    overview = overview_of(build)
    record = services.drill_record(request.user)
    # What is practised does not change while it stands on the page: the weak ones are those of before its answer.
    weak = tuple(request.POST.get("weak", ",".join(record.weak)).split(",")) if record.weak or request.POST else ()
    weak = tuple(name for name in weak if name in FAULTS)
    drill = _drill(overview.device, seed, weak)
    made = FAULTS[drill.fault]
    width, height = overview.device.size
    return {
        **station_context(build, "drills", overview),
        "seed": seed,
        "weak": ",".join(weak),
        "card": CARDS[drill.card],
        "drill_size": whole_zoom((width, height), CARD_PX) or (CARD_PX, CARD_PX * height // width),
        "choices": [(name, FAULTS[name], name == drill.fault) for name in drill.choices],
        "drill_url": _address(build, seed, weak, "drill"),
        "card_url": _address(build, seed, weak, "card"),
        "named": named,
        "made": made,
        "made_name": drill.fault,
        "named_fault": FAULTS[named] if named else None,
        "named_url": _address(build, seed, weak, "named") + f"&named={named}" if named and named != drill.fault else "",
        "where": WHERE_IN_WORDS[made.where],
        "record": record,
        "confused": [(FAULTS[made_], FAULTS[named_], count) for made_, named_, count in record.confused[:6]],
    }


def _key(device: Device) -> str:
    return setting_key(setting_of(device))[:16]


def _address(build: Build, seed: int, weak: tuple[str, ...], which: str) -> str:
    """The address of a picture says which drill, not which fault: the answer is not to be read off it."""
    key = _key(build.to_device())
    return f"{reverse('bringup-drill-png', args=[build.pk, which, key])}?number={seed}&weak={','.join(weak)}"


def drill_png(request: HttpRequest, build_id: int, which: str, key: str) -> HttpResponse:
    """The rendering that is asked about, the card as it should be, or the rendering of what was named."""
    build = own_build(request, build_id)
    device = build.to_device()
    check_key(key, _key(device))
    weak = tuple(name for name in request.GET.get("weak", "").split(",") if name in FAULTS)
    drill = _drill(device, _seed(request.GET.get("number", "")), weak)
    subject = subject_of(build, device, f"card-{drill.card}")
    if which == "card":
        return image(png_of_values(subject.pixels, setting_of(device)))
    return image(rendering_png(device, subject, request.GET.get("named", "") if which == "named" else drill.fault))


@require_POST
def answer(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep the answer and say why."""
    build = own_build(request, build_id)
    seed = _seed(request.POST.get("number", ""))
    named = request.POST.get("named", "")
    if not named:
        raise BadValueError("name one of the causes first")
    context = _context(request, build, seed, named)
    services.answer_drill(owner=request.user, panel=build.passport_slug, made=context["made_name"], named=named)
    record = services.drill_record(request.user)
    context |= {"record": record, "confused": [(FAULTS[a], FAULTS[b], count) for a, b, count in record.confused[:6]]}
    return render(request, "bringup/drills.html", context)


@require_POST
def forget(request: HttpRequest, build_id: int) -> HttpResponse:
    """Reset the record."""
    build = own_build(request, build_id)
    services.forget_drills(request.user)
    return redirect("bringup-drills", build.pk)
