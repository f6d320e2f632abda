"""What a maker does with builds, and what a page needs to know of one."""

from dataclasses import dataclass
from typing import Any

from django.core.exceptions import ValidationError
from django.db import transaction
from django.db.models import F

from mosaic.boards import board as boards
from mosaic.device.budget import Budget, Content, budgets
from mosaic.device.device import Device
from mosaic.errors import BadValueError
from mosaic.findings.rules import device_findings
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import from_record
from mosaic.panels import loader as panels
from mosaic.panels.wire import frame_parts
from workshop.builds.models import Build, Picture
from workshop.pictures.reports import derived_of


@dataclass(frozen=True)
class Overview:
    """What every page of a build shows: device, budgets and findings by station."""

    build: Build
    device: Device
    pictures: tuple[Picture, ...]
    budgets: tuple[Budget, ...]
    device_findings: tuple[dict[str, Any], ...]
    picture_findings: tuple[tuple[Picture, dict[str, Any]], ...]

    @property
    def must_fix(self) -> int:
        return sum(f["severity"] == "must fix" for f in self.all_findings)

    @property
    def worth_fixing(self) -> int:
        return len(self.all_findings) - self.must_fix

    @property
    def all_findings(self) -> list[dict[str, Any]]:
        return [*self.device_findings, *(f for _, f in self.picture_findings)]


def start_build(*, owner, name: str, panel: str, board: str, link_kind: str, **more: Any) -> Build:
    """A new build with snapshots of panel and board, and a clock both ends allow."""
    passport, chosen = panels.catalogue()[panel], boards.catalogue()[board]
    option = passport.link(link_kind)
    values = {
        "rotation": passport.rotation,
        "clock_hz": boards.usual_clock_hz(chosen, option),
        "supply_kind": Build.SupplyKind.CELL if passport.technology == "epaper" else Build.SupplyKind.MAINS,
        **more,
    }
    build = Build(
        owner=owner, name=name, link_kind=option.kind,
        passport=panels.passport_to_plain(passport), passport_slug=panel,
        board=boards.board_to_plain(chosen), board_slug=board, **values,
    )  # fmt: skip
    build.full_clean(exclude=["passport", "board"])
    build.save()
    return build


FIXABLE = ("buffer_bands", "update_interval_s", "clock_hz")


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
    for name, value in changes.items():
        setattr(build, name, value)
    try:
        build.full_clean(exclude=["passport", "board"])
    except ValidationError as error:
        raise BadValueError("; ".join(error.messages)) from error
    build.save(update_fields=list(changes))
    Build.objects.filter(pk=build.pk).update(revision=F("revision") + 1)


def overview_of(
    build: Build, *, pictures: list[Picture] | None = None, live: dict[int, dict[str, Any]] | None = None
) -> Overview:
    """Budgets and findings of a build.

    Parameters
    ----------
    pictures : its pictures with their heads, if the caller has them already
    live : derived figures of a picture that is being changed, by its id, in place of the saved ones
    """
    device = build.to_device()
    if pictures is None:
        pictures = list(build.pictures.select_related("head"))
    derived = [(p, (live or {}).get(p.pk) or derived_of(p, device)) for p in pictures]
    light = max((d["light_share"] for _, d in derived), default=0.0)
    frame = frame_parts(device.passport, device.turn, bytes(device.passport.frame_bytes))
    sums = budgets(device, Content(sum(d["bytes"] for _, d in derived), frame, light))
    subject = DeviceSubject(device, sums, len(pictures))
    return Overview(
        build, device, tuple(pictures), sums,
        tuple(from_record(f) for f in device_findings(subject)),
        tuple((p, f) for p, d in derived for f in d["findings"]),
    )  # fmt: skip
