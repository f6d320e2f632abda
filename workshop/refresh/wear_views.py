"""Wear of an OLED: the map of lit hours, when a difference can be seen and where, and what helps."""

from typing import Any

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.color.srgb import linear_to_bytes
from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.forms import from_record, to_record
from mosaic.numbers import decimal, whole_of
from mosaic.panels.geometry import seen_size_mm
from mosaic.refresh.wear.model import HOURS_A_YEAR, seen_after
from mosaic.refresh.wear.program import wear_c, wear_python
from mosaic.refresh.wear.remedies import WearPlan
from workshop.answers import attachment, go_to, passing_image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.refresh.documents import WearDocument
from workshop.refresh.schedule_services import kept_program
from workshop.refresh.tabs import tabs_of
from workshop.refresh.templatetags.refresh import CENTURY_H
from workshop.refresh.wear_services import Wear, plan_of, remedies_of, wear_of
from workshop.stations.exchange import dim_when_quiet, shown_screens
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

CODE = {"wear.h": wear_c, "wear.py": wear_python}
YEARS = (1, 2, 5, 10)
SHOWN = {
    "lit": "lit hours a day",
    **{f"worn-{years}": f"all lit after {years} year{'s' if years > 1 else ''}" for years in YEARS},
}
DIM_AFTER_MIN, DIM_PERCENT = 10, 10
FIELDS = {
    "light": ("the light, in %,", 100.0), "night_light": ("the light by night, in %,", 100.0),
}  # fmt: skip
MODEL_FIELDS = {
    "half_life_h": ("the half-life, in h,", 1.0), "beta": ("the exponent of time", 1.0),
    "power": ("the exponent of brightness", 1.0), "visible": ("the difference that is seen, in %,", 100.0),
}  # fmt: skip


def _device(build: Build) -> Device:
    device = build.to_device()
    if device.passport.technology != "oled":
        raise Http404("this panel is no OLED")
    return device


def _page(request: HttpRequest, build: Build, wrong: str = "", typed: QueryDict | None = None) -> HttpResponse:
    overview = overview_of(build)
    device = overview.device
    if device.passport.technology != "oled":
        raise Http404("this panel is no OLED")
    row, plan = shelf.single(build, WearDocument), plan_of(build)
    found = wear_of(build, device)
    width, height = device.size
    mm = seen_size_mm(device.passport, device.turn)
    shown = request.GET.get("show", "lit")
    context: dict[str, Any] = {
        **frame_context(overview, "refresh"), "tabs": tabs_of(build, device, "wear"), "document": row,
        "base": row.head_id if row else 0, "wear": found, "wrong": wrong, "v": typed if typed is not None else _values(plan),
        "width": width, "height": height, "width_mm": mm[0], "height_mm": mm[1], "shown": shown if shown in SHOWN else "lit",
        "choices": SHOWN.items(), "is_round": device.passport.glass.shape == "round", "code": list(CODE),
        "night": _night(build, device), "dim_after": DIM_AFTER_MIN, "dim_percent": DIM_PERCENT,
    }  # fmt: skip
    if found is not None:
        remedies = remedies_of(found, plan)
        ends = [one.hours for one in (found.seen, *(remedy.seen for remedy in remedies)) if one.hours < CENTURY_H]
        context |= {
            "remedies": remedies,
            "most_h": max(ends, default=1.0),
            "where": _where(build, device, found), "most_lit": float(found.lit.levels.max()) * 24 * found.on_share,
        }  # fmt: skip
    return render(request, "refresh/wear.html", context, status=422 if wrong else 200)


def _night(build: Build, device: Device) -> str:
    program = kept_program(build, device)
    return " to ".join(f"{one // 60}:{one % 60:02}" for one in (program.night_from_min, program.night_to_min))


def _where(build: Build, device: Device, wear: Wear) -> str:
    """The element in whose box the first difference lies, the smallest of them; "" for none."""
    found = []
    for screen in shown_screens(build, device):
        for ident, box in screen.rendered.boxes.items():
            if box.x - 1 <= wear.seen.x <= box.x + box.width and box.y - 1 <= wear.seen.y <= box.y + box.height:
                element = next((one for one in screen.rendered.screen.elements if one.id == ident), None)
                if element is not None:
                    found.append((box.width * box.height, f"{screen.rendered.kit.called(element)} on {screen.name}"))
    return min(found)[1] if found else ""


def _values(plan: WearPlan) -> dict[str, str]:
    return {
        "shift_px": str(plan.shift_px), "shift_min": str(plan.shift_min), "moves_px": str(plan.moves_px),
        "inverts": "1" if plan.inverts else "",
        **{name: f"{times * getattr(plan, name):.4g}" for name, (_, times) in FIELDS.items()},
        **{name: f"{times * getattr(plan.model, name):.6g}" for name, (_, times) in MODEL_FIELDS.items()},
    }  # fmt: skip


