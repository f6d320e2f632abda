"""What the boathouse's devices show: screens by build, letterings and strips by their names."""

from typing import Any

from mosaic.screens.screen import Anchor, Design, Element, Follow, Ground, Guide, Part, Screen, Size, Style
from mosaic.values.bands import Band, Bands
from mosaic.values.maps import Map
from mosaic.values.stand_in import StandIn
from mosaic.values.value import Origin, Source, Value
from workshop.scenario import club_room


def under(ident: str, plus: int = 2) -> Anchor:
    """Below something."""
    return Anchor("start", ident, "end", plus)


def beside(ident: str, plus: int = 6) -> Anchor:
    """Right of something."""
    return Anchor("start", ident, "end", plus)


def same(ident: str, line: Any = "start", plus: int = 0) -> Anchor:
    """On the same line as something."""
    return Anchor(line, ident, line, plus)


def centred(to: str = "safe", plus: int = 0) -> Anchor:
    return Anchor("middle", to, "middle", plus)


def px(count: int) -> Size:
    return Size("pixels", count)


LEVEL = Source("level sensor at the slip", "mA", ((40, 0), (200, 68)), (112, 31), 60_000, 350)
VANE = ("N", "NE", "E", "SE", "S", "SW", "W", "NW")
TIDE_DESIGN = Design(
    values=(
        Value(
            "v1", "tide", decimals=1, low=0, high=68, unit="m", absent="--", stale="--", max_age_s=900, source=LEVEL,
            stand_in=StandIn("sine", at=46, every_ms=60_000, period_s=44_700),
        ),
        Value("v2", "high water", "time", low=0, high=86_399, absent="--:--", stand_in=StandIn("constant", at=67_320)),
        Value(
            "v3", "wind", low=0, high=60, unit="kn", stale="--", max_age_s=120,
            source=Source("cup on the flagstaff", "kn", (), None, 5000, 20),
            stand_in=StandIn("walk", at=14, every_ms=5000, reach=4),
        ),
        Value(
            "v4", "from", "word", words=VANE, absent="-", stale="-", max_age_s=120,
            source=Source("vane on the flagstaff", "", (), None, 5000, 20),
            stand_in=StandIn("walk", at=7, every_ms=5000, reach=1),
        ),
    ),
)  # fmt: skip
TIDE = Screen(
    (
        Element("e1", "text", "Heading", same("g1"), same("safe", plus=5), text="High water", lettering="Small print"),
        Element("e2", "text", "Hour", same("g1"), under("e1", 0), text="{v2:hh:mm}", lettering="Tide figures"),
        Element("e3", "line", "Rule", same("g1"), under("e2", 5), px(112), px(1)),
        Element("e4", "text", "Wind", same("g1"), under("e3", 5), text="Wind", lettering="Small print"),
        Element("e5", "text", "Knots", same("g1"), under("e4", 0), text="{v3} kn {v4}", lettering="Tide figures", color="red"),
        Element("e6", "text", "Now", same("e7"), same("e1", "base"), text="Tide now", lettering="Small print"),
        Element(
            "e7",
            "text",
            "Height",
            Anchor("end", "e8", "start", -10),
            same("e2", "base"),
            text="{v1} m",
            lettering="Tide figures",
            align="end",
        ),
        Element(
            "e8",
            "bar",
            "Gauge",
            same("safe", "end", -12),
            same("safe", plus=8),
            px(14),
            Size("until", to="safe", plus=-8),
            color="red",
            second="yellow",
            low=0,
            high=68,
            value=46,
            follows=(Follow("value", "v1"),),
        ),
        Element(
            "e9",
            "rectangle",
            "Gauge edge",
            same("e8", plus=-2),
            same("e8", plus=-2),
            Size("as", to="e8", plus=4),
            Size("as", to="e8", plus=4),
            filled=False,
        ),
        Element(
            "e10",
            "polyline",
            "Course",
            Anchor("end", "e8", "start", -10),
            under("e7", 6),
            points=((0, 34), (18, 20), (36, 6), (54, 0), (72, 8), (90, 22)),
            thickness=2,
        ),
        Element(
            "e11",
            "circle",
            "Moment",
            Anchor("middle", "e10", "start", 36),
            Anchor("middle", "e10", "start", 6),
            color="red",
            radius=4,
        ),
    ),
    (Guide("g1", "left margin", True, "start", 14),),
)
RATE_DESIGN = Design(
    values=(
        Value(
            "v1", "rate", decimals=1, low=0, high=450, step=5, unit="/min", absent="--.-", stale="--.-", max_age_s=6,
            source=Source("magnet under the seat", "/min", (), None, 1500, 0),
            stand_in=StandIn("walk", at=285, every_ms=1500, reach=15),
        ),
        Value("v2", "row", "duration", low=0, high=5999, absent="--:--", stand_in=StandIn("clock", at=725)),
        Value(
            "v3", "metres", low=0, high=9995, step=5, unit="m", absent="----", stale="----", max_age_s=10,
            source=Source("satellite receiver", "m", (), None, 2000, 15),
            stand_in=StandIn("ramp", at=1480, every_ms=2000, period_s=2000),
        ),
    ),
)  # fmt: skip
RATE = Screen(
    (
        Element(
            "e1",
            "text",
            "Unit",
            same("glass", plus=2),
            Anchor("middle", "zone1", "middle"),
            text="strokes /min",
            lettering="Legends",
        ),
        Element("e2", "text", "Clock", same("glass", "end", -2), same("e1", "base"), text="{v2:m:ss}", lettering="Legends"),
        Element("e3", "text", "Rate", centred("zone2"), Anchor("start", "zone2", "start", 2), text="{v1:4}", lettering="Rate"),
        Element(
            "e4",
            "bar",
            "Effort",
            same("zone2", plus=2),
            same("zone2", "end", -1),
            px(124),
            px(3),
            low=160,
            high=400,
            value=285,
            follows=(Follow("value", "v1"),),
        ),
    ),
)
DISTANCE = Screen(
    (
        Element(
            "e1", "text", "Heading", centred("glass"), Anchor("middle", "zone1", "middle"), text="Distance", lettering="Legends"
        ),
        Element("e2", "text", "Metres", centred("zone2"), Anchor("start", "zone2", "start", 2), text="{v3}", lettering="Rate"),
        Element("e3", "pattern", "Water", same("glass"), same("zone2", "end"), Size("as"), px(4), tile=("#...", "..#.")),
    ),
)
DIAL_DESIGN = Design(
    values=(
        Value(
            "v1", "pressure", low=950, high=1050, unit="hPa", absent="----", stale="----", max_age_s=1800,
            source=Source("barometer chip", "Pa", ((95_000, 950), (105_000, 1050)), (101_325, 1013), 60_000, 40),
            stand_in=StandIn("walk", at=1013, every_ms=60_000, reach=2),
            bands=Bands(
                (Band(None, 1000, "rain", "#9cc3e7"), Band(1000, 1020, "change", "#ce9a31"), Band(1020, None, "fair", "#42aa7b")),
                hysteresis=1, hold_ms=60_000,
            ),
        ),
        Value(
            "v2", "trend", "word", words=("falling", "steady", "rising"), absent="",
            stand_in=StandIn("list", listed=(0, 1, 2), every_ms=90_000),
        ),
        Value("v3", "weather", "word", words=("rain", "change", "fair"), absent="-", origin=Origin("band", "v1")),
    ),
)  # fmt: skip
DIAL = Screen(
    (
        Element(
            "e1",
            "needle",
            "Dial",
            centred("glass"),
            centred("glass"),
            px(226),
            px(226),
            second="#e75139",
            low=950,
            high=1050,
            value=1013,
            ticks=11,
            thickness=4,
            follows=(Follow("value", "v1"),),
        ),
        Element(
            "e2",
            "arc",
            "Fair",
            same("e1", plus=18),
            same("e1", plus=18),
            Size("as", to="e1", plus=-36),
            Size("as", to="e1", plus=-36),
            color="#42aa7b",
            start=360,
            span=100,
            thickness=5,
            filled=False,
        ),
        Element(
            "e3",
            "arc",
            "Change",
            same("e1", plus=18),
            same("e1", plus=18),
            Size("as", to="e1", plus=-36),
            Size("as", to="e1", plus=-36),
            color="#ce9a31",
            start=300,
            span=60,
            thickness=5,
            filled=False,
        ),
        Element(
            "e4",
            "text",
            "Pressure",
            centred("glass"),
            Anchor("base", "e5", "start", -6),
            text="{v1:u}",
            lettering="Dial",
            follows=(Follow("color", "v3", Map("bands")),),
        ),
        Element(
            "e5",
            "text",
            "Trend",
            centred("glass"),
            Anchor("end", "safe", "end", -2),
            text="{v2}",
            align="middle",
            lettering="Dial",
            color="#9cc3e7",
            follows=(Follow("color", "v2", Map("steps", ((0, 0), (1, 0), (2, 0)), ("#ce9a31", "#9cc3e7", "#42aa7b"))),),
        ),
    ),
    ground=Ground("gradient", "#101821", "#29415a"),
)
HEAD = Part(
    "p1",
    "Head",
    320,
    34,
    (
        Element("e1", "rectangle", "Band", width=Size("as"), height=Size("as"), color="#10495a"),
        Element(
            "e2",
            "text",
            "Club",
            Anchor("start", "glass", "start", 8),
            centred("glass"),
            text="Saltmarsh Boathouse",
            lettering="Rack list",
            color="#f7ebde",
            second="#10495a",
        ),
    ),
)
BOATS = ("Heron", "Teal", "Curlew", "Otter")
SIGN_OUT_DESIGN = Design(
    (Style("s1", "On water", "#f7ebde", "", "Rack list"), Style("s2", "Key", "#efb242", "", "Rack list")), (HEAD,),
    values=(
        Value("v1", "out", low=0, high=12, absent="-", stand_in=StandIn("walk", at=3, every_ms=8000, reach=1)),
        Value("v2", "back", "time", low=0, high=86_399, absent="--:--", origin=Origin("rules", first=70_200)),
        Value("v3", "lamp", "yes/no", words=("off", "on"), origin=Origin("rules", first=0)),
        Value("v4", "light", low=0, high=100, unit="%", absent="", stand_in=StandIn("sine", at=70, every_ms=500, period_s=60)),
        Value(
            "v5", "tide", decimals=1, low=0, high=68, unit="m", stale="--", max_age_s=900, source=LEVEL,
            stand_in=StandIn("sine", at=46, every_ms=60_000, period_s=44_700),
        ),
        Value(
            "v6", "wind", low=0, high=40, unit="kn", stale="--", max_age_s=120,
            source=Source("cup on the flagstaff", "kn", (), None, 5000, 20),
            stand_in=StandIn("walk", at=14, every_ms=5000, reach=3),
            bands=Bands(
                (Band(None, 12, "calm", "#42aa7b", outputs=(("o2", False),)),
                 Band(12, 28, "fresh", "#efb242", outputs=(("o2", False),)),
                 Band(28, None, "storm", "#e75139", blink_ms=1000, outputs=(("o2", True),))),
                hysteresis=2, hold_ms=15_000, mean_of=3,
            ),
        ),
        Value("v7", "turn in", "duration", low=0, high=22_500, absent="-:--", stand_in=StandIn("constant", at=4800)),
        Value("v8", "boat", "word", words=BOATS, absent="-", origin=Origin("rules", first=1)),
    ),
)  # fmt: skip


