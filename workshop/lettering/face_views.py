"""Faces: those that come along, fonts of one's own, and pictures of station 3 as letters."""

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import BadValueError
from mosaic.exports.result import file_title
from mosaic.lettering.beginning import first_plan
from mosaic.lettering.coverage import preset_coverage
from mosaic.lettering.faces import FACES, Face
from mosaic.lettering.making import ALL
from mosaic.lettering.plan import OWN_FILE
from mosaic.lettering.source import MOST_BYTES, FontInfo, font_info
from workshop.answers import check_key, go_to, image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import shelf
from workshop.lettering import services
from workshop.lettering.cells import plan_of_pictures
from workshop.lettering.documents import keep_font, read_font
from workshop.lettering.pages import all_context
from workshop.lettering.specimens import specimen_key, specimen_png

COVERAGE_SHOWN = ("western European", "Greek and digits", "Cyrillic and digits")


def faces(request: HttpRequest, build_id: int) -> HttpResponse:
    """Every face that comes along, on this panel's colours."""
    build = own_build(request, build_id)
    return render(request, "lettering/faces.html", _context(build))


def _context(build: Build) -> dict[str, Any]:
    context = all_context(build, "faces")
    device = context["device"]
    rows = [(face, *_told(face), specimen_key(face.slug, device)) for face in FACES.values()]
    return {**context, "font_mib": MOST_BYTES // 2**20, "rows": rows, "cells": context["overview"].offered("cells")}


def _told(face: Face) -> tuple[FontInfo, list[tuple[str, int, int]]]:
    info = font_info(face.data, face.name)
    return info, [line for line in preset_coverage(info.codes) if line[0] in COVERAGE_SHOWN]


@require_POST
def start(request: HttpRequest, build_id: int) -> HttpResponse:
    """A new lettering of a face that comes along."""
    build = own_build(request, build_id)
    slug = request.POST.get("face", "")
    face = FACES[slug]
    info = font_info(face.data, face.name)
    preset = "numbers" if slug == "segments" else "basic"
    plan = first_plan(build.to_device(), info, face=slug, preset=preset)
    if slug == "segments":
        plan = plan.with_changes(left_out="+,%/")
    return _opened(request, build, services.add_lettering(build=build, name=face.name, plan=plan))


@require_POST
def bring(request: HttpRequest, build_id: int) -> HttpResponse:
    """A new lettering of a font of one's own."""
    build = own_build(request, build_id)
    upload = request.FILES.get("font")
    if upload is None:
        raise BadValueError("no file came with this; choose a font file")
    data = read_font(upload)
    original = keep_font(data=data, file_name=upload.name, owner=request.user)
    info = font_info(bytes(original.data), upload.name)
    basic = set(range(0x20, 0x7F)) & info.codes
    # A pixel font of few characters, such as digits alone, is taken whole; so is one that has none of the usual.
    preset = ALL if (info.native_px and len(info.codes) <= 400) or (len(basic) < 60 and len(info.codes) <= 4096) else "basic"
    plan = first_plan(build.to_device(), info, face=OWN_FILE, preset=preset)
    row = services.add_lettering(build=build, name=file_title(upload.name), plan=plan, original=original, file_name=upload.name)
    return _opened(request, build, row)


@require_POST
def of_cells(request: HttpRequest, build_id: int) -> HttpResponse:
    """A new lettering of a strip's or a figure's pictures."""
    build = own_build(request, build_id)
    source = shelf.named(build, request.POST.get("source", ""))
    if source is None:
        raise Http404("no such strip or figure")
    plan = plan_of_pictures(build, build.to_device(), source.ref, source.name)
    return _opened(request, build, services.add_lettering(build=build, name=source.name, plan=plan))


def _opened(request: HttpRequest, build: Build, row: Any) -> HttpResponse:
    return go_to(request, reverse("lettering", args=[build.pk, row.pk]))


def specimen(request: HttpRequest, build_id: int, slug: str, key: str) -> HttpResponse:
    """A face on this panel's colours."""
    build = own_build(request, build_id)
    if slug not in FACES:
        raise Http404("no such face")
    device = build.to_device()
    check_key(key, specimen_key(slug, device))
    return image(specimen_png(slug, device))


def licence(request: HttpRequest, build_id: int, slug: str) -> HttpResponse:
    """A face's licence in full."""
    own_build(request, build_id)
    if slug not in FACES or not FACES[slug].licence_text:
        raise Http404("no such licence")
    return HttpResponse(FACES[slug].licence_text, content_type="text/plain; charset=utf-8")
