"""Station 8, Log."""

from collections.abc import Mapping
from typing import Any

from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.models import Document
from workshop.journal.models import LogEntry
from workshop.log import demo
from workshop.log.documents import CalibrationDocument
from workshop.stations.station import Station


class LogStation(Station):
    number, slug, name = 8, "log", "Log"
    home, urls = "log", "workshop.log.urls"
    begin = "write the first line of the log"
    documents, begun_by = (CalibrationDocument,), LogEntry

    def factors(self, build: Build) -> Mapping[str, float]:
        row = shelf.single(build, CalibrationDocument)
        return row.record.factors if row else {}

    def copied(self) -> list[type[Document]]:
        return []

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        demo.load(builds)


STATION = LogStation()
