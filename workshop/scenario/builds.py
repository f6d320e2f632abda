"""The Saltmarsh Boathouse: what its makers have on the bench."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from workshop.scenario import painting

PASSWORD = "boathouse-demo"
WORKSHOP = "Saltmarsh Boathouse"


@dataclass(frozen=True)
class DemoPicture:
    """A painted picture and the recipe that suits it."""

    name: str
    file_name: str
    paint: Callable[[], bytes]
    recipe: dict[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class DemoBuild:
    """A build by its parts' names."""

    name: str
    place: str
    panel: str
    board: str
    link_kind: str
    values: dict[str, Any]
    pictures: tuple[DemoPicture, ...] = ()


SETUP = {
    "tools": [
        {"name": "build tool", "version": "3.2.1", "kept_in": "the club's laptop"},
        {"name": "display library", "version": "1.4.0", "kept_in": "the project's own folder"},
    ],
    "options": [{"name": "clock of the processor", "value": "48 MHz"}],
    "memory": [
        {"name": "tide program", "kind": "program", "size_bytes": 393216},
        {"name": "tables", "kind": "files", "size_bytes": 65536},
    ],
    "edits": [
        {
            "library": "display library", "version": "1.4.0", "path": "src/limits.h", "line": 42, "before": "MAX_PLANES 1",
            "after": "MAX_PLANES 2", "why": "four colours come in one plane, but the cleaning pass needs two",
        }
    ],
    "loading": "Hold BOOT, press RST, let BOOT go.\n",
    "trials": [
        {"day": "2026-03-14", "worked": False, "words": "white glass: drive voltages were never switched on"},
        {"day": "2026-03-15", "worked": True, "words": "first tide table shown"},
    ],
}  # fmt: skip
STAGES = {
    "power": {"done": True, "day": "2026-03-14", "reading": 3.28},
    "answer": {"done": True, "day": "2026-03-14", "reading": 12.0},
    "set-up": {"done": True, "day": "2026-03-15", "reading": 96.0},
    "card": {"done": True, "day": "2026-03-15", "reading": None},
}
COUNTER_STAGES = {
    "power": {"done": True, "day": "2026-04-02", "reading": 3.31},
    "answer": {"done": True, "day": "2026-04-02", "reading": 60.0},
    "set-up": {"done": True, "day": "2026-04-02", "reading": 1.2},
    "card": {"done": True, "day": "2026-04-02", "reading": None},
    "offset": {"done": True, "day": "2026-04-02", "reading": None},
    "picture": {"done": False, "day": "2026-04-03", "reading": 61.0},
}
TOUCH_READINGS = "441 402\n3702 388\n3688 3655\n430 3671\n2071 2026\n"
"""Raw readings of the five crosses, taken with a knitting needle."""
SLIPWAY_COLORS = ("#222021", "#dcdbd2", "#a52a22", "#d6ad24")
"""What the slipway's e-paper really shows."""
DRILLS = (
    ("panel.mirror-x", "panel.mirror-x"), ("array.bit-order", "array.along"), ("program.start-byte", "panel.column-offset"),
    ("panel.half-turn", "panel.half-turn"), ("array.bit-order", "array.along"), ("set-up.height", "set-up.height"),
    ("array.polarity", "array.polarity"),
)  # fmt: skip
"""(made, named): what the makers have practised, and what they still confuse."""
SETUPS = {
    "Tide & wind board": SETUP,
    "Stroke-rate counter": {"tools": [{"name": "build tool", "version": "2.9.0", "kept_in": "the club's laptop"}]},
}
STAGES_OF = {"Tide & wind board": STAGES, "Stroke-rate counter": COUNTER_STAGES}
TOUCHED = "Sign-out panel"
"""The build whose touch panel was measured."""
MEASURED = "Tide & wind board"
"""The build whose colours were measured by a photo."""
FED = "Stroke-rate counter"
"""The build over whose live feed a program has drawn."""

