"""One lettering on the panel: its recipe, its figures, its findings, its history."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.lettering.plan import OWN_FILE, LetteringPlan
from mosaic.numbers import whole
from workshop.answers import check_key, go_to, image, inline_png
from workshop.builds.models import Build
from workshop.builds.pages import changes_of, own_build
from workshop.documents import services as documents
from workshop.documents.pages import base_of
from workshop.documents.services import save
from workshop.lettering.documents import Lettering, keep_font, read_font, texts_of
from workshop.lettering.forms import PlanForm, plain_changes, plan_from_post
from workshop.lettering.pages import info_of, one_context, own, report_at
from workshop.lettering.reports import glass_png, report_of
from workshop.live import live_response

LEAVES = ("lettering-sheet", "lettering-characters", "lettering-packing", "lettering-glyphs")
REDRAWN = ("face", "preset")
"""Fields on which others depend: their forms come back whole."""


def letterings(request: HttpRequest, build_id: int) -> HttpResponse:
    """The station: the build's first lettering, or the faces to make one of."""
    build = own_build(request, build_id)
    first = Lettering.objects.filter(build=build).first()
    return redirect("lettering", build.pk, first.pk) if first else redirect("faces", build.pk)


def lettering(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """One lettering on the mat."""
    build, shown = own(request, build_id, lettering_id)
    return render(request, "lettering/lettering.html", page_context(build, shown))


def page_context(build: Build, shown: Lettering, plan: LetteringPlan | None = None) -> dict[str, Any]:
    """The page's context, with the form of its plan: the saved one, or one that is not kept."""
    context = one_context(build, shown, "lettering", plan)
    plan, device = plan or shown.record, context["device"]
    report = context["report"]
    info = report.made.info if report else info_of(shown, plan)
    form = PlanForm.of(report.plan if report else plan, device, info, shown.file_name)
    return {**context, "form": form, "letter_plan": plan, "info": info}


def _live(request: HttpRequest, build: Build, shown: Lettering, *, with_form: bool) -> HttpResponse:
    """The parts of the page that a plan changes; with the form where the server changed it."""
    if not request.htmx:
        return redirect("lettering", build.pk, shown.pk)
    context = {**page_context(build, shown), "with_form": with_form, "kept": True}
    told = {"base": shown.head_id, "glass": context.get("glass_url", "")}
    return live_response(request, told, "lettering/partials/live.html", lambda: context)


@require_POST
def preview(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """What the glass would show under the form's plan, with its picture in the answer; nothing is kept."""
    build, shown = own(request, build_id, lettering_id)
    before, device = shown.record, build.to_device()
    plan = plan_from_post(request.POST, before, device, info_of(shown, before), shown.file_name)
    glass = inline_png(glass_png(report_of(shown, plan, device, texts_of(build)), device))

    def context() -> dict[str, Any]:
        return {**page_context(build, shown, plan), "kept": False, "glass_url": glass}

    return live_response(request, {"glass": glass}, "lettering/partials/live.html", context)


def _keep(build: Build, shown: Lettering, base: int, plan: LetteringPlan) -> Lettering:
    """Keep a plan that can be carried out; one that cannot is refused, and nothing changes."""
    report_of(shown, plan, build.to_device(), texts_of(build))
    return save(shown, base=base, record=plan)


def _back(request: HttpRequest, build: Build, shown: Lettering) -> HttpResponse | None:
    """Back to the page of the station that a change was made on; None where its parts are changed in place."""
    back, code = request.POST.get("back", ""), whole(request.POST.get("code"))
    if back not in LEAVES:
        return None
    query = "" if code is None else f"?code={code}"
    return go_to(request, reverse(back, args=[build.pk, shown.pk]) + query)


@require_POST
def change(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """Keep what was filled in."""
    build, shown = own(request, build_id, lettering_id)
    before = shown.record
    plan = plan_from_post(request.POST, before, build.to_device(), info_of(shown, before), shown.file_name)
    shown = _keep(build, shown, base_of(request), plan)
    redrawn = any(getattr(plan, name) != getattr(before, name) for name in REDRAWN)
    return _live(request, build, shown, with_form=redrawn)


@require_POST
def step(request: HttpRequest, build_id: int, lettering_id: int, direction: str) -> HttpResponse:
    """Undo or redo, from any page of the lettering."""
    build, shown = own(request, build_id, lettering_id)
    act = documents.undo if direction == "undo" else documents.redo
    shown = act(shown, base=base_of(request))
    return _back(request, build, shown) or _live(request, build, shown, with_form=True)


@require_POST
def fix(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """Apply a finding's fix, or take a choice of another page."""
    build, shown = own(request, build_id, lettering_id)
    plan = plain_changes(shown.record, changes_of(request))
    shown = _keep(build, shown, base_of(request), plan)
    return _back(request, build, shown) or _live(request, build, shown, with_form=True)


@require_POST
def bring_font(request: HttpRequest, build_id: int, lettering_id: int) -> HttpResponse:
    """Another font of one's own for this lettering."""
    build, shown = own(request, build_id, lettering_id)
    upload = request.FILES.get("font")
    if upload is None:
        raise BadValueError("no file came with this; choose a font file")
    original = keep_font(data=read_font(upload), file_name=upload.name, owner=request.user)
    plan = shown.record.with_changes(face=OWN_FILE, axes=[])
    save(shown, base=base_of(request), record=plan, sources=[(original, upload.name)])
    return go_to(request, reverse("lettering", args=[build.pk, shown.pk]))


def glass(request: HttpRequest, build_id: int, lettering_id: int, key: str) -> HttpResponse:
    """Lines of it on the whole glass."""
    build, shown = own(request, build_id, lettering_id)
    device = build.to_device()
    report = report_at(request, build, shown, device)
    check_key(key, report.key)
    return image(glass_png(report, device))
