"""Documents as JSON, with the originals they are made of: from one build to another, and out of the application.

The form is published as `docs/formats/documents.schema.json`.
"""

import base64
from typing import Any

from django.db import transaction

from mosaic.documents import DocumentFile, DocumentSource, SavedDocument
from mosaic.errors import BadDescriptionError, BadValueError
from mosaic.forms import from_record, to_record
from mosaic.json_text import read_json
from workshop.documents import shelf
from workshop.documents.kinds import kind_of
from workshop.documents.models import Document, bytes_of
from workshop.documents.services import add

MOST_BYTES = 64 * 2**20


def to_plain(documents: list[Document]) -> dict[str, Any]:
    """Plain values of documents as they are now, and of those they refer to; what is referred to comes first."""
    found: dict[str, Document] = {}

    def take(document: Document) -> None:
        for ref in sorted(document.refs_in(document.description)):
            used = shelf.named(document.build, ref)
            if used is not None and ref not in found:
                take(used)
        found.setdefault(document.ref, document)

    for document in documents:
        take(document)
    return from_record(DocumentFile(tuple(_saved(ref, document) for ref, document in found.items())))


def _saved(ref: str, document: Document) -> SavedDocument:
    files = bytes_of(document.sources)
    sources = tuple(DocumentSource(name, base64.b64encode(data).decode()) for name, data in files)
    return SavedDocument(ref, document.kind, document.name, document.description, document.group, sources)


@transaction.atomic
def from_plain(value: Any, *, build: Any, owner: Any) -> list[Document]:
    """Put the documents of plain values into a build, each checked as if it had been made here.

    Raises
    ------
    MosaicError
        A description, a file or a kind is not known or not accepted; nothing is kept.
    """
    file = to_record(value, DocumentFile, "documents")
    refs: dict[str, str] = {}
    made = []
    for saved in file.documents:
        kind = kind_of(saved.kind)
        record = kind.read(kind.with_refs(saved.description, refs))
        sources = [
            (kind.keep_source(data=_decoded(source), file_name=source.file_name, owner=owner), source.file_name)
            for source in saved.sources
        ]
        row = add(kind, build=build, name=saved.name, record=record, sources=sources, group=saved.group)
        refs[saved.ref] = row.ref
        made.append(row)
    if not made:
        raise BadValueError("this file holds no document")
    return made


def _decoded(source: DocumentSource) -> bytes:
    try:
        return base64.b64decode(source.data, validate=True)
    except ValueError:
        raise BadDescriptionError(f"the bytes of {source.file_name} are no base64") from None


def from_json(data: bytes, *, build: Any, owner: Any) -> list[Document]:
    """The documents of a file; raises as `from_plain`."""
    return from_plain(read_json(data, "document"), build=build, owner=owner)
