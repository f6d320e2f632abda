"""Station 4, Lettering."""

from collections.abc import Callable
from functools import partial
from typing import Any

from mosaic.device.device import Device
from mosaic.errors import BadValueError, MosaicError
from mosaic.lettering.files import written
from mosaic.lettering.glyph import Lettering as Glyphs
from mosaic.lettering.packing import reads_back
from mosaic.lettering.plan import scaled
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.models import Document
from workshop.lettering import demo
from workshop.lettering.documents import Lettering, TextsDocument, texts_of
from workshop.lettering.items import lettering_item
from workshop.lettering.reports import lettering_figures, report_of
from workshop.stations.station import File, Item, Station

ENDINGS = ("h", "bdf")


class LetteringStation(Station):
    number, slug, name = 4, "lettering", "Lettering"
    home, urls = "letterings", "workshop.lettering.urls"
    begin = "choose a face for your texts"
    documents = (Lettering, TextsDocument)

    def items(self, build: Build, device: Device) -> list[Item]:
        texts = texts_of(build)
        return [lettering_item(row, lettering_figures(row, device, texts)) for row in shelf.of_kind(build, Lettering)]

    def files(self, build: Build, device: Device) -> list[Callable[[], list[File]]]:
        return [partial(_files, row, device, texts_of(build)) for row in shelf.of_kind(build, Lettering)]

    def lettering(self, build: Build, device: Device, ref: str, scale: float = 1.0) -> Glyphs | None:
        row = next((row for row in shelf.of_kind(build, Lettering) if row.ref == ref), None)
        if row is None:
            return None
        try:
            return report_of(row, scaled(row.record, scale), device, texts_of(build)).glyphs
        except MosaicError:
            return None

    def rescale(self, build: Build, scale: float) -> None:
        for row in shelf.of_kind(build, Lettering):
            record = scaled(row.record, scale)
            if record != row.record:
                documents.save(row, base=row.head_id, record=record)

    def copied(self) -> list[type[Document]]:
        return [Lettering, TextsDocument]

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        demo.load(builds)


def _files(row: Lettering, device: Device, texts: str) -> list[File]:
    packed = report_of(row, row.record, device, texts).packed
    if not reads_back(packed):
        raise BadValueError(f"the bytes of {row.name} do not read back to its glyphs")
    return [File(row.name, ending, written(packed, ending, device.board.tables)) for ending in ENDINGS]


STATION = LetteringStation()
