"""A build day by day: what was saved and written, how it stood at the end of a day, and the way back to it."""

from dataclasses import dataclass, field
from datetime import date, datetime, time
from typing import Any

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from mosaic.errors import BadValueError
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.kinds import as_its_kind
from workshop.documents.models import Document, Revision
from workshop.journal.models import LogEntry

MOST_DAYS, MOST_ROWS = 60, 3000


@dataclass
class Day:
    """What happened on it."""

    day: date
    saved: int = 0
    entries: int = 0
    names: dict[str, None] = field(default_factory=dict)

    @property
    def some_names(self) -> list[str]:
        return list(self.names)[:4]


def days_of(build: Build) -> list[Day]:
    """Days on which something was saved or written, the newest first."""
    found: dict[date, Day] = {}
    revisions = Revision.objects.filter(document__build=build).order_by("-id").values_list("made", "name")[:MOST_ROWS]
    for made, name in revisions:
        day = timezone.localtime(made).date()
        told = found.setdefault(day, Day(day))
        told.saved += 1
        told.names[name] = None
    for made in LogEntry.objects.filter(build=build).values_list("made", flat=True)[:MOST_ROWS]:
        day = timezone.localtime(made).date()
        found.setdefault(day, Day(day)).entries += 1
    return [found[day] for day in sorted(found, reverse=True)[:MOST_DAYS]]


def day_named(written: str) -> date:
    """The day that was typed; raises `BadValueError` where it is none, or still to come."""
    try:
        day = date.fromisoformat(written)
    except ValueError:
        raise BadValueError(f"{written[:20]!r} is no day; one such as 2026-05-31 is accepted") from None
    if day > timezone.localdate():
        raise BadValueError(f"{day} is still to come; a day up to today is accepted")
    return day


def as_it_was(build: Build, day: date) -> list[Revision]:
    """The revision of each document at the end of a day, without those that had been deleted by then."""
    end = timezone.make_aware(datetime.combine(day, time.max))
    there = Document.everything.filter(build=build).exclude(deleted__lte=end)
    newest = Revision.objects.filter(document__in=there, made__lte=end).values("document").annotate(newest=Max("id"))
    rows = Revision.objects.filter(pk__in=[row["newest"] for row in newest]).select_related("document")
    return list(rows.prefetch_related("sources__original").order_by("document__kind", "name"))


@transaction.atomic
def return_to_day(build: Build, day: date) -> int:
    """The documents of a build become what they were at the end of a day; gives how many differ.

    Each gets a revision more, so that it can be undone; those made since are deleted, and can be brought back. Panel, board and
    link stay as they are.

    Raises
    ------
    BadValueError
        There was nothing yet, or a description of then can no longer be read.
    """
    then = as_it_was(build, day)
    if not then:
        raise BadValueError(f"there was nothing yet at the end of {day}")
    documents.held(build)
    changed, kept = 0, {revision.document_id for revision in then}
    for row in shelf.all_documents(build):
        if row.pk not in kept:
            documents.delete(row)
            changed += 1
    for revision in then:
        row: Any = as_its_kind(Document.everything.select_related("head").get(pk=revision.document_id))
        row.build = build
        if row.deleted is not None:
            documents.bring_back(row)
        if row.head_id != revision.pk:
            sources = [(source.original, source.file_name) for source in revision.sources.all()]
            record = row.read(revision.description)
            now = documents.save(row, base=row.head_id, record=record, name=revision.name, sources=sources)
            changed += now.head_id != row.head_id
    shelf.forget(build)
    return changed
