"""Station 9, Buoys."""

from functools import partial

from mosaic.device.budget import Need
from mosaic.findings import Finding
from mosaic.forms import from_record
from tests.workshop.made_up.documents import Buoy
from workshop.documents import shelf
from workshop.jobs.kinds import JobKind
from workshop.jobs.progress import Made
from workshop.stations.station import File, Item, Station

LOUD = Finding("buoy.too-loud", "must fix", "Buoys", "Three bells are two too many", "It wakes the marsh.")
RING = JobKind("ring", "ringing", "", "text/plain", lambda job, progress: Made(b"ding", "", "rung"))


class BuoyStation(Station):
    number, slug, name = 9, "buoys", "Buoys"
    home, urls = "buoys", "tests.workshop.made_up.urls"
    documents = (Buoy,)
    jobs = (RING,)

    def items(self, build, device):
        return [
            Item(
                row.ref, row.name, row.url, (Need("arrays", "buoys", 100 * row.record.bells),),
                (from_record(LOUD),) if row.record.bells > 2 else (),
            )
            for row in shelf.of_kind(build, Buoy)
        ]  # fmt: skip

    def files(self, build, device):
        return [partial(lambda row: [File(row.name, "txt", b"ding")], row) for row in shelf.of_kind(build, Buoy)]


STATION = BuoyStation()
