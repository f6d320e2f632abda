"""What a maker does with pictures beyond what is done with any document: sets, variants, recipes that keep their places."""

from dataclasses import replace

from django.db import transaction

from mosaic.errors import BadValueError
from mosaic.exports.result import file_title
from mosaic.reduce.recipe import Recipe, recipe_to_plain
from workshop.builds.models import Build
from workshop.documents import services as documents
from workshop.documents.models import Original
from workshop.documents.names import checked_name
from workshop.pictures.documents import Picture
from workshop.pictures.models import Variant

MAX_VARIANTS = 12
PLACE_FIELDS = ("crop_x", "crop_y", "crop_width", "crop_height", "regions", "pixel_edits")


def add_picture(*, build: Build, original: Original, file_name: str, recipe: Recipe | None = None, name: str = "") -> Picture:
    """Put an original into a build, with a recipe to begin with."""
    title = name or file_title(file_name)
    return documents.add(Picture, build=build, name=title, record=recipe or Recipe(), sources=[(original, file_name)])


def with_own_places(recipe: Recipe, own: Recipe) -> Recipe:
    """A recipe with the crop, regions and touch-up of another, which belong to its picture."""
    return replace(recipe, **{name: getattr(own, name) for name in PLACE_FIELDS})


def _set_changes(build: Build, set_name: str, recipe: Recipe, but: Picture) -> list[documents.Change]:
    """What the other pictures of a set become: this recipe, each with its own crop, regions and touch-up."""
    rows = Picture.objects.of(build).filter(group=set_name).exclude(pk=but.pk)
    return [documents.Change(row, with_own_places(recipe, row.record)) for row in rows]


def save_recipe(*, picture: Picture, base: int, recipe: Recipe) -> Picture:
    """Keep a recipe as a new revision, for all of the picture's set in one step; the same recipe again makes none."""
    along = _set_changes(picture.build, picture.group, recipe, picture) if picture.group else []
    return documents.save(picture, base=base, record=recipe, along=along)


@transaction.atomic
@transaction.atomic
def lay_in_set(*, build: Build, set_name: str, numbers: list[int], recipe_of: Picture | None) -> str:
    """Make these pictures of a build the set of this name; they take the recipe of one of them. The name as it is kept.

    Raises
    ------
    BadValueError
        The name is empty or too long, or no picture was chosen.
    """
    set_name = checked_name(set_name, "the set's name")
    documents.held(build)
    chosen = Picture.objects.filter(build=build, pk__in=numbers)
    if not chosen.exists():
        raise BadValueError("no picture was chosen; a set has at least one")
    Picture.objects.filter(build=build, group=set_name).exclude(pk__in=numbers).update(group="")
    chosen.update(group=set_name)
    rows = Picture.objects.of(build).filter(pk__in=numbers)
    leader = rows.filter(pk=recipe_of.pk if recipe_of else 0).first() or rows.first()
    leader.build = build
    save_recipe(picture=leader, base=leader.head_id, recipe=leader.record)
    documents.note_change(build)
    return set_name


@transaction.atomic
def dissolve_set(*, build: Build, set_name: str) -> None:
    """Its pictures keep their recipes and go their own ways."""
    documents.held(build)
    Picture.objects.filter(build=build, group=set_name).update(group="")
    documents.note_change(build)


def keep_variant(*, picture: Picture, name: str, recipe: Recipe) -> Variant:
    """Keep a recipe of a picture for comparison.

    Raises
    ------
    BadValueError
        The name is empty or too long, or there are too many.
    """
    name = checked_name(name, "the variant's name")
    if picture.variants.count() >= MAX_VARIANTS:
        raise BadValueError(f"this picture has {MAX_VARIANTS} variants, which is the most; drop one first")
    return Variant.objects.create(picture=picture, name=name, recipe=recipe_to_plain(recipe))
