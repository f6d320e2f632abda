"""Station 7, Hand-over."""

from typing import Any

from django.conf import settings

from workshop.builds.models import Build
from workshop.documents.models import Document
from workshop.handover.documents import LayoutDocument
from workshop.handover.models import HandOver
from workshop.handover.services import JOB, KIND
from workshop.jobs import services as jobs
from workshop.stations.station import Item, Station

DEMO = ("Stroke-rate counter", "Sign-out panel")
"""Builds of the demo that are handed over when it is laid."""


class HandOverStation(Station):
    number, slug, name = 7, "hand-over", "Hand-over"
    home, urls = "hand-over", "workshop.handover.urls"
    documents, jobs = (LayoutDocument,), (JOB,)

    def begun(self, build: Build, items: tuple[Item, ...]) -> bool:
        return HandOver.objects.filter(build=build).exists()

    def copied(self) -> list[type[Document]]:
        return [LayoutDocument]

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        if settings.DEMO_HANDS_OVER:
            for name in DEMO:
                jobs.start(build=builds[name], owner=person, kind=KIND)


STATION = HandOverStation()
