"""What the Pictures station shows, put together once for the page and for its live parts."""

import base64
import json
from typing import Any

import numpy as np
from django.urls import reverse

from mosaic.conversion.pipeline import Pixels
from mosaic.device.budget import send_s
from mosaic.device.device import Device
from mosaic.exports.registry import EXPORTERS
from mosaic.findings import Fix
from mosaic.findings.pictures import washed_out_answers
from mosaic.forms import from_record
from mosaic.json_text import read_json
from mosaic.panels.geometry import seen_size_mm, seen_zones
from mosaic.panels.passport import Passport
from mosaic.pixels.compression import compressed_sizes
from mosaic.reduce.fit import LEAST_CROP_PX
from mosaic.reduce.methods import METHODS
from mosaic.reduce.pattern import TILES
from mosaic.reduce.recipe import Recipe, recipe_from_plain
from mosaic.reduce.tone import histogram, mid_place
from workshop.builds.models import Build
from workshop.pictures.documents import Picture
from workshop.pictures.forms import method_choices
from workshop.pictures.items import picture_item
from workshop.pictures.reports import FIT_FIELDS, Report, derived_figures, glass_address, original_key, report_of
from workshop.pictures.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

MIX_TILES = 16


def encode_recipe(recipe: Recipe) -> str:
    """The fields of the fit that differ from the defaults, short enough for an address."""
    changed = {k: v for k, v in from_record(recipe).items() if k in FIT_FIELDS and v != getattr(Recipe(), k)}
    return base64.urlsafe_b64encode(json.dumps(changed, sort_keys=True).encode()).decode().rstrip("=")


def decode_recipe(text: str) -> Recipe:
    """The recipe of an address.

    Raises
    ------
    BadDescriptionError
        It is no recipe.
    """
    try:
        value = read_json(base64.urlsafe_b64decode(text + "=" * (-len(text) % 4)), "the recipe")
    except ValueError:
        value = None
    return recipe_from_plain(value)


def original_address(picture: Picture, recipe: Recipe, device: Any) -> str:
    key = original_key(picture.original_id, recipe, device)
    return reverse("original-fitted", args=[picture.build_id, picture.pk, key]) + f"?recipe={encode_recipe(recipe)}"


def point_fields(recipe: Recipe) -> dict[str, Any]:
    """The recipe's controls that depend on each other, by name."""
    place = mid_place(recipe.black_point, recipe.white_point, recipe.mid_tone)
    names = ("black_point", "white_point", "mid_tone")
    return {**{name: getattr(recipe, name) for name in names}, "mid_place": place}


def station_context(
    build: Build,
    picture: Picture,
    recipe: Recipe,
    *,
    passing: bool = False,
    device: Device | None = None,
    made: Pixels | None = None,
) -> dict[str, Any]:
    """Everything the station's page and its live parts need for this recipe; less while a hand is still moving (`passing`).

    `device` is the build's and `made` are the recipe's pixels, if the caller has them already.
    """
    device = device or build.to_device()
    report = report_of(picture, recipe, device, wait=False, made=made)
    moving = picture_item(picture, derived_figures(report))
    overview = overview_of(build, device=device, unsaved={picture.ref: moving})
    width, height = device.size
    width_mm, height_mm = seen_size_mm(device.passport, device.turn)
    return {
        **frame_context(overview, "pictures"),
        "picture": picture,
        "recipe": recipe,
        "report": report,
        "converted": report.converted,
        "proof": report.converted.proof,
        "glass_url": glass_address(picture, report.key),
        "tabs": tabs_of(build, "picture", picture),
        "original_url": original_address(picture, recipe, device),
        "width": width,
        "height": height,
        "width_mm": width_mm,
        "height_mm": height_mm,
        "is_round": device.passport.glass.shape == "round",
        "corner_percent": _corner_percent(device.passport.glass.corner_mm, width_mm, height_mm),
        "here_findings": moving.findings,
        "pictures": overview.offered("pixels"),
        "washed_out": _washed_out(recipe, device),
        **overview.elsewhere,
        "elsewhere": len(overview.findings) - len(moving.findings),
        "send_ms": float(send_s(device, report.converted.parts) * 1000),
        "refresh": device.passport.refresh[0] if device.passport.refresh else None,
        "mix": _mix(report),
        "mix_tiles": _mix_tiles(report),
        "marked_word": "inked" if device.passport.technology == "epaper" else "lit",
        "exporters": [(e, e.problem(device.passport)) for e in EXPORTERS.values()],
        "least_crop": LEAST_CROP_PX,
        "mid_place": point_fields(recipe)["mid_place"],
        "can_undo": picture.can_undo,
        "can_redo": picture.can_redo,
        "shows_saturation": device.passport.palette is None or not device.passport.palette.is_tone,
        "shows_blend": device.passport.palette is not None and not device.passport.palette.is_tone,
        **histograms(report),
        **({} if passing else settled_context(report, build, device)),
    }


