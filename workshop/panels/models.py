"""What a maker has made his own: passports, boards, and comparisons before buying."""

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from mosaic.boards.board import Board, board_from_plain
from mosaic.panels.loader import passport_from_plain
from mosaic.panels.passport import Passport
from workshop.removal import Removable


class Owned(Removable):
    """Something of the catalogue made one's own: its description, and what it was based on."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="%(class)ss")
    name = models.CharField(max_length=120)
    based_on = models.CharField(max_length=80, blank=True, default="")
    revision = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta(Removable.Meta):
        abstract = True
        ordering = ["-changed", "-id"]

    @property
    def ref(self) -> str:
        """How pages and builds name it, beside the catalogue's slugs."""
        return f"own-{self.pk}"


class OwnPassport(Owned):
    """A passport to edit. `words` is all of it that a search looks through."""

    passport = models.JSONField()
    technology = models.CharField(max_length=8)
    words = models.TextField(blank=True, default="")

    class Meta(Owned.Meta):
        indexes = [models.Index(fields=["owner", "-changed"])]

    def to_passport(self) -> Passport:
        return passport_from_plain(self.passport)


class OwnBoard(Owned):
    """A board to edit: pins under the names printed on one's own."""

    board = models.JSONField()

    def to_board(self) -> Board:
        return board_from_plain(self.board)


class Comparison(Removable):
    """Several panels for one purpose. `panels` are references, `prices` typed by the maker, by reference."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="comparisons")
    name = models.CharField(max_length=80)
    board = models.CharField(max_length=80)
    panels = models.JSONField(default=list)
    prices = models.JSONField(default=dict)
    supply_kind = models.CharField(max_length=8, choices=[("cell", "a cell"), ("mains", "mains")], default="cell")
    cell_v = models.FloatField(default=3.7, validators=[MinValueValidator(0.5), MaxValueValidator(60)])
    capacity_mah = models.FloatField(default=1000, validators=[MinValueValidator(1), MaxValueValidator(1_000_000)])
    viewing_distance_mm = models.FloatField(default=500, validators=[MinValueValidator(50), MaxValueValidator(50_000)])
    light_lux = models.FloatField(default=500, validators=[MinValueValidator(0), MaxValueValidator(150_000)])
    update_interval_s = models.FloatField(default=900, validators=[MinValueValidator(1), MaxValueValidator(31_536_000)])
    on_hours_per_day = models.FloatField(default=24, validators=[MinValueValidator(0), MaxValueValidator(24)])
    revision = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta(Removable.Meta):
        ordering = ["-changed", "-id"]
