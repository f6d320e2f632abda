"""Strips: a sheet of small pictures cut into named cells that stand on a line."""

from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.errors import MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.exports.result import file_title
from mosaic.forms import from_record, to_record
from mosaic.strips.cells import Cell
from mosaic.strips.cutting import StripPlan, boxes_of, cells_from_sheet, ground_of, inked_of, sheet_rgb
from mosaic.strips.files import index, zip_of
from mosaic.strips.placing import crops, placed, scene_of
from workshop.answers import check_key, go_to, image, passing_image
from workshop.builds.models import Build
from workshop.builds.pages import own_build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.keys import digest
from workshop.documents.originals import keep_picture, read_upload
from workshop.errors import message_of
from workshop.look.fields import blank, color, flag, problems_in_words, select, slide, whole
from workshop.pictures.cells import cut_cells, sheet_of
from workshop.pictures.documents import Strip
from workshop.pictures.forms import method_choices
from workshop.pictures.shared_pages import list_page, refused, save_posted, zipped
from workshop.pictures.tabs import tabs_of
from workshop.stations.frame import frame_context
from workshop.stations.overview import overview_of

CUTS = [("grid", "a grid"), ("gaps", "the gaps between"), ("size", "a given size")]
RECIPE_FIELDS = ("method", "threshold", "strength", "ground", "invert")
DRAWN = [("opaque", "opaque, background and all"), ("see-through", "see-through, ink only")]
SHOWN_OVERLAPS = 6
ON_A_LINE = 24
"""Cells that stand on the line until others are named."""


class StripForm(forms.Form):
    """How a sheet is cut, and how its cells stand."""

    cut = select("cut by", CUTS)
    columns = whole("columns", 512, 1)
    rows = whole("rows", 512, 1)
    cell_width = whole("width of a cell", 4096, 1)
    cell_height = whole("height of a cell", 4096, 1)
    margin_x = whole("margin at the left", 4096)
    margin_y = whole("margin above", 4096)
    gap_x = whole("gap between columns", 4096)
    gap_y = whole("gap between rows", 4096)
    count = whole("count of cells", 1024)
    baseline = whole("rows below the baseline", 4096)
    spacing = whole("space between", 256, -64)
    trim = flag("cells trimmed to their ink")
    equal_advance = flag("equal advance")
    names = forms.CharField(
        label="names", required=False, max_length=6000, widget=forms.TextInput(attrs=blank("names, separated by spaces"))
    )
    line = forms.CharField(required=False, max_length=2000)
    drawn = select("drawn", DRAWN)
    method = select("method", method_choices())
    threshold = slide("threshold", 0, 255, 1)
    strength = slide("strength", 0, 1, 0.01)
    ground = color("ground")
    invert = flag("light and dark exchanged")

    @classmethod
    def of(cls, plan: StripPlan) -> "StripForm":
        own = {name: getattr(plan, name) for name in cls.base_fields if name not in RECIPE_FIELDS}
        own["names"] = " ".join(plan.names)
        return cls(initial=own | {name: getattr(plan.recipe, name) for name in RECIPE_FIELDS})

    def to_plan(self, base: StripPlan) -> StripPlan:
        given = dict(self.cleaned_data)
        given["threshold"] = round(given["threshold"])
        recipe = base.recipe.with_changes(**{name: given.pop(name) for name in RECIPE_FIELDS})
        return strip_plan({**given, "names": given["names"].split(), "recipe": from_record(recipe), "form": 1})


def strip_plan(description: dict[str, Any]) -> StripPlan:
    """How a sheet is cut, of its saved form."""
    return to_record(description, StripPlan, "strip")


def page(request: HttpRequest, build_id: int) -> HttpResponse:
    """The build's strips."""
    return list_page(request, build_id, Strip)


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """Bring a sheet."""
    build = own_build(request, build_id)
    upload = request.FILES.get("sheet")
    if upload is None:
        return redirect("strips", build.pk)
    data = read_upload(upload)
    original = keep_picture(data=data, file_name=upload.name, owner=request.user)
    name, sources = file_title(upload.name), [(original, upload.name)]
    row = documents.add(Strip, build=build, name=name, record=StripPlan(), sources=sources)
    return go_to(request, reverse("strip", args=[build.pk, row.pk]))


