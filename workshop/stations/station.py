"""What a station is: one description in each station's `station.py`, walked by everything that concerns all of them.

A station imports builds, documents, jobs and this, never another station. What one offers to others goes through
`Item.offers`, `pixels` and `cells`; references name documents, such as `figure-12`.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, ClassVar, Literal

import numpy as np
import numpy.typing as npt
from django.db.models import Model
from django.urls import reverse

from mosaic.behaviour.machine import Machine
from mosaic.behaviour.state import Happening
from mosaic.device.budget import Need
from mosaic.device.device import Device
from mosaic.findings.rules import Rules
from mosaic.lettering.glyph import Lettering
from mosaic.reduce.recipe import Recipe
from mosaic.screens.plan import Plan
from mosaic.screens.rendering import Rendered
from mosaic.strips.cells import Cell
from mosaic.values.states import State
from mosaic.values.value import Value
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents import shelf
from workshop.documents.models import Document, Original
from workshop.jobs.kinds import JobKind

if TYPE_CHECKING:
    from workshop.stations.overview import Overview

Offer = Literal["pixels", "cells", "lettering"]


@dataclass(frozen=True)
class Item:
    """What one thing of a build adds to it: a picture, a lettering, a screen.

    Attributes
    ----------
    ref, name, url : the document it is, what it is called, and its page
    needs : what it takes of the budgets
    findings : plain findings on it, worst first; they are fixed on its page
    light_share : mean light 0..1 while it is shown; None for what is never the whole glass
    image_url : its glass as PNG, "" where it has none
    offers : what other stations may take of it: whole-glass "pixels", "cells", a "lettering"
    settled : False while its figures are older than it is
    summary : a few words and figures on it, for lists
    group : documents of one group share what their kind says
    """

    ref: str
    name: str
    url: str
    needs: tuple[Need, ...] = ()
    findings: tuple[dict[str, Any], ...] = field(default=(), hash=False)
    light_share: float | None = None
    image_url: str = ""
    offers: tuple[Offer, ...] = ()
    settled: bool = True
    group: str = ""
    summary: str = ""

    @property
    def number(self) -> int:
        """The document's own number, for addresses."""
        return int(self.ref.rpartition("-")[2])

    @property
    def byte_count(self) -> int:
        """What it takes of the flash, in B."""
        return int(sum(need.value for need in self.needs if need.place in ("arrays", "files")))


@dataclass(frozen=True)
class Tab:
    """A page of a station."""

    name: str
    url: str
    here: bool


@dataclass(frozen=True, eq=False)
class Pixels:
    """What can be sent to a panel: palette indices (H, W) or RGB (H, W, 3), as the reader shall see them."""

    name: str
    pixels: npt.NDArray[np.uint8]
    key: str


@dataclass(frozen=True, eq=False)
class ShownScreen:
    """A screen as other stations may take it: drawn as it usually is, and its states, the usual one first.

    `key` is that of everything that it depends on.
    """

    ref: str
    name: str
    url: str
    image_url: str
    key: str
    rendered: Rendered
    states: tuple[State, ...]


@dataclass(frozen=True, eq=False)
class Living:
    """What a build does, as other stations may run it: its machine, screens that can be drawn by reference, and their names.

    `runs` are those that were kept: (reference, name, what happened, with ms). `key` is that of everything that it depends on.
    """

    key: str
    machine: Machine
    plans: Mapping[str, Plan]
    names: Mapping[str, str]
    runs: tuple[tuple[str, str, tuple[tuple[int, Happening], ...]], ...]


@dataclass(frozen=True, eq=False)
class FrameSource:
    """A screen, or a page that a host computes, as frames: what it depends on (`key`), the values it shows, how it is drawn."""

    ref: str
    name: str
    key: str
    values: tuple[Value, ...]
    draw: Callable[[State], npt.NDArray[np.uint8]]


@dataclass(frozen=True)
class LiveFeed:
    """Where a program that draws on the build's virtual panel connects, and the names of addresses that show what it draws.

    `state_url` gives the glass and figures as a partial that asks again by itself; `input_url` takes what somebody does to it.
    """

    port: int
    token: str
    glass_url: str
    state_url: str
    input_url: str


@dataclass(frozen=True)
class File:
    """A file for the maker's program, read back before it is given out."""

    title: str
    ending: str
    data: bytes


@dataclass(frozen=True)
class NextStep:
    """What a maker would do next, and where."""

    words: str
    url: str