BUILDS = (
    DemoBuild(
        "Tide & wind board", "on the slipway", "epaper-296x128-four-colour", "low-power", "spi",
        {
            "supply_kind": "cell", "cell_v": 3.7, "capacity_mah": 2000, "viewing_distance_mm": 900, "light_lux": 8000,
            "frame_time_limit_ms": 20000, "energy_limit_mwh": 12, "update_interval_s": 900,
            "opening": {"x_mm": 16.2, "y_mm": 4.9, "width_mm": 68.6, "height_mm": 28.6, "corner_mm": 1.0},
        },
        (
            DemoPicture(
                "Slip at dusk", "slip-at-dusk.png", painting.slip_at_dusk,
                {"exposure": 0.35, "saturation": 1.15, "nominal_share": 15.0},
            ),
            DemoPicture("Morning mist", "morning-mist.png", painting.morning_mist, {"contrast": 1.15, "anchor": "bottom"}),
        ),
    ),
    DemoBuild(
        "Stroke-rate counter", "in the boat", "two-zone-oled-128x64", "small", "i2c",
        {
            "supply_kind": "cell", "cell_v": 3.7, "capacity_mah": 500, "viewing_distance_mm": 700, "light_lux": 10000,
            "frame_time_limit_ms": 40, "energy_limit_mwh": 250, "on_hours_per_day": 2,
        },
        (
            DemoPicture(
                "Club crest", "club-crest.png", painting.club_crest,
                {"method": "threshold", "auto_threshold": True, "fit": "contain", "ground": "#000000", "scaling": "area"},
            ),
            DemoPicture(
                "Slip, small", "slip-at-dusk.png", painting.slip_at_dusk,
                {"method": "bayer-8", "contrast": 1.2, "anchor": "left"},
            ),
        ),
    ),
    DemoBuild(
        "Barometer", "in the club room", "tft-240x240-round", "low-power", "spi",
        {"supply_kind": "mains", "viewing_distance_mm": 700, "light_lux": 300, "frame_time_limit_ms": 50},
        (
            DemoPicture("Fair weather", "fair-weather.png", painting.fair_weather, {"method": "bayer-8", "scaling": "area"}),
            DemoPicture("Rain coming", "rain-coming.png", painting.rain_coming, {"method": "bayer-8", "scaling": "area"}),
            DemoPicture("Wind rising", "wind-rising.png", painting.wind_rising, {"method": "bayer-8", "scaling": "area"}),
        ),
    ),
    DemoBuild(
        "Sign-out panel", "by the boat racks", "tft-320x240-touch", "wireless", "spi",
        {
            "supply_kind": "mains", "viewing_distance_mm": 450, "light_lux": 300, "frame_time_limit_ms": 35,
            "sending": {"cell_px": 12},
        },
    ),
    DemoBuild(
        "Club room screen", "over the club room table", "serial-tft-1024x600", "wireless", "uart",
        {"supply_kind": "mains", "viewing_distance_mm": 900, "light_lux": 200, "buffer_bands": 0},
    ),
)  # fmt: skip

# What the makers have found out of parts in hand: changes by path, over a passport of the catalogue.
OWN_PANELS = (
    (
        "mono-oled-128x64-132",
        {
            "name": "the OLED from the spares drawer",
            "owned": {
                "marking": "SB-13-W rev 2", "seller": "1.3 inch screen, white, four pins, works with everything", "price": 6.9,
                "currency": "EUR",
                "notes": "Arrived with the first spare boat lamp. Picture sat two columns too far left at first.",
            },
            "power": {"full_on_ma": 27.5, "basis": "measured"},
        },
    ),
    (
        "epaper-296x128-four-colour",
        {
            "name": "slipway e-paper, second batch",
            "owned": {
                "marking": "SW29-4C", "seller": "2.9 inch four colour paper display module, very low power", "price": 21.5,
                "currency": "EUR", "notes": "Yellow is greener below 10 °C.",
            },
            "palette": {"measured": ["#201e1f", "#e2e0d4", "#a8281f", "#d8b41e"]},
        },
    ),
)  # fmt: skip
OWN_BOARD = ("wireless", "the boathouse's wireless board", {"23": "MOSI (white)", "18": "CLK (yellow)", "5": "CS (green)"})
COMPARISON = {
    "name": "a tide board on the slipway",
    "board": "low-power",
    "panels": ["epaper-296x128-four-colour", "epaper-400x300-black-white", "mono-oled-128x64-large", "tft-320x240-touch"],
    "prices": {
        "epaper-296x128-four-colour": "21.50 EUR",
        "epaper-400x300-black-white": "28 EUR",
        "tft-320x240-touch": "14.90 EUR",
    },
    "capacity_mah": 2000.0,
    "viewing_distance_mm": 900.0,
    "light_lux": 8000.0,
}
