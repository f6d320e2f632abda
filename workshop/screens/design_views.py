"""What screens share: styles, shared parts, the screen to begin with."""

from dataclasses import replace
from typing import Any

from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils.html import format_html
from django.utils.safestring import SafeString
from django.views.decorators.http import require_POST

from mosaic.exports.rasters import encode_png
from mosaic.forms import from_record, to_record
from mosaic.numbers import whole_of
from mosaic.panels.appearance import colors_of
from mosaic.screens.colors import names_of
from mosaic.screens.editing import made_a_part
from mosaic.screens.rendering import Rendered
from mosaic.screens.rendering import render as draw_screen
from mosaic.screens.screen import Anchor, Design, Element, Part, Screen, Style, new_id
from mosaic.values.notation import check, renamed
from mosaic.values.value import Value
from workshop.answers import check_key, go_to, image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.keys import digest
from workshop.documents.pages import base_of
from workshop.documents.services import Change
from workshop.screens.documents import DesignDocument, ScreenDocument, design_of
from workshop.screens.forms import OWN_COLOR
from workshop.screens.pages import own
from workshop.screens.reports import key_of, kit_of, rendered_of
from workshop.screens.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of


def _users(build: Build, field: str, ident: str) -> str:
    """Which screens use a style or a part, in words."""
    rows = shelf.of_kind(build, ScreenDocument)
    names = [row.name for row in rows if any(getattr(e, field) == ident for e in row.record.elements)]
    return f"on {', '.join(names)}" if names else "on no screen yet"


def _choice(name: str, label: str, options: list[tuple[str, str]], value: str) -> SafeString:
    known = options if value in dict(options) else [*options, (value, value)]
    rows = [
        format_html("<option value='{}'{}>{}</option>", v, format_html(" selected") if v == value else "", w) for v, w in known
    ]
    inner = format_html("{}" * len(rows), *rows)
    return format_html("<select class='fm-blank' name='{}' aria-label='{}'>{}</select>", name, label, inner)


def _color(name: str, label: str, options: list[tuple[str, str]], value: str) -> SafeString:
    """A choice of a colour by name, and a colour of one's own beside it."""
    own = value.startswith("#")
    swatch = format_html(
        "<span data-when='{}=own'><input type='color' class='fm-swatch' name='{}-own' aria-label='own {}' value='{}'></span>",
        name, name, label, value if own else "#808080",
    )  # fmt: skip
    return _choice(name, label, options, OWN_COLOR if own else value) + swatch


def _told_color(values: Any, name: str, before: str) -> str:
    told = values.get(name, before)
    return values.get(f"{name}-own", before) if told == OWN_COLOR else told


def _part_key(build: Build, part: Part) -> str:
    device = build.to_device()
    return digest("part", part.id, key_of(build, _alone(part), device))


def _alone(part: Part) -> Screen:
    return Screen((Element("e1", "part", x=Anchor(), y=Anchor(), part=part.id),))


def design(request: HttpRequest, build_id: int) -> HttpResponse:
    """The page."""
    build = own_build(request, build_id)
    overview = overview_of(build)
    row, record = shelf.single(build, DesignDocument), design_of(build)
    names = [*((name, name) for name in names_of(overview.device.passport)), (OWN_COLOR, "this colour:")]
    letterings = [("", "the first lettering"), *((i.ref, i.name) for i in overview.offered("lettering"))]
    styles = []
    for style in record.styles:
        called = style.name or style.id
        fields = {
            "color": _choice(f"color-{style.id}", f"colour of {called}", names, style.color),
            "second": _choice(
                f"second-{style.id}", f"colour beneath of {called}", [("", "what lies there"), *names], style.second
            ),
            "lettering": _choice(f"lettering-{style.id}", f"lettering of {called}", letterings, style.lettering),
        }
        styles.append((style, fields, _users(build, "style", style.id)))
    parts = [
        (
            part, _users(build, "part", part.id), reverse("part-png", args=[build.pk, part.id, _part_key(build, part)]),
            [(e, renamed(e.text, {value.id: value.name for value in record.values})) for e in part.elements if e.text],
        )
        for part in record.parts
    ]  # fmt: skip
    context = {
        **frame_context(overview, "screens"), "tabs": tabs_of(build, "design"), "document": row,
        "base": row.head_id if row else 0, "design": record, "styles": styles, "parts": parts,
        "screens": overview.by_station["screens"],
    }  # fmt: skip
    return render(request, "screens/design.html", context)


