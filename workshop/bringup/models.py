"""Answers to drills, and the live feeds of builds."""

import secrets

from django.conf import settings
from django.db import models

from workshop.bringup.documents import PatchPhotoDocument, StageNotesDocument, TouchReadingsDocument
from workshop.builds.models import Build

__all__ = ["DrillAnswer", "Feed", "FeedInput", "PatchPhotoDocument", "StageNotesDocument", "TouchReadingsDocument"]


class DrillAnswer(models.Model):
    """One answer. `made` and `named` are names of faults; `panel` is the passport it was shown on."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="drill_answers")
    panel = models.CharField(max_length=80)
    made = models.CharField(max_length=60)
    named = models.CharField(max_length=60)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["owner", "id"])]


def new_token() -> str:
    return secrets.token_hex(12)


class Feed(models.Model):
    """What a maker's own program has made of a build's virtual panel, as far as it has been seen.

    `session` is the connection that holds the feed, "" for none; `version` rises with every change of what is shown.
    """

    build = models.OneToOneField(Build, on_delete=models.CASCADE, related_name="feed")
    token = models.CharField(max_length=32, unique=True, default=new_token)
    session = models.CharField(max_length=32, blank=True, default="")
    seen = models.DateTimeField(null=True)
    version = models.PositiveIntegerField(default=0)
    png = models.BinaryField(default=b"")
    byte_count = models.PositiveBigIntegerField(default=0)
    line_count = models.PositiveBigIntegerField(default=0)
    now_ms = models.FloatField(default=0.0)
    messages = models.JSONField(default=list)
    values = models.JSONField(default=dict)


class FeedInput(models.Model):
    """Something that somebody does to the glass of a live feed: a line for the program, sent once it is due."""

    feed = models.ForeignKey(Feed, on_delete=models.CASCADE, related_name="inputs")
    line = models.CharField(max_length=60)
    due = models.DateTimeField()

    class Meta:
        ordering = ["due", "id"]
