"""What a new build can start from: another build, or a template, choosing what comes along."""

from dataclasses import dataclass, field
from typing import Any

from django.db import transaction

from mosaic.boards.board import board_from_plain
from mosaic.boards.board import catalogue as board_shelf
from mosaic.numbers import row_id
from mosaic.panels.loader import catalogue, passport_from_plain
from mosaic.panels.mounting import MountingPlan, mounting_plan
from mosaic.panels.passport import Passport
from mosaic.registry import Registry
from workshop.builds.models import Build, SetupDocument, WiringDocument
from workshop.builds.services import start_build
from workshop.documents import shelf
from workshop.documents.services import copy_to
from workshop.stations.exchange import contents_in_words, copy_all, left_behind_in_words

WISHES = (
    "supply_kind", "cell_v", "capacity_mah", "viewing_distance_mm", "light_lux", "frame_time_limit_ms", "energy_limit_mwh",
    "update_interval_s", "on_hours_per_day",
)  # fmt: skip
LIMITS = (("frame_time_limit_ms", "ms a frame"), ("energy_limit_mwh", "mWh a day"))
PARTS = (
    "passport", "passport_slug", "board", "board_slug", "link_kind", "clock_hz", "rotation", "mirrored", "opening",
    "buffer_bands",
)  # fmt: skip


@dataclass(frozen=True)
class Template:
    """A usual device: its parts, and what is asked of it."""

    slug: str
    name: str
    panel: str
    board: str
    link_kind: str
    wishes: dict[str, Any] = field(hash=False)


TEMPLATES: Registry[Template] = Registry(
    "template",
    (
        Template(
            "board-on-a-cell", "A notice board on a cell, updated now and then", "epaper-400x300-black-white", "low-power", "spi",
            {
                "supply_kind": "cell", "cell_v": 3.7, "capacity_mah": 2000.0, "viewing_distance_mm": 800.0, "light_lux": 500.0,
                "update_interval_s": 1800.0, "energy_limit_mwh": 20.0,
            },
        ),
        Template(
            "counter-in-hand", "A small counter in the hand, a few hours a day", "mono-oled-128x64", "small", "i2c",
            {
                "supply_kind": "cell", "cell_v": 3.7, "capacity_mah": 500.0, "viewing_distance_mm": 400.0, "light_lux": 1000.0,
                "on_hours_per_day": 2.0, "frame_time_limit_ms": 40.0, "energy_limit_mwh": 250.0,
            },
        ),
        Template(
            "round-gauge", "A round gauge on the wall, moving smoothly", "tft-240x240-round", "two-core", "spi",
            {"supply_kind": "mains", "viewing_distance_mm": 1000.0, "light_lux": 300.0, "frame_time_limit_ms": 33.0},
        ),
        Template(
            "touch-panel", "A touch panel with several screens", "tft-320x240-touch", "wireless", "spi",
            {"supply_kind": "mains", "viewing_distance_mm": 450.0, "light_lux": 300.0, "frame_time_limit_ms": 40.0},
        ),
        Template(
            "large-colour-picture", "A colour picture on the wall, changed once a day", "epaper-800x480-six-colour", "wireless",
            "spi",
            {
                "supply_kind": "cell", "cell_v": 3.7, "capacity_mah": 3000.0, "viewing_distance_mm": 1500.0, "light_lux": 200.0,
                "update_interval_s": 86400.0,
            },
        ),
    ),
    lambda template: template.slug,
)  # fmt: skip


@dataclass(frozen=True)
class Origin:
    """Where a build starts from, in one form for builds and templates."""

    key: str
    name: str
    parts_words: str
    wishes: dict[str, Any] = field(hash=False)
    build: Build | None = None
    template: Template | None = None

    @property
    def passport(self) -> Passport:
        """The panel that comes along."""
        return passport_from_plain(self.build.passport) if self.build else catalogue()[self.template.panel]  # type: ignore[union-attr]

    @property
    def plan(self) -> MountingPlan:
        """The panel's module as its reader sees it."""
        return mounting_plan(self.passport, self.build.to_device().turn if self.build else self.passport.rotation)

    @property
    def wishes_words(self) -> str:
        """What is asked of the device, in words."""
        w = self.wishes
        fed = f"a cell of {w['cell_v']:g} V and {w['capacity_mah']:g} mAh" if w.get("supply_kind") == "cell" else "mains"
        read = f"read from {w['viewing_distance_mm']:g} mm in {w['light_lux']:g} lux"
        limits = [f"{w[name]:g} {unit}" for name, unit in LIMITS if w.get(name)]
        return f"fed from {fed}, {read}" + (f", limits {' and '.join(limits)}" if limits else "")

    @property
    def contents_words(self) -> str:
        """What has been made for it, counted; "" for nothing."""
        return contents_in_words(self.build) if self.build else ""

    @property
    def left_behind_words(self) -> str:
        """What stays with the origin whatever is chosen; "" for a template."""
        if self.build is None:
            return ""
        found = left_behind_in_words(self.build)
        return f"{found}, and earlier revisions of everything" if found else "earlier revisions of everything"


def origin_of(user, key: str) -> Origin | None:
    """The origin of a key such as "template-round-gauge" or "build-3"; None where there is none."""
    if key.startswith("template-") and key.removeprefix("template-") in TEMPLATES:
        template = TEMPLATES[key.removeprefix("template-")]
        words = f"{catalogue()[template.panel].name}; {board_shelf()[template.board].name}"
        return Origin(key, template.name, words, template.wishes, template=template)
    build = user.builds.filter(pk=row_id(key.removeprefix("build-"))).first() if key.startswith("build-") else None
    if build is None:
        return None
    words = f"{passport_from_plain(build.passport).name}; {board_from_plain(build.board).name}"
    return Origin(key, build.name, words, {name: getattr(build, name) for name in WISHES}, build=build)


@transaction.atomic
def start_from(
    *, owner, origin: Origin, name: str, parts: dict[str, str] | None, wishes: bool, contents: bool, place: str = ""
) -> Build:
    """A build from an origin.

    Parameters
    ----------
    parts : panel, board and link_kind chosen anew; None takes the origin's own, snapshots and all
    wishes : whether limits, supply, distance and light come along
    contents : whether everything that is made for the origin comes along, each as it is now
    """
    more = {**(origin.wishes if wishes else {}), "place": place}
    if parts is not None:
        build = start_build(owner=owner, name=name, **parts, **more)
    elif origin.template is not None:
        own = origin.template
        build = start_build(owner=owner, name=name, panel=own.panel, board=own.board, link_kind=own.link_kind, **more)
    else:
        build = Build(owner=owner, name=name, **{part: getattr(origin.build, part) for part in PARTS}, **more)
        build.full_clean(exclude=["passport", "board"])
        build.save()
        for kind in (WiringDocument, SetupDocument):
            own_document = shelf.single(origin.build, kind) if origin.build else None
            if own_document is not None:
                copy_to(own_document, build)
    if contents and origin.build is not None:
        copy_all(origin.build, build)
    return build
