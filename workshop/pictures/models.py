"""What station 3 keeps besides pictures: recipes by name, variants, sets, and pieces made of sheets, segments or frames."""

from django.conf import settings
from django.db import models

from mosaic.reduce.recipe import Recipe, recipe_from_plain
from workshop.builds.models import Build, Original, Picture


class SavedRecipe(models.Model):
    """A recipe by name, for any picture of its owner. It holds no crop, regions or touch-up: those belong to one picture."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="recipes")
    name = models.CharField(max_length=80)
    recipe = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_recipe_a_name")]

    def to_recipe(self) -> Recipe:
        return recipe_from_plain(self.recipe)


class Variant(models.Model):
    """Another recipe of a picture, kept for comparison. `derived` are its figures, a function of `derived_key`."""

    picture = models.ForeignKey(Picture, on_delete=models.CASCADE, related_name="variants")
    name = models.CharField(max_length=80)
    recipe = models.JSONField()
    derived_key = models.CharField(max_length=64, blank=True, default="")
    derived = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def to_recipe(self) -> Recipe:
        return recipe_from_plain(self.recipe)


class FoundSearch(models.Model):
    """What the search made of a picture on a large panel: palette indices, compressed. It can be thrown away."""

    key = models.CharField(max_length=64, primary_key=True)
    picture = models.ForeignKey(Picture, on_delete=models.CASCADE, related_name="searches")
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    pixels = models.BinaryField()
    unpolished_error = models.FloatField()
    created = models.DateTimeField(auto_now_add=True)


class Piece(models.Model):
    """Something made of more or less than one picture: a strip, a segmented figure, an animation.

    `description` is the kind's own versioned form; `revision` tells two tabs apart.
    """

    class Kind(models.TextChoices):
        STRIP = "strip", "strip"
        FIGURE = "figure", "segmented figure"
        ANIMATION = "animation", "animation"

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="pieces")
    kind = models.CharField(max_length=10, choices=Kind)
    name = models.CharField(max_length=80)
    description = models.JSONField()
    revision = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]


class PieceSource(models.Model):
    """An original that a piece is made of, in order."""

    piece = models.ForeignKey(Piece, on_delete=models.CASCADE, related_name="sources")
    original = models.ForeignKey(Original, on_delete=models.PROTECT, related_name="+")
    file_name = models.CharField(max_length=120)
    position = models.PositiveIntegerField()

    class Meta:
        ordering = ["position"]
        constraints = [models.UniqueConstraint(fields=["piece", "position"], name="one_source_a_position")]
