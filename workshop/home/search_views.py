"""Searching over all builds of a person: entries of their logs, builds, documents."""

from urllib.parse import urlencode

from django.core.paginator import Paginator
from django.db.models import TextField
from django.db.models.functions import Cast, Concat, Lower
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from workshop.builds.models import Build
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import Document
from workshop.journal.models import LogEntry, SavedSearch
from workshop.journal.services import found_in, tags_in

MOST_WORDS, ENTRIES_A_PAGE, MOST_OTHERS, MOST_SAVED = 200, 30, 20, 30


def search(request: HttpRequest) -> HttpResponse:
    """The page."""
    words = request.GET.get("q", "").strip()[:MOST_WORDS]
    rows = LogEntry.objects.filter(build__owner=request.user, build__removed=None).select_related("build")
    context = {
        "words": words, "saved": SavedSearch.objects.filter(owner=request.user), "here": "search",
        "tags": tags_in(rows.exclude(tags="").values_list("tags", flat=True)[:5000])[:20] if not words else [],
    }  # fmt: skip
    if words:
        # Sorting whole rows by the thousand would take longer than finding them.
        page = Paginator(found_in(rows, words).values_list("pk", flat=True), ENTRIES_A_PAGE).get_page(request.GET.get("page"))
        entries = list(rows.filter(pk__in=list(page.object_list)))
        plain = [word for word in words.lower().split() if ":" not in word][:8]
        parts = Concat(*(Cast(name, TextField()) for name in ("name", "place", "passport", "board")), output_field=TextField())
        builds = Build.objects.filter(owner=request.user).alias(words=Lower(parts))
        documents = Document.objects.filter(build__owner=request.user, build__removed=None).alias(words=Lower("name"))
        for word in plain:
            builds, documents = builds.filter(words__contains=word), documents.filter(words__contains=word)
        context |= {
            "page": page, "entries": entries, "builds": builds[:MOST_OTHERS] if plain else [],
            "documents": [as_its_kind(row) for row in documents.select_related("build", "head")[:MOST_OTHERS]] if plain else [],
        }  # fmt: skip
    return render(request, "home/search.html", context)


@require_POST
def keep(request: HttpRequest) -> HttpResponse:
    """Keep a search, or forget it."""
    words = request.POST.get("q", "").strip()[:MOST_WORDS]
    rows = SavedSearch.objects.filter(owner=request.user)
    if "forget" in request.POST:
        rows.filter(words=words).delete()
        return redirect("search")
    if not words:
        raise BadValueError("there are no words to keep; search for something first")
    if rows.count() >= MOST_SAVED:
        raise BadValueError(f"{MOST_SAVED} searches are kept, which is the most; forget one first")
    rows.get_or_create(words=words, defaults={"owner": request.user})
    return redirect(f"{reverse('search')}?{urlencode({'q': words})}")
