"""From a picture's row and a recipe to everything a page shows of it.

Each stage is kept under a key made of all it depends on, so that moving a slider repeats only
what follows the slider.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import numpy.typing as npt
from django.urls import reverse

from mosaic.color.srgb import linear_to_bytes
from mosaic.conversion.pipeline import Converted, Fitted, Pixels, convert, fit_stage, make_pixels, wants_search
from mosaic.device.device import Device
from mosaic.exports.making import result_of
from mosaic.exports.rasters import encode_png, png_of_glass
from mosaic.exports.result import ExportResult
from mosaic.findings import Finding
from mosaic.findings.rules import picture_findings
from mosaic.findings.subjects import PictureSubject
from mosaic.forms import from_record
from mosaic.panels.geometry import Turn
from mosaic.pixels.compression import COMPRESSIONS
from mosaic.reduce.fit import fit_picture
from mosaic.reduce.recipe import Recipe
from workshop.documents.decoded import source_of
from workshop.documents.keys import digest, panel_part
from workshop.memory import ByteCache
from workshop.pictures.documents import Picture
from workshop.pictures.searching import find, found, runs_beside

MIB = 1024 * 1024
SHEET_PX = 1100
_fitted = ByteCache("fitted originals", 48 * MIB)
_results = ByteCache("pictures on the glass", 96 * MIB)

# Fields that decide which source pixels land where; tone and reduction come after.
FIT_FIELDS = (
    "crop_x", "crop_y", "crop_width", "crop_height", "turn", "flip", "fit", "anchor", "ground", "scaling", "zones", "mask",
)  # fmt: skip


@dataclass(frozen=True, eq=False)
class Report:
    """One picture under one recipe: its result, its findings and the key of its image.

    Of the original it holds what pages tell of it, not its pixels: `source_size` and whether it `has_alpha`; of the
    fitted original its histogram, and the tone that it would be given.
    """

    key: str
    recipe: Recipe
    source_size: tuple[int, int]
    has_alpha: bool
    histogram: npt.NDArray[np.float64]
    proposal: dict[str, Any]
    converted: Converted
    findings: tuple[Finding, ...]
    turn: Turn
    awaits_search: bool = False


def glass_key(sha256: str, recipe: Recipe, device: Device, *, before_search: bool = False) -> str:
    """Key of the picture on the glass; it has another one while its search has not run."""
    # The search goes by the eye, and so by how far away the panel is seen.
    eye = [round(device.eye_sigma_px, 6)] if recipe.polish else []
    return digest("before search" if before_search else "glass", sha256, from_record(recipe), *panel_part(device), *eye)


def report_key(sha256: str, recipe: Recipe, device: Device) -> str:
    """Key of the figures: those of the glass, and how far away it is seen."""
    return digest("report", glass_key(sha256, recipe, device), device.viewing_distance_mm)


def _fit_values(recipe: Recipe, device: Device) -> list[Any]:
    lies = [device.rotation, device.mirrored] if device.passport.zones else []
    return [*(getattr(recipe, name) for name in FIT_FIELDS), *lies, list(device.size)]


def fitted_of(sha256: str, name: str, recipe: Recipe, device: Device) -> Fitted:
    """The original at the panel's size; kept while only tone and reduction change."""
    key = digest("fitted", sha256, _fit_values(recipe, device))
    return _fitted.get_or_make(
        key,
        lambda: fit_stage(source_of(sha256, name), recipe, device.passport, device.turn),
        lambda fitted: fitted.linear.nbytes + (0 if fitted.coverage is None else fitted.coverage.nbytes),
    )


def first_pixels(picture: Picture, recipe: Recipe, device: Device) -> Pixels:
    """The pixels of a recipe before anything is measured of them; raises as `report_of`."""
    kept = _results.get(_report_cache_key(picture, recipe, device, later=False))
    if kept is None and not wants_search(recipe, device.passport):
        return make_pixels(
            fitted_of(picture.original_id, picture.file_name, recipe, device), recipe, device.passport, device.turn
        )
    report = kept or report_of(picture, recipe, device, wait=False)
    return Pixels(report.converted.toned, report.converted.pixels)


def _report_cache_key(picture: Picture, recipe: Recipe, device: Device, *, later: bool) -> str:
    return digest("later" if later else "report", report_key(picture.original_id, recipe, device))


