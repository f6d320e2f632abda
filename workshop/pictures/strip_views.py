"""Strips: a sheet of small pictures cut into named cells that stand on a line."""

from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.exports.rasters import encode_png
from mosaic.exports.result import file_title
from mosaic.forms import from_record, to_record
from mosaic.imports.pictures import read_picture
from mosaic.strips.cells import Cell, line_of, overlaps
from mosaic.strips.cutting import StripPlan, boxes_of, cells_of, ground_of, inked_of, reduced_sheet, sheet_rgb
from mosaic.strips.files import index, zip_of
from workshop.builds.models import Build
from workshop.builds.pages import frame_context, own_build
from workshop.builds.services import overview_of
from workshop.errors import message_of
from workshop.pictures import pieces, services
from workshop.pictures.forms import blank, color, flag, method_choices, problems_in_words, select, slide, whole
from workshop.pictures.leaves import leaves_of
from workshop.pictures.models import Piece
from workshop.pictures.piece_pages import go_to, list_page, refused, zipped
from workshop.pictures.reports import digest
from workshop.pictures.views import image

KIND = Piece.Kind.STRIP
CUTS = [("grid", "a grid"), ("gaps", "the gaps between"), ("size", "a given size")]
RECIPE_FIELDS = ("method", "threshold", "strength", "ground", "invert")
SHOWN_OVERLAPS = 6


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
        label="names", required=False, max_length=6000, widget=forms.TextInput(attrs=blank("names, parted by blanks"))
    )
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
        return plan_of({**given, "names": given["names"].split(), "recipe": from_record(recipe), "form": 1})


def plan_of(description: dict[str, Any]) -> StripPlan:
    """How a sheet is cut, of its saved form."""
    return to_record(description, StripPlan, "strip")


def page(request: HttpRequest, build_id: int) -> HttpResponse:
    """The build's strips."""
    return list_page(request, build_id, KIND, "strips")


@require_POST
def add(request: HttpRequest, build_id: int) -> HttpResponse:
    """Bring a sheet."""
    build = own_build(request, build_id)
    upload = request.FILES.get("sheet")
    if upload is None:
        return redirect("strips", build.pk)
    data = services.read_upload(upload)
    original = services.keep_original(data=data, file_name=upload.name, owner=request.user)
    description = from_record(StripPlan())
    sources = [(original, upload.name)]
    piece = pieces.add_piece(build=build, kind=KIND, name=file_title(upload.name), description=description, sources=sources)
    return go_to(request, reverse("strip", args=[build.pk, piece.pk]))


def strip(request: HttpRequest, build_id: int, piece_id: int) -> HttpResponse:
    """One strip."""
    build = own_build(request, build_id)
    piece = pieces.own_piece(build, KIND, piece_id)
    plan = plan_of(piece.description)
    return render(request, "pictures/strip.html", _context(build, piece, StripForm.of(plan), plan))


def cut_cells(piece: Piece, plan: StripPlan, device: Device) -> tuple[Cell, ...]:
    """The cells of a strip.

    Raises
    ------
    MosaicError
        The sheet cannot be cut so.
    """
    return cells_of(_sheet(piece, plan, device), plan, ground_of(plan.recipe, device.passport))


def _sheet(piece: Piece, plan: StripPlan, device: Device):
    name, data = pieces.files_of(piece)[0]
    return reduced_sheet(read_picture(data, name), plan.recipe, device)


def _context(build: Build, piece: Piece, form: StripForm, plan: StripPlan) -> dict[str, Any]:
    overview = overview_of(build)
    device = overview.device
    context = {
        **frame_context(overview, "pictures"),
        "leaves": leaves_of(build, "strips"),
        "piece": piece,
        "form": form,
        "key": digest("strip", piece.pk, piece.description, build.revision),
    }
    try:
        sheet = _sheet(piece, plan, device)
        ground = ground_of(plan.recipe, device.passport)
        boxes, cells = boxes_of(plan, inked_of(sheet, ground)), cells_of(sheet, plan, ground)
    except MosaicError as error:
        return {**context, "problem": message_of(error)}
    rows = index(cells, device)
    meeting = overlaps(cells) if len(cells) <= 128 else []
    return {
        **context,
        "sheet_width": sheet.shape[1], "sheet_height": sheet.shape[0],
        "boxes": [(number, *box) for number, box in enumerate(boxes)],
        "rows": rows, "total": sum(row[-1] for row in rows),
        "overlaps": meeting[:SHOWN_OVERLAPS], "more_overlaps": max(0, len(meeting) - SHOWN_OVERLAPS),
        "sample": " ".join(cell.name for cell in cells[:24]),
    }  # fmt: skip


@require_POST
def change(request: HttpRequest, build_id: int, piece_id: int) -> HttpResponse:
    """Keep how it is cut."""
    build = own_build(request, build_id)
    piece = pieces.own_piece(build, KIND, piece_id)
    plan = plan_of(piece.description)
    form = StripForm(request.POST)
    if not form.is_valid():
        return refused(request, "pictures/strip.html", _context(build, piece, form, plan), problems_in_words(form))
    plan = form.to_plan(plan)
    try:
        cut_cells(piece, plan, build.to_device())
    except MosaicError as error:
        return refused(
            request, "pictures/strip.html", _context(build, piece, form, plan_of(piece.description)), message_of(error)
        )
    pieces.change_from(request.POST, piece, plan)
    return redirect("strip", build.pk, piece.pk)


def sheet_png(request: HttpRequest, build_id: int, piece_id: int, key: str) -> HttpResponse:
    """The sheet in the panel's colours, pixel for pixel; cuts are drawn over it by the page."""
    build = own_build(request, build_id)
    piece = pieces.own_piece(build, KIND, piece_id)
    device, plan = build.to_device(), plan_of(piece.description)
    return image(encode_png(sheet_rgb(_sheet(piece, plan, device), device.passport), level=1))


def line_png(request: HttpRequest, build_id: int, piece_id: int) -> HttpResponse:
    """Named cells side by side, as a program would draw them."""
    build = own_build(request, build_id)
    piece = pieces.own_piece(build, KIND, piece_id)
    device, plan = build.to_device(), plan_of(piece.description)
    cells = cut_cells(piece, plan, device)
    names = request.GET.get("names", "").split()[:64]
    line = line_of(cells, names, ground_of(plan.recipe, device.passport), opaque=request.GET.get("how") == "opaque")
    return passing_png(sheet_rgb(line, device.passport))


def passing_png(rgb: Any) -> HttpResponse:
    """PNG of (H, W, 3) that is not kept: its address says nothing of what it depends on."""
    response = HttpResponse(encode_png(rgb, level=1), content_type="image/png")
    response["Cache-Control"] = "private, no-store"
    return response


def take(request: HttpRequest, build_id: int, piece_id: int) -> HttpResponse:
    """All files of the strip."""
    build = own_build(request, build_id)
    piece = pieces.own_piece(build, KIND, piece_id)
    device, plan = build.to_device(), plan_of(piece.description)
    cells = cut_cells(piece, plan, device)
    return zipped(piece, zip_of(piece.name, cells, device, ground_of(plan.recipe, device.passport), plan))


@require_POST
def remove(request: HttpRequest, build_id: int, piece_id: int) -> HttpResponse:
    """Remove a strip from the build."""
    build = own_build(request, build_id)
    pieces.remove_piece(piece=pieces.own_piece(build, KIND, piece_id))
    return redirect("strips", build.pk)
