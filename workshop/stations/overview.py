"""What every page of a build shows: device, budgets and findings, put together of what the stations hand in."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from django.urls import reverse

from mosaic.device.budget import Budget, BudgetPart, Content, budgets
from mosaic.device.device import Device
from mosaic.findings import Finding
from mosaic.findings.rules import device_findings
from mosaic.findings.subjects import DeviceSubject
from mosaic.forms import from_record
from mosaic.panels.wire import frame_parts
from workshop.builds.models import Build
from workshop.documents import shelf
from workshop.documents.models import Document
from workshop.memory import ByteCache
from workshop.stations import stations
from workshop.stations.station import Item, Offer, Station

_items = ByteCache("contents of builds", 16 * 2**20)
AS_MEASURED = "as measured"
"""The part of a budget by which measurements say that it is more or less than its other parts."""
_ITEM_BYTES = 2048
"""What an item takes in memory, about: a few short texts and numbers, and its findings."""


@dataclass(frozen=True)
class Placed:
    """A finding, the station it belongs to, and where it is looked at: the page of its item, or a page of the station."""

    station: Station
    finding: dict[str, Any] = field(hash=False)
    page: str = ""
    item: Item | None = None


@dataclass(frozen=True)
class Overview:
    """A build with everything that its pages have in common."""

    build: Build
    device: Device
    budgets: tuple[Budget, ...]
    by_station: dict[str, tuple[Item, ...]] = field(hash=False)
    findings: tuple[Placed, ...] = ()

    @cached_property
    def items(self) -> tuple[Item, ...]:
        return tuple(item for items in self.by_station.values() for item in items)

    @property
    def must_fix(self) -> int:
        return sum(placed.finding["severity"] == "must fix" for placed in self.findings)

    @property
    def worth_fixing(self) -> int:
        return len(self.findings) - self.must_fix

    def findings_on(self, page: str) -> list[dict[str, Any]]:
        """Findings on the device that stand on a page, by the name of its address."""
        return [placed.finding for placed in self.findings if placed.page == page]

    def findings_of(self, ref: str) -> list[dict[str, Any]]:
        """Findings on one item."""
        return [placed.finding for placed in self.findings if placed.item is not None and placed.item.ref == ref]

    def device_findings_at(self, slug: str) -> list[dict[str, Any]]:
        """Findings on the device that a station looks after."""
        return [placed.finding for placed in self.findings if placed.item is None and placed.station.slug == slug]

    @property
    def elsewhere(self) -> dict[str, Any]:
        """How many findings there are on the device itself, and the address where they begin."""
        placed = [placed for placed in self.findings if placed.item is None]
        page = (placed[0].page or placed[0].station.home) if placed else ""
        return {"on_device": len(placed), "device_url": reverse(page, args=[self.build.pk]) if page else ""}

    def offered(self, offer: Offer) -> list[Item]:
        """Items that offer something to other stations."""
        return [item for item in self.items if offer in item.offers]

    @property
    def first_glass(self) -> str:
        """Address of the first picture that stands on the glass; "" where there is none."""
        return next((item.image_url for item in self.items if item.image_url), "")


def _kept_items(station: Station, build: Build, device: Device) -> tuple[Item, ...]:
    """A station's items of a build, kept as long as neither device nor contents change."""
    key = (station.slug, build.pk, build.created, build.revision, build.content)
    kept = _items.get(key)
    if kept is None:
        several = [kind for kind in station.documents if not kind.SINGLE]
        kept = (*station.items(build, device), *(_unreadable(row) for row in shelf.unreadable(build, several)))
        if all(item.settled for item in kept):
            _items.put(key, kept, _ITEM_BYTES * (1 + len(kept)))
    return kept


def _unreadable(row: Document) -> Item:
    """In the place of a document that cannot be read."""
    return Item(row.ref, row.name, row.url, findings=(_cannot_be_read(row),))


def _cannot_be_read(row: Document) -> dict[str, Any]:
    why = "Its build works without it until it is set right or deleted; nothing of it is lost."
    name = row.NOUN.capitalize() if row.SINGLE else row.name
    return from_record(Finding("document.cannot-be-read", "must fix", row.NOUN.capitalize(), f"{name}: {row.problem}", why))


def read_ahead(builds: Iterable[Build]) -> None:
    """Read at once what the overviews of several builds need."""
    builds = list(builds)
    keys = [station.slug for station in stations()]
    cold = [b for b in builds if any(_items.get((slug, b.pk, b.created, b.revision, b.content)) is None for slug in keys)]
    shelf.load_all(cold)
    shelf.load_singles(builds)
    for station in stations():
        station.read_ahead(builds)


def as_measured(sums: tuple[Budget, ...], build: Build) -> tuple[Budget, ...]:
    """Budgets with what measurements say that they are more or less, as a part of its own."""
    factors = {name: factor for station in stations() for name, factor in station.factors(build).items()}
    if not factors:
        return sums
    return tuple(
        replace(one, parts=(*one.parts, BudgetPart(AS_MEASURED, one.value * (factors[one.slug] - 1), "measured")))
        if one.slug in factors and one.value else one
        for one in sums
    )  # fmt: skip


def overview_of(build: Build, *, device: Device | None = None, unsaved: dict[str, Item] | None = None) -> Overview:
    """Budgets and findings of a build.

    Parameters
    ----------
    device : the build's, if the caller has it already
    unsaved : items that are being changed, by their reference, in place of the saved ones
    """
    device = device or build.to_device()
    moving = unsaved or {}
    by_station = {}
    for station in stations():
        items = _kept_items(station, build, device)
        by_station[station.slug] = tuple(moving.get(item.ref, item) for item in items) if moving else items
    items = [item for of_station in by_station.values() for item in of_station]
    light = max((item.light_share for item in items if item.light_share is not None), default=0.0)
    frame = frame_parts(device.passport, device.turn, bytes(device.passport.frame_bytes))
    content = Content(tuple(need for item in items for need in item.needs), frame, light)
    sums = as_measured(budgets(device, content), build)
    subject = DeviceSubject(device, sums)
    placed = []
    unreadable = shelf.unreadable_singles(build)
    for station in stations():
        placed += [Placed(station, _cannot_be_read(row), row.PAGE) for row in unreadable if type(row) in station.documents]
        for page, rules in station.device_rules:
            placed += [Placed(station, from_record(found), page) for found in device_findings(subject, rules)]
        for item in by_station[station.slug]:
            placed += [Placed(station, found, item=item) for found in item.findings]
    return Overview(build, device, sums, by_station, tuple(placed))
