"""A build out of the application as one file, and into it again."""

from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction

from mosaic.boards import board as boards
from mosaic.build_file import BuildFile, BuildRecord, DocumentOf, FileOf, read, sum_of, write
from mosaic.errors import BadValueError
from mosaic.panels import loader as panels
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.kinds import kind_of
from workshop.documents.models import Document, Revision, bytes_of

SETTINGS = (
    "rotation", "mirrored", "link_kind", "clock_hz", "supply_kind", "cell_v", "capacity_mah", "viewing_distance_mm", "light_lux",
    "frame_time_limit_ms", "energy_limit_mwh", "update_interval_s", "on_hours_per_day", "buffer_bands", "opening", "sending",
    "kept_as",
)  # fmt: skip
"""Fields of a build that go along as they are."""


def refs_of(rows: list[Document]) -> dict[str, str]:
    """References that do not depend on the installation: each kind counted by itself, in order."""
    counts: dict[str, int] = {}
    found = {}
    for row in rows:
        kind = row.ref.rpartition("-")[0]
        counts[kind] = counts.get(kind, 0) + 1
        found[row.ref] = f"{kind}-{counts[kind]}"
    return found


def build_file(build: Build) -> bytes:
    """A build as one file.

    Raises
    ------
    BadValueError
        A document cannot be read; the text says which.
    """
    rows = sorted(shelf.all_documents(build), key=lambda row: (row.kind, row.position, row.pk))
    broken = next((row for row in rows if row.problem), None)
    if broken is not None:
        raise BadValueError(f"{broken.name} cannot be read: {broken.problem}; mend or delete it first")
    refs, files, told = refs_of(rows), dict[str, bytes](), []
    for place, row in enumerate(rows):
        of = []
        for name, data in bytes_of(row.sources):
            files[sum_of(data)] = data
            of.append(FileOf(name, sum_of(data)))
        description = row.with_refs(row.description, refs)
        told.append(DocumentOf(refs[row.ref], row.kind, row.name, description, row.group, place, row.kept_as, tuple(of)))  # type: ignore[arg-type]
    catalogue_panel, catalogue_board = build.passport_slug in panels.catalogue(), build.board_slug in boards.catalogue()
    record = BuildRecord(
        build.name, build.passport, build.board, build.place, build.passport_slug if catalogue_panel else "",
        build.board_slug if catalogue_board else "", {name: getattr(build, name) for name in SETTINGS}, tuple(told),
    )  # fmt: skip
    return write(record, files)


@transaction.atomic
def bring_build(data: bytes, *, owner: Any) -> Build:
    """A new build of a file; nothing is kept of one that is not accepted as a whole.

    Raises
    ------
    MosaicError
        The file, a part or a document of it is not accepted; the text says which and why.
    """
    file = read(data)
    build = _begun(file.build, owner)
    _documents(build, file, owner)
    return build


def _begun(record: BuildRecord, owner: Any) -> Build:
    build = _unsaved(record, owner)
    build.save()
    return build


def _unsaved(record: BuildRecord, owner: Any) -> Build:
    """The build of a record, checked; raises `MosaicError`."""
    passport, board = panels.passport_from_plain(record.passport), boards.board_from_plain(record.board)
    unknown = set(record.settings) - set(SETTINGS)
    if unknown:
        raise BadValueError(f"the build file sets {sorted(unknown)[0][:40]!r}, which a build does not have")
    missing = [name for name in SETTINGS if name not in record.settings]
    if missing:
        raise BadValueError(f"the settings of the build file lack {missing[0]!r}; bring the whole file as it was downloaded")
    build = Build(
        owner=owner, name=record.name, place=record.place, passport=panels.passport_to_plain(passport),
        board=boards.board_to_plain(board), passport_slug=record.passport_slug or passport.slug,
        board_slug=record.board_slug or board.slug, **record.settings,
    )  # fmt: skip
    try:
        build.full_clean(exclude=["passport", "board"])
        build.to_device()
    except ValidationError as error:
        name, words = next(iter(error.message_dict.items()))
        raise BadValueError(f"{name.replace('_', ' ')} in the build file: {' '.join(words)}") from None
    return build


