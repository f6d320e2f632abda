"""What every document can: undo and redo, another name or place, a copy, deleting and coming back, a file of it."""

import json

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.source_text import identifier
from workshop.answers import attachment
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services, shelf, transfer
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import Document
from workshop.documents.originals import read_upload
from workshop.documents.pages import base_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of


def _own(request: HttpRequest, build_id: int, document_id: int, *, deleted: bool = False) -> tuple[Build, Document]:
    """A build of the one signed in, and its document as its kind; anything else is not there."""
    build = own_build(request, build_id)
    rows = Document.everything.exclude(deleted=None) if deleted else Document.objects.all()
    row = rows.filter(build=build, pk=document_id).select_related("head").first()
    if row is None:
        raise Http404("no such document")
    row.build = build
    return build, as_its_kind(row)


@require_POST
def step(request: HttpRequest, build_id: int, document_id: int, direction: str) -> HttpResponse:
    """Undo or redo."""
    _, document = _own(request, build_id, document_id)
    act = services.undo if direction == "undo" else services.redo
    act(document, base=base_of(request))
    return redirect(document.url)


@require_POST
def rename(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Another name."""
    _, document = _own(request, build_id, document_id)
    services.rename(document, base=base_of(request), name=request.POST.get("name", ""))
    return redirect(document.url)


@require_POST
def duplicate(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """A copy beside it."""
    _, document = _own(request, build_id, document_id)
    if document.SINGLE:
        raise BadValueError(f"a build has one {document.NOUN}; it cannot be duplicated")
    made = services.duplicate(document)
    messages.success(request, f"{made.name}: a copy, with a history of its own.")
    return redirect(made.url)


@require_POST
def move(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """One place earlier or later among those of its kind."""
    _, document = _own(request, build_id, document_id)
    rows = [row.pk for row in shelf.of_kind(document.build, type(document))]
    services.move(document, to=rows.index(document.pk) + (-1 if request.POST.get("way") == "earlier" else 1))
    return redirect(document.url)


@require_POST
def keep_as(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """As an array of the program, as a file, or as the build does."""
    _, document = _own(request, build_id, document_id)
    services.keep_as(document, request.POST.get("kept_as", ""))
    messages.success(request, f"{document.name} is kept {'as a file' if document.place == 'files' else 'as an array'}.")
    return redirect(document.url)


@require_POST
def delete(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Out of the build; the notice brings it back."""
    build, document = _own(request, build_id, document_id)
    users = shelf.users_of(build, document.ref)
    if users and not request.POST.get("sure"):
        return _in_use(request, build, document, users)
    instead = request.POST.get("instead", "")
    if instead:
        _put_instead(build, document, users, instead)
    services.delete(document)
    back = reverse("document-bring-back", args=[build.pk, document.pk])
    messages.success(request, f"{document.name} was deleted.", extra_tags=back)
    page = document.LIST_PAGE or document.PAGE
    return redirect(page, build.pk)


def _in_use(request: HttpRequest, build: Build, document: Document, users: list[Document]) -> HttpResponse:
    """Who uses what is to be deleted, and what can become of it."""
    others = [row for row in shelf.of_kind(build, type(document)) if row.pk != document.pk]
    context = {**frame_context(overview_of(build), ""), "document": document, "users": users, "others": others}
    return render(request, "documents/in_use.html", context)


def _put_instead(build: Build, document: Document, users: list[Document], instead: str) -> None:
    """Another document of the same kind wherever the deleted one was used."""
    other = next((row for row in shelf.of_kind(build, type(document)) if row.ref == instead), None)
    if other is None:
        raise BadValueError("what was to take its place is not there any more; choose another one")
    for row in users:
        record = row.read(row.with_refs(row.description, {document.ref: other.ref}))
        services.save(row, base=row.head_id or 0, record=record)


@require_POST
def bring_back(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Back where it was."""
    _, document = _own(request, build_id, document_id, deleted=True)
    services.bring_back(document)
    messages.success(request, f"{document.name} is back.")
    return redirect(document.url)


def take(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """The document as JSON, with all it is made of."""
    _, document = _own(request, build_id, document_id)
    text = json.dumps(transfer.to_plain([document]), indent=1) + "\n"
    return attachment(text, f"{identifier(document.name)}.document.json", "application/json")


@require_POST
def bring(request: HttpRequest, build_id: int) -> HttpResponse:
    """Documents of a file, into this build."""
    build = own_build(request, build_id)
    upload = request.FILES.get("file")
    if upload is None:
        raise BadValueError("no file came with this; choose a document in JSON")
    data = read_upload(upload, transfer.MOST_BYTES, "documents")
    made = transfer.from_json(data, build=build, owner=request.user)
    messages.success(request, f"{', '.join(row.name for row in made)}: brought into this build.")
    return redirect(made[-1].url)
