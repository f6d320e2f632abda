"""Writing into logs, finding in them. Whatever writes an entry says what it knows; the rest is filled in here."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import Q, QuerySet
from django.db.models.functions import Lower
from django.utils import timezone

from mosaic.errors import BadValueError
from mosaic.measured.quantities import quantity_named
from workshop.builds.models import Build
from workshop.documents.models import Original
from workshop.journal.models import KINDS, LogEntry

MOST_TEXT, MOST_ENTRIES, MOST_TAGS, MOST_SETUP = 20_000, 20_000, 12, 8_000
AHEAD = timedelta(minutes=5)
"""Clocks of two machines may differ so much."""
SHORT = {"text": MOST_TEXT, "instrument": 80, "conditions": 200, "page": 300, "subject": 200, "state": 300}


def state_of(build: Build) -> str:
    """The build as it is, in few words: its panel, board and link, and the revision of its device."""
    link = f"{build.link_kind}, {build.clock_hz:,} Hz"
    return f"{build.passport.get('name', '')}; {build.board.get('name', '')}; {link}; device {build.revision}"[:300]


def tags_of(written: str) -> str:
    """Tags as they are kept: in lower case, each once, one blank between.

    Raises
    ------
    BadValueError
        There are too many, or they are too long.
    """
    found = list(dict.fromkeys(word.strip("#,;").lower() for word in written.split()))
    found = [word for word in found if word]
    if len(found) > MOST_TAGS or len(" ".join(found)) > 200:
        raise BadValueError(f"there are {len(found)} tags; up to {MOST_TAGS} short ones are accepted")
    return " ".join(found)


def words_of(entry: LogEntry) -> str:
    """What the search looks at."""
    parts = [entry.text, entry.instrument, entry.conditions, entry.tags, entry.subject, entry.state, entry.setup, entry.kind]
    if entry.quantity:
        quantity = quantity_named(entry.quantity)
        parts += [quantity.name, quantity.slug, f"{entry.value:g} {quantity.unit}" if entry.value is not None else ""]
    if entry.worked is not None:
        parts.append("worked" if entry.worked else "failed")
    return " ".join(part for part in parts if part).lower()[:30_000]


def checked(entry: LogEntry) -> LogEntry:
    """The entry, if it can be kept.

    Raises
    ------
    BadValueError
        It says nothing, or something of it is too long or lies in the future.
    """
    for name, most in SHORT.items():
        length = len(getattr(entry, name))
        if length > most:
            raise BadValueError(f"the {name} has {length:,} characters; up to {most:,} are accepted")
    if entry.kind not in dict(KINDS):
        raise BadValueError(f"{entry.kind[:20]!r} is no kind of entry; {', '.join(dict(KINDS))} are accepted")
    if entry.made > timezone.now() + AHEAD:
        raise BadValueError(f"{entry.made:%Y-%m-%d %H:%M} is still to come; a time up to now is accepted")
    if entry.made.year < 2000:
        raise BadValueError(f"{entry.made:%Y-%m-%d} is before any of these panels was made; a year from 2000 on is accepted")
    if entry.quantity:
        quantity_named(entry.quantity)
        if entry.value is None:
            raise BadValueError("a measurement has a value; a number with its unit is accepted")
    if not (entry.text.strip() or entry.quantity or entry.photo_id or entry.worked is not None):
        raise BadValueError("the entry says nothing; write a word, a reading, or add a photo")
    entry.words = words_of(entry)
    return entry


@transaction.atomic
def write(
    build: Build, kind: str = "note", text: str = "", *, made: datetime | None = None, photo: Original | None = None, **more: Any
) -> LogEntry:
    """A new entry; raises as `checked`."""
    if LogEntry.objects.filter(build=build).count() >= MOST_ENTRIES:
        raise BadValueError(f"this log has {MOST_ENTRIES:,} entries, which is the most; delete some first")
    more.setdefault("state", state_of(build))
    entry = checked(LogEntry(build=build, kind=kind, text=text.strip(), made=made or timezone.now(), photo=photo, **more))
    entry.save()
    return entry


def note(build: Build, kind: str, text: str, **more: Any) -> None:
    """An entry that a station writes by itself; nothing stops what it was doing."""
    if LogEntry.objects.filter(build=build).count() < MOST_ENTRIES:
        known = {name: value[: SHORT[name]] if name in SHORT else value for name, value in more.items()}
        write(build, kind, text[:MOST_TEXT], by_itself=True, **known)


def found_in(rows: QuerySet[LogEntry], words: str) -> QuerySet[LogEntry]:
    """Entries that hold all the words; `kind:fix`, `tag:cable`, `worked:no`, `quantity:voltage` and `part:oled` say where."""
    rows = rows.alias(name_of_build=Lower("build__name"), state_then=Lower("state"))
    for word in words.lower().split()[:12]:
        field, colon, rest = word.partition(":")
        if colon and rest and field == "kind":
            rows = rows.filter(kind=rest[:12])
        elif colon and rest and field == "tag":
            rows = rows.filter(tags__contains=rest)
        elif colon and rest and field == "quantity":
            rows = rows.filter(quantity__contains=rest)
        elif colon and rest and field == "part":
            rows = rows.filter(state_then__contains=rest)
        elif colon and field == "worked" and rest in ("yes", "no"):
            rows = rows.filter(worked=rest == "yes")
        else:
            rows = rows.filter(Q(words__contains=word) | Q(name_of_build__contains=word))
    return rows


def tags_in(rows: Iterable[str]) -> list[tuple[str, int]]:
    """Tags with how often each stands, the most frequent first."""
    counts: dict[str, int] = {}
    for tags in rows:
        for tag in tags.split():
            counts[tag] = counts.get(tag, 0) + 1
    return sorted(counts.items(), key=lambda one: (-one[1], one[0]))
