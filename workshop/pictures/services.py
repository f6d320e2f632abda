"""What a maker does with pictures: bring, change, undo, take out. Each is one transaction."""

from dataclasses import replace

from django.db import transaction
from django.db.models import Max

from mosaic.errors import BadValueError
from mosaic.exports.result import file_title
from mosaic.imports.pictures import MAX_FILE_BYTES, read_header, read_picture
from mosaic.reduce.methods import METHODS
from mosaic.reduce.recipe import Recipe, recipe_to_plain
from workshop.builds.models import Build, Original, Picture, PictureRevision
from workshop.builds.names import checked_name
from workshop.builds.originals import store
from workshop.builds.revisions import after, before, locked, point_to
from workshop.pictures.models import Variant

MAX_PICTURES = 200
MAX_VARIANTS = 12
PLACE_FIELDS = ("crop_x", "crop_y", "crop_width", "crop_height", "regions", "touches")


def keep_original(*, data: bytes, file_name: str, owner) -> Original:
    """Check a file to its last pixel, then keep it once.

    Raises
    ------
    BadPictureError
        The file is no picture, too large or damaged; nothing is kept.
    """
    header = read_header(data, file_name)
    read_picture(data, file_name)
    size = (header.width, header.height)
    return store(data=data, file_name=file_name, owner=owner, media_type=header.media_type, size=size)


def read_upload(upload) -> bytes:
    """The bytes of an uploaded file, no more than are needed to refuse it in words."""
    return upload.read(MAX_FILE_BYTES + 1) if upload.size <= MAX_FILE_BYTES + 1 else _too_large(upload)


def _too_large(upload) -> bytes:
    raise BadValueError(
        f"{upload.name} is {upload.size / 2**20:.1f} MiB; pictures up to {MAX_FILE_BYTES // 2**20} MiB are accepted"
    )


@transaction.atomic
def add_picture(*, build: Build, original: Original, file_name: str, recipe: Recipe | None = None, name: str = "") -> Picture:
    """Put an original into a build, with a recipe to begin with."""
    count = build.pictures.count()
    if count >= MAX_PICTURES:
        raise BadValueError(f"this build has {count} pictures; {MAX_PICTURES} are accepted")
    position = (build.pictures.aggregate(last=Max("position"))["last"] or 0) + 1
    picture = Picture.objects.create(
        build=build, name=name or file_title(file_name), file_name=file_name[:120], original=original, position=position
    )
    point_to(picture, _revise(picture, None, recipe or Recipe()))
    return picture


def _revise(picture: Picture, parent: PictureRevision | None, recipe: Recipe) -> PictureRevision:
    METHODS[recipe.method]  # an unknown method must not be saved
    return PictureRevision.objects.create(picture=picture, parent=parent, recipe=recipe_to_plain(recipe))


def with_own_places(recipe: Recipe, own: Recipe) -> Recipe:
    """A recipe with the crop, regions and touch-up of another, which belong to its picture."""
    return replace(recipe, **{name: getattr(own, name) for name in PLACE_FIELDS})


@transaction.atomic
def remake_set(*, build: Build, set_name: str, recipe: Recipe, but: Picture | None = None) -> int:
    """Give every picture of a set this recipe, each with its own crop, regions and touch-up; how many were changed."""
    changed = 0
    for row in build.pictures.select_for_update().select_related("head").filter(set_name=set_name):
        own = with_own_places(recipe, row.to_recipe())
        if row.pk != (but and but.pk) and own != row.to_recipe():
            point_to(row, _revise(row, row.head, own))
            changed += 1
    return changed


def _point_set_to(row: Picture, revision: PictureRevision) -> None:
    """Point a picture at a revision, and remake the rest of its set."""
    point_to(row, revision)
    if row.set_name:
        remake_set(build=row.build, set_name=row.set_name, recipe=row.to_recipe(), but=row)


@transaction.atomic
def save_recipe(*, picture: Picture, base: int, recipe: Recipe) -> Picture:
    """Keep a recipe as a new revision, for all of the picture's set; the same recipe again makes none."""
    row = locked(picture, base)
    if row.head is None or row.to_recipe() != recipe:
        _point_set_to(row, _revise(row, row.head, recipe))
    return row


@transaction.atomic
def undo(*, picture: Picture, base: int) -> Picture:
    """Back to the recipe before; stays where there is none."""
    row = locked(picture, base)
    if (earlier := before(row)) is not None:
        _point_set_to(row, earlier)
    return row


@transaction.atomic
def redo(*, picture: Picture, base: int) -> Picture:
    """Forward again to the newest recipe that followed; stays where there is none."""
    row = locked(picture, base)
    if (following := after(row)) is not None:
        _point_set_to(row, following)
    return row


def rename(*, picture: Picture, name: str) -> None:
    """Give a picture another name.

    Raises
    ------
    BadValueError
        The name is empty or too long.
    """
    name = checked_name(name)
    Picture.objects.filter(pk=picture.pk).update(name=name)


@transaction.atomic
def lay_in_set(*, build: Build, set_name: str, numbers: list[int], recipe_of: Picture | None) -> str:
    """Make these pictures of a build the set of this name; they take the recipe of one of them. The name as it is kept.

    Raises
    ------
    BadValueError
        The name is empty or too long, or no picture was chosen.
    """
    set_name = checked_name(set_name, "the set's name")
    chosen = build.pictures.filter(pk__in=numbers)
    if not chosen.exists():
        raise BadValueError("no picture was chosen; a set has at least one")
    build.pictures.filter(set_name=set_name).exclude(pk__in=numbers).update(set_name="")
    chosen.update(set_name=set_name)
    leader = (
        chosen.select_related("head").filter(pk=recipe_of.pk if recipe_of else 0).first() or chosen.select_related("head").first()
    )
    remake_set(build=build, set_name=set_name, recipe=leader.to_recipe(), but=leader)
    return set_name


def dissolve_set(*, build: Build, set_name: str) -> None:
    """Its pictures keep their recipes and go their own ways."""
    build.pictures.filter(set_name=set_name).update(set_name="")


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


@transaction.atomic
def take_out(*, picture: Picture) -> None:
    """Remove a picture from its build; its original stays with its owner's uploads."""
    picture.delete()
