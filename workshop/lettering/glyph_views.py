"""The glyph bench: one glyph on its grid, touched up by hand."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.json_text import read_json
from mosaic.lettering.files import sheet_levels
from mosaic.lettering.glyph import Glyph
from mosaic.lettering.glyph_edits import with_pixels
from mosaic.lettering.plan import FULL_INK, GlyphEdit
from mosaic.numbers import whole, whole_of
from workshop.answers import check_key, image
from workshop.documents.pages import base_of
from workshop.documents.services import save
from workshop.lettering.documents import texts_of
from workshop.lettering.pages import called, one_context, own, report_at
from workshop.lettering.reports import Report, report_of, strip_png
from workshop.lettering.sprites import Places

ROOM_W_PX, ROOM_H_PX, LEAST_ZOOM, MOST_ZOOM = 560, 430, 3, 30
MARGIN = 2
FURTHEST = 120
MOST_STROKE = 2000
SHIFTS = {"left": (-1, 0), "right": (1, 0), "up": (0, 1), "down": (0, -1)}


@dataclass(frozen=True)
class Field:
    """The part of the plane that the bench shows: columns from the pen, rows above the baseline."""

    left: int
    bottom: int
    width: int
    height: int

    @property
    def top(self) -> int:
        return self.bottom + self.height

    @property
    def zoom(self) -> int:
        return max(LEAST_ZOOM, min(MOST_ZOOM, ROOM_W_PX // self.width, ROOM_H_PX // self.height))


def field_of(report: Report, glyph: Glyph, plain: Glyph) -> Field:
    """A field that holds the line, the glyph before and after, and a margin."""
    lettering = report.glyphs
    left = min(0, glyph.left, plain.left) - MARGIN
    right = max(glyph.advance, plain.advance, glyph.right, plain.right, 1) + MARGIN
    top = max(lettering.ascent, glyph.top, plain.top) + 1
    bottom = min(-lettering.descent, glyph.bottom, plain.bottom) - 1
    return Field(left, bottom, right - left, top - bottom)


def _chosen(request: HttpRequest, report: Report) -> int:
    code = whole(request.GET.get("code"))
    known = report.glyphs.by_code
    if code in known:
        return code
    inked = [g.code for g in report.glyphs.glyphs if g.width]
    letters = [c for c in (ord("A"), *inked) if c in known and chr(c).isalnum()]
    return next(iter((*letters, *inked, *known)))


def glyphs(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """All glyphs, one of them on the bench."""
    build, shown = own(request, build_id, lettering_id)
    context = one_context(build, shown, "lettering-glyphs")
    report = context["report"]
    if report is None:
        return render(request, "lettering/glyphs.html", context)
    return render(request, "lettering/glyphs.html", {**context, **bench_context(shown, report, _chosen(request, report))})


def bench_context(shown: Any, report: Report, code: int) -> dict[str, Any]:
    """What the bench and the list beside it need."""
    lettering, made = report.glyphs, report.made
    glyph, plain = lettering.by_code[code], made.plain[code]
    touch = report.plan.edit_of(code, made.size.em_px)
    field = field_of(report, glyph, plain)
    codes = [g.code for g in lettering.glyphs]
    at = codes.index(code)
    index = report.packed.index
    return {
        "glyph": glyph, "plain": plain, "touch": touch, "field": field, "code": code, "hex": f"U+{code:04X}",
        "character": chr(code) if len(called(report.plan, code)[0]) == 1 else "", "character_name": called(report.plan, code)[1],
        "bench_url": reverse("glyph-png", args=[shown.build_id, shown.pk, code, report.key]) + f"?revision={shown.head_id}",
        "levels": ["".join(f"{v:x}" for v in row) for row in _levels_in(glyph, field)],
        "marks": [(x + touch.shift_x, -(y + touch.shift_y) - 1) for x, y, _ in touch.pixels],
        "grid_x": list(range(field.left, field.left + field.width + 1)), "grid_y": list(range(-field.top, -field.bottom + 1)),
        "previous": codes[at - 1], "next": codes[(at + 1) % len(codes)],
        "glyph_bytes": report.packed.sizes[at], "shares": report.packed.shared[at], "offset": index["offset"][at],
        "right_bearing": glyph.advance - glyph.right if glyph.width else glyph.advance,
        "tones": _tones(report), "is_first": at == 0,
        **_list_context(shown, report, code),
    }  # fmt: skip


def _tones(report: Report) -> list[tuple[int, int, str]]:
    """(level of 15, the lettering's own level that it gives, words) that pixels can be set to."""
    full = report.glyphs.full
    return [(round(level * FULL_INK / full), level, f"{level} of {full}") for level in range(full, 0, -1)]


def _levels_in(glyph: Glyph, field: Field) -> np.ndarray:
    """(H, W) of the field: the glyph in its place."""
    out = np.zeros((field.height, field.width), np.uint8)
    x, y = glyph.left - field.left, field.top - glyph.top
    out[y : y + glyph.height, x : x + glyph.width] = glyph.levels
    return out


def _list_context(shown: Any, report: Report, code: int) -> dict[str, Any]:
    """Every glyph as a part of one picture of all."""
    places, edited = Places.of(shown, report), report.made.edited
    cells = [
        {
            "code": g.code, "name": called(report.plan, g.code)[1], "x": places.at[g.code][0], "y": places.at[g.code][1],
            "here": g.code == code, "edited": g.code in edited,
        }
        for g in report.glyphs.glyphs
    ]  # fmt: skip
    return {"cells": cells, **places.frame}


def glyph_png(request: HttpRequest, build_id: int, lettering_id: int, code: int, key: str) -> HttpResponse:
    """The field of one glyph, one pixel each, in the panel's colours."""
    build, shown = own(request, build_id, lettering_id)
    device = build.to_device()
    report = report_at(request, build, shown, device)
    check_key(key, report.key)
    if code not in report.glyphs.by_code:
        raise Http404("no such glyph")
    glyph = report.glyphs.by_code[code]
    return image(strip_png(_levels_in(glyph, field_of(report, glyph, report.made.plain[code])), report, device))


def all_png(request: HttpRequest, build_id: int, lettering_id: int, key: str) -> HttpResponse:
    """All glyphs in a grid, in the panel's colours."""
    build, shown = own(request, build_id, lettering_id)
    device = build.to_device()
    report = report_at(request, build, shown, device)
    check_key(key, report.key)
    return image(strip_png(sheet_levels(report.glyphs), report, device))


@require_POST
def touch(request: HttpRequest, build_id: int, lettering_id: int, code: int) -> HttpResponse:
    """Set and clear pixels, shift, widen, or go back to what the face draws."""
    build, shown = own(request, build_id, lettering_id)
    device = build.to_device()
    report = report_of(shown, shown.record, device, texts_of(build))
    if code not in report.glyphs.by_code:
        raise Http404("no such glyph")
    em_px = report.made.size.em_px
    changed = _changed(request, report, report.plan.edit_of(code, em_px), code)
    plan = shown.record.with_edit(changed)
    report_of(shown, plan, device, texts_of(build))
    shown = save(shown, base=base_of(request), record=plan)
    if not request.htmx:
        return redirect(reverse("lettering-glyphs", args=[build.pk, shown.pk]) + f"?code={code}")
    context = one_context(build, shown, "lettering-glyphs")
    return render(request, "lettering/partials/bench_live.html", {**context, **bench_context(shown, context["report"], code)})


def _changed(request: HttpRequest, report: Report, touch: GlyphEdit, code: int) -> GlyphEdit:
    act = request.POST.get("act", "")
    if act == "stroke":
        level = whole_of(request.POST.get("level"), "the level", most=FULL_INK)
        stroke = _stroke(request.POST.get("stroke", ""))
        return with_pixels(touch, report.made.plain[code], stroke, level, report.glyphs.bits)
    if act in SHIFTS:
        dx, dy = SHIFTS[act]
        return _held(replace(touch, shift_x=touch.shift_x + dx, shift_y=touch.shift_y + dy))
    if act in ("narrower", "wider"):
        return _held(replace(touch, advance=touch.advance + (1 if act == "wider" else -1)))
    if act == "reset":
        return GlyphEdit(touch.code, touch.em_px)
    raise BadValueError("this change is not known; load the page again")


def _held(touch: GlyphEdit) -> GlyphEdit:
    if max(abs(touch.shift_x), abs(touch.shift_y), abs(touch.advance)) > 64:
        raise BadValueError("a glyph is shifted and widened by up to 64 px")
    return touch


def _stroke(text: str) -> list[tuple[int, int]]:
    """(column from the pen, row above the baseline) of every pixel of a stroke.

    Raises
    ------
    BadValueError
        It is none, too long, or leads too far off.
    """
    told = read_json(text, "the stroke")
    pairs = told if isinstance(told, list) and len(told) <= MOST_STROKE else []
    stroke = [tuple(p) for p in pairs if isinstance(p, list) and len(p) == 2 and all(type(v) is int for v in p)]
    if len(stroke) < len(pairs):
        stroke = []
    if not 1 <= len(stroke) <= MOST_STROKE or any(abs(v) > 2 * FURTHEST for place in stroke for v in place):
        raise BadValueError(f"this stroke cannot be taken; up to {MOST_STROKE:,} pixels within {2 * FURTHEST} px of the pen are")
    return stroke
