"""True colours: a photo of the patch card, its corners and a white sheet clicked, and the palette that follows."""

import re
from typing import Any

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.cards.measuring import has_patches
from mosaic.color.lab import linear_to_lab
from mosaic.color.patches import LEAST_WHITES, PAPER_REFLECTANCE, Measured, measure
from mosaic.color.srgb import bytes_to_linear, parse_hex
from mosaic.device.notes import PatchPhoto
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.imports.pictures import SourcePicture
from mosaic.numbers import decimal
from workshop.answers import check_key, image
from workshop.bringup import services
from workshop.bringup.documents import PatchPhotoDocument
from workshop.bringup.pages import station_context
from workshop.bringup.subjects import card_key
from workshop.builds.models import Build
from workshop.builds.pages import own_build, revision_of
from workshop.builds.services import base_of_single
from workshop.documents import shelf
from workshop.documents.decoded import source_of
from workshop.documents.models import SourceFile
from workshop.documents.originals import keep_picture, read_upload
from workshop.documents.pages import base_of
from workshop.documents.services import add, save
from workshop.errors import ConflictError, message_of

SHEET_PX = 1000
CORNERS = 4
"""Corners of the card."""
MOST_WHITES = 12
Points = tuple[tuple[float, float], ...]
_POINT = re.compile(r"(corner|paper)\s+(-?\d+(?:\.\d+)?)[,;\s]+(-?\d+(?:\.\d+)?)", re.IGNORECASE)


def _photo(build: Build) -> SourcePicture | None:
    row = shelf.single(build, PatchPhotoDocument)
    return source_of(row.original_id, "photo") if row and row.original_id else None


def _kept(build: Build) -> PatchPhoto:
    row = shelf.single(build, PatchPhotoDocument)
    return row.record if row else PatchPhoto()


def _keep(build: Build, base: int, photo: PatchPhoto, sources: list[SourceFile] | None = None) -> None:
    row = shelf.single(build, PatchPhotoDocument)
    if row is not None:
        save(row, base=base, record=photo, sources=sources)
    elif base:
        raise ConflictError("the photo was deleted in another tab or window since this page was loaded", 0)
    else:
        add(PatchPhotoDocument, build=build, name="Photo of the patch card", record=photo, sources=sources or [])


