"""The stations of a build, in working order. A new one is a folder and a line here."""

from __future__ import annotations

from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from workshop.stations.station import Station

STATIONS = (
    "workshop.panelwork", "workshop.bringup", "workshop.pictures", "workshop.lettering", "workshop.screens", "workshop.refresh",
    "workshop.handover", "workshop.log",
)  # fmt: skip


@cache
def stations() -> tuple[Station, ...]:
    """Every station, as its own `station.py` describes it."""
    return tuple(import_module(f"{folder}.station").STATION for folder in STATIONS)


def register() -> None:
    """Make known the kinds of documents and of long work that stations bring."""
    from workshop.documents import kinds as documents
    from workshop.jobs import kinds as jobs
    from workshop.stations.files_job import FILES

    jobs.register([FILES])
    for station in stations():
        documents.register(station.documents)
        jobs.register(station.jobs)
