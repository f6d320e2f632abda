"""Rows whose description is a list of revisions with a pointer, `head`: pictures and letterings.

Undo moves the pointer to the parent, redo to the newest child, across visits; two tabs are told
apart by the revision they began from.
"""

from typing import Any

from django.http import HttpRequest

from mosaic.errors import BadValueError
from workshop.errors import ConflictError


def locked(row: Any, base: int) -> Any:
    """The row, locked, if it still stands at the revision the change began from.

    Raises
    ------
    ConflictError
        It was changed elsewhere since.
    """
    current = type(row).objects.select_for_update().select_related("head").get(pk=row.pk)
    if current.head_id != base:
        raise ConflictError(
            f"{current.name} was changed in another tab or window since this page was loaded;"
            " nothing was overwritten. Load the page again to see it, or keep yours as the newer one.",
            current.head_id,
        )
    return current


def point_to(row: Any, revision: Any) -> None:
    """Make a revision the one that counts."""
    row.head = revision
    row.save(update_fields=["head"])


def before(row: Any) -> Any:
    """The revision that undo leads to, or None."""
    return row.head.parent if row.head else None


def after(row: Any) -> Any:
    """The revision that redo leads to, or None."""
    return row.head.children.order_by("-id").first() if row.head else None


def can_undo(row: Any) -> bool:
    return row.head is not None and row.head.parent_id is not None


def can_redo(row: Any) -> bool:
    return row.head is not None and row.head.children.exists()


def base_of(request: HttpRequest) -> int:
    """The revision that a posted change began from.

    Raises
    ------
    BadValueError
        It is not told.
    """
    text = request.POST.get("base", "")
    if not text.isdigit() or len(text) > 18:
        raise BadValueError("this page does not say which revision it began from; load it again")
    return int(text)
