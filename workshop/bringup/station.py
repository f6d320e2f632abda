"""Station 2, Bring-up."""

from typing import Any

from django.conf import settings
from django.urls import reverse

from mosaic.findings import rules
from workshop.bringup import demo
from workshop.bringup.documents import PatchPhotoDocument, StageNotesDocument, TouchReadingsDocument
from workshop.bringup.feed_views import feed_of
from workshop.bringup.models import Feed
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.stations.station import Item, LiveFeed, Station


class BringUpStation(Station):
    number, slug, name = 2, "bring-up", "Bring-up"
    home, urls = "bringup-stages", "workshop.bringup.urls"
    begin = "go through the stages"
    documents = (StageNotesDocument, PatchPhotoDocument, TouchReadingsDocument)
    device_rules = (("bringup-stages", rules.SENDING_RULES),)

    def begun(self, build: Build, items: tuple[Item, ...]) -> bool:
        return shelf.single(build, StageNotesDocument) is not None

    def live_feed(self, build: Build) -> LiveFeed:
        feed = feed_of(build)
        return LiveFeed(
            settings.FEED_PORT, feed.token, reverse("bringup-feed-png", args=[build.pk, feed.version]),
            reverse("bringup-feed-state", args=[build.pk]), reverse("bringup-feed-input", args=[build.pk]),
        )  # fmt: skip

    def live_values(self, build: Build) -> dict[str, str]:
        return next(iter(Feed.objects.filter(build=build).values_list("values", flat=True)), {})

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        demo.load(builds, person)


STATION = BringUpStation()
