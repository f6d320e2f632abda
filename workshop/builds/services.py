"""What a maker does with builds. Each is one transaction; each change names the revision of the build it began from."""

from dataclasses import dataclass, replace
from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction

from mosaic.boards import board as boards
from mosaic.boards.board import Board
from mosaic.device.bands import check_bands
from mosaic.device.setup_card import SetupCard
from mosaic.errors import BadValueError
from mosaic.forms import differences, from_record, to_record
from mosaic.links.kinds import KINDS
from mosaic.panels import loader as panels
from mosaic.panels.mounting import Opening
from mosaic.panels.passport import ROTATIONS, Passport
from mosaic.panels.sending import Sending
from mosaic.panels.supply import LinkOption
from mosaic.pixels.array_forms import AS_PANEL, array_forms
from mosaic.wiring.plan import PinPlan, check_names
from workshop.builds.models import Build, SetupDocument, WiringDocument
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.models import Document
from workshop.errors import ConflictError
from workshop.panels.parts import board_of, panel_of


def start_build(*, owner, name: str, panel: str, board: str, link_kind: str, **more: Any) -> Build:
    """A new build with snapshots of panel and board, and a clock both ends allow.

    `panel` and `board` are references: slugs of the catalogue, or the owner's own.

    Raises
    ------
    BadValueError
        There is no such panel or board, or they have no link in common.
    """
    passport, chosen = parts_of(owner, panel, board)
    option = option_of(passport, chosen, link_kind)
    values = {
        "rotation": passport.rotation,
        "supply_kind": Build.SupplyKind.CELL if passport.technology == "epaper" else Build.SupplyKind.MAINS,
        **more,
    }
    build = Build(owner=owner, name=name, **snapshots_of(panel, passport, board, chosen, option), **values)
    build.full_clean(exclude=["passport", "board"])
    build.save()
    return build


def parts_of(owner, panel: "str | Build", board: "str | Build") -> tuple[Passport, Board]:
    """Panel and board of these references; a build in place of a reference stands for its own snapshot."""
    return _passport_of(owner, panel), _board_of(owner, board)


def _passport_of(owner, panel: "str | Build") -> Passport:
    if isinstance(panel, Build):
        return panels.passport_from_plain(panel.passport)
    entry = panel_of(owner, panel)
    if entry is None:
        raise BadValueError(f"there is no panel named {panel[:60]!r}; choose one from the shelf")
    return entry.passport


def _board_of(owner, board: "str | Build") -> Board:
    if isinstance(board, Build):
        return boards.board_from_plain(board.board)
    entry = board_of(owner, board)
    if entry is None:
        raise BadValueError(f"there is no board named {board[:60]!r}; choose one from the shelf")
    return entry.board


def option_of(passport: Passport, board: Board, link_kind: str) -> LinkOption:
    """The panel's link of this kind, or the first that both ends have."""
    shared = boards.shared_links(board, passport.links)
    if not shared:
        own = ", ".join(KINDS[option.kind].name for option in passport.links)
        raise BadValueError(f"this board has none of the panel's links ({own}); choose another board")
    return next((option for option in shared if option.kind == link_kind), shared[0])


def snapshots_of(panel: str, passport: Passport, board: str, chosen: Board, option: LinkOption) -> dict[str, Any]:
    """What a build keeps of its parts."""
    return {
        "passport": panels.passport_to_plain(passport), "passport_slug": panel,
        "board": boards.board_to_plain(chosen), "board_slug": board,
        "link_kind": option.kind, "clock_hz": boards.usual_clock_hz(chosen, option),
    }  # fmt: skip


def locked(build: Build, revision: int) -> Build:
    """The build as it stands, locked, if it still is at the revision that a change began from.

    Raises
    ------
    ConflictError
        It was changed elsewhere since.
    """
    current = Build.objects.select_for_update().get(pk=build.pk)
    if current.revision != revision:
        raise ConflictError(
            f"{current.name} was changed in another tab or window since this page was loaded; nothing was overwritten."
            " Load the page again to see it, then make your change.",
            current.revision,
        )
    return current


def _keep(current: Build, *fields: str) -> None:
    """Save fields of a locked build as its next revision."""
    current.revision += 1
    current.save(update_fields=[*fields, "revision", "changed"])


@transaction.atomic
def lay_build(*, build: Build, rotation: int, mirrored: bool, revision: int) -> None:
    """How the panel lies before its reader."""
    if rotation not in ROTATIONS:
        raise BadValueError(f"a turn of {rotation} is not known; panels lie turned by 0, 90, 180 or 270 degrees")
    current = locked(build, revision)
    current.rotation, current.mirrored = rotation, mirrored
    _keep(current, "rotation", "mirrored")


@transaction.atomic
def set_opening(*, build: Build, opening: Opening | None, revision: int) -> None:
    """The window of the bezel before the module, or none."""
    current = locked(build, revision)
    current.opening = from_record(opening) if opening else None
    _keep(current, "opening")


