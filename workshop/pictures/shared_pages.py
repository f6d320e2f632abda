"""What the pages of strips, segmented figures and animations have in common."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from mosaic.source_text import identifier
from workshop.answers import attachment
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.documents.models import Document
from workshop.documents.names import LONGEST
from workshop.documents.pages import base_of
from workshop.documents.services import save
from workshop.pictures.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of


def list_page(request: HttpRequest, build_id: int, kind: type[Document]) -> HttpResponse:
    """The build's documents of a kind, and where the next one begins."""
    build = own_build(request, build_id)
    context = {
        **frame_context(overview_of(build), "pictures"),
        "tabs": tabs_of(build, kind.LIST_PAGE),
        "documents": shelf.of_kind(build, kind),
    }
    return render(request, f"pictures/{kind.LIST_PAGE}.html", context)


def save_posted(request: HttpRequest, document: Document, record: Any, sources: Any = None) -> Document:
    """Keep what a posted form says, under the name that came with it. Raises `ConflictError`."""
    name = " ".join(request.POST.get("name", "").split())[:LONGEST] or document.name
    return save(document, base=base_of(request), record=record, name=name, sources=sources)


def refused(request: HttpRequest, template: str, context: dict[str, Any], problem: str) -> HttpResponse:
    """The page again with what was typed, and what is wrong with it."""
    return render(request, template, {**context, "problem": problem}, status=422)


def zipped(document: Document, data: bytes) -> HttpResponse:
    """A zip to take, named after its document."""
    return attachment(data, f"{identifier(document.name)}.zip", "application/zip")