def colors(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page: a photo or a place for one, its points, and the colours they give."""
    build = own_build(request, build_id)
    return render(request, "bringup/colors.html", _context(build))


def _context(build: Build, problem: str = "", typed: str | None = None) -> dict[str, Any]:
    base = station_context(build, "colors")
    device = base["device"]
    if not has_patches(device.passport):
        raise Http404("this panel has no palette to be measured")
    kept, photo = _kept(build), _photo(build)
    context: dict[str, Any] = {
        **base,
        "photo": photo,
        "kept": kept,
        "points_text": _written(kept) if typed is None else typed,
        "card_url": reverse("bringup-card-png", args=[build.pk, "patches", card_key(device, "patches")]),
        "reflectance": kept.reflectance or PAPER_REFLECTANCE,
        "base": base_of_single(build, PatchPhotoDocument),
        "document": shelf.single(build, PatchPhotoDocument),
        "point_problem": problem,
        "rows": [],
        "counts": {"corners": CORNERS, "whites": LEAST_WHITES, "most_whites": MOST_WHITES},
    }
    if photo is not None:
        shrink = max(1, -(-max(photo.width, photo.height) // SHEET_PX))
        context |= {
            "photo_url": reverse("bringup-photo", args=[build.pk, shelf.single(build, PatchPhotoDocument).original_id[:24]]),
            "photo_size": (-(-photo.width // shrink), -(-photo.height // shrink)), "shrink": shrink,
        }  # fmt: skip
        if kept.corners and not problem:
            try:
                measured = _measured(photo, kept, len(device.passport.palette))
                context["rows"] = _rows(measured, device.passport.palette)
            except MosaicError as error:
                context["point_problem"] = message_of(error)
    return context


def _written(kept: PatchPhoto) -> str:
    """Points as they are typed: one a line."""
    named = [("corner", kept.corners), ("paper", kept.whites)]
    return "\n".join(f"{name} {x:g}, {y:g}" for name, points in named for x, y in points)


def _points(text: str) -> tuple[Points, Points]:
    """(corners, points on the paper) of lines "corner x, y" and "paper x, y".

    Raises
    ------
    BadValueError
        A line is none of these; the words say which.
    """
    found: dict[str, list[tuple[float, float]]] = {"corner": [], "paper": []}
    for number, line in enumerate(text.splitlines(), 1):
        match = _POINT.fullmatch(line.strip())
        if match:
            found[match[1].lower()].append((float(match[2]), float(match[3])))
        elif line.strip():
            raise BadValueError(f"line {number}: {line.strip()[:40]!r} is no point; write “corner 120, 64” or “paper 20, 300”")
    return tuple(found["corner"]), tuple(found["paper"][:MOST_WHITES])


def _share(text: str) -> float:
    """How much the paper reflects, 0 to 1, of per cent as typed."""
    share = decimal(text.strip().removesuffix("%"), 0, 100)
    if not share:
        raise BadValueError(
            f"the paper reflects {text.strip()[:20] or 'nothing'!r}; 80 to 95 % are usual, and up to 100 are accepted"
        )
    return share / 100


def _measured(photo: SourcePicture, kept: PatchPhoto, count: int) -> tuple[Measured, ...]:
    return measure(photo.rgb, count, kept.corners, kept.whites, kept.reflectance or PAPER_REFLECTANCE)


def _lab(text: str):

    return linear_to_lab(bytes_to_linear(np.array([[parse_hex(text)]], np.uint8)))[0, 0]


def _rows(measured: tuple[Measured, ...], palette) -> list[dict[str, Any]]:
    """Each colour with what the passport has now, and how far the two are apart in CIELAB."""
    return [
        {
            "name": palette.names[m.index], "now": palette.measured[m.index], "measured": m.hex, "apart": m.apart,
            "clipped": m.clipped, "shift": float(((_lab(m.hex) - _lab(palette.measured[m.index])) ** 2).sum() ** 0.5),
        }
        for m in measured
    ]  # fmt: skip


@require_POST
def bring_photo(request: HttpRequest, build_id: int) -> HttpResponse:
    """A photo of the card; its points are clicked next."""
    build = own_build(request, build_id)
    upload = request.FILES.get("photo")
    if upload is None:
        raise BadValueError("no file came with this; choose a photo of the patch card with a white sheet beside it")
    original = keep_picture(data=read_upload(upload), file_name=upload.name, owner=request.user)
    _keep(build, base_of(request), PatchPhoto(), [(original, upload.name)])
    return redirect("bringup-colors", build.pk)


@require_POST
def keep_points(request: HttpRequest, build_id: int) -> HttpResponse:
    """Corners and white points, in pixels of the photo."""
    build = own_build(request, build_id)
    photo = _photo(build)
    if photo is None:
        raise BadValueError("bring a photo first")
    text = request.POST.get("points", "")[:4000]
    try:
        corners, whites = _points(text)
        kept = PatchPhoto(corners, whites, _share(request.POST.get("reflectance", "")))
        reflectance = kept.reflectance or 0.0
        if len(corners) != CORNERS:
            raise BadValueError(f"{len(corners)} corners are set; the card has four")
        if not 0.5 <= reflectance <= 1:
            raise BadValueError(f"a sheet that reflects {reflectance:.0%} is no white reference; paper has 80 to 95 %")
        count = len(build.to_device().passport.palette)  # type: ignore[arg-type]
        _measured(photo, kept, count)
    except MosaicError as error:
        return render(request, "bringup/colors.html", _context(build, message_of(error), text), status=422)
    _keep(build, base_of(request), kept)
    return redirect(reverse("bringup-colors", args=[build.pk]) + "#measured")


@require_POST
def take(request: HttpRequest, build_id: int) -> HttpResponse:
    """The measured colours go into the passport."""
    build = own_build(request, build_id)
    photo, kept = _photo(build), _kept(build)
    if photo is None or not kept.corners:
        raise BadValueError("nothing was measured yet")
    palette = build.to_device().passport.palette
    if palette is None:
        raise BadValueError("this panel has no palette")
    measured = _measured(photo, kept, len(palette))
    services.take_colors(build=build, measured=measured, revision=revision_of(request))
    messages.success(request, "The measured colours are in the passport; every picture was reduced anew.")
    return redirect("bringup-colors", build.pk)


def photo(request: HttpRequest, build_id: int, key: str) -> HttpResponse:
    """The photo, small enough for a page."""
    build = own_build(request, build_id)
    source = _photo(build)
    if source is None:
        raise Http404("no photo")
    check_key(key, shelf.single(build, PatchPhotoDocument).original_id[:24])
    shrink = max(1, -(-max(source.width, source.height) // SHEET_PX))
    return image(encode_png(source.rgb[::shrink, ::shrink]))