def set_wiring(*, build: Build, plan: PinPlan, base: int) -> None:
    """Keep a pin plan; `base` is the revision of the plan it began from, 0 for the proposed one. Raises `ConflictError`."""
    documents.save_single(WiringDocument, build=build, base=base, record=plan)


def set_setup_card(*, build: Build, card: SetupCard, base: int) -> None:
    """Keep a set-up card; raises as `set_wiring` does."""
    documents.save_single(SetupDocument, build=build, base=base, record=card)


def base_of_single(build: Build, kind: type[Document]) -> int:
    """The revision at which the build's one document of a kind stands; 0 where it has none."""
    row = shelf.kept_single(build, kind)
    return row.head_id or 0 if row else 0


@dataclass(frozen=True)
class Drift:
    """What of a build's snapshot differs from what it was based on: (path, snapshot, now)."""

    part: str
    name: str
    differences: tuple[tuple[str, Any, Any], ...]


# What may differ between a snapshot and its origin without a build being concerned.
UNCONCERNED = ("owned.", "form", "slug")


def drifts_of(build: Build) -> list[Drift]:
    """Differences between the snapshots and the passport and board they were taken from, as those stand now."""
    found = []
    device = build.to_device()
    panel, board = panel_of(build.owner, build.passport_slug), board_of(build.owner, build.board_slug)
    pairs = [
        ("panel", panel.passport.name if panel else "", device.passport, panel.passport if panel else None),
        ("board", board.board.name if board else "", device.board, board.board if board else None),
    ]
    for part, name, snapshot, now in pairs:
        if now is None:
            continue
        changed = [d for d in differences(from_record(snapshot), from_record(now)) if not d[0].startswith(UNCONCERNED)]
        if changed:
            found.append(Drift(part, name, tuple(changed)))
    return found


@transaction.atomic
def take_over(*, build: Build, part: str, revision: int) -> None:
    """Take a new snapshot of the panel or the board."""
    if part not in ("panel", "board"):
        raise BadValueError(f"{part!r} is neither panel nor board")
    current = locked(build, revision)
    if part == "panel":
        entry = panel_of(current.owner, current.passport_slug)
        current.passport = panels.passport_to_plain(entry.passport) if entry else current.passport
    else:
        own = board_of(current.owner, current.board_slug)
        current.board = boards.board_to_plain(own.board) if own else current.board
    device = current.to_device()
    option = device.passport.link(current.link_kind)
    current.clock_hz = min(current.clock_hz, boards.highest_clock_hz(device.board, option) or current.clock_hz)
    _keep(current, "passport", "board", "clock_hz")


@transaction.atomic
def set_array_form(*, build: Build, name: str, revision: int) -> None:
    """The form in which arrays are given out, by its name in `mosaic.pixels.array_forms`.

    Raises
    ------
    BadValueError
        There is no such form for this panel.
    ConflictError
        The build was changed in another tab since.
    """
    current = locked(build, revision)
    device = current.to_device()
    forms = array_forms(device.passport.format)
    if name not in forms:
        known = ", ".join(words for words, _ in forms.values())
        raise BadValueError(f"arrays for this panel are given out {known}; {name[:40]!r} is none of these")
    form = None if name == AS_PANEL else forms[name][1]
    changed = replace(device.sending, array=form)
    current.sending = None if changed == Sending() else from_record(changed)
    _keep(current, "sending")


FIXABLE = ("buffer_bands", "update_interval_s", "clock_hz", "opening", "wiring", "sending")


@transaction.atomic
def change_build(*, build: Build, changes: dict[str, Any], revision: int) -> None:
    """Change fields of a build, or its pin plan, by a finding's fix.

    Raises
    ------
    BadValueError
        A field is not one that fixes may change, or its value is refused.
    ConflictError
        The build was changed elsewhere since the fix was offered.
    """
    unknown = set(changes) - set(FIXABLE)
    if unknown:
        raise BadValueError(f"a fix cannot change {', '.join(sorted(unknown))}; it can change {', '.join(FIXABLE)}")
    current = locked(build, revision)
    device = current.to_device()
    if changes.get("opening"):
        to_record(changes["opening"], Opening, "opening")
    if changes.get("sending"):
        to_record(changes["sending"], Sending, "sending").array_format(device.passport)
    if type(changes.get("buffer_bands")) is int and (wrong := check_bands(device.passport, changes["buffer_bands"])):
        raise BadValueError(wrong)
    fields = [name for name in changes if name != "wiring"]
    for name in fields:
        setattr(current, name, changes[name])
    try:
        current.full_clean(exclude=["passport", "board"])
    except ValidationError as error:
        raise BadValueError("; ".join(error.messages)) from error
    if "wiring" in changes:
        plan = to_record(changes["wiring"], PinPlan, "wiring")
        check_names(plan, device.board)
        # The build stands where the fix began, and so does its plan: every change of the plan makes a revision of the build.
        documents.save_single(WiringDocument, build=current, base=base_of_single(current, WiringDocument), record=plan)
    if fields:
        _keep(current, *fields)
