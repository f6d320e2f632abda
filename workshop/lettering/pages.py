"""What the pages of station 4 have in common."""

from typing import Any

from django.http import HttpRequest
from django.urls import reverse

from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.lettering.characters import name_of
from mosaic.lettering.files import WRITERS
from mosaic.lettering.making import Sources, face_of
from mosaic.lettering.measure import capacity_of, pitch_mm, widths_of
from mosaic.lettering.plan import PICTURES_ONLY, LetteringPlan
from mosaic.lettering.shades import seen_mask
from mosaic.lettering.source import FontInfo, font_info
from mosaic.numbers import row_id
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.reading import arc_minutes
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.errors import message_of
from workshop.lettering.documents import Lettering, texts_of
from workshop.lettering.items import lettering_item
from workshop.lettering.reports import Report, figures, font_of, report_of
from workshop.lettering.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import Overview, overview_of

LARGEST_SHOWN = 5


def own(request: HttpRequest, build_id: int, lettering_id: int) -> tuple[Build, Lettering]:
    """A build of the one signed in, and its lettering; anything else is not there."""
    build = own_build(request, build_id)
    return build, shelf.own(build, Lettering, lettering_id)


def info_of(lettering: Lettering, plan: LetteringPlan) -> FontInfo | None:
    """What is in the plan's face; None where it has none, or cannot be read."""
    try:
        font = face_of(plan, Sources(1.0, font_of(lettering)))
        return font_info(*font) if font else None
    except MosaicError:
        return None


def address(lettering: Lettering, report: Report, name: str = "lettering-glass") -> str:
    """The address of an image of a lettering as it is saved: its key, and the revision that it is made of."""
    return reverse(name, args=[lettering.build_id, lettering.pk, report.key]) + f"?revision={lettering.head_id}"


def report_at(request: HttpRequest, build: Build, lettering: Lettering, device: Device) -> Report:
    """The report of the revision that an image's address names, or of the saved plan."""
    revision = lettering.revisions.filter(pk=row_id(request.GET.get("revision"))).first()
    if revision is not None:
        lettering.stand_at(revision)
    return report_of(lettering, lettering.record, device, texts_of(build))


def all_context(build: Build, leaf: str, lettering: Lettering | None = None, overview: Overview | None = None) -> dict[str, Any]:
    """Frame and pages of the station, for every page of it."""
    overview = overview or overview_of(build)
    return {
        **frame_context(overview, "lettering"),
        "tabs": tabs_of(build, leaf, lettering),
        "letterings": overview.by_station["lettering"],
    }


def one_context(build: Build, lettering: Lettering, leaf: str, plan: LetteringPlan | None = None) -> dict[str, Any]:
    """What the pages of one lettering need; where its plan cannot be carried out, `report` is None and `problem` says why.

    With a `plan` that is not kept, everything is shown as it would be under it.
    """
    device = build.to_device()
    moving = {lettering.ref: lettering_item(lettering, figures(lettering, plan, device, texts_of(build)))} if plan else None
    overview = overview_of(build, device=device, unsaved=moving)
    width, height = device.size
    width_mm, height_mm = seen_size_mm(device.passport, device.turn)
    context = {
        **all_context(build, leaf, lettering, overview),
        "lettering": lettering,
        "endings": list(WRITERS),
        "can_undo": lettering.can_undo, "can_redo": lettering.can_redo,
        "here_findings": overview.findings_of(lettering.ref),
        "width": width, "height": height, "width_mm": width_mm, "height_mm": height_mm,
        "is_round": device.passport.glass.shape == "round",
    }  # fmt: skip
    try:
        report = report_of(lettering, plan or lettering.record, device, texts_of(build))
    except MosaicError as error:
        return {**context, "report": None, "problem": message_of(error)}
    return {**context, "report": report, "glass_url": address(lettering, report), **readings(report, device)}


def called(plan: LetteringPlan, code: int) -> tuple[str, str]:
    """(what stands for a character in a line of words, its name): of a picture, its cell's name."""
    cell = next((use.cell for use in plan.pictures if use.code == code), "")
    if cell:
        return (chr(code) if len(cell) == 1 else cell), f"picture “{cell}”"
    return chr(code), name_of(code)


def readings(report: Report, device: Device) -> dict[str, Any]:
    """Figures of a lettering on its panel."""
    glyphs, packed = report.glyphs, report.packed
    down = pitch_mm(device)[1]
    widths = widths_of(glyphs)
    by_size = sorted(zip(glyphs.glyphs, packed.sizes, strict=True), key=lambda one: -one[1])
    return {
        "glyphs": glyphs,
        "packed": packed,
        "capital_mm": glyphs.capital * down,
        "capital_arcmin": arc_minutes(glyphs.capital * down, device.viewing_distance_mm) if glyphs.capital else 0,
        "distance_m": device.viewing_distance_mm / 1000,
        "holds": capacity_of(widths, report.made.size.em_px, device, seen_mask(device.passport, device.turn)),
        "largest": [(g.code, called(report.plan, g.code)[0], size) for g, size in by_size[:LARGEST_SHOWN]],
        "is_pictures": report.plan.face == PICTURES_ONLY,
    }
