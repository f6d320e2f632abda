"""What the Pictures station shows, put together once for the page and for its live parts."""

import base64
import json
from typing import Any

from django.urls import reverse

from mosaic.device.budget import send_s
from mosaic.exports.registry import EXPORTERS
from mosaic.forms import from_record
from mosaic.panels.geometry import seen_size_mm
from mosaic.reduce.recipe import Recipe, recipe_from_plain
from workshop.builds.models import Build, Picture
from workshop.builds.pages import frame_context
from workshop.builds.services import overview_of
from workshop.pictures import services
from workshop.pictures.reports import Report, original_key, report_of

MIX_TILES = 16


def encode_recipe(recipe: Recipe) -> str:
    """The fields that differ from the defaults, short enough for an address."""
    changed = {k: v for k, v in from_record(recipe).items() if v != getattr(Recipe(), k)}
    return base64.urlsafe_b64encode(json.dumps(changed, sort_keys=True).encode()).decode().rstrip("=")


def decode_recipe(text: str) -> Recipe:
    """The recipe of an address.

    Raises
    ------
    BadDescriptionError
        It is no recipe.
    """
    try:
        value = json.loads(base64.urlsafe_b64decode(text + "=" * (-len(text) % 4)))
    except ValueError:
        value = None
    return recipe_from_plain(value)


def glass_address(picture: Picture, report_key: str, recipe: Recipe) -> str:
    return reverse("glass", args=[picture.build_id, picture.pk, report_key]) + f"?recipe={encode_recipe(recipe)}"


def original_address(picture: Picture, recipe: Recipe, device: Any) -> str:
    key = original_key(picture.original_id, recipe, device)
    return reverse("original-fitted", args=[picture.build_id, picture.pk, key]) + f"?recipe={encode_recipe(recipe)}"


def station_context(build: Build, picture: Picture, recipe: Recipe) -> dict[str, Any]:
    """Everything the station's page and its live parts need for this recipe."""
    device = build.to_device()
    report = report_of(picture, recipe, device)
    live = {picture.pk: live_figures(report)}
    overview = overview_of(build, live=live)
    width, height = device.size
    width_mm, height_mm = seen_size_mm(device.passport, device.turn)
    return {
        **frame_context(overview, "pictures"),
        "picture": picture,
        "recipe": recipe,
        "report": report,
        "converted": report.converted,
        "proof": report.converted.proof,
        "glass_url": glass_address(picture, report.key, recipe),
        "original_url": original_address(picture, recipe, device),
        "width": width,
        "height": height,
        "width_mm": width_mm,
        "height_mm": height_mm,
        "is_round": device.passport.glass.shape == "round",
        "corner_percent": _corner_percent(device.passport.glass.corner_mm, width_mm, height_mm),
        "here_findings": live[picture.pk]["findings"],
        "elsewhere": len(overview.all_findings) - len(live[picture.pk]["findings"]),
        "send_ms": float(send_s(device, report.converted.parts) * 1000),
        "refresh": device.passport.refresh[0] if device.passport.refresh else None,
        "mix": _mix(report),
        "mix_tiles": _mix_tiles(report),
        "marked_word": "inked" if device.passport.technology == "epaper" else "lit",
        "exporters": [(e, e.problem(device.passport)) for e in EXPORTERS.values()],
        "can_undo": services.can_undo(picture),
        "can_redo": services.can_redo(picture),
        "shows_saturation": device.passport.palette is None or not device.passport.palette.is_tone,
        "shows_blend": device.passport.palette is not None and not device.passport.palette.is_tone,
    }


def _corner_percent(corner_mm: float, width_mm: float, height_mm: float) -> tuple[float, float]:
    """Radius of rounded glass's corners in per cent of its sides; 0 for square ones."""
    return round(corner_mm / width_mm * 100, 3), round(corner_mm / height_mm * 100, 3)


def live_figures(report: Report) -> dict[str, Any]:
    """What the budgets and stones need of a picture that is being changed."""
    return {
        "bytes": len(report.converted.packed),
        "light_share": report.converted.light_share,
        "findings": [from_record(f) for f in report.findings],
    }


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
