"""Sets, variants, recipes by name, and pieces of the demo."""

from mosaic.animation.making import AnimationPlan
from mosaic.forms import from_record
from mosaic.reduce.recipe import Recipe
from mosaic.segments.figure import first_plan
from mosaic.strips.cutting import StripPlan
from workshop.accounts.models import User
from workshop.builds.models import Build
from workshop.demo import painting
from workshop.pictures.models import Piece
from workshop.pictures.pieces import add_piece
from workshop.pictures.recipes import save_as
from workshop.pictures.services import keep_original, keep_variant, lay_in_set

DIALS = ("slack-low", "low-rising", "half-flood", "high-rising", "slack-high", "high-falling", "half-ebb", "low-falling")
RECIPES = (
    ("Slipway photo", {"exposure": 0.35, "saturation": 1.15, "nominal_share": 15.0, "polish": True}),
    ("Glyphs that change", {"method": "bayer-8", "scaling": "area"}),
    ("Line art", {"method": "threshold", "auto_threshold": True, "fit": "contain", "scaling": "area"}),
)


def load_pieces(builds: dict[str, Build], person: User) -> None:
    """Lay them into the demo's builds, by name."""
    for name, changes in RECIPES:
        save_as(owner=person, name=name, recipe=Recipe().with_changes(**changes))
    barometer, counter, board = (builds[name] for name in ("Barometer", "Stroke-rate counter", "Tide & wind board"))
    weather = list(barometer.pictures.values_list("pk", flat=True))
    lay_in_set(build=barometer, set_name="Weather glyphs", numbers=weather, recipe_of=None)
    dusk = board.pictures.select_related("head").first()
    keep_variant(picture=dusk, name="Without a grid", recipe=dusk.to_recipe().with_changes(method="blue-noise"))
    _add(
        counter,
        person,
        Piece.Kind.STRIP,
        "Tide dials",
        StripPlan(columns=8, baseline=2, names=DIALS),
        painting.tide_dials(),
        "png",
    )
    passing = AnimationPlan(recipe=Recipe(method="blue-noise", contrast=1.3))
    _add(counter, person, Piece.Kind.ANIMATION, "Boat passing", passing, painting.boat_passing(), "gif")
    add_piece(build=counter, kind=Piece.Kind.FIGURE, name="Stroke rate", description=from_record(first_plan(counter.to_device())))


def _add(build: Build, person: User, kind: str, name: str, plan: object, data: bytes, ending: str) -> None:
    file_name = f"{name.lower().replace(' ', '-')}.{ending}"
    original = keep_original(data=data, file_name=file_name, owner=person)
    add_piece(build=build, kind=kind, name=name, description=from_record(plan), sources=[(original, file_name)])