def _number(values: QueryDict, field: str, what: str, times: float) -> float:
    found = decimal(values.get(field, "").strip().removesuffix("%") or "0")
    if found is None:
        raise BadValueError(f"{what} is {values.get(field, '')[:20]!r}; a number is accepted")
    return float(found) / times


def plan_from(values: QueryDict, kept: WearPlan) -> WearPlan:
    """What was filled in; raises `BadValueError` and `BadDescriptionError`."""
    plain = {
        **from_record(kept), "inverts": "inverts" in values,
        "shift_px": whole_of(values.get("shift_px") or "0", "the shift, in px,", 0, 8),
        "shift_min": whole_of(values.get("shift_min") or "5", "the time from step to step, in min,", 1, 1440),
        "moves_px": whole_of(values.get("moves_px") or "0", "how much lower, in px,", 0, 64),
        **{name: _number(values, name, what, times) for name, (what, times) in FIELDS.items() if name in values},
        "model": {
            **from_record(kept.model),
            **{name: _number(values, name, what, times) for name, (what, times) in MODEL_FIELDS.items() if name in values},
        },
    }  # fmt: skip
    return to_record(plain, WearPlan, "the wear plan")


def wear(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    return _page(request, own_build(request, build_id))


def picture(request: HttpRequest, build_id: int, what: str) -> HttpResponse:
    """The map of lit hours, or the glass lit full after some years, as PNG."""
    build = own_build(request, build_id)
    found = wear_of(build, _device(build))
    if found is None or what not in SHOWN:
        raise Http404("nothing is shown")
    if what == "lit":
        share = found.lit.levels.max(axis=2)
        most = float(share.max()) or 1.0
        return passing_image(encode_png(_heat(share / most), level=1))
    light = seen_after(found.rates, float(what.removeprefix("worn-")) * HOURS_A_YEAR, plan_of(build).model)
    return passing_image(encode_png(linear_to_bytes(np.broadcast_to(light, (*light.shape[:2], 3))), level=1))


COLD, WARM = np.array([0.006, 0.014, 0.016]), np.array([0.85, 0.36, 0.02])
"""Linear light of what is never lit and of what is lit most: from the mat to amber."""


def _heat(share: Any) -> Any:
    return linear_to_bytes(COLD + (WARM - COLD) * share[..., None])


@require_POST
def keep(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep what was filled in; what cannot be stays in its fields."""
    build = own_build(request, build_id)
    _device(build)
    try:
        plan = plan_from(request.POST, plan_of(build))
    except MosaicError as error:
        return _page(request, build, str(error), request.POST)
    documents.save_single(WearDocument, build=build, base=base_of(request), record=plan)
    return go_to(request, reverse("wear", args=[build.pk]))


@require_POST
def take(request: HttpRequest, build_id: int) -> HttpResponse:
    """Take a remedy."""
    build = own_build(request, build_id)
    found = wear_of(build, _device(build))
    remedies = remedies_of(found, plan_of(build)) if found is not None else []
    remedy = next((one for one in remedies if one.slug == request.POST.get("remedy")), None)
    if remedy is None:
        raise BadValueError("this remedy is none of those offered; choose one of the table")
    documents.save_single(WearDocument, build=build, base=base_of(request), record=remedy.plan)
    return go_to(request, reverse("wear", args=[build.pk]))


@require_POST
def rules(request: HttpRequest, build_id: int) -> HttpResponse:
    """Rules in the behaviour that dim the light when nobody touches the device."""
    build = own_build(request, build_id)
    _device(build)
    minutes = whole_of(request.POST.get("after") or str(DIM_AFTER_MIN), "the time without a touch, in min,", 1, 1440)
    percent = whole_of(request.POST.get("percent") or "0", "the light, in %,", 0, 100)
    if not dim_when_quiet(build, minutes * 60_000, percent):
        raise BadValueError("nothing could bring the light up again: this build has no touch, button or knob")
    messages.success(request, f"Rules of the behaviour bring the light to {percent}% after {minutes} min without a touch.")
    return go_to(request, reverse("wear", args=[build.pk]))


def code(request: HttpRequest, build_id: int, wanted: str) -> HttpResponse:
    """Shift and dimming as code."""
    build = own_build(request, build_id)
    device = _device(build)
    if wanted not in CODE:
        raise Http404("no such file")
    return attachment(CODE[wanted](plan_of(build), kept_program(build, device)), wanted, "text/plain; charset=utf-8")
