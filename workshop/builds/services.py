"""What a maker does with builds, and what a page needs to know of one."""

from dataclasses import dataclass
from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from mosaic.boards import board as boards
from mosaic.boards.board import Board
from mosaic.device.budget import Budget, Content, budgets
from mosaic.device.device import Device
from mosaic.device.setup import SetupCard
from mosaic.errors import BadValueError
from mosaic.findings.rules import device_findings
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import differences, from_record, to_record
from mosaic.links.kinds import KINDS
from mosaic.panels import loader as panels
from mosaic.panels.mounting import Opening
from mosaic.panels.passport import ROTATIONS, Passport
from mosaic.panels.sending import Sending
from mosaic.panels.supply import LinkOption
from mosaic.panels.wire import frame_parts
from mosaic.wiring.plan import PinPlan, check_names
from workshop.builds.models import Build, Picture
from workshop.errors import ConflictError
from workshop.lettering.models import Lettering
from workshop.lettering.reports import lettering_figures
from workshop.panels.parts import board_of, panel_of
from workshop.pictures.reports import derived_of, glass_key, report_key


@dataclass(frozen=True)
class Overview:
    """What every page of a build shows: device, budgets and findings by station."""

    build: Build
    device: Device
    pictures: tuple[Picture, ...]
    budgets: tuple[Budget, ...]
    device_findings: tuple[dict[str, Any], ...]
    picture_findings: tuple[tuple[Picture, dict[str, Any]], ...]
    letterings: tuple[Lettering, ...] = ()
    lettering_findings: tuple[tuple[Lettering, dict[str, Any]], ...] = ()

    @property
    def must_fix(self) -> int:
        return sum(f["severity"] == "must fix" for f in self.all_findings)

    @property
    def worth_fixing(self) -> int:
        return len(self.all_findings) - self.must_fix

    @property
    def all_findings(self) -> list[dict[str, Any]]:
        made = (f for found in (self.picture_findings, self.lettering_findings) for _, f in found)
        return [*self.device_findings, *made]


def start_build(*, owner, name: str, panel: str, board: str, link_kind: str, **more: Any) -> Build:
    """A new build with snapshots of panel and board, and a clock both ends allow.

    `panel` and `board` are references: slugs of the catalogue, or the owner's own.

    Raises
    ------
    BadValueError
        There is no such panel or board, or they have no link in common.
    """
    passport, chosen = _parts(owner, panel, board)
    option = _option(passport, chosen, link_kind)
    values = {
        "rotation": passport.rotation,
        "supply_kind": Build.SupplyKind.CELL if passport.technology == "epaper" else Build.SupplyKind.MAINS,
        **more,
    }
    build = Build(owner=owner, name=name, **_snapshots(panel, passport, board, chosen, option), **values)
    build.full_clean(exclude=["passport", "board"])
    build.save()
    return build


def _parts(owner, panel: str, board: str) -> tuple[Passport, Board]:
    panel_entry, board_entry = panel_of(owner, panel), board_of(owner, board)
    if panel_entry is None or board_entry is None:
        raise BadValueError(f"no {'panel' if panel_entry is None else 'board'} is named so; choose one of the shelf")
    return panel_entry.passport, board_entry.board


def _option(passport: Passport, board: Board, link_kind: str) -> LinkOption:
    """The panel's link of this kind, or the first that both ends have."""
    shared = boards.shared_links(board, passport.links)
    if not shared:
        own = ", ".join(KINDS[option.kind].name for option in passport.links)
        raise BadValueError(f"this board has none of the panel's links ({own}); choose another board")
    return next((option for option in shared if option.kind == link_kind), shared[0])


def _snapshots(panel: str, passport: Passport, board: str, chosen: Board, option: LinkOption) -> dict[str, Any]:
    return {
        "passport": panels.passport_to_plain(passport), "passport_slug": panel,
        "board": boards.board_to_plain(chosen), "board_slug": board,
        "link_kind": option.kind, "clock_hz": boards.usual_clock_hz(chosen, option),
    }  # fmt: skip