def _washed_out(recipe: Recipe, device: Device) -> list[Fix]:
    """What a maker may try whose picture looks washed out on this panel."""
    palette = device.passport.palette
    if palette is not None and palette.is_tone:
        return []
    answers = washed_out_answers(recipe, palette is not None)
    return [fix for fix in answers.values() if any(getattr(recipe, name) != value for name, value in fix.changes.items())]


def settled_context(report: Report, build: Build, device: Device) -> dict[str, Any]:
    """What is shown of a recipe once it is kept."""
    return {**_proposal(report), **reduce_context(report, device.passport), "sizes": _sizes(report, build, device)}


def _used_by() -> dict[str, str]:
    """For each recipe field that only some methods use: their names."""
    names: dict[str, list[str]] = {}
    for method in METHODS.values():
        for parameter in method.parameters:
            names.setdefault(parameter, []).append(method.name)
    return {parameter: " ".join(methods) for parameter, methods in names.items()}


def histograms(report: Report) -> dict[str, Any]:
    """Histograms before and after toning, as paths of a drawing 64 wide and 1 high."""
    before, after = report.histogram, histogram(report.converted.toned)
    # The tallest bars are cut: a plain ground must not flatten everything else.
    top = max(float(np.sort(before)[-4]), 1e-6)
    return {"histogram_before": _steps(before, top), "histogram_after": _steps(after, top)}


def _proposal(report: Report) -> dict[str, Any]:
    """What tone is proposed, if it is not what the recipe says already."""
    proposal = report.proposal
    taken = all(getattr(report.recipe, name) == value for name, value in proposal.items())
    return {"proposal": None if taken else proposal, "proposal_json": json.dumps(proposal)}


def _steps(shares: Any, top: float) -> str:
    heights = [min(float(share) / top, 1.0) for share in shares]
    return "M0 1" + "".join(f"V{1 - h:.3f}h1" for h in heights) + "V1z"


def reduce_context(report: Report, passport: Passport) -> dict[str, Any]:
    """What the reduction's controls need: which methods use what, the colours to touch up with, regions."""
    palette = passport.palette
    width, height = report.converted.pixels.shape[1], report.converted.pixels.shape[0]
    return {
        "used_by": _used_by(),
        "swatches": list(zip(palette.names, palette.measured, strict=True)) if palette else [],
        "has_alpha": report.has_alpha,
        "regions": [(number, region, region.box) for number, region in enumerate(report.recipe.regions)],
        "touched": sum(run[2] for run in report.recipe.pixel_edits),
        "zone_lines": zone_lines(passport, report.turn) if passport.zones else [],
        "method_choices": method_choices(),
        "patterns": list(TILES),
        "overlay": f"0 0 {width} {height}",
    }


def zone_lines(passport: Passport, turn: Any) -> list[tuple[int, int, int, int]]:
    """Where glass of several zones changes its colour: lines (x1, y1, x2, y2) between the bands before the reader."""
    lines = []
    for x, y, wide, high in seen_zones(passport, turn):
        if y:
            lines.append((x, y, x + wide, y))
        if x:
            lines.append((x, y, x, y + high))
    return lines


def _sizes(report: Report, build: Build, device: Device) -> dict[str, Any]:
    """Every way of keeping the bytes, and the room there is for them."""
    packed = report.converted.packed
    files = device.setup_card.size_of("files") if device.setup_card else 0
    return {
        "ways": compressed_sizes(packed),
        "program_room": max(0, device.board.flash_bytes - device.board.program_bytes),
        "files_room": files,
    }


def _corner_percent(corner_mm: float, width_mm: float, height_mm: float) -> tuple[float, float]:
    """Radius of rounded glass's corners in per cent of its sides; 0 for square ones."""
    return round(corner_mm / width_mm * 100, 3), round(corner_mm / height_mm * 100, 3)


def _mix(report: Report) -> list[tuple[str, float]]:
    palette = report.converted.passport.palette
    return list(zip(palette.names, report.converted.shares, strict=True)) if palette else []


def _mix_tiles(report: Report) -> list[str]:
    """Sixteen tiles in the palette's measured colours, shared out by largest remainder."""
    palette = report.converted.passport.palette
    if palette is None:
        return []
    exact = [share * MIX_TILES for share in report.converted.shares]
    counts = [int(v) for v in exact]
    by_rest = sorted(range(len(exact)), key=lambda i: counts[i] - exact[i])
    for i in by_rest[: MIX_TILES - sum(counts)]:
        counts[i] += 1
    return [color for color, count in zip(palette.measured, counts, strict=True) for _ in range(count)]
