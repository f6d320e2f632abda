"""The bin: what was deleted in the last 30 days, to be brought back."""

from datetime import timedelta

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from workshop.documents import services as documents
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import Document
from workshop.home.bin import BIN_DAYS, removed_rows

MOST_SHOWN = 200


def bin_page(request: HttpRequest) -> HttpResponse:
    """The page."""
    since = timezone.now() - timedelta(days=BIN_DAYS)
    rows = Document.everything.filter(build__owner=request.user, build__removed=None, deleted__gte=since)
    found = [as_its_kind(row) for row in rows.select_related("build").order_by("-deleted")[:MOST_SHOWN]]
    return render(
        request,
        "home/bin.html",
        {"documents": found, "rows": removed_rows(request.user, since), "days": BIN_DAYS, "here": "bin"},
    )


@require_POST
def bring_document_back(request: HttpRequest, document_id: int) -> HttpResponse:
    """A document back into its build."""
    row = Document.everything.filter(pk=document_id, build__owner=request.user, build__removed=None).exclude(deleted=None).first()
    if row is None:
        raise Http404("no such document")
    documents.bring_back(as_its_kind(row))
    messages.success(request, f"{row.name} is back.")
    return redirect("bin")