@transaction.atomic
def exchange_parts(*, build: Build, panel: str, board: str, link_kind: str) -> None:
    """Another panel, board or link for a build. Pictures keep their recipes and are made anew for the panel."""
    passport, chosen = _parts(build.owner, panel, board)
    if panel != build.passport_slug:
        build.rotation, build.mirrored, build.opening = passport.rotation, False, None
    option = _option(passport, chosen, link_kind)
    for name, value in _snapshots(panel, passport, board, chosen, option).items():
        setattr(build, name, value)
    build.wiring = None  # other parts have other pins: the plan is proposed anew
    build.sending, build.stages, build.patches, build.touch = (
        None,
        {},
        None,
        None,
    )  # what was known and seen was so of the old parts
    build.revision += 1
    build.save()


@transaction.atomic
def lay_build(*, build: Build, rotation: int, mirrored: bool) -> None:
    """How the panel lies before its reader."""
    if rotation not in ROTATIONS:
        raise BadValueError(f"a turn of {rotation} is not known; panels lie turned by 0, 90, 180 or 270 degrees")
    Build.objects.filter(pk=build.pk).update(rotation=rotation, mirrored=mirrored, revision=F("revision") + 1)


@transaction.atomic
def set_opening(*, build: Build, opening: Opening | None) -> None:
    """The window of the bezel before the module, or none."""
    plain = from_record(opening) if opening else None
    Build.objects.filter(pk=build.pk).update(opening=plain, revision=F("revision") + 1)


@transaction.atomic
def set_wiring(*, build: Build, plan: PinPlan | None, revision: int) -> None:
    """Keep a pin plan, or go back to the proposed one.

    Raises
    ------
    ConflictError
        The build was changed in another tab since the page was laid out.
    """
    current = Build.objects.select_for_update().get(pk=build.pk)
    if current.revision != revision:
        raise ConflictError("this build was changed in another tab since; nothing was overwritten", current.revision)
    current.wiring = from_record(plan) if plan else None
    current.revision += 1
    current.save(update_fields=["wiring", "revision"])


@transaction.atomic
def set_setup(*, build: Build, card: SetupCard, revision: int) -> None:
    """Keep a set-up card; raises as `set_wiring` does."""
    current = Build.objects.select_for_update().get(pk=build.pk)
    if current.revision != revision:
        raise ConflictError("this build was changed in another tab since; nothing was overwritten", current.revision)
    current.setup = from_record(card)
    current.revision += 1
    current.save(update_fields=["setup", "revision"])


@transaction.atomic
def keep_readings(*, build: Build, readings: dict[str, float | None]) -> None:
    """Measurements of the check sheet, each with its day; None takes one away. Others stay as they are."""
    current = Build.objects.select_for_update().get(pk=build.pk)
    kept = dict(current.readings)
    today = timezone.localdate().isoformat()
    for name, value in readings.items():
        if value is None:
            kept.pop(name, None)
        elif kept.get(name, {}).get("value") != value:
            kept[name] = {"value": value, "day": today}
    current.readings = kept
    current.save(update_fields=["readings"])


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
def take_over(*, build: Build, part: str) -> None:
    """Take a new snapshot of the panel or the board."""
    if part not in ("panel", "board"):
        raise BadValueError(f"{part!r} is neither panel nor board")
    if part == "panel":
        entry = panel_of(build.owner, build.passport_slug)
        build.passport = panels.passport_to_plain(entry.passport) if entry else build.passport
    else:
        own = board_of(build.owner, build.board_slug)
        build.board = boards.board_to_plain(own.board) if own else build.board
    device = build.to_device()
    option = device.passport.link(build.link_kind)
    build.clock_hz = min(build.clock_hz, boards.highest_clock_hz(device.board, option) or build.clock_hz)
    build.revision += 1
    build.save()