def _documents(build: Build, file: BuildFile, owner: Any) -> None:
    """All documents; those that others refer to come first, and all stand in their order at the end."""
    waiting = {one.ref: one for one in file.build.documents}
    refs: dict[str, str] = {}
    places: list[tuple[DocumentOf, Document]] = []

    def lay(one: DocumentOf, above: tuple[str, ...]) -> None:
        kind = kind_of(one.kind)
        for ref in sorted(kind.refs_in(one.description)):
            if ref in waiting and ref not in refs and ref not in above:
                lay(waiting[ref], (*above, one.ref))
        record = kind.read(kind.with_refs(one.description, refs))
        sources = _sources(one, file, owner)
        row = documents.add(kind, build=build, name=one.name, record=record, sources=sources, group=one.group)
        if one.kept_as:
            documents.keep_as(row, one.kept_as)
        refs[one.ref] = row.ref
        places.append((one, row))

    for one in file.build.documents:
        if one.ref not in refs:
            lay(one, ())
    for place, (one, row) in enumerate(sorted(places, key=lambda told: told[0].position), 1):
        Document.everything.filter(pk=row.pk).update(position=place)
        whole = row.with_refs(one.description, refs)
        if (
            whole != row.with_refs(one.description, {}) and whole != row.description
        ):  # of two that name each other one comes first
            Revision.objects.filter(pk=row.head_id).update(description=row.write(row.read(whole)))
    shelf.forget(build)


@transaction.atomic
def return_to(build: Build, data: bytes, *, owner: Any) -> None:
    """A build becomes what a file of it says.

    Documents of the same kind and name get a revision more, so that each can be undone; others are deleted, and can be brought
    back.

    Raises
    ------
    MosaicError
        The file, a part or a document of it is not accepted; nothing is changed.
    """
    file = read(data)
    documents.held(build)
    shelf.forget(build)
    _settled(build, file.build)
    left = sorted(shelf.all_documents(build), key=lambda row: (row.kind, row.position, row.pk))
    matched: dict[str, Document] = {}
    for by_name in (True, False):
        for one in file.build.documents:
            if one.ref in matched:
                continue
            row = next((r for r in left if r.kind == one.kind and (r.name == one.name or not by_name)), None)
            if row is not None:
                left.remove(row)
                matched[one.ref] = row
    for row in left:
        documents.delete(row)
    refs = {ref: row.ref for ref, row in matched.items()}
    made: dict[str, Document] = {}
    for one in file.build.documents:
        if one.ref not in matched:
            kind = kind_of(one.kind)
            record = kind.read(kind.with_refs(one.description, refs))
            made[one.ref] = documents.add(kind, build=build, name=one.name, record=record, sources=_sources(one, file, owner))
            refs[one.ref] = made[one.ref].ref
    for place, one in enumerate(sorted(file.build.documents, key=lambda one: one.position), 1):
        row = matched.get(one.ref) or made[one.ref]
        row.build = build
        record = row.read(row.with_refs(one.description, refs))
        now = documents.save(row, base=row.head_id, record=record, name=one.name, sources=_sources(one, file, owner))
        Document.everything.filter(pk=now.pk).update(position=place, group=one.group, kept_as=one.kept_as)
    documents.note_change(build, device=True)


def _sources(one: DocumentOf, file: BuildFile, owner: Any) -> list[tuple[Any, str]]:
    kind = kind_of(one.kind)
    return [(kind.keep_source(data=file.files[of.sum], file_name=of.name, owner=owner), of.name) for of in one.files]


def _settled(build: Build, record: BuildRecord) -> None:
    """Parts and settings of a build as a file has them."""
    fresh = _unsaved(record, build.owner)
    for name in ("name", "place", "passport", "board", "passport_slug", "board_slug", *SETTINGS):
        setattr(build, name, getattr(fresh, name))
    build.save()
