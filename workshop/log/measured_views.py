"""Prediction against measurement: each quantity over time, its factor, and whether the build's figures follow it."""

from math import ceil, floor, log10
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.measured.calibration import Calibration
from mosaic.measured.factor import Factor, Pair, factor_of
from mosaic.measured.quantities import QUANTITIES, Quantity
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.pages import base_of
from workshop.journal.models import LogEntry
from workshop.log.documents import CalibrationDocument
from workshop.log.views import log_context, predictions_of
from workshop.stations.overview import Overview, overview_of

LEFT, RIGHT, TOP, BOTTOM = 64.0, 620.0, 10.0, 150.0
MOST_SHOWN = 400


def pairs_of(entries: list[LogEntry]) -> list[Pair]:
    """Measurements that have a prediction."""
    return [Pair(e.pk, e.value, e.predicted) for e in entries if e.value is not None and e.predicted]


def _steps(low: float, high: float) -> list[float]:
    """Three to six round values from `low` or below to `high` or above."""
    size = 10 ** floor(log10((high - low) / 4))
    step = next(size * m for m in (1, 2, 2.5, 5, 10) if (high - low) / (size * m) <= 5)
    return [step * n for n in range(floor(low / step), ceil(high / step) + 1)]


def _chart(entries: list[LogEntry], factor: Factor | None, quantity: Quantity) -> dict[str, Any]:
    """Measurements over time as points, what was predicted as a line, and what the factor makes of that as a band."""
    shown = sorted((e for e in entries if e.value is not None), key=lambda e: e.made)
    foretold = [(e, e.predicted) for e in shown if e.predicted]
    values = [e.value for e in shown] + [value for _, value in foretold]
    values += [value * end for _, value in foretold for end in ((factor.low, factor.high) if factor else ())]
    low, high = min(values), max(values)
    low = 0.0 if 0 < low < 0.6 * high else low
    ticks = _steps(low, high if high > low else low + max(1.0, abs(low) * 0.1))
    low, high = ticks[0], ticks[-1]
    first, last = shown[0].made, shown[-1].made
    length = (last - first).total_seconds() or 1.0

    def across(entry: LogEntry) -> float:
        return round(LEFT + (RIGHT - LEFT) * ((entry.made - first).total_seconds() / length if len(shown) > 1 else 0.5), 1)

    def up(value: float) -> float:
        return round(BOTTOM - (BOTTOM - TOP) * (value - low) / (high - low), 1)

    outliers = set(factor.outliers if factor else ())
    points = [
        (across(e), up(e.value), e.pk in outliers, e.pk, f"{e.value:,.6g} {quantity.unit}, {e.made:%Y-%m-%d}") for e in shown
    ]
    band = ""
    if factor is not None and factor.spread:
        there = [f"{across(e)},{up(value * factor.high)}" for e, value in foretold]
        back = [f"{across(e)},{up(value * factor.low)}" for e, value in reversed(foretold)]
        band = " ".join(there + back)
    return {
        "points": points, "line": " ".join(f"{across(e)},{up(value)}" for e, value in foretold), "band": band,
        "ends": [(LEFT, f"{first:%Y-%m-%d}"), (RIGHT, f"{last:%Y-%m-%d}")] if len(shown) > 1 else [(LEFT, f"{first:%Y-%m-%d}")],
        "up": [(up(value), f"{value:,.6g}") for value in ticks],
    }  # fmt: skip


def _rows(build: Build, overview: Overview) -> list[dict[str, Any]]:
    taken, now, found = _taken(build), predictions_of(overview), []
    entries = list(
        LogEntry.objects.filter(build=build, kind="measurement").exclude(quantity="").order_by("-made")[: MOST_SHOWN * 4]
    )
    for quantity in QUANTITIES.values():
        mine = [entry for entry in entries if entry.quantity == quantity.slug][:MOST_SHOWN]
        if not mine:
            continue
        factor = factor_of(pairs_of(mine))
        told = now.get(quantity.slug)
        found.append({
            "quantity": quantity, "entries": mine, "factor": factor, "chart": _chart(mine, factor, quantity),
            "outliers": [entry for entry in mine if factor and entry.pk in factor.outliers],
            "used": len(factor.used) if factor else 0, "taken": taken.get(quantity.budget) if quantity.budget else None,
            "predicted": told, "corrected": told * factor.factor if told and factor else None,
        })  # fmt: skip
    return found


def _taken(build: Build) -> dict[str, float]:
    row = shelf.single(build, CalibrationDocument)
    return dict(row.record.factors) if row else {}


def measured(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    row = shelf.single(build, CalibrationDocument)
    context = {
        **log_context(build, "measured", overview), "rows": _rows(build, overview), "document": row,
        "base": row.head_id if row else 0,
    }  # fmt: skip
    return render(request, "log/measured.html", context)


@require_POST
def take(request: HttpRequest, build_id: int) -> HttpResponse:
    """Have the build's figures follow a factor, or stay as they are predicted."""
    build = own_build(request, build_id)
    slug = request.POST.get("quantity", "")
    quantity = QUANTITIES[slug] if slug in [one.slug for one in QUANTITIES.values()] else None
    if quantity is None or not quantity.budget:
        raise BadValueError(f"no budget of a build follows {slug[:24]!r}")
    factors = _taken(build)
    if "leave" in request.POST:
        factors.pop(quantity.budget, None)
    else:
        entries = list(LogEntry.objects.filter(build=build, quantity=slug)[:MOST_SHOWN])
        found = factor_of(pairs_of(entries))
        if found is None or not 0.05 <= found.factor <= 20:
            raise BadValueError("there is no measurement with a prediction that would give a factor from 0.05 to 20")
        factors[quantity.budget] = round(found.factor, 6)
    documents.save_single(CalibrationDocument, build=build, base=base_of(request), record=Calibration(factors))
    return redirect("measured", build.pk)
