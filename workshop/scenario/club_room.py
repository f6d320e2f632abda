"""The large serial panel over the club room table: what it shows, what its touches tell, where its values stand."""

from mosaic.behaviour.behaviour import Action, Area, Behaviour, Event, Rule, Trigger
from mosaic.screens.screen import Anchor, Design, Element, Follow, Ground, Screen, Size
from mosaic.serial.memory import MemoryMap, automatic
from mosaic.serial.plan import SerialPlan
from mosaic.serial.template import PACKETS
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Source, Value

NAME = "Club room screen"
VANE = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")
DESIGN = Design(
    values=(
        Value("v1", "time", "time", low=0, high=86_399, absent="--:--", stale="--:--", max_age_s=600,
              source=Source("clock", every_ms=60_000),
              stand_in=StandIn("clock", at=66_300)),
        Value("v2", "tide", decimals=1, low=0, high=68, unit="m", absent="--", stale="--", max_age_s=900,
              source=Source("level sensor at the slip", every_ms=60_000),
              stand_in=StandIn("sine", at=31, every_ms=60_000, period_s=44_700)),
        Value("v3", "wind", low=0, high=60, unit="kn", absent="--", stale="--", max_age_s=120,
              source=Source("cup on the flagstaff", every_ms=5000), stand_in=StandIn("walk", at=14, every_ms=5000, reach=4)),
        Value("v4", "from", "word", words=VANE, absent="-", stale="-", max_age_s=120,
              source=Source("vane on the flagstaff", every_ms=5000), stand_in=StandIn("walk", at=7, every_ms=5000, reach=1)),
        Value("v5", "boats out", low=0, high=16, absent="-", stale="-", max_age_s=120,
              source=Source("sign-out panel", every_ms=10_000),
              stand_in=StandIn("walk", at=3, every_ms=60_000, reach=1)),
        Value("v6", "lamp", "yes/no", words=("off", "on"), absent="-", stale="-", max_age_s=120,
              source=Source("rack lamp", every_ms=10_000),
              stand_in=StandIn("list", listed=(0, 1), every_ms=120_000)),
        Value("v7", "next outing", "text", most_bytes=24, absent="none", stale="none", max_age_s=3600,
              source=Source("club calendar", every_ms=60_000),
              stand_in=StandIn("list", listed=("Heron, 19:15", "Teal, 20:00"), every_ms=300_000)),
    ),
)  # fmt: skip


def _at(x: int, y: int) -> dict[str, Anchor]:
    return {"x": Anchor("start", "glass", "start", x), "y": Anchor("start", "glass", "start", y)}


def _px(width: int, height: int) -> dict[str, Size]:
    return {"width": Size("pixels", width), "height": Size("pixels", height)}


NIGHT = Ground("color", "#081c21")
KEY = {"lettering": "Club text", "color": "#ce9a31", "second": "#081c21"}
WATER = Screen(
    (
        Element("e1", "text", "Heading", **_at(48, 40), text="On the slip", lettering="Club text", color="#5ab2ce"),
        Element("e2", "text", "Hour", **_at(700, 24), text="{v1:hh:mm}", lettering="Club figures", color="#f7efde"),
        Element("e3", "text", "Tide", **_at(48, 160), text="{v2} m", lettering="Club figures", color="#f7efde"),
        Element("e4", "bar", "Height", **_at(48, 290), **_px(420, 28), low=0, high=68, color="#42aa7b", second="#18353a",
                follows=(Follow("value", "v2"),)),
        Element("e5", "text", "Wind", **_at(560, 160), text="{v3} kn {v4}", lettering="Club figures", color="#f7efde"),
        Element("e6", "text", "Outing", **_at(48, 400), text="Next: {v7}", lettering="Club text", color="#f7efde"),
        Element("e7", "button", "Boats", **_at(48, 490), **_px(280, 76), text="Boats", **KEY),
    ),
    ground=NIGHT,
)  # fmt: skip
BOATS = Screen(
    (
        Element("e1", "text", "Heading", **_at(48, 40), text="Boats", lettering="Club text", color="#5ab2ce"),
        Element("e2", "text", "Out", **_at(48, 160), text="Out: {v5}", lettering="Club figures", color="#f7efde"),
        Element("e3", "text", "Lamp", **_at(560, 176), text="Rack lamp {v6}", lettering="Club text", color="#f7efde"),
        Element("e4", "button", "Lamp key", **_at(560, 290), **_px(280, 76), text="Lamp", **KEY),
        Element("e5", "button", "Water", **_at(48, 490), **_px(280, 76), text="Water", **KEY),
    ),
    ground=NIGHT,
)  # fmt: skip
SCREENS = {"Water": WATER, "Boats": BOATS}
BEHAVIOUR = Behaviour(
    areas=(Area("a1", "Boats", "Water", "e7"), Area("a2", "Lamp", "Boats", "e4"), Area("a3", "Water", "Boats", "e5")),
    events=(
        Event("x1", 1, "boats wanted"),
        Event("x2", 2, "lamp wanted"),
        Event("x3", 3, "water wanted"),
        Event("x4", 4, "started"),
    ),
    rules=(
        Rule("r1", Trigger("release", "a1"), (Action("screen", "Boats", remember=False), Action("event", "x1")), "Water"),
        Rule("r2", Trigger("release", "a2"), (Action("event", "x2"),), "Boats"),
        Rule("r3", Trigger("release", "a3"), (Action("screen", "Water", remember=False), Action("event", "x3")), "Boats"),
        Rule("r4", Trigger("start"), (Action("event", "x4"),)),
    ),
    next_code=5,
)
PLAN = SerialPlan(automatic(DESIGN.values, MemoryMap()), PACKETS)
