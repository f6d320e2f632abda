"""Touch: raw readings of the crosses, the fit, what is left over at every rotation, and C."""

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse

from mosaic.cards.measuring import has_touch
from mosaic.device.notes import TouchReadings
from mosaic.errors import BadLinesError, MosaicError
from mosaic.exports.touch import touch_c
from mosaic.touch.fit import Fit, crosses, fit, read_readings, turned
from workshop.bringup.documents import TouchReadingsDocument
from workshop.bringup.pages import station_context
from workshop.bringup.pasted import not_too_long
from workshop.bringup.subjects import card_key
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.builds.services import base_of_single
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.documents.services import save_single
from workshop.errors import message_of

MOST_TEXT = 4000
GOOD_MM = 1.5
"""A cross that lands no further off than this is hit by a finger (typical)."""


def _fit(build: Build, text: str) -> Fit:
    size = build.to_device().size
    places = crosses(*size)
    return fit(read_readings(text, len(places)), [(float(x), float(y)) for x, y in places])


def _kept(build: Build) -> str:
    """The readings as they were typed; "" where there are none."""
    row = shelf.single(build, TouchReadingsDocument)
    return row.record.readings if row else ""


def _context(build: Build, text: str, problems: list[str]) -> dict[str, Any]:
    base = station_context(build, "touch")
    device = base["device"]
    if not has_touch(device.passport):
        raise Http404("this panel has no touch")
    width, height = device.size
    pitch = device.passport.glass.pitch_mm
    context: dict[str, Any] = {
        **base, "base": base_of_single(build, TouchReadingsDocument),
        "document": shelf.single(build, TouchReadingsDocument),
        "text": text, "problems": problems, "crosses": list(enumerate(crosses(width, height), 1)),
        "card_url": reverse("bringup-card-png", args=[build.pk, "crosses", card_key(device, "crosses")]),
        "glass_url": reverse("bringup-card-png", args=[build.pk, "crosses", card_key(device, "crosses")]),
        "good_mm": GOOD_MM,
    }  # fmt: skip
    if text and not problems:
        fitted = _fit(build, text)
        places, raw = crosses(width, height), read_readings(text, len(crosses(width, height)))
        landed = [fitted.place(reading) for reading in raw]
        context |= {
            "fit": fitted,
            "worst_mm": fitted.worst_px * pitch,
            "rms_mm": fitted.rms_px * pitch,
            "is_good": fitted.worst_px * pitch <= GOOD_MM,
            "marks": [
                {
                    "number": number, "x": x, "y": y, "left": x / width * 100, "top": y / height * 100, "raw": reading,
                    "off_px": off, "off_mm": off * pitch, "dx": (lx - x) / width * 100, "dy": (ly - y) / height * 100,
                }
                for number, ((x, y), (lx, ly), reading, off) in enumerate(
                    zip(places, landed, raw, fitted.residuals, strict=True), 1
                )
            ],
            "rotations": [_rotation(fitted, device, quarter, pitch) for quarter in range(4)],
        }  # fmt: skip
    return context


def _rotation(fitted: Fit, device, quarter: int, pitch: float) -> dict[str, Any]:
    other = turned(fitted, device.size, quarter)
    (a, b, c), (d, e, f) = other.matrix
    return {
        "degrees": (device.rotation + 90 * quarter) % 360, "is_here": quarter == 0, "fit": other,
        "worst_px": other.worst_px, "worst_mm": other.worst_px * pitch,
        "x": f"{a:+.4f} rx {b:+.4f} ry {c:+.1f}", "y": f"{d:+.4f} rx {e:+.4f} ry {f:+.1f}",
    }  # fmt: skip


def touch(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page; a post keeps readings that can be fitted."""
    build = own_build(request, build_id)
    kept = _kept(build)
    if request.method != "POST":
        return render(request, "bringup/touch.html", _context(build, kept, []))
    text = request.POST.get("readings", "")
    try:
        _fit(build, not_too_long(text, MOST_TEXT))
    except BadLinesError as error:
        problems = [str(problem) for problem in error.problems]
        return render(request, "bringup/touch.html", _context(build, text, problems), status=422)
    except MosaicError as error:
        return render(request, "bringup/touch.html", _context(build, text, [message_of(error)]), status=422)
    save_single(TouchReadingsDocument, build=build, base=base_of(request), record=TouchReadings(text))
    messages.success(request, "The readings were saved.")
    return redirect("bringup-touch", build.pk)


def touch_header(request: HttpRequest, build_id: int) -> HttpResponse:
    """The fit as C99."""
    build = own_build(request, build_id)
    kept = _kept(build)
    if not kept:
        raise Http404("nothing was fitted yet")
    device = build.to_device()
    text = touch_c(_fit(build, kept), *device.size, f"{build.name}, {device.passport.name}")
    response = HttpResponse(text, content_type="text/x-c")
    response["Content-Disposition"] = 'attachment; filename="touch_fit.h"'
    return response
