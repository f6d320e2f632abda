"""Segmented figures: every symbol of a display made of one drawing and a table."""

from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from mosaic.color.srgb import parse_hex
from mosaic.device.device import Device
from mosaic.errors import BadPictureError, MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.forms import from_record, to_record
from mosaic.reduce.pattern import TILES
from mosaic.segments.figure import FigurePlan, first_plan, rows_of, segment_masks, symbols_of, table_from_text, text_of_table
from mosaic.segments.layouts import LAYOUTS
from mosaic.strips.cells import line_of
from mosaic.strips.cutting import sheet_rgb
from mosaic.strips.files import index, zip_of
from workshop.answers import passing_image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.originals import keep_picture, read_upload
from workshop.errors import message_of
from workshop.look.fields import blank, color, problems_in_words, select, slide, whole
from workshop.pictures.cells import drawing_of, made_symbols
from workshop.pictures.documents import Figure
from workshop.pictures.shared_pages import list_page, refused, save_posted, zipped
from workshop.pictures.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

UNLIT = [("none", "are left out"), ("faint", "are faint"), ("pattern", "are filled with a pattern")]
SAMPLE = {"seven": "1 2 . 4 7 - 8 A", "fourteen": "T I D E 2 . 7", "own": ""}


class FigureForm(forms.Form):
    """How a segmented figure is made; colours are palette names, or colours on panels without a palette."""

    layout = select("layout", [(layout.name, layout.title) for layout in LAYOUTS.values()])
    width = whole("width in pixels", 1024, 4)
    height = whole("height in pixels", 1024, 6)
    thickness = slide("thickness", 0.05, 0.35, 0.01)
    gap = slide("gap", 0, 0.2, 0.01)
    slant_deg = slide("slant", 0, 20, 1)
    spacing = whole("space between", 256)
    unlit = select("unlit segments", UNLIT)
    pattern = select("pattern", [(name, name) for name in TILES])
    share = slide("share of the pattern", 0, 1, 0.05)
    table = forms.CharField(
        label="table", required=False, max_length=12_000,
        widget=forms.Textarea(attrs=blank("table of symbols", rows=9, spellcheck="false")),
    )  # fmt: skip

    def __init__(self, *arguments: Any, device: Device, **named: Any) -> None:
        super().__init__(*arguments, **named)
        palette = device.passport.palette
        for name in ("lit", "ground", "faint"):
            self.fields[name] = color(name) if palette is None else select(name, list(enumerate(palette.names)))

    @classmethod
    def of(cls, plan: FigurePlan, device: Device) -> "FigureForm":
        names = ("layout", "width", "height", "thickness", "gap", "slant_deg", "spacing", "unlit", "pattern", "share")
        initial: dict[str, Any] = {name: getattr(plan, name) for name in names}
        initial["table"] = text_of_table(rows_of(plan))
        for name in ("lit", "ground", "faint"):
            value = getattr(plan, name)
            initial[name] = f"#{value:06x}" if device.passport.palette is None else value
        return cls(initial=initial, device=device)

    def to_plan(self, base: FigurePlan) -> FigurePlan:
        given = dict(self.cleaned_data)
        for name in ("lit", "ground", "faint"):
            given[name] = _color(given[name])
        rows = table_from_text(given.pop("table"))
        # Another layout begins with a table of its own; one typed by hand is kept.
        typed = rows != rows_of(base) or base.table
        keep = rows if typed and given["layout"] == base.layout else ()
        return figure_plan({**given, "table": [from_record(row) for row in keep], "form": 1})


def _color(value: str) -> int:
    if value.startswith("#"):
        red, green, blue = parse_hex(value)
        return red << 16 | green << 8 | blue
    return int(value)


def figure_plan(description: dict[str, Any]) -> FigurePlan:
    """How a figure is made, of its saved form."""
    return to_record(description, FigurePlan, "figure")


