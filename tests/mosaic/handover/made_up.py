"""A whole build as a file for any panel: two letterings, three screens, values, and rules that lead about."""

from dataclasses import replace

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Button, Event, Output, Rule, TouchFeel, Trigger
from mosaic.boards.board import board_to_plain
from mosaic.boards.board import catalogue as boards
from mosaic.build_file import BuildFile, BuildRecord, DocumentOf
from mosaic.forms import from_record
from mosaic.lettering.plan import LetteringPlan
from mosaic.panels.loader import catalogue, passport_to_plain
from mosaic.screens.screen import Anchor, Design, Element, Follow, Screen, Size
from mosaic.values.bands import Band, Bands
from mosaic.values.maps import Map
from mosaic.values.value import Origin, Value

DESIGN = Design(
    start="screen-1",
    values=(
        Value("v1", "tide", decimals=1, low=0, high=68, unit="m", stale="old",
              bands=Bands((Band(None, 20, "ebb"), Band(20, 50, "half", outputs=(("o1", True),)), Band(50, None, "flood", blink_ms=600)), 3)),
        Value("v2", "state", "word", words=("ebb", "half", "flood"), absent="?", origin=Origin("band", "v1")),
        Value("v3", "colon", "yes/no", origin=Origin("blink", on_ms=300, off_ms=200)),
        Value("v4", "page", low=1, high=9, origin=Origin("rules", first=2)),
        Value("v5", "lamp", "yes/no", words=("off", "on"), origin=Origin("rules")),
    ),
)  # fmt: skip


def text(ident, x, y, words):
    return Element(ident, "text", x=Anchor(plus=x), y=Anchor(plus=y), text=words, lettering="lettering-1")


SCREENS = {
    "Tide": Screen((
        text("e1", 2, 0, "{v1} {v2}"),
        Element("e2", "bar", x=Anchor(plus=3), y=Anchor(plus=14), width=Size("pixels", 30), height=Size("pixels", 2), high=68,
                follows=(Follow("value", "v1"),)),
        Element("e3", "sparkline", x=Anchor(plus=36), y=Anchor(plus=3), width=Size("pixels", 20), height=Size("pixels", 10),
                of="v1", high=68, count=9),
    )),
    "Draw": Screen((
        text("e1", 2, 0, "p {v4}"),
        Element("e2", "rectangle", x=Anchor(plus=2), y=Anchor(plus=11), width=Size("pixels", 9), height=Size("pixels", 5),
                follows=(Follow("x", "v4", Map("line", ((1, 2), (9, 40)))),)),
    )),
    "Still": Screen((Element("e1", "rounded", x=Anchor(plus=3), y=Anchor(plus=3), width=Size("pixels", 23), height=Size("pixels", 9)),)),
}  # fmt: skip
"""The second is called as a part of the runtime is."""


def rules(change="cut"):
    leads = Action("screen", "screen-2", change=change, side="right", steps=4)
    return (
        Rule("r1", Trigger("release", "a1"), (leads, Action("event", "x1")), "screen-1"),
        Rule("r2", Trigger("button pressed", "b1"), (Action("add", "v4", 1, wrap=True),)),
        Rule("r3", Trigger("button held", "b1", ms=700), (Action("screen", "screen-3"),), "screen-2"),
        Rule("r4", Trigger("quiet", ms=900), (Action("screen", "screen-1"),)),
    )


def documents(change="cut", names=tuple(SCREENS)):
    behaviour = Behaviour((Area("a1", "Tide", "screen-1", "e1", 4),), rules(change), (Button("b1", "next"),), (),
                          (Output("o1", "lamp", shows="v5"),), (Event("x1", 1, "page shown"),), TouchFeel(samples=1))  # fmt: skip
    plan = LetteringPlan(face="narrow", size_by="pixels", size_px=10, preset="basic", bits=1)
    told = [
        ("lettering-1", "lettering", "Small", plan),
        ("design-1", "design", "Design", DESIGN),
        ("behaviour-1", "behaviour", "Behaviour", behaviour),
    ]
    told += [
        (f"screen-{n}", "screen", name, screen) for n, (name, screen) in enumerate(zip(names, SCREENS.values(), strict=True), 1)
    ]
    return tuple(
        DocumentOf(ref, kind, name, from_record(record), position=at) for at, (ref, kind, name, record) in enumerate(told)
    )


def settings(passport, **more):
    return {
        "rotation": 0, "mirrored": False, "link_kind": passport.links[0].kind, "clock_hz": 1_000_000, "supply_kind": "mains", "cell_v": 3.7,
        "capacity_mah": 1000.0, "viewing_distance_mm": 400.0, "light_lux": 300.0, "frame_time_limit_ms": None, "energy_limit_mwh": None,
        "update_interval_s": 900.0, "on_hours_per_day": 24.0, "buffer_bands": 1, "opening": None, "sending": None, "kept_as": "array",
    } | more  # fmt: skip


def build(slug, *, change="cut", more=(), **chosen):
    """The file of a build on a panel of the catalogue."""
    passport = catalogue()[slug]
    record = BuildRecord(
        "Slip board", passport_to_plain(passport), board_to_plain(boards()["roomy"] if "roomy" in boards() else next(iter(boards().values()))),
        settings=settings(passport, **chosen), documents=(*documents(change), *more),
    )  # fmt: skip
    return BuildFile(record, {})


def renamed(file, ref, name):
    """The same build with a document called otherwise."""
    documents_ = tuple(replace(one, name=name) if one.ref == ref else one for one in file.build.documents)
    return BuildFile(replace(file.build, documents=documents_), file.files)
