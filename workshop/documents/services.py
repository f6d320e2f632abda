"""What a maker does with documents of any kind: add, change, undo, redo, rename, duplicate, move, delete, bring back.

Each is one transaction. A change names the revision it began from, so that two tabs are told apart.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

from django.apps import apps
from django.db import transaction
from django.db.models import F, Max
from django.utils import timezone

from mosaic.errors import BadValueError
from workshop.documents import shelf
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import KEPT_AS, Document, Original, Revision, Source, SourceFile, Step
from workshop.documents.names import LONGEST, checked_name
from workshop.errors import ConflictError

Kind = TypeVar("Kind", bound=Document)


def note_change(build: Any, *, device: bool = False) -> None:
    """A build's contents have changed, or the device itself: figures that were kept of them hold no more."""
    rows = apps.get_model("builds", "Build").objects.filter(pk=build.pk)
    rows.update(content=F("content") + 1, **({"revision": F("revision") + 1} if device else {}))
    build.content, build.revision = rows.values_list("content", "revision").get()
    shelf.forget(build)


def held(build: Any) -> None:
    """Have the build to oneself until the end of the transaction: what is counted stays as it is counted.

    Raises
    ------
    ConflictError
        The build was deleted meanwhile.
    """
    rows = apps.get_model("builds", "Build").objects.select_for_update().filter(pk=build.pk)
    if not rows.values_list("pk", flat=True).first():
        raise ConflictError("this build was deleted in another tab or window")


def locked(document: Kind, base: int) -> Kind:
    """The document, locked, if it still stands at the revision the change began from.

    Raises
    ------
    ConflictError
        It was changed elsewhere since.
    """
    held(document.build)  # always the build first: two writes that lock in one order never wait for each other
    row = type(document).everything.select_for_update().select_related("head").filter(pk=document.pk).first()
    if row is None or row.deleted:
        raise ConflictError(f"{document.name} was deleted in another tab or window since this page was loaded")
    row.build = document.build
    if row.head_id != base:
        raise ConflictError(
            f"{row.name} was changed in another tab or window since this page was loaded;"
            " nothing was overwritten. Load the page again to see it, or keep yours as the newer one.",
            row.head_id,
        )
    return row


def _revise(
    row: Document, description: dict[str, Any], name: str, sources: Sequence[tuple[str, str]], step: Step | None = None
) -> None:
    """Add a revision behind the head, and point to it; `sources` are (key of an original, file name)."""
    made = Revision.objects.create(document=row, parent=row.head, step=step, name=name, description=description)
    Source.objects.bulk_create(
        Source(revision=made, original_id=key, file_name=file_name[:120], position=position)
        for position, (key, file_name) in enumerate(sources)
    )
    _point_to(row, made)


def _point_to(row: Document, revision: Revision) -> None:
    row.stand_at(revision)
    row.name = revision.name
    row.save(update_fields=["head", "name"])


def _keys(sources: Iterable[SourceFile]) -> list[tuple[str, str]]:
    return [(original.pk, file_name) for original, file_name in sources]


@transaction.atomic
def add(kind: type[Kind], *, build: Any, name: str, record: Any, sources: Iterable[SourceFile] = (), group: str = "") -> Kind:
    """A new document of a build, behind all others of its kind.

    Raises
    ------
    BadValueError
        The build has as many of this kind as it may.
    """
    held(build)
    rows = kind.objects.filter(build=build)
    count, last = rows.count(), rows.aggregate(last=Max("position"))["last"] or 0
    most = 1 if kind.SINGLE else kind.MOST
    if count >= most:
        raise BadValueError(f"this build has {count} {kind.NOUN}s; {most} are accepted, so delete one first")
    name = " ".join(name.split())[:LONGEST] or kind.NOUN.capitalize()
    row = kind.objects.create(build=build, kind=kind.KIND, name=name, group=group, position=last + 1)
    _revise(row, kind.write(record), name, _keys(sources))
    note_change(build, device=kind.OF_DEVICE)
    return row


@dataclass(frozen=True)
class Change:
    """What one document of a step is to become; None leaves that part as it is."""

    document: Document
    record: Any = None
    name: str | None = None
    sources: Sequence[SourceFile] | None = None


def _differs(row: Document, change: Change) -> tuple[dict[str, Any], str, list[tuple[str, str]], bool]:
    description = row.description if change.record is None else row.write(change.record)
    name = row.name if change.name is None else change.name
    kept = [(source.original_id, source.file_name) for source in row.sources]
    keys = kept if change.sources is None else _keys(change.sources)
    # Records are compared, not their JSON: one that was saved with fewer fields may say the same.
    same = change.record is None or (not row.problem and row.read(row.description) == change.record)
    return description, name, keys, not (same and name == row.name and keys == kept)


@transaction.atomic
def save(
    document: Kind,
    *,
    base: int,
    record: Any = None,
    name: str | None = None,
    sources: Sequence[SourceFile] | None = None,
    along: Sequence[Change] = (),
) -> Kind:
    """Keep a change as a new revision; what says the same as before makes none.

    Parameters
    ----------
    base : the revision that the change began from
    along : changes of other documents of the build that belong to this one; all are undone in one step

    Raises
    ------
    ConflictError
        It was changed elsewhere since.
    """
    row = locked(document, base)
    own = _differs(row, Change(row, record, name, sources))
    others = []
    for change in along:
        other = type(change.document).everything.select_for_update().select_related("head").get(pk=change.document.pk)
        other.build = document.build
        differing = _differs(other, change)
        if differing[-1]:
            others.append((other, differing))
    if not own[-1] and not others:
        return row
    step = Step.objects.create() if others else None
    for changed, (description, called, keys, _) in [(row, own), *others]:
        _revise(changed, description, called, keys, step)
    note_change(document.build, device=document.OF_DEVICE)
    return row