def _head() -> Element:
    return Element("e1", "part", "Head", part="p1")


NIGHT = Ground("color", "#081c21")
RACKS = Screen(
    (
        _head(),
        Element(
            "e2",
            "list",
            "Boats",
            Anchor("start", "glass", "start", 8),
            under("e1", 8),
            px(190),
            text="\n".join(BOATS),
            number=1,
            gap=18,
            style="s1",
            follows=(Follow("number", "v8"),),
        ),
        Element(
            "e3",
            "button",
            "Out",
            Anchor("end", "glass", "end", -8),
            same("e2"),
            px(104),
            px(40),
            text="Out",
            style="s2",
            second="#081c21",
        ),
        Element(
            "e4",
            "button",
            "Back",
            same("e3"),
            under("e3", 10),
            Size("as", to="e3"),
            Size("as", to="e3"),
            text="Back",
            style="s2",
            filled=False,
            second="#081c21",
        ),
        Element("e5", "text", "Count", same("e3"), Anchor("end", "glass", "end", -8), text="{v1} out", style="s1"),
    ),
    ground=NIGHT,
)
BOAT = Screen(
    (
        _head(),
        Element("e2", "text", "Boat", Anchor("start", "glass", "start", 8), under("e1", 10), text="{v8}, a pair", style="s1"),
        Element(
            "e3",
            "rounded",
            "Card",
            Anchor("start", "glass", "start", 8),
            under("e2", 8),
            px(304),
            px(74),
            color="#183039",
            radius=8,
        ),
        Element(
            "e4", "text", "Crew", same("e3", plus=10), same("e3", plus=8), text="Back by {v2:hh:mm}", style="s1", second="#183039"
        ),
        Element("e5", "text", "Oars", same("e4"), under("e4", 4), text="2 oars, 1 vest", style="s1", second="#183039"),
        Element(
            "e6",
            "switch",
            "Lamp",
            Anchor("end", "e3", "end", -12),
            centred("e3"),
            px(52),
            px(28),
            color="#efb242",
            second="#183039",
            value=1,
            high=1,
            follows=(Follow("value", "v3"),),
        ),
        Element(
            "e7",
            "button",
            "Sign",
            Anchor("start", "glass", "start", 8),
            Anchor("end", "glass", "end", -8),
            px(148),
            px(44),
            text="Sign out",
            style="s2",
            second="#081c21",
        ),
        Element(
            "e8",
            "button",
            "Home",
            beside("e7", 8),
            same("e7"),
            Size("as", to="e7"),
            Size("as", to="e7"),
            text="Racks",
            style="s2",
            second="#081c21",
            filled=False,
        ),
    ),
    ground=NIGHT,
)
TIMES = Screen(
    (
        _head(),
        Element("e2", "text", "Question", centred("glass"), under("e1", 10), text="Back when?", style="s1"),
        Element("e3", "row", "Keys", centred("glass"), under("e2", 14), gap=8, members=("e4", "e5", "e6")),
        Element("e4", "button", "Half", y=same("e3"), width=px(94), height=px(52), text="18:30", style="s2", second="#081c21"),
        Element("e5", "button", "Full", y=same("e3"), width=px(94), height=px(52), text="19:00", style="s2", second="#081c21"),
        Element("e6", "button", "Late", y=same("e3"), width=px(94), height=px(52), text="19:30", style="s2", second="#081c21"),
        Element(
            "e7",
            "bar",
            "Light",
            Anchor("start", "glass", "start", 12),
            Anchor("end", "glass", "end", -40),
            px(296),
            px(12),
            color="#efb242",
            second="#183039",
            value=70,
            follows=(Follow("value", "v4"),),
        ),
        Element("e8", "text", "Dusk", same("e7"), under("e7", 2), text="Dusk 20:10", style="s1"),
    ),
    ground=NIGHT,
)
WATER = Screen(
    (
        _head(),
        Element(
            "e2",
            "gauge",
            "Tide",
            Anchor("start", "glass", "start", 14),
            under("e1", 16),
            px(141),
            px(141),
            color="#5ab2ce",
            second="#183039",
            thickness=16,
            low=0,
            high=68,
            value=46,
            follows=(Follow("value", "v5"),),
        ),
        Element("e3", "text", "Metres", centred("e2"), centred("e2"), text="{v5} m", style="s1", second="#081c21"),
        Element(
            "e4",
            "needle",
            "Wind",
            Anchor("end", "glass", "end", -14),
            same("e2"),
            Size("as", to="e2"),
            Size("as", to="e2"),
            color="#f7ebde",
            second="#e75139",
            low=0,
            high=40,
            value=14,
            ticks=9,
            thickness=3,
            follows=(Follow("value", "v6"),),
        ),
        Element("e5", "text", "Knots", centred("e4"), Anchor("start", "e4", "end", 4), text="{v6} kn", style="s1"),
        Element("e6", "text", "Turn", centred("e2"), same("e5", "base"), text="turns in {v7:h:mm}", style="s1"),
    ),
    ground=NIGHT,
)
HELP = Screen(
    (
        _head(),
        Element(
            "e2",
            "block",
            "Words",
            Anchor("start", "glass", "start", 12),
            under("e1", 12),
            px(296),
            text="Touch a boat, then Out. Say when you will be back. Off the water? Touch Back.",
            gap=4,
            style="s1",
        ),
        Element(
            "e3",
            "polygon",
            "Boat",
            centred("glass"),
            Anchor("end", "glass", "end", -34),
            color="#efb242",
            points=((0, 10), (150, 10), (132, 26), (18, 26)),
        ),
        Element(
            "e4",
            "line",
            "Oar",
            Anchor("middle", "e3", "middle", 40),
            Anchor("start", "e3", "start", -6),
            px(58),
            px(26),
            color="#f7ebde",
            thickness=3,
        ),
        Element(
            "e5",
            "pattern",
            "Water",
            Anchor("start", "glass", "start"),
            Anchor("end", "glass", "end", 0),
            Size("as"),
            px(30),
            color="#5ab2ce",
            second="#081c21",
            tile=("#...", "....", "..#.", "...."),
        ),
    ),
    ground=NIGHT,
)
SCREENS: dict[str, dict[str, Screen]] = {
    "Tide & wind board": {"Tide": TIDE},
    "Stroke-rate counter": {"Rate": RATE, "Distance": DISTANCE},
    "Barometer": {"Dial": DIAL},
    "Sign-out panel": {"Racks": RACKS, "Boat": BOAT, "Times": TIMES, "Water": WATER, "Help": HELP},
    club_room.NAME: club_room.SCREENS,
}
DESIGNS: dict[str, Design] = {
    "Tide & wind board": TIDE_DESIGN, "Stroke-rate counter": RATE_DESIGN, "Barometer": DIAL_DESIGN,
    "Sign-out panel": SIGN_OUT_DESIGN, club_room.NAME: club_room.DESIGN,
}  # fmt: skip
