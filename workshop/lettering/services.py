"""What a maker does with letterings: make, change, undo, take out. Each is one transaction."""

from typing import Any

from django.db import transaction
from django.http import Http404

from mosaic.errors import BadValueError
from mosaic.forms import from_record
from mosaic.lettering.plan import LetteringPlan
from mosaic.lettering.source import MOST_BYTES, font_info, kind_of, plain_font
from mosaic.lettering.texts import parse_texts
from workshop.builds.models import Build, Original
from workshop.builds.names import checked_name
from workshop.builds.originals import store
from workshop.builds.revisions import after, before, locked
from workshop.lettering.models import Lettering, LetteringRevision

MAX_LETTERINGS = 40
MEDIA_TYPES = {"outlines": "font/sfnt", "bdf": "application/x-font-bdf", "pcf": "application/x-font-pcf"}


def own_lettering(build: Build, lettering_id: int) -> Lettering:
    """A lettering of this build; anything else is not there."""
    found = build.letterings.select_related("head", "build").filter(pk=lettering_id).first()
    if found is None:
        raise Http404("no such lettering")
    return found


def read_font(upload: Any) -> bytes:
    """The bytes of an uploaded font, refused in words before they are read where it is too large."""
    if upload.size > MOST_BYTES:
        most = MOST_BYTES // 2**20
        raise BadValueError(f"{upload.name} is {upload.size / 2**20:.1f} MiB; fonts up to {most} MiB are accepted")
    return upload.read(MOST_BYTES + 1)


def keep_font(*, data: bytes, file_name: str, owner: Any) -> Original:
    """Check a font, then keep it once, a gzip about it taken off.

    Raises
    ------
    MosaicError
        It is no font, too large or broken; nothing is kept.
    """
    plain = plain_font(data, file_name)
    font_info(plain, file_name)
    return store(data=plain, file_name=file_name, owner=owner, media_type=MEDIA_TYPES[kind_of(plain)])


@transaction.atomic
def add_lettering(
    *, build: Build, name: str, plan: LetteringPlan, original: Original | None = None, file_name: str = ""
) -> Lettering:
    """A new lettering of a build.

    Raises
    ------
    BadValueError
        There are too many.
    """
    if build.letterings.count() >= MAX_LETTERINGS:
        raise BadValueError(f"this build has {MAX_LETTERINGS} letterings, which is the most; take one out first")
    name = " ".join(name.split())[:80] or "Lettering"
    row = Lettering.objects.create(build=build, name=name)
    _stand(row, _revise(row, None, plan, (original.pk if original else None, file_name[:120])))
    return row


def _revise(
    row: Lettering, parent: LetteringRevision | None, plan: LetteringPlan, font: tuple[str | None, str]
) -> LetteringRevision:
    original_id, file_name = font
    return LetteringRevision.objects.create(
        lettering=row, parent=parent, plan=from_record(plan), original_id=original_id, file_name=file_name
    )


def _stand(row: Lettering, revision: LetteringRevision) -> None:
    row.stand_at(revision)
    row.save(update_fields=["head", "original", "file_name"])


@transaction.atomic
def save_plan(*, lettering: Lettering, base: int, plan: LetteringPlan) -> Lettering:
    """Keep a plan as a new revision; the same plan again makes none. Raises `ConflictError` as `locked`."""
    row = locked(lettering, base)
    if row.head is None or row.to_plan() != plan:
        _stand(row, _revise(row, row.head, plan, (row.original_id, row.file_name)))
    return row


@transaction.atomic
def step(*, lettering: Lettering, base: int, direction: str) -> Lettering:
    """Back to the plan before, or forward again; stays where there is none. Raises `ConflictError` as `locked`."""
    row = locked(lettering, base)
    target = before(row) if direction == "undo" else after(row)
    if target is not None:
        _stand(row, target)
    return row


@transaction.atomic
def set_font(*, lettering: Lettering, base: int, original: Original, file_name: str, plan: LetteringPlan) -> Lettering:
    """Give a lettering another font of its own, and the plan that takes it."""
    row = locked(lettering, base)
    _stand(row, _revise(row, row.head, plan, (original.pk, file_name[:120])))
    return row


def rename(*, lettering: Lettering, name: str) -> None:
    """Give it another name, which its files take too.

    Raises
    ------
    BadValueError
        The name is empty or too long.
    """
    name = checked_name(name)
    Lettering.objects.filter(pk=lettering.pk).update(name=name)


def keep_texts(*, build: Build, written: str) -> None:
    """What the build's screens show, one text a line.

    Raises
    ------
    BadValueError
        A line cannot be read; the text says which, and what is accepted.
    """
    written = "\n".join(written.splitlines())
    parse_texts(written)
    Build.objects.filter(pk=build.pk).update(texts=written)


def remove(*, lettering: Lettering) -> None:
    """Take a lettering out of its build; its font stays with its owner's uploads."""
    lettering.delete()
