"""Builds, the originals they use, and pictures with their revisions. Models store and constrain."""

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from mosaic.boards.board import board_from_plain
from mosaic.device.device import Device, Supply
from mosaic.device.setup import SetupCard
from mosaic.forms import to_record
from mosaic.links.kinds import KINDS
from mosaic.panels.loader import passport_from_plain
from mosaic.panels.mounting import Opening
from mosaic.panels.sending import Sending
from mosaic.reduce.recipe import Recipe, recipe_from_plain
from mosaic.wiring.plan import PinPlan
from mosaic.wiring.proposal import propose


class Original(models.Model):
    """An uploaded file, kept once, however many pictures use it."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    media_type = models.CharField(max_length=60)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    byte_count = models.PositiveIntegerField()
    data = models.BinaryField()
    created = models.DateTimeField(auto_now_add=True)


class Upload(models.Model):
    """Who brought an original: the right to use it until a picture does."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="uploads")
    original = models.ForeignKey(Original, on_delete=models.CASCADE, related_name="uploads")
    name = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "original"], name="one_upload_a_person")]


class Build(models.Model):
    """One device. `passport` and `board` are snapshots: a change of the catalogue never alters a build.

    `texts` are what its screens show, one a line, with the bounds of the values in them.
    """

    class SupplyKind(models.TextChoices):
        CELL = "cell", "a cell"
        MAINS = "mains", "mains, through a certified supply"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="builds")
    name = models.CharField(max_length=80)
    place = models.CharField(max_length=80, blank=True, default="")
    passport = models.JSONField()
    passport_slug = models.CharField(max_length=80)
    rotation = models.PositiveSmallIntegerField(choices=[(r, f"{r}°") for r in (0, 90, 180, 270)])
    board = models.JSONField()
    board_slug = models.CharField(max_length=80)
    mirrored = models.BooleanField(default=False)
    link_kind = models.CharField(max_length=12, choices=[(kind.slug, kind.name) for kind in KINDS.values()])
    clock_hz = models.PositiveIntegerField(validators=[MinValueValidator(1000), MaxValueValidator(200_000_000)])
    supply_kind = models.CharField(max_length=8, choices=SupplyKind, default=SupplyKind.MAINS)
    cell_v = models.FloatField(default=3.7, validators=[MinValueValidator(0.5), MaxValueValidator(60)])
    capacity_mah = models.FloatField(default=1000, validators=[MinValueValidator(1), MaxValueValidator(1_000_000)])
    viewing_distance_mm = models.FloatField(default=500, validators=[MinValueValidator(50), MaxValueValidator(50_000)])
    light_lux = models.FloatField(default=500, validators=[MinValueValidator(0), MaxValueValidator(150_000)])
    frame_time_limit_ms = models.FloatField(
        null=True, blank=True, validators=[MinValueValidator(0.1), MaxValueValidator(600_000)]
    )
    energy_limit_mwh = models.FloatField(
        null=True, blank=True, validators=[MinValueValidator(0.01), MaxValueValidator(10_000_000)]
    )
    update_interval_s = models.FloatField(default=900, validators=[MinValueValidator(1), MaxValueValidator(31_536_000)])
    on_hours_per_day = models.FloatField(default=24, validators=[MinValueValidator(0), MaxValueValidator(24)])
    buffer_bands = models.PositiveSmallIntegerField(default=1, validators=[MaxValueValidator(4096)])
    opening = models.JSONField(null=True, blank=True, default=None)
    wiring = models.JSONField(null=True, blank=True, default=None)
    readings = models.JSONField(blank=True, default=dict)
    setup = models.JSONField(null=True, blank=True, default=None)
    sending = models.JSONField(null=True, blank=True, default=None)
    stages = models.JSONField(blank=True, default=dict)
    patches = models.JSONField(null=True, blank=True, default=None)
    touch = models.JSONField(null=True, blank=True, default=None)
    texts = models.TextField(blank=True, default="")
    revision = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["id"]

    def to_device(self) -> Device:
        """The device; where no pin plan has been kept, it has the proposed one."""
        passport, board = passport_from_plain(self.passport), board_from_plain(self.board)
        return Device(
            passport=passport,
            rotation=self.rotation,
            board=board,
            wiring=to_record(self.wiring, PinPlan, "wiring") if self.wiring else propose(passport, board, self.link_kind).plan,
            link_kind=self.link_kind,
            clock_hz=self.clock_hz,
            supply=Supply(self.supply_kind, self.cell_v, self.capacity_mah),
            viewing_distance_mm=self.viewing_distance_mm,
            light_lux=self.light_lux,
            frame_time_limit_ms=self.frame_time_limit_ms,
            energy_limit_mwh=self.energy_limit_mwh,
            update_interval_s=self.update_interval_s,
            on_hours_per_day=self.on_hours_per_day,
            buffer_bands=self.buffer_bands,
            mirrored=self.mirrored,
            setup=to_record(self.setup, SetupCard, "set-up card") if self.setup else None,
            sending=to_record(self.sending, Sending, "sending") if self.sending else Sending(),
            opening=to_record(self.opening, Opening, "opening") if self.opening else None,
        )


class Picture(models.Model):
    """A picture of a build. Its recipe is the revision that `head` points to.

    `derived` holds figures that are a function of `derived_key`; they can be thrown away. Pictures
    of one `set_name` share their recipe, but for crop, regions and touch-up.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="pictures")
    name = models.CharField(max_length=80)
    file_name = models.CharField(max_length=120)
    original = models.ForeignKey(Original, on_delete=models.PROTECT, related_name="pictures")
    position = models.PositiveIntegerField(default=0)
    set_name = models.CharField(max_length=80, blank=True, default="")
    head = models.ForeignKey("PictureRevision", null=True, on_delete=models.SET_NULL, related_name="+")
    derived_key = models.CharField(max_length=64, blank=True, default="")
    derived = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["position", "id"]

    def to_recipe(self) -> Recipe:
        return recipe_from_plain(self.head.recipe) if self.head else Recipe()


class PictureRevision(models.Model):
    """One saved recipe; revisions are never changed. Undo goes to the parent, redo to its newest child."""

    picture = models.ForeignKey(Picture, on_delete=models.CASCADE, related_name="revisions")
    parent = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="children")
    recipe = models.JSONField()
    created = models.DateTimeField(auto_now_add=True)