@transaction.atomic
def save_single(kind: type[Kind], *, build: Any, base: int, record: Any) -> Kind:
    """Keep the one document of a kind that a build has; `base` is 0 where there was none yet. Raises as `save`."""
    held(build)
    shelf.forget(build)
    row = shelf.kept_single(build, kind)
    if row is not None:
        return save(row, base=base, record=record)
    if base:
        raise ConflictError(f"the {kind.NOUN} was deleted in another tab or window since this page was loaded", 0)
    return add(kind, build=build, name=kind.NOUN.capitalize(), record=record)


@transaction.atomic
def undo(document: Kind, *, base: int) -> Kind:
    """Back to the revision before, with all that was changed in the same step; stays where there is none."""
    row = locked(document, base)
    if row.head and row.head.parent:
        left = row.head
        _point_to(row, left.parent)
        for other in _along(row, left.step_id):
            if other.head.step_id == left.step_id and other.head.parent:
                _point_to(other, other.head.parent)
        note_change(row.build, device=row.OF_DEVICE)
    return row


@transaction.atomic
def redo(document: Kind, *, base: int) -> Kind:
    """Forward again to the newest revision that followed, with all of its step; stays where there is none."""
    row = locked(document, base)
    following = row.head.children.order_by("-id").first() if row.head else None
    if following is not None:
        _point_to(row, following)
        for other in _along(row, following.step_id):
            made = other.revisions.filter(step_id=following.step_id, parent_id=other.head_id).first()
            if made is not None:
                _point_to(other, made)
        note_change(row.build, device=row.OF_DEVICE)
    return row


def _along(row: Document, step_id: int | None) -> list[Document]:
    """The other documents that a step changed, locked. Those changed again since are left by who calls."""
    if step_id is None:
        return []
    numbers = Revision.objects.filter(step_id=step_id).exclude(document_id=row.pk).values_list("document_id", flat=True)
    rows = Document.objects.select_for_update().select_related("head__parent").filter(pk__in=list(numbers))
    return [as_its_kind(other) for other in rows]


def rename(document: Kind, *, base: int, name: str) -> Kind:
    """Give a document another name, which can be undone.

    Raises
    ------
    BadValueError
        The name is empty or too long.
    ConflictError
        It was changed elsewhere since.
    """
    return save(document, base=base, name=checked_name(name))


def duplicate(document: Kind) -> Kind:
    """A copy as it is now, right behind the first; the history stays with the first."""
    return copy_to(document, document.build, name=f"{document.name[: LONGEST - 5]} copy", group=document.group)


@transaction.atomic
def copy_to(document: Kind, build: Any, *, refs: dict[str, str] | None = None, name: str = "", group: str = "") -> Kind:
    """The document as it is now in a build, its references renamed by `refs`."""
    record = document.read(document.with_refs(document.description, refs or {}))
    sources = [(Original(pk=source.original_id), source.file_name) for source in document.sources]
    made = add(type(document), build=build, name=name or document.name, record=record, sources=sources, group=group)
    if document.kept_as:
        keep_as(made, document.kept_as)
    if build.pk == document.build_id:
        rows = list(type(document).objects.filter(build=build).exclude(pk=made.pk))
        _put_in_order([*rows, made], made, [row.pk for row in rows].index(document.pk) + 1)
    return made


@transaction.atomic
def keep_as(document: Document, how: str) -> None:
    """Keep a document's bytes as an "array" or a "file", or, with "", as the build does.

    Raises
    ------
    BadValueError
        There is no such way, or this kind knows only one.
    """
    if how not in ("", *(name for name, _ in KEPT_AS)) or not type(document).KEEPABLE:
        raise BadValueError(f"a {document.NOUN} cannot be kept as {how!r}; its page shows the ways that are accepted")
    held(document.build)
    document.kept_as = how
    type(document).objects.filter(pk=document.pk).update(kept_as=how)
    note_change(document.build)


@transaction.atomic
def move(document: Document, *, to: int) -> None:
    """Put a document at another place among those of its kind, counted from 0."""
    held(document.build)
    rows = list(type(document).objects.select_for_update().filter(build=document.build_id))
    _put_in_order(rows, next(row for row in rows if row.pk == document.pk), to)
    note_change(document.build)


def _put_in_order(rows: list[Any], moved: Document, to: int) -> None:
    rows.remove(moved)
    rows.insert(max(0, min(to, len(rows))), moved)
    for position, row in enumerate(rows, 1):
        if row.position != position:
            type(row).objects.filter(pk=row.pk).update(position=position)


@transaction.atomic
def delete(document: Document, *, base: int | None = None) -> None:
    """Take a document out of its build; it can be brought back. With a `base`, only if it still stands there.

    Raises
    ------
    ConflictError
        It was changed elsewhere since.
    """
    if base is not None:
        locked(document, base)
    held(document.build)
    type(document).objects.filter(pk=document.pk).update(deleted=timezone.now())
    note_change(document.build, device=document.OF_DEVICE)


@transaction.atomic
def bring_back(document: Document) -> None:
    """Put a deleted document back where it was.

    Raises
    ------
    BadValueError
        The build has as many of this kind as it may.
    """
    held(document.build)
    kind = type(document)
    count = kind.objects.filter(build=document.build_id).count()
    if count >= (1 if kind.SINGLE else kind.MOST):
        raise BadValueError(f"this build has {count} {kind.NOUN}s, which is the most; delete one first")
    kind.everything.filter(pk=document.pk).update(deleted=None)
    note_change(document.build, device=document.OF_DEVICE)
