"""What the pages of strips, segmented figures and animations have in common."""

from typing import Any

from django.db.models import Count
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from mosaic.exports.result import identifier
from workshop.builds.pages import frame_context, own_build
from workshop.builds.services import overview_of
from workshop.pictures.leaves import leaves_of
from workshop.pictures.models import Piece


def list_page(request: HttpRequest, build_id: int, kind: str, leaf: str) -> HttpResponse:
    """The build's pieces of a kind, and where the next one begins."""
    build = own_build(request, build_id)
    context = {
        **frame_context(overview_of(build), "pictures"),
        "leaves": leaves_of(build, leaf),
        "pieces": build.pieces.filter(kind=kind).annotate(file_count=Count("sources")),
    }
    return render(request, f"pictures/{leaf}.html", context)


def go_to(request: HttpRequest, address: str) -> HttpResponse:
    """Lead the browser to a page, also from a part of one."""
    if not request.htmx:
        return redirect(address)
    response = HttpResponse(status=204)
    response["HX-Redirect"] = address
    return response


def refused(request: HttpRequest, template: str, context: dict[str, Any], problem: str) -> HttpResponse:
    """The page again with what was typed, and what is wrong with it."""
    return render(request, template, {**context, "problem": problem}, status=422)


def zipped(piece: Piece, data: bytes) -> HttpResponse:
    """A zip to take, named after its piece."""
    response = HttpResponse(data, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{identifier(piece.name)}.zip"'
    response["Cache-Control"] = "private, no-store"
    return response
