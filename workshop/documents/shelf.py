"""Reading the documents of builds: each request asks the database once for those it needs."""

from collections.abc import Iterable
from typing import Any, TypeVar

from django.http import Http404

from mosaic.numbers import row_id
from workshop.documents.kinds import all_kinds, as_its_kind
from workshop.documents.models import Document

Kind = TypeVar("Kind", bound=Document)
_ALL, _SINGLES = "_documents", "_single_documents"


def _loaded(builds: list[Any], rows: Any, attribute: str) -> None:
    found: dict[int, list[Document]] = {build.pk: [] for build in builds}
    by_id = {build.pk: build for build in builds}
    for row in rows.filter(build_id__in=by_id).select_related("head").prefetch_related("head__sources"):
        row.build = by_id[row.build_id]
        found[row.build_id].append(as_its_kind(row))
    for build in builds:
        build.__dict__[attribute] = found[build.pk]


def load_all(builds: Iterable[Any]) -> None:
    """Read every document of these builds, in two queries whatever their number."""
    wanted = [build for build in builds if _ALL not in build.__dict__]
    if wanted:
        _loaded(wanted, Document.objects, _ALL)


def load_singles(builds: Iterable[Any]) -> None:
    """Read the documents of which these builds have one each, in two queries whatever their number."""
    wanted = [build for build in builds if _ALL not in build.__dict__ and _SINGLES not in build.__dict__]
    if wanted:
        names = [kind.KIND for kind in all_kinds() if kind.SINGLE]
        _loaded(wanted, Document.objects.filter(kind__in=names), _SINGLES)


def forget(build: Any) -> None:
    """Read them anew the next time: they have changed."""
    for name in (_ALL, _SINGLES):
        build.__dict__.pop(name, None)


def of_kind(build: Any, kind: type[Kind]) -> list[Kind]:
    """A build's documents of a kind that can be read, in their order."""
    load_all([build])
    return [row for row in build.__dict__[_ALL] if row.kind == kind.KIND and not row.problem]


def all_documents(build: Any) -> list[Document]:
    """All of a build's documents, in their order, those that cannot be read too."""
    load_all([build])
    return list(build.__dict__[_ALL])


def unreadable(build: Any, kinds: Iterable[type[Document]]) -> list[Document]:
    """A build's documents of these kinds that cannot be read."""
    load_all([build])
    names = {kind.KIND for kind in kinds}
    return [row for row in build.__dict__[_ALL] if row.kind in names and row.problem]


def closure(build: Any, refs: Iterable[str]) -> list[tuple[str, int]]:
    """(reference, revision) of documents, and of everything that they refer to in turn: what depends on them depends on these."""
    known = {row.ref: row for row in all_documents(build)}
    open_, found = list(refs), dict[str, int]()
    while open_:
        row = known.get(open_.pop())
        if row is not None and row.ref not in found:
            found[row.ref] = row.head_id or 0
            open_ += row.refs_in(row.description)
    return sorted(found.items())


def users_of(build: Any, ref: str) -> list[Document]:
    """Documents of a build that refer to another one."""
    return [row for row in all_documents(build) if ref in row.refs_in(row.description)]


def kept_single(build: Any, kind: type[Kind]) -> Kind | None:
    """The one document of a kind that a build has, whether it can be read or not; None where it has none yet."""
    load_singles([build])
    rows = build.__dict__.get(_ALL) or build.__dict__.get(_SINGLES) or []
    return next((row for row in rows if row.kind == kind.KIND), None)


def single(build: Any, kind: type[Kind]) -> Kind | None:
    """As `kept_single`; one that cannot be read is passed over, and a finding says so."""
    row = kept_single(build, kind)
    return None if row is None or row.problem else row


def unreadable_singles(build: Any) -> list[Document]:
    """The single documents of a build that cannot be read."""
    load_singles([build])
    rows = build.__dict__.get(_ALL) or build.__dict__.get(_SINGLES) or []
    return [row for row in rows if row.SINGLE and row.problem]


def own(build: Any, kind: type[Kind], number: int) -> Kind:
    """A document of this build; anything else is not there."""
    row = kind.objects.of(build).filter(pk=number).first()
    if row is None:
        raise Http404(f"no such {kind.NOUN}")
    row.build = build
    return row


def named(build: Any, ref: str) -> Document | None:
    """What a reference such as `figure-12` names; None where the build has no such document."""
    kind, _, number = ref.rpartition("-")
    row = Document.objects.of(build).filter(kind=kind, pk=row_id(number)).first()
    if row is not None:
        row.build = build
    return as_its_kind(row) if row is not None else None
