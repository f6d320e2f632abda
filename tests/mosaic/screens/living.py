"""A screen on which everything follows values, for tests: on any panel, with states drawn by lot."""

import numpy as np

from mosaic.screens.kit import Kit
from mosaic.screens.screen import Anchor, Design, Element, Follow, Part, Screen, Size
from mosaic.values.maps import Map
from mosaic.values.stand_in import StandIn
from mosaic.values.states import State
from mosaic.values.value import Value

VALUES = (
    Value("v1", "tide", decimals=2, low=-150, high=680, step=5, unit="m", stale="old", max_age_s=60, stand_in=StandIn("walk", every_ms=500)),
    Value("v2", "now", "time", low=0, high=86_399, stand_in=StandIn("clock")),
    Value("v3", "flow", "word", words=("ebb", "slack", "flood"), absent="?"),
    Value("v4", "lamp", "yes/no"),
    Value("v5", "boat", "text", most_bytes=6, stand_in=StandIn("list", listed=("Teal", "Otter", "Heron"))),
    Value("v6", "angle", low=0, high=359, absent="", stand_in=StandIn("sine")),
    Value("v7", "day", "date", low=20_000, high=21_000),
    Value("v8", "out for", "duration", low=-600, high=90_000),
    Value("v9", "big", low=-9_999_999, high=9_999_999),
)  # fmt: skip
PART = Part("p1", "Foot", 60, 14, (
    Element("e1", "rectangle", width=Size("as"), height=Size("as"), filled=False, follows=(Follow("shown", "v4"),)),
    Element("e2", "text", x=Anchor("middle", "glass", "middle"), y=Anchor("middle", "glass", "middle"), text="{v3}"),
))  # fmt: skip
DESIGN = Design(parts=(PART,), values=VALUES)


def at(x: int, y: int) -> dict:
    return {"x": Anchor(plus=x), "y": Anchor(plus=y)}


def living(ink: str = "ink", other: str = "ground") -> Screen:
    """Every kind that can follow values, over the glass and partly beyond it."""
    wide = Map("line", ((-150, 0), (680, 60)))
    colors = Map("ramp", ((-150, 0), (680, 0)), (ink, other))
    steps = Map("steps", ((-150, 0), (0, 0), (300, 0)), (ink, other, ink))
    elements = (
        Element("e1", "text", **at(2, 0), text="Tide {v1:+.1u} at {v2:h:mm am}"),
        Element("e2", "value", **at(-3, 14), of="v1", shape="07.2", align="end", width=Size("pixels", 50), overflow="dashes"),
        Element("e3", "value", **at(60, 14), of="v9", width=Size("pixels", 20), overflow="largest"),
        Element("e4", "text", **at(90, 14), text="{v5} {v8:d h}", width=Size("pixels", 30), overflow="scroll"),
        Element("e5", "text", **at(70, 28), text="{v7:weekday} {v7:dd.mm.}", width=Size("pixels", 31), overflow="clip", second=other),
        Element("e6", "bar", **at(2, 30), low=-150, high=680, second=other, follows=(Follow("value", "v1"), Follow("color", "v1", steps))),
        Element("e7", "gauge", **at(10, 36), width=Size("pixels", 48), height=Size("pixels", 40), low=0, high=359, ticks=3, second=other,
                follows=(Follow("value", "v6"),)),
        Element("e8", "needle", **at(60, 30), width=Size("pixels", 41), height=Size("pixels", 41), low=-150, high=680, thickness=2,
                follows=(Follow("value", "v1"),)),
        Element("e9", "switch", **at(96, 44), low=0, high=1, follows=(Follow("value", "v4"),)),
        Element("e10", "list", **at(100, 0), text="ebb\nslack\n{v3}", follows=(Follow("number", "v3"),)),
        Element("e11", "button", **at(4, 50), text="{v5}", follows=(Follow("second", "v1", colors),)),
        Element("e12", "cell", **at(40, 52), source="strip-1", opaque=False, follows=(Follow("number", "v3", Map("steps", ((0, 0), (1, 1)))),)),
        Element("e13", "turned", **at(50, 40), source="strip-1", number=1, opaque=False, follows=(Follow("turn", "v6"),)),
        Element("e14", "circle", filled=False, **at(30, 20), follows=(Follow("radius", "v1", Map("table", ((-150, 0), (0, 3), (680, 12)))), Follow("thickness", "v3"))),
        Element("e15", "rectangle", x=Anchor("start", "e14", "end", 2), y=Anchor("middle", "e14", "middle"), width=Size("pixels", 9),
                height=Size("pixels", 5), follows=(Follow("width", "v1", wide), Follow("color", "v1", colors))),
        Element("e16", "arc", **at(0, 0), width=Size("pixels", 30), height=Size("pixels", 30), filled=False, follows=(Follow("span", "v6"), Follow("start", "v6", Map("line", ((0, 90), (10, 80)))))),
        Element("e17", "line", **at(20, 10), width=Size("pixels", 30), height=Size("pixels", 12), follows=(Follow("x", "v1", wide), Follow("y", "v6", Map("steps", ((0, -4), (180, 50)))))),
        Element("e18", "part", **at(60, 50), part="p1", follows=(Follow("shown", "v3"),)),
        Element("e19", "sparkline", **at(4, 4), of="v1", low=-150, high=680, count=20),
        Element("e20", "plot", **at(50, 8), of="v1", low=680, high=-150, count=12, labels=True, thickness=2, width=Size("pixels", 60), height=Size("pixels", 40)),
        Element("e21", "block", **at(2, 20), text="Back by {v2:h am}\nin {v8:h:mm:ss} or {v9: 9}", width=Size("pixels", 66), gap=1),
        Element("e22", "triangle", **at(100, 30), follows=(Follow("height", "v1", wide), Follow("shown", "v4"))),
        Element("e23", "text", **at(70, 2), text="still", second=other),
    )  # fmt: skip
    return Screen(elements)


def lot(seed: int, kit: Kit) -> State:
    """A state by lot: extremes and absent readings often, numbers beyond their bounds too."""
    dice = np.random.default_rng(seed)
    readings, past = {}, {}
    for value in kit.values.values():
        low, high = value.bounds
        if value.kind == "text":
            readings[value.id] = str(dice.choice(["Teal", "Otter", "é°", "A"]))
        else:
            way = dice.integers(8)
            beyond = (high + 7, low - 9) if value.kind not in ("word", "yes/no", "date", "time") else (high, low)
            readings[value.id] = int((low, high, *beyond)[way]) if way < 4 else int(dice.integers(low, high + 1))
        if dice.integers(6) == 0:
            readings[value.id] = None
        past[value.id] = tuple(
            None if dice.integers(5) == 0 else int(r) for r in dice.integers(low - 20, high + 20, dice.integers(0, 25))
        )
    stale = frozenset(ident for ident in kit.values if dice.integers(4) == 0)
    return State(str(seed), "by lot", readings, stale, past, int(dice.integers(0, 900_000)))
