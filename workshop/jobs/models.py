"""Long work: what it is, how far it is, and what it made."""

from django.conf import settings
from django.db import models
from django.utils import timezone

from workshop.builds.models import Build


class Job(models.Model):
    """One piece of long work on a build. `result` is kept until the next job of its kind and subject.

    `subject` is the row it works on (a document; 0 for the whole build), `asked` its settings.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        FAILED = "failed"
        CANCELLED = "cancelled"

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="jobs")
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=40)
    subject = models.PositiveBigIntegerField(default=0)
    asked = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    message = models.CharField(max_length=300, blank=True, default="")
    cancel_asked = models.BooleanField(default=False)
    result = models.BinaryField(null=True)
    result_name = models.CharField(max_length=120, blank=True, default="")
    created = models.DateTimeField(auto_now_add=True)
    seen = models.DateTimeField(default=timezone.now)
    """When it last gave a sign of life, or was put into the queue."""
    tries = models.PositiveSmallIntegerField(default=0)

    class Meta:
        indexes = [models.Index(fields=["build", "kind", "subject"])]

    @property
    def is_over(self) -> bool:
        return self.state in (self.State.DONE, self.State.FAILED, self.State.CANCELLED)

    @property
    def percent(self) -> int:
        return round(100 * self.done / self.total) if self.total else 0
