"""Hand-overs that were made, and frames that builds serve to their devices."""

from django.db import models

from workshop.builds.models import Build
from workshop.handover.documents import LayoutDocument

__all__ = ["FrameFeed", "FrameReport", "HandOver", "LayoutDocument"]


class HandOver(models.Model):
    """A hand-over of a build, as it was given out.

    `build_file` and `archive` are zips; `manifest` and `proof` plain values. `state` : key of what the build was then.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="hand_overs")
    number = models.PositiveIntegerField()
    made = models.DateTimeField(auto_now_add=True)
    state = models.CharField(max_length=64)
    build_file = models.BinaryField()
    archive = models.BinaryField()
    manifest = models.JSONField()
    proof = models.JSONField()
    sizes = models.JSONField()

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["build", "number"], name="one_hand_over_a_number")]


class FrameFeed(models.Model):
    """A build that serves its current frame to its device over HTTP.

    `token_hash` is the SHA-256 of the token, which is shown once. `source` : the screen or page that is served, "" for the first.
    `values` : what another program has handed in, by id, as [reading, seconds since 1970].
    """

    build = models.OneToOneField(Build, on_delete=models.CASCADE, related_name="frame_feed")
    is_open = models.BooleanField(default=False)
    token_hash = models.CharField(max_length=64, blank=True, default="")
    source = models.CharField(max_length=40, blank=True, default="")
    values = models.JSONField(default=dict)
    seen = models.DateTimeField(null=True)
    polls = models.PositiveBigIntegerField(default=0)
    unchanged = models.PositiveBigIntegerField(default=0)
    byte_count = models.PositiveBigIntegerField(default=0)


class FrameReport(models.Model):
    """Something that a device has reported of itself: a measurement, with its unit."""

    feed = models.ForeignKey(FrameFeed, on_delete=models.CASCADE, related_name="reports")
    quantity = models.CharField(max_length=20)
    value = models.FloatField()
    unit = models.CharField(max_length=8)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
        indexes = [models.Index(fields=["feed", "quantity"])]
