"""Drawing calls of a program, pasted: what each name means is asked once, and a screen with the same pixels comes of it."""

from dataclasses import replace
from typing import Any

import numpy as np
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.color.srgb import parse_hex
from mosaic.errors import BadValueError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.forms import from_record, to_record
from mosaic.panels.passport import Passport
from mosaic.screens.colors import color_value, shown_hex
from mosaic.screens.from_calls import ASKED_Y, FILLABLE, ORDERS, FromCode, Meaning, guessed, screen_from
from mosaic.screens.kit import Kit
from mosaic.screens.plan import planned
from mosaic.screens.rendering import Rendered, drawn_in
from mosaic.screens.screen import Screen
from mosaic.screens.source_calls import LONGEST, SourceCalls, read_calls
from mosaic.values.states import State
from workshop.answers import go_to, inline_png
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.screens.documents import ScreenDocument
from workshop.screens.reports import glass_png, kit_of
from workshop.screens.tabs import tabs_of
from workshop.stations.exchange import bring_cells
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

SHOWN = 60
KINDS = [
    ("line", "a line"), ("rectangle", "a rectangle"), ("rounded", "a rectangle with round corners"), ("circle", "a circle"),
    ("ellipse", "an ellipse"), ("polygon", "a triangle or polygon"), ("pixel", "a pixel"), ("text", "a text"),
    ("picture", "a picture of an array"), ("pen", "moving the pen"), ("line to", "a line from the pen"),
    ("colour", "choosing a colour"), ("clear", "clearing the glass"), ("nothing", "nothing that is drawn"),
]  # fmt: skip


def _meanings(found: SourceCalls, values: Any) -> dict[str, Meaning]:
    """What each name means: as it was answered, or as it seems."""
    meanings = {}
    for number, name in enumerate(found.names):
        guess = guessed(name, [call for call in found.calls if call.name == name])
        kind = values.get(f"kind-{number}", "")
        # Answers belong to the name that they were given for: a text that was changed meanwhile has others.
        if values.get(f"name-{number}") != name or kind not in ORDERS:
            meanings[name] = guess
            continue
        order = values.get(f"order-{number}", "")
        meanings[name] = Meaning(
            kind, order if order in ORDERS[kind] else (guess.order if guess.kind == kind else ""),
            values.get(f"filled-{number}", "1" if guess.filled else "") == "1", values.get(f"y-{number}", "base"),
        )  # fmt: skip
    return meanings


def _preview(build: Build, made: FromCode) -> tuple[Rendered | None, str]:
    device = build.to_device()
    try:
        kit = kit_of(build, device, made.screen)
        made.screen = _lettered(made.screen, kit)
        plan = planned(made.screen, device, kit)
        return drawn_in(plan, State()), ""
    except MosaicError as error:
        return None, str(error)


def read(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page: the text, what its names mean, what comes of it."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    source = request.POST.get("source", "")
    context: dict[str, Any] = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "read-code"), "source": source, "longest": LONGEST,
        "kinds": KINDS, "width": overview.device.size[0], "height": overview.device.size[1],
    }  # fmt: skip
    if source.strip():
        found = read_calls(source)
        meanings = _meanings(found, request.POST)
        made = screen_from(found, meanings, overview.device.passport)
        rendered, problem = _preview(build, made)
        rows = []
        for number, (name, meaning) in enumerate(meanings.items()):
            calls = [call for call in found.calls if call.name == name]
            example = f"{name}({', '.join(argument.written for argument in calls[0].arguments)})"
            rows.append({
                "number": number, "name": name, "count": len(calls), "example": example[:90], "meaning": meaning,
                "orders": list(ORDERS[meaning.kind]), "order": meaning.order or next(iter(ORDERS[meaning.kind])),
                "fillable": meaning.kind in FILLABLE, "is_text": meaning.kind == "text",
            })  # fmt: skip
        context |= {
            "rows": rows, "made": made, "unread": made.unread[:SHOWN], "unread_count": len(made.unread), "problem": problem,
            "glass": inline_png(glass_png(rendered)) if rendered else "", "calls": len(found.calls), "ways": ASKED_Y,
        }  # fmt: skip
    return render(request, "screens/read_code.html", context)


def _bitmap(data: bytes, width: int, height: int, passport: Passport) -> bytes:
    """PNG of one bit a pixel, rows of whole bytes, the leftmost in the high bit: 1 in the panel's ink, 0 in its ground."""
    rows = np.frombuffer(data, np.uint8)[: -(-width // 8) * height].reshape(height, -1)
    shades = [parse_hex(shown_hex(color_value(name, passport), passport)) for name in ("ground", "ink")]
    return encode_png(np.array(shades, np.uint8)[np.unpackbits(rows, axis=1)[:, :width]])


def _lettered(screen: Screen, kit: Kit) -> Screen:
    """Every text in the first lettering that has all of its letters."""

    def fitting(text: str) -> str:
        codes = {ord(c) for c in text if not c.isspace()}
        return next((ref for ref, font in kit.letterings.items() if codes <= set(font.lettering.by_code)), "")

    return replace(
        screen, elements=tuple(replace(e, lettering=fitting(e.text)) if e.kind == "text" else e for e in screen.elements)
    )


@require_POST
@transaction.atomic
def make(request: HttpRequest, build_id: int) -> HttpResponse:
    """A screen of the text, with its arrays as pictures."""
    build = own_build(request, build_id)
    found = read_calls(request.POST.get("source", ""))
    device = build.to_device()
    made = screen_from(found, _meanings(found, request.POST), device.passport)
    made.screen = _lettered(made.screen, kit_of(build, device, made.screen))
    if not made.screen.elements:
        raise BadValueError("nothing in the text is drawn yet; say what its names mean")
    refs = {}
    for name, (width, height) in made.pictures.items():
        shot = _bitmap(found.arrays[name], width, height, device.passport)
        row = bring_cells(build=build, data=shot, name=name, owner=request.user)
        refs[name] = row.ref
    elements = tuple(
        replace(e, source=refs[e.cell]) if e.kind == "picture" and e.cell in refs else e for e in made.screen.elements
    )
    record = to_record(from_record(replace(made.screen, elements=elements)), Screen, "the screen")
    name = request.POST.get("name", "").strip()[:80] or f"Screen {len(shelf.of_kind(build, ScreenDocument)) + 1}"
    row = documents.add(ScreenDocument, build=build, name=name, record=record)
    return go_to(request, reverse("screen", args=[build.pk, row.pk]))
