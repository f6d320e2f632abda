"""Letterings of the demo, and the texts its screens show."""

from dataclasses import dataclass, field
from typing import Any

from mosaic.lettering.beginning import first_plan
from mosaic.lettering.faces import FACES
from mosaic.lettering.plan import GlyphEdit
from mosaic.lettering.source import font_info
from workshop.builds.models import Build
from workshop.lettering.cells import plan_of_pictures
from workshop.lettering.services import add_lettering, keep_texts
from workshop.stations.overview import overview_of


@dataclass(frozen=True)
class DemoLettering:
    """A lettering by its face and what is set otherwise than to begin with."""

    build: str
    name: str
    face: str
    size_px: int
    changes: dict[str, Any] = field(default_factory=dict)


TEXTS = {
    "Tide & wind board": "High water {00..23}:{00..59}\nTide {0.0..6.8} m\nWind {0..65} kn {N|NE|E|SE|S|SW|W|NW}\n"
    "{-9.9..38.5} °C",
    "Stroke-rate counter": "{0.0..48.0} /min\n{0:|1:}{00..59}.{0..9}\n{0..9999} m",
    "Barometer": "{950..1050} hPa\n{rising|steady|falling}",
    "Club room screen": "Next: {Heron|Teal}, {00..23}:{00..59}\n{0..16} out\n{0.0..6.8} m",
    "Sign-out panel": "Boat {1..24}: {on the water|in the rack}\nBack by {00..23}:{00..59}\n{0..16} oars out",
}
# The 7 gets a bar at the middle, as the club writes it.
SEVEN = GlyphEdit(ord("7"), 28.0, pixels=tuple((x, 9, 15) for x in range(4, 13)))
LETTERINGS = (
    DemoLettering(
        "Tide & wind board", "Tide figures", "hyperlegible", 28,
        {"preset": "screens", "axes": [{"tag": "wght", "value": 600.0}]},
    ),
    DemoLettering("Tide & wind board", "Small print", "sans", 13, {"preset": "western", "more": "→−≈"}),
    DemoLettering("Stroke-rate counter", "Rate", "segments", 40, {"preset": "numbers", "left_out": "+,%/"}),
    DemoLettering("Stroke-rate counter", "Legends", "fixed-5x8", 8, {"order": "pages"}),
    DemoLettering("Barometer", "Dial", "mono", 28, {"bits": 4, "preset": "screens"}),
    DemoLettering("Sign-out panel", "Rack list", "narrow", 24, {"bits": 2}),
    DemoLettering("Club room screen", "Club figures", "hyperlegible", 96, {"preset": "screens"}),
    DemoLettering("Club room screen", "Club text", "hyperlegible", 48, {"preset": "basic"}),
)  # fmt: skip


def load(builds: dict[str, Build]) -> None:
    """Lay them into the demo's builds, by name."""
    for name, written in TEXTS.items():
        keep_texts(build=builds[name], written=written, base=0)
    for demo in LETTERINGS:
        build, face = builds[demo.build], FACES[demo.face]
        plan = first_plan(build.to_device(), font_info(face.data, face.name), face=demo.face)
        plan = plan.with_changes(size_by="pixels", size_px=demo.size_px, **demo.changes)
        if demo.name == "Tide figures":
            plan = plan.with_edit(SEVEN)
        add_lettering(build=build, name=demo.name, plan=plan)
    counter = builds["Stroke-rate counter"]
    device = counter.to_device()
    dials = next(item for item in overview_of(counter, device=device).offered("cells") if item.name == "Tide dials")
    add_lettering(build=counter, name=dials.name, plan=plan_of_pictures(counter, device, dials.ref, dials.name))
