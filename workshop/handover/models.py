"""Hand-overs that were made: what they were made of, and what they consisted of."""

from django.db import models

from workshop.builds.models import Build


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
