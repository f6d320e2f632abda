"""Letterings of a build, each with its revisions."""

from django.db import models

from mosaic.lettering.plan import LetteringPlan, plan_of
from workshop.builds.models import Build, Original


class Lettering(models.Model):
    """A lettering. Its plan is the revision that `head` points to; `original` is that revision's own font, if it has one.

    `derived` holds figures that are a function of `derived_key`; they can be thrown away.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="letterings")
    name = models.CharField(max_length=80)
    original = models.ForeignKey(Original, null=True, on_delete=models.PROTECT, related_name="letterings")
    file_name = models.CharField(max_length=120, blank=True, default="")
    head = models.ForeignKey("LetteringRevision", null=True, on_delete=models.SET_NULL, related_name="+")
    derived_key = models.CharField(max_length=64, blank=True, default="")
    derived = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def to_plan(self) -> LetteringPlan:
        return plan_of(self.head.plan) if self.head else LetteringPlan()

    def stand_at(self, revision: "LetteringRevision") -> None:
        """Point to a revision and its font, without saving."""
        self.head, self.original_id, self.file_name = revision, revision.original_id, revision.file_name


class LetteringRevision(models.Model):
    """One saved plan, with the font that it is made of; revisions are never changed. Undo goes to the parent, redo to its
    newest child.
    """

    lettering = models.ForeignKey(Lettering, on_delete=models.CASCADE, related_name="revisions")
    parent = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="children")
    plan = models.JSONField()
    original = models.ForeignKey(Original, null=True, on_delete=models.PROTECT, related_name="+")
    file_name = models.CharField(max_length=120, blank=True, default="")
    created = models.DateTimeField(auto_now_add=True)