def strip(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """One strip."""
    build = own_build(request, build_id)
    row = shelf.own(build, Strip, document_id)
    plan = row.record
    return render(request, "pictures/strip.html", _context(build, row, StripForm.of(plan), plan))


def _key(build: Build, row: Strip) -> str:
    return digest("strip", row.pk, row.head_id, build.revision)


def _context(build: Build, row: Strip, form: StripForm, plan: StripPlan) -> dict[str, Any]:
    overview = overview_of(build)
    device = overview.device
    context = {
        **frame_context(overview, "pictures"),
        "tabs": tabs_of(build, "strips"),
        "document": row,
        "form": form,
        "key": _key(build, row),
    }
    try:
        sheet = sheet_of(row, plan, device)
        ground = ground_of(plan.recipe, device.passport)
        boxes, cells = boxes_of(plan, inked_of(sheet, ground)), cells_from_sheet(sheet, plan, ground)
    except MosaicError as error:
        return {**context, "problem": message_of(error)}
    rows = index(cells, device)
    line = _line(plan, cells)
    try:
        meeting = crops(placed(cells, line)) if plan.drawn == "opaque" else []
    except MosaicError as error:  # a cell of the line is called otherwise now
        meeting, context["line_problem"] = [], message_of(error)
    return {
        **context,
        "sheet_width": sheet.shape[1], "sheet_height": sheet.shape[0],
        "boxes": [(number, *box) for number, box in enumerate(boxes)],
        "rows": rows, "total": sum(row[-1] for row in rows),
        "overlaps": meeting[:SHOWN_OVERLAPS], "more_overlaps": max(0, len(meeting) - SHOWN_OVERLAPS),
        "sample": line, "drawn": plan.drawn,
    }  # fmt: skip


def _line(plan: StripPlan, cells: tuple[Cell, ...]) -> str:
    """What stands on the line: what the plan names, else the first cells."""
    return plan.line or " ".join(cell.name for cell in cells[:ON_A_LINE])


@require_POST
def change(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Keep how it is cut."""
    build = own_build(request, build_id)
    row = shelf.own(build, Strip, document_id)
    plan = row.record
    form = StripForm(request.POST)
    if not form.is_valid():
        return refused(request, "pictures/strip.html", _context(build, row, form, plan), problems_in_words(form))
    plan = form.to_plan(plan)
    try:
        placed(cut_cells(row, plan, build.to_device()), plan.line)
    except MosaicError as error:
        return refused(request, "pictures/strip.html", _context(build, row, form, row.record), message_of(error))
    save_posted(request, row, plan)
    return redirect("strip", build.pk, row.pk)


def sheet_png(request: HttpRequest, build_id: int, document_id: int, key: str) -> HttpResponse:
    """The sheet in the panel's colours, pixel for pixel; cuts are drawn over it by the page."""
    build = own_build(request, build_id)
    row = shelf.own(build, Strip, document_id)
    check_key(key, _key(build, row))
    device, plan = build.to_device(), row.record
    return image(encode_png(sheet_rgb(sheet_of(row, plan, device), device.passport), level=1))


def line_png(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """Named cells side by side, as a program would draw them."""
    build = own_build(request, build_id)
    row = shelf.own(build, Strip, document_id)
    device, plan = build.to_device(), row.record
    cells = cut_cells(row, plan, device)
    opaque = request.GET.get("how", plan.drawn) == "opaque"
    shown = scene_of(placed(cells, request.GET.get("names", "")), ground_of(plan.recipe, device.passport), opaque=opaque)
    return passing_image(encode_png(sheet_rgb(shown, device.passport), level=1))


def take(request: HttpRequest, build_id: int, document_id: int) -> HttpResponse:
    """All files of the strip."""
    build = own_build(request, build_id)
    row = shelf.own(build, Strip, document_id)
    device, plan = build.to_device(), row.record
    cells = cut_cells(row, plan, device)
    return zipped(row, zip_of(row.name, cells, device, ground_of(plan.recipe, device.passport), plan))
