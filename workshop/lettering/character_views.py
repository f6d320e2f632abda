"""Characters: which are kept, which the face lacks, and what stands in for them."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.findings.lettering import best_fallback
from mosaic.forms import from_record
from mosaic.lettering.characters import name_of
from mosaic.lettering.coverage import preset_coverage
from mosaic.lettering.faces import FACES
from mosaic.lettering.texts import characters_used
from workshop.answers import go_to
from workshop.documents.pages import base_of
from workshop.documents.services import save
from workshop.lettering.documents import texts_of
from workshop.lettering.forms import PlanForm
from workshop.lettering.pages import called, one_context, own
from workshop.lettering.reports import Report, report_of
from workshop.lettering.sprites import Places

TILES_SHOWN = 700


def characters(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """The coverage of one lettering."""
    build, shown = own(request, build_id, lettering_id)
    context = one_context(build, shown, "lettering-characters")
    report = context["report"]
    if report is None:
        return render(request, "lettering/characters.html", context)
    made = report.made
    missing = [_missing(m) for m in made.missing]
    slug, count = best_fallback(made.missing)
    plain = [{"code": m.code, "by": m.by} for m in made.missing if m.by]
    kept = [from_record(r) for r in report.plan.replacements]
    places = Places.of(shown, report)
    used = sorted({ord(character) for character in characters_used(report.texts)})
    return render(
        request, "lettering/characters.html",
        {
            **context,
            "form": PlanForm.of(report.plan, context["device"], made.info, shown.file_name),
            "tiles": [_tile(code, report, places) for code in made.wanted[:TILES_SHOWN]],
            **places.frame,
            "more_tiles": max(0, len(made.wanted) - TILES_SHOWN),
            "missing": missing,
            "fallback": FACES[slug].name if slug and not report.plan.fallback else "",
            "fallback_count": count, "fallback_changes": {"fallback": slug},
            "plain_count": len(plain), "plain_changes": {"replacements": kept + plain},
            "out_changes": {"left_out": report.plan.left_out + "".join(chr(m.code) for m in made.missing)},
            "replaced": [(chr(code), chr(by), name_of(code)) for code, by in sorted(made.replaced.items())],
            "coverage": preset_coverage(made.info.codes),
            "text_characters": [chr(code) for code in used],
            "text_missing": [chr(code) for code in used if code not in report.glyphs.by_code],
        },
    )  # fmt: skip


def _missing(one: Any) -> dict[str, Any]:
    return {
        "character": chr(one.code), "code": one.code, "hex": f"U+{one.code:04X}", "name": name_of(one.code),
        "by": chr(one.by) if one.by else "", "faces": [FACES[slug].name for slug in one.faces[:3]],
        "more": max(0, len(one.faces) - 3),
    }  # fmt: skip


def _tile(code: int, report: Report, places: Places) -> dict[str, Any]:
    """One wanted character with how it comes about, in a word."""
    made = report.made
    state, words = "own", ""
    if any(m.code == code for m in made.missing):
        state, words = "missing", "missing"
    elif code in made.drawn:
        state, words = "drawn", "a picture"
    elif code in made.replaced:
        state, words = "replaced", f"drawn as {chr(made.replaced[code])}"
    elif code in made.borrowed:
        state, words = "borrowed", "from the fallback"
    elif code in made.edited:
        state, words = "touched", "touched up"
    return {
        "code": code,
        "hex": f"{code:04X}",
        "character": chr(code),
        "name": called(report.plan, code)[1],
        "state": state,
        "words": words,
        "at": places.at.get(code),
    }


@require_POST
def stand_in(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """Let another character of the face stand in for one, or leave it out; an empty box takes a stand-in away."""
    build, shown = own(request, build_id, lettering_id)
    plan = shown.record
    code = _one_character(request.POST.get("character", ""), "the character")
    by = request.POST.get("by", "")
    replacements = [from_record(r) for r in plan.replacements if r.code != code]
    if request.POST.get("act") == "leave":
        plan = plan.with_changes(left_out=plan.left_out + chr(code), replacements=replacements)
    else:
        if by:
            replacements.append({"code": code, "by": _one_character(by, "what stands in for it")})
        plan = plan.with_changes(replacements=replacements)
    report_of(shown, plan, build.to_device(), texts_of(build))
    save(shown, base=base_of(request), record=plan)
    return go_to(request, reverse("lettering-characters", args=[build.pk, shown.pk]))


def _one_character(text: str, what: str) -> int:
    if len(text) != 1:
        raise BadValueError(f"{what} is one character; {len(text)} are given")
    return ord(text)