class Station:
    """One station. Subclasses say what it is; every method has a default that a station without such work can keep."""

    number: ClassVar[int]
    slug: ClassVar[str]
    name: ClassVar[str]
    home: ClassVar[str]
    """Name of the address of its first page, which takes the build."""
    urls: ClassVar[str]
    """Module of its addresses, which lie below a build's."""
    documents: ClassVar[tuple[type[Document], ...]] = ()
    jobs: ClassVar[tuple[JobKind, ...]] = ()
    begin: ClassVar[str] = ""
    """What to do first in it, in a few words; "" where nothing has to be begun."""
    begun_by: ClassVar[type[Model] | None] = None
    """Rows of builds whose presence says that it has been begun; None where its items say so."""
    device_rules: ClassVar[tuple[tuple[str, Rules], ...]] = ()
    """Rules on the device that it looks after, by the name of the address of the page where their findings stand."""

    def items(self, build: Build, device: Device) -> list[Item]:
        """What its documents add to the build as it is saved."""
        return []

    def begun(self, build: Build, items: tuple[Item, ...]) -> bool:
        """Whether there is any work in it."""
        if self.begun_by is None:
            return bool(items)
        known: dict[str, bool] = build.__dict__.setdefault("_begun", {})
        if self.slug not in known:
            self.read_ahead([build])
        return known[self.slug]

    def next_step(self, overview: "Overview") -> NextStep | None:
        """What is missing first; None where it has what it needs."""
        if not self.begin or self.begun(overview.build, overview.by_station[self.slug]):
            return None
        return NextStep(self.begin, reverse(self.home, args=[overview.build.pk]))

    def read_ahead(self, builds: list[Build]) -> None:
        """Read at once which of several builds have rows of `begun_by`."""
        if self.begun_by is not None:
            rows = self.begun_by._default_manager.filter(build__in=builds)
            begun = set(rows.order_by().values_list("build_id", flat=True).distinct())
            for build in builds:
                build.__dict__.setdefault("_begun", {})[self.slug] = build.pk in begun

    def pixels(self, build: Build, device: Device, ref: str) -> Pixels | None:
        """The whole glass that a reference names; None where it is none of this station's."""
        return None

    def shown_screens(self, build: Build, device: Device) -> list[ShownScreen]:
        """Screens that can be drawn, with all their states."""
        return []

    def living(self, build: Build, device: Device) -> Living | None:
        """What the build does; None where this station does not know it, or there is nothing to run."""
        return None

    def cells(self, build: Build, device: Device, ref: str) -> tuple[Cell, ...] | None:
        """The cells that a reference names; None where it is none of this station's."""
        return None

    def lettering(self, build: Build, device: Device, ref: str, scale: float = 1.0) -> Lettering | None:
        """The lettering that a reference names; None where it is none of this station's, or cannot be made.

        `scale`: letters whose size is set in pixels are so many times as large.
        """
        return None

    def rescale(self, build: Build, scale: float) -> None:
        """Letters whose size is set in pixels are made so many times as large, for glass of other pixels."""

    def take_cells(self, *, build: Build, data: bytes, name: str, owner: Any) -> Document | None:
        """A small picture that another station has found, as a document whose one cell, of that name, it is."""
        return None

    def dim_when_quiet(self, build: Build, after_ms: int, percent: int) -> bool:
        """The light goes down when nobody has touched anything for so long, and up again by a touch; False where this station
        makes no rules, or nothing could wake it."""
        return False

    def as_it_stands(self, build: Build) -> str:
        """What of it a log keeps with an entry, in few words; "" where there is nothing."""
        return ""

    def predicted(self, build: Build, device: Device) -> Mapping[str, float]:
        """Of quantities that can be measured and are no budget, what it predicts, by their names, each in its unit."""
        return {}

    def factors(self, build: Build) -> Mapping[str, float]:
        """Of each budget, by its name, what measurements say that it is to be multiplied with."""
        return {}

    def frame_sources(self, build: Build, device: Device) -> list[FrameSource]:
        """What of it can be served as frames."""
        return []

    def live_feed(self, build: Build) -> LiveFeed | None:
        """The feed by which a program draws on the build's virtual panel; None where this station has none."""
        return None

    def live_values(self, build: Build) -> dict[str, str]:
        """What the maker's own program has sent of values, by name, as it was written."""
        return {}

    def texts(self, build: Build) -> list[str]:
        """Texts that the device shows by its documents, in the notation of texts with values, one a line."""
        return []

    def files(self, build: Build, device: Device) -> list[Callable[[], list[File]]]:
        """For each of its documents what makes its files; each raises `MosaicError` where they do not read back."""
        return []

    def copied(self) -> list[type[Document]]:
        """The kinds that come along to a new build with "all that is made"."""
        return [kind for kind in self.documents if not kind.SINGLE]

    def copy(self, origin: Build, build: Build, refs: dict[str, str]) -> None:
        """Copy its documents to another build as they are now. `refs` names old and new ones, and is added to."""
        for kind in self.copied():
            for document in shelf.of_kind(origin, kind):
                made = documents.copy_to(document, build, refs=refs, group=document.group)
                refs[document.ref] = made.ref

    def keep_upload(self, upload: Any, owner: Any) -> Original | None:
        """Keep a file that was dropped before there was a build for it; None where it is nothing for this station."""
        return None

    def begin_with(self, build: Build, original: Original, file_name: str) -> None:
        """Put a file that was kept so into its new build."""

    def take_picture(
        self, *, build: Build, data: bytes, file_name: str, name: str, recipe: Recipe, owner: Any
    ) -> Document | None:
        """Make a document of a picture that another station has found; None where this one makes none of pictures."""
        return None

    def demo(self, builds: dict[str, Build], person: Any) -> None:
        """Lay its part of the demo into the demo's builds, by name."""
