"""Builds, and the documents that belong to the device itself. Models store and constrain."""

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from mosaic.boards.board import board_from_plain
from mosaic.device.device import Device, Supply
from mosaic.device.setup_card import SetupCard
from mosaic.forms import to_record
from mosaic.links.kinds import KINDS
from mosaic.panels.loader import passport_from_plain
from mosaic.panels.mounting import Opening
from mosaic.panels.sending import Sending
from mosaic.wiring.carry import carry
from mosaic.wiring.plan import PinPlan
from mosaic.wiring.proposal import propose
from mosaic.wiring.signals import signals_of
from workshop.documents import shelf
from workshop.documents.models import KEPT_AS, Document
from workshop.removal import Removable


class WiringDocument(Document):
    """A build's own pin plan; where it has none, the proposed one holds."""

    KIND, NOUN, PAGE, RECORD = "wiring", "pin plan", "wiring", PinPlan
    SINGLE = OF_DEVICE = True

    class Meta:
        proxy = True

    @classmethod
    def carried(cls, record: PinPlan, before: Device, after: Device) -> tuple[PinPlan, tuple[str, ...]]:
        was, now = (signals_of(device.passport, device.link_kind) for device in (before, after))
        links = before.link_kind, after.link_kind
        plan, lost = carry(
            record, was, now, (before.board, after.board), links, propose(after.passport, after.board, after.link_kind).plan
        )
        return plan, (f"of the pin plan: {', '.join(lost)}",) if lost else ()


class SetupDocument(Document):
    """A build's set-up card."""

    KIND, NOUN, PAGE, RECORD = "setup-card", "set-up card", "setup-card", SetupCard
    SINGLE = OF_DEVICE = True

    class Meta:
        proxy = True


class Build(Removable):
    """One device. `passport` and `board` are snapshots: a change of the catalogue never alters a build.

    `revision` counts changes of the device, `content` changes of anything that is made for it.
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
    sending = models.JSONField(null=True, blank=True, default=None)
    kept_as = models.CharField(max_length=6, choices=KEPT_AS, default="array")
    revision = models.PositiveIntegerField(default=1)
    content = models.PositiveIntegerField(default=1)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta(Removable.Meta):
        ordering = ["id"]

    def to_device(self, *, proposed: bool = False) -> Device:
        """The device; where no pin plan has been kept, or `proposed` asks for it, it has the proposed one."""
        passport, board = passport_from_plain(self.passport), board_from_plain(self.board)
        wiring = None if proposed else shelf.single(self, WiringDocument)
        card = None if proposed else shelf.single(self, SetupDocument)
        return Device(
            passport=passport,
            rotation=self.rotation,
            board=board,
            wiring=wiring.record if wiring else propose(passport, board, self.link_kind).plan,
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
            setup_card=card.record if card else None,
            sending=to_record(self.sending, Sending, "sending") if self.sending else Sending(),
            opening=to_record(self.opening, Opening, "opening") if self.opening else None,
        )


class PartsExchange(models.Model):
    """The last exchange of a build's parts, kept to lead back from `revision`: fields and documents as they were.

    `documents` lists {document, before, after}: heads before and after, the latter None where it was set aside.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="exchanges")
    fields = models.JSONField()
    documents = models.JSONField(default=list)
    revision = models.PositiveIntegerField()
    created = models.DateTimeField(auto_now_add=True)
