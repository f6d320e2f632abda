"""Station 1, Panel & wiring."""

from typing import Any

from django.urls import reverse

from mosaic.device.setup_card import SetupCard
from mosaic.findings import rules
from mosaic.forms import to_record
from workshop.builds.models import Build, SetupDocument, WiringDocument
from workshop.builds.services import set_setup_card
from workshop.documents import shelf
from workshop.panelwork.documents import ReadingsDocument
from workshop.scenario.builds import SETUPS
from workshop.stations.overview import Overview
from workshop.stations.station import Item, NextStep, Station


class PanelStation(Station):
    number, slug, name = 1, "panel", "Panel & wiring"
    home, urls = "build-panel", "workshop.panelwork.urls"
    documents = (WiringDocument, SetupDocument, ReadingsDocument)
    device_rules = (
        ("wiring", rules.WIRING_RULES),
        ("setup-card", rules.SETUP_CARD_RULES),
        ("mounting", rules.MOUNTING_RULES),
        ("build-panel", rules.LIMIT_RULES),
    )

    def begun(self, build: Build, items: tuple[Item, ...]) -> bool:
        return True

    def next_step(self, overview: Overview) -> NextStep | None:
        build = overview.build
        if shelf.single(build, WiringDocument) is None:
            return NextStep("propose the wires", reverse("wiring", args=[build.pk]))
        if shelf.single(build, ReadingsDocument) is None:
            return NextStep("measure before power", reverse("check-sheet", args=[build.pk]))
        return None

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        for name, plain in SETUPS.items():
            set_setup_card(build=builds[name], card=to_record(plain, SetupCard, "set-up card"), base=0)


STATION = PanelStation()