def _filled(record: Design, values: Any) -> Design:
    """The design as the form has it."""
    styles = tuple(
        replace(
            s, **{n: values.get(f"{n}-{s.id}", getattr(s, n)).strip() for n in ("name", "lettering")},
            **{n: _told_color(values, f"{n}-{s.id}", getattr(s, n)) for n in ("color", "second")},
        )
        for s in record.styles if s.id != values.get("drop")
    )  # fmt: skip
    parts = tuple(_filled_part(part, values, record.values) for part in record.parts if part.id != values.get("drop"))
    if values.get("new") == "style":
        ident = new_id({s.id for s in styles} | {p.id for p in parts}, "s")
        styles = (*styles, Style(ident, f"Style {len(styles) + 1}"))
    return replace(record, styles=styles, parts=parts, start=values.get("start", record.start))


def _filled_part(part: Part, values: Any, known: tuple[Value, ...]) -> Part:
    sizes = {}
    for name in ("width", "height"):
        sizes[name] = whole_of(
            values.get(f"{name}-{part.id}", str(getattr(part, name))), f"{name} of {part.name or part.id}", 1, 4096
        )
    names, ids = {v.id: v.name for v in known}, {v.name: v.id for v in known}
    elements = []
    for e in part.elements:
        typed = values.get(f"text-{part.id}-{e.id}", renamed(e.text, names))
        check(typed, {v.name: v for v in known})
        elements.append(replace(e, text=renamed(typed, ids)))
    return replace(part, name=values.get(f"name-{part.id}", part.name).strip()[:60], elements=tuple(elements), **sizes)


@require_POST
def change(request: HttpRequest, build_id: int) -> HttpResponse:
    """Keep what was filled in."""
    build = own_build(request, build_id)
    record = to_record(from_record(_filled(design_of(build), request.POST)), Design, "the design")
    documents.save_single(DesignDocument, build=build, base=base_of(request), record=record)
    return redirect("design", build.pk)


@require_POST
@transaction.atomic
def make_part(request: HttpRequest, build_id: int, screen_id: int) -> HttpResponse:
    """A shared part of what is chosen on a screen: screen and design change in one step."""
    build, shown = own(request, build_id, screen_id)
    values = request.POST
    ids = [one for one in dict.fromkeys([values.get("of", ""), *values.getlist("pick")]) if one]
    rendered = rendered_of(build, shown.record, build.to_device())
    name = values.get("part_name", "").strip()[:60]
    into = values.get("part_into", "")
    record, made, ident = made_a_part(shown.record, design_of(build), ids, name, rendered.boxes, into=into)
    row = shelf.single(build, DesignDocument)
    if row is None:
        row = documents.save_single(DesignDocument, build=build, base=0, record=Design())
    documents.save(shown, base=base_of(request), record=record, along=(Change(row, record=made),))
    return go_to(request, reverse("screen", args=[build.pk, shown.pk]) + f"?e={ident}")


def part_png(request: HttpRequest, build_id: int, part: str, key: str) -> HttpResponse:
    """A shared part alone, in the panel's colours."""
    build = own_build(request, build_id)
    found = design_of(build).part(part)
    if found is None:
        raise Http404("no such part")
    check_key(key, _part_key(build, found))
    device = build.to_device()
    rendered: Rendered = draw_screen(_alone(found), device, kit_of(build, device, _alone(found)))
    shown = colors_of(rendered.pixels, device.passport, device.turn)
    return image(encode_png(shown[: found.height, : found.width]))
