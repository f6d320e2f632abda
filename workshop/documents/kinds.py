"""The kinds of documents. Stations hand them in; a new kind is a proxy of `Document` in a station's tuple."""

from collections.abc import Iterable

from mosaic.errors import UnknownNameError
from workshop.documents.models import Document

_kinds: dict[str, type[Document]] = {}


def register(kinds: Iterable[type[Document]]) -> None:
    """Make kinds known; one that is known already stays."""
    for kind in kinds:
        known = _kinds.setdefault(kind.KIND, kind)
        if known is not kind:
            raise ValueError(f"two kinds of documents are named {kind.KIND!r}")


def forget(kinds: Iterable[type[Document]]) -> None:
    """Take kinds away again, as tests do with those they made up."""
    for kind in kinds:
        _kinds.pop(kind.KIND, None)


def kind_of(name: str) -> type[Document]:
    """The kind of this name; raises `UnknownNameError`."""
    if name not in _kinds:
        raise UnknownNameError(f"no kind of document is named {name!r}; known: {', '.join(_kinds)}")
    return _kinds[name]


def all_kinds() -> tuple[type[Document], ...]:
    return tuple(_kinds.values())


def as_its_kind(row: Document) -> Document:
    """The same row with what its kind knows of it; one of a kind that is gone stays a plain document."""
    kind = _kinds.get(row.kind)
    if kind is not None:
        row.__class__ = kind
    return row