FIXABLE = ("buffer_bands", "update_interval_s", "clock_hz", "opening", "wiring", "sending")


@transaction.atomic
def change_build(*, build: Build, changes: dict[str, Any]) -> None:
    """Change fields of a build by a finding's fix.

    Raises
    ------
    BadValueError
        A field is not one that fixes may change, or its value is refused.
    """
    unknown = set(changes) - set(FIXABLE)
    if unknown:
        raise BadValueError(f"a fix cannot change {', '.join(sorted(unknown))}; it can change {', '.join(FIXABLE)}")
    if changes.get("opening"):
        to_record(changes["opening"], Opening, "opening")
    if changes.get("sending"):
        to_record(changes["sending"], Sending, "sending").array_format(build.to_device().passport)
    if changes.get("wiring"):
        check_names(to_record(changes["wiring"], PinPlan, "wiring"), build.to_device().board)
    for name, value in changes.items():
        setattr(build, name, value)
    try:
        build.full_clean(exclude=["passport", "board"])
    except ValidationError as error:
        raise BadValueError("; ".join(error.messages)) from error
    build.save(update_fields=list(changes))
    Build.objects.filter(pk=build.pk).update(revision=F("revision") + 1)


MOST_AT_ONCE = 12
"""Pictures that a page carries out by itself; of more, the rest keep their older figures until a job has remade them."""


def _derived_figures(pictures: list[Picture], device: Device, live: dict[int, dict[str, Any]]) -> list[tuple[Picture, dict]]:
    found, carried_out = [], 0
    for picture in pictures:
        stale = picture.pk not in live and picture.derived_key != report_key(picture.original_id, picture.to_recipe(), device)
        if stale and carried_out >= MOST_AT_ONCE and picture.derived:
            # The picture itself is right at once: its address holds the new key, and it is made when it is looked at.
            picture.derived = {**picture.derived, "glass_key": glass_key(picture.original_id, picture.to_recipe(), device)}
            found.append((picture, picture.derived))
            continue
        carried_out += stale
        found.append((picture, live.get(picture.pk) or (derived_of(picture, device) if stale else picture.derived)))
    return found


def overview_of(
    build: Build,
    *,
    pictures: list[Picture] | None = None,
    letterings: list[Lettering] | None = None,
    live: dict[int, dict[str, Any]] | None = None,
    live_letterings: dict[int, dict[str, Any]] | None = None,
    device: Device | None = None,
) -> Overview:
    """Budgets and findings of a build.

    Parameters
    ----------
    pictures, letterings : its own with their heads, if the caller has them already
    live, live_letterings : derived figures of one that is being changed, by its id, in place of the saved ones
    device : the build's, if the caller has it already
    """
    device = device or build.to_device()
    if pictures is None:
        pictures = list(build.pictures.select_related("head"))
    derived = _derived_figures(pictures, device, live or {})
    light = max((d["light_share"] for _, d in derived), default=0.0)
    frame = frame_parts(device.passport, device.turn, bytes(device.passport.frame_bytes))
    if letterings is None:
        letterings = list(build.letterings.select_related("head"))
    moving = live_letterings or {}
    letters = [(row, moving.get(row.pk) or lettering_figures(row, device, build.texts)) for row in letterings]
    stored, lettered = sum(d["bytes"] for _, d in derived), sum(d["flash_bytes"] for _, d in letters)
    sums = budgets(device, Content(stored, frame, light, lettered))
    subject = DeviceSubject(device, sums, len(pictures))
    return Overview(
        build, device, tuple(pictures), sums,
        tuple(from_record(f) for f in device_findings(subject)),
        tuple((p, f) for p, d in derived for f in d["findings"]),
        tuple(letterings), tuple((lettering, f) for lettering, d in letters for f in d["findings"]),
    )  # fmt: skip
