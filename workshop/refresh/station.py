"""Station 6, Refresh plan."""

from collections.abc import Mapping

from mosaic.device.device import Device
from mosaic.findings.rules import BUFFER_RULES, FRAME_RULES
from workshop.builds.models import Build
from workshop.documents.models import Document
from workshop.refresh.documents import BenchmarkDocument, EnergyDocument, GhostDocument, ScheduleDocument, WearDocument
from workshop.refresh.energy_services import long_item, predicted
from workshop.refresh.schedule_services import DAYS, schedule_item
from workshop.refresh.trace_services import TRACES
from workshop.stations.station import Item, Station


class RefreshStation(Station):
    number, slug, name = 6, "refresh", "Refresh plan"
    home, urls = "refresh", "workshop.refresh.urls"
    documents, jobs = (ScheduleDocument, BenchmarkDocument, EnergyDocument, GhostDocument, WearDocument), (DAYS, TRACES)
    device_rules = (("schedule", FRAME_RULES), ("buffers", BUFFER_RULES))

    def items(self, build: Build, device: Device) -> list[Item]:
        return [found for found in (schedule_item(build, device), long_item(build, device)) if found is not None]

    def predicted(self, build: Build, device: Device) -> Mapping[str, float]:
        return predicted(build, device)

    def copied(self) -> list[type[Document]]:
        return [ScheduleDocument, EnergyDocument, GhostDocument, WearDocument]

    def begun(self, build: Build, items: tuple[Item, ...]) -> bool:
        """It works out what follows from the screens; there is nothing to begin."""
        return False


STATION = RefreshStation()