def page(request: HttpRequest, build_id: int) -> HttpResponse:
    """The build's segmented figures."""
    return list_page(request, build_id, Figure)


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """A new figure of seven segments, to be changed at will."""
    build = own_build(request, build_id)
    plan = first_plan(build.to_device())
    row = documents.add(Figure, build=build, name=request.POST.get("name", "") or "Digits", record=plan)
    return redirect("figure", build.pk, row.pk)


def figure(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """One figure."""
    build = own_build(request, build_id)
    row = shelf.own(build, Figure, document_id)
    plan = row.record
    return render(request, "pictures/figure.html", _context(build, row, FigureForm.of(plan, build.to_device()), plan))


def _context(build: Build, row: Figure, form: FigureForm, plan: FigurePlan) -> dict[str, Any]:
    overview = overview_of(build)
    device = overview.device
    context = {
        **frame_context(overview, "pictures"),
        "tabs": tabs_of(build, "figures"),
        "document": row, "form": form, "figure_plan": plan, "sample": SAMPLE[plan.layout],
        "drawing": (drawing_of(row) or ("",))[0],
    }  # fmt: skip
    try:
        cells = made_symbols(row, plan, device)
        names = list(segment_masks(plan, drawing_of(row)))
    except MosaicError as error:
        return {**context, "problem": message_of(error)}
    rows = index(cells, device)
    sample = context["sample"] or " ".join(cell.name for cell in cells[:16])
    return {**context, "rows": rows, "total": sum(row[-1] for row in rows), "segments": names, "sample": sample}


@require_POST
def change(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Keep how it is made; a drawing that comes along becomes its segments."""
    build = own_build(request, build_id)
    row, device = shelf.own(build, Figure, document_id), build.to_device()
    plan = row.record
    form = FigureForm(request.POST, device=device)
    if not form.is_valid():
        return refused(request, "pictures/figure.html", _context(build, row, form, plan), problems_in_words(form))
    try:
        upload = request.FILES.get("drawing")
        drawing = _taken(request, upload) if upload else None
        changed = form.to_plan(plan)
        shown = (upload.name, bytes(drawing.data)) if drawing else drawing_of(row)
        if changed.layout == "own" and not changed.table and shown:
            # A drawing without a table yet: each segment is a symbol of its own to begin with.
            names = list(segment_masks(changed, shown))
            changed = figure_plan({**from_record(changed), "table": [{"symbol": name, "lit": name} for name in names]})
        symbols_of(changed, device.passport, shown)
    except MosaicError as error:
        return refused(request, "pictures/figure.html", _context(build, row, form, plan), message_of(error))
    save_posted(request, row, changed, [(drawing, upload.name)] if drawing else None)
    return redirect("figure", build.pk, row.pk)


def _taken(request: HttpRequest, upload):
    data = read_upload(upload)
    original = keep_picture(data=data, file_name=upload.name, owner=request.user)
    if original.media_type != "image/svg+xml":
        raise BadPictureError(f"{upload.name} is no SVG; segments are the named parts of a drawing in SVG")
    return original


def line_png(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Symbols side by side on the panel's ground."""
    build = own_build(request, build_id)
    row, device = shelf.own(build, Figure, document_id), build.to_device()
    plan = row.record
    cells = made_symbols(row, plan, device)
    line = line_of(cells, request.GET.get("names", "").split()[:64], _ground(plan, device), opaque=True)
    return passing_image(encode_png(sheet_rgb(line, device.passport), level=1))


def _ground(plan: FigurePlan, device: Device) -> int | tuple[int, int, int]:
    if device.passport.palette is not None:
        return plan.ground
    return plan.ground >> 16, plan.ground >> 8 & 255, plan.ground & 255


def take(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """All files of the figure."""
    build = own_build(request, build_id)
    row, device = shelf.own(build, Figure, document_id), build.to_device()
    plan = row.record
    return zipped(row, zip_of(row.name, made_symbols(row, plan, device), device, _ground(plan, device), plan))
