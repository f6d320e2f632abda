"""Exchanging panel, board or link: what still applies stays, what is lost is told before, and a step leads back."""

from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction

from mosaic.boards import board as boards
from mosaic.device.bands import band_counts
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.narrowing import needed
from mosaic.panels.passport import Passport
from workshop.builds.models import Build, PartsExchange, WiringDocument
from workshop.builds.services import drifts_of, locked, option_of, parts_of, snapshots_of
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.kinds import all_kinds, as_its_kind
from workshop.documents.models import Document
from workshop.errors import ConflictError

FIELDS = (
    "passport", "passport_slug", "board", "board_slug", "link_kind", "clock_hz", "rotation", "mirrored", "opening", "sending",
    "buffer_bands",
)  # fmt: skip


@dataclass(frozen=True)
class Foreseen:
    """What an exchange would do: the device then, fields of the build, (document, its record then or None), what is lost."""

    device: Device
    fields: dict[str, Any]
    records: tuple[tuple[Document, Any], ...]
    lost: tuple[str, ...]

    @property
    def changes(self) -> bool:
        return bool(self.fields)


def foresee(*, build: Build, panel: str, board: str, link_kind: str) -> Foreseen:
    """What exchanging parts would change and lose; nothing is kept.

    Raises
    ------
    BadValueError
        There is no such panel or board, or they have no link in common.
    """
    same = {"panel": panel == build.passport_slug, "board": board == build.board_slug}
    before = build.to_device()
    passport, chosen = before.passport, before.board
    if not all(same.values()):
        other_passport, other_board = parts_of(build.owner, build if same["panel"] else panel, build if same["board"] else board)
        passport, chosen = other_passport, other_board
    option = option_of(passport, chosen, link_kind or build.link_kind)
    fields: dict[str, Any] = {}
    if not all(same.values()) or option.kind != build.link_kind:
        fields = snapshots_of(panel, passport, board, chosen, option)
        highest = boards.highest_clock_hz(chosen, option)
        if option.kind == build.link_kind and build.clock_hz <= (highest or 0):
            fields["clock_hz"] = build.clock_hz
    lost: list[str] = []
    if not same["panel"]:
        lost += _of_the_panel(build, before)
        fields |= {"rotation": passport.rotation, "mirrored": False, "opening": None, "sending": None}
        fields["buffer_bands"] = _bands(passport, build.buffer_bands)
    fields = {name: value for name, value in fields.items() if value != getattr(build, name)}
    if not fields:
        return Foreseen(before, {}, (), ())
    after = _with(build, fields)
    records = []
    # The pin plan first: other kinds read it.
    for row in filter(None, (shelf.single(build, kind) for kind in sorted(all_kinds(), key=lambda kind: not kind.OF_DEVICE))):
        record, gone = row.carried(row.record, before, after)
        lost += gone
        if record != row.record:
            records.append((row, record))
        if isinstance(row, WiringDocument):
            after = replace(after, wiring=record)
    return Foreseen(after, fields, tuple(records), tuple(lost))


def _bands(passport: Passport, bands: int) -> int:
    """As many bands, or the next number that cuts this panel into whole rows or pages."""
    counts = band_counts(passport)
    return bands if bands == 0 else next((count for count in counts if count >= bands), counts[-1])


def _of_the_panel(build: Build, before: Device) -> list[str]:
    """What was set or measured of the panel itself, in words."""
    lost = []
    changed = [path for drift in drifts_of(build) if drift.part == "panel" for path, _, _ in drift.differences]
    if changed:
        more = f" and {len(changed) - 3} more" if len(changed) > 3 else ""
        lost.append(f"what was set or measured in this build's passport ({', '.join(changed[:3])}{more})")
    if before.opening is not None:
        lost.append("the opening of the bezel")
    if (build.rotation, build.mirrored) != (before.passport.rotation, False):
        lost.append("how the panel lies")
    if build.sending:
        lost.append("what is noted of the program, and the form of arrays")
    return lost


def _with(build: Build, fields: dict[str, Any]) -> Device:
    """The device that the build becomes, with the pin plan proposed for it."""
    other = Build(**{f.attname: getattr(build, f.attname) for f in Build._meta.concrete_fields} | fields)
    other.pk = None
    return other.to_device(proposed=True)


@transaction.atomic
def exchange_parts(*, build: Build, panel: str, board: str, link_kind: str, revision: int) -> PartsExchange | None:
    """Another panel, board or link for a build. Pictures keep their recipes and are made anew for the panel.

    Returns
    -------
    The step that leads back; None where the parts are those that the build has.

    Raises
    ------
    BadValueError, ConflictError
        As `foresee` and `locked`.
    """
    current = locked(build, revision)
    foreseen = foresee(build=current, panel=panel, board=board, link_kind=link_kind)
    if not foreseen.changes:
        return None
    fields = {name: getattr(current, name) for name in FIELDS}
    for name, value in foreseen.fields.items():
        setattr(current, name, value)
    current.save(update_fields=[*foreseen.fields, "changed"])
    changed = []
    for row, record in foreseen.records:
        before = row.head_id
        if record is None:
            documents.delete(row)
            changed.append({"document": row.pk, "before": before, "after": None})
        else:
            saved = documents.save(row, base=needed(before, "a revision"), record=record)
            changed.append({"document": row.pk, "before": before, "after": saved.head_id})
    Build.objects.filter(pk=current.pk).update(revision=revision + 1)
    PartsExchange.objects.filter(build=current).delete()
    return PartsExchange.objects.create(build=current, fields=fields, documents=changed, revision=revision + 1)


@transaction.atomic
def undo_exchange(*, exchange: PartsExchange) -> None:
    """Back to the parts as they were, with all that went with them.

    Raises
    ------
    ConflictError
        The build was changed since; undoing would lose that.
    """
    current = Build.objects.select_for_update().get(pk=exchange.build_id)
    if current.revision != exchange.revision:
        raise ConflictError(
            "The build was changed after its parts were exchanged, and going back would lose that."
            " Exchange the parts once more instead."
        )
    for name in FIELDS:
        setattr(current, name, exchange.fields[name])
    current.save(update_fields=[*FIELDS, "changed"])
    for step in exchange.documents:
        row = Document.everything.select_related("head").get(pk=step["document"])
        row.build = current
        if step["after"] is None and row.deleted:
            documents.bring_back(as_its_kind(row))
        elif row.head_id == step["after"]:
            documents.undo(as_its_kind(row), base=step["after"])
    Build.objects.filter(pk=current.pk).update(revision=exchange.revision + 1)
    exchange.delete()


def checked_parts(build: Build, post: Any) -> dict[str, str]:
    """Panel, board and link as posted; each that was not named is the build's own."""
    panel, board = post.get("panel", build.passport_slug).strip(), post.get("board", build.board_slug).strip()
    if not panel or not board:
        raise BadValueError(f"choose a {'board' if panel else 'panel'} from the list")
    return {"panel": panel, "board": board, "link_kind": post.get("link_kind", build.link_kind)}
