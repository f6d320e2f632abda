"""Station 7, Hand-over."""

from workshop.builds.models import Build
from workshop.handover.models import HandOver
from workshop.handover.services import JOB
from workshop.stations.station import Item, Station


class HandOverStation(Station):
    number, slug, name = 7, "hand-over", "Hand-over"
    home, urls = "hand-over", "workshop.handover.urls"
    jobs = (JOB,)

    def begun(self, build: Build, items: tuple[Item, ...]) -> bool:
        return HandOver.objects.filter(build=build).exists()


STATION = HandOverStation()