def report_of(picture: Picture, recipe: Recipe, device: Device, *, wait: bool = True, made: Pixels | None = None) -> Report:
    """Everything of one picture under one recipe.

    Without `wait`, a search that takes long and has not run yet is left out, and the report says so. `made` are what
    `first_pixels` gave.

    Raises
    ------
    MosaicError
        The original cannot be read, or the recipe's crop lies outside it.
    """
    sha256 = picture.original_id
    beside = runs_beside(recipe, device)
    searched = found(picture, recipe, device) if beside else None
    later = beside and searched is None and not wait
    key = _report_cache_key(picture, recipe, device, later=later)

    def make() -> Report:
        source = source_of(sha256, picture.file_name)
        fitted = fitted_of(sha256, picture.file_name, recipe, device)
        before = searched or (find(picture, fitted, recipe, device) if beside and not later else None)
        converted = convert(
            fitted,
            recipe,
            device.passport,
            device.turn,
            device.eye_sigma_px,
            searched=before,
            search_later=later,
            made=None if before else made,
        )
        findings = picture_findings(PictureSubject(device, recipe, source, converted))
        shown = glass_key(sha256, recipe, device, before_search=later)
        size, has_alpha = (source.width, source.height), source.alpha is not None
        told = (shown, recipe, size, has_alpha, fitted.histogram, fitted.proposal)
        return Report(*told, converted, tuple(findings), device.turn, later)

    return _results.get_or_make(key, make, _size_of)


def _size_of(report: Report) -> int:
    """Bytes that a report keeps in memory."""
    converted = report.converted
    arrays = (converted.toned, converted.pixels, converted.coverage)
    sent = sum(part.byte_count for part in converted.parts)
    return sum(a.nbytes for a in arrays if a is not None) + len(converted.packed) + sent + 8192


def glass_png(report: Report, device: Device) -> bytes:
    """The core's array as PNG, one pixel each, in measured colours."""
    return png_of_glass(report.converted.pixels, device.passport, device.turn)


def original_png(picture: Picture, recipe: Recipe, device: Device, *, zoom: int = 2) -> bytes:
    """The original as it was cut and fitted, for comparison; finer than the panel, untoned."""
    source = source_of(picture.original_id, picture.file_name)
    fitted = fit_stage(source, replace(recipe, mask=False), device.passport, device.turn, zoom=zoom)
    return encode_png(linear_to_bytes(fitted.linear), level=1)


def glass_address(picture: Picture, glass_key: str) -> str:
    """The image of a picture as it is saved. A recipe with lasso and touch-up is too long for an address; its revision is not."""
    return reverse("glass", args=[picture.build_id, picture.pk, glass_key]) + f"?revision={picture.head_id}"


def source_png(picture: Picture) -> bytes:
    """The whole original on a sheet of at most SHEET_PX pixels a side, for cutting."""
    source = source_of(picture.original_id, picture.file_name)
    shrink = max(1, -(-max(source.width, source.height) // SHEET_PX))
    size = (-(-source.width // shrink), -(-source.height // shrink))
    linear, _ = fit_picture(source.rgb, source.alpha, Recipe(fit="stretch", scaling="area"), size)
    return encode_png(linear_to_bytes(linear), level=1)


def original_key(sha256: str, recipe: Recipe, device: Device) -> str:
    return digest("original", sha256, _fit_values(recipe, device))


def export_result(picture: Picture, recipe: Recipe, device: Device, report: Report) -> ExportResult:
    """What exporters are handed.

    Raises
    ------
    NotProvenError
        The array in the program's own form does not hold what was verified.
    """
    return result_of(picture.name, report.converted, recipe, device.turn, replace(device.sending, tables=device.board.tables))


def derived_of(picture: Picture, device: Device) -> dict[str, Any]:
    """Figures and findings of a picture as it is saved, from its row where they still hold."""
    recipe = picture.record
    key = report_key(picture.original_id, recipe, device)
    if picture.derived_key != key:
        report = report_of(picture, recipe, device, wait=False)
        if report.awaits_search:
            picture.derived = derived_figures(report)
            return picture.derived
        picture.derived_key, picture.derived = key, derived_figures(report)
        Picture.objects.filter(pk=picture.pk).update(derived_key=key, derived=picture.derived)
    return picture.derived


def stored_bytes(report: Report) -> int:
    """What the picture takes in a program: its bytes as they are kept, its mask, and the decoder's code (typical)."""
    way = COMPRESSIONS[report.recipe.compression]
    converted = report.converted
    mask = 0 if converted.coverage is None else converted.coverage.shape[0] * -(-converted.coverage.shape[1] // 8)
    return len(way.compress(converted.packed)) + mask + way.code_bytes


def derived_figures(report: Report) -> dict[str, Any]:
    converted = report.converted
    return {
        "bytes": stored_bytes(report),
        "light_share": round(converted.light_share, 6),
        "perceived_error": round(converted.perceived_error, 3),
        "verified": converted.proof.verified,
        "glass_key": report.key,
        "findings": [from_record(finding) for finding in report.findings],
    }
