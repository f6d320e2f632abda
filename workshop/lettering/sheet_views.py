"""Sizes and modes side by side, on this panel's colours."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.lettering.beginning import sizes_compared, ways_compared
from mosaic.lettering.making import NONE, Sources, make
from mosaic.lettering.measure import pitch_mm
from mosaic.lettering.outline import MODES
from mosaic.lettering.plan import PICTURES_ONLY, LetteringPlan
from mosaic.panels.reading import arc_minutes
from workshop.answers import check_key, image
from workshop.documents.keys import digest, panel_part
from workshop.lettering.documents import Lettering
from workshop.lettering.pages import one_context, own, report_at
from workshop.lettering.reports import font_of, shown_lines
from workshop.lettering.specimens import colored, line_levels

TITLES = {
    ("hinted", 1): "hinted", ("plain", 1): "unhinted", ("light", 1): "fitted to rows", ("hinted", 2): "hinted, 4 levels",
    ("light", 2): "fitted, 4 levels", ("light", 4): "fitted, 16 levels", ("plain", 2): "unhinted, 4 levels",
    ("hinted", 4): "hinted, 16 levels", ("plain", 4): "unhinted, 16 levels",
}  # fmt: skip
ZOOMS = (1, 2, 3, 4)
WORDS_SHOWN = 16
CSS_PX_PER_MM = 96 / 25.4


def sample_of(report: Any) -> str:
    """A line that is short enough to stand in a row of others."""
    lines, _ = shown_lines(report)
    words = (lines or [""])[0].split()
    text = ""
    for word in words:
        if text and len(text) + 1 + len(word) > WORDS_SHOWN:
            break
        text = f"{text} {word}".strip()
    return text[: 2 * WORDS_SHOWN] or "0"


def sheet(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """The sheet of one lettering."""
    build, shown = own(request, build_id, lettering_id)
    context = one_context(build, shown, "lettering-sheet")
    report = context["report"]
    if report is None or report.plan.face == PICTURES_ONLY:
        return render(request, "lettering/sheet.html", {**context, "one_size": report is not None})
    device, plan, info = context["device"], report.plan, report.made.info
    ways, sizes = ways_compared(plan, device, info), sizes_compared(device, info, report.made.size.em_px)
    text = sample_of(report)
    key = cell_key(shown, plan, device, text)
    zoom = request.GET.get("zoom", "")
    zoom = int(zoom) if zoom in {str(z) for z in ZOOMS} else 2
    across, down = pitch_mm(device)
    rows = []
    for size in sizes:
        capital_mm = round(info.capital * size) * down
        cells = [_cell(shown, mode, bits, size, key, report) for mode, bits in ways]
        minutes = arc_minutes(max(capital_mm, 1e-6), device.viewing_distance_mm)
        rows.append((size, round(info.capital * size), capital_mm, minutes, cells))
    return render(
        request, "lettering/sheet.html",
        {
            **context, "rows": rows, "has_levels": any(bits > 1 for _, bits in ways), "zooms": ZOOMS,
            "zoom": zoom, "sample": text, "times": zoom / (across * CSS_PX_PER_MM),
        },
    )  # fmt: skip


def _cell(shown: Lettering, mode: str, bits: int, size: int, key: str, report: Any) -> dict[str, Any]:
    plan = report.plan
    is_here = (plan.mode, plan.bits) == (mode, bits) or bool(report.made.info.native_px)
    return {
        "url": reverse("lettering-cell", args=[shown.build_id, shown.pk, mode, bits, size, key]) + f"?revision={shown.head_id}",
        "changes": {"size_by": "pixels", "size_px": size, "mode": mode, "bits": bits},
        "is_here": is_here and round(report.made.size.em_px) == size,
        "title": TITLES[mode, bits],
        "words": f"{size} px, {TITLES[mode, bits]}",
    }


def cell_key(shown: Lettering, plan: LetteringPlan, device: Device, text: str) -> str:
    """Key of all cells of a sheet; each cell's address adds its size and mode."""
    told = [plan.face, shown.original_id, plan.threshold, plan.weight, plan.spacing, plan.kerning, plan.tabular]
    axes = [[axis.tag, axis.value] for axis in plan.axes]
    return digest("cell", told, axes, plan.ink, plan.ground, plan.fallback, text, *panel_part(device))[:32]


def cell(request: HttpRequest, build_id: int, lettering_id: int, mode: str, bits: int, size: int, key: str) -> HttpResponse:
    """The sample at one size in one mode, one pixel each."""
    build, shown = own(request, build_id, lettering_id)
    if mode not in MODES or bits not in (1, 2, 4):
        raise BadValueError(f"no way of rendering is named {mode} with {bits} bits")
    device = build.to_device()
    report = report_at(request, build, shown, device)
    text = sample_of(report)
    check_key(key, cell_key(shown, report.plan, device, text))
    plan = report.plan.with_changes(
        size_by="pixels", size_px=size, mode=mode, bits=bits, preset=NONE, more=text, glyph_edits=[], pictures=[], left_out=""
    )
    made = make(plan, Sources(pitch_mm(device)[1], font_of(shown), distance_mm=device.viewing_distance_mm)).lettering
    return image(colored(line_levels(made, text), made, device, plan.ink, plan.ground))
