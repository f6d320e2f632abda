"""What station 3 keeps besides its documents: recipes by name, variants, and what searches have found."""

from django.conf import settings
from django.db import models

from mosaic.reduce.recipe import Recipe, recipe_from_plain
from workshop.pictures.documents import Animation, Figure, Picture, Strip
from workshop.removal import Removable

__all__ = ["Animation", "Figure", "FoundSearch", "Picture", "SavedRecipe", "Strip", "Variant"]


class SavedRecipe(Removable):
    """A recipe by name, for any picture of its owner. It holds no crop, regions or touch-up: those belong to one picture."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="recipes")
    name = models.CharField(max_length=80)
    recipe = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)

    class Meta(Removable.Meta):
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["owner", "name"], name="one_recipe_a_name")]

    @property
    def record(self) -> Recipe:
        return recipe_from_plain(self.recipe)


class Variant(Removable):
    """Another recipe of a picture, kept for comparison. `derived` are its figures, a function of `derived_key`."""

    OWNER = "picture__build__owner"

    picture = models.ForeignKey(Picture, on_delete=models.CASCADE, related_name="variants")
    name = models.CharField(max_length=80)
    recipe = models.JSONField()
    derived_key = models.CharField(max_length=64, blank=True, default="")
    derived = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta(Removable.Meta):
        ordering = ["id"]

    @property
    def record(self) -> Recipe:
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
