"""What station 3 lays out in the demo: pictures, sets, variants, recipes by name, a strip, a figure, an animation."""

from typing import Any

from mosaic.animation.making import AnimationPlan
from mosaic.reduce.recipe import Recipe
from mosaic.segments.figure import first_plan
from mosaic.strips.cutting import StripPlan
from workshop.builds.models import Build
from workshop.documents.models import Document
from workshop.documents.originals import keep_picture
from workshop.documents.services import add
from workshop.pictures.documents import Animation, Figure, Picture, Strip
from workshop.pictures.recipes import save_as
from workshop.pictures.services import add_picture, keep_variant, lay_in_set
from workshop.scenario import painting
from workshop.scenario.builds import BUILDS

DIALS = ("slack-low", "low-rising", "half-flood", "high-rising", "slack-high", "high-falling", "half-ebb", "low-falling")
RECIPES = (
    ("Slipway photo", {"exposure": 0.35, "saturation": 1.15, "nominal_share": 15.0, "polish": True}),
    ("Glyphs that change", {"method": "bayer-8", "scaling": "area"}),
    ("Line art", {"method": "threshold", "auto_threshold": True, "fit": "contain", "scaling": "area"}),
)


def load(builds: dict[str, Build], person: Any) -> None:
    """Lay it into the demo's builds, by name."""
    for demo in BUILDS:
        for picture in demo.pictures:
            original = keep_picture(data=picture.paint(), file_name=picture.file_name, owner=person)
            recipe = Recipe().with_changes(**picture.recipe)
            told = {"original": original, "file_name": picture.file_name, "recipe": recipe, "name": picture.name}
            add_picture(build=builds[demo.name], **told)
    for name, changes in RECIPES:
        save_as(owner=person, name=name, recipe=Recipe().with_changes(**changes))
    barometer, counter, board = (builds[name] for name in ("Barometer", "Stroke-rate counter", "Tide & wind board"))
    weather = list(Picture.objects.filter(build=barometer).values_list("pk", flat=True))
    lay_in_set(build=barometer, set_name="Weather glyphs", numbers=weather, recipe_of=None)
    dusk = Picture.objects.of(board)[0]
    keep_variant(picture=dusk, name="Without a grid", recipe=dusk.record.with_changes(method="blue-noise"))
    _add(Strip, counter, person, "Tide dials", StripPlan(columns=8, baseline=2, names=DIALS), painting.tide_dials(), "png")
    passing = AnimationPlan(recipe=Recipe(method="blue-noise", contrast=1.3))
    _add(Animation, counter, person, "Boat passing", passing, painting.boat_passing(), "gif")
    add(Figure, build=counter, name="Stroke rate", record=first_plan(counter.to_device()))


def _add(kind: type[Document], build: Build, person: Any, name: str, plan: object, data: bytes, ending: str) -> None:
    file_name = f"{name.lower().replace(' ', '-')}.{ending}"
    original = keep_picture(data=data, file_name=file_name, owner=person)
    add(kind, build=build, name=name, record=plan, sources=[(original, file_name)])
