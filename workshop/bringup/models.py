"""Answers to drills: which fault was shown, and which was named."""

from django.conf import settings
from django.db import models


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
