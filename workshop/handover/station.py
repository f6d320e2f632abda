"""Station 7, Hand-over."""

from typing import Any

from django.conf import settings
from django.db.models import Max

from workshop.builds.models import Build
from workshop.documents.models import Document
from workshop.handover.documents import LayoutDocument
from workshop.handover.models import HandOver
from workshop.handover.services import JOB, KIND
from workshop.jobs import services as jobs
from workshop.stations.station import Station

DEMO = ("Stroke-rate counter", "Sign-out panel")
"""Builds of the demo that are handed over when it is laid."""


class HandOverStation(Station):
    number, slug, name = 7, "hand-over", "Hand-over"
    home, urls = "hand-over", "workshop.handover.urls"
    begin = "hand everything over"
    documents, jobs, begun_by = (LayoutDocument,), (JOB,), HandOver

    def as_it_stands(self, build: Build) -> str:
        last = HandOver.objects.filter(build=build).aggregate(last=Max("number"))["last"]
        return f"hand-over {last}" if last else ""

    def copied(self) -> list[type[Document]]:
        return [LayoutDocument]

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        if settings.DEMO_HANDS_OVER:
            for name in DEMO:
                jobs.start(build=builds[name], owner=person, kind=KIND)


STATION = HandOverStation()
