"""Station 3, Pictures."""

from collections.abc import Callable
from functools import partial
from typing import Any

from mosaic.animation.files import c_header as animation_header
from mosaic.animation.files import index_csv as frames_csv
from mosaic.animation.files import stream
from mosaic.animation.frames import read_clip
from mosaic.animation.making import make_animation
from mosaic.device.device import Device
from mosaic.errors import MosaicError
from mosaic.exports.registry import export
from mosaic.reduce.recipe import Recipe
from mosaic.strips.cells import Cell
from mosaic.strips.cutting import StripPlan
from mosaic.strips.files import array, c_header, index_csv, python_source
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.models import Document, Original, bytes_of
from workshop.documents.originals import keep_picture, read_upload
from workshop.jobs.kinds import JobKind
from workshop.pictures import demo
from workshop.pictures.animation_job import make_clip
from workshop.pictures.cells import document_cells, frames_as_cells
from workshop.pictures.contact_sheet import make_sheet
from workshop.pictures.documents import Animation, Figure, Picture, Strip
from workshop.pictures.items import items_of
from workshop.pictures.reports import export_result, report_of
from workshop.pictures.search_job import make_search, remake_pictures
from workshop.pictures.services import add_picture
from workshop.stations.station import File, Item, Pixels, Station

ENDINGS = {"arrays": ("h", "bin", "png"), "files": ("bin", "png")}
OFFERED_CELLS = (Strip, Figure)


class PicturesStation(Station):
    number, slug, name = 3, "pictures", "Pictures"
    home, urls = "pictures", "workshop.pictures.urls"
    begin = "put a picture on the glass"
    documents = (Picture, Strip, Figure, Animation)
    jobs = (
        JobKind("animation", "making the frames", "Download", "application/zip", make_clip),
        JobKind("search", "searching", "", "application/octet-stream", make_search),
        JobKind("set", "remaking the set", "", "application/octet-stream", remake_pictures),
        JobKind("contact-sheet", "trying every method", "", "application/json", make_sheet),
    )

    def items(self, build: Build, device: Device) -> list[Item]:
        return items_of(build, device)

    def pixels(self, build: Build, device: Device, ref: str) -> Pixels | None:
        picture = shelf.named(build, ref)
        if not isinstance(picture, Picture):
            return None
        report = report_of(picture, picture.record, device)
        return Pixels(picture.name, report.converted.pixels, report.key)

    def cells(self, build: Build, device: Device, ref: str) -> tuple[Cell, ...] | None:
        document = shelf.named(build, ref)
        if isinstance(document, Animation):
            try:
                return frames_as_cells(document, device)
            except MosaicError:
                return ()
        if not isinstance(document, OFFERED_CELLS):
            return None
        try:
            return document_cells(document, device)
        except MosaicError:
            return ()

    def files(self, build: Build, device: Device) -> list[Callable[[], list[File]]]:
        pictures = [partial(_picture_files, row, device) for row in shelf.of_kind(build, Picture)]
        cells = [partial(_cell_files, row, device) for kind in OFFERED_CELLS for row in shelf.of_kind(build, kind)]
        animations = [partial(_animation_files, row, device) for row in shelf.of_kind(build, Animation)]
        return [*pictures, *cells, *animations]

    def keep_upload(self, upload: Any, owner: Any) -> Original:
        return keep_picture(data=read_upload(upload), file_name=upload.name, owner=owner)

    def begin_with(self, build: Build, original: Original, file_name: str) -> None:
        add_picture(build=build, original=original, file_name=file_name)

    def take_picture(self, *, build: Build, data: bytes, file_name: str, name: str, recipe: Recipe, owner: Any) -> Document:
        original = keep_picture(data=data, file_name=file_name, owner=owner)
        return add_picture(build=build, original=original, file_name=file_name, recipe=recipe, name=name)

    def take_cells(self, *, build: Build, data: bytes, name: str, owner: Any) -> Document:
        original = keep_picture(data=data, file_name=f"{name}.png", owner=owner)
        plan = StripPlan(columns=1, rows=1, trim=False, names=(name[:40],))
        return documents.add(Strip, build=build, name=name, record=plan, sources=[(original, f"{name}.png")])

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        demo.load(builds, person)


def _picture_files(picture: Picture, device: Device) -> list[File]:
    recipe = picture.record
    result = export_result(picture, recipe, device, report_of(picture, recipe, device))
    return [File(picture.name, ending, export(result, ending)) for ending in ENDINGS[picture.place]]


def _cell_files(document: Document, device: Device) -> list[File]:
    cells = document_cells(document, device)
    if document.place == "files":
        made = {"bin": array(cells, device), "csv": index_csv(cells, device)}
    else:
        made = {"h": c_header(document.name, cells, device), "py": python_source(document.name, cells, device)}
    return [File(document.name, ending, data) for ending, data in made.items()]


def _animation_files(row: Animation, device: Device) -> list[File]:
    made = make_animation(read_clip(bytes_of(row.sources)), row.record, device)
    if row.place == "files":
        return [File(row.name, "bin", stream(made)), File(row.name, "csv", frames_csv(made))]
    return [File(row.name, "h", animation_header(row.name, made, device))]


STATION = PicturesStation()
