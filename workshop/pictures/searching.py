"""The search on large panels: it takes seconds, so it runs beside the page, and what it found is kept."""

import zlib
from dataclasses import replace

import numpy as np

from mosaic.conversion.pipeline import Fitted, Searched, search, wants_search
from mosaic.device.device import Device
from mosaic.forms import from_record
from mosaic.reduce.polish import Step, no_step
from mosaic.reduce.recipe import Recipe
from workshop.documents.keys import digest, panel_part
from workshop.pictures.documents import Picture
from workshop.pictures.models import FoundSearch

LARGE = 1_000_000
"""Pixels times colours from which on the search is not waited for."""
KEPT_A_PICTURE = 6


def runs_beside(recipe: Recipe, device: Device) -> bool:
    """Whether the recipe's search takes too long for a page to wait."""
    if not wants_search(recipe, device.passport):
        return False
    width, height = device.size
    return width * height * len(device.passport.palette) >= LARGE


def search_key(picture: Picture, recipe: Recipe, device: Device) -> str:
    """Key of what the search finds; pixels set by hand come after it."""
    plain = from_record(replace(recipe, pixel_edits=(), compression="none"))
    return digest("search", picture.original_id, plain, *panel_part(device), round(device.eye_sigma_px, 6))


def found(picture: Picture, recipe: Recipe, device: Device) -> Searched | None:
    """What was found before; None where nothing was."""
    row = FoundSearch.objects.filter(key=search_key(picture, recipe, device)).first()
    if row is None:
        return None
    pixels = np.frombuffer(zlib.decompress(bytes(row.pixels)), np.uint8).reshape(row.height, row.width)
    return Searched(pixels, row.unpolished_error)


def find(picture: Picture, fitted: Fitted, recipe: Recipe, device: Device, step: Step = no_step) -> Searched:
    """Search, and keep what is found; the oldest of a picture make room."""
    made = search(fitted, recipe, device.passport, device.turn, device.eye_sigma_px, step)
    height, width = made.pixels.shape
    values = {
        "picture": picture, "width": width, "height": height, "unpolished_error": made.unpolished_error,
        "pixels": zlib.compress(np.ascontiguousarray(made.pixels).tobytes(), 1),
    }  # fmt: skip
    FoundSearch.objects.update_or_create(key=search_key(picture, recipe, device), defaults=values)
    old = list(picture.searches.order_by("-created").values_list("key", flat=True)[KEPT_A_PICTURE:])
    FoundSearch.objects.filter(key__in=old).delete()
    return made
