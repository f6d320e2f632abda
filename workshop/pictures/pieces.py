"""Pieces: strips, segmented figures and animations of a build. Each change is one transaction."""

from typing import Any

from django.db import transaction
from django.http import Http404

from mosaic.errors import BadValueError
from mosaic.forms import from_record
from workshop.builds.models import Build, Original
from workshop.errors import ConflictError
from workshop.pictures.models import Piece, PieceSource

MAX_PIECES = 60


def own_piece(build: Build, kind: str, piece_id: int) -> Piece:
    """A piece of this build; anything else is not there."""
    piece = build.pieces.filter(pk=piece_id, kind=kind).first()
    if piece is None:
        raise Http404("no such piece")
    return piece


@transaction.atomic
def add_piece(
    *, build: Build, kind: str, name: str, description: dict[str, Any], sources: list[tuple[Original, str]] | None = None
) -> Piece:
    """A new piece, made of these originals in their order.

    Raises
    ------
    BadValueError
        There are too many.
    """
    if build.pieces.count() >= MAX_PIECES:
        raise BadValueError(f"this build has {MAX_PIECES} strips, figures and animations, which is the most")
    piece = Piece.objects.create(build=build, kind=kind, name=name[:80] or "Piece", description=description)
    PieceSource.objects.bulk_create(
        PieceSource(piece=piece, original=original, file_name=file_name[:120], position=position)
        for position, (original, file_name) in enumerate(sources or [])
    )
    return piece


@transaction.atomic
def change_piece(*, piece: Piece, revision: str, description: dict[str, Any], name: str = "") -> Piece:
    """Keep a changed description, if the piece still stands at the revision the change began from.

    Raises
    ------
    ConflictError
        It was changed elsewhere since.
    """
    row = Piece.objects.select_for_update().get(pk=piece.pk)
    if revision != str(row.revision):
        raise ConflictError(
            f"{row.name} was changed in another tab or window since this page was loaded; nothing was overwritten."
            " Load the page again to see it, then make your change.",
            row.revision,
        )
    name = " ".join(name.split())[:80] or row.name
    if (row.description, row.name) != (description, name):
        row.description, row.name, row.revision = description, name, row.revision + 1
        row.save(update_fields=["description", "name", "revision"])
    return row


def change_from(post: Any, piece: Piece, plan: Any) -> Piece:
    """`change_piece` by a posted form with `revision` and `name`, and the plan that was made of the rest."""
    return change_piece(piece=piece, revision=post.get("revision", ""), description=from_record(plan), name=post.get("name", ""))


@transaction.atomic
def set_source(*, piece: Piece, original: Original, file_name: str) -> None:
    """Make this the one original that a piece is made of."""
    piece.sources.all().delete()
    PieceSource.objects.create(piece=piece, original=original, file_name=file_name[:120], position=0)


def remove_piece(*, piece: Piece) -> None:
    """Remove a piece; its originals stay with their owner's uploads."""
    piece.delete()


def files_of(piece: Piece) -> list[tuple[str, bytes]]:
    """(file name, bytes) of what it is made of, in order."""
    return [(source.file_name, bytes(source.original.data)) for source in piece.sources.select_related("original")]
