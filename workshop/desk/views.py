"""The desk, a calculator of it, and its figures into a build."""

from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import NoReverseMatch, reverse
from django.views.decorators.http import require_POST

from mosaic.desk.arguments import ARGUMENTS
from mosaic.desk.calculator import Calculator
from mosaic.desk.desk import CALCULATORS
from mosaic.errors import BadValueError
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.desk.drawings import drawn
from workshop.journal import services as journal

MOST_BUILDS = 60


def _named(slug: str) -> Calculator:
    """A calculator, or the example of an article of the guide."""
    found = next((one for one in (*CALCULATORS.values(), *ARGUMENTS.values()) if one.slug == slug), None)
    if found is None:
        raise Http404("no such calculator")
    return found


@login_not_required
def desk(request: HttpRequest) -> HttpResponse:
    """All calculators, each with its answer to what is usual."""
    cards = []
    for one in CALCULATORS.values():
        answer = one.answer({})[0]
        cards.append((one, answer, drawn(answer.drawing) if answer else None))
    return render(request, "desk/desk.html", {"cards": cards, "here": "desk"})


def asked(request: HttpRequest, one: Calculator, here_url: str) -> dict[str, Any]:
    """What a page with a calculator shows: fields as they were typed, the answer, and to whom it can be handed over."""
    answer, problems, stands = one.answer(request.GET.dict())
    builds = Build.objects.filter(owner=request.user).order_by("name")[:MOST_BUILDS] if request.user.is_authenticated else []
    return {
        "one": one, "answer": answer, "problems": problems, "whole_problem": problems.get("", ""), "builds": builds,
        "fields": [(field, stands[field.name], problems.get(field.name, "")) for field in one.fields], "here_url": here_url,
        "drawing": drawn(answer.drawing) if answer else None,
        "address": f"{request.build_absolute_uri(here_url)}?{urlencode(stands)}",
    }  # fmt: skip


@login_not_required
def calculator(request: HttpRequest, slug: str) -> HttpResponse:
    """One of them, with the figures of its address."""
    if slug not in CALCULATORS:
        raise Http404("no such calculator")
    one = CALCULATORS[slug]
    context = asked(request, one, reverse("calculator", args=[slug]))
    context |= {"here": "desk", "others": [other for other in CALCULATORS.values() if other is not one]}
    return render(request, "desk/calculator.html", context, status=422 if context["problems"] else 200)


@require_POST
def hand_over(request: HttpRequest, slug: str) -> HttpResponse:
    """Figures into the log of a build, and on to the page that works them out from its own parts."""
    one = _named(slug)
    written = request.POST.get("build", "")
    if not written.isdecimal():
        raise BadValueError("no build was chosen; choose one that is to have the figures")
    build = own_build(request, int(written))
    answer, problems, stands = one.answer(request.POST.dict())
    if answer is None:
        raise BadValueError(" ".join(problems.values()))
    given = ", ".join(f"{field.label} {stands[field.name]}{f' {field.unit}' if field.unit else ''}" for field in one.fields)
    told = "; ".join(f"{figure.name}: {figure.words}" for figure in answer.figures)
    page = f"{reverse('article' if slug in ARGUMENTS else 'calculator', args=[slug])}?{urlencode(stands)}"
    journal.write(build, "note", f"{answer.sentence}\n{given}.\n{told}.", page=page[:300], subject=one.name)
    messages.success(request, f"The figures are in the log of {build.name}. This page works it out from its own parts.")
    try:
        return redirect(reverse(one.page, args=[build.pk]))
    except NoReverseMatch:
        return redirect("log", build.pk)
