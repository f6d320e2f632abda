"""What station 6 keeps: its documents, and traces of a current until they have been read."""

from django.db import models

from workshop.builds.models import Build
from workshop.refresh.documents import BenchmarkDocument, EnergyDocument, GhostDocument, ScheduleDocument, WearDocument

__all__ = ["BenchmarkDocument", "EnergyDocument", "GhostDocument", "ScheduleDocument", "TraceBlock", "TraceFile", "WearDocument"]


class TraceFile(models.Model):
    """A trace that waits to be read. `step_s`: from row to row, where the file has no times."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="traces")
    name = models.CharField(max_length=120)
    byte_count = models.PositiveBigIntegerField(default=0)
    step_s = models.FloatField(default=0.0)
    created = models.DateTimeField(auto_now_add=True)


class TraceBlock(models.Model):
    """A part of a trace's bytes, compressed."""

    file = models.ForeignKey(TraceFile, on_delete=models.CASCADE, related_name="blocks")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["file", "number"], name="one_block_a_number")]
