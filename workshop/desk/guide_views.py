"""The field guide: arguments that makers have, each with an example that computes, and the words of the field."""

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse

from mosaic.desk.arguments import ARGUMENTS
from workshop.desk.drawings import drawn
from workshop.desk.views import asked
from workshop.look.glossary import TERMS


@login_not_required
def guide(request: HttpRequest) -> HttpResponse:
    """All articles, with their examples as they are at first."""
    cards = []
    for one in ARGUMENTS.values():
        answer = one.answer({})[0]
        cards.append((one, answer, drawn(answer.drawing) if answer else None))
    return render(request, "guide/guide.html", {"cards": cards, "here": "guide"})


@login_not_required
def article(request: HttpRequest, slug: str) -> HttpResponse:
    """One of them."""
    if slug not in ARGUMENTS:
        raise Http404("no such article")
    one = ARGUMENTS[slug]
    context = asked(request, one, reverse("article", args=[slug]))
    context |= {
        "here": "guide", "text": f"guide/articles/{slug}.html",
        "others": [other for other in ARGUMENTS.values() if other is not one],
    }  # fmt: skip
    return render(request, "guide/article.html", context, status=422 if context["problems"] else 200)


@login_not_required
def words(request: HttpRequest) -> HttpResponse:
    """The glossary."""
    return render(request, "guide/words.html", {"terms": TERMS, "here": "guide"})
