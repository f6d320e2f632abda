"""Bands of values on their number lines: limits that are dragged, what each band means, pasted comparisons."""

from dataclasses import replace
from typing import Any

from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.behaviour.banding import blinking, following, saying, with_value
from mosaic.behaviour.behaviour import Behaviour
from mosaic.behaviour.flips import flips_a_minute
from mosaic.errors import BadValueError
from mosaic.numbers import decimal, whole_of
from mosaic.screens.colors import names_of
from mosaic.values.bands import MOST_BANDS, Band, Bands, dragged, shares, stretches
from mosaic.values.comparisons import read_comparisons
from mosaic.values.courses import reading_at
from mosaic.values.value import Value
from workshop.answers import go_to
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.screens.behaviour_services import found_on_behaviour
from workshop.screens.documents import DesignDocument, behaviour_of, design_of
from workshop.screens.tabs import tabs_of
from workshop.screens.value_services import save_design, users_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

WIDE = 720
"""Of a number line, in its own units."""


def _line(value: Value) -> dict[str, Any]:
    """The number line: pieces with the bands that hold them, limits that can be dragged, the stand-in's course over it."""
    low, high = value.bounds
    span = max(1, high - low)

    def at(raw: int) -> float:
        return round((min(max(raw, low), high + 1) - low) / (span + 1) * WIDE, 2)

    bands = value.bands
    pieces = [
        {"x": at(one.start), "w": round(at(one.end + 1) - at(one.start), 2), "bands": one.bands, "gap": one.is_gap,
         "overlap": one.is_overlap, "from": value.plain(one.start), "to": value.plain(one.end),
         "word": bands.bands[one.bands[0]].word or f"band {one.bands[0] + 1}" if one.bands else ""}
        for one in stretches(bands, low, high)
    ]  # fmt: skip
    limits = [
        {"x": at(band.end), "raw": band.end, "number": number, "plain": value.plain(band.end),
         "least": (band.start if band.start is not None else low) + 1, "most": _most(bands, number, high)}
        for number, band in enumerate(bands.bands) if band.end is not None and low < band.end <= high
    ]  # fmt: skip
    ticks = [{"x": at(low + span * n // 8), "plain": value.plain(low + span * n // 8)} for n in range(9)]
    dots = [at(raw) for n in range(160) if isinstance(raw := reading_at(value, n * max(1000, value.source.every_ms)), int)]
    return {"pieces": pieces, "limits": limits, "ticks": ticks, "dots": dots, "low": low, "high": high}


def _most(bands: Bands, number: int, high: int) -> int:
    after = bands.bands[number + 1] if number + 1 < len(bands.bands) else None
    return (after.end if after is not None and after.end is not None else high + 1) - 1


def bands(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    row, design, behaviour = shelf.single(build, DesignDocument), design_of(build), behaviour_of(build)
    numbers = [value for value in design.values if value.is_number and value.origin.by in ("source", "rules")]
    asked = request.GET.get("v", "")
    chosen = next(
        (value for value in numbers if value.id == asked),
        next((v for v in numbers if v.bands.bands), numbers[0] if numbers else None),
    )
    context: dict[str, Any] = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "bands"), "document": row, "base": row.head_id if row else 0,
        "values": numbers, "value": chosen, "outputs": behaviour.outputs, "colors": names_of(overview.device.passport),
        "here_findings": found_on_behaviour(overview),
    }  # fmt: skip
    if chosen is not None:
        low, high = chosen.bounds
        said = next((v for v in design.values if v.origin.by == "band" and v.origin.of == chosen.id), None)
        lit = next((v for v in design.values if v.origin.by == "blink" and v.origin.of == chosen.id), None)
        rows = zip(chosen.bands.bands, shares(chosen.bands, low, high), strict=True)
        context |= {
            "line": _line(chosen), "rows": [_row(chosen, n, band, share) for n, (band, share) in enumerate(rows)],
            "flips": flips_a_minute(chosen) if chosen.bands.bands else None, "said": said, "lit": lit,
            "users": users_of(build, said.id) if said else [],
            "hysteresis": chosen.plain(chosen.bands.hysteresis) if not chosen.named else "0",
            "free": len(chosen.bands.bands) < MOST_BANDS, "left_out": request.GET.getlist("left"),
        }  # fmt: skip
    return render(request, "screens/bands.html", context)


def _row(value: Value, number: int, band: Band, share: float) -> dict[str, Any]:
    return {
        "n": number, "band": band, "start": "" if band.start is None else value.plain(band.start), "outputs": dict(band.outputs),
        "end": "" if band.end is None else value.plain(band.end), "share": 100 * share, "never": share == 0,
    }  # fmt: skip


def _limit(value: Value, typed: str) -> int | None:
    raw = value.raw_of(typed) if typed.strip() else None
    return raw if isinstance(raw, int) else None


def _typed_bands(value: Value, values: Any, behaviour: Behaviour) -> Bands:
    """The bands as they were typed; rows without anything are left out."""
    found = []
    for number in range(MOST_BANDS + 1):
        if f"start_{number}" not in values or values.get(f"drop_{number}"):
            continue
        start, end, word = (
            values.get(f"start_{number}", ""),
            values.get(f"end_{number}", ""),
            values.get(f"word_{number}", "").strip(),
        )
        if not (start.strip() or end.strip() or word):
            continue
        outputs = tuple(
            (output.id, way == "on")
            for output in behaviour.outputs
            if (way := values.get(f"output_{number}_{output.id}", "")) in ("on", "off")
        )
        blink = whole_of(values.get(f"blink_{number}") or "0", "the blink, in ms,", 0, 60_000)
        picture = whole_of(values.get(f"picture_{number}") or "0", "the picture", 0, 9999)
        limits = _limit(value, start), _limit(value, end)
        if limits[0] is not None and limits[1] is not None and limits[0] >= limits[1]:
            raise BadValueError(
                f"{word or f'band {number + 1}'} runs from {start.strip()} to {end.strip()} and holds no reading;"
                " its upper limit lies above its lower one"
            )
        found.append(Band(*limits, word[:24], values.get(f"color_{number}", "")[:40], picture, blink, outputs))
    lag = decimal(values.get("hysteresis") or "0")
    if lag is None or not 0 <= lag * 10**value.scale <= 1_000_000_000:
        raise BadValueError("the hysteresis is a number such as 0.2, and no less than 0")
    hold = whole_of(values.get("hold") or "0", "the time a band is held, in ms,", 0, 86_400_000)
    mean_of = whole_of(values.get("mean_of") or "1", "readings that are averaged", 1, 16)
    return Bands(tuple(found), round(lag * 10**value.scale), hold, mean_of)


@require_POST
@transaction.atomic
def change(request: HttpRequest, build_id: int, ident: str) -> HttpResponse:
    """Keep the bands of a value; what says which band it is in follows."""
    build = own_build(request, build_id)
    design, values = design_of(build), request.POST
    value = design.value(ident)
    if value is None or not value.is_number:
        raise Http404("no such value")
    left: tuple[str, ...] = ()
    if values.get("act") == "paste":
        read = read_comparisons(values.get("pasted", ""), value)
        left, made = (
            read.left_out,
            replace(read.bands, hysteresis=value.bands.hysteresis, hold_ms=value.bands.hold_ms, mean_of=value.bands.mean_of),
        )
    elif values.get("act") == "drag":
        made = dragged(
            value.bands,
            whole_of(values.get("number", ""), "the limit", 0, MOST_BANDS),
            whole_of(values.get("raw", ""), "where it lies", -(10**9), 10**9),
        )
    else:
        made = _typed_bands(value, values, behaviour_of(build))
    design = following(with_value(design, replace(value, bands=made)), value.id)
    if values.get("says") == "1":
        design = saying(design, design.value(ident) or value)
    if values.get("blinks") == "1":
        design = blinking(design, design.value(ident) or value)
    save_design(build, design, base_of(request))
    query = "".join(f"&left={line}" for line in left)
    return go_to(request, reverse("bands", args=[build.pk]) + f"?v={ident}{query}")
