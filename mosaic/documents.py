"""How documents are written to a file: descriptions, and the files they are made of."""

from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from msgspec import Meta

Name = Annotated[str, Meta(min_length=1, max_length=80)]


@dataclass(frozen=True)
class DocumentSource:
    """A file that a document is made of; `data` is its bytes in base64."""

    file_name: Annotated[str, Meta(max_length=120)]
    data: str


@dataclass(frozen=True)
class SavedDocument:
    """One document: a reference by which others of the file name it, its kind, its name and its description.

    `description` is of the kind's own form, which has a schema of its own. Documents of one `group` share what their
    kind says they share.
    """

    ref: Annotated[str, Meta(max_length=40)]
    kind: Annotated[str, Meta(max_length=20)]
    name: Name
    description: dict[str, Any] = field(hash=False)
    group: Annotated[str, Meta(max_length=80)] = ""
    sources: Annotated[tuple[DocumentSource, ...], Meta(max_length=600)] = ()


@dataclass(frozen=True)
class DocumentFile:
    """Documents; those that others refer to come first."""

    documents: Annotated[tuple[SavedDocument, ...], Meta(max_length=400)]
    form: Literal[1] = 1
