"""What all pages of station 2 have in common: the frame, and the row of its pages."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest
from django.urls import reverse

from mosaic.cards.measuring import has_patches, has_touch
from mosaic.numbers import whole
from mosaic.panels.geometry import seen_size_mm
from mosaic.panels.passport import Passport
from workshop.builds.models import Build
from workshop.stations.frame import frame_context
from workshop.stations.overview import Overview, overview_of
from workshop.stations.station import Tab


def always(passport: Passport) -> bool:
    return True


PAGES: tuple[tuple[str, str, Callable[[Passport], bool]], ...] = (
    ("stages", "Stages", always), ("virtual", "Virtual panel", always), ("cards", "Test cards", always),
    ("faults", "Fault finder", always), ("drills", "Drills", always), ("replay", "Captures", always),
    ("arrays", "Arrays", always), ("setups", "Set-ups", always), ("feed", "Live feed", always),
    ("colors", "True colours", has_patches), ("touch", "Touch", has_touch),
)  # fmt: skip
"""The pages of the station in the order of the work, and the panels for which each is."""


def station_context(build: Build, here: str, overview: Overview | None = None) -> dict[str, Any]:
    """Frame, pages of the station, the findings that stand here, and the size of the mat."""
    overview = overview or overview_of(build)
    device = overview.device
    width, height = device.size
    width_mm, height_mm = seen_size_mm(device.passport, device.turn)
    return {
        **frame_context(overview, "bring-up"),
        "tabs": [
            Tab(name, reverse(f"bringup-{slug}", args=[build.pk]), slug == here)
            for slug, name, fits in PAGES
            if fits(device.passport)
        ],
        "findings": overview.findings_on("bringup-stages"),
        "width": width, "height": height, "width_mm": width_mm, "height_mm": height_mm,
        "is_round": device.passport.glass.shape == "round",
    }  # fmt: skip


@dataclass(frozen=True)
class TileSize:
    """How wide a panel's picture is laid in a row: by a whole number of times its pixels, unless it is too wide for that."""

    px: int
    is_shrunk: bool = False


TILE_PX = 320
MOST_TYPED = 999_999


def tile_size(width: int) -> TileSize:
    """Of a picture `width` pixels wide.

    >>> tile_size(128).px, tile_size(296).px, tile_size(800)
    (256, 296, TileSize(px=296, is_shrunk=True))
    """
    return TileSize(width * (TILE_PX // width)) if width <= TILE_PX else TileSize(296, True)


def whole_zoom(size: tuple[int, int], room_px: int) -> tuple[int, int] | None:
    """A picture's size at the largest whole zoom that fits a room so wide; None where it does not fit at all."""
    zoom = room_px // size[0]
    return (size[0] * zoom, size[1] * zoom) if zoom else None


def whole_number(request: HttpRequest, name: str) -> int | None:
    """A whole number of the address or the form; None where it is empty or none."""
    text = (request.POST if request.method == "POST" else request.GET).get(name)
    return whole(text, -MOST_TYPED, MOST_TYPED)
