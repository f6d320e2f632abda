"""Station 6, Refresh plan."""

from workshop.builds.models import Build
from workshop.stations.station import Item, Station


class RefreshStation(Station):
    number, slug, name = 6, "refresh", "Refresh plan"
    home, urls = "refresh", "workshop.refresh.urls"

    def begun(self, build: Build, items: tuple[Item, ...]) -> bool:
        """It works out what follows from the screens; there is nothing to begin."""
        return False


STATION = RefreshStation()
